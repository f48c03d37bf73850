package paper

import (
	"image/color"

	"vindel/knit/machine"
)

// hole is the dark behind the fabric, as one sees it through an eyelet.
var hole = color.RGBA{0x2a, 0x2f, 0x2c, 255}

// openings draws lace over the plain stitches: an eyelet as a hole with the yarn-over
// arched above it and its neighbours drawn aside, and under a doubled stitch the one that
// it covers.
func (d *drawing) openings(p pen, cols []color.RGBA) {
	_, h := d.size()
	holes := new(path)
	rims, lights := make([]path, len(cols)), make([]path, len(cols))
	for c := d.win.Y; c < d.win.Y+d.win.H; c++ {
		course := &d.f.Courses[c]
		if course.Shape().Eyelets.Empty() {
			continue
		}
		bottom := h - stitchH*float64(c-d.win.Y)
		for n := range course.Shape().Eyelets.All() {
			i := int(n - d.f.From)
			x := d.place(i)
			if x < 0 || x >= d.win.W {
				continue
			}
			y := d.f.Row(c + 1)[i]
			m, mid := stitchW*(float64(x)+0.5), bottom-0.45*stitchH
			oval(holes, m, mid, 0.40*stitchW, 0.66*stitchH)
			oval(&rims[y], m, mid, 0.43*stitchW, 0.70*stitchH)
			lights[y].move(m-0.46*stitchW, mid-0.2*stitchH).curve(m-0.3*stitchW, mid-0.95*stitchH, m+0.3*stitchW,
				mid-0.95*stitchH, m+0.46*stitchW, mid-0.2*stitchH)
		}
	}
	if len(holes.ops) == 0 {
		return
	}
	p.fill(holes, hole)
	for y := range cols {
		if len(rims[y].ops) > 0 {
			p.stroke(&rims[y], shade(cols[y], 0.7), 0.6)
			p.stroke(&rims[y], shade(cols[y], 0.92), 0.35)
			p.stroke(&lights[y], shade(cols[y], 0.7), 0.75)
			p.stroke(&lights[y], cols[y], 0.55)
		}
	}
}

func oval(p *path, x, y, rx, ry float64) {
	const k = 0.5523
	p.move(x-rx, y).curve(x-rx, y-k*ry, x-k*rx, y-ry, x, y-ry).curve(x+k*rx, y-ry, x+rx, y-k*ry, x+rx, y).
		curve(x+rx, y+k*ry, x+k*rx, y+ry, x, y+ry).curve(x-k*rx, y+ry, x-rx, y+k*ry, x-rx, y).close()
}

// lean is how far, in stitch widths, the foot of the stitch that needle n knits at course
// c stands aside: to the left of its head (negative) where it leans right. below lists
// where the feet of the stitches stand that it covers.
func (d *drawing) lean(n machine.Needle, c int) (foot float64, below []float64) {
	course := &d.f.Courses[c]
	if !course.Shape().Doubled.Has(n) {
		return 0, nil
	}
	turn := 1.0
	if d.f.Away(d.side) {
		turn = -1
	}
	switch {
	case course.Shape().LeanR.Has(n):
		return -0.55 * turn, []float64{0.75 * turn}
	case course.Shape().LeanL.Has(n):
		return 0.55 * turn, []float64{-0.75 * turn}
	}
	return 0, []float64{-0.8, 0.8}
}
