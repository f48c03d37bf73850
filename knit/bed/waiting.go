package bed

import (
	"vindel/knit/chart"
	"vindel/knit/machine"
)

// Waiting is the needles of section row r (from 1) that the chart passes over in a run at an
// end of the work which grows from row to row: a short row, and no fault of the selvedge
// (rules 5.4).
func (s *Placed) Waiting(r int) machine.Set {
	s.once.Do(s.findWaiting)
	if s.waiting == nil {
		return machine.Set{}
	}
	return s.waiting[r-1]
}

// findWaiting looks at each end for stretches of rows in which needles wait, one row after
// another, and of which some row has more of them than the one below.
func (s *Placed) findWaiting() {
	if s.Stitch == nil {
		return
	}
	for _, left := range []bool{true, false} {
		from, grows, below := s.FromRow-1, false, 0
		end := func(to int) { // of a stretch of rows from+1 to to
			for r := from + 1; grows && r <= to; r++ {
				if s.waiting == nil {
					s.waiting = make([]machine.Set, s.Rows)
				}
				s.waiting[r-1] = s.waiting[r-1].Or(s.passedOver(r, left))
			}
		}
		for r := s.FromRow; r <= s.ToRow; r++ {
			n := s.passedOver(r, left).Len()
			if n == 0 || n == s.InWork(r).Len() {
				end(r - 1)
				from, grows, below = r, false, 0
				continue
			}
			grows = grows || below > 0 && n > below
			below = n
		}
		end(s.ToRow)
	}
}

// passedOver is the run of needles from an end of the work that row r marks as slipped.
func (s *Placed) passedOver(r int, left bool) (run machine.Set) {
	work, slips := s.InWork(r), s.Wants(r, chart.Slip)
	if slips.Empty() || work.Empty() {
		return run
	}
	for !work.Empty() {
		n := work.First()
		if !left {
			n = work.Last()
		}
		if !slips.Has(n) {
			return run
		}
		run.Add(n)
		work.Remove(n)
	}
	return run
}
