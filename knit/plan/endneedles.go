package plan

import (
	"vindel/knit/bed"
	"vindel/knit/machine"
)

// endNeedles holds the end needles of the work to where they knit every row, if the
// section says so (rules: End needles). Where selected needles knit they come forward,
// where forward needles tuck they are left at rest. on is false in rows in which that
// would drop their stitches: with two-colour cams, when feeder 2 is empty. Beside a
// motif that is not all over the ends knit anyway, and the switch is off.
func (k *planner) endNeedles(s *bed.Placed, p *Pass, selectedKnit, on bool) {
	policy, work := s.Section.Options.EndNeedles, k.p.Work()
	if !s.Section.Options.EndsHeld() || s.Covered != work {
		return
	}
	if policy == "auto" && on != k.endSwitch {
		value := 0
		if on {
			value = 1
		}
		p.Before = append(p.Before, Step{Do: SetCams, Cams: "end-needles", Value: value})
		k.endSwitch = on
	}
	if !on {
		return
	}
	ends := machine.SetOf(work.First(), work.Last())
	p.Exempt = ends
	if policy == "hand" {
		if selectedKnit {
			p.ByHand = ends.Minus(p.Select)
		} else {
			p.PushedBack = ends.And(p.Select)
		}
	}
	if selectedKnit {
		p.Select = p.Select.Or(ends)
	} else {
		p.Select = p.Select.Minus(ends)
	}
}

// patternRow knits a chart row whose needles the pass says: once, or twice where a
// reader gives every line two passes.
func (k *planner) patternRow(p Pass, word string) {
	for i := range k.m.passesPerLine() {
		k.course++
		if i > 0 {
			p.Before = nil
		}
		k.pass(p, word)
	}
}
