package technique

import "vindel/knit/piece"

// Techniques that can be written down but not planned yet: they do not knit.
var (
	Recipe = Technique{Technique: piece.Technique{Name: "recipe", Label: "recipe", OwnRows: true,
		Sense: func(_ *piece.Piece, s *piece.Section, fault func(path, format string, a ...any)) {
			if s.Recipe == "" {
				fault("recipe", "missing; write the recipe's text")
			}
		},
	}}
)
