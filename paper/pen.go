package paper

import (
	"image/color"
	"math"
	"strconv"
)

// pen draws on one kind of paper.
type pen interface {
	fill(p *path, c color.RGBA)
	stroke(p *path, c color.RGBA, width float64)
	// text writes s with its baseline at y; align is -1 (x is its left end), 0 (its
	// middle) or 1 (its right end); size is the height of a line.
	text(x, y, size float64, align int, mono bool, c color.RGBA, s string)
}

var (
	ink  = color.RGBA{0x1d, 0x26, 0x24, 255}
	soft = color.RGBA{0x5a, 0x66, 0x63, 255}
	line = color.RGBA{0xb9, 0xb2, 0xa2, 255}
	page = color.RGBA{255, 255, 255, 255}
)

// path is lines and cubic curves; ops are 'M', 'L', 'C' and 'Z' as in SVG.
type path struct {
	ops []byte
	at  []float64
}

func (p *path) move(x, y float64) *path { return p.add('M', x, y) }
func (p *path) line(x, y float64) *path { return p.add('L', x, y) }
func (p *path) curve(a, b, c, d, x, y float64) *path {
	return p.add('C', a, b, c, d, x, y)
}
func (p *path) close() *path { return p.add('Z') }

func (p *path) add(op byte, at ...float64) *path {
	p.ops, p.at = append(p.ops, op), append(p.at, at...)
	return p
}

func (p *path) rect(x, y, w, h float64) *path {
	return p.move(x, y).line(x+w, y).line(x+w, y+h).line(x, y+h).close()
}

// circle is four cubic curves; 0.5523 makes them round to a part in a thousand.
func (p *path) circle(x, y, r float64) *path {
	k := r * 0.5523
	return p.move(x+r, y).curve(x+r, y+k, x+k, y+r, x, y+r).curve(x-k, y+r, x-r, y+k, x-r, y).
		curve(x-r, y-k, x-k, y-r, x, y-r).curve(x+k, y-r, x+r, y-k, x+r, y).close()
}

// each calls f for every step of the path with its coordinates.
func (p *path) each(f func(op byte, at []float64)) {
	rest := p.at
	for _, op := range p.ops {
		n := 0
		switch op {
		case 'M', 'L':
			n = 2
		case 'C':
			n = 6
		}
		f(op, rest[:n])
		rest = rest[n:]
	}
}

// flat calls f for every straight piece of the path, curves cut into so many.
func (p *path) flat(pieces int, f func(x0, y0, x1, y1 float64)) {
	var x, y, sx, sy float64
	p.each(func(op byte, at []float64) {
		switch op {
		case 'M':
			x, y = at[0], at[1]
			sx, sy = x, y
		case 'L':
			f(x, y, at[0], at[1])
			x, y = at[0], at[1]
		case 'C':
			x0, y0 := x, y
			for i := 1; i <= pieces; i++ {
				t := float64(i) / float64(pieces)
				u := 1 - t
				nx := u*u*u*x0 + 3*u*u*t*at[0] + 3*u*t*t*at[2] + t*t*t*at[4]
				ny := u*u*u*y0 + 3*u*u*t*at[1] + 3*u*t*t*at[3] + t*t*t*at[5]
				f(x, y, nx, ny)
				x, y = nx, ny
			}
		case 'Z':
			f(x, y, sx, sy)
			x, y = sx, sy
		}
	})
}

// number writes a length with at most three decimals.
func number(v float64) string {
	return strconv.FormatFloat(math.Round(v*1000)/1000, 'f', -1, 64)
}
