package edit

import (
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// LayArea puts area k of section i on the needles from–to with its repeat beginning at first.
func LayArea(i, k int, first, from, to machine.Needle) []Change {
	at := Area(i, k)
	return slices.Concat(Set(at.To("first"), first.String()), AreaEnds(i, k, from, to))
}

// AreaEnds gives area k of section i other ends; its repeats stay where they are.
func AreaEnds(i, k int, from, to machine.Needle) []Change {
	if to < from {
		return nil
	}
	return slices.Concat(Set(Area(i, k).To("from"), from.String()), Set(Area(i, k).To("to"), to.String()))
}

// AddMotif adds a chart to section i once, with its leftmost column on needle first, blank
// above its top and over everything that lies there.
func AddMotif(i int, c *piece.Chart, first machine.Needle) []Change {
	last := first + machine.Needle(c.W-1)
	return Set(Section(i).To("areas").End(), map[string]any{"chart": c.Name, "first": first.String(), "from": first.String(), "to": last.String(), "above": "blank"})
}

// AddGround lays a chart over all the needles of section i, behind everything else.
func AddGround(i int, c *piece.Chart) []Change {
	return Set(Area(i, 0), map[string]any{"chart": c.Name})
}

// ToggleTransform gives an area a transform, or takes it away.
func ToggleTransform(i, k int, a *piece.Area, name string) []Change {
	list := slices.DeleteFunc(slices.Clone(a.Transform), func(t string) bool { return t == name })
	if len(list) == len(a.Transform) {
		list = append(list, name)
	}
	if list == nil {
		list = []string{}
	}
	return Set(Area(i, k).To("transform"), list)
}

// RemoveArea takes area k of section i away.
func RemoveArea(i, k int) []Change { return Drop(Area(i, k)) }

// Centred puts w stitches in the middle of the bed, and with them every area that lay on
// all the needles.
func Centred(p *piece.Piece, w int) []Change {
	from, to := machine.Centre(w, p.Options.OddSide())
	changes := Put(Member("needles"), map[string]any{"from": from.String(), "to": to.String(), "out": p.Out.And(machine.Range(from, to)).String()})
	for i, sec := range p.Sections {
		for k, a := range sec.Areas {
			if a.From == p.From && a.To == p.To {
				changes = append(changes, AreaEnds(i, k, from, to)...)
				changes = append(changes, Set(Area(i, k).To("first"), (a.First+from-a.From).String())...)
			}
		}
	}
	return changes
}
