package technique

import (
	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Texture is knit and purl (rules 5.8). A purl carriage, where the machine has one, makes
// the selected needles purl; it lives on the right, so its rows come in pairs. Without
// one every row is knitted plain, and its purl stitches are dropped and latched back
// by hand before the next.
var Texture = Technique{
	Technique: piece.Technique{Name: "texture", Label: "knit and purl", Drawn: piece.InStitches, Mark: chart.Purl,
		EitherSide: true, OneYarn: true, Patterned: func(m *machine.Profile) bool { return m.PurlCarriage }},
	Knitter: func(m *machine.Profile, _ *bed.Placed) machine.Carriage {
		if m.PurlCarriage {
			return machine.PurlCarriage
		}
		return machine.KnitCarriage
	},
	Yarns: sectionYarn,
	Knit: func(l *loom.Loom, w loom.Work) {
		purls := w.Placed.Wants(w.Row, chart.Purl).And(w.InWork())
		p := l.New(w, machine.Plain)
		if l.Machine.PurlCarriage {
			p.Carriage, p.Main().Select, p.Patterned = machine.PurlCarriage, purls, true
			p.Main().Setting = machine.Purling.As("texture")
			l.Sent(p)
			return
		}
		l.NewCourse()
		l.Go(p)
		if !purls.Empty() {
			l.Later(step.Reform{At: step.Main(purls)})
		}
	},
	Asks: asksStitches,
}
