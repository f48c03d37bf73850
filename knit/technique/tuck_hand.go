package technique

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/chart"
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

// lever is what the cams are set to between stretches of tucks.
type lever uint8

const (
	anyLever      lever = iota // as the section before left it
	tuckLever                  // needles forward tuck
	holdLever                  // plain: needles in full hold wait
	takeBackLever              // and here they knit with the rest
	levers
)

var leverSettings = [levers]machine.Setting{tuckLever: machine.TuckForward, holdLever: machine.Plain,
	takeBackLever: machine.TakeBack}

// stretch is rows on one another in which needles tuck, from 1.
type stretch struct{ from, to int }

// handTucks is how the rows of a section are tucked by hand.
type handTucks struct {
	section *bed.Placed
	held    []bool  // by row from 1: its needles wait in full hold
	lever   []lever // by row from 1
}

// tucksOf is the needles that tuck in a row, those kept to knit by a policy left out.
func tucksOf(s *bed.Placed, r int) machine.Set {
	return s.Wants(r, chart.Tuck).And(s.InWork(r)).Minus(heldEnds(s, r))
}

// way is one way through the stretches so far, and what it costs.
type way struct {
	touches int
	held    []bool // by stretch
	back    []bool // by stretch: a cam takes it back, not the fingers
}

// handWays finds the way with the fewest touches through a section, stretch by stretch: for
// each lever that the stretches so far may have left, the cheapest way to it. only limits it
// to one of the two ways.
func handWays(m *machine.Profile, s *bed.Placed, start, only lever) (stretches []stretch, best way, ok bool) {
	for r := 1; r <= s.Rows; r++ {
		switch n := len(stretches); {
		case tucksOf(s, r).Empty():
		case n > 0 && stretches[n-1].to == r-1:
			stretches[n-1].to = r
		default:
			stretches = append(stretches, stretch{r, r})
		}
	}
	var at [levers]*way
	at[start] = &way{}
	for _, st := range stretches {
		var next [levers]*way
		take := func(from *way, to lever, touches int, held, back bool) {
			touches += from.touches
			if next[to] == nil || touches < next[to].touches {
				next[to] = &way{touches, append(from.held[:len(from.held):len(from.held)], held),
					append(from.back[:len(from.back):len(from.back)], back)}
			}
		}
		forward, hold, ends := touchesOf(m, s, st)
		last := tucksOf(s, st.to).Len()
		for now, w := range at {
			if w == nil {
				continue
			}
			set := func(to lever) int {
				if lever(now) == to {
					return 0
				}
				return camTouches
			}
			if only != holdLever {
				take(w, tuckLever, set(tuckLever)+forward, false, false)
			}
			if ends || m.HeldPasses || only == tuckLever {
				continue // beyond the last needle that knits the yarn does not lie over a held one
			}
			take(w, holdLever, set(holdLever)+hold+last, true, false)
			if st.to < s.Rows {
				take(w, takeBackLever, set(holdLever)+hold+camTouches, true, true)
			}
		}
		at = next
	}
	for _, w := range at {
		if w != nil && (!ok || w.touches < best.touches) {
			best, ok = *w, true
		}
	}
	return stretches, best, ok
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
	start, to := anyLever, l.Stands(machine.KnitCarriage).Other()
	for v := tuckLever; v < levers; v++ {
		if l.IsSet(to, leverSettings[v]) {
			start = v
		}
	}
	only := anyLever
	if !s.Still() { // full hold is the shape's, and the cam that takes it back would take that too
		only = tuckLever
	}
	stretches, best, _ := handWays(l.Machine, s, start, only)
	*t = handTucks{s, make([]bool, s.Rows+1), make([]lever, s.Rows+1)}
	now := holdLever
	if len(stretches) > 0 && !best.held[0] {
		now = tuckLever
	}
	r := 1
	for i, st := range stretches {
		for ; r < st.from; r++ {
			t.lever[r] = now
		}
		if now = tuckLever; best.held[i] {
			now = holdLever
		}
		for ; r <= st.to; r++ {
			t.lever[r], t.held[r] = now, best.held[i]
		}
		if best.back[i] {
			now = takeBackLever
		}
	}
	for ; r <= s.Rows; r++ {
		t.lever[r] = now
	}
	sayTouches(l, s, start, stretches, best)
	return t
}

// sayTouches notes what tucking by hand costs, and what it would cost the other way.
func sayTouches(l *loom.Loom, s *bed.Placed, start lever, stretches []stretch, best way) {
	other, text := holdLever, "the tucking needles stand forward under a cam that tucks them: %s. In full hold they "+
		"would be %d."
	if len(best.held) > 0 && best.held[0] {
		other, text = tuckLever,
			"the tucking needles wait in full hold and are taken back: %s. Forward under a cam that tucks them they "+
				"would be %d."
	}
	_, cost, ok := handWays(l.Machine, s, start, other)
	if len(stretches) == 0 || !ok {
		return
	}
	var needles machine.Set
	for r := 1; r <= s.Rows; r++ {
		needles = needles.Or(tucksOf(s, r))
	}
	l.Plan.Report(finding.Finding{Code: finding.TuckWay, Severity: finding.Note, Section: s.No,
		Rows: [2]int{stretches[0].from, stretches[len(stretches)-1].to}, Needles: needles,
		Text: fmt.Sprintf("By hand, "+text, fmt.Sprintf("%d touches of a needle or lever, a lever counted as two",
			best.touches),
			cost.touches)})
}

// handTuckRow knits a row whose tucks are made by hand.
func handTuckRow(l *loom.Loom, w loom.Work) {
	s, r := w.Placed, w.Row
	t := planHandTucks(l, s)
	p := l.New(w, leverSettings[t.lever[r]])
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
	} else if t.lever[r] == takeBackLever {
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
