package plan

import (
	"vindel/knit/machine"
	"vindel/knit/step"
)

// switches turns the knit carriage's reading and the machine's end-needle switch on and off
// where that falls due: both act while a line is read, so on a carriage that selects a row
// ahead they change before the pass that reads a row's line, not before the one that knits
// it (rules 1, End needles). Both are off at first.
func (k *planner) switches() {
	if !k.m.Selects() {
		return
	}
	var selecting, ends, lace bool
	for i := range k.Passes {
		p := &k.Passes[i]
		if p.Carriage == machine.LaceCarriage && p.Line > 0 && p.Ends != lace {
			lace = p.Ends
			p.Add(step.Switch{Control: step.EndNeedles, On: lace, Of: p.Carriage})
		}
		if p.Carriage != machine.KnitCarriage {
			continue // the others read without a switch
		}
		reads := p.Line > 0
		held := reads && p.Ends
		if k.m.School == machine.Preselect {
			held = reads && i+1 < len(k.Passes) && k.Passes[i+1].Ends
		}
		if reads != selecting {
			p.Add(step.Switch{Control: step.Selecting, On: reads})
			selecting = reads
		}
		if held != ends {
			p.Add(step.Switch{Control: step.EndNeedles, On: held})
			ends = held
		}
	}
}
