package paper

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/piece"
)

// chartSheet is a chart on paper in the proportion of its stitches: row numbers on the
// right as it is knitted, column numbers below, and what its colours and marks mean.
type chartSheet struct {
	p      *piece.Piece
	c      *piece.Chart
	title  string
	outlin map[[2]int]bool // cells to outline: column and row from 1
	rows   [2]int          // the first and the last that are drawn, from 1
	w, h   float64         // of a cell, mm
	marks  bool            // yarns have their marks in the cells, for paper without colour
}

const chartLeft, chartTop = 10.0, 18.0

func newChartSheet(p *piece.Piece, c *piece.Chart, title string, rows [2]int, differ [][2]int) *chartSheet {
	s := &chartSheet{p: p, c: c, title: title, outlin: map[[2]int]bool{}, rows: rows}
	for _, at := range differ {
		if at[1] >= rows[0] && at[1] <= rows[1] {
			s.outlin[at] = true
		}
	}
	s.h = min(4, 600/float64(max(s.tall(), 1)), 600*p.RowMM()/p.StitchMM()/float64(max(c.W, 1)))
	s.w = s.h * p.StitchMM() / p.RowMM()
	return s
}

// tall is how many rows are drawn.
func (s *chartSheet) tall() int { return s.rows[1] - s.rows[0] + 1 }

func (s *chartSheet) size() (w, h float64) {
	return max(chartLeft*2+s.w*float64(s.c.W)+12, 100),
		chartTop + s.h*float64(s.tall()) + 14 + 6*float64(len(s.p.Palette(s.c)))
}

func (s *chartSheet) draw(p pen) {
	w, h := s.size()
	p.fill(new(path).rect(0, 0, w, h), page)
	p.text(chartLeft, 9, 5, -1, false, ink, s.title)
	p.text(chartLeft, 14, 3, -1, false, soft,
		fmt.Sprintf("%d stitches × %d rows, seen on the %v side", s.c.W, s.c.H, s.c.Face))
	shows := s.p.Marks(s.c)
	bottom := chartTop + s.h*float64(s.tall())
	fills := map[rune]*path{}
	marks, light := new(path), new(path)
	for y := range s.tall() {
		row, top, run := s.c.Row(s.rows[0]-1+y), bottom-s.h*float64(y+1), 0
		for x, k := range row {
			r := s.c.Keys[k]
			if fills[r] == nil {
				fills[r] = new(path)
			}
			left := chartLeft + s.w*float64(x)
			if run++; x+1 == len(row) || row[x+1] != k {
				fills[r].rect(chartLeft+s.w*float64(x+1-run), top, s.w*float64(run), s.h)
				run = 0
			}
			pen := marks
			if piece.Dark(Colour(shows[r].Colour)) {
				pen = light
			}
			pen.sign(shows[r].Stitch, left, top, s.w, s.h)
			if s.marks {
				pen.draw(s.yarnSign(shows[r]), left, top, s.w, s.h)
			}
		}
	}
	for _, k := range s.c.Keys {
		if fills[k] != nil {
			p.fill(fills[k], Colour(shows[k].Colour))
		}
	}
	grid, strong := new(path), new(path)
	for x := range s.c.W + 1 {
		g := grid
		if x%5 == 0 || x == s.c.W {
			g = strong
		}
		g.move(chartLeft+s.w*float64(x), chartTop).line(chartLeft+s.w*float64(x), bottom)
		if x > 0 && (x%5 == 0 || x == 1) && s.w > 1.2 {
			p.text(chartLeft+s.w*(float64(x)-0.5), bottom+4, 2.6, 0, true, soft, fmt.Sprint(x))
		}
	}
	for y := range s.tall() + 1 {
		g, no := grid, s.rows[0]-1+y
		if no%5 == 0 || y == 0 || y == s.tall() {
			g = strong
		}
		g.move(chartLeft, bottom-s.h*float64(y)).line(chartLeft+s.w*float64(s.c.W), bottom-s.h*float64(y))
		if y > 0 && (no%5 == 0 || y == 1) && s.h > 1.2 {
			p.text(chartLeft+s.w*float64(s.c.W)+2, bottom-s.h*(float64(y)-0.5)+1, 2.6, -1, true, soft, fmt.Sprint(no))
		}
	}
	p.stroke(grid, line, 0.1)
	p.stroke(strong, soft, 0.2)
	p.stroke(marks, ink, min(0.4, s.h/9))
	p.stroke(light, page, min(0.4, s.h/9))
	differ := new(path)
	for at := range s.outlin {
		differ.rect(chartLeft+s.w*float64(at[0]-1), bottom-s.h*float64(at[1]-s.rows[0]+1), s.w, s.h)
	}
	if len(s.outlin) > 0 {
		p.stroke(differ, page, min(1.2, s.h/3))
		p.stroke(differ, Colour("#a8432a"), min(0.7, s.h/5))
	}
	for i, m := range s.p.Palette(s.c) {
		y := bottom + 10 + 6*float64(i)
		p.fill(new(path).rect(chartLeft, y, 6, 4.5), Colour(m.Colour))
		p.stroke(new(path).rect(chartLeft, y, 6, 4.5), soft, 0.15)
		mark := new(path)
		mark.sign(m.Stitch, chartLeft, y, 6, 4.5)
		if s.marks {
			mark.draw(s.yarnSign(m), chartLeft, y, 6, 4.5)
		}
		col := ink
		if piece.Dark(Colour(m.Colour)) {
			col = page
		}
		p.stroke(mark, col, 0.4)
		p.text(chartLeft+9, y+3.6, 3.4, -1, false, ink, fmt.Sprintf("%c  %s", m.Char, m.Name))
	}
}

