package paper

import (
	"fmt"
	"image/color"
	"math"

	"vindel/knit/card"
	"vindel/knit/machine"
)

// Sheet is a size of paper that is at hand; its name is as it is asked for.
type Sheet struct {
	Name, Label   string
	Width, Height float64 // mm
}

// Sheets are the sizes that a card can be printed on.
var Sheets = []Sheet{{"a4", "A4", 210, 297}, {"letter", "Letter", 215.9, 279.4}}

const (
	sheetEdge    = 6.0  // what a printer cannot reach, in mm
	sheetOverlap = 14.0 // that two sheets share, with the marks that are laid on each other
)

// CardSheetsPDF is the card at true scale on as many sheets of a size as it takes; sheets that meet share marks, which
// are laid on each other.
func CardSheetsPDF(c *card.Card, m *machine.Profile, title string, on Sheet) ([]byte, error) {
	s := newCardSheet(c, m, title)
	p := newPDF(on.Width, on.Height)
	tiles(s.w, s.h, on, func(t tile) {
		if t.n > 1 {
			p.f.AddPage()
		}
		p.f.ClipRect(sheetEdge, sheetEdge, t.w, t.h, false)
		s.draw(shifted{p, t.dx, t.dy})
		p.f.ClipEnd()
		t.marks(p)
	})
	return p.bytes()
}

// tile is one of several sheets: by how much the drawing is moved on it, and how large a part of it it shows.
type tile struct {
	n, of, x, y, across, up int
	dx, dy, w, h            float64
}

// tiles calls f for each sheet that a drawing of w × h mm takes, row by row from the top left.
func tiles(w, h float64, on Sheet, f func(tile)) {
	wide, tall := on.Width-2*sheetEdge, on.Height-2*sheetEdge
	count := func(all, one float64) int {
		if all <= one {
			return 1
		}
		return int(math.Ceil((all - sheetOverlap) / (one - sheetOverlap)))
	}
	across, up := count(w, wide), count(h, tall)
	n := 0
	for y := range up {
		for x := range across {
			n++
			f(tile{n, across * up, x, y, across, up, sheetEdge - float64(x)*(wide-sheetOverlap),
				sheetEdge - float64(y)*(tall-sheetOverlap), wide, tall})
		}
	}
}

// marks draws the crosses that a sheet shares with those beside, above and below it, and which sheet it is.
func (t tile) marks(p pen) {
	if t.of == 1 {
		return
	}
	cross := func(x, y float64) {
		p.stroke(new(path).move(x-4, y).line(x+4, y).move(x, y-4).line(x, y+4), ink, 0.25)
		p.stroke(new(path).circle(x, y, 2), ink, 0.25)
	}
	left, right, top, bottom := sheetEdge+sheetOverlap/2, sheetEdge+t.w-sheetOverlap/2, sheetEdge+sheetOverlap/2,
		sheetEdge+t.h-sheetOverlap/2
	if t.y > 0 {
		cross(left, top)
		cross(right, top)
	}
	if t.y < t.up-1 {
		cross(left, bottom)
		cross(right, bottom)
	}
	if t.x > 0 {
		cross(left, top)
		cross(left, bottom)
	}
	if t.x < t.across-1 {
		cross(right, top)
		cross(right, bottom)
	}
	p.text(sheetEdge+t.w/2, sheetEdge+t.h-1, 3, 0, false, soft,
		fmt.Sprintf("sheet %d of %d: lay the crosses on those of the next", t.n, t.of))
}

// shifted is a pen that draws elsewhere.
type shifted struct {
	pen
	dx, dy float64
}

func (s shifted) by(p *path) *path {
	out := &path{ops: p.ops, at: make([]float64, len(p.at))}
	for i, v := range p.at {
		out.at[i] = v + [2]float64{s.dx, s.dy}[i%2]
	}
	return out
}

func (s shifted) fill(p *path, c color.RGBA)                  { s.pen.fill(s.by(p), c) }
func (s shifted) stroke(p *path, c color.RGBA, width float64) { s.pen.stroke(s.by(p), c, width) }
func (s shifted) text(x, y, size float64, align int, mono bool, c color.RGBA, t string) {
	s.pen.text(x+s.dx, y+s.dy, size, align, mono, c, t)
}
