package paper

import (
	"cmp"
	"fmt"

	"vindel/knit/card"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// cardSheet is the size of a card's print and where things stand on it.
type cardSheet struct {
	c          *card.Card
	m          *machine.Profile
	title      string
	left, top  float64 // of the first hole's cell
	w, h       float64
	cellW, row float64
}

// CheckLine is the length in millimetres of the line by which a print is checked.
const CheckLine = 100

func newCardSheet(c *card.Card, m *machine.Profile, title string) *cardSheet {
	s := &cardSheet{c: c, m: m, title: title, left: 24, top: 29, cellW: m.HolePitchMM, row: m.RowPitchMM}
	s.w = max(s.left+s.cellW*float64(c.Holes.W)+64, CheckLine+40)
	s.h = s.top + s.row*float64(c.Holes.H) + 24
	return s
}

func (s *cardSheet) draw(p pen) {
	c := s.c
	p.fill(new(path).rect(0, 0, s.w, s.h), page)
	ends := ", not joined"
	if c.Blank > 0 {
		ends = fmt.Sprintf(" and %d unpunched, not joined", c.Blank)
	}
	if c.Overlap > 0 {
		ends = fmt.Sprintf(" and %d to join", c.Overlap)
	}
	p.text(12, 12, 5, -1, false, ink, s.title)
	p.text(12, 17.5, 3, -1, false, soft,
		fmt.Sprintf("%d columns, %d rows%s; a pattern of %d lines; numbers stand %d rows higher, as the window "+
			"shows them",
			c.Holes.W, c.Rows, ends, c.Lines, s.m.Offset))
	p.text(12, 21.7, 3, -1, false, soft, words.Capital(cmp.Or(c.Reading, schoolWords(c.School))))
	right := s.left + s.cellW*float64(c.Holes.W)
	bottom := s.top + s.row*float64(c.Holes.H)
	p.stroke(new(path).rect(s.left-8, s.top-2, right-s.left+16, bottom-s.top+4), ink, 0.3)
	holes, grid := new(path), new(path)
	for y := range c.Holes.H {
		cy := bottom - s.row*(float64(y)+0.5)
		for x, hole := range c.Holes.Row(y) {
			cx := s.left + s.cellW*(float64(x)+0.5)
			if hole == 1 {
				holes.circle(cx, cy, s.m.HoleMM/2)
			} else {
				grid.circle(cx, cy, 0.25)
			}
		}
		if n := c.Numbers[y]; n > 0 {
			p.text(s.left-9.5, cy+1.1, 3, 1, true, ink, fmt.Sprint(n))
		}
		if t := c.Marks[y]; t != "" {
			p.stroke(new(path).move(right+8, cy).line(right+11, cy), ink, 0.4)
			p.text(right+12, cy+1.1, 2.9, -1, false, ink, t)
		}
	}
	p.fill(grid, line)
	p.fill(holes, ink)
	if c.Overlap > 0 { // one that is set back has no seam
		join := bottom - s.row*float64(c.Rows)
		p.stroke(new(path).move(s.left-8, join).line(right+8, join), soft, 0.25)
		p.text(right+12, join-s.row*0.7, 2.6, -1, false, soft, "joins over rows 1 and 2")
	}
	p.text(s.left, bottom+7, 2.6, -1, false, soft, "↑ column 1 selects "+s.m.CardOrigin.String())
	y := bottom + 14
	p.stroke(new(path).move(s.left, y).line(s.left+CheckLine, y), ink, 0.3)
	p.stroke(new(path).move(s.left, y-2).line(s.left, y+2), ink, 0.3)
	p.stroke(new(path).move(s.left+CheckLine, y-2).line(s.left+CheckLine, y+2), ink, 0.3)
	p.text(s.left+CheckLine/2, y+4.5, 2.8, 0, false, ink, "100 mm: measure this line before you punch")
}

func schoolWords(s machine.School) string {
	switch s {
	case machine.Preselect:
		return "for a machine that selects a row ahead"
	case machine.Direct:
		return "for a machine that selects as it knits"
	}
	return "for a reader that gives every line two passes"
}

// CardSVG is the card at true scale: its lengths are millimetres.
func CardSVG(c *card.Card, m *machine.Profile, title string) []byte {
	s := newCardSheet(c, m, title)
	p := newSVG(s.w, s.h)
	s.draw(p)
	return p.bytes()
}

// CardPDF is the card at true scale on one page of its own size.
func CardPDF(c *card.Card, m *machine.Profile, title string) ([]byte, error) {
	s := newCardSheet(c, m, title)
	p := newPDF(s.w, s.h)
	s.draw(p)
	return p.bytes()
}

// CardPNG is the card as a picture of 6 pixels a millimetre.
func CardPNG(c *card.Card, m *machine.Profile, title string) ([]byte, error) {
	s := newCardSheet(c, m, title)
	p := newRaster(s.w, s.h, 6)
	s.draw(p)
	return p.png()
}

// CardTitle is the heading of a section's card; section counts from 0.
func CardTitle(p *piece.Piece, section int) string {
	return fmt.Sprintf("%s: section %d, %s", p.Name, section, p.Section(section).Title())
}
