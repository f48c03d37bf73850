package technique

import (
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Plain: every needle knits the row's one yarn.
var Plain = Technique{
	Technique: piece.Technique{
		Name: "plain", Label: "plain", OneYarn: true,
		Sense: func(_ *piece.Piece, s *piece.Section, fault func(path, format string, a ...any)) {
			if len(s.Areas) > 0 {
				fault("areas", "plain rows have no chart")
			}
		},
	},
	Yarns: sectionYarn,
	Knit: func(l *loom.Loom, w loom.Work) {
		l.NewCourse()
		l.Go(l.New(w, machine.Plain))
	},
	Asks: asksStitches,
}
