package fabric

import (
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// loop is one loop on a needle: where it was formed, and whether it has been transferred.
type loop struct {
	yarn  piece.YarnNo
	home  machine.Needle
	moved bool
}

// stack is the loops on needle n, the oldest first.
func (b *model) stack(n machine.Needle) []loop {
	i := n + machine.MaxBed/2
	if b.base[i] == 0 {
		return nil
	}
	first := loop{b.base[i], n, false}
	if b.moved.Has(n) {
		first.home, first.moved = b.home[i], true
	}
	return append([]loop{first}, b.above[i]...)
}

// put makes needle n hold these loops, the oldest first.
func (b *model) put(n machine.Needle, loops []loop) {
	i := n + machine.MaxBed/2
	b.moved.Remove(n)
	b.stacked.Remove(n)
	b.empty.Remove(n)
	if len(loops) == 0 {
		b.base[i], b.above[i] = 0, nil
		b.empty.Add(n)
		return
	}
	b.base[i], b.home[i] = loops[0].yarn, loops[0].home
	if loops[0].moved {
		b.moved.Add(n)
	}
	if b.above[i] = slices.Clone(loops[1:]); len(loops) > 1 {
		b.stacked.Add(n)
	}
}

// transfer moves whole stacks one needle to a side, all at once: they are lifted, and
// put down over what their new needles hold. A fine transfer leaves each loop on its own
// needle too. The needle that receives must be at rest, and in work.
func (b *model) transfer(p *plan.Pass, needles machine.Set, dir machine.Side, fine bool) {
	b.endCourse()
	way := machine.Needle(1)
	to := needles.Right(1)
	if dir == machine.Left {
		way, to = -1, needles.Left(1)
	}
	if off := to.Minus(b.work); !off.Empty() || !needles.Minus(b.work).Empty() {
		b.fault("transfer-off", p, off, "a stitch is to go to a needle that is not in work, and falls.")
	}
	if both := to.And(needles); p.Carriage == machine.LaceCarriage && !both.Empty() {
		b.fault("stitch-dropped", p, both, "neighbouring needles are selected together; the one that is to receive is not at rest, and the stitch falls.")
	}
	lifted := make([][]loop, 0, needles.Len())
	for n := range needles.All() {
		loops := b.stack(n)
		lifted = append(lifted, loops)
		if !fine {
			b.put(n, nil)
		}
	}
	i := 0
	for n := range needles.All() {
		loops := lifted[i]
		i++
		if len(loops) == 0 || !b.work.Has(n+way) {
			continue
		}
		for k := range loops {
			loops[k].moved = true
		}
		b.put(n+way, append(b.stack(n+way), loops...))
	}
}

// shape notes, for a course, the stitches about to be knitted that are more than plain:
// yarn-overs on empty needles, and stacks that hold a transferred loop, with the loop
// that shows on the knit side of each.
func (b *model) shape(c *Course, needles machine.Set) {
	if over := needles.And(b.empty); !over.Empty() {
		c.Eyelets = c.Eyelets.Or(over)
		b.f.Eyelets += over.Len()
	}
	for n := range needles.And(b.stacked).All() {
		loops := b.stack(n)
		if !slices.ContainsFunc(loops, func(l loop) bool { return l.moved }) {
			continue
		}
		if !c.Doubled.Has(n) {
			b.f.Doubled++
		}
		c.Doubled.Add(n)
		if len(loops) > 3 {
			c.Deep.Add(n)
		}
		lo, hi := loops[0].home, loops[0].home
		for _, l := range loops[1:] {
			lo, hi = min(lo, l.home), max(hi, l.home)
		}
		if lo == hi {
			continue // a stitch that moved with the tuck loops on it
		}
		c.Merged.Add(n)
		switch loops[0].home { // the oldest shows on the knit side, and leans towards the others
		case lo:
			c.LeanR.Add(n)
		case hi:
			c.LeanL.Add(n)
		}
	}
}

// Stand is how the bed stands before a pass, hands' work done: needles in work without a
// loop, and those with more than one.
type Stand struct{ Empty, Doubled machine.Set }
