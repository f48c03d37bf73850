package beside

import (
	"slices"

	"vindel/knit/pass"
	"vindel/knit/step"
)

// PlannedAnew says, of a piece that was begun before Vindel planned some things otherwise,
// what is other in the passes from index i on.
func PlannedAnew(pl *pass.Plan, i int) (list []string) {
	var switches, lace, held, bobbin, line bool
	for ; i < len(pl.Passes); i++ {
		p := &pl.Passes[i]
		line = line || p.Window > 0
		for j := range p.Before {
			switch st := p.Before[j].Step.(type) {
			case step.Switch:
				switches = true
			case step.Cams:
				held = held || st.Lever&step.Holding != 0 && !st.Setting.Whole() && !st.Setting.Moves
			case step.Thread:
				bobbin = bobbin || st.Bobbin != ""
			case step.Unthread:
				bobbin = bobbin || st.Bobbin != ""
			case step.CardLock:
				lace = lace || p.Lace.InProgram
			}
		}
	}
	say := func(yes bool, text string) {
		if yes {
			list = append(list, text)
		}
	}
	say(switches, "selecting and the end-needle switch are said before the pass that reads a line")
	say(lace, "for lace the card is locked before the lace carriage comes on, and released after its first pass")
	say(held, "holding goes on before the first needle that waits, and off before what waits is knitted")
	say(bobbin, "the yarn in the feeder becomes a bobbin and is not cut")
	say(line, "the number in the card's window is told for every pass")
	return slices.Clip(list)
}
