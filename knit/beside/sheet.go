package beside

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// SheetRow is one chart row of a section for knitting by hand selection: the counter
// at its start, the yarns in knitting order, and what to bring forward.
type SheetRow struct {
	Row     int
	Counter int // before its first pass
	Passes  []*pass.Pass
	Yarns   []piece.YarnNo // in the order they are knitted
	Forward machine.Set
	Hold    machine.Set
	// Columns are those to bring forward within one repeat, from 1 at its left as it
	// lies on the bed, for the comb; nil where the areas do not repeat alike.
	Columns []int
	Width   int // of the repeat
	Moves   []SheetMove
}

// SheetMove is one use of a transfer tool within a repeat: the columns of the needles
// whose stitches go one needle to the side, from 1 at the repeat's left on the bed.
type SheetMove struct {
	Tool    int
	Dir     machine.Side
	Columns []int
}

// Sheet lists the chart rows of a section (from 1) in knitting order, for knitting by hand
// selection; of separated colours each colour of a row.
func Sheet(pl *pass.Plan, section int) (rows []SheetRow) {
	before := 0
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section == section && p.Row() > 0 {
			n := len(rows)
			// Of separated colours each is brought forward for itself, and has a line.
			other := n > 0 && pl.Section(section).Section.Technique.ColourLines &&
				rows[n-1].Passes[0].Yarn(1) != p.Yarn(1)
			if n == 0 || rows[n-1].Row != p.Row() || other {
				if setsCounter(p) {
					before = 0
				}
				rows = append(rows, SheetRow{Row: p.Row(), Counter: before, Forward: p.Main().Select,
					Hold: p.Main().Hold})
			}
			row := &rows[len(rows)-1]
			row.Passes = append(row.Passes, p)
			for _, y := range p.Main().Yarns {
				if y != 0 && !slices.Contains(row.Yarns, y) {
					row.Yarns = append(row.Yarns, y)
				}
			}
		}
		before = p.Counter
	}
	s := pl.Section(section)
	if len(s.Section.Areas) == 1 {
		a := &s.Section.Areas[0]
		w := s.Wide[0]
		for i := range rows {
			rows[i].Width = w
			rows[i].Columns = columnsOf(rows[i].Forward, a.First, w)
			for _, st := range rows[i].Passes[0].Before {
				if st, ok := st.Step.(step.Lift); ok {
					tool, way := st.Prongs()
					rows[i].Moves = append(rows[i].Moves, SheetMove{tool, way, columnsOf(st.Needles(), a.First, w)})
				}
			}
		}
	}
	return rows
}

// Stands says where the columns of a section's repeat (section from 1) stand, so that they can
// be marked on the bed; "" where it does not repeat alike.
func Stands(pl *pass.Plan, section int) string {
	s := pl.Section(section)
	if len(s.Section.Areas) != 1 {
		return ""
	}
	first, k := StandsFrom(pl, section)
	return fmt.Sprintf("columns 1 to %d stand on %v to %v: mark them", k, first, first+machine.Needle(k-1))
}

// StandsFrom is the needle under column 1 of the repeat that is marked, and how many columns
// it has: the comb's, where the repeat suits it. The section (from 1) has an area.
func StandsFrom(pl *pass.Plan, section int) (first machine.Needle, k int) {
	s := pl.Section(section)
	a := &s.Section.Areas[0]
	if k = s.Wide[0]; pl.Piece.Machine.Comb > 0 && pl.Piece.Machine.Comb%k == 0 {
		k = pl.Piece.Machine.Comb
	}
	for first = a.First; first < 0 && first+machine.Needle(2*k) <= a.To; {
		first += machine.Needle(k) // the one in the middle of the bed
	}
	return first, k
}

// String is the move in words: "5 6 7 left with the 3-prong tool".
func (m SheetMove) String() string {
	return fmt.Sprintf("%s %v with the %d-prong tool", strings.Trim(fmt.Sprint(m.Columns), "[]"), m.Dir, m.Tool)
}

func setsCounter(p *pass.Pass) bool {
	return pass.Has[step.Counter](p.Before)
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
