package edit

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// ShapeSingles makes entry `at` (from 0) of the shape's list single steps, one a row, from a row on.
func ShapeSingles(at, row, n int) []Change {
	entry := Member("shape").At(at)
	return append(Set(entry.To("rows"), []any{row, row + n - 1}), Drop(entry.To("row"))...)
}

// NoShape makes a piece a rectangle again.
func NoShape(p *piece.Piece) (changes []Change) {
	if p.Shape == nil {
		return nil
	}
	if p.Shape.Outline == nil {
		return Drop(Member("shape"))
	}
	if p.Shape.Kept != nil {
		changes = Drop(Member("kept"))
	}
	return append(changes, Drop(Member("outline"))...)
}

// entry is a rule as the file has it.
func entry(r *piece.ShapeRule) map[string]any {
	side := r.Side.String()
	if r.Both {
		side = "both"
	}
	e := map[string]any{"side": side}
	if r.Spread {
		e["rows"] = []any{r.Rows[0], r.Rows[1]}
	} else {
		e["row"] = r.Rows[0]
	}
	if r.Release {
		e["release"] = true
	} else {
		e["stitches"] = r.Stitches
	}
	if r.Fashion > 0 {
		e["fashion"] = r.Fashion
	}
	if r.Hold {
		if e["by"] = "hold"; !r.Wrap {
			e["wrap"] = false
		}
	}
	if r.Part != piece.Whole {
		e["part"] = r.Part.String()
	}
	return e
}

// AddStep adds a step to the shape's list; an outline's steps are written out first.
func AddStep(p *piece.Piece, r piece.ShapeRule) []Change {
	if p.Shape == nil {
		return Set(Member("shape"), []any{entry(&r)})
	}
	return append(ShapeAsSteps(p), Set(Member("shape").End(), entry(&r))...)
}

// Divide adds the split to the shape's list.
func Divide(p *piece.Piece, s piece.Split) []Change {
	e := map[string]any{"split": s.Row, "left": s.Left.String(), "right": s.Right.String()}
	if s.First != 0 {
		e["first"] = s.First.String()
	}
	if p.Shape == nil {
		return Set(Member("shape"), []any{e})
	}
	return append(ShapeAsSteps(p), Set(Member("shape").End(), e)...)
}

// DropStep takes an entry (from 0) out of the shape's list; with the last the shape goes.
func DropStep(p *piece.Piece, at int) []Change {
	if n := len(p.Shape.Rules) + min(1, splits(p)); n == 1 {
		return NoShape(p)
	}
	return Drop(Member("shape").At(at))
}

func splits(p *piece.Piece) int {
	if p.Shape.Split != nil {
		return 1
	}
	return 0
}

// ShapeAsSteps writes an outline's steps out, so that each can be changed by itself; where they are written, nothing.
func ShapeAsSteps(p *piece.Piece) []Change {
	if p.Shape == nil || p.Shape.Outline == nil {
		return nil
	}
	list := []any{}
	for i := range p.Shape.Rules {
		list = append(list, entry(&p.Shape.Rules[i]))
	}
	return append(NoShape(p), Set(Member("shape"), list)...)
}

func corners(edge [][2]float64) (list []any) {
	for _, c := range edge {
		list = append(list, []any{c[0], c[1]})
	}
	return list
}

func outlineDoc(o *piece.Outline) map[string]any {
	return map[string]any{"left": corners(o.Left), "right": corners(o.Right)}
}

// Outline gives the piece an outline in millimetres: as many stitches cast on and rows as it asks for by the
// swatch. Where rows are knitted already, cast-on and rows below stay.
func Outline(p *piece.Piece, o *piece.Outline, knitted int) (changes []Change) {
	if p.Shape != nil && p.Shape.Outline == nil {
		changes = Drop(Member("shape"))
	}
	if p.Shape != nil && p.Shape.Outline != nil {
		changes = Put(Member("outline"), outlineDoc(o))
	} else {
		changes = append(changes, Set(Member("outline"), outlineDoc(o))...)
	}
	if w := min(o.Width(p.StitchMM()), int(p.Machine.Bed)); knitted == 0 && w != p.Work().Len() {
		changes = append(changes, Centred(p, w, 0)...)
	}
	if knitted == 0 {
		changes = append(changes, followEdges(p)...)
	}
	rows, _ := rowsFor(p, o.Rows(p.RowMM()), knitted)
	return append(changes, rows...)
}

