package loom

import (
	"cmp"

	"vindel/knit/piece"
)

// Feeders shares the yarns of all rows between two feeders so that the fewest
// threadings are made over the whole piece (rules 5.1). A threading is a yarn in a
// feeder that did not hold it on the row before; the first row's count. A row of one
// yarn takes it in feeder 1 and empties feeder 2.
//
// A row has at most two ways round, so the cheapest way to reach each of them is
// kept row by row. Among equals, which have as many ends, fingers, where they choose, bring
// the fewest needles forward, then the fewest rows have the yarn listed later in feeder 1;
// then the lower rows decide.
func Feeders(rows []Need, fingers bool) (feeders [][]piece.YarnNo, threadings int) {
	type cost struct{ threadings, touches, later int }
	less := func(a, b cost) bool {
		return cmp.Or(a.threadings-b.threadings, a.touches-b.touches, a.later-b.later) < 0
	}
	touches := func(n *Need, w int) int {
		if !fingers {
			return 0
		}
		return n.touches(w)
	}
	feeders = make([][]piece.YarnNo, len(rows))
	if len(rows) == 0 {
		return feeders, 0
	}
	change := func(a *Need, v int, b *Need, w int) (n int) { // threadings from row a in order v to row b in w
		for f := range 2 {
			if y := b.at(w, f); y != 0 && y != a.at(v, f) {
				n++
			}
		}
		return n
	}
	// Backwards, so that the lower rows are the first to choose among equals.
	rest := make([][2]cost, len(rows)) // from row i, standing in order w, to the end
	for i := len(rows) - 2; i >= 0; i-- {
		next := &rows[i+1]
		for w := range rows[i].ways() {
			for v := range next.ways() {
				c := rest[i+1][v]
				c.threadings += change(&rows[i], w, next, v)
				c.touches += touches(next, v)
				c.later += next.later(v)
				if v == 0 || less(c, rest[i][w]) {
					rest[i][w] = c
				}
			}
		}
	}
	before, stood := &Need{}, 0
	for i := range rows {
		best := 0
		var least cost
		for w := range rows[i].ways() {
			c := rest[i][w]
			c.threadings += change(before, stood, &rows[i], w)
			c.touches += touches(&rows[i], w)
			c.later += rows[i].later(w)
			if w == 0 || less(c, least) {
				best, least = w, c
			}
		}
		feeders[i] = rows[i].way(best)
		threadings += change(before, stood, &rows[i], best)
		before, stood = &rows[i], best
	}
	return feeders, threadings
}

// later is 1 where order w puts the yarn listed later in feeder 1.
func (n *Need) later(w int) int {
	if n.ways() == 2 && n.at(w, 0) > n.at(w, 1) {
		return 1
	}
	return 0
}
