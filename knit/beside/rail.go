package beside

import (
	"fmt"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Row is one pass as the row rail shows it, or the lace carriage's passes for one row. It is
// named by the counter's reading before it, as everywhere beside the machine.
type Row struct {
	N, Reading int
	Dir        machine.Side
	Feeders    []piece.YarnNo // by feeder; 0: empty
	Knots      []bool         // by feeder: a yarn is threaded before the pass
	Text       string         // what changes before it, in a few words

	Lace        int // passes of the lace carriage that it stands for
	First, Last int // of the lines that those read; 0: none
}

// RowOf is a pass on the rail. What becomes of the yarns comes first in its text: it is
// what the eye looks for.
func RowOf(pl *pass.Plan, p *pass.Pass) Row {
	return rowOf(pl, p, func(st *pass.Step) string { return st.Short(pl.Piece) })
}

// rowOf is a pass on the rail, with what short says of each step before it.
func rowOf(pl *pass.Plan, p *pass.Pass, short func(*pass.Step) string) Row {
	n := pl.Piece.Machine.Feeders
	r := Row{N: p.N, Reading: Reading(pl, p.N-1), Dir: p.Dir, Feeders: make([]piece.YarnNo, n), Knots: make([]bool,
		max(n, 2))}
	for f := range n {
		r.Feeders[f] = p.Yarn(f + 1)
	}
	var yarns, others []string
	for i := range p.Before {
		st := &p.Before[i]
		t := short(st)
		if t == "" {
			if thread, ok := st.Step.(step.Thread); ok {
				r.Knots[thread.Feeder-1] = true
			}
			continue
		}
		switch st := st.Step.(type) {
		case step.Thread:
			if old := replaced(p, st); old != 0 {
				t = fmt.Sprintf("%s for %s", pl.Piece.YarnName(st.Yarn), pl.Piece.YarnName(old))
				if m := &pl.Piece.Machine; m.Feeders > 1 {
					t += " in " + m.Word(fmt.Sprintf("feeder%d", st.Feeder))
				}
			}
			r.Knots[st.Feeder-1] = true
			yarns = append(yarns, t)
		case step.Unthread:
			if !replaces(p, st) { // else the yarn that takes its place tells it
				yarns = append(yarns, t)
			}
		case step.Cut:
			yarns = append(yarns, t)
		default:
			others = append(others, t)
		}
	}
	r.Text = strings.Join(append(yarns, others...), ", ")
	if p.ID.Part == "second" {
		r.Text = strings.TrimSuffix("2nd part: "+r.Text, ": ")
	}
	return r
}

// replaced is the yarn that is taken out where another is threaded, neither a bobbin's; 0 if none is.
func replaced(p *pass.Pass, in step.Thread) piece.YarnNo {
	for i := range p.Before {
		if out, ok := p.Before[i].Step.(step.Unthread); ok && in.Bobbin == "" && out.Bobbin == "" &&
			out.Feeder == in.Feeder && out.Yarn != in.Yarn {
			return out.Yarn
		}
	}
	return 0
}

// replaces says that another yarn is threaded where one is taken out, neither a bobbin's.
func replaces(p *pass.Pass, out step.Unthread) bool {
	for i := range p.Before {
		if in, ok := p.Before[i].Step.(step.Thread); ok && out.Bobbin == "" && in.Bobbin == "" &&
			in.Feeder == out.Feeder && in.Yarn != out.Yarn {
			return true
		}
	}
	return false
}

// Quiet is a pass in a row of its own, which says something even where nothing changes.
func Quiet(pl *pass.Plan, p *pass.Pass) Row {
	r := RowOf(pl, p)
	add := func(text string) { r.Text = strings.TrimPrefix(r.Text+", "+text, ", ") }
	if n := p.Main().ByHand.Len(); n > 0 {
		add(fmt.Sprintf("bring %d forward", n))
	}
	if p.Main().Setting.Moves {
		add(laceMoves(p))
	}
	if n := len(p.Lays); n > 0 && r.Text == "" {
		r.Text = "lay " + words.Count(n, "yarn", "yarns")
	}
	if r.Text == "" {
		r.Text = "nothing changes"
	}
	return r
}

// Rail is the first round of a section's passes beside the rows of one of its charts: by
// chart row, from 1, in knitting order; Below are those before its first row.
type Rail struct {
	Rows  map[int][]Row
	Below []Row
}

// RailOf puts the passes of a section (from 1) beside the rows of the chart in area a.
func RailOf(pl *pass.Plan, section int, a *piece.Area) Rail {
	rail, placed := Rail{Rows: map[int][]Row{}, Below: []Row{}}, pl.Section(section)
	seen := map[int]int{} // section row by chart row
	for k := range pl.Passes {
		p := &pl.Passes[k]
		if p.Section != section {
			continue
		}
		if p.Row() == 0 {
			r := RowOf(pl, p)
			r.Text = strings.TrimSuffix("selecting pass, "+r.Text, ", ")
			rail.Below = append(rail.Below, r)
			continue
		}
		name, _, row := placed.Source(max(a.First, a.From), p.Row())
		if name != a.Chart.Name {
			continue
		}
		if first, ok := seen[row]; !ok || first == p.Row() {
			seen[row] = p.Row()
			rail.Rows[row] = addTo(rail.Rows[row], pl, p)
		}
	}
	return rail
}

// addTo adds a pass to a chart row's rail; the lace carriage's passes make one line.
func addTo(rail []Row, pl *pass.Plan, p *pass.Pass) []Row {
	if n := len(rail); n > 0 && rail[n-1].Lace > 0 && p.Main().Setting.Moves {
		rail[n-1].Lace++
		rail[n-1].Last = p.Line
		return rail
	}
	if !p.Main().Setting.Moves {
		return append(rail, RowOf(pl, p))
	}
	r := rowOf(pl, p, func(st *pass.Step) string {
		if on, ok := st.Step.(step.Attach); ok && on.Carriage == machine.LaceCarriage {
			return "" // that it comes on goes without saying
		}
		return st.Short(pl.Piece)
	})
	r.Lace, r.First, r.Last = 1, p.Line, p.Line
	return append(rail, r)
}

// Columns lists, by column of the chart in area a of a section (from 0 at its left), the
// needles that show it in row 1, and the one of them in the first repeat.
func Columns(placed *bed.Placed, a *piece.Area) (first []string, all [][]string) {
	first, all = make([]string, a.Chart.W), make([][]string, a.Chart.W)
	end := a.First + machine.Needle(bed.Lie(a).W)
	for n := min(a.First, a.From); n <= max(a.To, end-1); n++ {
		name, column, _ := placed.Source(n, 1)
		if name != a.Chart.Name || n < a.From || n > a.To {
			continue
		}
		if n >= a.First && n < end {
			first[column-1] = n.String()
		}
		all[column-1] = append(all[column-1], n.String())
	}
	return first, all
}

// SectionWords is a section (from 1) on the rail: its passes and what the counter shows,
// and what changes before its first row.
func SectionWords(pl *pass.Plan, section int) (passes, changes string) {
	first, last, before := -1, -1, 0
	for k := range pl.Passes {
		switch {
		case pl.Passes[k].Section == section:
			if first < 0 {
				first = k
			}
			last = k
		case first < 0:
			before = pl.Passes[k].Counter
		}
	}
	if first < 0 {
		return "not planned", ""
	}
	a, z := &pl.Passes[first], &pl.Passes[last]
	return fmt.Sprintf("passes %d–%d, counter %d → %d", a.N, z.N, before, z.Counter), RowOf(pl, a).Text
}
