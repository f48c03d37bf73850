package plan

import (
	"fmt"
	"slices"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// farSide reports a yarn that had to be cut because it lay on the other side.
func (k *planner) farSide(p *Pass) {
	name := k.p.YarnName(p.Feeders[0])
	k.plan.Findings = append(k.plan.Findings, finding.Finding{Code: "yarn-far-side", Severity: finding.Warn, Section: k.section + 1, Rows: [2]int{p.Row, p.Row}, Needles: machine.Set{},
		Text: fmt.Sprintf("Row %d starts on the %v, but %s hangs on the %v: it must be cut and joined again.", p.Row, k.carriage, name, k.carriage.Other()),
		Fix:  fmt.Sprintf("Slip a free pass to the %v before it, where %s hangs", k.carriage.Other(), name)})
}

// offerFewerCuts looks for what would save cuts over the whole piece, and offers the
// best: another yarn to start with, or one more plain row in a section below. Where
// nothing does, the free pass that each finding names remains.
func (k *planner) offerFewerCuts(needs []Need, rows []int, first map[int]piece.YarnNo) {
	best, fix := k.plan.Totals.Cuts, ""
	var mend []edit.Change
	if best == 0 {
		return
	}
	try := func(cuts int, say string, changes []edit.Change) {
		if cuts < best {
			best, fix, mend = cuts, say, changes
		}
	}
	if len(first) > 0 {
		leads, cuts := Leads(needs, k.p.Start, nil)
		var forget []edit.Change
		for i := range k.p.Sections {
			forget = append(forget, edit.FreeFirstYarn(k.p, i)...)
		}
		for i := range leads {
			if y := first[i]; y != 0 && leads[i][0] != y {
				try(cuts, "Start with "+k.p.YarnName(leads[i][0]), forget)
			}
		}
	}
	at := 0
	for i := range k.p.Sections {
		sec := &k.p.Sections[i]
		at += rows[i]
		if sec.Technique.Drawn != piece.Nothing || len(sec.Stripes) > 0 || rows[i] == 0 || at == len(needs) {
			continue
		}
		more := slices.Insert(slices.Clone(needs), at, needs[at-1])
		moved := map[int]piece.YarnNo{}
		for row, y := range first {
			if row >= at {
				row++
			}
			moved[row] = y
		}
		_, cuts := Leads(more, k.p.Start, moved)
		try(cuts, fmt.Sprintf("Knit one more row in section %d: %d", i+1, rows[i]+1), edit.SectionRows(i, rows[i]+1))
	}
	if fix == "" {
		return
	}
	for i := range k.plan.Findings {
		if f := &k.plan.Findings[i]; f.Code == "yarn-far-side" {
			f.Fix, f.Mend = fmt.Sprintf("%s (%s in the whole piece, instead of %d)", fix, count(best, "cut", "cuts"), k.plan.Totals.Cuts), finding.Always(mend)
		}
	}
}
