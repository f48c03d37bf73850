package paper

import (
	"fmt"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// The strip's pieces on a sheet of A4 across, in millimetres.
const (
	stripW, stripH   = 297.0, 210.0
	stripLeft        = 14.0
	stripTall        = 40.0 // from one piece to the next
	stripTop         = 34.0
	stripAPage       = 4
	stripWidest      = stripW - 2*stripLeft
	stripBeyondEnds  = 4 // needles shown beyond the work
	stripEvenNeedles = 5 // a piece holds a multiple of so many
)

// StripPDF is the strip that is laid on the bed below the needles, at their true pitch, in pieces that are cut out and
// joined: labels, the needles at work, the columns of a section's repeat as they are marked (section counts from 1; 0:
// of none), the edges of its areas and the middle. Its lengths are millimetres.
func StripPDF(pl *pass.Plan, section int) ([]byte, error) {
	p := newPDF(stripW, stripH)
	drawStrip(p, p.f.AddPage, pl, section)
	return p.bytes()
}

func drawStrip(p pen, next func(), pl *pass.Plan, section int) {
	m := &pl.Piece.Machine
	low, high := pl.Piece.Ends()
	low, high = max(low-stripBeyondEnds, m.Bed.First()), min(high+stripBeyondEnds, m.Bed.Last())
	each := max(int(stripWidest/m.PitchMM)/stripEvenNeedles, 1) * stripEvenNeedles
	if n := int(high-low) + 1; n > 0 { // pieces of about one length
		pieces := (n + each - 1) / each
		each = min(each, ((n+pieces-1)/pieces+stripEvenNeedles-1)/stripEvenNeedles*stripEvenNeedles)
	}
	heading := func() {
		p.text(stripLeft, 14, 5.4, -1, false, ink, "Strip for the bed: "+pl.Piece.Name)
		said := fmt.Sprintf("Print at full size. %s, needles %g mm apart. Cut along the upper edge; lay it below the "+
			"needles, join A to A.", m.Name, m.PitchMM)
		p.text(stripLeft, 20, 3.4, -1, false, soft, said)
		if section > 0 {
			if stands := beside.Stands(pl, section); stands != "" {
				p.text(stripLeft, 25.2, 3.4, -1, false, ink, "Section "+fmt.Sprint(section)+": "+stands)
			}
		}
		y := stripH - 9.0
		p.stroke(new(path).move(stripLeft, y).line(stripLeft+CheckLine, y), ink, 0.3)
		p.stroke(new(path).move(stripLeft, y-2).line(stripLeft, y+2), ink, 0.3)
		p.stroke(new(path).move(stripLeft+CheckLine, y-2).line(stripLeft+CheckLine, y+2), ink, 0.3)
		p.text(stripLeft+CheckLine+4, y+1, 3, -1, false, ink, "100 mm: measure this line before you cut")
	}
	heading()
	k := 0
	for from := low; from <= high; from += machine.Needle(each) {
		if k > 0 && k%stripAPage == 0 {
			next()
			heading()
		}
		to := min(from+machine.Needle(each)-1, high)
		drawStripPiece(p, pl, section, from, to, stripTop+stripTall*float64(k%stripAPage), k, to < high)
		k++
	}
}

// drawStripPiece draws needles from to to, the k-th piece (from 0), its upper edge at y.
func drawStripPiece(p pen, pl *pass.Plan, section int, from, to machine.Needle, y float64, k int, more bool) {
	pitch := pl.Piece.Machine.PitchMM
	// the middle of a needle's place
	x := func(n machine.Needle) float64 { return stripLeft + (float64(n-from)+0.5)*pitch }
	left, right := x(from)-pitch/2, x(to)+pitch/2
	p.stroke(new(path).rect(left, y, right-left, 30), line, 0.2)
	p.stroke(new(path).move(left, y).line(right, y), ink, 0.4)
	join := func(at float64, mark int) {
		p.text(at, y+29, 3.2, 0, true, ink, string(rune('A'+mark%26)))
	}
	if k > 0 {
		join(left+3, k-1)
	}
	if more {
		join(right-3, k)
	}
	columns := stripColumns(pl, section)
	work := pl.Piece.Ever()
	for n := from; n <= to; n++ {
		long := 3.0
		if num := n.Number(); num%5 == 0 || num == 1 {
			long = 5
			p.text(x(n), y+11.2, 2.7, 0, true, ink, n.String())
		}
		p.stroke(new(path).move(x(n), y).line(x(n), y+long), ink, 0.25)
		p.fill(new(path).circle(x(n), y+6.6, 0.45), ink)
		if work.Has(n) {
			p.fill(new(path).rect(x(n)-pitch/2, y+13, pitch, 1.6), soft)
		}
		if n == -1 && to >= 0 {
			at := x(n) + pitch/2
			p.stroke(new(path).move(at, y).line(at, y+30), ink, 0.5)
			p.text(at+1, y+29, 2.6, -1, false, soft, "middle")
		}
		c := columns(n)
		if c.number == 0 {
			continue
		}
		p.text(x(n), y+20.6, min(3, pitch*0.62), 0, true, ink, fmt.Sprint(c.number))
		if c.number == 1 {
			p.stroke(new(path).move(x(n)-pitch/2, y+16.6).line(x(n)-pitch/2, y+22.4), ink, 0.4)
		}
		if c.first {
			p.stroke(new(path).move(x(n)-pitch/2, y+15.6).line(x(n)-pitch/2, y+25.4), ink, 0.9)
		}
		if c.last {
			p.stroke(new(path).move(x(n)+pitch/2, y+15.6).line(x(n)+pitch/2, y+25.4), ink, 0.9)
		}
	}
}

// stripColumn is what stands below a needle: its column in the repeat that is marked, from 1; first and last of its
// area.
type stripColumn struct {
	number      int
	first, last bool
}

func stripColumns(pl *pass.Plan, section int) func(machine.Needle) stripColumn {
	if section < 1 || section > len(pl.Piece.Sections) {
		return func(machine.Needle) stripColumn { return stripColumn{} }
	}
	s := pl.Section(section)
	return func(n machine.Needle) (c stripColumn) {
		for i := range s.Section.Areas {
			a := &s.Section.Areas[i]
			if n < a.From || n > a.To {
				continue
			}
			first, wide := a.First, s.Wide[i]
			if len(s.Section.Areas) == 1 {
				first, wide = beside.StandsFrom(pl, section)
			}
			c = stripColumn{(int(n-first)%wide+wide)%wide + 1, n == a.From, n == a.To}
		}
		return c
	}
}
