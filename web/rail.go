package web

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// railRow is one pass as the row rail shows it.
type railRow struct {
	N       int      `json:"n"`
	Counter int      `json:"counter"`
	Dir     string   `json:"dir"`
	Feeders []string `json:"feeders"`
	Knots   []bool   `json:"knots"` // a yarn is threaded before the pass
	Text    string   `json:"text"`

	// Passes of the lace carriage for one row are one line of the rail.
	Lace  int    `json:"lace,omitempty"`
	Lines string `json:"lines,omitempty"`
	first int    // program line
}

func railOf(pl *plan.Plan, p *plan.Pass) railRow {
	r := railRow{N: p.N, Counter: p.Counter, Dir: p.Dir.String(), Knots: make([]bool, 2)}
	for f := range pl.Piece.Machine.Feeders {
		r.Feeders = append(r.Feeders, pl.Piece.YarnID(p.Feeders[f]))
	}
	var yarns, words []string // what becomes of the yarns comes first: it is what the eye looks for
	for i := range p.Before {
		st := &p.Before[i]
		if st.Do == plan.Thread {
			r.Knots[st.Feeder-1] = true
		}
		t := st.Short(pl.Piece)
		switch {
		case t == "":
		case st.Do == plan.Thread || st.Do == plan.Unthread || st.Do == plan.Cut:
			yarns = append(yarns, t)
		default:
			words = append(words, t)
		}
	}
	r.Text = strings.Join(append(yarns, words...), ", ")
	return r
}

// rail puts the first round of section i's passes beside the chart rows they knit.
func (st *chartState) rail(pl *plan.Plan, i int, c *piece.Chart) {
	sec, placed := &pl.Piece.Sections[i], pl.Placed[i]
	st.Section = fmt.Sprintf("section %d, %s, %s", i+1, sec.Technique.Name, plural(placed.Rows, "row", "rows"))
	a := &sec.Areas[slices.IndexFunc(sec.Areas, func(a piece.Area) bool { return a.Chart == c })]
	st.Needles = make([]string, c.W)
	w := bed.Lie(a).W
	for x := range w {
		n := a.First + machine.Needle(x)
		if name, column, _ := placed.Source(n, 1); name == c.Name && n >= a.From && n <= a.To {
			st.Needles[column-1] = n.String()
		}
	}
	st.Repeats = make([][]string, c.W)
	for n := a.From; n <= a.To; n++ {
		if name, column, _ := placed.Source(n, 1); name == c.Name {
			st.Repeats[column-1] = append(st.Repeats[column-1], n.String())
		}
	}
	seen := map[int]int{} // section row by chart row
	for k := range pl.Passes {
		p := &pl.Passes[k]
		switch {
		case p.Section != i+1:
		case p.Row == 0:
			st.Below = append(st.Below, railOf(pl, p))
		default:
			name, _, row := placed.Source(max(a.First, a.From), p.Row)
			if name != c.Name {
				continue
			}
			if first, ok := seen[row]; !ok || first == p.Row {
				seen[row] = p.Row
				st.Rail[row] = addToRail(st.Rail[row], pl, p)
			}
		}
	}
}

// addToRail adds a pass to a chart row's rail; the lace carriage's passes make one line.
func addToRail(rail []railRow, pl *plan.Plan, p *plan.Pass) []railRow {
	r := railOf(pl, p)
	if p.Carriage != machine.LaceCarriage {
		return append(rail, r)
	}
	if n := len(rail); n > 0 && rail[n-1].Lace > 0 {
		last := &rail[n-1]
		last.Lace++
		last.Lines = fmt.Sprintf("%d–%d", last.first, p.Line)
		return rail
	}
	r.Lace, r.first = 1, p.Line
	if p.Line > 0 {
		r.Lines = fmt.Sprint(p.Line)
	}
	return append(rail, r)
}
