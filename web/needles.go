package web

import (
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/plan"
)

// needleView is the needles as they must stand if all is well, drawn 1000 wide: a
// window of the bed, and, where the work is wider, a strip of the whole of it.
type needleView struct {
	Needles    []needle
	Centre     float64
	HasCentre  bool
	Labels     []tick
	Strip      []stripRun
	StripFrom  float64
	StripWidth float64
	Wide       bool
	Loop       float64
	Moves      []moveMark
}

// moveMark is one use of a transfer tool: a bar over the needles it lifts, with a head
// that shows the way, and its number in the order of the moves.
type moveMark struct {
	X0, X1, Y float64
	Right     bool
	N, Tool   int
}

type needle struct {
	X      float64
	State  string // rest, forward or hold
	Colour string
	Empty  bool   // no loop on it
	Twice  bool   // more than one
	Goes   string // its stitch moves left or right in this pass
}

type stripRun struct{ X, W float64 }

// window is how many needles are drawn large at a time.
const window = 40

// needles draws the bed as it stands before pass i, each needle with the loop that it
// will take, or, where the lace carriage goes, with the loops that it holds.
func needles(f *fabric.Fabric, i, shift int) (v needleView) {
	p, now := f.Plan.Piece, &f.Plan.Passes[i]
	lace := now.Carriage == machine.LaceCarriage
	stand := fabric.Stand{}
	if f.Stands != nil {
		stand = f.Stands[i]
	}
	work := p.Work()
	first, last := work.First(), work.Last()
	from, to := first, last
	if n := int(last-first) + 1; n > window+8 {
		v.Wide = true
		from = min(max(machine.Needle(-window/2+shift), first), last-window+1)
		to = from + window - 1
	}
	step := 960 / float64(to-from+1)
	x := func(n machine.Needle) float64 { return 20 + (float64(n-from)+0.5)*step }
	v.Loop = min(step*0.36, 11)
	colour := func(n machine.Needle) string {
		y := now.Feeders[0]
		takes := func(a machine.Action) bool { return a == machine.Knit || a == machine.Tuck || a == machine.Weave }
		switch {
		case lace:
			y = p.Sections[now.Section-1].RowYarn(now.Row)
		case now.Cams.Selected == machine.Lay:
			for _, l := range now.Lays {
				if n >= l.From && n <= l.To {
					y = l.Yarn
				}
			}
		case now.TwoYarns && now.Select.Has(n):
			y = now.Feeders[1]
		case now.Select.Has(n) && !takes(now.Cams.Selected), now.Hold.Has(n) && !takes(now.Cams.Held):
			y = 0
		case !now.Select.Has(n) && !now.Hold.Has(n) && !takes(now.Cams.Unselected):
			y = 0
		}
		if y == 0 {
			return ""
		}
		return p.Yarns[y-1].Colour
	}
	for n := from; n <= to; n++ {
		if !work.Has(n) {
			continue
		}
		state := "rest"
		if now.Select.Has(n) {
			state = "forward"
		} else if now.Hold.Has(n) {
			state = "hold"
		}
		drawn := needle{X: x(n), State: state, Colour: colour(n), Empty: stand.Empty.Has(n), Twice: stand.Doubled.Has(n)}
		if lace && now.Select.Has(n) {
			drawn.Goes = now.Dir.String()
		}
		v.Needles = append(v.Needles, drawn)
		label := n.String()
		if n == from || n == to || n == machine.L(1) || n == machine.R(1) || label[1:] != "1" && (label[len(label)-1] == '0' || label[len(label)-1] == '5') && absDist(n, from, to) > 1 {
			at := x(n) - 5
			switch { // L1 and R1 stand back from the middle
			case n == machine.L(1):
				at -= 8
			case n == machine.R(1):
				at += 12
			}
			v.Labels = append(v.Labels, tick{X: at, Label: label})
		}
	}
	row := 0
	for k := range now.Before {
		st := &now.Before[k]
		if st.Do != plan.Transfer {
			continue
		}
		for a, z := range st.Needles.Runs() {
			for ; a <= z; a += machine.Needle(st.Tool) {
				if b := min(a+machine.Needle(st.Tool)-1, z); b >= from && a <= to {
					v.Moves = append(v.Moves, moveMark{X0: x(max(a, from)) - 5, X1: x(min(b, to)) - 5, Y: 12 + 18*float64(row%3), Right: st.Dir == machine.Right, N: row + 1, Tool: st.Tool})
				}
			}
		}
		row++
	}
	if from < 0 && to >= 0 {
		v.Centre, v.HasCentre = x(0)-step/2, true
	}
	if v.Wide {
		strip := func(n machine.Needle) float64 { return 1000 * float64(n-first) / float64(last-first+1) }
		for a, z := range now.Select.Or(now.Hold).Runs() {
			v.Strip = append(v.Strip, stripRun{strip(a), strip(z+1) - strip(a)})
		}
		v.StripFrom, v.StripWidth = strip(from), strip(to+1)-strip(from)
	}
	return v
}

func absDist(n, from, to machine.Needle) int { return int(min(n-from, to-n)) }
