package loom

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// Levers is how the controls of one carriage stand, for the way left and right, as far as hands have moved them: where
// they stand at the beginning nobody knows (rules 1, Cams).
type Levers [2]lever

// lever is how they stand for one way.
type lever struct {
	pattern machine.Setting // what does the pattern; no key: not moved yet
	held    machine.Action  // what needles in full hold do
	known   bool            // holding has been moved
	fresh   step.Lever      // moved for this way alone, since the carriage last went the other way
}

// Stands is what does the pattern on a way; the setting without a key: nobody knows.
func (v *Levers) Stands(way machine.Side) machine.Setting { return v[way-machine.Left].pattern }

// Move is what has to be moved before a pass on a way for which a setting is wanted. What needles forward do matters
// where there are any, holding where a needle stands in a position that it changes. wider is what was moved for the way
// back alone, in the pass before it, and to the same: that step can serve both ways; now is what is left to be moved.
func (v *Levers) Move(m *machine.Profile, s machine.Setting, way machine.Side, forward,
	holds bool) (wider, now step.Lever) {
	at, other := &v[way-machine.Left], &v[way.Other()-machine.Left]
	held := s.Cams(way).Held
	if !alike(&at.pattern, &s, way, forward) {
		now = step.Pattern
	}
	if (holds || now != 0 && s.Whole()) && !(at.known && at.held == held) {
		now |= step.Holding
	}
	if serves(other, at, s, now, holds) {
		wider, now = other.fresh, now&^other.fresh
		at.take(*other, wider)
	}
	other.fresh = 0
	if now != 0 {
		to := lever{pattern: s, held: held}
		if at.take(to, now); m.OneLever(s.Of, s.Pattern(), now&step.Holding != 0) {
			other.take(to, now)
		} else {
			at.fresh = now
		}
	}
	return wider, now
}

// alike says that what stands does the same as a setting that is wanted, with needles at rest, and forward if any are.
func alike(stands, s *machine.Setting, way machine.Side, forward bool) bool {
	if stands.Pattern() == s.Pattern() {
		return true
	}
	if stands.Key == "" || s.Of != machine.KnitCarriage || stands.Lays || s.Lays {
		return false
	}
	a, b := stands.Cams(way), s.Cams(way)
	return a.Unselected == b.Unselected && (!forward || a.Selected == b.Selected && stands.Feeder2 == s.Feeder2)
}

// serves says that the step before the way back can serve this way as well.
func serves(back, at *lever, s machine.Setting, now step.Lever, holds bool) bool {
	part := back.fresh
	if now&part == 0 || part&step.Pattern != 0 && (now&step.Pattern == 0 || back.pattern.Pattern() != s.Pattern()) {
		return false
	}
	switch {
	case part&step.Holding == 0:
		return true
	case now&step.Holding != 0:
		return back.held == s.Ways[0].Held
	}
	return !holds && (!at.known || at.held == back.held) // it does not matter, nor is it undone
}

// take notes that a part of the controls now stands as to says.
func (at *lever) take(to lever, part step.Lever) {
	if part&step.Pattern != 0 {
		at.pattern = to.pattern
	}
	if part&step.Holding != 0 {
		at.held, at.known = to.held, true
	}
}

// Levers is how the controls of a carriage stand after the passes so far.
func (l *Loom) Levers(c machine.Carriage) Levers { return l.levers[c] }

// Set is the steps that set a bed's carriage for the pass begun last, which goes a way; waits are needles in hold
// besides those of the bed at work. A step for the way back before is made to serve both ways where it can.
func (l *Loom) Set(half *pass.Half, way machine.Side, waits machine.Set) []step.Step {
	s := half.Setting
	forward := !half.Select.Empty()
	holds := !half.Hold.Empty() || !waits.Empty() || s.Cams(way).Selected == machine.Hold && forward
	held := s.Cams(way).Held == machine.Hold
	v, last := &l.levers[s.Of], l.set[s.Of][way.Other()-machine.Left]
	was, back := v.Stands(way), v.Stands(way.Other())
	wider, now := v.Move(l.Machine, s, way, forward, holds)
	if wider != 0 {
		before := l.Plan.Passes[last-1].Before
		for i := range before {
			if st, ok := before[i].Step.(step.Cams); ok && st.Sets(s.Of, way.Other(), wider) {
				st.Way, st.Silent = 0, st.Silent && l.Machine.Alike(&was, &s)
				before[i].Step = st
			}
		}
	}
	if (wider|now)&step.Pattern == 0 && was.Pattern() != s.Pattern() { // what stands is as good, and stays
		if half.Setting = was; holds {
			half.Setting = was.Hold(held)
		}
	}
	if now == 0 {
		return nil
	}
	l.set[s.Of][way-machine.Left] = len(l.Plan.Passes)
	st := step.Cams{Setting: s, Way: way, Lever: now}
	if l.Machine.OneLever(s.Of, s.Pattern(), now&step.Holding != 0) {
		st.Way = 0
	}
	st.Silent = now == step.Pattern && l.Machine.Alike(&was, &s) && (st.Way != 0 || l.Machine.Alike(&back, &s))
	return []step.Step{st}
}

// setCams sets the carriage that goes. Under plain, what waits in hold for the shape goes on waiting.
func (l *Loom) setCams(p *pass.Pass) {
	half := p.Main()
	half.Setting.Of = p.Carriage
	waits := p.Waits.Or(l.shape.hold.And(half.AtWork))
	if half.Setting.Key == machine.Plain.Key && !waits.Empty() {
		half.Setting = half.Setting.Hold(true)
	}
	p.Add(l.Set(half, p.Dir, waits)...)
}
