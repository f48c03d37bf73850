package beside

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// ControlState is how one of her own controls must stand for a pass.
type ControlState struct {
	Control  *machine.Control
	Position string
	Known    bool // some pass so far wants a position
	Changed  bool // it stood otherwise before, or nobody knew how
}

// Controls is how the controls of the machine must stand in pass i (from 0), in the order of the
// profile; nil where none are placed. What a pass does not want stays as it was.
func Controls(pl *pass.Plan, i int) []ControlState {
	m := &pl.Piece.Machine
	if len(m.Controls) == 0 {
		return nil
	}
	states := make([]ControlState, len(m.Controls))
	for k := range states {
		states[k].Control = &m.Controls[k]
	}
	set := func(k int, position string, now bool) {
		s := &states[k]
		if !s.Known || s.Position != position {
			s.Position, s.Known, s.Changed = position, true, now
		}
	}
	is := map[machine.Carriage]map[step.Control]bool{} // all are off until a step turns them on
	switched := func(st step.Switch, now bool) {
		if is[st.Of] == nil {
			is[st.Of] = map[step.Control]bool{}
		}
		is[st.Of][st.Control] = st.On
		for k := range m.Controls {
			if p, ok := knob(m.Controls[k].Sets, st.Control, is[st.Of]); ok && m.Controls[k].On == st.Of {
				set(k, p, now)
			}
		}
	}
	for _, of := range [...]machine.Carriage{machine.KnitCarriage, machine.LaceCarriage} {
		switched(step.Switch{Control: step.Selecting, Of: of}, i == 0)
		switched(step.Switch{Control: step.EndNeedles, Of: of}, i == 0)
	}
	moved := func(st step.Cams, now bool) {
		held := machine.Off("holding")
		if st.Held() == machine.Hold {
			held = "holding"
		}
		for k := range m.Controls {
			c := &m.Controls[k]
			if c.On != st.Setting.Of || st.Way != 0 && c.Acts != 0 && c.Acts != st.Way {
				continue
			}
			if p, ok := c.Sets[st.Setting.Pattern()]; ok && st.Lever&step.Pattern != 0 {
				set(k, p, now)
			}
			if p, ok := c.Sets[held]; ok && st.Lever&step.Holding != 0 {
				set(k, p, now)
			}
		}
	}
	for j := range i + 1 {
		p := &pl.Passes[j]
		for n := range p.Before {
			switch st := p.Before[n].Step.(type) {
			case step.Switch:
				switched(st, j == i)
			case step.Cams:
				moved(st, j == i)
			case step.Size:
				for k := range m.Controls {
					if c := &m.Controls[k]; c.Dial() && c.On == carriageOf[st.Of] {
						set(k, st.Size, j == i)
					}
				}
			}
		}
	}
	return states
}

// knob is the position of a control when a switch is turned. One that has both selecting and the end needles rests while
// nothing is selected, whatever is to become of the end needles.
func knob(sets map[string]string, turned step.Control, is map[step.Control]bool) (position string, ok bool) {
	key := func(c step.Control) string {
		if is[c] {
			return string(c)
		}
		return machine.Off(string(c))
	}
	_, selects := sets[string(step.Selecting)]
	_, ends := sets[string(step.EndNeedles)]
	if selects && ends && (turned == step.Selecting || turned == step.EndNeedles) {
		if turned = step.Selecting; is[step.Selecting] && is[step.EndNeedles] {
			turned = step.EndNeedles
		}
	}
	position, ok = sets[key(turned)]
	return position, ok
}
