package check

import (
	"fmt"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// The defaults of the limits that do not depend on the pitch (rules: 5.3, 5.4).
const (
	slipLimit     = 6
	tuckWideLimit = 1
)

// streak counts, for every needle, how many rows running it has done the same.
type streak [machine.MaxBed]int

// next moves on by a row in which `did` did it again, and gives the needles that have
// now done it once too often.
func (s *streak) next(did machine.Set, work machine.Set, limit int) (over machine.Set) {
	for n := range work.Minus(did).All() {
		s[n+machine.MaxBed/2] = 0
	}
	for n := range did.All() {
		i := n + machine.MaxBed/2
		if s[i]++; s[i] == limit+1 {
			over.Add(n)
		}
	}
	return over
}

// stitches reports what slipped and tucked rows do to a needle: tucks that pile up,
// neighbours that tuck together, stitches slipped too tall, and end needles that do not
// take the yarn. A row that comes again in a later repeat is told once.
func stitches(pl *plan.Plan, f *fabric.Fabric) (out []finding.Finding) {
	p := pl.Piece
	work := p.Work()
	var tucked, slipped streak
	section := 0
	type told struct {
		code         string
		section, row int
	}
	seen := map[told]bool{}
	for i := range f.Courses {
		c := &f.Courses[i]
		s := pl.Placed[c.Section-1]
		mark := s.Section.Technique.Mark
		if c.Section != section {
			section, slipped = c.Section, streak{}
		}
		// knit is which of the needles would have to knit plain for the remark to go; none:
		// hands or a decision are needed.
		report := func(code string, needles, knit machine.Set, fix, format string, a ...any) {
			key := told{code, c.Section, (c.Row - 1) % s.Cycle}
			if needles.Empty() || seen[key] {
				return
			}
			seen[key] = true
			out = append(out, finding.Finding{Code: code, Severity: finding.Warn, Section: c.Section, Rows: [2]int{c.Row, c.Row}, Needles: needles,
				Text: fmt.Sprintf("Row %d: ", c.Row) + fmt.Sprintf(format, a...), Fix: fix})
			if row := c.Row; len(s.Restitch(knit, row, chart.Knit, p)) > 0 {
				out[len(out)-1].Mend = func() []edit.Change { return s.Restitch(knit, row, chart.Knit, p) }
			}
		}
		if limit := p.TuckLimit(); !c.Tucked.Empty() || mark == chart.Tuck {
			over := tucked.next(c.Tucked, work, limit)
			report("tuck-stack", over, over, "Let them knit a row in between", "%v tuck for the %dth row running; the limit is %d, and more loops jam the carriage.", over, limit+1, limit)
			side := piece.Limit(p.Limits.TuckWide, tuckWideLimit)
			report("tuck-wide", wide(c.Tucked, side), between(c.Tucked, side), "Let a stitch between them knit", "neighbours tuck together at %v; the loops lie over them as one wide float.", c.Tucked)
		} else {
			tucked = streak{}
		}
		if mark != chart.Slip && mark != chart.Tuck {
			continue
		}
		if mark == chart.Slip {
			limit := piece.Limit(p.Limits.Slip, slipLimit)
			over := slipped.next(c.Slipped, work, limit)
			report("slip-tall", over, over, "Let them knit a row in between", "%v are slipped for the %dth row running; the limit is %d, and the stitches are drawn too tall.", over, limit+1, limit)
		}
		ends := machine.SetOf(work.First(), work.Last()).Minus(c.Knitted)
		report("edge-not-knit", ends, machine.Set{}, "Set the end needles to knit every row", "the end needle %v does not knit; the selvedge will ladder.", ends)
		if n := len(out); n > 0 && out[n-1].Code == "edge-not-knit" && s.Covered == work && out[n-1].Mend == nil {
			out[n-1].Mend = finding.Always(edit.SectionOption(c.Section-1, "end_needles", "auto"))
		}
	}
	return out
}

// between is the fewest needles that part runs of more than limit into runs within it.
func between(s machine.Set, limit int) (out machine.Set) {
	for a, z := range s.Runs() {
		for n := a + machine.Needle(limit); n <= z; n += machine.Needle(limit + 1) {
			out.Add(n)
		}
	}
	return out
}

// wide is the needles that stand in runs of more than limit.
func wide(s machine.Set, limit int) (out machine.Set) {
	if !s.HasRun(limit + 1) {
		return out
	}
	for a, z := range s.Runs() {
		if int(z-a)+1 > limit {
			out = out.Or(machine.Range(a, z))
		}
	}
	return out
}
