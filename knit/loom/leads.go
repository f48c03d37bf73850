package loom

import (
	"cmp"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// On a machine with one feeder a row of two colours is two passes, out in the one
// that leads and back in the other, and a yarn that is not in the feeder hangs at the
// side where it last stopped. A yarn wanted on the other side must be cut and joined
// again (rules 5.2).
//
//	out ←  A A A A A     the carriage, and A with it, goes left; at the left A is
//	back → B B B B B     changed for B; the row ends on the right, in B
//
// yarnState is where every yarn is: side[y] is None before its first use, and the
// carriage's side for the yarn in the feeder.
type yarnState struct {
	carriage machine.Side
	feeder   piece.YarnNo
	side     [26 * 2]machine.Side
}

// far says that yarn y waits on the side where the carriage does not stand.
func (s *yarnState) far(y piece.YarnNo) bool {
	return s.feeder != y && s.side[y] != 0 && s.side[y] != s.carriage
}

// take puts yarn y in the feeder where the carriage stands: whether it had to be
// threaded, and whether it had to be cut to come from the far side.
func (s *yarnState) take(y piece.YarnNo) (threaded, cut bool) {
	if s.feeder == y {
		return false, false
	}
	cut = s.far(y)
	s.feeder, s.side[y] = y, s.carriage
	return true, cut
}

// empty moves the carriage across without knitting. The yarn in the feeder comes out first, and stays where it hangs.
func (s *yarnState) empty() {
	s.carriage, s.feeder = s.carriage.Other(), 0
}

// laid has laid the yarns of a row by hand, whose bobbins now hang at their fields: at hand at the carriage's side where
// they reach to its edge, else nowhere, and to be begun anew.
func (s *yarnState) laid(n *Need) {
	for _, y := range n.Laid {
		s.side[y] = 0
	}
	if s.carriage != 0 && len(n.Laid) > 0 {
		for _, y := range n.Reach[s.carriage-machine.Left] {
			s.side[y] = s.carriage
		}
	}
}

// pass knits once across; the yarn in the feeder goes with the carriage.
func (s *yarnState) pass() {
	s.carriage = s.carriage.Other()
	s.side[s.feeder] = s.carriage
}

// leading is what it costs that a yarn leads, in the order in which it weighs: a cut is an end more as well.
type leading struct{ cuts, free, touches int }

func (c leading) plus(d leading) leading {
	return leading{c.cuts + d.cuts, c.free + d.free, c.touches + d.touches}
}

func (c leading) less(d leading) bool {
	return cmp.Or(c.cuts-d.cuts, c.free-d.free, c.touches-d.touches) < 0
}

// row knits one row, led by lead, and counts what it costs.
func (s *yarnState) row(n *Need, lead int) (c leading) {
	for range n.Empty {
		s.empty()
	}
	for range n.Idle {
		s.empty()
	}
	s.laid(n)
	if n.Fetch && s.far(n.at(lead, 0)) {
		s.empty()
		c.free++
	}
	c.touches = n.touches(lead)
	for i := range n.Yarns {
		if _, cut := s.take(n.at(lead, i)); cut {
			c.cuts++
		}
		s.pass()
		if n.Twice {
			s.pass()
		}
	}
	return c
}

// Leads chooses the yarn that leads each two-colour row so that the fewest cuts are
// made over the whole piece; among equals the fewest free passes, then the fewest needles
// brought forward, then the yarn listed first leads, the lower rows deciding. first, where not 0, gives the lead of the two-colour rows it names:
// a map from row index to yarn. The result has the yarns of each row in knitting order.
func Leads(rows []Need, start machine.Side, first map[int]piece.YarnNo) (leads [][]piece.YarnNo, cuts int) {
	last := make([]int, 26*2) // the last row that uses each yarn: after it, its place does not matter
	for i, r := range rows {
		for _, y := range r.Yarns {
			last[y] = i
		}
	}
	type at struct {
		row   int
		state yarnState
	}
	memo := map[at]leading{}
	ways := func(i int) []int {
		r := &rows[i]
		switch {
		case r.ways() == 1:
			return []int{0}
		case first[i] != 0 && first[i] == r.Yarns[0]:
			return []int{0}
		case first[i] != 0 && first[i] == r.Yarns[1]:
			return []int{1}
		case r.Yarns[0] < r.Yarns[1]:
			return []int{0, 1}
		}
		return []int{1, 0}
	}
	step := func(i, lead int, s yarnState) (yarnState, leading) {
		cost := s.row(&rows[i], lead)
		for y := range last {
			if last[y] <= i && piece.YarnNo(y) != s.feeder {
				s.side[y] = 0
			}
		}
		return s, cost
	}
	// Rows are worked through in one sweep forward to find the states, then backward
	// for the least from each; a recursion would go as deep as the piece is long.
	states := make([]map[yarnState]bool, len(rows)+1)
	states[0] = map[yarnState]bool{{carriage: start}: true}
	for i := range rows {
		states[i+1] = map[yarnState]bool{}
		for s := range states[i] {
			for _, lead := range ways(i) {
				t, _ := step(i, lead, s)
				states[i+1][t] = true
			}
		}
	}
	for i := len(rows) - 1; i >= 0; i-- {
		for s := range states[i] {
			var least leading
			for n, lead := range ways(i) {
				t, c := step(i, lead, s)
				if c = c.plus(memo[at{i + 1, t}]); n == 0 || c.less(least) {
					least = c
				}
			}
			memo[at{i, s}] = least
		}
	}
	s := yarnState{carriage: start}
	for i := range rows {
		for _, lead := range ways(i) {
			t, c := step(i, lead, s)
			if c.plus(memo[at{i + 1, t}]) == memo[at{i, s}] {
				leads, cuts, s = append(leads, rows[i].way(lead)), cuts+c.cuts, t
				break
			}
		}
	}
	return leads, cuts
}
