package sketch

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	_ "image/gif"  // pictures may be GIF,
	_ "image/jpeg" // JPEG,
	"slices"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // or WebP

	"vindel/knit/chart"
)

// PictureSize is the size in pixels of a PNG, JPEG or GIF picture, told without
// decoding it. A picture beyond the bounds of package chart is an error.
func PictureSize(data []byte) (w, h int, err error) {
	if len(data) > chart.MaxPictureBytes {
		return 0, 0, fmt.Errorf("%d bytes: a picture has at most %d", len(data), chart.MaxPictureBytes)
	}
	conf, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return 0, 0, fmt.Errorf("not a PNG, JPEG, GIF or WebP picture: %w", err)
	}
	if conf.Width < 1 || conf.Height < 1 || conf.Width*conf.Height > chart.MaxPicturePixels {
		return 0, 0, fmt.Errorf("%d × %d pixels: a picture has at most %d in all", conf.Width, conf.Height,
			chart.MaxPicturePixels)
	}
	return conf.Width, conf.Height, nil
}

// Enlarged is the chart that a PNG shows where it is an exact enlargement of one pixel a stitch, and by how much: every
// border between colours lies on a multiple of it. nil: it is none, or by so little that it may be a chart itself.
func Enlarged(data []byte) (small image.Image, times int) {
	if w, h, err := PictureSize(data); err != nil || w*h > mostEnlarged {
		return nil, 0
	}
	src, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, 0
	}
	b := src.Bounds()
	gcd := func(a, b int) int {
		for b > 0 {
			a, b = b, a%b
		}
		return a
	}
	times = gcd(b.Dx(), b.Dy())
	for y := 0; y < b.Dy() && times >= leastEnlarged; y++ {
		for x := 0; x < b.Dx(); x++ {
			at := src.At(b.Min.X+x, b.Min.Y+y)
			if x%times != 0 && at != src.At(b.Min.X+x-1, b.Min.Y+y) {
				times = gcd(times, x)
			}
			if y%times != 0 && at != src.At(b.Min.X+x, b.Min.Y+y-1) {
				times = gcd(times, y)
			}
		}
	}
	if times < leastEnlarged || times == b.Dx() || times == b.Dy() {
		return nil, 0
	}
	to := image.NewNRGBA(image.Rect(0, 0, b.Dx()/times, b.Dy()/times))
	for y := range to.Rect.Dy() {
		for x := range to.Rect.Dx() {
			to.Set(x, y, src.At(b.Min.X+x*times, b.Min.Y+y*times))
		}
	}
	return to, times
}

// leastEnlarged is how many pixels a stitch are no accident: few charts are of nothing but blocks so large.
const leastEnlarged = 6

// mostEnlarged bounds the pixels that are looked at one by one.
const mostEnlarged = 4 << 20

// Sampling is how a picture becomes a chart: W stitches wide, in so many yarns.
// RowsPerStitch is how many rows are as tall as one stitch is wide, so that the motif keeps
// its shape in the fabric; 0 or 1 gives square cells. Crop is the part of the picture to
// take, in hundredths of its width and height from the top left; none: all of it. Dither
// mixes two yarns for the colours between them. MostInRow, if not 0, mends rows that have
// more colours than that.
type Sampling struct {
	W, Yarns      int
	RowsPerStitch float64
	Crop          image.Rectangle
	Dither        bool
	MostInRow     int
}

// finer is how many pixels across a stitch are looked at, at most.
const finer = 8

// FromPicture samples a picture. The commonest colour comes first: it is the ground. It ends
// where the context does.
func FromPicture(ctx context.Context, data []byte, o Sampling) (*chart.Chart, []color.RGBA, error) {
	pw, ph, err := PictureSize(data)
	if err != nil {
		return nil, nil, err
	}
	part := image.Rect(0, 0, pw, ph)
	if !o.Crop.Empty() {
		part = image.Rect(o.Crop.Min.X*pw/100, o.Crop.Min.Y*ph/100, o.Crop.Max.X*pw/100,
			o.Crop.Max.Y*ph/100).Intersect(part)
		if part.Empty() {
			return nil, nil, fmt.Errorf("%v: nothing of the picture lies there", o.Crop)
		}
	}
	if o.RowsPerStitch <= 0 {
		o.RowsPerStitch = 1
	}
	h := max(1, int(float64(o.W)*float64(part.Dy())/float64(part.Dx())*o.RowsPerStitch+0.5))
	switch {
	case o.W < 1 || o.W > chart.MaxWidth || h > chart.MaxHeight || o.W*h > chart.MaxCells:
		return nil, nil, fmt.Errorf("%d stitches by %d rows: a chart has at most %d by %d", o.W, h, chart.MaxWidth,
			chart.MaxHeight)
	case o.Yarns < 1 || o.Yarns > 12:
		return nil, nil, fmt.Errorf("%d yarns: choose 1 to 12", o.Yarns)
	}
	if err := ctx.Err(); err != nil {
		return nil, nil, err
	}
	src, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, nil, fmt.Errorf("the picture cannot be read: %w", err)
	}
	part = part.Add(src.Bounds().Min)
	if w, tall := min(part.Dx(), finer*o.W), min(part.Dy(), finer*h); w < part.Dx() || tall < part.Dy() {
		some := image.NewNRGBA(image.Rect(0, 0, w, tall)) // of very many pixels: the rest of them tells no more
		draw.ApproxBiLinear.Scale(some, some.Bounds(), src, part, draw.Src, nil)
		src, part = some, some.Bounds()
	}
	if err := ctx.Err(); err != nil {
		return nil, nil, err
	}
	small := image.NewNRGBA(image.Rect(0, 0, o.W, h))
	draw.Draw(small, small.Bounds(), image.White, image.Point{}, draw.Src)
	draw.CatmullRom.Scale(small, small.Bounds(), src, part, draw.Over, nil)
	palette := kMeans(small, o.Yarns)
	out := image.NewPaletted(small.Bounds(), palette)
	if o.Dither {
		draw.FloydSteinberg.Draw(out, out.Bounds(), small, image.Point{})
	} else {
		draw.Draw(out, out.Bounds(), small, image.Point{}, draw.Src)
	}
	c, cols, err := chart.FromImage(flatten(out), nil)
	if err == nil && o.MostInRow > 0 {
		mendRows(c, cols, o.MostInRow)
	}
	return c, cols, err
}

