package edit

import (
	"fmt"
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Mirrored makes a piece its own mirror image as it lies on the bed: needles, areas, edges, parts. A recipe
// cannot be turned round, and a piece with one is refused.
func Mirrored(p *piece.Piece, name string) (changes []Change, err error) {
	turn := func(n machine.Needle) machine.Needle { return -1 - n }
	set := func(s machine.Set) (out machine.Set) {
		for n := range s.All() {
			out.Add(turn(n))
		}
		return out
	}
	put := func(at Path, v any) { changes = append(changes, Set(at, v)...) }
	put(Member("name"), name)
	needles := map[string]any{"from": turn(p.To).String(), "to": turn(p.From).String(), "out": set(p.Out).String()}
	changes = append(changes, Put(Member("needles"), needles)...)
	for i := range p.Sections {
		s := &p.Sections[i]
		if s.Technique.OwnRows {
			return nil, fmt.Errorf("section %d is a recipe, and a recipe has no mirror image", i+1)
		}
		if !s.Out.Empty() {
			put(Section(i+1).To("out"), set(s.Out).String())
		}
		if !s.SecondOut.Empty() {
			put(Section(i+1).To("second_out"), set(s.SecondOut).String())
		}
		for k := range s.Areas {
			a := &s.Areas[k]
			at := Area(i+1, k+1)
			w, _ := a.Size()
			first := -a.First - machine.Needle(w)
			for first < p.Machine.Bed.First() {
				first += machine.Needle(w)
			}
			for first > p.Machine.Bed.Last() {
				first -= machine.Needle(w)
			}
			put(at.To("first"), first.String())
			from, to := turn(a.Asked[1]).String(), turn(a.Asked[0]).String()
			if a.Edge[1] {
				from = "edge"
			}
			if a.Edge[0] {
				to = "edge"
			}
			put(at.To("from"), from)
			put(at.To("to"), to)
			transform := slices.DeleteFunc(slices.Clone(a.Transform), func(t string) bool { return t == "mirror" })
			if len(transform) == len(a.Transform) {
				transform = append(transform, "mirror")
			}
			put(at.To("transform"), slices.Concat([]string{}, transform))
			if a.Drop != 0 {
				put(at.To("drop"), -a.Drop)
			}
		}
	}
	sh := p.Shape
	switch {
	case sh == nil:
	case sh.Outline != nil:
		turned := func(edge [][2]float64) (out [][2]float64) {
			for _, c := range edge {
				out = append(out, [2]float64{-c[0], c[1]})
			}
			return out
		}
		changes = append(changes, Put(Member("outline"), outlineDoc(&piece.Outline{Left: turned(sh.Outline.Right),
			Right: turned(sh.Outline.Left)}))...)
		if sh.Kept != nil {
			changes = append(changes, Drop(Member("kept"))...)
		}
	default:
		for i := range sh.Rules {
			if r := &sh.Rules[i]; !r.Both {
				put(Member("shape").At(r.At).To("side"), r.Side.Other().String())
			}
		}
		if sp := sh.Split; sp != nil {
			at := Member("shape").At(sp.At)
			put(at.To("left"), turn(sp.Right).String())
			put(at.To("right"), turn(sp.Left).String())
			if sp.First != 0 {
				put(at.To("first"), sp.First.Other().String())
			}
		}
	}
	return changes, nil
}
