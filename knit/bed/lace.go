package bed

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Lace marks lie in Placed.Stitch as they are seen on the bed: mirroring a drawing
// also exchanges its leans, so on the bed `\` is a pair whose right stitch comes out on
// top of the knit side, whichever side the chart was drawn for (rules 5.5).
//
//	knit side  / o   →   on the bed  o \      the left stitch moves right, under
//	                                          its neighbour: the natural way

// closeUp takes the padding out of a lace drawing: rows that all have the same count of
// real stitches close up, and then it is true. Otherwise the drawing stays as it was.
func closeUp(g chart.Grid, c *piece.Chart) (chart.Grid, bool) {
	count := func(y int) (n int) {
		for _, key := range g.Row(y) {
			n += c.Lace(key).Makes()
		}
		return n
	}
	w := count(0)
	for y := range g.H {
		if n := count(y); n != w || n == 0 {
			return g, false
		}
	}
	if w == g.W {
		return g, true
	}
	out := chart.NewMat[uint8](w, g.H)
	for y := range g.H {
		to := out.Row(y)[:0]
		for _, key := range g.Row(y) {
			if c.Lace(key) != chart.NoStitch {
				to = append(to, key)
			}
		}
	}
	return out, true
}

// nthStitch is the place, from 0, of the n-th real stitch of a padded row.
func nthStitch(row []uint8, n int, c *piece.Chart) int {
	for x, key := range row {
		if c.Lace(key) == chart.NoStitch {
			continue
		}
		if n == 0 {
			return x
		}
		n--
	}
	return 0
}

// span is a yarn-over and its decreases: the columns over which the count of stitches
// used and made returns to even. A plain stitch is in none.
type span struct{ cells, held int }

// lace covers the rows of a lace section with its areas, later ones over earlier ones, each span whole
// or not at all, and reports what is cut and what transfers cannot do.
func (s *Placed) lace(grids []chart.Grid) (out []finding.Finding) {
	if s.whole != nil && s.whole.Stitch != nil { // each part writes on needles of its own
		s.Stitch, s.Refused = s.whole.Stitch, s.whole.Refused
	}
	if s.Stitch == nil {
		s.Stitch = make([]chart.Stitch, len(s.Yarn))
		s.Refused = map[int]*finding.Finding{}
	}
	s.padded = make([]chart.Grid, len(grids))
	owner := make([]int32, len(s.Yarn)) // the span each cell belongs to; 0: none
	spans := []span{{}}
	for k := range s.Section.Areas {
		a := &s.Section.Areas[k]
		out = append(out, s.asksWhichRows(a)...)
		raw := cut(a, a.Chart.Grid)
		if raw.W != grids[k].W {
			s.padded[k] = raw
		} else if _, ok := closeUp(raw, a.Chart); !ok {
			out = append(out, s.uneven(a, raw))
			continue
		}
		spans = s.coverLace(a, grids[k], owner, spans)
	}
	rows := [2]int{}
	for i, id := range owner {
		if id == 0 || spans[id].cells == spans[id].held {
			continue
		}
		s.Stitch[i] = chart.Knit
		s.Cut.Add(s.From + machine.Needle(i%s.W))
		r := i/s.W + 1
		if rows[0] == 0 {
			rows[0] = r
		}
		rows[1] = r
	}
	if s.standing != nil && !s.Cut.Empty() {
		out = append(out, finding.Finding{Code: finding.LaceCut, Severity: finding.Note, Section: s.No, Rows: rows,
			Needles: s.Cut,
			Text: fmt.Sprintf("The edge cuts the pattern at %v: yarn-overs and decreases there would lose their "+
				"partners, so those stitches knit plain.", s.Cut)})
	} else if !s.Cut.Empty() {
		out = append(out, finding.Finding{Code: finding.LaceCut, Severity: finding.Note, Section: s.No, Rows: rows,
			Needles: s.Cut,
			Text: fmt.Sprintf("The pattern is cut at %v: yarn-overs and decreases there would lose their "+
				"partners, so those needles knit plain.", s.Cut),
			Fix: "Or choose a width that holds whole repeats"})
	}
	return out
}

// asksWhichRows: purls in even rows are those of a drawing that shows every row, unless it
// says that it shows right-side rows only (rules 5.5). Once it says, nobody asks again.
func (s *Placed) asksWhichRows(a *piece.Area) []finding.Finding {
	if a.Chart.Shows {
		return nil
	}
	for y := 1; y < a.Chart.H; y += 2 {
		for _, key := range a.Chart.Row(y) {
			if a.Chart.Lace(key) == chart.Purl {
				return []finding.Finding{{Code: finding.RowsShown, Severity: finding.Note, Section: s.No,
					Rows: [2]int{1, s.Rows}, Needles: machine.Range(a.From, a.To).And(s.work),
					Text: fmt.Sprintf("Row %d of %s has purls. Does it show every row? It is read as right-side rows "+
						"only, with a plain row after each; say which on its page, and this is not asked again.",
						y+1, a.Chart.Name),
					Fix: "It shows every row", Mend: finding.Always(edit.ShowsAll(a.Chart.Name))}}
			}
		}
	}
	return nil
}

