// Package scan reads a punch card from a picture: from one whose cells lie evenly, or from a flat photograph, in which
// the grid is found by its own regularity (rules 6, Punch card).
package scan

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	_ "image/gif" // pictures that are read
	_ "image/jpeg"
	_ "image/png"
	"math"
	"slices"

	"golang.org/x/image/draw"

	"vindel/knit/chart"
	"vindel/knit/sketch"
)

// Options say what is known of the card. Crop is in hundredths of the picture, none: all of it.
type Options struct {
	Columns int
	Rows    int     // 0: as many as have holes
	Hole    float64 // a hole's width as a share of the distance from column to column; 0: not known
	Ratio   float64 // the distance from row to row as a share of that from column to column; 0: not known
	Crop    image.Rectangle
	Even    bool // the cells fill the picture evenly, Columns × Rows: no grid is looked for
}

// Card is what was read: 1 for a hole, row 1 at the bottom, column 1 at the left; Sure is by cell from 0, no telling,
// to 1, as plain as the holes are on average.
type Card struct {
	Holes chart.Grid
	Sure  []float64
	Tilt  float64 // of the card in the picture, degrees clockwise
}

// Doubtful is below which certainty a cell is to be looked at.
const Doubtful = 0.5

const mostPixels = 1600 // of the longer side, to which a picture is made smaller

// Read reads a card from a PNG, JPEG or GIF picture. It errs where no grid of holes is found.
func Read(ctx context.Context, data []byte, o Options) (*Card, error) {
	if o.Columns < 2 || o.Columns > chart.MaxWidth || o.Rows < 0 || o.Rows > chart.MaxHeight || o.Even && o.Rows == 0 {
		return nil, fmt.Errorf("%d columns, %d rows: a card has 2 to %d columns", o.Columns, o.Rows, chart.MaxWidth)
	}
	w, h, err := sketch.PictureSize(data)
	if err != nil {
		return nil, err
	}
	src, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("the picture cannot be read: %w", err)
	}
	part := image.Rect(0, 0, w, h)
	if !o.Crop.Empty() {
		part = image.Rect(o.Crop.Min.X*w/100, o.Crop.Min.Y*h/100, o.Crop.Max.X*w/100,
			o.Crop.Max.Y*h/100).Intersect(part)
	}
	if part.Dx() < 8 || part.Dy() < 2 {
		return nil, errors.New("nothing of the picture is left to read")
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	p := greyOf(src, part.Add(src.Bounds().Min))
	if o.Even {
		return p.even(o), nil
	}
	var best *lattice
	for _, dark := range []bool{true, false} {
		if l := p.lattice(dark, o); l != nil && (best == nil || l.found() > best.found()) {
			best = l
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
	}
	if best == nil {
		return nil, errors.New("no grid of holes is found: photograph the card flat and from straight above, over a " +
			"ground that is darker or lighter, and leave little beside it")
	}
	return best.read(o), nil
}

// grey is a picture's brightness, 0 to 1.
type grey struct {
	w, h int
	at   []float64
}

func greyOf(src image.Image, part image.Rectangle) *grey {
	w, h := part.Dx(), part.Dy()
	if most := max(w, h); most > mostPixels {
		w, h = max(1, w*mostPixels/most), max(1, h*mostPixels/most)
	}
	small := image.NewGray(image.Rect(0, 0, w, h))
	draw.ApproxBiLinear.Scale(small, small.Bounds(), src, part, draw.Src, nil)
	p := &grey{w, h, make([]float64, w*h)}
	for i, v := range small.Pix {
		p.at[i] = float64(v) / 255
	}
	return p
}

// mean is a table by which the mean of any rectangle is known at once.
func (p *grey) mean() func(x0, y0, x1, y1 int) float64 {
	sum := make([]float64, (p.w+1)*(p.h+1))
	for y := range p.h {
		row := 0.0
		for x := range p.w {
			row += p.at[y*p.w+x]
			sum[(y+1)*(p.w+1)+x+1] = sum[y*(p.w+1)+x+1] + row
		}
	}
	return func(x0, y0, x1, y1 int) float64 {
		x0, y0, x1, y1 = max(x0, 0), max(y0, 0), min(x1, p.w), min(y1, p.h)
		if x1 <= x0 || y1 <= y0 {
			return 0
		}
		at := func(x, y int) float64 { return sum[y*(p.w+1)+x] }
		return (at(x1, y1) - at(x0, y1) - at(x1, y0) + at(x0, y0)) / float64((x1-x0)*(y1-y0))
	}
}

// even reads cells that fill the picture: filled are the darker ones.
func (p *grey) even(o Options) *Card {
	mean := p.mean()
	scores := make([]float64, o.Columns*o.Rows)
	for y := range o.Rows {
		for x := range o.Columns {
			at := func(i, n, size int, off float64) int { return int((float64(i) + off) * float64(size) / float64(n)) }
			top := o.Rows - 1 - y
			scores[y*o.Columns+x] = -mean(at(x, o.Columns, p.w, 0.3), at(top, o.Rows, p.h, 0.3), at(x, o.Columns,
				p.w, 0.7)+1, at(top, o.Rows, p.h, 0.7)+1)
		}
	}
	return judge(scores, o.Columns, o.Rows)
}

// judge parts cells by a score that is high where there is a hole.
func judge(scores []float64, w, h int) *Card {
	c := &Card{Holes: chart.NewMat[uint8](w, h), Sure: make([]float64, len(scores))}
	limit, low, high := otsu(scores)
	half := (high - low) / 2
	for i, s := range scores {
		if s > limit {
			c.Holes.Cells[i] = 1
		}
		if half > 0 {
			to := (high + low) / 2 // half-way, as a cell that is neither
			c.Sure[i] = min(1, math.Abs(s-to)/half)
		}
	}
	return c
}

// otsu is the value that parts numbers best into two kinds, and the mean of either.
func otsu(values []float64) (limit, low, high float64) {
	list := slices.Sorted(slices.Values(values))
	total := 0.0
	for _, v := range list {
		total += v
	}
	best, below, n := -1.0, 0.0, float64(len(list))
	for i, v := range list[:len(list)-1] {
		below += v
		k := float64(i + 1)
		a, b := below/k, (total-below)/(n-k)
		if between := k * (n - k) * (b - a) * (b - a); between > best {
			best, limit, low, high = between, (v+list[i+1])/2, a, b
		}
	}
	return limit, low, high
}
