package paper

import (
	"bytes"
	"image/color"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/goregular"
)

// pdfPen draws on the pages of a PDF.
type pdfPen struct {
	f      *fpdf.Fpdf
	titled bool
}

const titleSize = 4.4 // mm: the first line that is as large is what the sheet is called

// label is a word over a column, whose middle is at x.
type label struct {
	x    float64
	text string
}

func newPDF(w, h float64) *pdfPen {
	f := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: w, Ht: h}})
	f.SetMargins(0, 0, 0)
	f.SetAutoPageBreak(false, 0)
	f.SetCatalogSort(true)
	f.AddUTF8FontFromBytes("sans", "", bytes.Clone(goregular.TTF)) // the package writes into what it is given
	f.AddUTF8FontFromBytes("mono", "", bytes.Clone(gomono.TTF))
	f.AddPage()
	return &pdfPen{f: f}
}

func (s *pdfPen) bytes() ([]byte, error) {
	var b bytes.Buffer
	err := s.f.Output(&b)
	return b.Bytes(), err
}

func (s *pdfPen) draw(p *path, style string) {
	p.each(func(op byte, at []float64) {
		switch op {
		case 'M':
			s.f.MoveTo(at[0], at[1])
		case 'L':
			s.f.LineTo(at[0], at[1])
		case 'C':
			s.f.CurveBezierCubicTo(at[0], at[1], at[2], at[3], at[4], at[5])
		case 'Z':
			s.f.ClosePath()
		}
	})
	s.f.DrawPath(style)
}

func (s *pdfPen) fill(p *path, c color.RGBA) {
	s.f.SetFillColor(int(c.R), int(c.G), int(c.B))
	s.draw(p, "F")
}

func (s *pdfPen) stroke(p *path, c color.RGBA, width float64) {
	s.f.SetDrawColor(int(c.R), int(c.G), int(c.B))
	s.f.SetLineWidth(width)
	s.draw(p, "D")
}

func (s *pdfPen) text(x, y, size float64, align int, mono bool, c color.RGBA, t string) {
	if !s.titled && size >= titleSize && !mono {
		s.titled = true
		s.f.SetTitle(t, true)
	}
	family := "sans"
	if mono {
		family = "mono"
	}
	s.f.SetFont(family, "", 0)
	s.f.SetFontUnitSize(size)
	s.f.SetTextColor(int(c.R), int(c.G), int(c.B))
	s.f.Text(x-s.f.GetStringWidth(t)*float64(align+1)/2, y, t)
}
