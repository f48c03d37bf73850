package piece

import (
	"image/color"
	"slices"

	"vindel/knit/chart"
)

// Picture is the chart as a picture's keys and colours: in the order of the piece's
// yarns where every character stands for a yarn of its own, else in the chart's.
func (p *Piece) Picture(c *Chart) (*chart.Chart, []color.RGBA) {
	var colours []color.RGBA
	order := make([]uint8, len(c.Keys))
	var keys []rune
	for i, y := range p.Yarns {
		k := slices.IndexFunc(c.Means, func(m chart.Meaning) bool { return m.Yarn == y.ID })
		keys, colours = append(keys, rune(y.ID)), append(colours, hexRGBA(y.Colour))
		if k >= 0 {
			keys[i], order[k] = c.Keys[k], uint8(i)
		}
	}
	seen := map[byte]bool{}
	for _, m := range c.Means {
		if m.Yarn == 0 || m.Stitch != chart.Knit || seen[m.Yarn] {
			keys = nil
		}
		seen[m.Yarn] = true
	}
	for i, k := range keys {
		if slices.Contains(keys[:i], k) {
			keys = nil
			break
		}
	}
	if keys == nil {
		return c.Chart, DefaultPalette(len(c.Keys))
	}
	out := &chart.Chart{Name: c.Name, Face: c.Face, Keys: keys, Grid: chart.NewMat[uint8](c.W, c.H)}
	for i, k := range c.Cells {
		out.Cells[i] = order[k]
	}
	return out, colours
}
