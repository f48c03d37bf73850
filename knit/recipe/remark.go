package recipe

import (
	"fmt"

	"vindel/knit/finding"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Limits that a recipe is held to, besides those of the piece.
const (
	rackLimit  = 2 // positions of the handle without a pass between
	crossLimit = 4 // needles over which stitches cross
)

// remarks is what a run notices on its way (recipes 7).
type remarks struct {
	last  *finding.Finding
	told  []told
	edges [2]edge // of the main bed, by left and right
	turn  turning
	taker taker // the last of feeder 1's yarn
	outer map[loops.ID]int
	lies  int // the handle's position from which the strands between the beds are measured
	at    *Step
	run   *Run
}

// told is a finding that may come again from its line.
type told struct {
	finding.Finding
	again int // rounds more
	act   int // before which it was told first
	holes int
}

// edge is an end needle that has been passed by.
type edge struct {
	needle machine.Needle
	passed *Step // since then; nil: not
	rounds []finding.Round
	short  bool // together with its neighbour
}

// turning is a short row that may turn without a wrap.
type turning struct {
	at     *Step
	rounds []finding.Round
	needle machine.Needle
	dir    machine.Side
	yarn   piece.YarnNo
}

type taker struct {
	bed    machine.BedNo
	needle machine.Needle
	yarn   piece.YarnNo
}

func (m *remarks) begin(r *Run) { m.run, m.lies, m.outer = r, r.rack, map[loops.ID]int{} }

// remark tells a finding, once for its line.
func (m *remarks) remark(f finding.Finding) *told {
	for i := range m.told {
		if t := &m.told[i]; t.Code == f.Code && t.Source == f.Source {
			t.again++
			t.Needles = t.Needles.Or(f.Needles)
			t.Severity = max(t.Severity, f.Severity)
			return t
		}
	}
	m.told = append(m.told, told{Finding: f, act: len(m.run.Acts)})
	return &m.told[len(m.told)-1]
}

// empties remembers where the handle stood when a bed last held nothing.
func (r *Run) empties() {
	if r.beds.Holds[machine.Main].Empty() || r.beds.Holds[machine.Second].Empty() {
		r.lies = r.rack
	}
}

func (r *Run) racked(st *Step) {
	far := r.rack - r.lies
	if r.empties(); r.lies == r.rack || far <= rackLimit && far >= -rackLimit {
		return
	}
	r.remark(r.finding(st, finding.RackFar, finding.Warn, r.beds.Holds[machine.Second], "Knit a row between",
		"The second bed is moved %d positions while both beds hold loops, and no pass between: more than %d strain "+
			"the strands.",
		max(far, -far), rackLimit))
}

// freed: a free pass lays no yarn.
func (r *Run) freed() { r.taker = taker{} }

// anew: a yarn hangs on the far side, and begins with a new end.
func (r *Run) anew(st *Step, y piece.YarnNo) {
	if r.piece.Machine.Feeders > 1 {
		return
	}
	r.remark(r.finding(st, finding.YarnFarSide, finding.Warn, machine.Set{},
		"Let every yarn knit an even number of passes at a time",
		"The carriage stands on the %v, but %s hangs on the %v: it must be cut and joined again.", r.Side,
		r.piece.YarnName(y), r.Side.Other()))
}

// strands holds the strands over one stitch to the limit.
func (r *Run) strands(bed machine.BedNo, n machine.Needle) {
	limit := r.piece.TuckLimit()
	if r.beds.Len(bed, n) <= limit {
		return
	}
	count := 0
	for _, id := range r.beds.Stack(bed, n) {
		if r.beds.Loops[id].Kind == loops.Strand {
			count++
		}
	}
	if count > limit {
		r.remark(r.finding(r.at, finding.TuckStack, finding.Warn, machine.SetOf(n), "Let them knit a row in between",
			"More strands lie over one stitch than the limit of %d, and jam the carriage.", limit))
	}
}

// passed looks at a pass that has just been made.
func (r *Run) passed(st *Step, m *Moves) {
	main, second := &m.Beds[machine.Main], &m.Beds[machine.Second]
	takers, behind := main.takes(), second.takes()
	if takers.Empty() && behind.Empty() {
		r.remark(r.finding(st, finding.RecipeIdle, finding.Warn, machine.Set{}, "Leave the pass out, or let it be free",
			"No needle takes the yarn in this pass."))
		return
	}
	r.lies = r.rack
	if limit := r.piece.Limits.TuckWide; limit > 0 {
		for bed := range m.Beds {
			for _, g := range m.Beds[bed].Groups {
				if wide := g.Needles.Longer(limit); g.Do == machine.Tuck && !wide.Empty() {
					r.remark(r.finding(st, finding.TuckWide, finding.Warn, wide, "Let a stitch between them knit",
						"Neighbours tuck together at %v; the limit is %d side by side.", wide, limit))
				}
			}
		}
	}
	r.ends(st, main, behind.Empty())
	if !takers.Empty() {
		r.turns(st, m)
	}
	if in := main.In(); main.Named && second.Named && !in.Empty() && !behind.Empty() {
		r.outside(st, in, behind)
	}
	r.takerOf(m)
}

// ends looks at the main bed's first and last needle.
func (r *Run) ends(st *Step, h *Half, alone bool) {
	in := h.In()
	if !h.Named || in.Len() < 2 {
		return
	}
	touched := h.touched()
	for side, n := range [2]machine.Needle{in.First(), in.Last()} {
		e := &r.edges[side]
		if e.needle != n {
			*e = edge{needle: n}
		}
		switch {
		case touched.Has(n):
			if e.passed != nil && !e.short {
				f := r.finding(e.passed, finding.EdgeNotKnit, finding.Warn, machine.SetOf(n),
					"Let the end needles take the yarn in every pass",
					"%v is an end needle, and is passed by alone: the edge ladders.", n)
				f.Round = e.rounds
				r.remark(f)
			}
			if *e = (edge{needle: n}); alone && h.tucks().Has(n) {
				r.remark(r.finding(st, finding.EdgeNotKnit, finding.Warn, machine.SetOf(n), "Let the end needles knit",
					"%v is an end needle, and tucks: the edge becomes uneven.", n))
			}
		case alone:
			rest := in
			rest.Remove(n)
			next := rest.First()
			if side == 1 {
				next = rest.Last()
			}
			if e.passed == nil {
				e.passed, e.rounds = st, r.rounds
			}
			e.short = e.short || !touched.Has(next)
		}
	}
}

func (h *Half) tucks() (on machine.Set) {
	for _, g := range h.Groups {
		if g.Do == machine.Tuck {
			on = on.Or(g.Needles)
		}
	}
	return on
}

// turns finds short rows that turn without a wrap.
func (r *Run) turns(st *Step, m *Moves) {
	h, t := &m.Beds[machine.Main], &r.turn
	if t.at != nil && m.Dir == t.dir.Other() && r.fed[0] == t.yarn && !h.touched().Has(t.needle) &&
		r.beds.Len(machine.Main, t.needle) > 0 {
		if again := r.again(finding.TurnHole, t.at, t.needle); again != nil {
			again.holes++
		} else {
			r.hole(t)
		}
	}
	t.at = nil
	r.turning(st, m)
}

// again is a finding of a line that was told already, for one needle more; nil: it was not.
func (m *remarks) again(code finding.Code, st *Step, n machine.Needle) *told {
	for i := range m.told {
		if t := &m.told[i]; t.Code == code && t.Source == st.Line {
			t.again++
			t.Needles.Add(n)
			return t
		}
	}
	return nil
}

// hole tells of the first hole that a line leaves.
func (r *Run) hole(t *turning) {
	f := r.finding(t.at, finding.TurnHole, finding.Note, machine.SetOf(t.needle),
		"Put the next needle in hold and wrap it before the carriage turns", "")
	f.Round = t.rounds
	r.remark(f).holes++
}

// turning finds the needle at which the yarn turns, if a short row leaves one.
func (r *Run) turning(st *Step, m *Moves) {
	h, t := &m.Beds[machine.Main], &r.turn
	takers := h.takes()
	beyond, next := machine.Set{}, machine.Needle(0)
	if last := lastOf(takers, m.Dir); m.Dir == machine.Right {
		if beyond = h.In().And(machine.Range(last+1, machine.MaxBed/2-1)); !beyond.Empty() {
			next = beyond.First()
		}
	} else if beyond = h.In().And(machine.Range(-machine.MaxBed/2, last-1)); !beyond.Empty() {
		next = beyond.Last()
	}
	if !beyond.Empty() && r.beds.Len(machine.Main, next) > 0 {
		*t = turning{st, r.rounds, next, m.Dir, r.fed[0]}
	}
}

// lastOf is the needle of a set that a way comes to last.
func lastOf(on machine.Set, way machine.Side) machine.Needle {
	if way == machine.Right {
		return on.Last()
	}
	return on.First()
}

// outside notes needles of the second bed that take yarn beyond the main bed's ends.
func (r *Run) outside(st *Step, in, behind machine.Set) {
	var out machine.Set
	lie := r.lie()
	for n := range behind.All() {
		if lie.Apart(n, in.First()) < 0 || lie.Apart(n, in.Last()) > 0 {
			out.Add(n)
		}
	}
	if out.Empty() {
		return
	}
	r.remark(r.finding(st, finding.SecondEdge, finding.Note, out, "Keep the second bed within the ends of the main one",
		"%v of the second bed take the yarn beyond the end needles of the main bed.", out))
	for i := range r.told {
		if t := &r.told[i]; t.Code == finding.SecondEdge && t.Source == st.Line {
			for n := range out.All() {
				stack := r.beds.Stack(machine.Second, n)
				r.outer[stack[len(stack)-1]] = i
			}
		}
	}
}

// takerOf notes the last needle that took feeder 1's yarn.
func (r *Run) takerOf(m *Moves) {
	y := r.fed[0]
	var at [2]machine.Set
	for bed := range m.Beds {
		h := &m.Beds[bed]
		if !h.Named {
			continue
		}
		for _, g := range h.Groups {
			if g.Do != machine.Slip && (g.Yarns[0] == y || g.Yarns[1] == y) {
				at[bed] = at[bed].Or(g.Needles)
			}
		}
		if h.Takes && (h.Held[0] == y || h.Held[1] == y) {
			at[bed] = at[bed].Or(h.Hold)
		}
	}
	switch {
	case at[0].Empty() && at[1].Empty():
	case at[1].Empty():
		r.taker = taker{machine.Main, lastOf(at[0], m.Dir), y}
	case at[0].Empty():
		r.taker = taker{machine.Second, lastOf(at[1], m.Dir), y}
	default:
		a, z := lastOf(at[0], m.Dir), lastOf(at[1], m.Dir)
		if apart := r.lie().Apart(z, a); apart == 0 || apart > 0 == (m.Dir == machine.Right) {
			r.taker = taker{machine.Second, z, y}
		} else {
			r.taker = taker{machine.Main, a, y}
		}
	}
}

// wrapped looks at needles that have been wrapped.
func (r *Run) wrapped(st *Step, on machine.Set) {
	if st.Bed == machine.Main && on.Has(r.turn.needle) {
		r.turn.at = nil
	}
	var far machine.Set
	in := r.in(st.Bed)
	for n := range on.All() {
		t := r.taker
		between := in.And(machine.Range(min(n, t.needle)+1, max(n, t.needle)-1))
		if t.yarn != r.fed[0] || t.bed != st.Bed || n == t.needle || !between.Empty() {
			far.Add(n)
		}
	}
	if !far.Empty() {
		r.remark(r.finding(st, finding.WrapFar, finding.Warn, far, "Wrap the needle next to the last one that knitted",
			"%v are wrapped and do not stand beside the last needle that took %s.", far, r.piece.YarnName(r.fed[0])))
	}
}

// dropped looks at loops that have been let go.
func (r *Run) dropped(st *Step, on machine.Set, gone []loops.ID) {
	for _, id := range gone {
		if i, ok := r.outer[id]; ok {
			r.told[i].Severity = finding.Warn
		}
	}
	var at machine.Set
	for _, id := range gone {
		if len(r.beds.Through(id)) > 0 {
			at.Add(machine.Needle(r.beds.Loops[id].Needle))
		}
	}
	if deep := r.beds.Runs(gone, func(loops.ID) {}); deep > 0 {
		r.remark(r.finding(st, finding.DropRuns, finding.Warn, at, "Drop them before a stitch is drawn through them",
			"What is dropped had been drawn through other loops: %s run down at %v.", words.Count(deep, "row",
				"rows"), at))
	}
}

// --- rounds that drift ----------------------------------------------------------

// drifting is a repeat of whose rounds each must leave things as the one before did.
type drifting struct {
	r      *Run
	st     *Step
	period int // 0: it is not looked at
	then   place
}

// place is what must come round.
type place struct {
	work, hold [2]machine.Set
	rack       int
	pitch      machine.Pitch
	fed        Pair
}

func (r *Run) now() place { return place{r.work, r.hold, r.rack, r.pitch, r.fed} }

// watch begins to look at a repeat of n rounds.
func (r *Run) watch(st *Step, n int) drifting {
	period, ok := 1, true
	for _, own := range st.Body {
		own.numbers(func(x *Number) {
			switch x.Op {
			case opSeries, opRound:
				ok = false
			case opTurns:
				period = lcm(period, len(x.List))
			}
		})
		own.turns(func(k int) { period = lcm(period, k) })
	}
	if !ok || 2*period > n {
		period = 0
	}
	return drifting{r: r, st: st, period: period}
}

func (d *drifting) after(round int) {
	switch {
	case d.period == 0:
	case round == d.period:
		d.then = d.r.now()
	case round == 2*d.period && d.then != d.r.now():
		r := d.r
		f := r.finding(d.st, finding.RoundDrifts, finding.Note, machine.Set{},
			"Put back at the end of the round what it changes", "%s",
			"The round leaves needles, racking, pitch or feeders otherwise than it found them, and no step in it "+
				"says so.")
		f.Round = r.rounds[:len(r.rounds)-1]
		r.remark(f)
	}
}

func lcm(a, b int) int {
	x, y := a, b
	for y != 0 {
		x, y = y, x%y
	}
	return min(a/x*b, 2*MaxWorked)
}

// numbers yields every number of a line, parts of numbers too.
func (st *Step) numbers(f func(*Number)) {
	var each func(n *Number)
	each = func(n *Number) {
		if n == nil {
			return
		}
		f(n)
		each(n.A)
		each(n.B)
		for _, x := range n.List {
			each(x)
		}
	}
	each(st.Num)
	each(st.From)
	each(st.To)
	st.eachSet(func(s *Set) {
		each(s.Num)
		each(s.From)
		each(s.Some)
	})
}

// turns yields the lengths of a line's yarns and sets by turns.
func (st *Step) turns(f func(int)) {
	yarns := func(list []*YarnRef) {
		for _, y := range list {
			if y.List != nil {
				f(len(y.List))
			}
		}
	}
	yarns(st.Yarns)
	for i := range st.Parts {
		for _, d := range st.Parts[i].Deeds {
			yarns(d.Yarns)
		}
	}
	st.eachSet(func(s *Set) {
		if s.Pick == pickTurns {
			f(len(s.List))
		}
	})
}

// whole yields the sets of a line that are no part of another.
func (st *Step) whole(f func(*Set)) {
	for _, s := range []*Set{st.Set, st.With} {
		if s != nil {
			f(s)
		}
	}
	for i := range st.Parts {
		for _, d := range st.Parts[i].Deeds {
			if d.Set != nil {
				f(d.Set)
			}
		}
	}
	for _, l := range st.Sets {
		f(l.Set)
	}
}

// eachSet yields every set of a line, parts of sets too.
func (st *Step) eachSet(f func(*Set)) { st.whole(func(s *Set) { s.each(f) }) }

func (s *Set) each(f func(*Set)) {
	f(s)
	for _, part := range append([]*Set{s.A, s.B, s.Of}, s.List...) {
		if part != nil {
			part.each(f)
		}
	}
}

// excused says that a set may be empty every time.
func (s *Set) excused() (yes bool) {
	if s.Pick == pickNone || s.Pick == pickName && s.Of == nil {
		return true
	}
	s.each(func(part *Set) {
		switch part.Pick {
		case pickWorking, pickHeld, pickEmpty, pickOthers, pickMarks:
			yes = true
		}
	})
	return yes
}

// idle tells of sets that were empty every time.
func (r *Run) idle(list []*Step) {
	for _, st := range list {
		st.whole(func(s *Set) {
			if seen := r.sets[s.no]; seen.asked && !seen.found && !s.excused() {
				r.rounds = nil
				r.remark(r.finding(st, finding.RecipeIdle, finding.Warn, machine.Set{},
					"Leave it out, or choose other needles",
					"%v chooses no needle, whenever this line is reached.", s))
			}
		})
		r.idle(st.Body)
	}
}

// finish sums the run up.
func (r *Run) finish() {
	if r.Err == nil && !r.Stopped {
		r.idle(r.Recipe.Lines)
	}
	for i := range r.told {
		t := &r.told[i]
		if t.Code == finding.TurnHole {
			t.Text = fmt.Sprintf("A short row turns without a wrap: %s, at %v.%s", words.Count(t.holes, "hole",
				"holes"), t.Needles,
				r.lineOf(t.Source, t.Round))
		}
		if t.again > 0 {
			t.Text += fmt.Sprintf(" It comes again, %d more %s.", t.again, words.Plural(t.again, "time", "times"))
		}
		r.Found, r.FoundAt = append(r.Found, t.Finding), append(r.FoundAt, t.act)
	}
	if r.last != nil {
		r.Found = append(r.Found, *r.last)
	}
	r.Totals.Loops = make([]map[string]int, len(r.piece.Yarns)+1)
	for i := range r.Totals.Loops {
		r.Totals.Loops[i] = map[string]int{}
	}
	var counts [2][loops.Long + 1][256]int
	for i := range r.beds.Loops {
		l := &r.beds.Loops[i]
		counts[l.Bed][l.Kind][l.Yarn]++
		if l.Under != 0 {
			counts[l.Bed][l.Kind][l.Under]++
		}
	}
	for bed := range counts {
		for kind := loops.Cast; kind <= loops.Long; kind++ {
			key := kind.String()
			if kind == loops.Knit && bed == int(machine.Second) {
				key = "second"
			}
			for y := range r.Totals.Loops {
				if n := counts[bed][kind][y]; n > 0 {
					r.Totals.Loops[y][key] += n
				}
			}
		}
	}
	for n := range r.bases[machine.Main].All() {
		if k := r.knits[n+machine.MaxBed/2]; k > 0 {
			if least := &r.Totals.Passes[1]; *least == 0 || k < *least {
				*least = k
			}
			r.Totals.Passes[0] = max(r.Totals.Passes[0], k)
		}
	}
}

func (r *Run) lineOf(line int, rounds []finding.Round) string {
	return fmt.Sprintf(" (Line %d%s.)", line, finding.Said(rounds))
}
