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
	if o := readOutline(n); o != nil {
		r.p.Shape = &Shape{Outline: o, low: r.p.From, high: r.p.To}
	}
}

func readOutline(n node) *Outline {
	if !n.object("left", "right") {
		return nil
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
	return o
}

// Kept is what was knitted before an outline was changed: its rows, and the steps that they had.
type Kept struct {
	Rows  int
	Rules []ShapeRule
	Cast  int // stitches that were cast on
}

// Size is a size of a shaped piece that is kept beside the others: an outline with a name.
type Size struct {
	Name    string
	Outline *Outline
}

// MostSizes bounds the sizes that are kept side by side.
const MostSizes = 20

// sizes reads the sizes that are kept beside the outline.
func (r *reader) sizes(n node) {
	if k := n.list(); k > MostSizes {
		n.fail("%d sizes: at most %d", k, MostSizes)
		return
	}
	for i := range n.list() {
		at := n.index(i)
		if !at.object("name", "outline") {
			continue
		}
		s := Size{Name: at.at("name").short()}
		if s.Name == "" {
			at.at("name").fail("missing; a size has a name")
		}
		if at.at("outline").missing() {
			at.at("outline").fail("missing; a size has an outline")
		} else if s.Outline = readOutline(at.at("outline")); s.Outline != nil {
			r.p.Sizes = append(r.p.Sizes, s)
		}
	}
}

// kept reads what was knitted before the outline was changed.
func (r *reader) kept(n node) {
	if n.missing() || !n.object("rows", "shape") {
		return
	}
	if r.p.Shape == nil || r.p.Shape.Outline == nil {
		n.fail("only an outline is worked out anew; steps that are written stand as they are")
		return
	}
	k := &Kept{Rows: n.at("rows").whole(1, MaxAllRows)}
	list := n.at("shape")
	for i := range list.list() {
		rule, ok := r.shapeRule(list.index(i), i)
		if ok && (rule.Rows[1] > k.Rows || rule.Part != Whole || rule.Hold || rule.Release) {
			list.index(i).fail("row %d: kept are steps of the %d rows that are knitted", rule.Rows[1], k.Rows)
			ok = false
		}
		if ok {
			k.Rules = append(k.Rules, rule)
		}
	}
	r.p.Shape.Kept = k
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

// Corners are an edge's corners through the swatch: rows to the nearest even, stitches so that the width there is the
// nearest, whatever was rounded away at the cast-on (cast stitches; 0: as many as the outline asks for).
func (o *Outline) Corners(side machine.Side, stitchMM, rowMM float64, cast int) (list []Corner) {
	if cast == 0 {
		cast = o.Width(stitchMM)
	}
	edge, way := o.Left, -1.0
	if side == machine.Right {
		edge, way = o.Right, 1
	}
	const less = 1 - 1e-9 // so that half a stitch too few at the cast-on is not made up at once
	for i, c := range edge {
		out := 0
		if i > 0 {
			out = int(math.Round((c[0]-edge[0][0])*way/stitchMM + o.lacks(stitchMM, cast)*less))
		}
		list = append(list, Corner{out, 2 * int(math.Round(c[1]/rowMM/2))})
	}
	return list
}

// lacks is by how many stitches a cast-on is narrower than asked, at either edge.
func (o *Outline) lacks(stitchMM float64, cast int) float64 {
	return ((o.Right[0][0]-o.Left[0][0])/stitchMM - float64(cast)) / 2
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
// Where rows have been knitted already, kept, their steps stand, and the rest goes on from where they end.
func (o *Outline) Rules(stitchMM, rowMM float64, kept *Kept) (rules []ShapeRule) {
	add := func(r ShapeRule) {
		if r.Wrap = true; r.Stitches != 0 {
			rules = append(rules, r)
		}
	}
	if kept != nil {
		rules = append(rules, kept.Rules...)
	}
	cast := 0
	if kept != nil {
		cast = kept.Cast
	}
	for side := machine.Left; side <= machine.Right; side++ {
		corners := o.Corners(side, stitchMM, rowMM, cast)
		from := 1 // the first row that has no step yet
		if kept != nil {
			corners, from = kept.onwards(side, corners), kept.Rows+1
		}
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

// onwards is an edge's corners above the rows that are knitted, the first of them where those end.
func (k *Kept) onwards(side machine.Side, corners []Corner) []Corner {
	list := []Corner{{k.At(side), k.Rows}}
	for i, c := range corners {
		if c.Rows > k.Rows || c.Rows == k.Rows && i > 0 && corners[i-1].Rows == k.Rows {
			list = append(list, c)
		}
	}
	return list
}

// At is how far an edge has come out after the rows that are knitted.
func (k *Kept) At(side machine.Side) (n int) {
	for _, r := range k.Rules {
		if r.Both || r.Side == side {
			n += r.Stitches
		}
	}
	return n
}

// Rows is how many rows the outline asks for: to its highest corner.
func (o *Outline) Rows(rowMM float64) int {
	tall := max(o.Left[len(o.Left)-1][1], o.Right[len(o.Right)-1][1])
	return max(2, 2*int(math.Round(tall/rowMM/2)))
}

// Measure is one corner of an outline: what is asked for in millimetres, what the needles give, in stitches out
// from the cast-on's edge and rows, and that in millimetres.
type Measure struct {
	Side     machine.Side
	No       int // of the corner, from 1 at the cast-on
	Asked    [2]float64
	Got      [2]float64
	Stitches int
	Rows     int
	Knitted  bool // it lies in rows that are knitted already: what stands is theirs
}

// Off is by how much what is got differs from what is asked, across and up.
func (m Measure) Off() [2]float64 { return [2]float64{m.Got[0] - m.Asked[0], m.Got[1] - m.Asked[1]} }

// Measures are all corners of an outline, asked and got where so many stitches are cast on.
func (o *Outline) Measures(stitchMM, rowMM float64, cast int, kept *Kept) (list []Measure) {
	worked := 0
	if kept != nil {
		worked = kept.Cast
	}
	for side := machine.Left; side <= machine.Right; side++ {
		edge, way := o.Left, -1.0
		if side == machine.Right {
			edge, way = o.Right, 1
		}
		for i, c := range o.Corners(side, stitchMM, rowMM, worked) {
			m := Measure{Side: side, No: i + 1, Asked: edge[i], Stitches: c.Stitches, Rows: c.Rows}
			if kept != nil && i > 0 && c.Rows <= kept.Rows {
				m.Knitted, m.Stitches = true, kept.after(side, c.Rows)
			}
			out := float64(m.Stitches) - o.lacks(stitchMM, cast)
			m.Got = [2]float64{edge[0][0] + way*out*stitchMM, float64(c.Rows) * rowMM}
			list = append(list, m)
		}
	}
	return list
}

// after is how far an edge has come out after a row that is knitted.
func (k *Kept) after(side machine.Side, row int) (n int) {
	for _, r := range k.Rules {
		for _, s := range r.steps() {
			if s.Side == side && s.Row <= row {
				n += s.Stitches
			}
		}
	}
	return n
}

// Scaled is the outline so many times as wide and as tall.
func (o *Outline) Scaled(across, up float64) *Outline {
	scale := func(edge [][2]float64) (out [][2]float64) {
		for _, c := range edge {
			out = append(out, [2]float64{tenth(c[0] * across), tenth(c[1] * up)})
		}
		return out
	}
	return &Outline{scale(o.Left), scale(o.Right)}
}

func tenth(x float64) float64 { return math.Round(x*10) / 10 }
