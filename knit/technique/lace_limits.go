package technique

import (
	"fmt"
	"math"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// laceLimits checks a lace section: too many loops on a needle, wide holes, the edge
// needles, leans that come out otherwise, transfers right after the cast-on, and a slant.
func laceLimits(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
	s := pl.Section(section)
	l := laceCheck{pl: pl, section: section}
	for k := range pl.Passes {
		if p := &pl.Passes[k]; p.Section == section {
			l.pass(p)
		}
	}
	for c := range f.Section(section) {
		if !c.Shape().Deep.Empty() {
			l.deep.add(c.Row, c.Shape().Deep)
		}
	}
	for r := 1; r <= min(s.Cycle, s.Rows); r++ {
		if over := s.Wants(r, chart.YarnOver).Longer(1); !over.Empty() {
			l.holes.add(r, over)
		}
	}
	return l.findings()
}

// spot is where something happens in a section: its needles, and its first and last row.
type spot struct {
	rows    [2]int
	times   int
	needles machine.Set
}

func (p *spot) add(row int, needles machine.Set) {
	if p.needles = p.needles.Or(needles); p.rows[0] == 0 || row < p.rows[0] {
		p.rows[0] = row
	}
	p.rows[1] = max(p.rows[1], row)
	p.times++
}

// laceCheck gathers what is to be said of one section.
type laceCheck struct {
	pl                       *pass.Plan
	section                  int
	deep, holes, edge, leans spot
	early                    machine.Set // moved before any row was knitted
	left, right              int         // stitches moved one needle each
}

func (l *laceCheck) pass(p *pass.Pass) {
	moved := func(needles machine.Set, dir machine.Side) {
		work := p.Main().AtWork
		if dir == machine.Left {
			l.left += needles.Len()
		} else {
			l.right += needles.Len()
		}
		if ends := needles.And(machine.SetOf(work.First(), work.Last())); !ends.Empty() {
			l.edge.add(p.Row(), ends)
		}
		// The run counts knitted passes: a hand's transfers come before the pass that knits them.
		if p.Run == 0 || p.Run == 1 && p.Carriage != machine.LaceCarriage {
			l.early = l.early.Or(needles)
		}
	}
	if p.Carriage == machine.LaceCarriage {
		moved(p.Main().Select, p.Dir)
	}
	for j := range p.Before {
		if st, ok := p.Before[j].Step.(step.Lift); ok {
			_, way := st.Prongs()
			moved(st.Needles(), way)
		}
	}
	if !p.Lace.OtherLeans.Empty() {
		l.leans.add(p.Row(), p.Lace.OtherLeans)
	}
}

func (l *laceCheck) findings() (out []finding.Finding) {
	p, s := l.pl.Piece, l.pl.Section(l.section)
	report := func(code finding.Code, severity finding.Severity, at spot, mend func() []edit.Change, fix,
		format string, a ...any) {
		if at.needles.Empty() {
			return
		}
		out = append(out, finding.Finding{Code: code, Severity: severity, Section: l.section, Rows: at.rows,
			Needles: at.needles, Text: fmt.Sprintf(format, a...), Fix: fix, Mend: mend})
	}
	report(finding.LaceStack, finding.Warn, l.deep, nil, "Spread the decreases over more needles or rows",
		"%v hold more than %d loops at once, from row %d on; they knit off badly.", l.deep.needles, fabric.Deepest,
		l.deep.rows[0])
	report(finding.LaceWideHole, finding.Note, l.holes, nil,
		"Draw a stitch between the two yarn-overs, or help by hand",
		"%v: neighbours stand empty together, first in row %d. They make one wide hole: after the next row see that "+
			"both hold the yarn, and twist one of the two loops by hand.", l.holes.needles, l.holes.rows[0])
	keep := finding.Always(keepEnds(l.pl, l.section))
	if s.Section.IsLines() {
		keep = nil
	}
	report(finding.LaceEdge, finding.Warn, l.edge, keep,
		"Keep the end needles out of the transfers",
		"The end needle %v is transferred, first in row %d; the selvedge opens there.", l.edge.needles,
		l.edge.rows[0])
	if !l.leans.needles.Empty() {
		more := l.exactCosts()
		report(finding.LaceLean, finding.Note, l.leans,
			finding.Always(edit.SectionOption(l.section, "lean", "exact")),
			fmt.Sprintf("Knit the leans exactly as drawn: %d %s more", more, words.Plural(more, "pass", "passes")),
			"By the shortest route the stitches at %v lie the other way round than drawn, in %d %s; the holes are "+
				"the same.", l.leans.needles, l.leans.times, words.Plural(l.leans.times, "row", "rows"))
	}
	report(finding.LaceCastOn, finding.Note, spot{rows: [2]int{1, 1}, needles: l.early},
		finding.Always(edit.InsertPlain(p, l.section, 2, p.YarnID(s.Section.RowYarn(1)))),
		"Knit two plain rows first", "Stitches are transferred right after the cast-on, from tight loops: %v.",
		l.early)
	if as, image := l.mirror(); image < as {
		var turn []edit.Change
		for i := range s.Section.Areas {
			turn = append(turn, edit.ToggleTransform(l.section, i+1, &s.Section.Areas[i], "mirror")...)
		}
		report(finding.LaceMirror, finding.Note, spot{rows: [2]int{1, s.Rows}, needles: s.Covered},
			finding.Always(turn),
			"Knit the mirror image, which leans the other way",
			"The lace carriage takes %d passes over these rows; for the mirror image it would take %d, since that "+
				"leans the way the carriage goes.",
			as, image)
	}
	if l.left+l.right > 0 && (l.left == 0 || l.right == 0) {
		way, other := "left", "right"
		if l.right > 0 {
			way, other = other, way
		}
		stitches := float64(l.left+l.right) / float64(s.InWork(1).Len())
		mm, by := math.Round(stitches*p.StitchMM()), "by the swatch"
		if p.Gauge.Stitches == 0 {
			by = "at a usual gauge; a swatch would know better"
		}
		report(finding.LaceBias, finding.Note, spot{rows: [2]int{1, s.Rows}, needles: s.Covered}, nil,
			"Mirror every second repeat or row, so that moves balance",
			"Every move goes to the %s on the bed, so the fabric slants: over these rows a wale drifts by about %.1f "+
				"stitches, some %.0f mm (%s), to the %s on the knit side.", way, stitches, mm, by, other)
	}
	return out
}

// exactCosts is how many passes more of the lace carriage the section takes with its leans
// exact.
func (l *laceCheck) exactCosts() (more int) {
	s, m := l.pl.Section(l.section), &l.pl.Piece.Machine
	for r := 1; r <= s.Rows; r++ {
		marks := s.StitchRow(r)
		more += lacePasses(m, marks, true) - lacePasses(m, marks, false)
	}
	return more
}

// lacePasses is how many passes of the lace carriage a row's transfers take; 0 by hand.
func lacePasses(m *machine.Profile, marks []chart.Stitch, exact bool) int {
	if !moves(marks) {
		return 0
	}
	switch t := newTransfers(marks, -machine.MaxBed/2, exact); m.Lace {
	case "separate":
		return len(t.separate()) + 1 // the pass that only selects
	case "combined":
		return len(t.combined())
	}
	return 0
}

// mirror compares the section with its mirror image: of a mesh and its image one goes with
// the carriage and the other against it. Lines that are given stay as they are.
func (l *laceCheck) mirror() (as, image int) {
	s, m := l.pl.Section(l.section), &l.pl.Piece.Machine
	if s.Section.IsLines() {
		return 0, 0
	}
	for r := 1; r <= s.Rows; r++ {
		marks := s.StitchRow(r)
		as += lacePasses(m, marks, exactLeans(s))
		turned := make([]chart.Stitch, len(marks))
		for x, mark := range marks {
			turned[len(marks)-1-x] = mark.Mirrored()
		}
		image += lacePasses(m, turned, exactLeans(s))
	}
	return as, image
}
