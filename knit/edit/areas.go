package edit

import (
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// PlaceArea puts an area of a section on the needles from–to with its repeat beginning at first.
func PlaceArea(section, area int, first, from, to machine.Needle) []Change {
	at := Area(section, area)
	return slices.Concat(Set(at.To("first"), first.String()), AreaEnds(section, area, from, to))
}

// AreaEnds gives an area of a section other ends; its repeats stay where they are.
func AreaEnds(section, area int, from, to machine.Needle) []Change {
	if to < from {
		return nil
	}
	at := Area(section, area)
	return slices.Concat(Set(at.To("from"), from.String()), Set(at.To("to"), to.String()))
}

// AddMotif adds a chart to a section once, with its leftmost column on needle first, blank
// above its top and over everything that lies there.
func AddMotif(section int, c *piece.Chart, first machine.Needle) []Change {
	last := first + machine.Needle(c.W-1)
	return Set(Section(section).To("areas").End(), map[string]any{
		"chart": c.Name, "first": first.String(), "from": first.String(), "to": last.String(), "above": "blank",
	})
}

// AddGround places a chart on all the needles of a section, behind everything else.
func AddGround(section int, c *piece.Chart) []Change {
	return Set(Area(section, 1), map[string]any{"chart": c.Name})
}

// ToggleTransform gives area a, number area of a section, a transform, or takes it away.
func ToggleTransform(section, area int, a *piece.Area, name string) []Change {
	list := slices.DeleteFunc(slices.Clone(a.Transform), func(t string) bool { return t == name })
	if len(list) == len(a.Transform) {
		list = append(list, name)
	}
	if list == nil {
		list = []string{}
	}
	return Set(Area(section, area).To("transform"), list)
}

// RemoveArea takes an area of a section away.
func RemoveArea(section, area int) []Change { return Drop(Area(section, area)) }

// Centred puts w stitches in the middle of the bed, and with them every area that lay on
// all the needles.
func Centred(p *piece.Piece, w int) []Change {
	from, to := machine.Centre(w, p.Options.OddSide())
	changes := Put(Member("needles"), map[string]any{"from": from.String(), "to": to.String(),
		"out": p.Out.And(machine.Range(from, to)).String()})
	for i, sec := range p.Sections {
		for k, a := range sec.Areas {
			if a.From == p.From && a.To == p.To {
				changes = append(changes, AreaEnds(i+1, k+1, from, to)...)
				changes = append(changes, Set(Area(i+1, k+1).To("first"), (a.First+from-a.From).String())...)
			}
		}
	}
	return changes
}
