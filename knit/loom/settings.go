package loom

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// IsSet says that the carriage is set so for a way.
func (l *Loom) IsSet(way machine.Side, s machine.Setting) bool {
	return l.cams[way-machine.Left] == s.Key
}

// setCams asks for the carriage's setting where it differs from the one at hand. One
// setting serves both ways, except where rows are worked out and back: there each way has
// its own, and both are set before the way out.
func (l *Loom) setCams(p *pass.Pass, back []machine.Setting) {
	l.setWay(p, p.Main().Setting, p.Dir)
	for _, s := range back {
		l.setWay(p, s, p.Dir.Other())
	}
}

func (l *Loom) setWay(p *pass.Pass, s machine.Setting, way machine.Side) {
	if l.IsSet(way, s) {
		return
	}
	l.cams[way-machine.Left] = s.Key
	if !l.eachWay {
		l.cams[way.Other()-machine.Left] = s.Key
		way = 0
	}
	p.Add(step.Cams{Setting: s, Way: way})
}

// setPurl sets the purl carriage's own levers.
func (l *Loom) setPurl(p *pass.Pass) {
	if s := p.Main().Setting; s.Key != l.purl {
		l.purl = s.Key
		p.Add(step.Cams{Setting: s})
	}
}

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
