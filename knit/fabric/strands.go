package fabric

import (
	"cmp"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// thread is a length of yarn as the carriage and the fingers lead it: where its last loop hangs (rules 4, Threads).
type thread struct {
	needle machine.Needle
	run    int // knitted passes when it was made; 0: none is, or nobody knows where
}

// strands follows every thread by the steps that put it into a feeder, take it out and lay it, and measures the strand
// from its last loop to the next. It takes nothing of where the plan thinks that a yarn hangs.
type strands struct {
	of   map[string]*thread
	fed  [2]string      // what the feeders hold
	run  int            // knitted passes so far
	laid [2]machine.Set // where the feeders' yarns are taken in the pass at work
}

func (s *strands) at(name string) *thread {
	if s.of == nil {
		s.of = map[string]*thread{}
	}
	if s.of[name] == nil {
		s.of[name] = &thread{}
	}
	return s.of[name]
}

// lost forgets where the last loops hang: hands have been at them.
func (s *strands) lost() { s.of = nil }

// follow notes, feeder by feeder, on which needles a pass lays its threads, and those laid by hand.
func (c *carriage) follow(p *pass.Pass) {
	if p.Recipe > 0 {
		c.strands.lost()
		return
	}
	for f, on := range c.strands.laid {
		switch name := c.strands.fed[f]; {
		case name == "" || p.Free:
		case on.Empty(): // it goes along, and what takes it next is no strand over a rest
			c.strands.at(name).run = 0
		default:
			c.strand(p, name, c.feeders[f], on.First(), on.Last())
		}
	}
	for i := range p.Lays {
		if l := &p.Lays[i]; l.Thread != "" {
			c.strand(p, l.Thread, l.Yarn, l.From, l.To)
		}
	}
}

// strand takes a thread along between two needles, and finds where it comes from too far.
func (c *carriage) strand(p *pass.Pass, name string, y piece.YarnNo, left, right machine.Needle) {
	th, first, last := c.strands.at(name), left, right
	if p.Dir == machine.Left {
		first, last = right, left
	}
	pc := c.plan.Piece
	if up := c.strands.run - th.run - 1; th.run > 0 && up > 0 && !pc.Yarns[y-1].Carry &&
		!(p.Section > 0 && pc.Section(p.Section).Carry) {
		across := machine.Range(min(th.needle, first)+1, max(th.needle, first)-1).And(c.beds[machine.Main].work).Len()
		if across > pc.StrandLimit() || up > cmp.Or(pc.Limits.Carried, piece.CarriedLimit) {
			c.fault(finding.StrandFar, p, machine.SetOf(th.needle, first),
				"%s comes from %v, %d stitches across and %d passes up, and has not been cut.", pc.YarnName(y), th.needle,
				across, up)
		}
	}
	*th = thread{last, c.strands.run}
}
