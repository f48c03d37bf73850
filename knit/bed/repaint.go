package bed

import (
	"fmt"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Repaint is the edit of the charts after which the given needles show yarn y in
// section row r (from 1). Needles that no area covers cannot be repainted; where
// none can, the edit is empty.
func (s *Placed) Repaint(needles machine.Set, r int, y piece.YarnNo, p *piece.Piece) (edit []finding.Change) {
	type line struct {
		chart string
		row   int
	}
	rows := map[line][]rune{}
	var order []line
	for n := range needles.All() {
		name, column, row := s.Source(n, r)
		if name == "" {
			continue
		}
		c, at := p.Charts[name], line{name, row}
		if rows[at] == nil {
			for _, key := range c.Row(row - 1) {
				rows[at] = append(rows[at], c.Keys[key])
			}
			order = append(order, at)
		}
		rows[at][column-1] = c.Character(y, p)
	}
	for _, at := range order {
		edit = append(edit, finding.Change{Op: "replace", Path: fmt.Sprintf("/charts/%s/rows/%d", piece.Escape(at.chart), p.Charts[at.chart].H-at.row), Value: string(rows[at])})
	}
	return edit
}