// Refit is what follows where a piece with an outline, was, got another gauge or machine and without its outline is p:
// cast-on and rows by that, where so many rows are knitted already as in Outline. what says it: "78 for 72 stitches,
// 110 for 98 rows".
func Refit(was, p *piece.Piece, knitted int) (changes []Change, what string) {
	if was.Shape == nil || was.Shape.Outline == nil || was.StitchMM() == p.StitchMM() && was.RowMM() == p.RowMM() {
		return nil, ""
	}
	o := was.Shape.Outline
	var said []string
	if w, now := min(o.Width(p.StitchMM()), int(p.Machine.Bed)), p.Work().Len(); knitted == 0 && w != now {
		changes = Centred(p, w, 0)
		said = append(said, fmt.Sprintf("%d for %s", w, words.Stitches(now)))
	}
	now := p.FirstRow(len(p.Sections)) - 1
	if more, all := rowsFor(p, o.Rows(p.RowMM()), knitted); more != nil {
		changes = append(changes, more...)
		said = append(said, fmt.Sprintf("%d for %s", all, words.Count(now, "row", "rows")))
	}
	return changes, strings.Join(said, ", ")
}

// followEdges lets every pattern that lay on all the needles follow the edges of the shape that they get.
func followEdges(p *piece.Piece) (changes []Change) {
	for i := range p.Sections {
		for k, a := range p.Sections[i].Areas {
			if a.From == p.From && a.To == p.To {
				changes = append(changes, toEdges(i+1, k+1)...)
			}
		}
	}
	return changes
}

// rowsFor gives the piece so many rows in all, in its last section that has rows of its own, as far as the others and
// what is knitted let it; and how many that makes.
func rowsFor(p *piece.Piece, rows, knitted int) ([]Change, int) {
	for i := len(p.Sections) - 1; i >= 0; i-- {
		s := &p.Sections[i]
		if s.Technique.OwnRows {
			continue
		}
		now := p.RowsOf(s)
		others := p.FirstRow(len(p.Sections)) - 1 - now
		want := max(1, rows-others, knitted-p.FirstRow(i)+2)
		if want == now {
			break
		}
		return SectionRows(i+1, want), others + want
	}
	return nil, 0
}

// BeginShape begins with a shape of our own and its measures in millimetres.
func BeginShape(p *piece.Piece, s *piece.ShapeToBegin, measures []float64) ([]Change, error) {
	for i, m := range measures {
		if m <= 0 || m > piece.MostMM {
			return nil, fmt.Errorf("%s: %g: more than 0 and at most %d mm", s.Measures[i].Label, m, piece.MostMM)
		}
	}
	o := s.Outline(measures)
	for _, edge := range [][][2]float64{o.Left, o.Right} {
		for i := 1; i < len(edge); i++ {
			if edge[i][1] < edge[i-1][1] {
				return nil, fmt.Errorf("%s: the heights must grow from below: %g mm lies under %g mm", s.Label,
					edge[i][1], edge[i-1][1])
			}
		}
	}
	if !s.Neck {
		return Outline(p, o, 0), nil
	}
	wide, deep := measures[len(measures)-2], measures[len(measures)-1]
	total := o.Rows(p.RowMM())
	neck := max(2, 2*int(wide/p.StitchMM()/2+0.5))
	at := total - 2*int(deep/p.RowMM()/2+0.5) + 1
	if at < 2 || float64(neck)*p.StitchMM() >= measures[1] {
		return nil, fmt.Errorf("%s: a neck of %g by %g mm does not fit into %g by %g mm", s.Label, wide, deep,
			measures[1], measures[2])
	}
	middle := max(2, neck/2/2*2) // half of it is bound off at once, the rest one by one
	side := (neck - middle) / 2
	from, to := machine.Centre(min(o.Width(p.StitchMM()), int(p.Machine.Bed)), p.Options.OddSide())
	left := (from+to+1)/2 - machine.Needle(middle/2) - 1
	list := []any{}
	for _, r := range o.Rules(p.StitchMM(), p.RowMM(), nil) {
		list = append(list, entry(&r))
	}
	list = append(list, map[string]any{"split": at, "left": left.String(),
		"right": (left + machine.Needle(middle) + 1).String(), "first": "right"})
	if end := min(total, at+max(2*side, (total-at)/2)); side > 0 && end > at {
		n := min(side, end-at)
		list = append(list, map[string]any{"part": "first", "side": "left", "rows": []any{at + 1, end}, "stitches": -n},
			map[string]any{"part": "second", "side": "right", "rows": []any{at + 1, end}, "stitches": -n})
	}
	var changes []Change
	if p.Shape != nil {
		changes = NoShape(p)
	}
	changes = append(changes, Centred(p, o.Width(p.StitchMM()), 0)...)
	changes = append(changes, followEdges(p)...)
	rows, _ := rowsFor(p, total, 0)
	return slices.Concat(changes, rows, Set(Member("shape"), list)), nil
}

