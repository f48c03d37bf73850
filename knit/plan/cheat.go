package plan

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// CheatRow is one chart row of a section for knitting by hand selection: the counter
// at its start, the yarns in knitting order, and what to bring forward.
type CheatRow struct {
	Row     int
	Counter int // before its first pass
	Passes  []*Pass
	Yarns   []piece.YarnNo // in the order they are knitted
	Forward machine.Set
	Hold    machine.Set
	// Columns are those to bring forward within one repeat, from 1 at its left as it
	// lies on the bed, for the comb; nil where the areas do not repeat alike.
	Columns []int
	Width   int // of the repeat
	Moves   []CheatMove
}

// CheatMove is one use of a transfer tool within a repeat: the columns of the needles
// whose stitches go one needle to the side, from 1 at the repeat's left on the bed.
type CheatMove struct {
	Tool    int
	Dir     machine.Side
	Columns []int
}

// CheatSheet lists the chart rows of a section (from 0) in knitting order.
func (pl *Plan) CheatSheet(section int) (rows []CheatRow) {
	before := 0
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section == section+1 && p.Row > 0 {
			if n := len(rows); n == 0 || rows[n-1].Row != p.Row {
				if p.counterReset() {
					before = 0
				}
				rows = append(rows, CheatRow{Row: p.Row, Counter: before, Forward: p.Select, Hold: p.Hold})
			}
			row := &rows[len(rows)-1]
			row.Passes = append(row.Passes, p)
			for _, y := range p.Feeders {
				if y != 0 && !slices.Contains(row.Yarns, y) {
					row.Yarns = append(row.Yarns, y)
				}
			}
		}
		before = p.Counter
	}
	s := pl.Placed[section]
	if len(s.Section.Areas) == 1 {
		a := &s.Section.Areas[0]
		w := bed.Lie(a).W
		for i := range rows {
			rows[i].Width = w
			rows[i].Columns = columnsOf(rows[i].Forward, a.First, w)
			for _, st := range rows[i].Passes[0].Before {
				if st.Do == Transfer {
					rows[i].Moves = append(rows[i].Moves, CheatMove{st.Tool, st.Dir, columnsOf(st.Needles, a.First, w)})
				}
			}
		}
	}
	return rows
}

// String is the move in words: "5 6 7 left with the 3-prong tool".
func (m CheatMove) String() string {
	return fmt.Sprintf("%s %v with the %d-prong tool", strings.Trim(fmt.Sprint(m.Columns), "[]"), m.Dir, m.Tool)
}

func (p *Pass) counterReset() bool {
	return slices.ContainsFunc(p.Before, func(st Step) bool { return st.Do == SetCounter })
}

func columnsOf(forward machine.Set, first machine.Needle, w int) (columns []int) {
	seen := make([]bool, w)
	for n := range forward.All() {
		seen[(int(n-first)%w+w)%w] = true
	}
	columns = []int{}
	for c, yes := range seen {
		if yes {
			columns = append(columns, c+1)
		}
	}
	return columns
}
