package check

import (
	"fmt"
	"math"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/plan"
)

// deepest is the most loops that a needle can knit off at once without trouble (rules: 5.5).
const deepest = 3

// lace checks each lace section: too many loops on a needle, wide holes, the edge
// needles, leans that come out otherwise, transfers right after the cast-on, and a slant.
func lace(pl *plan.Plan, f *fabric.Fabric) (out []finding.Finding) {
	for i, s := range pl.Placed {
		if !s.Section.Lace() {
			continue
		}
		l := laceCheck{pl: pl, section: i}
		for k := range pl.Passes {
			if p := &pl.Passes[k]; p.Section == i+1 {
				l.pass(p)
			}
		}
		for k := range f.Courses {
			if c := &f.Courses[k]; c.Section == i+1 && !c.Deep.Empty() {
				l.deep.add(c.Row, c.Deep)
			}
		}
		for r := 1; r <= min(s.Cycle, s.Rows); r++ {
			if over := wide(s.Wants(r, chart.YarnOver), 1); !over.Empty() {
				l.holes.add(r, over)
			}
		}
		out = append(out, l.findings()...)
	}
	return out
}

// placed is where something happens in a section: its needles, and its first and last row.
type placed struct {
	rows    [2]int
	times   int
	needles machine.Set
}

func (p *placed) add(row int, needles machine.Set) {
	if p.needles = p.needles.Or(needles); p.rows[0] == 0 || row < p.rows[0] {
		p.rows[0] = row
	}
	p.rows[1] = max(p.rows[1], row)
	p.times++
}

// laceCheck gathers what is to be said of one section.
type laceCheck struct {
	pl                       *plan.Plan
	section                  int
	deep, holes, edge, leans placed
	early                    machine.Set // moved before any row was knitted
	left, right              int         // stitches moved one needle each
}

func (l *laceCheck) pass(p *plan.Pass) {
	moved := func(needles machine.Set, dir machine.Side) {
		work := l.pl.Piece.Work()
		if dir == machine.Left {
			l.left += needles.Len()
		} else {
			l.right += needles.Len()
		}
		if ends := needles.And(machine.SetOf(work.First(), work.Last())); !ends.Empty() {
			l.edge.add(p.Row, ends)
		}
		// The run counts knitted passes: a hand's transfers come before the pass that knits them.
		if p.Run == 0 || p.Run == 1 && p.Carriage != machine.LaceCarriage {
			l.early = l.early.Or(needles)
		}
	}
	if p.Carriage == machine.LaceCarriage {
		moved(p.Select, p.Dir)
	}
	for j := range p.Before {
		if st := &p.Before[j]; st.Do == plan.Transfer {
			moved(st.Needles, st.Dir)
		}
	}
	if !p.OtherLeans.Empty() {
		l.leans.add(p.Row, p.OtherLeans)
	}
}

func (l *laceCheck) findings() (out []finding.Finding) {
	p, s := l.pl.Piece, l.pl.Placed[l.section]
	report := func(code string, severity finding.Severity, at placed, mend func() []edit.Change, fix, format string, a ...any) {
		if at.needles.Empty() {
			return
		}
		out = append(out, finding.Finding{Code: code, Severity: severity, Section: l.section + 1, Rows: at.rows, Needles: at.needles, Text: fmt.Sprintf(format, a...), Fix: fix, Mend: mend})
	}
	report("lace-stack", finding.Warn, l.deep, nil, "Spread the decreases over more needles or rows",
		"%v hold more than %d loops at once, from row %d on; they knit off badly.", l.deep.needles, deepest, l.deep.rows[0])
	report("lace-wide-hole", finding.Note, l.holes, nil, "Draw a stitch between the two yarn-overs, or help by hand",
		"%v: neighbours stand empty together, first in row %d. They make one wide hole: after the next row see that both hold the yarn, and twist one of the two loops by hand.", l.holes.needles, l.holes.rows[0])
	report("lace-edge", finding.Warn, l.edge, finding.Always(edit.SectionOption(l.section, "end_needles", "auto")),
		"Keep the end needles out of the transfers",
		"The end needle %v is transferred, first in row %d; the selvedge opens there.", l.edge.needles, l.edge.rows[0])
	if !l.leans.needles.Empty() {
		more := l.exactCosts()
		report("lace-lean", finding.Note, l.leans, finding.Always(edit.SectionOption(l.section, "lean", "exact")),
			fmt.Sprintf("Knit the leans exactly as drawn: %d %s more", more, plural(more, "pass", "passes")),
			"By the shortest route the stitches at %v lie the other way round than drawn, in %d %s; the holes are the same.", l.leans.needles, l.leans.times, plural(l.leans.times, "row", "rows"))
	}
	report("lace-cast-on", finding.Note, placed{rows: [2]int{1, 1}, needles: l.early}, finding.Always(edit.InsertPlain(l.section, 2, p.YarnID(s.Section.RowYarn(1)))), "Knit two plain rows first", "Stitches are transferred right after the cast-on, from tight loops: %v.", l.early)
	if l.left+l.right > 0 && (l.left == 0 || l.right == 0) {
		way, other := "left", "right"
		if l.right > 0 {
			way, other = other, way
		}
		stitches := float64(l.left+l.right) / float64(p.Work().Len())
		mm, by := math.Round(stitches*p.StitchMM()), "by the swatch"
		if p.Gauge.Stitches == 0 {
			by = fmt.Sprintf("at the needle pitch, %.1f mm; a swatch would know better", p.Machine.PitchMM)
		}
		report("lace-bias", finding.Note, placed{rows: [2]int{1, s.Rows}, needles: s.Covered}, nil, "Mirror every second repeat or row, so that moves balance",
			"Every move goes to the %s on the bed, so the fabric slants: over these rows a wale drifts by about %.1f stitches, some %.0f mm (%s), to the %s on the knit side.", way, stitches, mm, by, other)
	}
	return out
}

// exactCosts is how many passes more, or transfers by hand, the section takes with its leans exact.
func (l *laceCheck) exactCosts() int {
	exact := *l.pl.Piece
	exact.Sections = append(exact.Sections[:0:0], exact.Sections...)
	exact.Sections[l.section].Options.Lean = "exact"
	return len(plan.Make(&exact).Passes) - len(l.pl.Passes)
}
