package weigh

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/card"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// filling asks how the pattern of a section lies on its card (rules 6, The reader selects what is punched): as it is
// drawn, with what hands set right of what the card brings; from end to end; or so many needles on, at the nearest place
// that needs least.
func filling(p *piece.Piece, r *check.Result) (list []Choice) {
	m := &p.Machine
	if !m.HasCard() || p.Shape != nil {
		return nil
	}
	for _, no := range sectionsOf(p, func(s *piece.Section) bool { return len(s.Areas) == 1 && !s.Technique.OwnRows }) {
		s := r.Plan.Section(no)
		touches := card.SetRight(r.Plan, no)
		if touches == 0 || r.Plan.LinesOf(no) == 0 {
			continue
		}
		a, work := &s.Section.Areas[0], s.InWork(1)
		c := Choice{Title: fmt.Sprintf("Section %d: what its card brings besides the pattern", no),
			Ways: []Way{{Text: "set right by hand, in " + words.Count(touches, "touch", "touches")}}}
		if m.Columns%s.Wide[0] == 0 {
			c.Ways = append(c.Ways, Way{Text: "the pattern from end to end",
				Changes: edit.AreaEnds(no, 1, work.First(), work.Last())})
		}
		if by := moved(r.Plan, s, work); by != 0 {
			side := machine.Right
			if by < 0 {
				side = machine.Left
			}
			on := machine.Needle(by)
			c.Ways = append(c.Ways, Way{
				Text:    fmt.Sprintf("moved %s to the %v", words.Count(abs(by), "needle", "needles"), side),
				Changes: edit.PlaceArea(no, 1, a.First+on, a.From+on, a.To+on)})
		}
		list = append(list, c)
	}
	return list
}

func abs(n int) int { return max(n, -n) }

// moved is how far to the right the pattern of a section goes, at most half a card, to where its card brings the fewest
// needles besides: the least; 0 where no place is better than its own.
func moved(pl *pass.Plan, s *bed.Placed, work machine.Set) (best int) {
	m := &pl.Piece.Machine
	a := &s.Section.Areas[0]
	besides := func(by int) (n int) {
		areas := shifted(s.Covered.Minus(s.Cut), by)
		for _, line := range pl.Programs[s.No-1] {
			row, _ := card.Holes(m, shifted(line.And(s.Covered), by), areas, work)
			n += card.Reached(m, row).And(work).Minus(areas).Len()
		}
		return n
	}
	least := besides(0)
	for d := 1; d <= m.Columns/2; d++ {
		for _, by := range []int{d, -d} {
			if a.From+machine.Needle(by) < work.First() || a.To+machine.Needle(by) > work.Last() {
				continue
			}
			if n := besides(by); n < least {
				least, best = n, by
			}
		}
	}
	return best
}

// shifted is needles so many to the right.
func shifted(on machine.Set, by int) machine.Set {
	if by < 0 {
		return on.Left(-by)
	}
	return on.Right(by)
}
