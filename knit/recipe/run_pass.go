package recipe

import (
	"iter"

	"vindel/knit/finding"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/words"
)

var ways = map[string]machine.Side{"left": machine.Left, "right": machine.Right}

// moves sends the carriage across once (recipes 5, A pass).
func (r *Run) moves(st *Step) {
	if len(r.slab) == 0 {
		r.slab = make([]Moves, 32)
	}
	m := &r.slab[0]
	r.slab = r.slab[1:]
	*m = Moves{Dir: r.Side.Other(), Free: st.Free, Feeders: r.fed, ByCard: r.byCard && !st.Free}
	if want := ways[st.Way]; want != 0 && want != m.Dir {
		r.stop(st, finding.CarriageSide, machine.Set{}, "Leave the way out, or bring the carriage across first",
			"The pass is to go to the %v, and the carriage stands there already.", want)
	}
	m.Begins, r.hands = r.hands, false
	for _, f := range r.charts {
		f.used = false // by a line that is no pass
	}
	for bed := range m.Beds {
		h := &m.Beds[bed]
		h.Work, h.Hold, h.Size, h.Groups = r.work[bed], r.hold[bed], r.Sizes[bed], m.room[bed][:0:2]
	}
	if st.Free {
		m.Feeders = Pair{}
		r.act(st, Act{Pass: m})
		r.Side = m.Dir
		r.Totals.Free++
		r.freed()
		return
	}
	if len(st.Parts) == 0 {
		m.Beds[machine.Main].Named = true
	}
	for i := range st.Parts {
		r.hasBed(st, st.Parts[i].Bed)
		r.half(st, &st.Parts[i], m)
	}
	r.knitRest(st, m)
	r.mayPass(st, m)
	r.uses(st)
	r.act(st, Act{Pass: m, Yarns: r.fed, Fed: true})
	r.pass++
	r.lay(m)
	r.charted()
	r.passed(st, m)
	for bed := range m.Beds {
		if h := &m.Beds[bed]; h.Named && h.Takes {
			r.work[bed], r.hold[bed] = r.work[bed].Or(r.hold[bed]), machine.Set{}
		}
	}
	if r.Side = m.Dir; r.done != nil {
		r.done()
	}
	for _, y := range r.fed {
		if y != 0 {
			r.Hangs[y] = m.Dir
		}
	}
}

// half works out a bed's deeds: each needle at work does the first whose set holds it.
func (r *Run) half(st *Step, c *Clause, m *Moves) {
	h := &m.Beds[c.Bed]
	h.Named = true
	rest := h.Work
	for i := range c.Deeds {
		d := &c.Deeds[i]
		var y Pair
		if d.Do != machine.Slip {
			y[0] = r.fed[0]
			for i, ref := range d.Yarns {
				y[i] = r.yarn(ref)
			}
			r.twice(d.Yarns, y)
		}
		for _, ref := range d.Yarns {
			if z := r.yarn(ref); z != r.fed[0] && z != r.fed[1] {
				r.stop(st, finding.YarnNotThreaded, machine.Set{}, "Thread it with a yarn line before the pass",
					"%s is in no feeder.", r.piece.YarnName(z))
			}
		}
		if d.Held {
			h.Takes, h.Held = true, y
			continue
		}
		on := r.set(d.Set, c.Bed, rest).And(rest)
		rest = rest.Minus(on)
		r.group(st, h, Group{on, d.Do, y})
	}
}

// group adds needles to those that do the same.
func (r *Run) group(st *Step, h *Half, g Group) {
	if g.Needles.Empty() {
		return
	}
	if g.Yarns[1] != 0 && g.Yarns[0] == r.fed[1] { // both yarns of a loop, in the order of their feeders
		g.Yarns[0], g.Yarns[1] = g.Yarns[1], g.Yarns[0]
	}
	for i := range h.Groups {
		if have := &h.Groups[i]; have.Do == g.Do && have.Yarns == g.Yarns {
			have.Needles = have.Needles.Or(g.Needles)
			return
		}
	}
	h.Groups = append(h.Groups, g)
	if len(h.Groups) > 2 {
		r.stop(st, finding.RecipeWays, g.Needles, "Do it in two passes",
			"One bed is to do three different things in one pass; besides holding it can do two.")
	}
}

// knitRest lets needles that no deed names knit.
func (r *Run) knitRest(st *Step, m *Moves) {
	for bed := range m.Beds {
		h := &m.Beds[bed]
		if !h.Named {
			continue
		}
		rest := h.Work
		for i := range h.Groups {
			rest = rest.Minus(h.Groups[i].Needles)
		}
		if len(h.Groups) == 0 && !rest.Empty() {
			h.Groups = append(h.Groups, Group{rest, machine.Knit, Pair{r.fed[0]}})
		} else if !rest.Empty() {
			r.group(st, h, Group{rest, machine.Knit, Pair{r.fed[0]}})
		}
	}
}

// takes is the needles of a half that knit or tuck, those in hold that knit among them, once
// mayPass has worked them out.
func (h *Half) takes() machine.Set { return h.takers }

