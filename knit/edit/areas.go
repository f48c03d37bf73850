package edit

import (
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// PlaceArea puts an area of a section on the needles from–to with its repeat beginning at first.
func PlaceArea(section, area int, first, from, to machine.Needle) []Change {
	return slices.Concat(AreaFirst(section, area, first), AreaEnds(section, area, from, to))
}

// AreaFirst lets the repeat of an area begin at another needle; its ends stay.
func AreaFirst(section, area int, first machine.Needle) []Change {
	return Set(Area(section, area).To("first"), first.String())
}

// AreaToEdge lets both ends of an area lie wherever the edge of the work is, its repeat beginning at first.
func AreaToEdge(section, area int, first machine.Needle) []Change {
	return append(AreaFirst(section, area, first), toEdges(section, area)...)
}

func toEdges(section, area int) []Change {
	at := Area(section, area)
	return append(Set(at.To("from"), "edge"), Set(at.To("to"), "edge")...)
}

// AreaCut lets those ends of an area that lie beyond the work follow its edge.
func AreaCut(section, area int, a *piece.Area) (changes []Change) {
	at := Area(section, area)
	if a.Asked[0] < a.From {
		changes = Set(at.To("from"), "edge")
	}
	if a.Asked[1] > a.To {
		changes = append(changes, Set(at.To("to"), "edge")...)
	}
	return changes
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

// AddGround places a chart from edge to edge of a section, behind everything else; its repeat begins at first, and
// stays there when the edges move.
func AddGround(section int, c *piece.Chart, first machine.Needle) []Change {
	return Set(Area(section, 1), map[string]any{"chart": c.Name, "first": first.String(), "from": "edge", "to": "edge"})
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

// AreaOf makes an area show a rectangle of its chart: columns and rows from 1 at the bottom
// left, both ends included.
func AreaOf(section, area int, columns, rows [2]int) []Change {
	at := Area(section, area)
	return slices.Concat(Set(at.To("columns"), columns[:]), Set(at.To("rows"), rows[:]))
}

// RemoveArea takes an area of a section away.
func RemoveArea(section, area int) []Change { return Drop(Area(section, area)) }

// Seam is how many stitches besides whole repeats a width has that do not follow the chart:
// two where rows take two passes and the end stitches catch the yarns (rules 5.2).
func Seam(p *piece.Piece, s *piece.Section) int {
	if p.Machine.Feeders == 1 && s.Technique.TwoPasses {
		return 2
	}
	return 0
}

// Centred puts w stitches in the middle of the bed, and with them every area that lay on all
// the needles, or on all but the seam stitches: from then on it lies inside those. column,
// where not 0, is the one (from 1) that comes to the left edge of such areas.
func Centred(p *piece.Piece, w, column int) []Change {
	from, to := machine.Centre(w, p.Options.OddSide())
	changes := Put(Member("needles"), map[string]any{"from": from.String(), "to": to.String(),
		"out": p.Out.And(machine.Range(from, to)).String()})
	for i := range p.Sections {
		sec := &p.Sections[i]
		in := machine.Needle(Seam(p, sec) / 2)
		for k, a := range sec.Areas {
			if !(a.From == p.From && a.To == p.To) && !(a.From == p.From+in && a.To == p.To-in) || to-from < 2*in {
				continue
			}
			phase := a.From - a.First
			if column > 0 {
				phase = machine.Needle(column - 1)
			}
			width, _ := a.Size()
			first := from + in - phase
			for first < p.Machine.Bed.First() {
				first += machine.Needle(width)
			}
			changes = append(changes, AreaFirst(i+1, k+1, first)...)
			at := Area(i+1, k+1)
			if !a.Edge[0] {
				changes = append(changes, Set(at.To("from"), (from+in).String())...)
			}
			if !a.Edge[1] {
				changes = append(changes, Set(at.To("to"), (to-in).String())...)
			}
		}
	}
	return changes
}

// InsideSeam widens the needles by a seam stitch at each end, so that areas which lay on all
// of them lie inside; false where the bed ends there.
func InsideSeam(p *piece.Piece) ([]Change, bool) {
	if p.From <= p.Machine.Bed.First() || p.To >= p.Machine.Bed.Last() {
		return nil, false
	}
	changes := slices.Concat(Set(Member("needles").To("from"), (p.From-1).String()),
		Set(Member("needles").To("to"), (p.To+1).String()))
	for i := range p.Sections {
		for k, a := range p.Sections[i].Areas {
			if Seam(p, &p.Sections[i]) > 0 || a.From > p.From || a.To < p.To {
				changes = append(changes, PlaceArea(i+1, k+1, a.First, a.From, a.To)...)
			}
		}
	}
	return changes, true
}
