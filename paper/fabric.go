package paper

import (
	"image/color"
	"strconv"

	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Window is the part of a fabric to draw: wales and courses counted from 0 at the
// bottom left of the face as one looks at it. The zero Window is all of it. Clear: a picture lets through where
// there is no stitch; else it is white there.
type Window struct {
	X, Y, W, H int
	Clear      bool
}

// A stitch is drawn wider than tall, as knitted fabric is.
const (
	stitchW = 4.0
	stitchH = 3.0
)

func colours(p *piece.Piece) []color.RGBA {
	out := []color.RGBA{page}
	for _, y := range p.Yarns {
		out = append(out, Colour(y.Colour))
	}
	return out
}

// Colour reads #rrggbb.
func Colour(s string) color.RGBA {
	if len(s) != 7 {
		return line
	}
	v, _ := strconv.ParseUint(s[1:], 16, 32)
	return color.RGBA{uint8(v >> 16), uint8(v >> 8), uint8(v), 255}
}

// shade moves a colour towards black (below 1) or white (above 1).
func shade(c color.RGBA, by float64) color.RGBA {
	f := func(v uint8) uint8 {
		if by <= 1 {
			return uint8(float64(v) * by)
		}
		return uint8(255 - (255-float64(v))*(2-by))
	}
	return color.RGBA{f(c.R), f(c.G), f(c.B), 255}
}

// drawing is one face of a fabric in a window.
type drawing struct {
	f    *fabric.Fabric
	side chart.Face
	win  Window
}

func newDrawing(f *fabric.Fabric, side chart.Face, win Window) *drawing {
	if win.W == 0 {
		win.W = f.W
	}
	if win.H == 0 {
		win.H = len(f.Courses)
	}
	win.X, win.Y = min(max(win.X, 0), f.W-1), min(max(win.Y, 0), max(len(f.Courses)-1, 0))
	win.W, win.H = min(win.W, f.W-win.X), min(win.H, len(f.Courses)-win.Y)
	return &drawing{f, side, win}
}

func (d *drawing) size() (w, h float64) {
	return stitchW * float64(d.win.W), stitchH * (float64(d.win.H) + 0.6)
}

// place is where needle index i (from the left of the bed) lies on the drawing, in wales.
func (d *drawing) place(i int) int {
	if d.f.Away(d.side) {
		i = d.f.W - 1 - i
	}
	return i - d.win.X
}

// draw lays down the ground, and on it every stitch from where its needle knitted it
// to where the next one is knitted: a slipped or tucked stitch is drawn long.
func (d *drawing) draw(p pen) {
	w, h := d.size()
	d.ground(p, w, h)
	cols := colours(d.f.Plan.Piece)
	under := make([]path, len(cols)) // stitches that a doubled one covers
	shapes, lines, ground := make([]path, len(cols)), make([]path, len(cols)), make([]path, len(cols))
	for i := range d.f.W {
		x := d.place(i)
		if x < 0 || x >= d.win.W {
			continue
		}
		n := d.f.From + machine.Needle(i)
		for s := range d.f.Wale(n, d.win.Y+1, d.win.Y+d.win.H) {
			c, y, tall := s.First-1, s.Yarn, s.Tall()
			if y > 0 {
				bottom := h - stitchH*float64(c-d.win.Y)
				ground[y].rect(stitchW*float64(x)-0.05, bottom-stitchH*(float64(tall)+0.2), stitchW+0.1,
					stitchH*(float64(tall)+0.2))
				left, wide := stitchW*float64(x), stitchW
				if d.tuckedUpon(n, c, tall) { // the loops under it spread the stitch and push its neighbours aside
					left, wide = left-0.16*stitchW, 1.32*stitchW
				}
				foot, below := d.lean(n, c)
				switch {
				case d.f.Courses[c].Shape().Eyelets.Has(n): // drawn in openings
				case (d.side == chart.KnitSide) != d.f.Courses[c].Purled.Has(n):
					for _, b := range below {
						vee(&under[y], left, bottom, float64(tall), wide, b*wide)
					}
					vee(&shapes[y], left, bottom, float64(tall), wide, foot*wide)
				default:
					for _, b := range below {
						lines[y].move(left+0.5*wide, bottom-stitchH*0.75).line(left+(0.5+b)*wide, bottom+stitchH*0.35)
					}
					bump(&shapes[y], &lines[y], left, bottom, float64(tall), wide)
				}
			}
		}
	}
	for y := range shapes {
		if len(ground[y].ops) > 0 {
			p.fill(&ground[y], shade(cols[y], 0.62))
		}
	}
	for y := range shapes {
		if len(under[y].ops) > 0 {
			p.fill(&under[y], shade(cols[y], 0.84))
			p.stroke(&under[y], shade(cols[y], 0.6), 0.12)
		}
		if len(shapes[y].ops) > 0 {
			p.fill(&shapes[y], cols[y])
			p.stroke(&shapes[y], shade(cols[y], 0.72), 0.12)
		}
		if len(lines[y].ops) > 0 {
			p.stroke(&lines[y], shade(cols[y], 0.78), 0.9)
			p.stroke(&lines[y], cols[y], 0.62)
		}
	}
	d.openings(p, cols)
	if d.side == chart.PurlSide {
		d.floats(p, cols)
		d.strands(p, cols)
	}
}

// ground is what lies behind the stitches; where a shape leaves none there is nothing.
func (d *drawing) ground(p pen, w, h float64) {
	if d.f.Plan.Piece.Shape == nil {
		p.fill(new(path).rect(0, 0, w, h), hole)
		return
	}
	holes := new(path)
	for c := d.win.Y; c < d.win.Y+d.win.H; c++ {
		bottom := h - stitchH*float64(c-d.win.Y)
		for a, z := range d.f.Courses[c].AtWork.Runs() {
			x0, x1 := d.place(int(a-d.f.From)), d.place(int(z-d.f.From))
			x0, x1 = max(0, min(x0, x1)), min(d.win.W-1, max(x0, x1))
			if x0 <= x1 {
				holes.rect(stitchW*float64(x0), bottom-stitchH, stitchW*float64(x1-x0+1), stitchH)
			}
		}
	}
	if len(holes.ops) > 0 {
		p.fill(holes, hole)
	}
}

// proportion is a row's height to a stitch's width by the swatch, against that of the drawing; 1 where no swatch
// is known.
func (d *drawing) proportion() float64 {
	g := d.f.Plan.Piece.Gauge
	if g.Stitches == 0 || g.Rows == 0 {
		return 1
	}
	return max(0.4, min(g.Stitches/g.Rows*stitchW/stitchH, 2.5))
}

// tuckedUpon says that the stitch which needle n knits at course c (from 0) holds tuck
// loops before it is cast off.
func (d *drawing) tuckedUpon(n machine.Needle, c, tall int) bool {
	for i := 1; i < tall; i++ {
		if d.f.Courses[c+i].Tucked.Has(n) {
			return true
		}
	}
	return false
}

// strands draws what lies on the purl side besides floats: tuck loops, as short arcs
// that gather the stitch, and the woven yarn, thick, over the stitches it covers.
func (d *drawing) strands(p pen, cols []color.RGBA) {
	_, h := d.size()
	loops, wefts := make([]path, len(cols)), make([]path, len(cols))
	for c := d.win.Y; c < d.win.Y+d.win.H; c++ {
		course := &d.f.Courses[c]
		y := h - stitchH*(float64(c-d.win.Y)+0.5)
		own := d.f.Plan.Section(course.Section).Section.RowYarn(max(course.Row, 1))
		if course.Strand != 0 {
			own = course.Strand
		}
		for n := range course.Tucked.All() {
			if x := float64(d.place(int(n - d.f.From))); x >= 0 && x < float64(d.win.W) {
				loops[own].move(stitchW*(x-0.25), y+0.5).curve(stitchW*(x+0.1), y-1.1, stitchW*(x+0.9), y-1.1,
					stitchW*(x+1.25), y+0.5)
			}
		}
		for a, z := range course.Weft.Runs() {
			x0, x1 := float64(d.place(int(a-d.f.From))), float64(d.place(int(z-d.f.From)))
			wefts[course.WeftYarn].move(stitchW*(x0-0.1), y+0.7).curve(stitchW*(x0+0.2), y-0.3, stitchW*(x1+0.8),
				y-0.3, stitchW*(x1+1.1), y+0.7)
		}
	}
	for y := range cols {
		for _, s := range []struct {
			lines *path
			width float64
		}{{&loops[y], 0.6}, {&wefts[y], 2}} {
			if len(s.lines.ops) > 0 {
				p.stroke(s.lines, shade(cols[y], 0.6), s.width+0.25)
				p.stroke(s.lines, cols[y], s.width)
			}
		}
	}
}

// vee is a knit stitch: two legs that lean together at the bottom, which stands foot to
// the side of the middle.
func vee(p *path, x, bottom, tall, w, foot float64) {
	top, m := bottom-stitchH*tall-stitchH*0.55, x+w/2
	low := bottom
	if foot != 0 {
		leaning(p, m, top, low, w, foot)
		return
	}
	p.move(m-0.05, low).curve(m-0.06*w, low-0.5, x+0.10*w, top+1.2, x+0.06*w, top+0.55).
		curve(x+0.10*w, top+0.05, x+0.30*w, top, x+0.34*w, top+0.5).
		curve(x+0.38*w, top+1.1, m-0.02*w, low-1.1, m-0.05, low).close()
	p.move(m+0.05, low).curve(m+0.06*w, low-0.5, x+0.90*w, top+1.2, x+0.94*w, top+0.55).
		curve(x+0.90*w, top+0.05, x+0.70*w, top, x+0.66*w, top+0.5).
		curve(x+0.62*w, top+1.1, m+0.02*w, low-1.1, m+0.05, low).close()
}

// leaning is a stitch of a decrease: the same two legs, drawn from a foot beside its own wale.
func leaning(p *path, m, top, low, w, foot float64) {
	f := m + foot
	low += 0.35 * stitchH
	for _, leg := range []float64{-1, 1} {
		head := m + leg*0.32*w
		p.move(f, low).curve(f+leg*0.1*w, low-0.3*stitchH, head+leg*0.16*w, top+1.6, head+leg*0.14*w, top+0.6).
			curve(head+leg*0.06*w, top+0.1, head-leg*0.12*w, top+0.1, head-leg*0.14*w, top+0.7).
			curve(head-leg*0.14*w, top+1.6, f-leg*0.02*w, low-0.8, f, low).close()
	}
}

// bump is a purl stitch: an arch at its head, hanging legs below.
func bump(fill, lines *path, x, bottom, tall, w float64) {
	top := bottom - stitchH*tall
	fill.move(x+0.02*w, top+1.5).curve(x+0.05*w, top-0.2, x+0.95*w, top-0.2, x+0.98*w, top+1.5).
		curve(x+0.80*w, top+2.6, x+0.20*w, top+2.6, x+0.02*w, top+1.5).close()
	if tall > 1 {
		lines.move(x+0.3*w, top+1.6).line(x+0.3*w, bottom+0.6)
		lines.move(x+0.7*w, top+1.6).line(x+0.7*w, bottom+0.6)
	}
}

// floats draws the strands that run behind the fabric, in front on the purl side.
func (d *drawing) floats(p pen, cols []color.RGBA) {
	_, h := d.size()
	lines := make([]path, len(cols))
	for i := range d.f.Took {
		pass := &d.f.Plan.Passes[i]
		c := pass.Course - 1 - d.win.Y
		if pass.Course == 0 || c < 0 || c >= d.win.H {
			continue
		}
		for feeder, took := range d.f.Took[i] {
			if took.Empty() || took == pass.Main().AtWork {
				continue
			}
			inner := machine.Range(took.First(), took.Last()).Minus(took)
			for a, b := range inner.Runs() {
				x0, x1 := float64(d.place(int(a-d.f.From))), float64(d.place(int(b-d.f.From)))
				if x1 < -1 || x0 > float64(d.win.W) {
					continue
				}
				y := h - stitchH*(float64(c)+0.55+0.25*float64(feeder))
				lines[pass.Yarn(feeder+1)].move(stitchW*(x0-0.2), y).curve(stitchW*(x0+0.3), y+0.5, stitchW*(x1+0.7),
					y+0.5, stitchW*(x1+1.2), y)
			}
		}
	}
	for y := range lines {
		if len(lines[y].ops) > 0 {
			p.stroke(&lines[y], shade(cols[y], 0.6), 0.62)
			p.stroke(&lines[y], shade(cols[y], 1.06), 0.42)
		}
	}
}

// FabricSVG is a face of the fabric, drawn stitch by stitch.
func FabricSVG(f *fabric.Fabric, side chart.Face, win Window) []byte {
	d := newDrawing(f, side, win)
	w, h := d.size()
	p := newStretchedSVG(w, h, d.proportion())
	d.draw(p)
	return p.bytes()
}
