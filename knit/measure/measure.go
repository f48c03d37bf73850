package measure

import (
	"math"

	"vindel/knit/bed"
	"vindel/knit/beside"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// Measure is a piece in figures. What begins and ends it is left out of size and yarn.
type Measure struct {
	WidthMM, HeightMM float64 // of the widest section; of all courses
	Stitches          int     // needles in work in its widest row
	Rows              int     // of the charts, over all sections
	Courses           int     // of the fabric
	Yarns             []Yarn  // those that are knitted with, in the order of the piece
	Passes            int
	Minutes           int    // passes and hand work, at the pace that is shipped
	Basis             string // what the width goes by: swatch, gauge (written by hand) or assumed
}

// Yarn is what is taken of a yarn. Grams are unknown where some section has no swatch that was weighed; metres and
// balls besides where the ball is not known.
type Yarn struct {
	No           piece.YarnNo
	Stitches     int // needles that take it, pass by pass, of both beds
	Grams        float64
	Weighed      bool
	Metres       float64
	Balls, Short int
	Out          RunOut // where the balls in hand are used up; the zero RunOut where they are not, or not known
}

// RunOut is where a yarn runs out: the pass, from 1, its section and row, and the last whole repeat before it
// with how many there are; 0: none.
type RunOut struct{ Pass, Section, Row, Repeat, Of int }

// SwatchOf is the swatch that a section goes by: its own, else the piece's.
func SwatchOf(p *piece.Piece, s *piece.Section) *piece.Swatch {
	if s.Swatch.Known() {
		return &s.Swatch
	}
	return &p.Swatch
}

// StitchMM is how wide a stitch of a section is and how tall a row, in millimetres, and what the width goes by.
func StitchMM(p *piece.Piece, s *piece.Section) (stitch, row float64, basis string) {
	stitch, row, basis = p.StitchMM(), p.RowMM(), "assumed"
	if p.Gauge.Stitches > 0 {
		basis = "gauge"
	}
	g := SwatchOf(p, s).Gauge()
	if g.Stitches > 0 {
		stitch, basis = 100/g.Stitches, "swatch"
		if g.Rows == 0 && p.Gauge.Rows == 0 {
			row = stitch * p.RowMM() / p.StitchMM()
		}
	}
	if g.Rows > 0 {
		row = 100 / g.Rows
	}
	return stitch, row, basis
}

// Of measures a plan, as far as it is planned.
func Of(pl *pass.Plan) *Measure {
	p := pl.Piece
	m := &Measure{Passes: pl.Totals.Passes, Basis: "assumed"}
	_, m.Minutes = beside.Minutes(pl)
	for i := range p.Sections {
		s := &p.Sections[i]
		rows := p.RowsOf(s)
		m.Rows += rows
		stitch, row, basis := StitchMM(p, s)
		if n := widest(pl, i); float64(n)*stitch > m.WidthMM {
			m.WidthMM, m.Stitches, m.Basis = float64(n)*stitch, n, basis
		}
		sw := SwatchOf(p, s)
		if rounds := beside.Rounds(pl, i+1); s.Technique.OwnRows && sw.Rounds > 0 && sw.HeightMM > 0 && rounds > 0 {
			m.HeightMM += sw.HeightMM * float64(rounds) / sw.Rounds
			continue
		}
		courses := rows * technique.Of(s).CoursesOf(&p.Machine, s)
		m.Courses += courses
		m.HeightMM += float64(courses) * row
	}
	m.yarns(pl)
	return m
}

// widest is how many needles are in work, those in hold among them, in the widest row of section i (from 0).
func widest(pl *pass.Plan, i int) (n int) {
	if i >= len(pl.Placed) {
		return pl.Piece.Work().Len()
	}
	parts := [3]*bed.Placed{pl.Placed[i]}
	if pl.Parts != nil && i < len(pl.Parts) {
		parts = pl.Parts[i]
	}
	for r := 1; r <= pl.Placed[i].Rows; r++ {
		in := 0
		for _, s := range parts {
			if s == nil {
				continue
			}
			st := s.Stood(r)
			if st == nil && pl.Parts != nil && s.Section.Technique.OwnRows {
				st = s.Stood(1) // its width is one
			}
			if st != nil {
				in += st.Work.Or(st.Hold).Len()
			} else if pl.Parts == nil {
				in += s.InWork(r).Len()
			}
		}
		n = max(n, in)
	}
	return n
}

// yarns adds up what each yarn is taken for, section by section.
func (m *Measure) yarns(pl *pass.Plan) {
	p := pl.Piece
	use := make([]Yarn, len(p.Yarns))
	for i := range use {
		use[i] = Yarn{No: piece.YarnNo(i + 1), Weighed: true}
	}
	each := make([]float64, len(p.Sections)+1) // grams a stitch, by section
	recipes := make([]bool, len(p.Sections)+1)
	for i := range p.Sections {
		s := &p.Sections[i]
		grams, round := SwatchOf(p, s).StitchGrams()
		if recipes[i+1] = s.Technique.OwnRows; !round {
			each[i+1] = grams
		}
	}
	reach := make([]reached, len(p.Yarns))
	for i := range reach {
		y := &p.Yarns[i]
		reach[i].left = math.Inf(1)
		if y.Have >= 0 && y.Ball.Grams > 0 {
			reach[i].left = float64(y.Have) * y.Ball.Grams / (1 + p.Options.Margin)
		}
	}
	for i := range pl.Passes {
		q := &pl.Passes[i]
		if q.Section == 0 {
			continue
		}
		beside.Taken(&p.Machine, q, func(y piece.YarnNo, n int) {
			u := &use[y-1]
			u.Stitches += n
			if recipes[q.Section] {
				return
			}
			grams := float64(n) * each[q.Section]
			u.Grams += grams
			u.Weighed = u.Weighed && each[q.Section] > 0
			reach[y-1].take(pl, i, grams)
		})
	}
	for no := range recipes {
		if !recipes[no] {
			continue
		}
		for _, r := range beside.RecipeYarn(pl, no) {
			u := &use[r.Yarn-1]
			grams := r.Grams
			if grams == 0 {
				grams = r.Loops * each[no]
			}
			u.Grams += grams
			u.Weighed = u.Weighed && grams > 0
		}
	}
	for i, u := range use {
		if u.Stitches == 0 {
			continue
		}
		y := &p.Yarns[i]
		if u.Weighed && y.Ball.Grams > 0 {
			u.Metres = u.Grams * y.Ball.Metres / y.Ball.Grams
			u.Balls = int(math.Ceil(u.Grams*(1+p.Options.Margin)/y.Ball.Grams - 1e-9))
			if y.Have >= 0 {
				u.Short = max(0, u.Balls-y.Have)
			}
			if at := reach[i].at; u.Short > 0 && at.Pass > 0 {
				u.Out = at
			}
		}
		m.Yarns = append(m.Yarns, u)
	}
}

// reached follows a yarn until what is in hand is used up.
type reached struct {
	left float64
	at   RunOut
}

func (r *reached) take(pl *pass.Plan, i int, grams float64) {
	if r.at.Pass > 0 {
		return
	}
	if r.left -= grams; r.left >= -1e-9 {
		return
	}
	p := &pl.Passes[i]
	r.at = RunOut{Pass: p.N, Section: p.Section, Row: p.Row()}
	if n, of := beside.Repeat(pl, i); n > 0 {
		r.at.Repeat, r.at.Of = n-1, of
	}
}