// OutlineOf is the piece's outline: the one it has, or that of its cast-on, rows and steps; false where it
// divides or waits, which no outline says.
func OutlineOf(p *piece.Piece) (*piece.Outline, bool) {
	sh := p.Shape
	if sh != nil && sh.Outline != nil {
		return sh.Outline, true
	}
	total := p.FirstRow(len(p.Sections)) - 1
	st, row := p.StitchMM(), p.RowMM()
	half := float64(p.Work().Len()) * st / 2
	o := &piece.Outline{Left: [][2]float64{{-half, 0}}, Right: [][2]float64{{half, 0}}}
	if sh != nil {
		if sh.Split != nil {
			return nil, false
		}
		for side := machine.Left; side <= machine.Right; side++ {
			edge, way := &o.Left, -1.0
			if side == machine.Right {
				edge, way = &o.Right, 1
			}
			x := (*edge)[0][0]
			put := func(rows int) {
				if c := [2]float64{round(x), round(float64(rows) * row)}; (*edge)[len(*edge)-1] != c {
					*edge = append(*edge, c)
				}
			}
			rules := slices.Clone(sh.Rules)
			slices.SortStableFunc(rules, func(a, b piece.ShapeRule) int { return a.Rows[0] - b.Rows[0] })
			for _, r := range rules {
				if r.Hold || r.Release {
					return nil, false
				}
				if !r.Both && r.Side != side {
					continue
				}
				put(r.Rows[0] - 1)
				x += way * float64(r.Stitches) * st
				if r.Spread {
					put(r.Rows[1])
				} else {
					put(r.Rows[0] - 1)
				}
			}
			put(total)
		}
		return o, true
	}
	o.Left, o.Right = append(o.Left, [2]float64{-half, round(float64(total) * row)}), append(o.Right,
		[2]float64{half, round(float64(total) * row)})
	return o, true
}

func round(x float64) float64 {
	return float64(int(x*10+map[bool]float64{true: 0.5, false: -0.5}[x >= 0])) / 10
}

// MoveCorner moves a corner (from 1) of an outline's edge, and its mirror with it where alike is set; beside the
// corners next to it it stays between them.
func MoveCorner(o *piece.Outline, side machine.Side, no int, to [2]float64, alike bool) (*piece.Outline, error) {
	out := &piece.Outline{Left: slices.Clone(o.Left), Right: slices.Clone(o.Right)}
	edges := [3][][2]float64{machine.Left: out.Left, machine.Right: out.Right}
	place := func(side machine.Side, to [2]float64) error {
		edge := edges[side]
		if no < 1 || no > len(edge) {
			return fmt.Errorf("the %v edge has %d corners, not %d", side, len(edge), no)
		}
		switch {
		case no == 1:
			to[1] = 0
		default:
			to[1] = max(to[1], edge[no-2][1])
		}
		if no < len(edge) {
			to[1] = min(to[1], edge[no][1])
		}
		edge[no-1] = [2]float64{round(to[0]), round(to[1])}
		return nil
	}
	if err := place(side, to); err != nil {
		return nil, err
	}
	if alike && len(out.Left) == len(out.Right) {
		middle := o.Left[0][0] + o.Right[0][0]
		if err := place(side.Other(), [2]float64{middle - to[0], to[1]}); err != nil {
			return nil, err
		}
	}
	if low, high := out.Left[0][0], out.Right[0][0]; high-low < 1 {
		return nil, fmt.Errorf("the cast-on would have no width")
	}
	return out, nil
}

