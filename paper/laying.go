package paper

import (
	"fmt"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// LayingPDF is an intarsia section's laying sheet (section counts from 1) on A4, the lowest
// row at the foot of the first page: beside each row the counter at its start, the way of
// the carriage, the fields as they lie on the needles, and the yarns in the order in which
// they are laid.
func LayingPDF(pl *pass.Plan, section int) ([]byte, error) {
	const w, h, foot, head, step, left, wide = 210.0, 297.0, 270.0, 34.0, 5.0, 58.0, 62.0
	p := newPDF(w, h)
	cols := colours(pl.Piece)
	needle := wide / (float64(pl.Piece.To-pl.Piece.From) + 1)
	heading := func() {
		p.text(14, 16, 6, -1, false, ink, CardTitle(pl.Piece, section))
		p.text(14, 23, 3.4, -1, false, soft,
			fmt.Sprintf("%s. Read from the bottom up; lay the yarns in their order. The number is what the counter "+
				"shows before the row.",
				pl.Piece.Machine.Name))
		for _, l := range []label{{22, "row"}, {36, "counter"}, {50, "way"}, {89, "on the needles"}, {150, "lay"}} {
			p.text(l.x, foot+7, 3, 0, false, soft, l.text)
		}
	}
	heading()
	y := foot
	rows := beside.Sheet(pl, section)
	for i := range rows {
		r, now := &rows[i], rows[i].Passes[0]
		tall := step * float64(max(len(now.Lays), 1))
		if y-tall < head {
			p.f.AddPage()
			heading()
			y = foot
		}
		if i%2 == 0 {
			p.fill(new(path).rect(12, y-tall+1.2, w-24, tall), shade(page, 0.965))
		}
		p.text(24, y, 3.6, 1, true, soft, fmt.Sprint(r.Row))
		p.text(40, y, 4.6, 1, true, ink, fmt.Sprint(r.Counter))
		tip := 52.0
		if now.Dir == machine.Left {
			tip = 47
		}
		p.stroke(new(path).move(47, y-1.4).line(52, y-1.4).move(49.5, y-2.9).line(tip, y-1.4).line(49.5, y+0.1), ink,
			0.4)
		for k := range now.Lays {
			l := &now.Lays[k]
			field := new(path).rect(left+float64(l.From-pl.Piece.From)*needle, y-3.4, float64(l.To-l.From+1)*needle, 4)
			p.fill(field, cols[l.Yarn])
			p.stroke(field, ink, 0.15)
			p.text(left+wide+6, y-tall+step*float64(k+1), 2.8, -1, false, ink, clip(now.SayLay(pl.Piece, k), 54))
		}
		y -= tall
	}
	return p.bytes()
}

func clip(s string, n int) string {
	if r := []rune(s); len(r) > n {
		return string(r[:n-1]) + "…"
	}
	return s
}