// coverLace puts one area's marks on the rows, over what is there, and notes which span
// each belongs to. A row that changes the stitch count is refused and left plain.
func (s *Placed) coverLace(a *piece.Area, g chart.Grid, owner []int32, spans []span) []span {
	turned := a.Away != hasMirror(a)
	marks := make([]chart.Stitch, g.W)
	first, last := int(a.From-s.From), min(int(a.To-s.From), s.W-1)
	phase := int(s.From - a.First)
	for r := s.FromRow; r <= min(s.Cycle, s.ToRow); r++ {
		at, work, moved := (r-1)*s.W, s.InWork(r), s.transferable(r)
		for x := first - mod(first+phase, g.W); x <= last; x += g.W { // each repeat begins at x
			y := s.at(a, g.H, (x+phase)/g.W, r)
			if y < 0 {
				continue
			}
			if change := a.Chart.Balance(g.Row(y)); change != 0 {
				if s.Refused[r] == nil {
					s.Refused[r] = s.uncounted(a, r, g.W+change, g.W)
				}
				continue
			}
			for c, key := range g.Row(y) {
				if marks[c] = a.Chart.Lace(key); turned {
					marks[c] = marks[c].Mirrored()
				}
			}
			balance, id := 0, int32(0)
			for c, m := range marks {
				change := m.Uses() - 1
				if id == 0 && change != 0 {
					spans = append(spans, span{})
					id = int32(len(spans) - 1)
				}
				balance += change
				n := s.From + machine.Needle(x+c)
				if id != 0 {
					spans[id].cells++
				}
				if x+c >= max(first, 0) && x+c <= last && (moved.Has(n) || id == 0 && work.Has(n)) {
					if s.Stitch[at+x+c] = m; id != 0 {
						spans[id].held++
					}
					if under := owner[at+x+c]; under != 0 {
						spans[under].held--
					}
					owner[at+x+c] = id
				} else if id != 0 && x+c >= max(first, 0) && x+c <= last && work.Has(n) {
					s.Cut.Add(n) // an end needle that a policy keeps from being transferred
				}
				if balance == 0 {
					id = 0
				}
			}
		}
	}
	return spans
}

// transferable is the needles of a row whose stitches may be transferred: end needles held
// to a policy never are.
func (s *Placed) transferable(r int) machine.Set {
	set := s.InWork(r)
	if s.Section.Options.EndsHeld() {
		set.Remove(set.First())
		if !set.Empty() {
			set.Remove(set.Last())
		}
	}
	if st := s.Shaped(r); st != nil { // nor are those that the fingers have just had
		set = set.Minus(st.Touched).Minus(st.Fresh)
	}
	return set
}

func hasMirror(a *piece.Area) bool {
	for _, t := range a.Transform {
		if t == "mirror" {
			return true
		}
	}
	return false
}

// uncounted refuses a row whose stitch count would change in mid-row, and offers to knit
// plain what has no partner in it.
func (s *Placed) uncounted(a *piece.Area, r, uses, makes int) *finding.Finding {
	does := "grow"
	if uses > makes {
		does = "shrink"
	}
	row := a.Rows[0]
	for n := range machine.Range(a.From, a.To).All() { // where another area lies over it, a needle tells nothing of it
		if of, _, shown := s.Source(n, r); of == a.Chart.Name && shown > 0 {
			row = shown
			break
		}
	}
	balanced, columns := evened(a, row)
	return &finding.Finding{Code: finding.LaceCount, Severity: finding.Stop, Section: s.No, Rows: [2]int{r, r},
		Needles: machine.Range(a.From, a.To),
		Text: fmt.Sprintf("Row %d of %s uses %s and makes %d: the fabric would %s in mid-row, and transfers only "+
			"move the stitches that are there.", row, a.Chart.Name, words.Stitches(uses), makes, does),
		Fix: fmt.Sprintf("Knit plain what has no partner, at column %s, or draw the partner",
			strings.Trim(strings.Join(strings.Fields(fmt.Sprint(columns)), ", "), "[]")),
		Mend: finding.Always(edit.Row(a.Chart, row, balanced))}
}

// evened is a chart's row (from 1) with what is left over in its area made plain, from the
// right: a yarn-over, a decrease, one step of three together; and the columns changed.
func evened(a *piece.Area, row int) (text string, columns []int) {
	cells := []rune{}
	for _, key := range a.Chart.Row(row - 1) {
		cells = append(cells, a.Chart.Keys[key])
	}
	balance, open := 0, a.Columns[0] // where the stretch begins that does not return to even
	for x := a.Columns[0]; x <= a.Columns[1]; x++ {
		st := a.Chart.Lace(a.Chart.At(x-1, row-1))
		if balance += st.Uses() - st.Makes(); balance == 0 {
			open = x + 1
		}
	}
	for x := a.Columns[1]; x >= open && balance != 0; x-- {
		st := a.Chart.Lace(a.Chart.At(x-1, row-1))
		change := st.Uses() - st.Makes()
		if change == 0 || (change > 0) != (balance > 0) {
			continue
		}
		columns = append(columns, x)
		if cells[x-1] = '.'; change > max(balance, 1) { // three together, of which one step is left over
			cells[x-1], change = '/', 1
		}
		balance -= change
	}
	slices.Sort(columns)
	return string(cells), columns
}

// uneven refuses a drawing whose padding does not close up.
func (s *Placed) uneven(a *piece.Area, g chart.Grid) finding.Finding {
	counts := make([]int, g.H)
	most, times := 0, map[int]int{}
	for y := range counts {
		for _, key := range g.Row(y) {
			counts[y] += a.Chart.Lace(key).Makes()
		}
		if times[counts[y]]++; times[counts[y]] > times[most] {
			most = counts[y]
		}
	}
	odd := 0
	for odd < g.H-1 && counts[odd] == most && most > 0 {
		odd++
	}
	return finding.Finding{Code: finding.LaceNoStitch, Severity: finding.Stop, Section: s.No,
		Rows: [2]int{odd + 1, odd + 1}, Needles: machine.Range(a.From, a.To),
		Text: fmt.Sprintf("Without its padding, row %d of %s has %s where the others have %d: the rows do not close "+
			"up to one width.", a.Rows[0]+odd, a.Chart.Name, words.Stitches(counts[odd]), most),
		Fix: "Draw every row with the same number of stitches besides the padding"}
}
