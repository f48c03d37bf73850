package technique

import (
	"fmt"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/step"
)

// By hand there are two ways to tuck the same needles pass after pass (rules 5.4): forward,
// under a cam that tucks them, or in full hold, where the yarn lies over their shanks, until
// a cam of the next pass takes them back. The loops are the same; the plan takes the one
// with fewer touches: a needle is one, a cam that is set two.
const camTouches = machine.CamTouches

// stretch is rows on one another in which needles tuck, from 1.
type stretch struct{ from, to int }

// handTucks is how the rows of a section are tucked by hand.
type handTucks struct {
	section *bed.Placed
	held    []bool            // by row from 1: its needles wait in full hold
	back    []bool            // and its cam takes back what waited
	set     []machine.Setting // by row from 1
}

// tucksOf is the needles that tuck in a row, those kept to knit by a policy left out.
func tucksOf(s *bed.Placed, r int) machine.Set {
	return s.Wants(r, chart.Tuck).And(s.InWork(r)).Minus(heldEnds(s, r))
}

// tuckWay is one of the ways to tuck a stretch.
type tuckWay uint8

const (
	byForward tuckWay = iota // forward, under a cam that tucks them
	byFingers                // in full hold, and fingers take them back
	byCam                    // in full hold, and the cam of the next row takes them back
)

// soFar is one way through the stretches so far: how the controls stand after it, and what it costs.
type soFar struct {
	levers  loom.Levers
	touches int
	ways    []tuckWay         // by stretch
	set     []machine.Setting // by row from 0
}

// row knits a row under a setting; waits says that needles are in full hold.
func (f *soFar) row(m *machine.Profile, way machine.Side, s machine.Setting, forward, waits bool) {
	if _, moved := f.levers.Move(m, s, way, forward, waits); moved != 0 {
		f.touches += camTouches
	}
	f.set = append(f.set, s)
}

// tucker looks for the way with the fewest touches through a section.
type tucker struct {
	m         *machine.Profile
	s         *bed.Placed
	first     machine.Side // the way of row 1
	stretches []stretch
}

// way is the way of a row.
func (t *tucker) way(r int) machine.Side {
	if r%2 == 0 {
		return t.first.Other()
	}
	return t.first
}

// between knits rows in which no needle tucks, up to a row: under plain or under a cam that tucks what is forward,
// which is nothing, whichever stands.
func (t *tucker) between(f *soFar, to int) {
	for r := len(f.set) + 1; r <= to; r++ {
		s := machine.Plain
		if now := f.levers.Stands(t.way(r)); now.Key == machine.TuckForward.Key || now.Key == "" && len(f.set) > 0 &&
			f.set[len(f.set)-1].Key == machine.TuckForward.Key {
			s = machine.TuckForward
		}
		f.row(t.m, t.way(r), s, false, false)
	}
}

// over is a way so far gone on over stretch i.
func (t *tucker) over(f soFar, i int, by tuckWay) soFar {
	st := t.stretches[i]
	f.ways, f.set = append(slices.Clip(f.ways), by), slices.Clip(f.set)
	t.between(&f, st.from-1)
	forward, hold, _ := touchesOf(t.m, t.s, st)
	for r := st.from; r <= st.to; r++ {
		if by == byForward {
			f.row(t.m, t.way(r), machine.TuckForward, true, false)
		} else {
			f.row(t.m, t.way(r), machine.Holding, false, true)
		}
	}
	switch by {
	case byForward:
		f.touches += forward
	case byFingers:
		f.touches += hold + tucksOf(t.s, st.to).Len()
	case byCam:
		f.touches += hold
		f.row(t.m, t.way(st.to+1), machine.Plain, false, true)
	}
	return f
}

// stretchesOf are the stretches of a section, from the bottom.
func stretchesOf(s *bed.Placed) (list []stretch) {
	for r := 1; r <= s.Rows; r++ {
		switch n := len(list); {
		case tucksOf(s, r).Empty():
		case n > 0 && list[n-1].to == r-1:
			list[n-1].to = r
		default:
			list = append(list, stretch{r, r})
		}
	}
	return list
}

// fewest finds the way with the fewest touches from how the controls stand, stretch by stretch: for each way in which
// they may stand after it, the cheapest way to that. ways are those that may be taken; false: none can.
func (t *tucker) fewest(start loom.Levers, ways ...tuckWay) (best soFar, ok bool) {
	at := []soFar{{levers: start}}
	for i, st := range t.stretches {
		_, _, ends := touchesOf(t.m, t.s, st)
		var next []soFar
		index := map[loom.Levers]int{}
		for _, f := range at {
			for _, by := range ways {
				if by != byForward && (ends || t.m.HeldPasses) || by == byCam && st.to == t.s.Rows {
					continue // beyond the last needle that knits the yarn does not lie over a held one
				}
				to := t.over(f, i, by)
				if k, known := index[to.levers]; !known {
					index[to.levers] = len(next)
					next = append(next, to)
				} else if to.touches < next[k].touches {
					next[k] = to
				}
			}
		}
		at = next
	}
	for i := range at {
		t.between(&at[i], t.s.Rows)
		if !ok || at[i].touches < best.touches {
			best, ok = at[i], true
		}
	}
	return best, ok
}

