package piece

import (
	"slices"

	"vindel/knit/chart"
)

// Order is the area's transforms in the order in which they are applied, the mirroring of a
// drawing that faces away last (rules 2).
func (a *Area) Order() (names []string) {
	for _, name := range chart.Transforms {
		if slices.Contains(a.Transform, name) {
			names = append(names, name)
		}
	}
	if a.Away {
		names = append(names, "mirror")
	}
	return names
}

// Size is the area's width in stitches and its height in rows, as it lies on the bed.
func (a *Area) Size() (w, h int) {
	w, h = a.Columns[1]-a.Columns[0]+1, a.Rows[1]-a.Rows[0]+1
	if a.Chart.IsLines() {
		rows, _ := a.LineRows()
		h = len(rows)
	}
	for _, name := range a.Order() {
		w, h = chart.Grown(name, w, h)
	}
	return w, h
}
