package fabric

import (
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// waiting is the stitches of the other part of a divided piece, away from all that the carriage does: what
// each needle of either bed held when they were left, and where they wait.
type waiting struct {
	stacks [2]map[machine.Needle][]loop
	bare   [2]machine.Set // of those, what came to work and has not knitted yet
	off    bool           // on waste yarn, and not in hold
	marked bool           // the place is marked
	back   bool           // it is gone back to: what is on waste yarn is to be hung again
}

// Mark marks the place where the piece divides; off: what waits does so on waste yarn.
func (c *carriage) Mark(off bool) { c.waiting = waiting{off: off, marked: true} }

// Wait leaves stitches waiting. Where a recipe is at work it puts them in hold, or takes them off.
func (c *carriage) Wait(bed machine.BedNo, on machine.Set) {
	if c.isLooped() {
		if c.waiting.off {
			c.liftOff(bed, on)
		} else {
			c.Hold(bed, on)
		}
		return
	}
	if !c.waiting.marked {
		c.fault(finding.SelectionLost, c.now, on, "stitches are left waiting, and the place is not marked.")
	}
	b := &c.beds[bed]
	w := map[machine.Needle][]loop{}
	for n := range on.And(b.work).All() {
		if w[n] = b.stack(n); len(w[n]) == 0 && !b.empty.Has(n) {
			c.waiting.bare[bed].Add(n)
		}
	}
	c.waiting.stacks[bed] = w
	b.leave(on)
}

// TakeUp takes to work what waited in hold, or hangs again what is on waste yarn: those needles, and no others.
func (c *carriage) TakeUp(bed machine.BedNo, on machine.Set) {
	b := &c.beds[bed]
	switch {
	case c.isLooped():
		c.Work(bed, on)
	case !c.waiting.back:
		b.hold = b.hold.Minus(on)
	default:
		c.hangAgain(bed, on)
	}
}

func (c *carriage) hangAgain(bed machine.BedNo, on machine.Set) {
	for n := range on.All() {
		stack, ok := c.waiting.stacks[bed][n]
		if !ok {
			c.fault(finding.SelectionLost, c.now, machine.SetOf(n), "no stitch of this needle waits on the waste yarn.")
			continue
		}
		c.beds[bed].again(n, stack, c.waiting.bare[bed])
		delete(c.waiting.stacks[bed], n)
	}
}

// again is a needle that waited at work with what it held; one that was bare makes a first loop, and no eyelet.
func (b *needles) again(n machine.Needle, stack []loop, bare machine.Set) {
	b.work.Add(n)
	if b.put(n, stack); bare.Has(n) {
		b.empty.Remove(n)
	}
}

// Return goes back to the mark: what waits in hold stands there, as it was left.
func (c *carriage) Return() {
	c.hangs, c.tails = [64]machine.Side{}, [64]machine.Side{}
	if c.waiting.off {
		c.waiting.back = true
		return
	}
	for bed := range c.beds {
		b := &c.beds[bed]
		for n, stack := range c.waiting.stacks[bed] {
			b.again(n, stack, c.waiting.bare[bed])
			b.hold.Add(n)
		}
	}
	c.waiting = waiting{}
}

// BindOffWaiting ends stitches that wait.
func (c *carriage) BindOffWaiting(bed machine.BedNo, on machine.Set) {
	if c.isLooped() {
		c.liftOff(bed, on)
		return
	}
	for n := range on.All() {
		delete(c.waiting.stacks[bed], n)
	}
}

// waits sees that a pass leaves alone what waits in hold for the other part, and that nothing is left on waste yarn.
func (c *carriage) waits(p *pass.Pass) {
	if w := &c.waiting; w.back {
		for _, stacks := range w.stacks {
			for n := range stacks {
				c.fault(finding.StitchDropped, p, machine.SetOf(n), "the stitch of %v is left on the waste yarn.", n)
			}
		}
		*w = waiting{}
	}
	for no := range c.beds {
		bed := machine.BedNo(no)
		if len(c.waiting.stacks[no]) > 0 && !c.waiting.off && !p.Free && (bed == machine.Main || p.Carriage == machine.KnitCarriage) &&
			c.cams(bed, p).Held != machine.Hold {
			c.fault(finding.SelectionLost, p, machine.Set{},
				"the other part waits in hold on the %v bed, and its carriage is not set to pass it by.", bed)
		}
	}
}

// Widen moves an edge out by one stitch: a needle comes, and with a tool so many stitches move with it.
func (c *carriage) Widen(e step.Widen) {
	b := &c.beds[e.Of]
	active := b.work.Minus(b.hold)
	b.work = b.work.Or(e.On)
	c.moves(b, e.Moves(active))
}

// Narrow moves an edge in.
func (c *carriage) Narrow(e step.Narrow) {
	b := &c.beds[e.Of]
	c.moves(b, e.Moves(b.work.Minus(b.hold)))
	b.leave(e.On)
}

func (c *carriage) moves(b *needles, list []step.Moved) {
	for _, m := range list {
		if !m.Fill {
			c.move(b, m.From, m.To)
		} else if below := b.stack(m.From); len(below) > 0 {
			b.put(m.To, []loop{{yarn: below[0].yarn, home: m.To}})
		}
	}
	if b != &c.beds[machine.Main] {
		return
	}
	for _, m := range list {
		c.rec.shifted(m.To, b.base[m.To+machine.MaxBed/2])
	}
}

// move puts the stack of a needle over what another holds; the fingers leave both at rest.
func (c *carriage) move(b *needles, from, to machine.Needle) {
	b.forward.Remove(from)
	b.forward.Remove(to)
	i, j := from+machine.MaxBed/2, to+machine.MaxBed/2
	if b.base[i] == 0 {
		return // it has not knitted yet: there is nothing to move
	}
	if b == &c.beds[machine.Second] { // which of its loops shows is not asked there
		stack := append(b.stack(to), b.stack(from)...)
		for k := range stack {
			stack[k].home, stack[k].moved = to, false
		}
		b.put(to, stack)
		b.put(from, nil)
		b.empty.Remove(from)
		return
	}
	if b.base[i] != 0 && !b.stacked.Has(from) { // one loop, as nearly always
		l := loop{yarn: b.base[i], home: from, moved: true}
		if b.moved.Has(from) {
			l.home = b.home[i]
		}
		b.base[i] = 0
		b.moved.Remove(from)
		if b.base[j] != 0 {
			b.above[j] = append(b.above[j], l)
			b.stacked.Add(to)
			return
		}
		b.base[j], b.home[j], b.above[j] = l.yarn, l.home, nil
		b.moved.Add(to)
		b.empty.Remove(to)
		return
	}
	stack := b.stack(from)
	for k := range stack {
		stack[k].moved = true
	}
	b.put(to, append(b.stack(to), stack...))
	b.put(from, nil)
	b.empty.Remove(from)
}

// leave takes needles out of work, with whatever they hold.
func (b *needles) leave(on machine.Set) {
	for n := range on.And(b.work).All() {
		b.base[n+machine.MaxBed/2], b.above[n+machine.MaxBed/2] = 0, nil
	}
	b.work, b.hold, b.forward = b.work.Minus(on), b.hold.Minus(on), b.forward.Minus(on)
	b.empty, b.moved, b.stacked = b.empty.Minus(on), b.moved.Minus(on), b.stacked.Minus(on)
}

// wrapped notes needles that wait round which the yarn has been laid.
func (f *Fabric) wrapped(on machine.Set) {
	f.Tucks += on.Len()
	f.wraps = f.wraps.Or(on)
}
