package beside

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// The pace assumed until a knitter's own is known.
const (
	SecondsAPass = 12
	SecondsAMove = 4 // one use of a tool, or of the fingers on a run of needles
)

// Minutes is how long the passes of a plan take, and, with the hands' moves between them,
// all of it.
func Minutes(pl *pass.Plan) (passes, all int) {
	passes = pl.Totals.Passes * SecondsAPass
	return (passes + 59) / 60, (passes + HandUses(pl)*SecondsAMove + 59) / 60
}

// Left is how many seconds a plan takes from pass i (from 0) on: at her own pace, in seconds a pass with
// all that hands do, where that is known; else, for pace 0, at the shipped one with the hands' moves.
func Left(pl *pass.Plan, i int, pace float64) float64 {
	rest := pl.Passes[min(i, len(pl.Passes)):]
	if pace > 0 {
		return float64(len(rest)) * pace
	}
	return float64(len(rest)*SecondsAPass + handUses(rest)*SecondsAMove)
}

// YarnUse is what becomes of a yarn over a plan.
type YarnUse struct{ Stitches, Threadings int }

// YarnUses counts the needles that take each yarn of the piece, those under a weft among
// them, and how often it is threaded; by its place in the piece's list, from 0.
func YarnUses(pl *pass.Plan) []YarnUse {
	use := make([]YarnUse, len(pl.Piece.Yarns))
	for i := range pl.Passes {
		p := &pl.Passes[i]
		Taken(&pl.Piece.Machine, p, func(y piece.YarnNo, n int) { use[y-1].Stitches += n })
		for j := range p.Before {
			if st, ok := p.Before[j].Step.(step.Thread); ok {
				use[st.Yarn-1].Threadings++
			}
		}
	}
	return use
}

// Taken adds, for each yarn that a pass lays, how many needles take it, of both beds, those under a weft among them,
// and those in full hold over whose shanks it lies; a needle that takes two takes each.
func Taken(m *machine.Profile, p *pass.Pass, add func(y piece.YarnNo, needles int)) {
	var first, waits machine.Set
	for g := range p.Groups() {
		if g.Action.Takes() && g.Yarn > 0 {
			add(g.Yarn, g.Needles.Len())
			if g.Under > 0 {
				add(g.Under, g.Needles.Len())
			}
			if g.Bed == machine.Main && g.Feeder == 1 {
				first = first.Or(g.Needles)
			}
		} else if g.Bed == machine.Main && g.Action == machine.Hold {
			waits = waits.Or(g.Needles)
		}
	}
	if y := p.Yarn(1); !m.HeldPasses && p.Recipe == 0 && y > 0 && !first.Empty() {
		caught := waits.And(p.Main().Hold).And(machine.Range(first.First(), first.Last()))
		if n := caught.Len(); n > 0 {
			add(y, n)
		}
	}
	if half := p.Main(); !half.Setting.Lays {
		for _, l := range p.Lays {
			if l.Yarn > 0 {
				add(l.Yarn, half.AtWork.And(machine.Range(l.From, l.To)).Len())
			}
		}
	}
}
