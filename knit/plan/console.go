package plan

import (
	"slices"

	"vindel/knit/card"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// console has the switches of a console on before a program is read that was keyed for them, and off before one that
// was not, or at the end (rules 6, Console switches).
func (k *planner) console() {
	if k.m.Program != machine.Electronic || !k.m.MirrorSwitch && len(k.m.PanelDoes) == 0 {
		return
	}
	var on []step.Console
	turn := func(want []step.Console) (steps []pass.Step) {
		for _, s := range on {
			if !slices.Contains(want, s) {
				off := s
				off.On = false
				steps = append(steps, pass.Steps(off)...)
			}
		}
		for _, s := range want {
			if !slices.Contains(on, s) {
				steps = append(steps, pass.Steps(s)...)
			}
		}
		on = want
		return steps
	}
	for i := range k.Passes {
		p := &k.Passes[i]
		for j := 0; j < len(p.Before); j++ {
			if put, ok := p.Before[j].Step.(step.SetCard); ok && put.Section > 0 {
				steps := turn(card.MakeProgram(k.Plan, put.Section).Switched())
				p.Before = slices.Insert(p.Before, j+1, steps...)
				j += len(steps)
			}
		}
	}
	k.loom.LaterOf(turn(nil))
}
