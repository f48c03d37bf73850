package acts

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/recipe"
	"vindel/knit/step"
)

// What a bed does in a pass becomes needles that stand forward and a setting of its carriage: two
// groups besides those in hold (recipes 6, Cams).

// feedersOf is the feeders that hold the yarns of a loop: 1, 2, or 3 for both.
func feedersOf(y, fed recipe.Pair) (from uint8) {
	for f, in := range fed {
		if in != 0 && (y[0] == in || y[1] == in) {
			from |= 1 << f
		}
	}
	return max(from, 1)
}

// like is the pass by card or program nearest before pass i, or after it, in which the main bed does
// two things: a pass in which it does one of the two goes under the same cams, with all needles
// forward or none. nil: there is none.
func (w *weaver) like(i int) *recipe.Moves {
	two := func(j int) *recipe.Moves {
		m := w.run.Acts[w.moves[j]].Pass
		if m.ByCard && m.Beds[machine.Main].Named && len(m.Beds[machine.Main].Groups) == 2 {
			return m
		}
		return nil
	}
	for j := i - 1; j >= 0; j-- {
		if m := two(j); m != nil {
			return m
		}
	}
	for j := i + 1; j < len(w.moves); j++ {
		if m := two(j); m != nil {
			return m
		}
	}
	return nil
}

// settle is what stands forward on a bed in pass i of the recipe, how its carriage is set, and from
// which feeders it takes.
func (w *weaver) settle(b machine.BedNo, h *recipe.Half, m *recipe.Moves, i int) (machine.Set, machine.Setting,
	pass.Takes) {
	t := pass.Takes{Selected: 1, Unselected: 1, Held: 1}
	if h.Takes {
		t.Held = feedersOf(h.Held, m.Feeders)
	}
	holding := func(s machine.Setting) machine.Setting {
		if h.Hold.Empty() {
			return s
		}
		return s.Hold(!h.Takes)
	}
	switch len(h.Groups) {
	case 0:
		return machine.Set{}, holding(machine.SettingFor(b, machine.Knit, machine.Knit, false)), t
	case 1:
		g := &h.Groups[0]
		from := feedersOf(g.Yarns, m.Feeders)
		t.Selected, t.Unselected = from, from
		if m.ByCard && b == machine.Main {
			if as := w.like(i); as != nil {
				_, s, takes := w.settle(b, &as.Beds[machine.Main], as, i)
				cams := s.Cams(m.Dir)
				s = holding(machine.SettingFor(b, cams.Selected, cams.Unselected, takes.Selected != takes.Unselected))
				takes.Held = t.Held
				switch {
				case cams.Unselected == g.Do && (g.Do == machine.Slip || takes.Unselected == from):
					return machine.Set{}, s, takes
				case cams.Selected == g.Do && (g.Do == machine.Slip || takes.Selected == from):
					return g.Needles, s, takes
				}
			}
		}
		s := machine.SettingFor(b, g.Do, g.Do, false)
		// A setting that does the same with needles at rest may stay.
		v := w.l.Levers(carriageOf[b])
		if now := v.Stands(m.Dir); now.Key != "" && !now.Whole() && !now.Lays && now.Cams(m.Dir).Unselected == g.Do {
			s = now
		}
		return machine.Set{}, holding(s), t
	}
	a, z := &h.Groups[0], &h.Groups[1]
	if !w.comesForward(a, z, m.Feeders) {
		a, z = z, a
	}
	t.Selected, t.Unselected = feedersOf(a.Yarns, m.Feeders), feedersOf(z.Yarns, m.Feeders)
	if a.Do == machine.Slip {
		t.Selected = 1
	}
	if z.Do == machine.Slip {
		t.Unselected = 1
	}
	return a.Needles, holding(machine.SettingFor(b, a.Do, z.Do, t.Selected != t.Unselected)), t
}

// comesForward says that of two groups the first is the one that comes forward.
func (w *weaver) comesForward(a, z *recipe.Group, fed recipe.Pair) bool {
	does := func(g *recipe.Group, do machine.Action) bool { return g.Do == do }
	switch {
	case a.Do == z.Do: // those of feeder 2
		x, y := feedersOf(a.Yarns, fed), feedersOf(z.Yarns, fed)
		return x == 2 || x == 3 && y == 1
	case does(a, machine.Slip) || does(z, machine.Slip): // those that take the yarn
		return a.Do != machine.Slip
	case w.m.TuckSelected == "tuck":
		return a.Do == machine.Tuck
	}
	return a.Do == machine.Knit
}

// setBeds sets the carriages for the pass, where they are not set so.
func (w *weaver) setBeds(p *pass.Pass) {
	for no := range p.Beds {
		b, half := machine.BedNo(no), &p.Beds[no]
		if b == machine.Second && !half.Named && half.AtWork.Empty() || b == machine.Main && !half.Named &&
			half.AtWork.Empty() {
			continue // there is nothing that it could do
		}
		if p.Free && b == machine.Second && half.AtWork.Empty() {
			continue
		}
		for _, st := range w.l.Set(half, p.Dir, machine.Set{}) {
			w.step(nil, st)
		}
	}
}

