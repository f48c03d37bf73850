package bed

import (
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Repaint is the edit of the charts after which the given needles show yarn y in
// section row r (from 1). Needles that no area covers cannot be repainted; where
// none can, the edit is empty.
func (s *Placed) Repaint(needles machine.Set, r int, y piece.YarnNo, p *piece.Piece) []edit.Change {
	return s.redraw(needles, r, p, func(c *piece.Chart) rune { return c.Character(y, p) })
}

// Restitch is the edit of the charts after which the given needles make a stitch in
// section row r; empty where none of them lies in an area whose chart has a mark for it.
func (s *Placed) Restitch(needles machine.Set, r int, stitch chart.Stitch, p *piece.Piece) []edit.Change {
	return s.redraw(needles, r, p, func(c *piece.Chart) rune { return c.Mark(stitch) })
}

// redraw is the edit that draws the cells which needles show in row r with the character
// that each chart has for it; 0: the chart has none, and stays.
func (s *Placed) redraw(needles machine.Set, r int, p *piece.Piece, with func(*piece.Chart) rune) []edit.Change {
	var cells []edit.Cell
	for n := range needles.All() {
		if name, column, row := s.Source(n, r); name != "" {
			cells = append(cells, edit.Cell{Chart: name, Column: column, Row: row})
		}
	}
	return edit.Cells(p, cells, with)
}
