package check

import (
	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// widest is how many needles of a set lie side by side at most.
func widest(set machine.Set) (most int) {
	for a, z := range set.Runs() {
		most = max(most, int(z-a)+1)
	}
	return most
}

// tucks reports tuck loops that pile up on a needle, and neighbours that tuck together, in
// whatever technique they are laid: strands over held needles count too.
func tucks(pl *pass.Plan, f *fabric.Fabric) []finding.Finding {
	p, r := pl.Piece, technique.NewRemarks(pl)
	limit, side := p.TuckLimit(), piece.Limit(p.Limits.TuckWide, piece.TuckWideLimit)
	var tucked fabric.Streak
	for i := range f.Courses {
		c := &f.Courses[i]
		if c.Drawn() { // recipes count their own strands
			tucked = fabric.Streak{}
			continue
		}
		if c.Section == 0 { // a plan that leaves a course out
			continue
		}
		if c.Tucked.Empty() && pl.Section(c.Section).Section.Technique.Mark != chart.Tuck {
			tucked = fabric.Streak{}
			continue
		}
		over := tucked.Next(c.Tucked, c.AtWork, limit)
		r.Row(c, finding.TuckStack, over, over, "Let them knit a row in between",
			"%v tuck for the %dth row running; the limit is %d, and more loops jam the carriage.", over, limit+1,
			limit)
		r.Row(c, finding.TuckWide, c.Tucked.Longer(side), c.Tucked.Parted(side), "Let a stitch between them knit",
			"neighbours tuck together at %v; the loops lie over them as one wide float. The limit is %d side by "+
				"side; if %d are wanted, say so in the limits.",
			c.Tucked, side, widest(c.Tucked))
	}
	return r.Found
}
