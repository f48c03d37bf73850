package paper

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// CheatPDF is a section's cheat sheet (section counts from 1) on A4: one repeat of its rows, the lowest at the foot of
// the first page, with a box to tick for each time that the row comes. Beside each row stand what is brought forward
// within one repeat as it lies on the bed, or by its needles where no repeat is narrow enough to be read, the yarns in
// knitting order, and what else is done.
func CheatPDF(pl *pass.Plan, section int) ([]byte, error) {
	p := newPDF(210, 297)
	drawCheat(p, p.f.AddPage, pl, section)
	return p.bytes()
}

// once is how many rows a sheet has before they come again, needles, yarns and moves alike; all of them where they
// never do.
func once(rows []beside.SheetRow) int {
	alike := func(a, b *beside.SheetRow) bool {
		return a.Forward == b.Forward && a.Hold == b.Hold && slices.Equal(a.Yarns, b.Yarns) &&
			slices.EqualFunc(a.Moves, b.Moves,
				func(m, o beside.SheetMove) bool {
					return m.Tool == o.Tool && m.Dir == o.Dir && slices.Equal(m.Columns, o.Columns)
				})
	}
	for n := 1; n <= len(rows)/2; n++ {
		again := true
		for i := n; again && i < len(rows); i++ {
			again = alike(&rows[i], &rows[i-n])
		}
		if again {
			return n
		}
	}
	return len(rows)
}

const (
	cheatLeft  = 30.0 // of the cells, mm
	cheatWide  = 62.0 // and how far they reach
	cheatText  = 98.0
	cheatSize  = 3.6 // of letters
	cheatBoxes = 20  // in a line
)

func drawCheat(p pen, next func(), pl *pass.Plan, section int) {
	const w, foot, head = 210.0, 268.0, 36.0
	rows := beside.Sheet(pl, section)
	n := once(rows)
	if len(rows) == 0 {
		n = 1
	}
	times := (len(rows) + n - 1) / n
	does := "bring forward in each repeat"
	if pl.Piece.Section(section).Lace() {
		does = "move in each repeat"
	}
	heading := func() {
		p.text(14, 16, 6, -1, false, ink, CardTitle(pl.Piece, section))
		about := fmt.Sprintf("%s. From the bottom up; a box for each time that a row comes.", pl.Piece.Machine.Name)
		if times > 1 {
			about += fmt.Sprintf(" %s, %d times.", words.Count(n, "row", "rows"), times)
			if rest := len(rows) % n; rest > 0 {
				about += fmt.Sprintf(" The last time ends after row %d.", rest)
			}
		}
		p.text(14, 23, cheatSize, -1, false, ink, about)
		if stands := beside.Stands(pl, section); stands != "" {
			p.text(14, 28.5, cheatSize, -1, false, ink, words.Capital(stands))
		}
		for _, l := range []label{{20, "row"}, {cheatLeft + cheatWide/2, does}} {
			p.text(l.x, foot+8, 3.2, 0, false, soft, l.text)
		}
		p.text(cheatText, foot+8, 3.2, -1, false, soft, "counter before it, yarns, what else is done")
	}
	heading()
	y := foot
	for i := range rows[:min(n, len(rows))] {
		r := &rows[i]
		cell := min(5, cheatWide/float64(max(r.Width, 1)))
		said := cheatWords(pl, r, cell < 2)
		if times > 1 && len(rows) > n {
			counter := fmt.Sprintf("counter %d", r.Counter)
			if next := i + n; next < len(rows) && rows[next].Counter == r.Counter {
				counter += " each time" // it is set back
			} else if next < len(rows) {
				if counter += fmt.Sprintf(", then %d", rows[next].Counter); next+n < len(rows) {
					counter += ", …"
				}
			}
			said = append([]string{counter}, said...)
		} else {
			said = append([]string{fmt.Sprintf("counter %d", r.Counter)}, said...)
		}
		lines := wrap(strings.Join(said, "; "), 52)
		comes := times
		if i >= len(rows)-n*(times-1) {
			comes--
		}
		tall := 5*float64(len(lines)) + 5.4*float64((comes+cheatBoxes-1)/cheatBoxes) + 2.4
		if y-tall < head {
			next()
			heading()
			y = foot
		}
		top := y - tall
		p.stroke(new(path).move(12, y).line(w-12, y), line, 0.2)
		p.text(24, top+6, 5, 1, true, ink, fmt.Sprint(r.Row))
		if cell >= 2 {
			drawCheatCells(p, r, cell, top+2)
		}
		at := top + 5
		for _, part := range lines {
			p.text(cheatText, at, cheatSize, -1, false, ink, part)
			at += 5
		}
		for k := range comes {
			p.stroke(new(path).rect(cheatText+float64(k%cheatBoxes)*5, at-3.2+5.4*float64(k/cheatBoxes), 4, 4), ink,
				0.25)
		}
		y = top
	}
}

// drawCheatCells draws a repeat: filled where a needle is brought forward, with arrows where stitches are moved.
func drawCheatCells(p pen, r *beside.SheetRow, cell, top float64) {
	for x := range r.Width {
		p.stroke(new(path).rect(cheatLeft+float64(x)*cell, top, cell*0.92, 5), soft, 0.15)
	}
	for _, c := range r.Columns {
		p.fill(new(path).rect(cheatLeft+float64(c-1)*cell, top, cell*0.92, 5), ink)
	}
	for _, m := range r.Moves {
		for _, c := range m.Columns {
			x, out := cheatLeft+(float64(c)-0.55)*cell, cell*0.3
			if m.Dir == machine.Left {
				out = -out
			}
			p.stroke(new(path).move(x-out, top+2.5).line(x+out, top+2.5).move(x+out*0.2, top+1.4).line(x+out,
				top+2.5).line(x+out*0.2, top+3.6), ink, 0.4)
		}
	}
}

// cheatWords is what is done for a row: its yarns by name, its needles where they are not drawn, moves, and what
// hands do besides.
func cheatWords(pl *pass.Plan, r *beside.SheetRow, needles bool) (said []string) {
	var yarns []string
	for _, y := range r.Yarns {
		yarns = append(yarns, pl.Piece.YarnName(y))
	}
	if len(yarns) > 0 {
		said = append(said, strings.Join(yarns, ", then "))
	}
	if !r.Hold.Empty() {
		said = append(said, "hold "+r.Hold.String())
	}
	if needles && !r.Forward.Empty() {
		said = append(said, "forward "+r.Forward.String())
	}
	for _, m := range r.Moves {
		said = append(said, m.String())
	}
	for j := range r.Passes[0].Before {
		st := &r.Passes[0].Before[j]
		switch st.Do() {
		case step.DoSetCams, step.DoCut, step.DoWeights, step.DoSetCounter, step.DoLifeline, step.DoReform, step.DoRack:
			if t := st.Short(pl.Piece); t != "" {
				said = append(said, t)
			}
		}
	}
	return said
}
