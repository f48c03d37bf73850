package plan

import (
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Need is the yarns a row takes in one pass: Yarns[1] is 0 where it takes one, and
// Free says that either may go in either feeder. Idle is how many passes the row makes
// without a yarn from the feeder.
type Need struct {
	Yarns [2]piece.YarnNo
	Free  bool
	Idle  int
	Twice bool           // the row's one yarn knits two passes
	Shows [2]machine.Set // the needles that show each, where the technique has looked
}

// Feeders shares the yarns of all rows between two feeders so that the fewest
// threadings are made over the whole piece (rules: 5.1). A threading is a yarn in a
// feeder that did not hold it on the row before; the first row's count. A row of one
// yarn takes it in feeder 1 and empties feeder 2.
//
// A row has at most two ways round, so the cheapest way to reach each of them is
// kept row by row. Among equals, the fewest rows have the yarn listed later in
// feeder 1; then the lower rows decide.
func Feeders(rows []Need) (feeders [][2]piece.YarnNo, threadings int) {
	type cost struct{ threadings, later int }
	less := func(a, b cost) bool {
		return a.threadings < b.threadings || a.threadings == b.threadings && a.later < b.later
	}
	feeders = make([][2]piece.YarnNo, len(rows))
	if len(rows) == 0 {
		return feeders, 0
	}
	// Backwards, so that the lower rows are the first to choose among equals.
	rest := make([][2]cost, len(rows)) // from row i, standing in way w, to the end
	for i := len(rows) - 2; i >= 0; i-- {
		for w := range rows[i].ways() {
			here := rows[i].way(w)
			for v := range rows[i+1].ways() {
				next := rows[i+1].way(v)
				c := rest[i+1][v]
				c.threadings += Threadings(here, next)
				c.later += rows[i+1].later(v)
				if v == 0 || less(c, rest[i][w]) {
					rest[i][w] = c
				}
			}
		}
	}
	before, total := [2]piece.YarnNo{}, 0
	for i := range rows {
		best := 0
		var least cost
		for w := range rows[i].ways() {
			c := rest[i][w]
			c.threadings += Threadings(before, rows[i].way(w))
			c.later += rows[i].later(w)
			if w == 0 || less(c, least) {
				best, least = w, c
			}
		}
		feeders[i] = rows[i].way(best)
		total += Threadings(before, feeders[i])
		before = feeders[i]
	}
	return feeders, total
}

// Threadings counts the yarns that now stand in a feeder which did not hold them before.
func Threadings(before, now [2]piece.YarnNo) (n int) {
	for f, y := range now {
		if y != 0 && y != before[f] {
			n++
		}
	}
	return n
}

func (r *Need) ways() int {
	if r.Free && r.Yarns[1] != 0 {
		return 2
	}
	return 1
}

// way is the row's yarns, the other way round for w = 1.
func (r *Need) way(w int) [2]piece.YarnNo {
	if w == 1 {
		return [2]piece.YarnNo{r.Yarns[1], r.Yarns[0]}
	}
	return r.Yarns
}

// later is 1 where way w puts the yarn listed later in feeder 1.
func (r *Need) later(w int) int {
	if f := r.way(w); r.ways() == 2 && f[0] > f[1] {
		return 1
	}
	return 0
}
