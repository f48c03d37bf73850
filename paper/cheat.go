package paper

import (
	"fmt"
	"strings"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	wording "vindel/knit/words"
)

// CheatPDF is a section's cheat sheet (section counts from 1): the row rail on A4,
// the lowest chart row at the foot of the first page. Beside each row stand the
// counter at its start, its yarns in knitting order, and what to bring forward within
// one repeat as it lies on the bed.
func CheatPDF(pl *pass.Plan, section int) ([]byte, error) {
	const w, h, foot, head, step = 210.0, 297.0, 270.0, 34.0, 6.5
	p := newPDF(w, h)
	rows := beside.Sheet(pl, section)
	cols := colours(pl.Piece)
	does := "bring forward in each repeat"
	if pl.Piece.Section(section).Lace() {
		does = "move in each repeat"
	}
	heading := func() {
		p.text(14, 16, 6, -1, false, ink, CardTitle(pl.Piece, section))
		p.text(14, 23, 3.4, -1, false, soft,
			fmt.Sprintf("%s. Read from the bottom up; the number is what the counter shows before the row.",
				pl.Piece.Machine.Name))
		if stands := beside.Stands(pl, section); stands != "" {
			p.text(14, 28.5, 3.4, -1, false, ink, wording.Capital(stands))
		}
		for x, t := range map[float64]string{22: "row", 36: "counter", 52: "yarns", 84: does} {
			p.text(x, foot+7, 3, 0, false, soft, t)
		}
	}
	heading()
	y := foot
	for i := range rows {
		if y < head {
			p.f.AddPage()
			heading()
			y = foot
		}
		r := &rows[i]
		if i%2 == 0 {
			p.fill(new(path).rect(12, y-4.6, w-24, step), shade(page, 0.965))
		}
		p.text(24, y, 3.6, 1, true, soft, fmt.Sprint(r.Row))
		p.text(40, y, 4.6, 1, true, ink, fmt.Sprint(r.Counter))
		for k, c := range r.Yarns {
			p.fill(new(path).circle(47+float64(k)*6, y-1.4, 2), cols[c])
			p.stroke(new(path).circle(47+float64(k)*6, y-1.4, 2), ink, 0.15)
		}
		cell := min(4.5, 70/float64(max(r.Width, 1)))
		for x := range r.Width {
			box := new(path).rect(62+float64(x)*cell, y-3.4, cell*0.9, 4)
			p.stroke(box, line, 0.15)
		}
		for _, c := range r.Columns {
			p.fill(new(path).rect(62+float64(c-1)*cell, y-3.4, cell*0.9, 4), ink)
		}
		var words []string
		for _, m := range r.Moves {
			for _, c := range m.Columns {
				x, out := 62+(float64(c)-0.55)*cell, cell*0.3
				if m.Dir == machine.Left {
					out = -out
				}
				p.stroke(new(path).move(x-out, y-1.4).line(x+out, y-1.4).move(x+out*0.2, y-2.4).line(x+out,
					y-1.4).line(x+out*0.2, y-0.4), ink, 0.4)
			}
			words = append(words, m.String())
		}
		for j := range r.Passes[0].Before {
			st := &r.Passes[0].Before[j]
			if st.Do == pass.SetCams || st.Do == pass.Cut || st.Do == pass.Weights || st.Do == pass.SetCounter {
				if t := st.Short(pl.Piece); t != "" {
					words = append(words, t)
				}
			}
		}
		if !r.Hold.Empty() {
			words = append([]string{"hold " + r.Hold.String()}, words...)
		}
		p.text(138, y, 2.8, -1, false, ink, clip(strings.Join(words, ", "), 44))
		y -= step
	}
	return p.bytes()
}

func clip(s string, n int) string {
	if r := []rune(s); len(r) > n {
		return string(r[:n-1]) + "…"
	}
	return s
}
