package technique

import (
	"vindel/knit/chart"
	"vindel/knit/piece"
)

var Slip = Technique{Technique: piece.Technique{
	Name: "slip", Label: "slip", Drawn: piece.InStitches, Mark: chart.Slip, EitherSide: true, OneYarn: true,
}}
