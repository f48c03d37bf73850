package check

import (
	"fmt"

	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// rackLimit is how many positions the second bed is moved at most without a pass between.
const rackLimit = 2

// racks warns where the second bed is moved too far at once while both beds hold stitches: the
// strands between them are strained.
func racks(pl *pass.Plan, _ *fabric.Fabric) (out []finding.Finding) {
	s := &strained{}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		s.moves = 0
		for j := range p.Before {
			p.Before[j].Act(s)
		}
		if moves, held := s.moves, s.held; moves > rackLimit {
			out = append(out, finding.Finding{Code: finding.RackFar, Severity: finding.Warn, Section: p.Section,
				Rows: [2]int{p.Row(), p.Row()}, Needles: held,
				Text: fmt.Sprintf("Before pass %d the second bed is moved %d positions without a pass between; more "+
					"than %d strain the strands between the beds.",
					p.N, moves, rackLimit),
				Fix: "Knit a row between"})
		}
	}
	return out
}

// strained is what the second bed holds, and how often it has been moved while it did.
type strained struct {
	step.Idle
	held  machine.Set
	moves int
}

func (s *strained) CastOn(bed machine.BedNo, on machine.Set, _ piece.YarnNo) {
	if bed == machine.Second {
		s.held = s.held.Or(on)
	}
}

func (s *strained) CastOnEdge(bed machine.BedNo, on machine.Set, y piece.YarnNo) {
	s.CastOn(bed, on, y)
}

func (s *strained) Across(from machine.BedNo, on machine.Set) {
	if from == machine.Second {
		s.held = s.held.Minus(on)
	}
}

func (s *strained) Rack(int, machine.Pitch) {
	if !s.held.Empty() {
		s.moves++
	}
}
