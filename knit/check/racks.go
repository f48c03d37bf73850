package check

import (
	"fmt"

	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// rackLimit is how many positions the second bed is moved at most without a pass between.
const rackLimit = 2

// racks warns where the second bed is moved too far at once while both beds hold stitches: the
// strands between them are strained.
func racks(pl *pass.Plan, _ *fabric.Fabric) (out []finding.Finding) {
	held := machine.Set{}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		moves := 0
		for j := range p.Before {
			switch st := &p.Before[j]; {
			case st.Do == pass.Rack && !held.Empty():
				moves++
			case st.Do == pass.CastOn && st.Bed == machine.Second:
				held = held.Or(st.Needles)
			case st.Do == pass.Transfer && st.Across && st.Bed == machine.Second:
				held = held.Minus(st.Needles)
			}
		}
		if moves > rackLimit {
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
