package paper

import (
	"fmt"

	"vindel/knit/card"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/words"
)

// LaceListPDF is what the lace carriage does in a section (from 1), line by line on A4, line 1 first: a box to tick,
// the way, the cells of the line and what it is for, and where to leave it and knit. It errs where no lace carriage
// reads.
func LaceListPDF(pl *pass.Plan, section int) ([]byte, error) {
	reads := card.LaceReads(pl, section)
	if len(reads) == 0 {
		return nil, fmt.Errorf("section %d has no lines of a lace carriage", section)
	}
	p := newPDF(210, 297)
	drawLaceList(p, p.f.AddPage, pl, section, reads)
	return p.bytes()
}

func drawLaceList(p pen, next func(), pl *pass.Plan, section int, reads []card.LaceRead) {
	const left = 46.0
	w := card.MakeProgram(pl, section)
	s := &programSheet{p: p, next: next, title: CardTitle(pl.Piece, section)}
	s.begin()
	s.say(fmt.Sprintf("%s. Lines %s. Line 1 first; the lace carriage goes to the right as it reads line 1.",
		pl.Piece.Machine.Name,
		card.School(&pl.Piece.Machine)))
	if w.Repeats {
		s.say(fmt.Sprintf("Column 1 lies on %v, and again every %d needles.", w.First, w.Bits.W))
	} else {
		s.say(fmt.Sprintf("Column 1 lies on %v.", w.First))
	}
	cell := 0.0
	if w.Bits.W <= widestCells {
		cell = min(4.4, 70/float64(w.Bits.W))
	}
	text := left + cell*float64(w.Bits.W) + 4
	if cell == 0 {
		text = left
	}
	s.y += 2
	for l, r := range reads {
		said := words.Capital(r.Why)
		if cell == 0 {
			said = words.Capital(w.Runs(l+1)) + ". " + said
		}
		if r.Carriage != machine.LaceCarriage {
			said = fmt.Sprintf("The %v carriage reads it. ", r.Carriage) + said
		}
		lines := wrap(said, int((programWide-12-text)/1.9))
		tall := 5*float64(len(lines)) + 2
		if r.Knit > 0 {
			tall += 8
		}
		s.room(tall)
		y := s.y
		p.stroke(new(path).rect(13, y+1, 4.4, 4.4), ink, 0.25)
		p.text(32, y+5.2, 5, 1, true, ink, fmt.Sprint(l+1))
		arrow(p, 39, y+3.3, r.Dir)
		for x, bit := range w.Bits.Row(l) {
			if cell == 0 {
				break
			}
			box := new(path).rect(left+float64(x)*cell, y+1, cell, 4.4)
			if bit == 1 {
				p.fill(box, ink)
			}
			p.stroke(box, line, 0.15)
			if x > 0 && x%10 == 0 {
				p.stroke(new(path).move(left+float64(x)*cell, y+0.4).line(left+float64(x)*cell, y+6), ink, 0.35)
			}
		}
		for i, part := range lines {
			p.text(text, y+5+5*float64(i), 3.7, -1, false, ink, part)
		}
		s.y += 5*float64(len(lines)) + 2
		if r.Knit > 0 { // what the eye looks for
			p.fill(new(path).rect(12, s.y, programWide-24, 7), shade(page, 0.9))
			p.text(left, s.y+5, 4.6, -1, false, ink, fmt.Sprintf("knit %s, %s", words.Count(r.Knit, "row", "rows"),
				pl.Piece.YarnName(r.Yarn)))
			s.y += 8
		}
	}
}

// arrow points the way that a carriage goes.
func arrow(p pen, x, y float64, way machine.Side) {
	out := 2.6
	if way == machine.Left {
		out = -out
	}
	p.stroke(new(path).move(x-out, y).line(x+out, y).move(x+out*0.3, y-1.4).line(x+out, y).line(x+out*0.3, y+1.4),
		ink, 0.45)
}