// carriageOf is the carriage that works a bed.
var carriageOf = [...]machine.Carriage{machine.KnitCarriage, machine.SecondCarriage}

// --- tucks by hand, the cheaper way ----------------------------------------------

// tuckWay is how a pass makes its tucks by hand.
type tuckWay struct {
	hold  bool // its tucking needles wait in full hold
	start bool // and are put there before it
	back  bool // its cam takes back what the passes before held
	on    machine.Set
	say   string
}

// chooseTucks finds stretches of passes that tuck the same needles, and takes for each the way with
// fewer touches: a needle moved is one, a cam set two.
func (w *weaver) chooseTucks() {
	w.ways = make([]tuckWay, len(w.moves))
	said := map[int]bool{}
	for i := 0; i < len(w.moves); {
		on, ok := w.tucksAt(i)
		n := 1
		if !ok {
			i++
			continue
		}
		for i+n < len(w.moves) {
			m := w.run.Acts[w.moves[i+n]].Pass
			if next, same := w.tucksAt(i + n); !same || next != on || m.Begins {
				break
			}
			n++
		}
		m := w.run.Acts[w.moves[i]].Pass
		forwards, _, _ := w.settle(machine.Main, &m.Beds[machine.Main], m, i)
		stays := w.m.School == machine.ByHand && !w.m.ResetEach
		forward := forwards.Len()
		if !stays {
			forward *= n
		} else if w.m.TuckSelected == "tuck" {
			forward *= 2 // and back to rest
		}
		forward += 2 * machine.CamTouches
		back := false
		if i+n < len(w.moves) {
			back = w.takesBack(i+n, on)
		}
		hold := on.Len() + 2*machine.CamTouches
		if !back {
			hold = 2 * on.Len()
		}
		if hold < forward {
			for k := range n {
				w.ways[i+k] = tuckWay{hold: true, start: k == 0, on: on}
			}
			if back {
				w.ways[i+n].back = true
			}
		}
		if line := w.run.Acts[w.moves[i]].Step.Line; !said[line] && forwards.Len() > 0 {
			said[line] = true
			one, cost, other, dear := "stand forward under a cam that tucks them", forward, "in full hold", hold
			if hold < forward {
				one, cost, other, dear = "wait in full hold and are taken back", hold,
					"forward under a cam that tucks them", forward
			}
			w.ways[i].say = fmt.Sprintf("The tucking needles %s: %d touches of a needle or lever, a lever counted as "+
				"two; %s it would be %d",
				one, cost, other, dear)
		}
		i += n
	}
}

// tucksAt is the needles that a pass tucks, where both ways of tucking by hand leave the same loops:
// one yarn, nothing in hold, and a needle that knits on both sides of every one.
func (w *weaver) tucksAt(i int) (machine.Set, bool) {
	m := w.run.Acts[w.moves[i]].Pass
	h := &m.Beds[machine.Main]
	if m.Free || m.ByCard || w.m.HeldPasses || !h.Named || len(h.Groups) != 2 || !h.Hold.Empty() || h.Takes ||
		m.Feeders[1] != 0 {
		return machine.Set{}, false
	}
	a, z := &h.Groups[0], &h.Groups[1]
	if a.Do == machine.Knit {
		a, z = z, a
	}
	if a.Do != machine.Tuck || z.Do != machine.Knit || a.Needles.First() < z.Needles.First() ||
		a.Needles.Last() > z.Needles.Last() {
		return machine.Set{}, false
	}
	return a.Needles, true
}

// takesBack says that a pass can take needles back by its cam: every needle of the main bed knits in
// it, nothing else is in hold, and no hands have been at work since.
func (w *weaver) takesBack(i int, on machine.Set) bool {
	m := w.run.Acts[w.moves[i]].Pass
	h := &m.Beds[machine.Main]
	return !m.Free && !m.ByCard && h.Named && len(h.Groups) == 1 && h.Groups[0].Do == machine.Knit &&
		h.Hold.Empty() && !m.Begins &&
		on.Minus(h.Groups[0].Needles).Empty() && m.Feeders[1] == 0
}

// hold makes a pass's tucks in full hold.
func (w *weaver) hold(a *recipe.Act, p *pass.Pass, way tuckWay) {
	main := p.Main()
	w.toWork(nil, machine.Main, w.tucked.Minus(way.on))
	if come := way.on.Minus(w.tucked); !come.Empty() {
		w.step(nil, step.ToHold{At: step.Main(come)})
	}
	w.rest(machine.Main, way.on)
	w.tucked = way.on
	main.Select, main.Hold, main.Setting, main.Takes = machine.Set{}, way.on, machine.Holding, pass.Takes{Selected: 1,
		Unselected: 1, Held: 1}
}
