package outline

import (
	"fmt"
	"math"

	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/knit/words"
)

// Outline is the shape of a piece. Rows count from 1 over all sections.
type Outline struct {
	Low, High machine.Needle // the ends of all needles that ever work
	Rows      int
	StitchMM  float64
	Spans     []Span    // row by row, of a divided piece the first part's and then the second's
	Up        []float64 // millimetres up to the top of each row; Up[0] is 0
	Edges     []Edge
	Parts     [3]bool // which parts there are
}

// Span is a row's needles, from the first to the last, those that wait in hold among them.
type Span struct {
	Row      int
	Part     piece.Part
	From, To machine.Needle
	Waits    machine.Set
	Moves    *bed.Moves // what is done before the row; nil: nothing
}

// Edge is one edge of the piece.
type Edge struct {
	Name     string // left, right, cast-on, top, middle
	Act      string // by which it came about, where it lies across: bound off, cast on, in hold
	Part     piece.Part
	Side     machine.Side // 0: bottom or top
	Rows     [2]int       // that it runs along; the same twice: it lies across
	Stitches int          // that it moves by, or has
	MM       float64
	Steps    string // as knitters say them: "every 6 rows 4 times"; "": it is straight
}

// Of is the outline of a planned piece, as far as it is planned.
func Of(pl *pass.Plan) *Outline {
	p := pl.Piece
	o := &Outline{StitchMM: p.StitchMM(), Up: []float64{0}}
	o.Low, o.High = p.Ends()
	for i := range pl.Placed {
		s := pl.Placed[i]
		tall := float64(technique.Of(s.Section).CoursesOf(&p.Machine, s.Section)) * p.RowMM()
		for range p.RowsOf(s.Section) {
			o.Up = append(o.Up, o.Up[o.Rows]+tall)
			o.Rows++
		}
	}
	for part := piece.Whole; part <= piece.SecondPart; part++ {
		row := 0
		for i := range pl.Placed {
			s := pl.Placed[i]
			rows := p.RowsOf(s.Section)
			if pl.Parts != nil {
				s = pl.Parts[i][part]
			} else if part != piece.Whole {
				break
			}
			for r := 1; r <= rows; r++ {
				row++
				if s == nil {
					continue
				}
				span := Span{Row: row, Part: part}
				all := s.InWork(1)
				if st := s.Stood(r); st != nil {
					all, span.Waits, span.Moves = st.Work.Or(st.Hold), st.Hold, st.Moves
				} else if pl.Parts != nil {
					if s.Section.Technique.OwnRows {
						if st := s.Stood(1); st != nil {
							all = st.Work
						}
					} else {
						continue
					}
				}
				if all.Empty() {
					continue
				}
				span.From, span.To = all.First(), all.Last()
				o.Spans, o.Parts[part] = append(o.Spans, span), true
			}
		}
	}
	o.edges(p)
	return o
}

// At is a row's span in a part; false where it has none.
func (o *Outline) At(row int, part piece.Part) (Span, bool) {
	for _, s := range o.Spans {
		if s.Row == row && s.Part == part {
			return s, true
		}
	}
	return Span{}, false
}

// of is the spans of a part.
func (o *Outline) of(part piece.Part) (list []Span) {
	for _, s := range o.Spans {
		if s.Part == part {
			list = append(list, s)
		}
	}
	return list
}

// edges finds the edges of every part, bottom to top.
func (o *Outline) edges(p *piece.Piece) {
	work := p.Work()
	if len(o.Spans) == 0 || work.Empty() {
		return
	}
	o.add(Edge{Name: "cast-on", Stitches: work.Len(), MM: float64(work.Len()) * o.StitchMM})
	for part := piece.Whole; part <= piece.SecondPart; part++ {
		list := o.of(part)
		if len(list) == 0 {
			continue
		}
		below := [2]machine.Needle{p.From, p.To}
		if part != piece.Whole {
			below = [2]machine.Needle{list[0].From, list[0].To}
		}
		for side := machine.Left; side <= machine.Right; side++ {
			o.along(list, part, side, below[side-machine.Left])
		}
		last := list[len(list)-1]
		if part != piece.Whole || !o.Parts[piece.FirstPart] {
			n := int(last.To-last.From) + 1
			o.add(Edge{Name: "top", Part: part, Rows: [2]int{last.Row, last.Row}, Stitches: n,
				MM: float64(n) * o.StitchMM})
		}
	}
	if sp := p.Shape; sp != nil && sp.Split != nil && o.Parts[piece.SecondPart] {
		if n := int(sp.Split.Right-sp.Split.Left) - 1; n > 0 {
			o.add(Edge{Name: "middle", Act: "bound off", Rows: [2]int{o.of(piece.FirstPart)[0].Row,
				o.of(piece.FirstPart)[0].Row}, Stitches: n, MM: float64(n) * o.StitchMM})
		}
	}
}

func (o *Outline) add(e Edge) { o.Edges = append(o.Edges, e) }

