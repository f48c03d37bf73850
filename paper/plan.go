package paper

import (
	"fmt"
	"strings"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/words"
)

// PlanPDF is the plan on A4, to be followed on paper: a line with a box to tick for every pass before which something
// is done, with the counter as it stands before it, and one for each stretch of passes in which nothing changes.
func PlanPDF(pl *pass.Plan) ([]byte, error) {
	p := newPDF(210, 297)
	drawPlan(p, p.f.AddPage, pl)
	return p.bytes()
}

func drawPlan(p pen, next func(), pl *pass.Plan) {
	const w, foot, left = 210.0, 286.0, 62.0
	y, sheet := 0.0, 0
	heading := func() {
		if sheet++; sheet > 1 {
			next()
		}
		p.text(14, 14, 5.4, -1, false, ink, pl.Piece.Name)
		p.text(w-12, 14, 3.4, 1, false, soft, fmt.Sprintf("sheet %d", sheet))
		t := &pl.Totals
		p.text(14, 20, 3.5, -1, false, soft, fmt.Sprintf(
			"%s. %s, %s. The number is what the counter shows before the pass.", pl.Piece.Machine.Name,
			words.Count(t.Passes, "pass", "passes"), words.Count(t.Threadings, "threading", "threadings")))
		for _, l := range []label{{30, "counter"}, {45, "row"}} {
			p.text(l.x, 26, 3, 0, false, soft, l.text)
		}
		y = 28
	}
	heading()
	room := func(tall float64) {
		if y+tall > foot {
			heading()
		}
	}
	section := -1
	for i := 0; i < len(pl.Passes); {
		q := &pl.Passes[i]
		if q.Section != section {
			section = q.Section
			room(20)
			title := "The start"
			if section > 0 {
				title = fmt.Sprintf("Section %d: %s", section, pl.Piece.Section(section).Title())
			}
			p.text(14, y+6.5, 4.4, -1, false, ink, title)
			y += 9
		}
		r := beside.RowOf(pl, q)
		said, n := r.Text, 1
		if said == "" {
			for i+n < len(pl.Passes) && pl.Passes[i+n].Section == section && beside.RowOf(pl,
				&pl.Passes[i+n]).Text == "" {
				n++
			}
			if said = "nothing changes"; n > 1 {
				said = fmt.Sprintf("%d passes, nothing changes; then the counter shows %d", n, pl.Passes[i+n-1].Counter)
			}
		}
		if strings.Contains(said, "…") { // paper has room for all of it
			var all []string
			for j := range q.Before {
				if st := &q.Before[j]; st.Hands() {
					all = append(all, st.Say(pl.Piece))
				}
			}
			said = strings.Join(all, "; ")
		}
		lines := wrap(said, 76)
		tall := 5*float64(len(lines)) + 1.6
		room(tall)
		p.stroke(new(path).rect(13, y+1, 4, 4), ink, 0.25)
		p.text(36, y+5, 4.8, 1, true, ink, fmt.Sprint(r.Reading))
		if q.Row() > 0 {
			p.text(47, y+5, 3.6, 1, true, soft, fmt.Sprint(q.Row()))
		}
		tip := 57.0
		if q.Dir == machine.Left {
			tip = 52
		}
		p.stroke(new(path).move(52, y+3.4).line(57, y+3.4).move(54.5, y+1.9).line(tip, y+3.4).line(54.5, y+4.9), ink,
			0.4)
		for k, part := range lines {
			p.text(left, y+5+5*float64(k), 3.9, -1, false, ink, part)
		}
		y += tall
		p.stroke(new(path).move(12, y).line(w-12, y), line, 0.12)
		i += n
	}
	if len(pl.After) > 0 {
		room(12)
		p.text(14, y+6.5, 4.4, -1, false, ink, "At the end")
		y += 9
		for i := range pl.After {
			for _, part := range wrap(pl.After[i].Say(pl.Piece), 96) {
				room(5)
				p.text(20, y+4, 3.9, -1, false, ink, part)
				y += 5
			}
		}
	}
}
