package plan

import (
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// begin does what falls due before a section's row: the selecting pass and the reader's
// side before the first, the counter set back. It is false where the row cannot be begun.
func (k *planner) begin(s *section, w loom.Work) bool {
	l, first := k.loom, w.Row == 1
	again := s.Part == piece.SecondPart && s.divides // the way back has selected its row
	purl := s.technique.KnitterOf(k.m, s.Placed) == machine.PurlCarriage
	patterned := s.technique.IsPatterned(k.m)
	selects := k.m.School == machine.Preselect && patterned && k.noSelector(purl) && !(purl && !k.m.PurlAhead) && !again
	if first && (l.Knitter() == machine.PurlCarriage) != purl {
		side := machine.Right
		if purl && selects { // the selecting pass brings the yarn across
			side = machine.Left
		}
		if l.Stands(machine.KnitCarriage) != side {
			k.Report(l.OtherSide(side,
				"Knit and purl carriage change places on the right, where the purl carriage lives; here they would "+
					"meet on the left."))
			return false
		}
	}
	if s.technique.May != nil {
		if f := s.technique.May(l, w); f != nil {
			k.Report(*f)
			return false
		}
	}
	if first && patterned {
		switch {
		case selects:
			k.selectingPass(s, w)
		case k.m.School == machine.Pairs && l.Stands(machine.KnitCarriage) == machine.Left:
			f := l.OtherSide(machine.Right,
				"The reader sets the needles on a pass to the left, but here the carriage stands on the left.")
			f.Needles = machine.Set{}
			k.Report(f)
			return false
		case k.m.School == machine.Pairs:
			k.Report(finding.Finding{Code: finding.RowDoubled, Severity: finding.Note, Section: s.No,
				Rows:    [2]int{1, s.Rows},
				Needles: w.InWork(),
				Text: "The reader gives every line two passes: each chart row is knitted twice, and stands twice " +
					"as tall."})
		}
	}
	if k.setsBack(s, w.Row) {
		l.SetCounter(0)
	}
	return true
}

// setsBack says that the counter goes back to 0 before a row.
func (k *planner) setsBack(s *section, row int) bool {
	switch s.Section.Options.Counter {
	case "section":
		return row == 1
	case "repeat":
		return len(s.Section.Areas) > 0 && (row == 1 || (row-1+s.Section.Shift())%s.Height == 0)
	}
	return false
}

// noSelector says that no knit-carriage row stands before the next pass that could
// select for it: at the start, after hand work, and after another carriage.
func (k *planner) noSelector(purl bool) bool {
	last := k.loom.Last()
	return last == nil || last.Main().Setting.Lays || last.Carriage != machine.KnitCarriage && !purl
}

// selectingPass is the pass before a pattern's first row where no knitting pass does
// its work (rules 1, Selection): a plain row in the yarn of row 1's feeder 1, or a free pass.
func (k *planner) selectingPass(s *section, w loom.Work) {
	l := k.loom
	if s.Section.Options.Selecting == "free" {
		l.Empty(machine.KnitCarriage)
		return
	}
	l.NewCourse()
	l.Go(l.Extra(machine.Plain, w.Yarns[:1]))
}
