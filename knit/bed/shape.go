package bed

import (
	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Standing is how the needles of a shaped piece stand in one row of a section: those at work and those that
// wait in hold, of either bed, and what is done before the row.
type Standing struct {
	Work, Hold     machine.Set
	Second, Behind machine.Set // of the second bed: at work, and in hold
	Touched        machine.Set // needles that the fingers have in hand before the row
	Fresh          machine.Set // and that come into work
	Wrap           machine.Set
	Edges          []piece.Edge
}

// at_ is how the needles stand in a row; of a row that is not planned yet, as in the first.
func (s *Placed) at_(r int) *Standing {
	if r < 1 || r > len(s.standing) {
		r = max(1, min(r, len(s.standing)))
	}
	if st := &s.standing[r-1]; !st.Work.Empty() {
		return st
	}
	return &Standing{Work: s.work, Second: s.Second}
}

// Shaped is how the needles stand in section row r (from 1), nil where the piece has no shape.
func (s *Placed) Shaped(r int) *Standing {
	if s.standing == nil {
		return nil
	}
	return s.at_(r)
}

// Stood is how the needles stand in a row, nil where it is not known; of no section, nil.
func (s *Placed) Stood(r int) *Standing {
	if s == nil || r < 1 || r > len(s.standing) || s.standing[r-1].Work.Empty() {
		return nil
	}
	return &s.standing[r-1]
}

// Held is the needles that wait in hold in section row r (from 1).
func (s *Placed) Held(r int) machine.Set {
	if s.standing == nil {
		return machine.Set{}
	}
	return s.at_(r).Hold
}

// Behind is the needles of the second bed at work in section row r, and those that wait there in hold.
func (s *Placed) Behind(r int) (work, hold machine.Set) {
	if s.standing == nil {
		return s.Second, machine.Set{}
	}
	st := s.at_(r)
	return st.Second, st.Behind
}

// Divided says that section row r (from 1) is knitted in two parts.
func (s *Placed) Divided(r int) bool { return s.Part != piece.Whole }

// As is the section as a part of the piece would count its passes.
func (s *Placed) As(part piece.Part) *Placed {
	if part == s.Part {
		return s
	}
	return s.Seen(part, 1, s.Rows)
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
		if st := &s.standing[i]; len(st.Edges) > 0 || !st.Hold.Empty() {
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
	v := s.Seen(part, from, to)
	v.whole = s
	return v
}

// Seen is View of which the section takes no notice.
func (s *Placed) Seen(part piece.Part, from, to int) *Placed {
	return &Placed{Section: s.Section, No: s.No, From: s.From, W: s.W, Rows: s.Rows, Height: s.Height, Whole: s.Whole, Cycle: s.Cycle,
		Yarn: s.Yarn, Stitch: s.Stitch, Covered: s.Covered, Wide: s.Wide, Second: s.Second, work: s.work, Refused: s.Refused, drawn: s.drawn,
		padded: s.padded, Part: part, FromRow: from, ToRow: to, standing: make([]Standing, s.Rows), Starts: true}
}

// Stands notes how the needles stand in section row r: at an edge of a row of the shape.
func (s *Placed) Stands(p *piece.Piece, r int, row *piece.ShapeRow) {
	st := Standing{Wrap: row.Wrap, Edges: row.Edges}
	main, second := p.BedsOn(s.Section, row.All())
	st.Hold = row.Hold.And(main)
	st.Work = main.Minus(row.Hold)
	st.Second = second
	if !row.Hold.Empty() {
		_, at := p.BedsOn(s.Section, row.Work)
		st.Second, st.Behind = at, second.Minus(at)
	}
	for i := range row.Edges {
		e := &row.Edges[i]
		st.Touched = st.Touched.Or(e.Touched)
		switch {
		case e.Step.Release:
			st.Touched = st.Touched.Or(e.Needles)
		case e.Step.Stitches > 0:
			st.Fresh = st.Fresh.Or(e.Needles)
		}
	}
	s.standing[r-1] = st
	if w := s.whole; w != nil { // both parts side by side
		to := &w.standing[r-1]
		to.Work, to.Hold = to.Work.Or(st.Work), to.Hold.Or(st.Hold)
		to.Second, to.Behind = to.Second.Or(st.Second), to.Behind.Or(st.Behind)
		to.Touched, to.Fresh, to.Wrap = to.Touched.Or(st.Touched), to.Fresh.Or(st.Fresh), to.Wrap.Or(st.Wrap)
		to.Edges = append(to.Edges[:len(to.Edges):len(to.Edges)], st.Edges...)
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
