package check

import (
	"fmt"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// weaveLimit is the default longest float of a woven yarn, in stitches (rules: 5.6).
const weaveLimit = 4

// wefts checks the woven yarn of each row: it is caught wherever marked stitches meet
// unmarked ones, and floats in between.
func wefts(pl *plan.Plan) (out []finding.Finding) {
	p := pl.Piece
	work := p.Work()
	limit := piece.Limit(p.Limits.Weave, weaveLimit)
	for i, s := range pl.Placed {
		if !s.Section.Technique.Weft {
			continue
		}
		for r := 1; r <= s.Cycle; r++ {
			marked := s.Wants(r, chart.Weave).And(work)
			if marked.Empty() {
				continue // no weft is laid
			}
			report := func(code string, needles machine.Set, fix, format string, a ...any) {
				out = append(out, finding.Finding{Code: code, Severity: finding.Warn, Section: i + 1, Rows: [2]int{r, r}, Needles: needles,
					Text: fmt.Sprintf("Row %d: ", r) + fmt.Sprintf(format, a...), Fix: fix})
			}
			name := p.YarnName(s.Section.Weft)
			ends := machine.SetOf(work.First(), work.Last()).And(marked)
			switch {
			case marked == work:
				report("weave-loose", marked, "Leave some stitches unmarked", "nothing catches %s: every stitch is to show it.", name)
				continue
			case !ends.Empty():
				report("weave-loose", ends, "Leave the end stitches unmarked", "%s is not caught at the end, at %v.", name, ends)
			}
			if long := wide(marked, limit).Or(wide(work.Minus(marked), limit)); !long.Empty() {
				report("weave-float", long, "Mark or unmark a stitch in between", "%s floats over more than %d stitches, at %v.", name, limit, long)
				over, under, row := between(marked, limit), between(work.Minus(marked), limit), r
				switch {
				case len(s.Restitch(over, row, chart.Knit, p)) > 0:
					out[len(out)-1].Mend = func() []edit.Change { return s.Restitch(over, row, chart.Knit, p) }
				case len(s.Restitch(under, row, chart.Weave, p)) > 0:
					out[len(out)-1].Mend = func() []edit.Change { return s.Restitch(under, row, chart.Weave, p) }
				}
			}
		}
	}
	return out
}