// mendRows leaves at most so many colours in any row. The colour whose stitches change
// least goes first, into the nearest that stays.
func mendRows(c *chart.Chart, colours []color.RGBA, most int) {
	apart := func(a, b color.RGBA) int {
		r, g, b2 := int(a.R)-int(b.R), int(a.G)-int(b.G), int(a.B)-int(b.B)
		return r*r + g*g + b2*b2
	}
	for y := range c.H {
		row := c.Row(y)
		var count [256]int
		var used []uint8
		for _, k := range row {
			if count[k]++; count[k] == 1 {
				used = append(used, k)
			}
		}
		for len(used) > most { // the colour that is missed least goes
			drop, least := 0, -1
			for i, k := range used {
				near := -1
				for j, other := range used {
					if d := apart(colours[k], colours[other]); j != i && (near < 0 || d < near) {
						near = d
					}
				}
				if cost := near * count[k]; least < 0 || cost < least {
					drop, least = i, cost
				}
			}
			gone := used[drop]
			used = slices.Delete(used, drop, drop+1)
			to := used[0]
			for _, k := range used {
				if apart(colours[k], colours[gone]) < apart(colours[to], colours[gone]) {
					to = k
				}
			}
			for x, k := range row {
				if k == gone {
					row[x] = to
				}
			}
			count[to] += count[gone]
		}
	}
}

// flatten lets chart.FromImage sort the colours, the commonest first: it is the ground.
func flatten(p *image.Paletted) image.Image {
	n := image.NewNRGBA(p.Bounds())
	draw.Draw(n, n.Bounds(), p, image.Point{}, draw.Src)
	return n
}

// kMeans finds k colours that stand for a picture's. It starts from colours far
// apart, so that a small bright motif on a large ground gets one of its own.
func kMeans(img *image.NRGBA, k int) color.Palette {
	type rgb [3]float64
	pixels := make([]rgb, 0, len(img.Pix)/4)
	for i := 0; i < len(img.Pix); i += 4 {
		pixels = append(pixels, rgb{float64(img.Pix[i]), float64(img.Pix[i+1]), float64(img.Pix[i+2])})
	}
	far := func(a, b rgb) float64 {
		return (a[0]-b[0])*(a[0]-b[0]) + (a[1]-b[1])*(a[1]-b[1]) + (a[2]-b[2])*(a[2]-b[2])
	}
	nearest := func(p rgb, centres []rgb) (int, float64) {
		best, d := 0, far(p, centres[0])
		for i, c := range centres[1:] {
			if e := far(p, c); e < d {
				best, d = i+1, e
			}
		}
		return best, d
	}
	centres := []rgb{pixels[0]}
	for len(centres) < k {
		best, most := pixels[0], 0.0
		for _, p := range pixels {
			if _, d := nearest(p, centres); d > most {
				best, most = p, d
			}
		}
		if most == 0 {
			break // the picture has no more colours
		}
		centres = append(centres, best)
	}
	for range 12 {
		sum, n := make([]rgb, len(centres)), make([]float64, len(centres))
		for _, p := range pixels {
			i, _ := nearest(p, centres)
			for c := range p {
				sum[i][c] += p[c]
			}
			n[i]++
		}
		before := slices.Clone(centres)
		for i := range centres {
			if n[i] > 0 {
				centres[i] = rgb{sum[i][0] / n[i], sum[i][1] / n[i], sum[i][2] / n[i]}
			}
		}
		if slices.Equal(before, centres) {
			break
		}
	}
	var palette color.Palette
	for _, c := range centres {
		palette = append(palette, color.RGBA{uint8(c[0] + 0.5), uint8(c[1] + 0.5), uint8(c[2] + 0.5), 255})
	}
	return palette
}
