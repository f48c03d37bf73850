package paper

import (
	"fmt"
	"strings"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// widestCells is the widest program whose cells are drawn beside its lines: of a wider one they would be too small
// to count.
const widestCells = 64

// ProgramPDF is a section's program (section counts from 1) as it is keyed, on A4, line 1 first: what the panel is
// told, then each line with a box to tick, its cells ruled every ten, its runs and what is done at it.
func ProgramPDF(pl *pass.Plan, section int) ([]byte, error) {
	p := newPDF(210, 297)
	drawProgram(p, p.f.AddPage, card.MakeProgram(pl, section), CardTitle(pl.Piece, section), pl.Piece.Machine.Name)
	return p.bytes()
}

// drawProgram draws sheet after sheet; next begins another.
func drawProgram(p pen, next func(), prog *card.Program, title, machine string) {
	const w, foot, left = 210.0, 284.0, 34.0
	cell := 0.0
	if prog.Bits.W <= widestCells {
		cell = min(4.2, (w-12-left)/float64(prog.Bits.W))
	}
	y, sheet := 0.0, 0
	heading := func() {
		if sheet++; sheet > 1 {
			next()
		}
		p.text(14, 14, 5.4, -1, false, ink, title)
		p.text(w-12, 14, 3.4, 1, false, soft, fmt.Sprintf("sheet %d", sheet))
		y = 22
		if sheet == 1 {
			p.text(14, y, 3.6, -1, false, soft, fmt.Sprintf("%s. Line 1 is keyed first; column 1 lies on %v.", machine, prog.First))
			y += 7
			for i, k := range prog.KeyIn {
				for j, part := range wrap(k, 96) {
					if j == 0 {
						p.text(18, y, 3.8, 1, true, ink, fmt.Sprintf("%d", i+1))
					}
					p.text(21, y, 3.8, -1, false, ink, part)
					y += 5.4
				}
			}
			y += 3
		}
		if cell > 0 {
			for x := 1; x <= prog.Bits.W; x++ {
				if x == 1 || x%10 == 0 {
					p.text(left+(float64(x)-0.5)*cell, y, 2.8, 0, true, soft, fmt.Sprint(x))
				}
			}
			y += 2
		}
	}
	heading()
	for l := 1; l <= prog.Bits.H; l++ {
		said := wrap(prog.Typed(l), 84)
		if memo := prog.Memos[l-1]; memo != "" {
			said = append(said, wrap("→ "+memo, 84)...)
		}
		tall := 5.2*float64(len(said)) + 2.5
		if cell > 0 {
			tall += max(cell, 3) + 1.2
		}
		if y+tall > foot {
			heading()
		}
		p.stroke(new(path).rect(13, y+1.2, 4.4, 4.4), ink, 0.25)
		p.text(30, y+5.2, 4.8, 1, true, ink, fmt.Sprint(l))
		at := y + 5
		if cell > 0 {
			high := max(cell, 3)
			top := y + 1
			for x, bit := range prog.Bits.Row(l - 1) {
				box := new(path).rect(left+float64(x)*cell, top, cell, high)
				if bit == 1 {
					p.fill(box, ink)
				}
				p.stroke(box, line, 0.12)
			}
			for x := 0; x <= prog.Bits.W; x += 10 {
				p.stroke(new(path).move(left+float64(x)*cell, top-0.4).line(left+float64(x)*cell, top+high+0.4), ink, 0.35)
			}
			at += high + 1
		}
		for _, part := range said {
			p.text(left, at, 3.9, -1, false, ink, part)
			at += 5.2
		}
		y += tall
		p.stroke(new(path).move(12, y).line(w-12, y), line, 0.12)
	}
}

// ProgramPNG is a program one pixel a cell, the top line first, as it can be read in again as a chart.
func ProgramPNG(prog *card.Program) ([]byte, error) {
	return (&chart.Chart{Keys: []rune(".#"), Grid: prog.Bits}).PNG(piece.DefaultPalette(2))
}

// wrap breaks words into lines of at most n characters.
func wrap(text string, n int) (lines []string) {
	now := ""
	for _, word := range strings.Fields(text) {
		if len([]rune(now))+1+len([]rune(word)) > n && now != "" {
			lines, now = append(lines, now), ""
		}
		if now != "" {
			now += " "
		}
		now += word
	}
	return append(lines, now)
}
