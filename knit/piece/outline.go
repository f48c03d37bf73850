package piece

import (
	"math"

	"vindel/knit/machine"
)

// Outline is a shape in millimetres: the corners of either edge, [across, up], bottom first. Across counts
// to the right from anywhere; what matters is how far an edge lies from its first corner, which is the
// cast-on's.
type Outline struct{ Left, Right [][2]float64 }

// MostCorners bounds the corners of an edge, MostMM their distance in millimetres.
const (
	MostCorners = 200
	MostMM      = 20000
)

func (r *reader) outline(n node) {
	if !n.object("left", "right") {
		return
	}
	o := &Outline{}
	for key, to := range map[string]*[][2]float64{"left": &o.Left, "right": &o.Right} {
		at := n.at(key)
		if k := at.list(); k < 2 || k > MostCorners {
			at.fail("%d corners: 2 to %d, each millimetres across and up, bottom first", k, MostCorners)
			continue
		}
		before := 0.0
		for i := range at.list() {
			c := at.index(i)
			if l, ok := c.value.([]any); !ok || len(l) != 2 {
				c.fail("%s: two numbers, millimetres across and up", c.quoted())
				continue
			}
			p := [2]float64{c.index(0).millimetres(), c.index(1).millimetres()}
			if p[1] < before {
				c.fail("%s: lies below the corner before it", c.quoted())
			}
			if i == 0 && p[1] != 0 {
				c.fail("%s: an edge begins at the cast-on, 0 mm up", c.quoted())
			}
			before = p[1]
			*to = append(*to, p)
		}
	}
	r.p.Shape = &Shape{Outline: o, low: r.p.From, high: r.p.To}
}

// millimetres is a number, of either sign.
func (n node) millimetres() float64 {
	num, ok := n.value.(interface{ Float64() (float64, error) })
	if !ok {
		n.fail("%s: a number of millimetres is needed", n.quoted())
		return 0
	}
	v, err := num.Float64()
	if err != nil || math.Abs(v) > MostMM {
		n.fail("%s: millimetres, at most %d", n.quoted(), MostMM)
		return 0
	}
	return v
}

// Corner is a corner of an outline on the needles: how many stitches its edge has come out since the
// cast-on (less than 0: in), and after how many rows.
type Corner struct{ Stitches, Rows int }

// Corners are an edge's corners through the swatch: stitches to the nearest, rows to the nearest even.
func (o *Outline) Corners(side machine.Side, stitchMM, rowMM float64) (list []Corner) {
	edge, way := o.Left, -1.0
	if side == machine.Right {
		edge, way = o.Right, 1
	}
	for _, c := range edge {
		list = append(list, Corner{int(math.Round((c[0] - edge[0][0]) * way / stitchMM)), 2 * int(math.Round(c[1]/rowMM/2))})
	}
	return list
}

// Width is the cast-on's stitches: to the nearest, and even where the edges are each other's mirror.
func (o *Outline) Width(stitchMM float64) int {
	w := (o.Right[0][0] - o.Left[0][0]) / stitchMM
	if o.Symmetric() {
		return max(2, 2*int(math.Round(w/2)))
	}
	return max(1, int(math.Round(w)))
}

// Symmetric says that the edges are each other's mirror image.
func (o *Outline) Symmetric() bool {
	if len(o.Left) != len(o.Right) {
		return false
	}
	for i := range o.Left {
		out := (o.Left[i][0] - o.Left[0][0]) + (o.Right[i][0] - o.Right[0][0])
		if math.Abs(out) > 0.01 || math.Abs(o.Left[i][1]-o.Right[i][1]) > 0.01 {
			return false
		}
	}
	return true
}

// Rules are the steps that the outline comes to. Between two corners single
// steps are spread evenly; where an edge is flatter than a stitch a row, several go or come every second row.
func (o *Outline) Rules(stitchMM, rowMM float64) (rules []ShapeRule) {
	add := func(r ShapeRule) {
		if r.Wrap = true; r.Stitches != 0 {
			rules = append(rules, r)
		}
	}
	for side := machine.Left; side <= machine.Right; side++ {
		corners := o.Corners(side, stitchMM, rowMM)
		from := 1 // the first row that has no step yet
		for i := 1; i < len(corners); i++ {
			a, b := corners[i-1], corners[i]
			n, rows := b.Stitches-a.Stitches, b.Rows-a.Rows
			at := max(a.Rows+1, from)
			switch steep := max(n, -n); {
			case n == 0:
				continue
			case rows == 0:
				add(ShapeRule{Side: side, Rows: [2]int{at, at}, Stitches: n})
				from = at + 1
				continue
			case steep <= b.Rows-at+1:
				add(ShapeRule{Side: side, Rows: [2]int{at, b.Rows}, Spread: true, Stitches: n})
			default: // groups, every second row
				groups, done := max(1, (b.Rows-at+2)/2), 0
				for g := range groups {
					to := n * (g + 1) / groups
					add(ShapeRule{Side: side, Rows: [2]int{at + 2*g, at + 2*g}, Stitches: to - done})
					done = to
				}
			}
			from = b.Rows + 1
		}
	}
	return rules
}