// touchesOf is how many needles are touched over a stretch, forward under the tucking cam
// and in full hold, up to its last row in hold; ends says that an end needle tucks.
func touchesOf(m *machine.Profile, s *bed.Placed, st stretch) (forward, hold int, ends bool) {
	var before machine.Set
	for r := st.from; r <= st.to; r++ {
		t, work := tucksOf(s, r), s.InWork(r)
		ends = ends || t.Has(work.First()) || t.Has(work.Last())
		come, go_ := t.Minus(before).Len(), before.Minus(t).Len()
		hold += come + go_
		if m.ResetEach {
			forward += t.Len()
		} else {
			forward += come + go_
		}
		before = t
	}
	if !m.ResetEach {
		forward += before.Len()
	}
	return forward, hold, ends
}

// planHandTucks settles how every row of a section is tucked, and says what the other way
// would cost.
func planHandTucks(l *loom.Loom, s *bed.Placed) *handTucks {
	t := loom.State[handTucks](l)
	if t.section == s {
		return t
	}
	*t = handTucks{s, make([]bool, s.Rows+2), make([]bool, s.Rows+2), make([]machine.Setting, s.Rows+1)}
	look := tucker{l.Machine, s, l.Stands(machine.KnitCarriage).Other(), stretchesOf(s)}
	start := l.Levers(machine.KnitCarriage)
	ways := []tuckWay{byForward, byFingers, byCam}
	if !s.Still() { // full hold is the shape's, and the cam that takes it back would take that too
		ways = ways[:1]
	}
	best, ok := soFar{}, false
	switch s.Section.Options.HandTucks {
	case "forward":
		best, ok = look.fewest(start, byForward)
	case "hold":
		best, ok = look.fewest(start, ways[1:]...)
	}
	if !ok {
		best, _ = look.fewest(start, ways...)
	}
	for i, st := range look.stretches {
		for r := st.from; r <= st.to; r++ {
			t.held[r] = best.ways[i] != byForward
		}
		t.back[st.to+1] = best.ways[i] == byCam
	}
	copy(t.set[1:], best.set)
	sayTouches(l, look, start, best)
	return t
}

// sayTouches notes what tucking by hand costs, and what it would cost the other way.
func sayTouches(l *loom.Loom, t tucker, start loom.Levers, best soFar) {
	if len(t.stretches) == 0 {
		return
	}
	other, way, text := []tuckWay{byFingers, byCam}, "hold", "the tucking needles stand forward under a cam that tucks them: %s. In "+
		"full hold they would be %d."
	if best.ways[0] != byForward {
		other, way, text = []tuckWay{byForward}, "forward",
			"the tucking needles wait in full hold and are taken back: %s. Forward under a cam that tucks them they "+
				"would be %d."
	}
	cost, ok := t.fewest(start, other...)
	if !ok {
		return
	}
	var needles machine.Set
	for r := 1; r <= t.s.Rows; r++ {
		needles = needles.Or(tucksOf(t.s, r))
	}
	l.Plan.Report(finding.Finding{Code: finding.TuckWay, Severity: finding.Note, Section: t.s.No,
		Rows: [2]int{t.stretches[0].from, t.stretches[len(t.stretches)-1].to}, Needles: needles,
		Text: fmt.Sprintf("By hand, "+text, fmt.Sprintf("%d touches of a needle or lever, a lever counted as two",
			best.touches),
			cost.touches),
		Fix:  map[string]string{"hold": "Hold them", "forward": "Bring them forward"}[way],
		Mend: finding.Always(edit.SectionOption(t.s.No, "hand_tucks", way))})
}

// handTuckRow knits a row whose tucks are made by hand.
func handTuckRow(l *loom.Loom, w loom.Work) {
	s, r := w.Placed, w.Row
	t := planHandTucks(l, s)
	p := l.New(w, t.set[r])
	p.Patterned = true
	half, tucks := p.Main(), tucksOf(s, r)
	if !t.held[r] {
		half.Select = w.Placed.Wants(r, chart.Tuck).And(w.InWork())
	}
	l.EndNeedles(p, false, true)
	var held machine.Set // on the row below
	if t.held[r-1] {
		held = tucksOf(s, r-1)
	}
	if t.held[r] {
		half.Hold = tucks
	} else if t.back[r] {
		half.Hold = held // the cam knits them with the rest
	}
	if back := held.Minus(half.Hold); !back.Empty() {
		p.Add(step.ToWork{At: step.Main(back)})
	}
	if wait := half.Hold.Minus(held); !wait.Empty() {
		p.Add(step.ToHold{At: step.Main(wait), Quiet: true})
	}
	l.Sent(p)
	if t.held[r] && r == s.Rows {
		if l.Piece.Shape != nil { // before an edge moves there, or the piece divides
			l.Later(step.WorkEdge{Edge: step.Edge{At: step.Main(tucks), Due: step.OfRowBelow}})
		} else {
			l.Later(step.ToWork{At: step.Main(tucks)})
		}
	}
}
