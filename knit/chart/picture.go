package chart

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	_ "image/gif"  // pictures may be GIF,
	_ "image/jpeg" // or JPEG
	"slices"

	"golang.org/x/image/draw"
)

// PictureSize is the size in pixels of a PNG, JPEG or GIF picture, told without
// decoding it. A picture beyond the bounds of this package is an error.
func PictureSize(data []byte) (w, h int, err error) {
	if len(data) > MaxPictureBytes {
		return 0, 0, fmt.Errorf("%d bytes: a picture has at most %d", len(data), MaxPictureBytes)
	}
	conf, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return 0, 0, fmt.Errorf("not a PNG, JPEG or GIF picture: %w", err)
	}
	if conf.Width < 1 || conf.Height < 1 || conf.Width*conf.Height > MaxPicturePixels {
		return 0, 0, fmt.Errorf("%d × %d pixels: a picture has at most %d in all", conf.Width, conf.Height, MaxPicturePixels)
	}
	return conf.Width, conf.Height, nil
}

// FromPicture samples a picture to w stitches and the given number of yarns.
// rowsPerStitch is how many rows are as tall as one stitch is wide, so that the
// motif keeps its shape in the fabric; 1 gives square cells.
func FromPicture(data []byte, w, yarns int, rowsPerStitch float64) (*Chart, []color.RGBA, error) {
	pw, ph, err := PictureSize(data)
	if err != nil {
		return nil, nil, err
	}
	h := max(1, int(float64(w)*float64(ph)/float64(pw)*rowsPerStitch+0.5))
	switch {
	case w < 1 || w > MaxWidth || h > MaxHeight || w*h > MaxCells:
		return nil, nil, fmt.Errorf("%d stitches by %d rows: a chart has at most %d by %d", w, h, MaxWidth, MaxHeight)
	case yarns < 1 || yarns > 12:
		return nil, nil, fmt.Errorf("%d yarns: choose 1 to 12", yarns)
	}
	src, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, nil, fmt.Errorf("the picture cannot be read: %w", err)
	}
	small := image.NewNRGBA(image.Rect(0, 0, w, h))
	draw.Draw(small, small.Bounds(), image.White, image.Point{}, draw.Src)
	draw.CatmullRom.Scale(small, small.Bounds(), src, src.Bounds(), draw.Over, nil)
	palette := kMeans(small, yarns)
	out := image.NewPaletted(small.Bounds(), palette)
	draw.Draw(out, out.Bounds(), small, image.Point{}, draw.Src)
	c, cols, err := fromImage(flatten(out), nil)
	return c, cols, err
}

// flatten lets fromImage sort the colours, the commonest first: it is the ground.
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
