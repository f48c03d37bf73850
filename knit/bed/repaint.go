package bed

import (
	"fmt"

	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Repaint is the edit of the charts after which the given needles show yarn y in
// section row r (from 1). Needles that no area covers cannot be repainted; where
// none can, the edit is empty.
func (s *Placed) Repaint(needles machine.Set, r int, y piece.YarnNo, p *piece.Piece) []finding.Change {
	return s.redraw(needles, r, p, func(c *piece.Chart) rune { return c.Character(y, p) })
}

// Restitch is the edit of the charts after which the given needles make a stitch in
// section row r; empty where none of them lies in an area whose chart has a mark for it.
func (s *Placed) Restitch(needles machine.Set, r int, stitch chart.Stitch, p *piece.Piece) []finding.Change {
	return s.redraw(needles, r, p, func(c *piece.Chart) rune { return c.Mark(stitch) })
}

// redraw is the edit that draws the cells which needles show in row r with the character
// that each chart has for it; 0: the chart has none, and stays.
func (s *Placed) redraw(needles machine.Set, r int, p *piece.Piece, with func(*piece.Chart) rune) (edit []finding.Change) {
	type line struct {
		chart string
		row   int
	}
	rows := map[line][]rune{}
	var order []line
	for n := range needles.All() {
		name, column, row := s.Source(n, r)
		if name == "" || with(p.Charts[name]) == 0 {
			continue
		}
		c, at := p.Charts[name], line{name, row}
		if rows[at] == nil {
			for _, key := range c.Row(row - 1) {
				rows[at] = append(rows[at], c.Keys[key])
			}
			order = append(order, at)
		}
		rows[at][column-1] = with(c)
	}
	for _, at := range order {
		edit = append(edit, finding.Change{Op: "replace", Path: fmt.Sprintf("/charts/%s/rows/%d", piece.Escape(at.chart), p.Charts[at.chart].H-at.row), Value: string(rows[at])})
	}
	return edit
}
