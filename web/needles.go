package web

import (
	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
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
	N         int
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

// drawNeedles draws the bed as it stands before a pass: a window of it where the work is
// wide, moved along by shift needles.
func drawNeedles(p *piece.Piece, b *beside.Band, shift int) (v needleView) {
	work := b.Pass.Main().AtWork
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
	for _, n := range b.Needles {
		if n.At < from || n.At > to {
			continue
		}
		drawn := needle{X: x(n.At), State: "rest", Empty: n.Empty, Twice: n.Twice, Goes: n.Goes.String()}
		if n.Forward {
			drawn.State = "forward"
		} else if n.Hold {
			drawn.State = "hold"
		}
		if n.Yarn != 0 {
			drawn.Colour = p.Yarns[n.Yarn-1].Colour
		}
		v.Needles = append(v.Needles, drawn)
		if labelled(n.At, from, to) {
			v.Labels = append(v.Labels, tick{X: labelX(n.At, x(n.At)), Label: n.At.String()})
		}
	}
	v.Moves = drawMoves(b.Steps, from, to, x)
	if from < 0 && to >= 0 {
		v.Centre, v.HasCentre = x(0)-step/2, true
	}
	if v.Wide {
		strip := func(n machine.Needle) float64 { return 1000 * float64(n-first) / float64(last-first+1) }
		for a, z := range b.Pass.Main().Select.Or(b.Pass.Main().Hold).Runs() {
			v.Strip = append(v.Strip, stripRun{strip(a), strip(z+1) - strip(a)})
		}
		v.StripFrom, v.StripWidth = strip(from), strip(to+1)-strip(from)
	}
	return v
}

// labelled says that a needle's label stands below it: at the ends of the drawing, in the
// middle, and at every fifth that is not beside an end.
func labelled(n, from, to machine.Needle) bool {
	k := n.Number()
	return n == from || n == to || k == 1 || k%5 == 0 && min(n-from, to-n) > 1
}

// labelX is where a label stands under a needle at x: L1 and R1 stand back from the middle.
func labelX(n machine.Needle, x float64) float64 {
	switch n {
	case machine.L(1):
		return x - 13
	case machine.R(1):
		return x + 7
	}
	return x - 5
}

// drawMoves draws the uses of transfer tools, in their order, over the needles they lift.
func drawMoves(steps []*pass.Step, from, to machine.Needle, x func(machine.Needle) float64) (marks []moveMark) {
	row := 0
	for _, st := range steps {
		if st.Do != pass.Transfer {
			continue
		}
		for a, z := range st.Needles.Runs() {
			for ; a <= z; a += machine.Needle(st.Tool) {
				if b := min(a+machine.Needle(st.Tool)-1, z); b >= from && a <= to {
					marks = append(marks, moveMark{X0: x(max(a, from)) - 5, X1: x(min(b, to)) - 5,
						Y: 12 + 18*float64(row%3), Right: st.Side == machine.Right, N: row + 1})
				}
			}
		}
		row++
	}
	return marks
}
