package technique

import (
	"fmt"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// Remarks gathers what is said of the courses of a fabric. A row that comes again in a
// later repeat is told once.
type Remarks struct {
	Found []finding.Finding
	pl    *pass.Plan
	told  map[told]bool
}

type told struct {
	code         finding.Code
	section, row int
}

// NewRemarks begins a list of remarks on a plan's fabric.
func NewRemarks(pl *pass.Plan) *Remarks { return &Remarks{pl: pl, told: map[told]bool{}} }

// Row warns of needles in a course, unless there are none. knit is which of the needles
// would have to knit plain for the remark to go; none: hands or a decision are needed.
func (r *Remarks) Row(c *fabric.Course, code finding.Code, on, knit machine.Set, fix, format string, a ...any) {
	s := r.pl.Section(c.Section)
	key := told{code, c.Section, (c.Row - 1) % s.Cycle}
	if on.Empty() || r.told[key] {
		return
	}
	r.told[key] = true
	f := finding.Finding{Code: code, Severity: finding.Warn, Section: c.Section, Rows: [2]int{c.Row, c.Row},
		Needles: on,
		Text:    fmt.Sprintf("Row %d: ", c.Row) + fmt.Sprintf(format, a...), Fix: fix}
	if row, p := c.Row, r.pl.Piece; len(s.Restitch(knit, row, chart.Knit, p)) > 0 {
		f.Mend = func() []edit.Change { return s.Restitch(knit, row, chart.Knit, p) }
	}
	r.Found = append(r.Found, f)
}

// edge warns of end needles that do not take the yarn; where the pattern lies on all the
// needles the end-needle policy mends it.
func (r *Remarks) edge(c *fabric.Course) {
	ends := machine.SetOf(c.AtWork.First(), c.AtWork.Last()).Minus(c.Knitted)
	before := len(r.Found)
	r.Row(c, finding.EdgeNotKnit, ends, machine.Set{}, "Set the end needles to knit every row",
		"the end needle %v does not knit; the selvedge will ladder.", ends)
	if len(r.Found) > before && r.pl.Section(c.Section).Covered == c.AtWork {
		r.Found[before].Mend = finding.Always(edit.SectionOption(c.Section, "end_needles", "auto"))
	}
}
