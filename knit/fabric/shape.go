package fabric

import (
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// waiting is the stitches of the other part of a divided piece, away from all that the carriage does: what
// each needle of either bed held when they were left, and where they wait.
type waiting struct {
	stacks [2]map[machine.Needle][]loop
	hold   [2]machine.Set // of them, in hold for the shape
	off    bool           // on waste yarn, and not in hold
	marked bool           // the place is marked
}

// shapeStep does what moves an edge, leaves stitches waiting or takes them up again; false: it is none of that.
func (c *carriage) shapeStep(p *pass.Pass, st *pass.Step) bool {
	b := &c.beds[st.Bed]
	switch {
	case st.Do == pass.Increase || st.Do == pass.Decrease:
		c.edge(b, st)
	case st.Do == pass.BindOff && st.Marked != nil: // of stitches that wait
		for n := range st.Needles.All() {
			delete(c.waiting.stacks[st.Bed], n)
		}
	case st.Do == pass.BindOff:
		b.leave(st.Needles)
	case st.Do == pass.CastOn && st.Shape:
		b.castOn(st.Needles, st.Yarn)
	case st.Do == pass.Wrap && st.Shape:
		on := st.Needles.And(b.hold)
		b.tuck(on, st.Yarn)
		c.rec.wrapped(on)
	case st.Do == pass.Mark:
		c.waiting = waiting{off: st.Off, marked: true}
	case (st.Do == pass.ToHold || st.Do == pass.TakeOff) && st.Marked != nil:
		if !c.waiting.marked {
			c.fault(finding.SelectionLost, p, st.Needles, "stitches are left waiting, and the place is not marked.")
		}
		w := map[machine.Needle][]loop{}
		for n := range st.Needles.And(b.work).All() {
			w[n] = b.stack(n)
		}
		c.waiting.stacks[st.Bed], c.waiting.hold[st.Bed] = w, b.hold.And(st.Needles)
		b.leave(st.Needles)
	case st.Do == pass.ToWork && st.Marked != nil:
		// Return has brought them back; those that the shape holds stay in hold
	case st.Do == pass.Return:
		for bed := range c.beds {
			b := &c.beds[bed]
			for n, stack := range c.waiting.stacks[bed] {
				b.work.Add(n)
				b.put(n, stack)
				if c.waiting.hold[bed].Has(n) {
					b.hold.Add(n)
				}
			}
		}
		c.waiting, c.hangs, c.tails = waiting{}, [64]machine.Side{}, [64]machine.Side{}
	case (st.Do == pass.ToHold || st.Do == pass.ToWork) && st.Shape:
		on := st.Needles.And(b.work)
		if st.Do == pass.ToHold {
			b.hold = b.hold.Or(on)
		} else {
			b.hold = b.hold.Minus(on)
		}
		b.forward = b.forward.Minus(on)
	default:
		return false
	}
	return true
}

// waits sees that a pass leaves alone what waits in hold for the other part.
func (c *carriage) waits(p *pass.Pass) {
	if len(c.waiting.stacks[machine.Main]) > 0 && !c.waiting.off && !p.Free && p.Cams().Held.Knits() {
		c.fault(finding.SelectionLost, p, machine.Set{},
			"the cams knit what is in hold, and the other part waits there.")
	}
}

// edge moves an edge by one stitch: a needle comes or goes, and with a tool so many stitches move with it.
func (c *carriage) edge(b *needles, st *pass.Step) {
	active := b.work.Minus(b.hold)
	if st.Do == pass.Increase {
		b.work = b.work.Or(st.Needles)
	}
	for _, m := range st.Moves(active) {
		if !m.Fill {
			c.move(b, m.From, m.To)
		} else if below := b.stack(m.From); len(below) > 0 {
			b.put(m.To, []loop{{yarn: below[0].yarn, home: m.To}})
		}
	}
	if st.Do == pass.Decrease {
		b.leave(st.Needles)
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
