package paper

import "vindel/knit/chart"

// Sign is how a stitch is marked in a cell: lines from point to point, and rings. x runs
// over the cell from 0 to 1 rightwards and y downwards; a ring's radius is measured in the
// shorter side of the cell.
type Sign struct {
	Lines [][]float64  `json:"lines"` // x, y, x, y …
	Rings [][3]float64 `json:"rings"` // x, y, radius
}

// Signs are our own marks, on the screen and on paper alike: a hanging bead for a tuck, an
// upright for a slipped stitch, a bar for a purl, a band for the woven yarn, a ring for a
// yarn-over, and decreases as the stitch that shows with the foot of the one it covers.
var Signs = map[chart.Stitch]Sign{
	chart.Purl:      {Lines: [][]float64{{0.2, 0.5, 0.8, 0.5}}},
	chart.Tuck:      {Lines: [][]float64{{0.5, 0.12, 0.5, 0.43}}, Rings: [][3]float64{{0.5, 0.62, 0.19}}},
	chart.Slip:      {Lines: [][]float64{{0.5, 0.15, 0.5, 0.85}}},
	chart.Weave:     {Lines: [][]float64{{0.05, 0.41, 0.95, 0.41}, {0.05, 0.61, 0.95, 0.61}}},
	chart.YarnOver:  {Rings: [][3]float64{{0.5, 0.5, 0.28}}},
	chart.LeanRight: {Lines: [][]float64{{0.25, 0.85, 0.75, 0.15}, {0.81, 0.85, 0.57, 0.5}}},
	chart.LeanLeft:  {Lines: [][]float64{{0.75, 0.85, 0.25, 0.15}, {0.19, 0.85, 0.43, 0.5}}},
	chart.Centre:    {Lines: [][]float64{{0.15, 0.85, 0.5, 0.41, 0.85, 0.85}, {0.5, 0.15, 0.5, 0.85}}},
	chart.NoStitch: {Lines: [][]float64{{0.15, 0.85, 0.35, 0.15}, {0.43, 0.85, 0.63, 0.15},
		{0.71, 0.85, 0.91, 0.15}}},
}

// YarnSigns tell yarns apart where colours do not, by the order of the piece's yarns: the first is
// left bare, and again after the last.
var YarnSigns = []Sign{
	{},
	{Rings: [][3]float64{{0.5, 0.5, 0.13}}},
	{Lines: [][]float64{{0.28, 0.72, 0.72, 0.28}}},
	{Lines: [][]float64{{0.3, 0.36, 0.7, 0.36}, {0.3, 0.64, 0.7, 0.64}}},
	{Lines: [][]float64{{0.32, 0.32, 0.68, 0.68}, {0.68, 0.32, 0.32, 0.68}}},
	{Lines: [][]float64{{0.28, 0.66, 0.5, 0.34, 0.72, 0.66}}},
	{Rings: [][3]float64{{0.34, 0.5, 0.1}, {0.66, 0.5, 0.1}}},
	{Lines: [][]float64{{0.36, 0.28, 0.36, 0.72}, {0.64, 0.28, 0.64, 0.72}}},
}

// OrdinarySigns are the marks that hand-knitting charts usually have, where they differ.
var OrdinarySigns = map[chart.Stitch]Sign{
	chart.Purl:      {Rings: [][3]float64{{0.5, 0.5, 0.08}}},
	chart.LeanRight: {Lines: [][]float64{{0.2, 0.85, 0.8, 0.15}}},
	chart.LeanLeft:  {Lines: [][]float64{{0.8, 0.85, 0.2, 0.15}}},
	chart.Centre:    {Lines: [][]float64{{0.15, 0.85, 0.5, 0.15, 0.85, 0.85}, {0.5, 0.15, 0.5, 0.85}}},
}

// sign adds a stitch's mark in a cell to a path.
func (p *path) sign(st chart.Stitch, x, y, w, h float64) { p.draw(Signs[st], x, y, w, h) }

func (p *path) draw(s Sign, x, y, w, h float64) {
	for _, points := range s.Lines {
		p.move(x+points[0]*w, y+points[1]*h)
		for i := 2; i < len(points); i += 2 {
			p.line(x+points[i]*w, y+points[i+1]*h)
		}
	}
	for _, r := range s.Rings {
		p.circle(x+r[0]*w, y+r[1]*h, r[2]*min(w, h))
	}
}
