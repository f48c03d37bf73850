package technique

import (
	"vindel/knit/chart"
	"vindel/knit/piece"
)

var Texture = Technique{Technique: piece.Technique{
	Name: "texture", Label: "knit and purl", Drawn: piece.InStitches, Mark: chart.Purl, EitherSide: true, OneYarn: true,
}}
