package plan

import (
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// The cams of a two-colour row in two passes differ by direction (rules: 5.2).
var (
	outwardCams = machine.Cams{Selected: machine.Hold, Unselected: machine.Knit, Held: machine.Hold}
	backCams    = machine.Cams{Selected: machine.Knit, Unselected: machine.Slip, Held: machine.Knit}
)

// TwoPassCams are the settings of a two-colour row in two passes, by the key of their word.
func TwoPassCams() map[string]machine.Cams {
	return map[string]machine.Cams{"outward": outwardCams, "back": backCams}
}

// twoPassRow knits one row of a machine with one feeder. Two colours are worked out
// and back: with yarns[0] in the feeder, the needles of yarns[1] stand forward and are
// held; at the far side the yarns change, and the way back knits what stood forward.
//
//	seam needle (full hold)          seam needle (never forward)
//	      ↓                                ↓
//	      B  A A B B A  …  A B B A         A      ← out knits A, → back knits B
//
// The two seam needles do not follow the chart, so that both yarns are caught where
// they change and the outward yarn reaches the edge it starts from. In the plain rows
// between, every needle knits and follows it.
func (k *planner) twoPassRow(r int, yarns [2]piece.YarnNo) {
	k.course++
	work := k.p.Work()
	p := Pass{Row: r, Feeders: [2]piece.YarnNo{yarns[0]}, Cams: machine.PlainCams, Patterned: true}
	if yarns[1] == 0 {
		if k.cams[k.carriage.Other()] == "outward" {
			p.Cams = outwardCams // with no needle forward it knits plain: nothing to change
		}
		k.pass(p, "plain")
		return
	}
	far := machine.SetOf(work.First())
	if k.carriage == machine.Left {
		far = machine.SetOf(work.Last())
	}
	p.Select, p.Exempt = k.now.shows(yarns[1]), work.Minus(followed(k.p))
	p.Cams, p.Hold, p.ByHand = outwardCams, far.And(p.Exempt), p.Select
	if !p.Hold.Empty() {
		p.Before = []Step{{Do: ToHold, Needles: p.Hold}}
	}
	k.pass(p, "outward")

	p.Before, p.ByHand = nil, machine.Set{}
	p.Cams, p.Feeders[0] = backCams, yarns[1]
	k.pass(p, "back")
}
