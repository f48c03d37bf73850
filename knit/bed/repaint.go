package bed

import (
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Spot is needles in a section row, from 1.
type Spot struct {
	Needles machine.Set
	Row     int
}

// Repaint is the edit of the charts after which needles show yarn y in their rows. Needles
// that no area covers cannot be repainted; where none can, the edit is empty.
func (s *Placed) Repaint(y piece.YarnNo, p *piece.Piece, spots ...Spot) []edit.Change {
	return s.redraw(spots, p, func(c *piece.Chart) rune { return c.Character(y, p) })
}

// Restitch is the edit of the charts after which needles make a stitch in their rows; empty
// where none of them lies in an area whose chart has a mark for it.
func (s *Placed) Restitch(stitch chart.Stitch, p *piece.Piece, spots ...Spot) []edit.Change {
	return s.redraw(spots, p, func(c *piece.Chart) rune { return c.Mark(stitch) })
}

// redraw is the edit that draws the cells which needles show in their rows with the
// character that each chart has for it; 0: the chart has none, and stays.
func (s *Placed) redraw(spots []Spot, p *piece.Piece, with func(*piece.Chart) rune) []edit.Change {
	var cells []edit.Cell
	for _, at := range spots {
		for n := range at.Needles.All() {
			if name, column, row := s.Source(n, at.Row); name != "" {
				cells = append(cells, edit.Cell{Chart: name, Column: column, Row: row})
			}
		}
	}
	return edit.Cells(p, cells, with)
}
