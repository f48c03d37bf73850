package loom

import (
	"maps"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// shaping is what the loom keeps of a shaped piece (rules 5.11).
type shaping struct {
	row         func()      // what is done once the first pass of the row at work is begun
	cast        machine.Set // cast on before the first pass
	hold        machine.Set // of the main bed: waits in hold
	behind      machine.Set // of the second, likewise
	waits       machine.Set // in hold for the other part
	waitsBehind machine.Set // likewise, of the second
	mark        *mark
}

// mark is where a piece divides: what the second part goes back to.
type mark struct {
	*step.Marked
	side                 machine.Side
	course               int
	waits, behind        machine.Set // with the middle
	hold, behindHold     machine.Set // of those, already in hold
	middle, middleBehind machine.Set
	off                  bool
}

// BeforeRow has something done as soon as the first pass of the row at work is begun: after a selecting
// pass and whatever else comes before it.
func (l *Loom) BeforeRow(do func()) { l.shape.row = do }

// rowBegins does what was left until now.
func (l *Loom) rowBegins() {
	if do := l.shape.row; do != nil {
		l.shape.row = nil
		do()
	}
}

// Wraps lays the yarn round needles that wait, before a row of a shaped piece.
func (l *Loom) Wraps(s *bed.Placed, row int) {
	st := s.Shaped(row)
	if st == nil {
		return
	}
	if last := l.Last(); !st.Wrap.Empty() && last != nil {
		y := last.Yarn(1)
		if y == 0 {
			y = s.Section.RowYarn(max(row-1, 1))
		}
		l.Later(step.WrapEdge{At: step.Main(st.Wrap), Yarn: y})
	}
}

// Edges moves the edges of the work to where they are in a row of a shaped piece, as hand steps before the
// pass that comes next. Edges that do the same with the same tool are one step.
func (l *Loom) Edges(s *bed.Placed, row int) {
	st, b := s.Shaped(row), &l.second
	if st == nil || len(st.Edges) == 0 && len(l.Plan.Passes) > 0 {
		return
	}
	if len(l.Plan.Passes) == 0 && !l.begun {
		b.main, _ = l.Piece.BedsOn(s.Section, l.Piece.Work())
		l.shape.cast = b.main
	}
	works := !st.Second.Or(st.Behind).Empty() && !b.holds.Empty()
	behind := func() (all, active machine.Set) {
		_, all = l.Piece.BedsOn(s.Section, b.main)
		_, active = l.Piece.BedsOn(s.Section, b.main.Minus(l.shape.hold))
		return all, active
	}
	from, due := len(l.due), step.AtOnce
	for i := range st.Edges {
		e := &st.Edges[i]
		do, yarn := does(e)
		if yarn {
			due = step.WithYarn
		}
		l.edge(from, do, e.Step, machine.Main, e.Needles)
		l.standing = l.standing.Minus(e.Needles).Minus(e.Touched)
		var all, active machine.Set
		if works {
			all, active = behind()
		}
		switch {
		case e.Step.Hold:
			l.shape.hold = l.shape.hold.Or(e.Needles)
		case e.Step.Release:
			l.shape.hold = l.shape.hold.Minus(e.Needles)
		case e.Step.Stitches > 0:
			b.main = b.main.Or(e.Needles)
		default:
			b.main = b.main.Minus(e.Needles)
		}
		if !works {
			continue
		}
		allNow, activeNow := behind()
		var on machine.Set
		switch {
		case e.Step.Hold:
			on = active.Minus(activeNow)
		case e.Step.Release:
			on = activeNow.Minus(active)
		case e.Step.Stitches > 0:
			on = allNow.Minus(all)
			b.holds = b.holds.Or(on)
		default:
			on = all.Minus(allNow)
			b.holds = b.holds.Minus(on)
		}
		if !on.Empty() {
			l.edge(from, do, e.Step, machine.Second, on)
		}
	}
	for i := from; i < len(l.due); i++ {
		st := l.due[i].Step.(step.Edged)
		e := st.Edging()
		e.Due = due // all of them once the yarn is in, where one needs it
		l.due[i].Step = st.As(e)
	}
	l.shape.hold, l.shape.behind = st.Hold, st.Behind
}

// does is the verb of an edge, and whether it needs a yarn.
func does(e *piece.Edge) (do step.Edged, yarn bool) {
	n := e.Step.Stitches
	switch {
	case e.Step.Release:
		return step.WorkEdge{}, false
	case e.Step.Hold:
		return step.HoldEdge{}, false
	case n == 1:
		return step.Widen{}, false
	case n > 1:
		return step.CastOnEdge{}, true
	case n == -1:
		return step.Narrow{}, false
	}
	return step.BindOffEdge{}, true
}

// edge adds the step of an edge to those from index `from` on, or to one that does the same.
func (l *Loom) edge(from int, do step.Edged, s *piece.ShapeStep, bed machine.BedNo, on machine.Set) {
	for i := from; i < len(l.due); i++ {
		st := l.due[i].Step.(step.Edged)
		if e := st.Edging(); st.Do() == do.Do() && e.Of == bed && e.Tool == s.Fashion {
			e.On, e.Side = e.On.Or(on), 0
			l.due[i].Step = st.As(e)
			return
		}
	}
	l.Later(do.As(step.Edge{At: step.On(bed, on), Side: s.Side, Tool: s.Fashion}))
}

// yarnOfEdges gives the steps of an edge that need the yarn the one of the pass.
func (l *Loom) yarnOfEdges(p *pass.Pass) {
	for i := range p.Before {
		st := &p.Before[i].Step
		if !step.Is[step.BindOffEdge](*st) && !step.Is[step.CastOnEdge](*st) {
			continue
		}
		e := (*st).(step.Edged).Edging()
		if e.Yarn == 0 {
			e.Yarn = p.Yarn(1)
		}
		if e.Yarn == 0 {
			e.Yarn = l.placed.Section.RowYarn(max(p.Row(), 1))
		}
		*st = (*st).(step.Edged).As(e)
	}
}

// standsNow is the needles of either bed with stitches before a pass of a row (0: of none) in a shaped piece, and
// those that wait in hold.
func (l *Loom) standsNow(row int) (all, hold machine.Set) {
	if row > 0 {
		st := l.placed.Shaped(row)
		return st.Work.Or(st.Hold), st.Hold
	}
	if l.second.main.Empty() { // nothing is cast on yet
		all, _ = l.Piece.BedsOn(l.placed.Section, l.Piece.Work())
		return all, machine.Set{}
	}
	return l.second.main, l.shape.hold
}

// standsBehind is likewise of the second bed.
func (l *Loom) standsBehind(row int) (all, hold machine.Set) {
	s := l.placed
	if s.Shaped(max(row, 1)) == nil {
		return s.Second, machine.Set{}
	}
	if s.Second.Empty() {
		return all, hold
	}
	if row == 0 && !l.second.holds.Empty() {
		return l.second.holds, l.shape.behind
	}
	work, hold := s.Behind(max(row, s.FromRow))
	return work.Or(hold), hold
}

// Divide marks the row of a section that comes next and leaves the needles that are not in the first
// part, in hold, or off, on waste yarn. course is the row of fabric below it, middle is what is to be bound off of
// them.
func (l *Loom) Divide(first *bed.Placed, row, course int, stays, middle machine.Set, off bool) {
	b := &l.second
	_, behind := l.Piece.BedsOn(first.Section, stays)
	_, other := l.Piece.BedsOn(first.Section, b.main.Minus(stays).Minus(middle))
	if b.holds.Empty() {
		behind, other = machine.Set{}, machine.Set{}
	}
	m := &mark{Marked: &step.Marked{Row: row, Counter: l.counter}, side: l.carriage, course: course, off: off,
		waits: b.main.Minus(stays), behind: b.holds.Minus(behind), middle: middle}
	m.middleBehind = m.behind.Minus(other) // also what stands between the two parts
	m.hold, m.behindHold = l.shape.hold.And(m.waits), l.shape.behind.And(m.behind)
	l.shape.mark = m
	l.Later(step.Mark{At: step.Main(m.waits), Marked: m.Marked, Side: m.side, Off: off})
	for bed, on := range [2]machine.Set{m.waits, m.behind} {
		if !on.Empty() {
			l.Later(step.Wait{At: step.On(machine.BedNo(bed), on), Off: off})
		}
	}
	b.main, b.holds = b.main.Minus(m.waits), b.holds.Minus(m.behind)
	l.shape.hold, l.shape.behind = l.shape.hold.Minus(m.waits), l.shape.behind.Minus(m.behind)
	if !off {
		l.shape.waits, l.shape.waitsBehind = m.waits, m.behind
	}
	l.standing = l.standing.Minus(m.waits)
}

// GoBack takes the work up again where it was marked, for the second part: the middle is bound off, the stitches
// that waited come back, and counter, rows and yarns begin again from there.
func (l *Loom) GoBack(y piece.YarnNo) (side machine.Side) {
	m, b := l.shape.mark, &l.second
	for f, y := range append(l.feeders[:], l.yarns.feeder) {
		if y != 0 {
			l.Later(step.Unthread{Feeder: f%len(l.feeders) + 1, Yarn: y, Cut: true, AtMark: true})
		}
	}
	for bed, on := range [2]machine.Set{m.middle, m.middleBehind} {
		if on.Empty() {
			continue
		}
		l.Later(step.BindOffMiddle{At: step.On(machine.BedNo(bed), on), Yarn: y})
	}
	waits, behind := m.waits.Minus(m.middle), m.behind.Minus(m.middleBehind)
	l.Later(step.Return{At: step.Main(waits), Marked: m.Marked, Side: m.side})
	for bed, on := range [2]machine.Set{waits, behind} {
		hold := [2]machine.Set{m.hold, m.behindHold}[bed].And(on)
		if !m.off { // they are in hold already
			on, hold = on.Minus(hold), machine.Set{}
		}
		if !on.Empty() {
			l.Later(step.TakeUp{At: step.On(machine.BedNo(bed), on), Off: m.off})
		}
		if !hold.Empty() {
			l.Later(step.ToHold{At: step.On(machine.BedNo(bed), hold), Again: true})
		}
	}
	l.feeders, l.took = [2]piece.YarnNo{}, [2]piece.YarnNo{}
	l.yarns, l.bobbins = yarnState{carriage: l.carriage}, nil
	b.main, b.holds = waits, behind
	l.shape.hold, l.shape.behind, l.shape.waits, l.shape.waitsBehind = m.hold, m.behindHold, machine.Set{}, machine.Set{}
	l.course, l.weighed = m.course, m.course
	if l.counter != m.Counter {
		l.SetCounter(m.Counter)
	}
	l.standing = machine.Set{}
	return m.side
}

// Marked is where the piece divides, nil where it has not.
func (l *Loom) Marked() *step.Marked {
	if l.shape.mark == nil {
		return nil
	}
	return l.shape.mark.Marked
}

// shapedLoad is Loaded where edges have moved: stitches lie on other needles than they were knitted on, and
// those of the other part have waited.
func (l *Loom) shapedLoad(main, second machine.Set, cast piece.YarnNo) (list []loops.Loop) {
	h := &heaps{}
	for bed := range h.on {
		h.on[bed], h.away[bed] = map[machine.Needle][]piece.YarnNo{}, map[machine.Needle][]piece.YarnNo{}
	}
	on := &h.on
	for i := range l.Plan.Passes {
		p := &l.Plan.Passes[i]
		h.now = p
		for j := range p.Before {
			p.Before[j].Act(h)
		}
		caught := l.caught(p)
		for g := range p.Groups() {
			for n := range g.Needles.All() {
				switch {
				case g.Action.Knits() && g.Yarn != 0:
					on[g.Bed][n] = []piece.YarnNo{g.Yarn}
				case g.Action == machine.Tuck && g.Yarn != 0:
					on[g.Bed][n] = append(on[g.Bed][n], g.Yarn)
				}
			}
		}
		for n := range caught.All() {
			on[machine.Main][n] = append(on[machine.Main][n], p.Yarn(1))
		}
	}
	for bed, set := range [2]machine.Set{main, second} {
		for n := range set.All() {
			stack, known := on[bed][n]
			if !known {
				stack = []piece.YarnNo{cast}
			}
			for _, y := range stack {
				list = append(list, loops.Loop{Bed: machine.BedNo(bed), Needle: int16(n), Yarn: y})
			}
		}
	}
	return list
}

// TakeBack brings to work what still waits in hold, before the stitches come off.
func (l *Loom) TakeBack() {
	for bed, on := range [2]machine.Set{l.shape.hold, l.shape.behind} {
		if !on.Empty() {
			l.Later(step.WorkEdge{Edge: step.Edge{At: step.On(machine.BedNo(bed), on)}})
		}
	}
	l.shape.hold, l.shape.behind = machine.Set{}, machine.Set{}
}

// heaps is the yarns that the needles of either bed hold, bottom first, as hands leave them, and those of the stitches
// that wait.
type heaps struct {
	step.Idle
	on, away [2]map[machine.Needle][]piece.YarnNo
	now      *pass.Pass // the next
}

// CastOn lays one loop on each needle; so does CastOnEdge.
func (h *heaps) CastOn(bed machine.BedNo, on machine.Set, y piece.YarnNo) {
	for n := range on.All() {
		h.on[bed][n] = []piece.YarnNo{y}
	}
}

func (h *heaps) CastOnEdge(bed machine.BedNo, on machine.Set, y piece.YarnNo) { h.CastOn(bed, on, y) }

func (h *heaps) Enter(bed machine.BedNo, on machine.Set) {
	for n := range on.All() {
		h.on[bed][n] = []piece.YarnNo{}
	}
}

func (h *heaps) Across(from machine.BedNo, on machine.Set) {
	lie := machine.Across{Shift: h.now.Shift, Pitch: h.now.Pitch}
	for n := range on.All() {
		to := lie.Left(n)
		if from == machine.Main {
			to = n - machine.Needle(lie.Shift)
		}
		work := h.now.Beds[1-from].AtWork
		for n, on := range h.on[1-from] { // and those that the row's edge takes out, later
			if len(on) > 0 {
				work.Add(n)
			}
		}
		if to, ok := pass.Nearest(work, to); ok {
			h.put(1-from, to, h.on[from][n])
		}
		h.on[from][n] = nil
	}
}

// put lays yarns over those that a needle holds.
func (h *heaps) put(bed machine.BedNo, n machine.Needle, yarns []piece.YarnNo) {
	h.on[bed][n] = append(slices.Clip(h.on[bed][n]), yarns...)
}

func (h *heaps) WrapEdge(on machine.Set, y piece.YarnNo) {
	for n := range on.All() {
		h.put(machine.Main, n, []piece.YarnNo{y})
	}
}

func (h *heaps) Wait(bed machine.BedNo, on machine.Set) {
	for n := range on.All() {
		h.away[bed][n] = h.on[bed][n]
	}
}

func (h *heaps) Return() {
	for bed := range h.away {
		maps.Copy(h.on[bed], h.away[bed])
	}
}

func (h *heaps) Widen(e step.Widen) {
	for n := range e.On.All() {
		h.on[e.Of][n] = nil // until it knits
	}
	h.moved(e.Edge, e.Moves)
}

func (h *heaps) Narrow(e step.Narrow) { h.moved(e.Edge, e.Moves) }

func (h *heaps) moved(e step.Edge, moves func(active machine.Set) []step.Moved) {
	half, b := &h.now.Beds[e.Of], h.on[e.Of]
	for _, m := range moves(half.AtWork.Or(e.On).Minus(half.Hold)) {
		if m.Fill {
			b[m.To] = b[m.From][:min(1, len(b[m.From]))]
		} else {
			h.put(e.Of, m.To, b[m.From])
			b[m.From] = nil
		}
	}
}