// AddCorner adds a corner after one of an outline's edge (from 1), half way to the next; DropCorner takes one away.
func AddCorner(o *piece.Outline, side machine.Side, no int, alike bool) *piece.Outline {
	return eachEdge(o, side, alike, func(edge [][2]float64) [][2]float64 {
		if no < 1 || no >= len(edge) {
			return edge
		}
		a, b := edge[no-1], edge[no]
		return slices.Insert(slices.Clone(edge), no, [2]float64{round((a[0] + b[0]) / 2), round((a[1] + b[1]) / 2)})
	})
}

// DropCorner takes a corner (from 1) of an outline's edge away; the first and the last stay.
func DropCorner(o *piece.Outline, side machine.Side, no int, alike bool) *piece.Outline {
	return eachEdge(o, side, alike, func(edge [][2]float64) [][2]float64 {
		if no <= 1 || no >= len(edge) {
			return edge
		}
		return slices.Delete(slices.Clone(edge), no-1, no)
	})
}

func eachEdge(o *piece.Outline, side machine.Side, alike bool, do func([][2]float64) [][2]float64) *piece.Outline {
	out := &piece.Outline{Left: o.Left, Right: o.Right}
	if side == machine.Left || alike {
		out.Left = do(o.Left)
	}
	if side == machine.Right || alike {
		out.Right = do(o.Right)
	}
	return out
}

// KeepSize keeps the outline as a size with a name, in the place of one that has it already; scaled says how many
// times as wide and as tall.
func KeepSize(p *piece.Piece, name string, o *piece.Outline) []Change {
	doc := map[string]any{"name": name, "outline": outlineDoc(o)}
	for i := range p.Sizes {
		if p.Sizes[i].Name == name {
			return Put(Member("sizes").At(i), doc)
		}
	}
	if len(p.Sizes) == 0 {
		return Set(Member("sizes"), []any{doc})
	}
	return Set(Member("sizes").End(), doc)
}

// DropSize forgets a size (from 0).
func DropSize(p *piece.Piece, at int) []Change {
	if len(p.Sizes) == 1 {
		return Drop(Member("sizes"))
	}
	return Drop(Member("sizes").At(at))
}

// Keep notes the steps of the rows that are knitted, so that an outline that changes leaves them as they are.
func Keep(p *piece.Piece, rows int) []Change {
	sh := p.Shape
	if sh == nil || sh.Outline == nil || rows == 0 || sh.Kept != nil && sh.Kept.Rows == rows {
		return nil
	}
	list := []any{}
	for i := range sh.Steps {
		if s := &sh.Steps[i]; s.Row <= rows {
			one := s.ShapeRule
			one.Spread, one.Rows = false, [2]int{s.Row, s.Row}
			list = append(list, entry(&one))
		}
	}
	doc := map[string]any{"rows": rows, "shape": list}
	if sh.Kept != nil {
		return Put(Member("kept"), doc)
	}
	return Set(Member("kept"), doc)
}

// Wrapped has the yarn laid round the first of all stitches that go into hold.
func Wrapped(p *piece.Piece) (changes []Change) {
	for i := range p.Shape.Rules {
		if r := &p.Shape.Rules[i]; r.Hold && !r.Wrap {
			changes = append(changes, Put(Member("shape").At(r.At).To("wrap"), true)...)
		}
	}
	return changes
}
