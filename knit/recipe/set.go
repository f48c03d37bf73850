package recipe

import (
	"fmt"

	"vindel/knit/machine"
)

// chooser is what a set is chosen from: a bed, and the needles that no earlier deed of a clause has named.
type chooser struct {
	bed    machine.BedNo
	others machine.Set
	zero   bool // a count in it was 0
}

// set is the needles that a set chooses on a bed, as things stand.
func (r *Run) set(x *Set, bed machine.BedNo, others machine.Set) machine.Set {
	c := chooser{bed: bed, others: others}
	on := r.choose(x, &c)
	r.sets[x.no].asked = true
	if !on.Empty() || c.zero {
		r.sets[x.no].found = true
	}
	return on
}

func (r *Run) choose(x *Set, c *chooser) machine.Set { return r.from(x, r.bases[c.bed], c) }

// from is the needles that a set chooses from a base; what stands behind an "of" is always chosen from
// the whole bed.
func (r *Run) from(x *Set, base machine.Set, c *chooser) machine.Set {
	switch x.Pick {
	case joinAnd:
		return r.from(x.A, base, c).Or(r.from(x.B, base, c))
	case joinBut:
		return r.from(x.A, base, c).Minus(r.from(x.B, base, c))
	}
	within := base
	if x.Of != nil {
		base = r.choose(x.Of, c)
	}
	if !x.Each {
		return r.pick(x, base, c).And(within)
	}
	var on machine.Set
	for a, z := range base.Runs() {
		on = on.Or(r.pick(x, machine.Range(a, z), c))
	}
	return on.And(within)
}

// pick chooses from a base, counting from the left.
func (r *Run) pick(x *Set, base machine.Set, c *chooser) (on machine.Set) {
	number := func(n *Number, l least, other int) int {
		v := r.count(n, l, other)
		if n != nil && v == 0 {
			c.zero = true
		}
		return v
	}
	w := base.Len()
	few := func(n *Number, v, most int) {
		if v > most {
			panic(&Error{n.Pos, fmt.Sprintf("%d: there are %d needles to choose from", v, w), n.width})
		}
	}
	switch x.Pick {
	case pickLabels:
		return base.And(x.Needles)
	case pickName:
		named, ok := r.names[x.Name]
		if !ok {
			panic(&Error{x.Pos, fmt.Sprintf("%q: the line that gives this name has not been reached", x.Name), x.width})
		}
		return base.And(named)
	case pickGroup:
		return r.from(x.A, base, c)
	case pickTurns:
		return r.from(x.List[(r.round()-1)%len(x.List)], base, c)
	case pickAll:
		return base
	case pickEnds:
		if w > 0 {
			on = machine.SetOf(base.First(), base.Last())
		}
	case pickMiddle:
		if w%2 == 0 {
			panic(&Error{x.Pos, fmt.Sprintf(`"middle": %d needles have none`, w), x.width})
		}
		return places(base, w/2, w/2)
	case pickFirst:
		n := number(x.Num, fromZero, 0)
		few(x.Num, n, w)
		return places(base, 0, n-1)
	case pickLast:
		n := number(x.Num, fromZero, 0)
		few(x.Num, n, w)
		return places(base, w-n, w-1)
	case pickInside:
		n := number(x.Num, fromZero, 0)
		few(x.Num, 2*n, w)
		return places(base, n, w-n-1)
	case pickPlace:
		n := number(x.Num, fromOne, 0)
		few(x.Num, n, w)
		return places(base, n-1, n-1)
	case pickNumbered:
		k := number(x.Num, fromOne, 0)
		for n := range base.All() {
			if n.Number()%k == 0 {
				on.Add(n)
			}
		}
	case pickEvery:
		k, from, take := number(x.Num, fromOne, 0), number(x.From, fromOne, 1), number(x.Some, fromOne, 1)
		if take > k {
			panic(&Error{x.Some.Pos, fmt.Sprintf("%d of every %d: the groups would overlap", take, k), x.Some.width})
		}
		i, last := 0, from-1+(w-from-take+1)/k*k // where the last whole group begins
		if w < from+take-1 {
			last = -1
		}
		for n := range base.All() {
			if at := i - (from - 1); at >= 0 && at%k < take && (x.Cut || i-at%k <= last) {
				on.Add(n)
			}
			i++
		}
	case pickRuns:
		k, from, i := number(x.Num, fromOne, 0), number(x.From, fromOne, 1), 0
		for a, z := range base.Runs() {
			if i++; i >= from && (i-from)%k == 0 {
				on = on.Or(machine.Range(a, z))
			}
		}
	case pickWorking:
		return base.And(r.work[c.bed].Or(r.hold[c.bed]))
	case pickHeld:
		return base.And(r.hold[c.bed])
	case pickEmpty:
		return base.And(r.work[c.bed].Or(r.hold[c.bed])).Minus(r.beds.Holds[c.bed])
	case pickOthers:
		return base.And(c.others)
	case pickMarks:
		return base.And(r.marks(x, c.bed))
	}
	return on
}

// places is the needles of a set from place a to b, both from 0 and included.
func places(base machine.Set, a, b int) (on machine.Set) {
	i := 0
	for n := range base.All() {
		if i >= a && i <= b {
			on.Add(n)
		}
		i++
	}
	return on
}

// marks is the needles that a followed chart marks in its present row.
func (r *Run) marks(x *Set, bed machine.BedNo) (on machine.Set) {
	f := r.charts[x.Chart.Name]
	if f == nil {
		panic(&Error{x.Chart.Pos, fmt.Sprintf("%q: no line above has followed this chart", x.Chart.Name), x.Chart.len})
	}
	f.used = true
	c := f.chart
	keys := c.Row(f.row - 1)
	for n := range r.bases[bed].All() {
		at := (int(n-f.at)%c.W + c.W) % c.W
		if f.mirror {
			at = c.W - 1 - at
		}
		if c.Keys[keys[at]] != '.' {
			on.Add(n)
		}
	}
	return on
}
