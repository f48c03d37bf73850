package paper

import (
	"fmt"

	"vindel/knit/piece"
)

// Grid is chart paper: cells in the proportion of the stitches of a piece's swatch, or gauge, or needles; empty, or
// with a chart of the piece.
type Grid struct {
	Chart *piece.Chart // nil: empty
	Scale float64      // cells to stitches: 1 as large as they are; 0: 1, or 2 where rows would be narrower than 2.5 mm
}

const (
	gridLeft   = 16.0 // of the cells: row numbers stand before them
	gridRight  = 44.0 // kept free beside them for yarn changes and carriage marks
	gridTop    = 24.0
	gridBottom = 16.0
)

// GridPDF is chart paper on sheets of a size, as many as a chart takes, the lowest rows of its left side first. Beside
// the rows are two columns to write in: where the carriage starts, and what changes.
func GridPDF(p *piece.Piece, g Grid, on Sheet) ([]byte, error) {
	pen := newPDF(on.Width, on.Height)
	drawGrid(pen, pen.f.AddPage, p, g, on)
	return pen.bytes()
}

// cell is a cell's width and height in mm.
func (g *Grid) cell(p *piece.Piece) (w, h, scale float64) {
	if scale = g.Scale; scale <= 0 {
		if scale = 1; p.RowMM() < 2.5 {
			scale = 2
		}
	}
	return p.StitchMM() * scale, p.RowMM() * scale, scale
}

func drawGrid(pen pen, next func(), p *piece.Piece, g Grid, on Sheet) {
	w, h, scale := g.cell(p)
	across, up := int((on.Width-gridLeft-gridRight)/w), int((on.Height-gridTop-gridBottom)/h)
	across, up = max(across, 1), max(up, 1)
	cols, rows := across, up
	if g.Chart != nil {
		cols, rows = g.Chart.W, g.Chart.H
	}
	sheet := 0
	for x0 := 0; x0 < cols; x0 += across {
		for y0 := 0; y0 < rows; y0 += up {
			if sheet++; sheet > 1 {
				next()
			}
			n, m := min(across, cols-x0), min(up, rows-y0)
			title := p.Name
			if g.Chart != nil {
				title += ": " + g.Chart.Name
			}
			pen.text(gridLeft, 10, 4.6, -1, false, ink, title)
			pen.text(on.Width-8, 10, 3.4, 1, false, soft, fmt.Sprintf("sheet %d", sheet))
			about := fmt.Sprintf("A stitch is %.2f × %.2f mm", p.StitchMM(), p.RowMM())
			if p.Assumed() {
				about += ", assumed"
			}
			if scale != 1 {
				about += fmt.Sprintf("; the cells are %g times as large", scale)
			}
			pen.text(gridLeft, 16, 3.4, -1, false, soft, about+".")
			g.sheet(pen, p, on, x0, y0, n, m, w, h)
		}
	}
}

// sheet draws n columns from x0 on and m rows from y0 on, both from 0.
func (g *Grid) sheet(pen pen, p *piece.Piece, on Sheet, x0, y0, n, m int, w, h float64) {
	bottom := on.Height - gridBottom
	top, right := bottom-float64(m)*h, gridLeft+float64(n)*w
	if g.Chart != nil {
		g.fill(pen, p, x0, y0, n, m, w, h, bottom)
	}
	thin, strong := new(path), new(path)
	for x := range n + 1 {
		to := thin
		if (x0+x)%10 == 0 || x == n {
			to = strong
		}
		at := gridLeft + float64(x)*w
		to.move(at, top).line(at, bottom)
		if no := x0 + x; x > 0 && (no%10 == 0 || no == 1) {
			pen.text(at-w/2, bottom+4.4, 3.2, 0, true, ink, fmt.Sprint(no))
		}
	}
	for y := range m + 1 {
		to := thin
		if (y0+y)%10 == 0 || y == m {
			to = strong
		}
		at := bottom - float64(y)*h
		to.move(gridLeft, at).line(right, at)
		thin.move(right+2, at).line(on.Width-8, at)
		if no := y0 + y; y > 0 && (no%10 == 0 || no == 1) {
			pen.text(gridLeft-1.5, at+h/2+1.2, 3.2, 1, true, ink, fmt.Sprint(no))
		}
	}
	for _, x := range []float64{right + 2, right + 12, on.Width - 8} {
		thin.move(x, top).line(x, bottom)
	}
	pen.text(right+7, bottom+4.4, 3, 0, false, soft, "from")
	pen.text((right+12+on.Width-8)/2, bottom+4.4, 3, 0, false, soft, "yarns, cams")
	pen.stroke(thin, soft, 0.12)
	pen.stroke(strong, ink, 0.35)
}

// fill draws the cells of the chart so that they are told apart in black and white: the first yarn is left white, the
// second filled, others hatched by turns; stitches have their marks.
func (g *Grid) fill(pen pen, p *piece.Piece, x0, y0, n, m int, w, h, bottom float64) {
	shows := p.Marks(g.Chart)
	order := map[string]int{}
	for _, y := range p.Palette(g.Chart) {
		if _, known := order[y.Colour]; !known {
			order[y.Colour] = len(order)
		}
	}
	filled, hatch, back, marks, light := new(path), new(path), new(path), new(path), new(path)
	for y := range m {
		for x := range n {
			mark := shows[g.Chart.Keys[g.Chart.At(x0+x, y0+y)]]
			left, top := gridLeft+float64(x)*w, bottom-float64(y+1)*h
			at := marks
			switch no := order[mark.Colour]; {
			case no == 1:
				filled.rect(left, top, w, h)
				at = light
			case no > 1 && no%2 == 0:
				for k := range 3 {
					d := (float64(k) + 0.5) / 3
					hatch.move(left, top+h*d).line(left+w*d, top).move(left+w*d, top+h).line(left+w, top+h*d)
				}
			case no > 1:
				for k := range 3 {
					d := (float64(k) + 0.5) / 3
					back.move(left+w*d, top).line(left+w, top+h*(1-d)).move(left, top+h*d).line(left+w*(1-d), top+h)
				}
			}
			at.sign(mark.Stitch, left, top, w, h)
		}
	}
	pen.fill(filled, ink)
	pen.stroke(hatch, ink, 0.18)
	pen.stroke(back, ink, 0.18)
	pen.stroke(marks, ink, min(0.4, h/9))
	pen.stroke(light, page, min(0.4, h/9))
}
