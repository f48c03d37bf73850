package bed

import (
	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Standing is how the needles of a shaped piece stand in one row of a section: those at work and those that
// wait in hold. In most rows nothing moves.
type Standing struct {
	Work, Hold machine.Set
	*Moves
}

// Moves is what is done before a row, and how the second bed stands, where there is one; it may be shared by
// rows, and is not to be changed.
type Moves struct {
	Second, Behind machine.Set // of the second bed: at work, and in hold
	Touched        machine.Set // needles that the fingers have in hand before the row
	Fresh          machine.Set // and that come into work
	Wrap           machine.Set
	Edges          []piece.Edge
	Starts         machine.Side // the side on which the row must start for them; 0: either
}

var still Moves // nothing moves, and no second bed works

// Moved says that something is done before the row, or that a second bed works in it.
func (s *Standing) Moved() bool { return s.Moves != &still }

// at_ is how the needles stand in a row; of a row that is not planned yet, as in the first.
func (s *Placed) rowStanding(r int) *Standing {
	if r < 1 || r > len(s.standing) {
		r = max(1, min(r, len(s.standing)))
	}
	if st := &s.standing[r-1]; !st.Work.Empty() {
		return st
	}
	return &Standing{Work: s.work, Moves: &Moves{Second: s.Second}}
}

// Shaped is how the needles stand in section row r (from 1), nil where the piece has no shape.
func (s *Placed) Shaped(r int) *Standing {
	if s.standing == nil {
		return nil
	}
	return s.rowStanding(r)
}

// Stood is how the needles stand in a row, nil where it is not known or no row of this part; of no section, nil.
func (s *Placed) Stood(r int) *Standing {
	if s == nil || r < s.FromRow || r > s.ToRow || r > len(s.standing) || s.standing[r-1].Work.Empty() {
		return nil
	}
	return &s.standing[r-1]
}

// Held is the needles that wait in hold in section row r (from 1).
func (s *Placed) Held(r int) machine.Set {
	if s.standing == nil {
		return machine.Set{}
	}
	return s.rowStanding(r).Hold
}

// Behind is the needles of the second bed at work in section row r, and those that wait there in hold.
func (s *Placed) Behind(r int) (work, hold machine.Set) {
	if s.standing == nil {
		return s.Second, machine.Set{}
	}
	st := s.rowStanding(r)
	return st.Second, st.Behind
}

// Divided says that section row r (from 1) is knitted in two parts.
func (s *Placed) Divided(r int) bool { return s.Part != piece.Whole }

// As is the section as a part of the piece would count its passes.
func (s *Placed) As(part piece.Part) *Placed {
	if part == s.Part {
		return s
	}
	v := s.View(part, 1, s.Rows)
	v.whole = nil
	return v
}

// Still says that the section's edges stay where they are, that nothing waits in it, and that it is in one piece.
func (s *Placed) Still() bool {
	if s.standing == nil {
		return true
	}
	if s.FromRow > 1 || s.ToRow < s.Rows || s.Part != piece.Whole {
		return false
	}
	for i := range s.standing {
		// no moves: given up before it was planned
		if st := &s.standing[i]; st.Moves == nil || len(st.Edges) > 0 || !st.Hold.Empty() {
			return false
		}
	}
	return true
}

// CoversRow says that the areas lie on every needle at work in section row r.
func (s *Placed) CoversRow(r int) bool { return s.InWork(r).Minus(s.Covered).Empty() }

// View is the section as one part of a divided piece knits it, from one row to another. What lies on the
// needles is the section's; how they stand is the part's own.
func (s *Placed) View(part piece.Part, from, to int) *Placed {
	return &Placed{Section: s.Section, No: s.No, From: s.From, W: s.W, Rows: s.Rows, Height: s.Height,
		Whole: s.Whole, Cycle: s.Cycle,
		Yarn: s.Yarn, Stitch: s.Stitch, Covered: s.Covered, Wide: s.Wide, Second: s.Second, work: s.work,
		Refused: s.Refused, drawn: s.drawn,
		padded: s.padded, Part: part, FromRow: from, ToRow: to, standing: make([]Standing, s.Rows), whole: s}
}

// Stands notes how the needles stand in section row r: at an edge of a row of the shape.
func (s *Placed) Stands(p *piece.Piece, r int, row *piece.ShapeRow) {
	st := Standing{Moves: &still}
	main, second := row.All(), machine.Set{}
	if !s.Second.Empty() || !s.Section.Out.Empty() || s.Section.Rib[0] > 0 {
		main, second = p.BedsOn(s.Section, main)
	}
	st.Hold = row.Hold.And(main)
	st.Work = main.Minus(row.Hold)
	if len(row.Edges) > 0 || !row.Wrap.Empty() || !second.Empty() {
		st.Moves = s.moves(p, row, second)
	}
	s.standing[r-1] = st
	if w := s.whole; w != nil { // both parts side by side
		to := &w.standing[r-1]
		to.Work, to.Hold = to.Work.Or(st.Work), to.Hold.Or(st.Hold)
		switch {
		case to.Moves == nil || to.Moves == &still:
			to.Moves = st.Moves
		case st.Moves != &still:
			a, b := to.Moves, st.Moves
			to.Moves = &Moves{a.Second.Or(b.Second), a.Behind.Or(b.Behind), a.Touched.Or(b.Touched),
				a.Fresh.Or(b.Fresh), a.Wrap.Or(b.Wrap),
				append(a.Edges[:len(a.Edges):len(a.Edges)], b.Edges...), 0}
		}
	}
}

func (s *Placed) moves(p *piece.Piece, row *piece.ShapeRow, second machine.Set) *Moves {
	m := &Moves{Second: second, Wrap: row.Wrap, Edges: row.Edges}
	if !row.Hold.Empty() {
		_, at := p.BedsOn(s.Section, row.Work)
		m.Second, m.Behind = at, second.Minus(at)
	}
	for i := range row.Edges {
		e := &row.Edges[i]
		m.Touched = m.Touched.Or(e.Touched)
		switch {
		case e.Step.Release:
			m.Touched = m.Touched.Or(e.Needles)
		case e.Step.Stitches > 0:
			m.Fresh = m.Fresh.Or(e.Needles)
		}
	}
	return m
}

// StartsOn says on which side a row has to start for what is done before it, or left to the next.
func (s *Placed) StartsOn(r int, side machine.Side) {
	moves := *s.standing[r-1].Moves
	moves.Starts = side
	s.standing[r-1].Moves = &moves
}

// TouchedToo says that the fingers have had more needles in hand before a row.
func (s *Placed) TouchedToo(r int, more machine.Set) {
	if st := &s.standing[r-1]; !more.Empty() {
		moves := *st.Moves
		moves.Touched = moves.Touched.Or(more)
		st.Moves = &moves
	}
}

// MakesLace lays the marks of lace on the rows of a shaped section, once it is known how their needles
// stand: groups that the moving edge cuts knit plain there (rules 5.11).
func (s *Placed) MakesLace() (found []finding.Finding) {
	grids := make([]chart.Grid, len(s.Section.Areas))
	for k := range grids {
		grids[k] = Lie(&s.Section.Areas[k])
	}
	found = s.lace(grids)
	if w := s.whole; w != nil {
		w.Stitch, w.Refused, w.padded, w.Cut = s.Stitch, s.Refused, s.padded, w.Cut.Or(s.Cut)
	}
	return found
}