// ChartSVG is a chart on paper.
func ChartSVG(p *piece.Piece, c *piece.Chart, title string) []byte {
	return ChartPartSVG(p, c, title, [2]int{1, c.H}, nil)
}

// ChartPartSVG is rows of a chart on paper, from the first to the last; cells that differ
// (column and row from 1) are outlined.
func ChartPartSVG(p *piece.Piece, c *piece.Chart, title string, rows [2]int, differ [][2]int) []byte {
	s := newChartSheet(p, c, title, rows, differ)
	pen := newSVG(s.size())
	s.draw(pen)
	return pen.bytes()
}

// yarnSign is the mark of the yarn in a cell; none where it shows a stitch.
func (s *chartSheet) yarnSign(m piece.Mark) Sign {
	for i, y := range s.p.Yarns {
		if y.ID == m.Yarn && m.Stitch == chart.Knit {
			return YarnSigns[i%len(YarnSigns)]
		}
	}
	return Sign{}
}

// ChartPDF is the same as a PDF, with a mark in each cell by which yarns are told apart without colour.
func ChartPDF(p *piece.Piece, c *piece.Chart, title string) ([]byte, error) {
	s := newChartSheet(p, c, title, [2]int{1, c.H}, nil)
	s.marks = len(p.Yarns) > 1
	pen := newPDF(s.size())
	s.draw(pen)
	return pen.bytes()
}

// mostPlaced bounds the rows of a picture of a section.
const mostPlaced = 600

// PlacedPNG is a section as it lies on the bed, one pixel a stitch, row 1 at the bottom,
// as the knitter faces it; stitches that are not plain knit are darker, so that they show.
func PlacedPNG(p *piece.Piece, s *bed.Placed) ([]byte, error) {
	h := min(s.Rows, mostPlaced)
	img := image.NewPaletted(image.Rect(0, 0, s.W, h), nil)
	for _, y := range p.Yarns {
		img.Palette = append(img.Palette, Colour(y.Colour), shade(Colour(y.Colour), 0.55))
	}
	for r := 1; r <= h; r++ {
		stitches := s.StitchRow(r)
		own := s.Section.RowYarn(r)
		for x, y := range s.YarnRow(r) {
			if y == 0 {
				y = own
			}
			at := 2 * (y - 1)
			if stitches != nil && stitches[x] != chart.Knit {
				at++
			}
			img.SetColorIndex(x, h-r, at)
		}
	}
	var b bytes.Buffer
	err := png.Encode(&b, img)
	return b.Bytes(), err
}

// CoursesPNG is the courses of a section (from 1) as they were knitted, one pixel a stitch, the first
// at the bottom, as the knitter faces them: for sections whose rows no chart has.
func CoursesPNG(f *fabric.Fabric, section int) ([]byte, error) {
	var rows []int
	for i := range f.Courses {
		if f.Courses[i].Section == section && len(rows) < mostPlaced {
			rows = append(rows, i+1)
		}
	}
	img := image.NewPaletted(image.Rect(0, 0, f.W, max(len(rows), 1)), color.Palette{color.Transparent})
	for _, y := range f.Plan.Piece.Yarns {
		img.Palette = append(img.Palette, Colour(y.Colour))
	}
	for i, r := range rows {
		for x, y := range f.Row(r) {
			img.SetColorIndex(x, len(rows)-1-i, y)
		}
	}
	var b bytes.Buffer
	err := png.Encode(&b, img)
	return b.Bytes(), err
}
