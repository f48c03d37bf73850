package paper

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"

	"golang.org/x/image/draw"

	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/machine"
)

// Bounds on a picture of a fabric: a very long piece is drawn smaller.
const (
	mostPixels = 12e6
	mostTall   = 30000 // pixels; browsers show no taller picture

	smallest = 3 // pixels a stitch wide below which a stitch is a spot of colour

	bandCourses = 200 // drawn at a time: the shapes of a whole fabric are gigabytes
	bandOver    = 12  // and so many more on each side, since stitches reach over each other
)

// FabricPNG is a face of the fabric as a picture, px pixels a stitch wide, or less where
// that would be too many pixels. It is drawn band by band, and ends where the context does.
func FabricPNG(ctx context.Context, f *fabric.Fabric, side chart.Face, win Window, px float64) ([]byte, error) {
	d := newDrawing(f, side, win)
	w, h := d.size()
	scale := min(px/stitchW, math.Sqrt(mostPixels/(w*h*d.proportion())), mostTall/(h*d.proportion()))
	if scale*stitchW >= smallest { // whole pixels a course, so that courses that are alike look alike
		scale = max(2, math.Floor(scale*stitchH+1e-6)) / stitchH
	}
	img := image.NewRGBA(image.Rect(0, 0, max(1, int(math.Ceil(w*scale))), max(1, int(math.Ceil(h*scale)))))
	bands := d.bands
	if scale*stitchW < smallest {
		bands = d.spots
	}
	if err := bands(ctx, img, scale); err != nil {
		return nil, err
	}
	if by := d.proportion(); math.Abs(by-1) > 0.02 {
		tall := image.NewRGBA(image.Rect(0, 0, img.Bounds().Dx(), max(1, int(float64(img.Bounds().Dy())*by))))
		draw.ApproxBiLinear.Scale(tall, tall.Bounds(), img, img.Bounds(), draw.Src, nil)
		img = tall
	}
	var b bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img)
	return b.Bytes(), err
}

// bands draws the stitches of so many courses after so many, each with those around it, and keeps
// of each band what lies within its own courses. A course that looks like one drawn before, with all
// those around it, is not drawn again but copied.
func (d *drawing) bands(ctx context.Context, img *image.RGBA, scale float64) error {
	_, h := d.size()
	top := func(course int) int { // the pixel row at which a course of the window ends
		if course >= d.win.H {
			return 0
		}
		return min(int(math.Round(scale*(h-stitchH*float64(course)))), img.Bounds().Dy())
	}
	like := d.alike()
	for from := 0; from < d.win.H; {
		if like[from] >= 0 {
			from++
			continue
		}
		to := from + 1 // with what is alike between, as long as that is not more than is drawn around a band
		for last := to; last < d.win.H && last-from < bandCourses && last-to < 2*bandOver; last++ {
			if like[last] < 0 {
				to = last + 1
			}
		}
		if err := ctx.Err(); err != nil {
			return err
		}
		low, high := max(from-bandOver, 0), min(to+bandOver, d.win.H)
		band := &drawing{d.f, d.side, Window{d.win.X, d.win.Y + low, d.win.W, high - low, d.win.Clear}}
		_, tall := band.size()
		above := scale * (h - tall - stitchH*float64(low)) // pixels over the band's own drawing
		whole := math.Floor(above)
		pen := newRaster(float64(img.Bounds().Dx())/scale, tall+1/scale, scale)
		if pen.down = above - whole; d.win.Clear {
			clear(pen.img.Pix)
		}
		band.draw(pen)
		keep := image.Rect(0, top(to), img.Bounds().Dx(), top(from))
		if from == 0 {
			keep.Max.Y = img.Bounds().Dy()
		}
		draw.Draw(img, keep, pen.img, image.Pt(0, keep.Min.Y-int(whole)), draw.Src)
		from = to
	}
	for c, as := range like {
		if as >= 0 {
			draw.Draw(img, image.Rect(0, top(c+1), img.Bounds().Dx(), top(c)), img, image.Pt(0, top(as+1)), draw.Src)
		}
	}
	return nil
}

// alike is, by course of the window, an earlier one that looks the same with all those around it that
// reach over it; -1 where there is none. The first and last courses are their own.
func (d *drawing) alike() []int {
	n := d.win.H
	looks, known := make([]int, n), map[string]int{}
	var took map[int][]fabric.Took // by course
	if d.side == chart.PurlSide {
		took = map[int][]fabric.Took{}
		for i := range d.f.Took {
			if c := d.f.Plan.Passes[i].Course; c > 0 && d.f.Took[i] != (fabric.Took{}) {
				took[c-1] = append(took[c-1], d.f.Took[i])
			}
		}
	}
	var key []byte
	for c := range n {
		key = d.f.Courses[d.win.Y+c].Look(append(key[:0], d.f.Row(d.win.Y+c+1)...))
		for _, t := range took[d.win.Y+c] {
			key = fmt.Append(key, t)
		}
		no, ok := known[string(key)]
		if !ok {
			no = len(known)
			known[string(key)] = no
		}
		looks[c] = no
	}
	like, seen := make([]int, n), map[string]int{}
	for c := range n {
		like[c] = -1
		if c < bandOver || c+bandOver >= n {
			continue
		}
		key = key[:0]
		for _, no := range looks[c-bandOver : c+bandOver+1] {
			key = append(key, byte(no), byte(no>>8), byte(no>>16))
		}
		if first, ok := seen[string(key)]; ok {
			like[c] = first
		} else {
			seen[string(key)] = c
		}
	}
	return like
}

// spots draws each pixel in the mean colour of the stitches that lie under it.
func (d *drawing) spots(ctx context.Context, img *image.RGBA, _ float64) error {
	cols := colours(d.f.Plan.Piece)
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	sums, stitches := make([][4]int, w), make([]bool, d.win.W)
	for y := range h {
		if err := ctx.Err(); err != nil {
			return err
		}
		clear(sums)
		clear(stitches)
		first, last := (h-1-y)*d.win.H/h, ((h-y)*d.win.H-1)/h
		for c := first; c <= max(first, last); c++ {
			course, row := &d.f.Courses[d.win.Y+c], d.f.Row(d.win.Y+c+1)
			for i, yarn := range row {
				x := d.place(i)
				if x < 0 || x >= d.win.W || yarn == 0 && d.win.Clear {
					continue
				}
				n := d.f.From + machine.Needle(i)
				col := cols[yarn]
				switch {
				case course.Shape().Eyelets.Has(n):
					col = hole
				case d.side == chart.PurlSide && course.WeftYarn != 0 && course.Weft.Has(n):
					col = cols[course.WeftYarn]
				}
				stitches[x] = true
				s := &sums[x*w/d.win.W]
				s[0], s[1], s[2], s[3] = s[0]+int(col.R), s[1]+int(col.G), s[2]+int(col.B), s[3]+1
			}
		}
		for x := range w {
			s := sums[x]
			if n := s[3]; n > 0 {
				img.SetRGBA(x, y, color.RGBA{uint8(s[0] / n), uint8(s[1] / n), uint8(s[2] / n), 255})
			} else if x > 0 && stitches[x*d.win.W/w] {
				img.SetRGBA(x, y, img.RGBAAt(x-1, y)) // a stitch is wider than a pixel here
			}
		}
	}
	return nil
}
