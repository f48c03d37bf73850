package technique

import (
	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// Tuck (rules 5.4). The chart marks the tucks. By the convention of cards and
// programs selected needles knit and the unselected tuck, so the chart is inverted on
// its way there; a profile may say the reverse, and so do hand-selected machines,
// where the needles that tuck are put in the tucking position.
var Tuck = Technique{
	Technique: piece.Technique{Name: "tuck", Label: "tuck", Drawn: piece.InStitches, Mark: chart.Tuck,
		Worn: chart.PurlSide, OneYarn: true, Patterned: always, Behind: true, HandHolds: true},
	Yarns: sectionYarn,
	Knit: func(l *loom.Loom, w loom.Work) {
		if l.Machine.School == machine.ByHand && l.Machine.TuckSelected == "tuck" {
			handTuckRow(l, w)
			return
		}
		tucks := w.Placed.Wants(w.Row, chart.Tuck).And(w.InWork())
		knit := l.Machine.TuckSelected != "tuck"
		setting, forward := machine.TuckForward, tucks
		if knit {
			setting, forward = machine.TuckRest, w.InWork().Minus(tucks)
			if w.Row == 1 && l.Machine.School != machine.ByHand {
				l.Plan.Report(inverted(w.Placed, "tucks", "the holes knit and the blanks tuck"))
			}
		}
		p := l.New(w, setting)
		p.Main().Select, p.Patterned = forward, true
		l.EndNeedles(p, knit, true)
		l.Sent(p)
	},
	Asks: func(p *piece.Piece, s *bed.Placed, c *fabric.Course) fabric.Want {
		w := asksStitches(p, s, c)
		w.Exempt = heldEnds(s, c.Row)
		return w
	},
	// Tucks that pile up or lie side by side are told of every section (package check).
	Limits: func(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
		r := NewRemarks(pl)
		for c := range f.Section(section) {
			r.edge(c, machine.Set{})
		}
		return r.Found
	},
}
