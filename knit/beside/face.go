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
	var last [2]struct{ key, size string }
	switched := func(c step.Control, on, now bool) {
		key := string(c)
		if !on {
			key = machine.Off(key)
		}
		for k := range m.Controls {
			if p, ok := m.Controls[k].Sets[key]; ok {
				set(k, p, now)
			}
		}
	}
	switched(step.Selecting, false, i == 0) // both are off until a step turns them on
	switched(step.EndNeedles, false, i == 0)
	for j := range i + 1 {
		p := &pl.Passes[j]
		for bed := range p.Beds {
			half := &p.Beds[bed]
			carriage := p.Carriage
			if bed == int(machine.Second) {
				carriage = machine.SecondCarriage
			}
			if half.Setting.Key == "" || half.AtWork.Empty() && bed == int(machine.Second) {
				continue
			}
			now := struct{ key, size string }{half.Setting.Key + "@" + carriage.String(), half.Size}
			if now == last[bed] {
				continue
			}
			last[bed] = now
			for k := range m.Controls {
				if c := &m.Controls[k]; c.On == carriage {
					if position, matters := c.ForSetting(half.Setting.Key, half.Size); matters {
						set(k, position, j == i)
					}
				}
			}
		}
		for n := range p.Before {
			if st, ok := p.Before[n].Step.(step.Switch); ok {
				switched(st.Control, st.On, j == i)
			}
		}
	}
	return states
}
