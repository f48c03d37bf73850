package bed

import (
	"fmt"

	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Arrangement moves the areas of a section about on the needles. Each gives the edit of
// the piece that does it; areas count from 1.

func (s *Placed) area(no int) *piece.Area { return &s.Section.Areas[no-1] }

// width is an area's as it lies on the bed.
func (s *Placed) width(area int) int { return s.Wide[area-1] }

// Move shifts an area by so many needles, its repeats with it; it stops at the ends of the bed.
func (s *Placed) Move(p *piece.Piece, area, by int) []edit.Change {
	a := s.area(area)
	if a.Edge == [2]bool{true, true} {
		return s.Phase(p, area, by)
	}
	by = min(max(by, int(p.Machine.Bed.First()-a.Asked[0])), int(p.Machine.Bed.Last()-a.Asked[1]))
	d := machine.Needle(by)
	return s.to(area, s.onBed(p, a.First+d, s.width(area)), a.Asked[0]+d, a.Asked[1]+d)
}

// Phase moves the repeat of an area under its needles, which stay.
func (s *Placed) Phase(p *piece.Piece, area, by int) []edit.Change {
	a := s.area(area)
	return edit.AreaFirst(s.No, area, s.onBed(p, a.First+machine.Needle(by), s.width(area)))
}

// Stretch gives an area other ends; its repeats stay where they are.
func (s *Placed) Stretch(p *piece.Piece, area int, from, to machine.Needle) []edit.Change {
	a := s.area(area)
	from, to = max(from, p.Machine.Bed.First()), min(to, p.Machine.Bed.Last())
	if to < from {
		return nil
	}
	return s.to(area, a.First, from, to)
}

// to puts an area on other needles; an end of it that follows the edge of the work goes on doing so where the other one
// alone is moved.
func (s *Placed) to(area int, first, from, to machine.Needle) []edit.Change {
	a, at := s.area(area), edit.Area(s.No, area)
	changes := edit.AreaFirst(s.No, area, first)
	if !a.Edge[0] || from != a.Asked[0] && to == a.Asked[1] {
		changes = append(changes, edit.Set(at.To("from"), from.String())...)
	}
	if !a.Edge[1] || to != a.Asked[1] && from == a.Asked[0] {
		changes = append(changes, edit.Set(at.To("to"), to.String())...)
	}
	return changes
}

// onBed is an anchor that shows the same phase and is a needle of the bed.
func (s *Placed) onBed(p *piece.Piece, first machine.Needle, w int) machine.Needle {
	a, z := p.Machine.Bed.First(), p.Machine.Bed.Last()
	if first >= a && first <= z {
		return first
	}
	return a + machine.Needle(mod(int(first-a)%w, w))
}

// Repeat places an area n times side by side in the middle of the needles in work, or as
// often as fits.
func (s *Placed) Repeat(p *piece.Piece, area, n int) []edit.Change {
	w := s.width(area)
	n = max(1, min(n, int(p.Machine.Bed)/w))
	from := middle(p, n*w)
	return edit.PlaceArea(s.No, area, s.onBed(p, from, w), from, from+machine.Needle(n*w-1))
}

// Fit places as many whole repeats of an area as the needles in work hold, in their middle.
func (s *Placed) Fit(p *piece.Piece, area int) []edit.Change {
	return s.Repeat(p, area, max(1, wide(p)/s.width(area)))
}

// Fill lets an area reach from edge to edge, wherever they are, with its repeats in the middle: what is
// cut is cut alike on both sides.
func (s *Placed) Fill(p *piece.Piece, area int) []edit.Change {
	w, n := s.width(area), wide(p)
	from := middle(p, n/w*w)
	if n < w {
		from = middle(p, w)
	}
	return edit.AreaToEdge(s.No, area, s.onBed(p, from, w))
}

// Centre puts an area in the middle of the needles in work as it is.
func (s *Placed) Centre(p *piece.Piece, area int) []edit.Change {
	a := s.area(area)
	return s.Move(p, area, int(middle(p, int(a.Asked[1]-a.Asked[0])+1)-a.Asked[0]))
}

// wide is how many needles ever come into work.
func wide(p *piece.Piece) int {
	low, high := p.Ends()
	return int(high-low) + 1
}

// middle is the leftmost of w needles in the middle of those in work; an odd stitch goes
// to the side that the piece says.
func middle(p *piece.Piece, w int) machine.Needle {
	low, high := p.Ends()
	return max(middleOf(p, low, high, w), p.Machine.Bed.First())
}

// middleOf is the leftmost of w needles in the middle of those from a to z.
func middleOf(p *piece.Piece, a, z machine.Needle, w int) machine.Needle {
	n := int(z-a) + 1
	if p.Options.OddSide() == machine.Left {
		return a + machine.Needle((n+1)/2-(w+1)/2)
	}
	return a + machine.Needle(n/2-w/2)
}

// motifs lists the areas that are not a ground: those that do not lie on all the needles.
func (s *Placed) motifs(p *piece.Piece) (list []int) {
	low, high := p.Ends()
	for i, a := range s.Section.Areas {
		if a.From > low || a.To < high {
			list = append(list, i+1)
		}
	}
	return list
}

// Spread sets the motifs of the section side by side, once each and in their order, in
// the middle of the needles in work, with gap spare stitches between neighbours; gap
// below 0 spaces them evenly, the ends included. An error says how much room is missing.
func (s *Placed) Spread(p *piece.Piece, gap int) ([]edit.Change, error) {
	list := s.motifs(p)
	if len(list) == 0 {
		return nil, fmt.Errorf("the section has no motif to space: every area lies on all the needles")
	}
	room := wide(p)
	used := 0
	for _, area := range list {
		used += s.width(area)
	}
	need := used + max(gap, 0)*(len(list)-1)
	if need > room {
		return nil, fmt.Errorf("%d motifs need %d needles so spaced; %d are in work", len(list), need, room)
	}
	var changes []edit.Change
	low, _ := p.Ends()
	at := low
	if gap >= 0 {
		at = middle(p, need)
	}
	free, gaps := room-used, len(list)+1
	for i, area := range list {
		if gap < 0 { // the odd stitches go to the outer gaps, and symmetrically
			at = low + machine.Needle(free*(i+1)/gaps+widthBefore(s, list[:i]))
		}
		w := machine.Needle(s.width(area))
		changes = append(changes, edit.PlaceArea(s.No, area, at, at, at+w-1)...)
		at += w + machine.Needle(max(gap, 0))
	}
	return changes, nil
}

func widthBefore(s *Placed, list []int) (w int) {
	for _, area := range list {
		w += s.width(area)
	}
	return w
}

// AddMotif is the edit that adds a chart to the section once, in the middle of the widest
// stretch of needles that no motif lies on, blank above its top.
func (s *Placed) AddMotif(p *piece.Piece, c *piece.Chart) []edit.Change {
	free := s.InWork(1)
	for _, area := range s.motifs(p) {
		free = free.Minus(machine.Range(s.area(area).From, s.area(area).To))
	}
	a, z := p.Ends()
	widest := -1
	for from, to := range free.Runs() {
		if n := int(to - from); n > widest {
			a, z, widest = from, to, n
		}
	}
	w := c.W
	from := max(middleOf(p, a, z, w), p.Machine.Bed.First())
	from = min(from, p.Machine.Bed.Last()-machine.Needle(w-1))
	return edit.AddMotif(s.No, c, from)
}
