package plan

import (
	"fmt"
	"slices"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// fetching tries what it would save that the empty carriage fetches a yarn for rows of one colour.
func (k *planner) fetching(try func(cuts int, say string, changes []edit.Change)) {
	needs := slices.Clone(k.needs)
	var changes []edit.Change
	for i := range k.sections {
		s := &k.sections[i]
		if !s.technique.TwoPasses || s.Section.Options.FarYarn != "cut" {
			continue
		}
		for j := s.at; j < s.at+s.rows; j++ {
			needs[j].Fetch = len(needs[j].Yarns) == 1
		}
		changes = append(changes, edit.SectionOption(s.No, "far_yarn", "slip")...)
	}
	_, cuts := loom.Leads(needs, k.Piece.Start, k.firstYarns())
	try(cuts, "Let the empty carriage fetch it, in free passes", changes)
}

// offerFewerCuts looks for what would save cuts over the whole piece, and offers the
// best: another yarn to start with, one more plain row in a section below, or free passes. Where
// nothing does, the free pass that each finding names remains.
func (k *planner) offerFewerCuts() {
	best, fix := k.Totals.Cuts, ""
	var mend []edit.Change
	if best == 0 {
		return
	}
	try := func(cuts int, say string, changes []edit.Change) {
		if cuts < best {
			best, fix, mend = cuts, say, changes
		}
	}
	first := k.firstYarns()
	if len(first) > 0 {
		leads, cuts := loom.Leads(k.needs, k.Piece.Start, nil)
		var forget []edit.Change
		for i := range k.sections {
			forget = append(forget, edit.FreeFirstYarn(k.Piece, i+1)...)
		}
		for i := range leads {
			if y := first[i]; y != 0 && leads[i][0] != y {
				try(cuts, "Start with "+k.Piece.YarnName(leads[i][0]), forget)
			}
		}
	}
	for i := range k.sections {
		s := &k.sections[i]
		end := s.at + s.rows
		if s.technique.Drawn != piece.Nothing || len(s.Section.Stripes) > 0 || s.rows == 0 || end == len(k.needs) {
			continue
		}
		more := slices.Insert(slices.Clone(k.needs), end, k.needs[end-1])
		moved := map[int]piece.YarnNo{}
		for row, y := range first {
			if row >= end {
				row++
			}
			moved[row] = y
		}
		_, cuts := loom.Leads(more, k.Piece.Start, moved)
		try(cuts, fmt.Sprintf("Knit one more row in section %d: %d", s.No, s.rows+1),
			edit.SectionRows(s.No, s.rows+1))
	}
	k.fetching(try)
	if fix == "" {
		return
	}
	for i := range k.Findings {
		if f := &k.Findings[i]; f.Code == finding.YarnFarSide {
			f.Fix, f.Mend = fmt.Sprintf("%s (%s in the whole piece, instead of %d)", fix,
				words.Count(best, "cut", "cuts"), k.Totals.Cuts), finding.Always(mend)
		}
	}
}
