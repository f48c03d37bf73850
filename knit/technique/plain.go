package technique

import (
	"vindel/knit/bed"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Plain: every needle knits the row's one yarn.
var Plain = Technique{
	Technique: piece.Technique{
		Name: "plain", Label: "plain", OneYarn: true, Behind: true, Ribs: true,
		Sense: func(_ *piece.Piece, s *piece.Section, fault func(path, format string, a ...any)) {
			if len(s.Areas) > 0 {
				fault("areas", "plain rows have no chart")
			}
		},
	},
	Lacks: func(m *machine.Profile, s *piece.Section) string {
		if s.ByPurl && !m.PurlCarriage {
			return "a purl carriage"
		}
		return ""
	},
	Knitter: func(_ *machine.Profile, s *bed.Placed) machine.Carriage {
		if s.Section.ByPurl {
			return machine.PurlCarriage
		}
		return machine.KnitCarriage
	},
	Yarns: sectionYarn,
	Knit: func(l *loom.Loom, w loom.Work) {
		l.NewCourse()
		p := l.New(w, machine.Plain)
		if w.Placed.Section.ByPurl {
			p.Carriage, p.Main().Setting = machine.PurlCarriage, machine.PurlPlain
		}
		l.Go(p)
	},
	Asks: asksStitches,
}
