package technique

import (
	"vindel/knit/piece"
)

var Plain = Technique{Technique: piece.Technique{
	Name: "plain", Label: "plain", OneYarn: true,
	Sense: func(_ *piece.Piece, s *piece.Section, fault func(place, format string, a ...any)) {
		if len(s.Areas) > 0 {
			fault("areas", "plain rows have no chart")
		}
	},
}}
