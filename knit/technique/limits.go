package technique

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// Remarks gathers what is said of the courses of a fabric. A row that comes again in a later
// repeat is told once, and one cause in rows one on another is one finding.
type Remarks struct {
	Found []finding.Finding
	pl    *pass.Plan
	told  map[told]bool
	open  map[finding.Code]*remark // the last of each code, which the next row may go on with
}

type told struct {
	code         finding.Code
	section, row int
}

// remark is one finding of rows one on another: what is said after its rows, the needles of
// the last row, and what would have to knit plain.
type remark struct {
	at   int // index among the findings
	text string
	last machine.Set
	knit []bed.Spot
}

// NewRemarks begins a list of remarks on a plan's fabric.
func NewRemarks(pl *pass.Plan) *Remarks {
	return &Remarks{pl: pl, told: map[told]bool{}, open: map[finding.Code]*remark{}}
}

// Row warns of needles in a course, unless there are none. knit is which of the needles
// would have to knit plain for the remark to go; none: hands or a decision are needed.
func (r *Remarks) Row(c *fabric.Course, code finding.Code, on, knit machine.Set, fix, format string, a ...any) {
	s := r.pl.Section(c.Section)
	key := told{code, c.Section, (c.Row - 1) % s.Cycle}
	if on.Empty() || r.told[key] {
		return
	}
	r.told[key] = true
	now := r.open[code]
	if now == nil || !now.goesOn(&r.Found[now.at], c, on) {
		now = &remark{at: len(r.Found), text: fmt.Sprintf(format, a...)}
		r.open[code] = now
		r.Found = append(r.Found, finding.Finding{Code: code, Severity: finding.Warn, Section: c.Section,
			Rows: [2]int{c.Row, c.Row}, Fix: fix})
	}
	f := &r.Found[now.at]
	spot := bed.Spot{Needles: knit, Row: c.Row}
	now.last, now.knit = on, append(now.knit, spot)
	f.Rows[1], f.Needles = c.Row, f.Needles.Or(on)
	f.Text = fmt.Sprintf("Row %d: %s", f.Rows[0], now.text)
	if f.Rows[1] > f.Rows[0] {
		f.Text = fmt.Sprintf("Rows %d to %d: %s", f.Rows[0], f.Rows[1], now.text)
	}
	if p := r.pl.Piece; f.Mend == nil && len(s.Restitch(chart.Knit, p, spot)) > 0 {
		f.Mend = func() []edit.Change { return s.Restitch(chart.Knit, p, now.knit...) }
	}
}

// goesOn says that needles of a course are the same cause: the next row, or another course
// of the same, with some of the same needles.
func (r *remark) goesOn(f *finding.Finding, c *fabric.Course, on machine.Set) bool {
	return f.Section == c.Section && c.Row-f.Rows[1] <= 1 && c.Row >= f.Rows[1] && !r.last.And(on).Empty()
}

// keepEnds is the edit by which a section keeps its end needles where they knit: by the
// machine's switch, where it has one.
func keepEnds(pl *pass.Plan, section int) []edit.Change {
	if pl.Piece.Machine.EndSwitch {
		return edit.SectionOption(section, "end_needles", "auto")
	}
	return edit.SectionOption(section, "end_needles", "hand")
}

// edge warns of end needles that do not take the yarn, but for those that wait in a short
// row, and where the second bed knits beyond both ends; where the pattern lies on all the
// needles the end-needle policy mends it.
func (r *Remarks) edge(c *fabric.Course, waiting machine.Set) {
	if second, shift := r.pl.Section(c.Section).Second, machine.Needle(r.pl.Piece.Across().Shift); !second.Empty() &&
		second.First()+shift < c.AtWork.First() && second.Last()+shift >= c.AtWork.Last() {
		return
	}
	ends := machine.SetOf(c.AtWork.First(), c.AtWork.Last()).Minus(c.Knitted).Minus(waiting)
	before := len(r.Found)
	r.Row(c, finding.EdgeNotKnit, ends, machine.Set{}, "Set the end needles to knit every row",
		"the end needle %v does not knit; the selvedge will ladder.", ends)
	if len(r.Found) > before && c.AtWork.Minus(r.pl.Section(c.Section).Covered).Empty() {
		r.Found[before].Mend = finding.Always(keepEnds(r.pl, c.Section))
	}
}
