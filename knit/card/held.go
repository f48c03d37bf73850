package card

import (
	"slices"

	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// Holes is the row of a card that selects `want` among the needles at work, of which `areas` are patterned: those settle
// their columns, and a column that no area needs is free for the needles beside them. clash is the needles of the areas
// that want another hole than one to their left which has the same column.
func Holes(m *machine.Profile, want, areas, work machine.Set) (row []uint8, clash machine.Set) {
	row = make([]uint8, m.Columns)
	known := make([]bool, m.Columns)
	areas = areas.And(work)
	for n := range areas.All() {
		hole := uint8(0)
		if want.Has(n) {
			hole = 1
		}
		switch c := column(m, n); {
		case !known[c]:
			row[c], known[c] = hole, true
		case row[c] != hole:
			clash.Add(n)
		}
	}
	for n := range want.And(work).Minus(areas).All() {
		if c := column(m, n); !known[c] {
			row[c] = 1
		}
	}
	return row, clash
}

// Reached is every needle of the bed whose column has a hole in a row of a card.
func Reached(m *machine.Profile, row []uint8) (on machine.Set) {
	for n := range m.Bed.All().All() {
		if row[column(m, n)] == 1 {
			on.Add(n)
		}
	}
	return on
}

// Turned says whether a switch of the console is on, for all areas (0) or for the one in a line of its table, from 1.
type Turned func(name string, area int) bool

// Switched is the switches of the console that a program is keyed for, each on.
func (w *Program) Switched() (list []step.Console) {
	if w.Panel == nil {
		if w.Mirrored == "switch" {
			list = append(list, step.Console{Switch: "mirror", On: true})
		}
		return list
	}
	for _, name := range w.Panel.All {
		list = append(list, step.Console{Switch: name, On: true})
	}
	for i := range w.Panel.Areas {
		for _, name := range w.Panel.Areas[i].Switches {
			list = append(list, step.Console{Switch: name, Area: i + 1, On: true})
		}
	}
	return list
}

// Held is what a section's lines bring forward on the whole bed, read back from the card as it is printed, or from the
// console as it is keyed and as its switches stand; nil: as it was keyed for. Lines count from 1.
type Held func(line int, on Turned) machine.Set

// ReadBack reads the card or the program of a section (from 1) back. A line that no card can hold is as it is wanted:
// that stops the piece (Make).
func ReadBack(pl *pass.Plan, section int) Held {
	m := &pl.Piece.Machine
	if m.HasCard() {
		c, clash := punch(pl, section)
		return func(line int, _ Turned) machine.Set {
			if !clash[line-1].Empty() {
				return pl.Programs[section-1][line-1]
			}
			return Reached(m, c.Holes.Row(line-1))
		}
	}
	w := keyed(pl, section)
	switched := w.Switched()
	asKeyed := func(name string, area int) bool {
		return slices.Contains(switched, step.Console{Switch: name, Area: area, On: true})
	}
	var laid keyedAreas
	return func(line int, on Turned) machine.Set {
		if on == nil {
			on = asKeyed
		}
		return w.brings(m, line, on, &laid)
	}
}

// keyedAreas is the areas of a table as the console lays them: each drawing's part, after what is switched on.
type keyedAreas []struct {
	turns []string
	cells chart.Grid
}

// lay lays an area (from 0) anew where its switches stand otherwise than before.
func (k *keyedAreas) lay(p *Panel, i int, on Turned) (cells chart.Grid, filled uint8) {
	if *k == nil {
		*k = make(keyedAreas, len(p.Areas))
	}
	a, was := &p.Areas[i], &(*k)[i]
	turns := slices.DeleteFunc(slices.Clone(chart.Transforms), func(t string) bool { return !on(t, 0) && !on(t, i+1) })
	if was.cells.W == 0 || !slices.Equal(turns, was.turns) {
		was.turns = turns
		was.cells = p.Drawings[a.Drawing-1].Bits.Cut(a.Columns[0], a.Columns[1], a.Rows[0], a.Rows[1]).Transform(turns)
	}
	if slices.Contains(turns, "invert") {
		return was.cells, 0
	}
	return was.cells, 1
}

// brings is what a console brings forward on a line that has been keyed so.
func (w *Program) brings(m *machine.Profile, line int, on Turned, laid *keyedAreas) (out machine.Set) {
	p := w.Panel
	if p == nil {
		mirrored := on("mirror", 0)
		for n := range m.Bed.All().All() {
			x := int(n - w.First)
			if w.Repeats {
				x = mod(x, w.Bits.W)
			}
			if x < 0 || x >= w.Bits.W {
				continue
			}
			if mirrored {
				x = w.Bits.W - 1 - x
			}
			if w.Bits.At(x, line-1) == 1 {
				out.Add(n)
			}
		}
		return out
	}
	y := (line - 1) % p.Lines
	for i := range p.Areas { // one over another
		a := &p.Areas[i]
		cells, hole := laid.lay(p, i, on)
		row := y
		if !a.Blank {
			row %= cells.H
		}
		if row >= cells.H {
			continue
		}
		out = out.Minus(machine.Range(a.From, a.To))
		bits, x := cells.Row(row), mod(int(a.From-a.Anchor), cells.W)
		for n := a.From; n <= a.To; n++ {
			if bits[x] == hole {
				out.Add(n)
			}
			if x++; x == cells.W {
				x = 0
			}
		}
	}
	return out
}
