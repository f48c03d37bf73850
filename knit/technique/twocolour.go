package technique

import (
	"vindel/knit/piece"
)

var TwoColour = Technique{Technique: piece.Technique{
	Name: "two-colour", Label: "two-colour", Drawn: piece.InYarns, TwoPasses: true,
}}