// along finds the edges of one side: single steps of one entry are a slope, several stitches at once lie across.
func (o *Outline) along(list []Span, part piece.Part, side machine.Side, at machine.Needle) {
	from, start := list[0].Row-1, at // where the edge at hand begins
	end := func(row int, at machine.Needle, steps []int) {
		if row <= from && at == start {
			return
		}
		n := int(at - start)
		if side == machine.Left {
			n = -n
		}
		across, up := float64(n)*o.StitchMM, o.Up[row]-o.Up[from]
		e := Edge{Name: side.String(), Part: part, Side: side, Rows: [2]int{from + 1, row}, Stitches: n,
			MM: math.Hypot(across, up)}
		if len(steps) > 0 {
			e.Steps = piece.ShapeWords(from, steps)
		}
		o.add(e)
		from, start = row, at
	}
	var rule *piece.ShapeStep // of the slope at hand
	var steps []int
	for _, s := range list {
		if s.Moves != nil {
			for i := range s.Moves.Edges {
				e := &s.Moves.Edges[i]
				if e.Step.Side != side {
					continue
				}
				if rule != nil && e.Step.At != rule.At {
					end(s.Row-1, at, steps)
					rule, steps = nil, nil
				}
				n := machine.Needle(e.Step.Stitches)
				if side == machine.Left {
					n = -n
				}
				switch {
				case e.Step.Spread && !e.Step.Hold:
					if rule == nil {
						end(max(e.Step.Rows[0]-1, from), at, nil)
						rule = e.Step
					}
					at += n
					if steps = append(steps, s.Row); s.Row == e.Step.Rows[1] {
						end(s.Row, at, steps)
						rule, steps = nil, nil
					}
				case e.Step.Release:
				default:
					end(s.Row-1, at, nil)
					act := "bound off"
					switch {
					case e.Step.Hold:
						act = "in hold"
					case e.Step.Stitches > 0:
						act = "cast on"
					}
					k := e.Needles.Len()
					o.add(Edge{Name: side.String(), Act: act, Part: part, Side: side, Rows: [2]int{s.Row, s.Row},
						Stitches: k, MM: float64(k) * o.StitchMM})
					from, start = s.Row-1, at
				}
			}
		}
	}
	end(list[len(list)-1].Row, at, steps)
}

// String is the edge in words: "left, rows 1 to 48: 152 mm, 9 stitches out, every 6 rows 4 times".
func (e Edge) String() string {
	of := ""
	if e.Part != piece.Whole {
		of = " of the " + e.Part.String() + " part"
	}
	name := words.Capital(e.Name) + of
	if e.Act != "" {
		name += ", " + e.Act
	}
	rows := fmt.Sprintf("rows %d to %d", e.Rows[0], e.Rows[1])
	if e.Rows[0] == e.Rows[1] {
		rows = fmt.Sprintf("row %d", e.Rows[0])
	}
	switch {
	case e.Name == "cast-on":
		return fmt.Sprintf("%s: %s, %.0f mm", name, words.Stitches(e.Stitches), e.MM)
	case e.Side == 0 || e.Act != "":
		return fmt.Sprintf("%s, %s: %s, %.0f mm", name, rows, words.Stitches(e.Stitches), e.MM)
	}
	said := fmt.Sprintf("%s, %s: %.0f mm", name, rows, e.MM)
	switch {
	case e.Stitches > 0:
		said += fmt.Sprintf(", %s out", words.Stitches(e.Stitches))
	case e.Stitches < 0:
		said += fmt.Sprintf(", %s in", words.Stitches(-e.Stitches))
	}
	if e.Steps != "" {
		said += ", " + e.Steps
	}
	return said
}

// Polygon is the corners of a part in millimetres, across from the leftmost needle and up from the cast-on: up
// its right edge and down its left. to is the last row of it, 0 for all.
func (o *Outline) Polygon(part piece.Part, to int) (points [][2]float64) {
	list := o.of(part)
	if to > 0 {
		for len(list) > 0 && list[len(list)-1].Row > to {
			list = list[:len(list)-1]
		}
	}
	if len(list) == 0 {
		return nil
	}
	x := func(n machine.Needle) float64 { return float64(n-o.Low) * o.StitchMM }
	corner := func(x, y float64) {
		if n := len(points); n > 1 && points[n-1][0] == x && points[n-2][0] == x {
			points[n-1][1] = y
			return
		}
		points = append(points, [2]float64{x, y})
	}
	for _, s := range list {
		corner(x(s.To+1), o.Up[s.Row-1])
		corner(x(s.To+1), o.Up[s.Row])
	}
	for i := len(list) - 1; i >= 0; i-- {
		corner(x(list[i].From), o.Up[list[i].Row])
		corner(x(list[i].From), o.Up[list[i].Row-1])
	}
	return points
}

// Size is the outline's width and height in millimetres.
func (o *Outline) Size() (wide, tall float64) {
	return float64(o.High-o.Low+1) * o.StitchMM, o.Up[o.Rows]
}
