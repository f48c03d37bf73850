package technique

import (
	"vindel/knit/piece"
)

var Intarsia = Technique{Technique: piece.Technique{
	Name: "intarsia", Label: "intarsia", Drawn: piece.InYarns,
}}
