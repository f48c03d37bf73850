package bed

import (
	"fmt"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// LaceLine is what a line of a lace carriage selects, and how it is set for what it moves.
type LaceLine struct {
	Needles machine.Set
	Fine    bool
}

// LaceRow is a knitted row of lace that is given as lines: those that the lace carriage reads before it, and what
// the stitches of the row come to. Of the needles that hold several, those whose left loop on the bed lies lowest
// lean right on the knit side, those whose right loop does lean left (rules 5.5, Lace as lines).
type LaceRow struct {
	Lines                         []LaceLine
	Eyelets, Merged, LeanR, LeanL machine.Set
}

// stacks is what needles hold between two rows of lace: by needle the homes of its loops, the oldest first. The
// lace carriage goes away from the left first; it moves what it selected on the pass before, or, where it selects and
// transfers in one pass, what it selects.
type stacks struct {
	loops  map[machine.Needle][]machine.Needle
	work   machine.Set
	before LaceLine // selected on the pass before, and not moved yet
	passes int
	now    bool
}

func newStacks(work machine.Set, now bool) *stacks {
	s := &stacks{loops: map[machine.Needle][]machine.Needle{}, work: work, now: now}
	s.knit()
	return s
}

// knit makes one loop on every needle.
func (s *stacks) knit() {
	for n := range s.work.All() {
		s.loops[n] = append(s.loops[n][:0], n)
	}
	s.before, s.passes = LaceLine{}, 0
}

// read moves the lace carriage across as it reads a line.
func (s *stacks) read(line LaceLine) {
	moved := s.before
	if s.now {
		moved = line
	}
	way := machine.Needle(1)
	if s.passes%2 == 1 {
		way = -1
	}
	taken := map[machine.Needle][]machine.Needle{}
	for n := range moved.Needles.All() {
		taken[n] = append([]machine.Needle{}, s.loops[n]...)
		if !moved.Fine {
			s.loops[n] = s.loops[n][:0]
		}
	}
	for n, list := range taken {
		if to := n + way; s.work.Has(to) {
			s.loops[to] = append(s.loops[to], list...)
		}
	}
	s.before, s.passes = line, s.passes+1
}

// row is what the stitches come to if they are knitted now.
func (s *stacks) row() (r LaceRow) {
	for n := range s.work.All() {
		loops := s.loops[n]
		if len(loops) == 0 {
			r.Eyelets.Add(n)
			continue
		}
		low, high := loops[0], loops[0]
		for _, home := range loops {
			low, high = min(low, home), max(high, home)
		}
		if low == high {
			continue
		}
		r.Merged.Add(n)
		switch loops[0] {
		case low:
			r.LeanR.Add(n)
		case high:
			r.LeanL.Add(n)
		}
	}
	return r
}

// readLines lays the lines of a lace carriage on the needles and follows what they do to the stitches.
func (s *Placed) readLines(p *piece.Piece) (out []finding.Finding) {
	sec := s.Section
	a := &sec.Areas[0]
	rows, rest := a.LineRows()
	line := func(i int) (l LaceLine) {
		lever := a.Chart.Lines[a.Rows[0]-1+i].Lever
		l.Fine = lever == "fine" || lever == "" && sec.Options.Transfer == "fine"
		for k := range sec.Areas {
			b := &sec.Areas[k]
			row, filled := b.Chart.Row(b.Rows[0] - 1 + i)[b.Columns[0]-1:b.Columns[1]], uint8(b.Chart.Key('#'))
			for n := range machine.Range(b.From, b.To).And(s.work).All() {
				if l.Needles.Remove(n); row[mod(int(n-b.First), len(row))] == filled {
					l.Needles.Add(n)
				}
			}
		}
		if sec.Options.EndsHeld() && !s.work.Empty() {
			l.Needles = l.Needles.Minus(machine.SetOf(s.work.First(), s.work.Last()))
		}
		return l
	}
	at := newStacks(s.work, p.Machine.Lace == "combined")
	s.Stitch = make([]chart.Stitch, len(s.Yarn))
	s.Refused = map[int]*finding.Finding{}
	lines := func(from, to int) (list []LaceLine) {
		for i := from; i < to; i++ {
			list = append(list, line(i))
			at.read(list[len(list)-1])
		}
		return list
	}
	for r := 1; r <= s.Rows; r++ {
		one := rows[(r-1)%len(rows)]
		read := lines(one.From, one.To)
		if at.passes%2 == 1 && len(out) == 0 {
			out = append(out, s.oddLines(p, r, one.From, one.To, at.passes))
		}
		made := at.row()
		made.Lines = read
		s.LaceRows = append(s.LaceRows, made)
		at.knit()
		if r <= s.Cycle {
			s.marks(r, &made)
			if y := one.Yarn; y != 0 {
				for x := range s.YarnRow(r) {
					s.YarnRow(r)[x] = y
				}
			}
		}
		if r%len(rows) == 0 {
			read := lines(rest.From, rest.To)
			if s.LaceRest = at.row(); at.passes%2 == 1 && r == s.Rows && len(out) == 0 {
				out = append(out, s.oddLines(p, r, rest.From, rest.To, at.passes))
			}
			s.LaceRest.Lines = read
		} else {
			s.LaceRest = LaceRow{}
		}
	}
	return out
}

// marks writes what a row's stitches come to as marks of lace, on the bed.
func (s *Placed) marks(r int, made *LaceRow) {
	to := s.StitchRow(r)
	put := func(on machine.Set, mark chart.Stitch) {
		for n := range on.All() {
			to[n-s.From] = mark
		}
	}
	put(made.Eyelets, chart.YarnOver)
	put(made.Merged, chart.Centre)
	put(made.LeanR, chart.LeanRight)
	put(made.LeanL, chart.LeanLeft)
}

// oddLines stops where the lace carriage would stand on the right when the knit carriage is to knit.
func (s *Placed) oddLines(p *piece.Piece, row, from, to, passes int) finding.Finding {
	c := s.Section.Areas[0].Chart
	first := s.Section.Areas[0].Rows[0] // line 1 of the area
	f := finding.Finding{Code: finding.CarriageSide, Severity: finding.Stop, Section: s.No, Rows: [2]int{row, row},
		Needles: s.Covered,
		Text: fmt.Sprintf("Before row %d %s read, up to line %d: an odd number leaves the lace carriage on the "+
			"right, where the knit carriage waits.",
			row, words.Count(passes, "line is", "lines are"), first+to-1),
		Fix: "Add a blank line after them"}
	f.Mend = finding.Always(edit.BlankLine(p, c, first+to-1))
	return f
}
