package technique

import (
	"vindel/knit/chart"
	"vindel/knit/piece"
)

var Weave = Technique{Technique: piece.Technique{
	Name: "weave", Label: "weaving", Drawn: piece.InStitches, Mark: chart.Weave, Worn: chart.PurlSide, OneYarn: true, Weft: true,
}}
