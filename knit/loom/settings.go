package loom

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

func (l *Loom) setSize(p *pass.Pass) {
	if size := p.Main().Size; size != "" && size != l.size { // left empty, it stays
		p.Add(step.Size{Size: size})
		l.size = size
	}
}

// EndNeedles asks that the end needles of the work are held to where they knit, if the
// section says so (rules 1, End needles). Where selected needles knit they come forward,
// where forward needles tuck they are left at rest. on is false in rows in which that would
// drop their stitches: with two-colour cams, when feeder 2 is empty. Beside a motif that is
// not all over the ends knit anyway.
func (l *Loom) EndNeedles(p *pass.Pass, selectedKnit, on bool) {
	s, half := l.placed, p.Main()
	half.Line, l.lined = half.Select, true
	work := half.AtWork.Minus(l.shape.hold)
	if !on || !s.Section.Options.EndsHeld() || !work.Minus(s.Covered).Empty() {
		return
	}
	ends := machine.SetOf(work.First(), work.Last())
	p.Exempt = ends
	switch {
	case !selectedKnit: // no switch leaves a needle at rest
		if half.Select = half.Select.Minus(ends); l.Machine.School != machine.ByHand {
			half.PushedBack = ends
		}
		return
	case s.Section.Options.EndNeedles == "auto" && l.Machine.EndSwitch:
		p.Ends = true
	default: // the same words on every row, whatever the line holds
		half.ByHand = ends
	}
	half.Select = half.Select.Or(ends)
}

// Dial notes the stitch size that a bed's dial is left at.
func (l *Loom) Dial(of machine.BedNo, size string) {
	if of == machine.Main {
		l.size = size
	} else {
		l.second.size = size
	}
}