func (h *Half) takersOf() (on machine.Set) {
	if !h.Named {
		return on
	}
	for i := range h.Groups {
		if h.Groups[i].Do != machine.Slip {
			on = on.Or(h.Groups[i].Needles)
		}
	}
	if h.Takes {
		on = on.Or(h.Hold)
	}
	return on
}

// mayPass stops a pass that cannot be, and finds which held needles catch a strand.
func (r *Run) mayPass(st *Step, m *Moves) {
	for bed := range m.Beds {
		h := &m.Beds[bed]
		h.takers = h.takersOf()
		takers := h.takers
		if r.lowered[bed] && !takers.Empty() {
			r.stop(st, finding.BedLowered, takers, "Raise it before the pass",
				"The %v bed is lowered, and is to knit.", machine.BedNo(bed))
		}
		if !takers.Empty() && r.fed[0] == 0 {
			r.stop(st, finding.NeedleNoYarn, takers, "Thread a yarn before the pass",
				"The feeders are empty, and %s take the yarn: what they hold would fall.", words.Count(takers.Len(),
					"needle", "needles"))
		}
		if h.Named && !h.Takes && !h.Hold.Empty() && !takers.Empty() && !r.piece.Machine.HeldPasses {
			h.Caught = h.Hold.And(machine.Range(takers.First(), takers.Last()))
		}
		if bed == 0 {
			m.Course = !takers.Empty()
		}
	}
	main, second := &m.Beds[machine.Main], &m.Beds[machine.Second]
	if main.Named && second.Named && r.pitch == machine.FullPitch {
		if facing := r.lie().OnMain(second.In()).And(main.In()); !facing.Empty() {
			r.stop(st, finding.BedsCollide, facing, "Set half pitch, work every other needle, or rack by one position",
				"Both beds work at full pitch, and %v of the main bed face needles of the second that are not out.",
				facing)
		}
	}
}

// along yields needles in the order in which a way comes to them.
func along(on machine.Set, way machine.Side) iter.Seq[machine.Needle] {
	if way == machine.Right {
		return on.All()
	}
	return on.Back()
}

// lay makes the loops of a pass, along the way.
func (r *Run) lay(m *Moves) {
	main, second := &m.Beds[machine.Main], &m.Beds[machine.Second]
	if !second.Named {
		if main.Named {
			r.sweep(machine.Main, main, m)
		}
		return
	}
	if !main.Named {
		r.sweep(machine.Second, second, m)
		return
	}
	lie := r.lie()
	a, z := main.touched(), second.touched()
	next, stopA := iter.Pull(along(a, m.Dir))
	nextZ, stopZ := iter.Pull(along(z, m.Dir))
	defer stopA()
	defer stopZ()
	n, ok := next()
	k, okK := nextZ()
	for ok || okK {
		if ok && okK {
			apart := lie.Apart(k, n) // how far right the second bed's needle stands
			if m.Dir == machine.Left {
				apart = -apart
			}
			if apart < 0 {
				r.touch(machine.Second, k, second)
				k, okK = nextZ()
				continue
			}
		} else if !ok {
			r.touch(machine.Second, k, second)
			k, okK = nextZ()
			continue
		}
		r.touch(machine.Main, n, main)
		n, ok = next()
	}
}

// touched is the needles of a half on which something comes to lie.
func (h *Half) touched() machine.Set { return h.takes().Or(h.Caught) }

func (r *Run) sweep(bed machine.BedNo, h *Half, m *Moves) {
	r.row = h.touched().AppendTo(r.row[:0])
	for i := range r.row {
		if m.Dir == machine.Left {
			i = len(r.row) - 1 - i
		}
		r.touch(bed, r.row[i], h)
	}
}

// touch is what happens to one needle that takes the yarn, or on which it is caught.
func (r *Run) touch(bed machine.BedNo, n machine.Needle, h *Half) {
	do, y := machine.Knit, h.Held
	switch {
	case len(h.Groups) > 0 && h.Groups[0].Needles.Has(n):
		do, y = h.Groups[0].Do, h.Groups[0].Yarns
	case h.Caught.Has(n):
		do, y = machine.Tuck, Pair{r.fed[0]}
	case h.Hold.Has(n):
	default:
		do, y = h.Groups[1].Do, h.Groups[1].Yarns
	}
	if do == machine.Tuck {
		r.beds.Lay(bed, n, r.loop(bed, loops.Strand, y))
		r.strands(bed, n)
		return
	}
	r.beds.Draw(bed, n, r.loop(bed, loops.Knit, y))
	if bed == machine.Main {
		r.knits[n+machine.MaxBed/2]++
	}
}

// charted lets the charts that a pass has used go on.
func (r *Run) charted() {
	for _, f := range r.charts {
		if !f.used {
			continue
		}
		f.used = false
		if f.served++; f.served == f.each {
			f.served, f.row = 0, f.row%f.chart.H+1
		}
	}
}
