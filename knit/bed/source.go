package bed

import (
	"slices"

	"vindel/knit/chart"
	"vindel/knit/piece"
)

// turned reads an area's transforms backwards: from a cell as it lies on the bed to
// the cell of the drawing. It must agree with chart's transforms, cell for cell.
type turned struct{ *piece.Area }

// drawn is the chart's column and row, from 1 at the bottom left, of the cell that
// lies at column x and row y of the area, from 0.
func (a turned) drawn(x, y int) (column, row int) {
	type size struct{ w, h int }
	steps := a.Order()
	before := make([]size, len(steps)) // the size each step starts from
	w, h := a.Columns[1]-a.Columns[0]+1, a.Rows[1]-a.Rows[0]+1
	for i, name := range steps {
		before[i] = size{w, h}
		w, h = chart.Grown(name, w, h)
	}
	for i, name := range slices.Backward(steps) {
		w, h := before[i].w, before[i].h
		switch name {
		case "turn":
			x, y = y, h-1-x
		case "turn-right":
			x, y = w-1-y, x
		case "mirror":
			x = w - 1 - x
		case "upside-down":
			y = h - 1 - y
		case "bounce":
			if y >= h {
				y = 2*h - 2 - y
			}
		case "double-width":
			x /= 2
		case "double-length":
			y /= 2
		}
	}
	return a.Columns[0] + x, a.Rows[0] + y
}
