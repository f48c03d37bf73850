package paper

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"math"

	"golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
)

// rasterPen draws on pixels, `scale` of them a millimetre.
type rasterPen struct {
	img   *image.RGBA
	scale float64
	down  float64 // how far down the drawing begins, in pixels
}

// thinnest is the width in pixels below which a line is not seen.
const thinnest = 0.22

func newRaster(w, h, scale float64) *rasterPen {
	img := image.NewRGBA(image.Rect(0, 0, max(1, int(math.Ceil(w*scale))), max(1, int(math.Ceil(h*scale)))))
	draw.Draw(img, img.Bounds(), image.NewUniform(page), image.Point{}, draw.Src)
	return &rasterPen{img: img, scale: scale}
}

func (s *rasterPen) png() ([]byte, error) {
	var b bytes.Buffer
	err := png.Encode(&b, s.img)
	return b.Bytes(), err
}

func (s *rasterPen) fill(p *path, c color.RGBA) {
	z := vector.NewRasterizer(s.img.Bounds().Dx(), s.img.Bounds().Dy())
	f := func(v float64) float32 { return float32(v * s.scale) }
	g := func(v float64) float32 { return float32(v*s.scale + s.down) }
	p.each(func(op byte, at []float64) {
		switch op {
		case 'M':
			z.MoveTo(f(at[0]), g(at[1]))
		case 'L':
			z.LineTo(f(at[0]), g(at[1]))
		case 'C':
			z.CubeTo(f(at[0]), g(at[1]), f(at[2]), g(at[3]), f(at[4]), g(at[5]))
		case 'Z':
			z.ClosePath()
		}
	})
	z.Draw(s.img, s.img.Bounds(), image.NewUniform(c), image.Point{})
}

// stroke fills a thin box along every straight piece, all wound the same way so that
// crossings do not cancel.
func (s *rasterPen) stroke(p *path, c color.RGBA, width float64) {
	if width*s.scale < thinnest {
		return
	}
	z := vector.NewRasterizer(s.img.Bounds().Dx(), s.img.Bounds().Dy())
	at := func(x, y float64) (float32, float32) { return float32(x * s.scale), float32(y*s.scale + s.down) }
	pieces := 8 // of a curve
	if s.scale < 3 {
		pieces = 4
	}
	p.flat(pieces, func(x0, y0, x1, y1 float64) {
		d := math.Hypot(x1-x0, y1-y0)
		if d == 0 {
			return
		}
		// The box is lengthened a little so that neighbours join without a gap.
		ex, ey := (x1-x0)/d*width*0.3, (y1-y0)/d*width*0.3
		nx, ny := -(y1-y0)/d*width/2, (x1-x0)/d*width/2
		z.MoveTo(at(x0-ex+nx, y0-ey+ny))
		z.LineTo(at(x1+ex+nx, y1+ey+ny))
		z.LineTo(at(x1+ex-nx, y1+ey-ny))
		z.LineTo(at(x0-ex-nx, y0-ey-ny))
		z.ClosePath()
	})
	z.Draw(s.img, s.img.Bounds(), image.NewUniform(c), image.Point{})
}

func (s *rasterPen) text(x, y, size float64, align int, mono bool, c color.RGBA, t string) {
	ttf := goregular.TTF
	if mono {
		ttf = gomono.TTF
	}
	parsed, err := opentype.Parse(ttf)
	if err != nil {
		panic("paper: a font that ships with Go: " + err.Error())
	}
	face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: size * s.scale, DPI: 72,
		Hinting: font.HintingNone})
	if err != nil {
		panic("paper: a font that ships with Go: " + err.Error())
	}
	d := font.Drawer{Dst: s.img, Src: image.NewUniform(c), Face: face}
	at := fixed.Int26_6((x*s.scale)*64) - d.MeasureString(t)*fixed.Int26_6(align+1)/2
	d.Dot = fixed.Point26_6{X: at, Y: fixed.Int26_6((y*s.scale + s.down) * 64)}
	d.DrawString(t)
}
