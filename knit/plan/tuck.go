package plan

import (
	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Tuck (rules: 5.4). The chart marks the tucks. By the convention of cards and
// programs selected needles knit and the unselected tuck, so the chart is inverted on
// its way there; a profile may say the reverse, and so do hand-selected machines,
// where the needles that tuck are put in the tucking position.
var tuck = technique{
	name:      "tuck",
	patterned: always,
	need:      oneYarn,
	row: func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
		tucks := s.Wants(r, chart.Tuck).And(k.p.Work())
		p := Pass{Row: r, Feeders: yarns, Patterned: true}
		knit := k.m.TuckSelected != "tuck"
		word := "tuck-fwd"
		if knit {
			word = "tuck-rest"
			p.Cams = machine.Cams{Selected: machine.Knit, Unselected: machine.Tuck, Held: machine.Hold}
			p.Select = k.p.Work().Minus(tucks)
			if r == 1 && k.m.School != machine.ByHand {
				k.plan.Findings = append(k.plan.Findings, inverted(s, "tucks", "the holes knit and the blanks tuck"))
			}
		} else {
			p.Cams = machine.Cams{Selected: machine.Tuck, Unselected: machine.Knit, Held: machine.Hold}
			p.Select = tucks
		}
		k.endNeedles(s, &p, knit, true)
		k.patternRow(p, word)
	},
}

// inverted says that the chart's marks are the blanks of the card or program.
func inverted(s *bed.Placed, marks, why string) finding.Finding {
	return finding.Finding{Code: "card-inverted", Severity: finding.Note, Section: s.Index + 1, Rows: [2]int{1, s.Rows}, Needles: s.Covered,
		Text: "The chart marks the " + marks + "; on this machine " + why + ", so the card or program is the chart inverted. It has been done."}
}
