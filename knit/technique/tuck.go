package technique

import (
	"vindel/knit/chart"
	"vindel/knit/piece"
)

var Tuck = Technique{Technique: piece.Technique{
	Name: "tuck", Label: "tuck", Drawn: piece.InStitches, Mark: chart.Tuck, Worn: chart.PurlSide, OneYarn: true,
}}
