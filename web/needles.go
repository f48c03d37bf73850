package web

import (
	"vindel/knit/beside"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// needleView is the needles as they must stand if all is well, drawn 1000 wide: a window of
// the bed, or two where the fingers are wanted at both ends, the last rows as they hang from
// them, and, where the work is wider, a strip of the whole of it.
type needleView struct {
	Needles []needle
	Centres []float64
	Labels  []tick
	Strip   []stripRun
	Windows []stripRun // of the bed, on the strip
	Gap     float64    // where the drawing is parted; 0: it is not
	Wide    bool
	Loop    float64
	Moves   []moveMark
	Hang    int  // rows that hang
	Idle    bool // nothing is forward or in hold, and nothing is touched
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
	State  string // rest, forward, comes (forward, as the carriage passes) or hold
	Colour string
	Empty  bool     // no loop on it
	Twice  bool     // more than one
	Goes   string   // its stitch moves left or right in this pass
	Hangs  []string // the colours of the last rows, the latest first
}

type stripRun struct{ X, W float64 }

// window is how many needles are drawn large at a time; hanging how many rows hang from them.
const (
	window  = 40
	hanging = 5
)

// drawNeedles draws the bed as it stands before a pass. Where the work is wide it draws what
// the fingers touch: in one window, or in two at the ends of it; shift moves them along.
func drawNeedles(f *fabric.Fabric, b *beside.Band, shift int) (v needleView) {
	p := f.Plan.Piece
	work := b.Pass.Main().AtWork
	parts := windows(b, shift)
	if work.Empty() {
		return needleView{Idle: true}
	}
	first, last := work.First(), work.Last()
	room, gap, drawn := 960.0, 30.0, 0
	for _, w := range parts {
		drawn += int(w[1]-w[0]) + 1
	}
	if len(parts) == 1 {
		gap = 0
	}
	v.Wide = drawn < int(last-first)+1
	step := (room - gap) / float64(drawn)
	v.Loop = min(step*0.36, 11)
	course := 0 // knitted last
	for j := b.Pass.N - 2; j >= 0 && course == 0; j-- {
		course = f.Plan.Passes[j].Course
	}
	v.Hang = min(course, hanging)
	v.Idle = b.Touched.Empty() && b.Pass.Main().Select.Empty() && b.Pass.Main().Hold.Empty()
	left := 20.0
	for k, w := range parts {
		from, to, at := w[0], w[1], left
		x := func(n machine.Needle) float64 { return at + (float64(n-from)+0.5)*step }
		for _, n := range b.Needles {
			if n.At < from || n.At > to {
				continue
			}
			drawn := needle{X: x(n.At), State: "rest", Empty: n.Empty, Twice: n.Twice, Goes: n.Goes.String()}
			if n.Comes {
				drawn.State = "comes"
			} else if n.Forward {
				drawn.State = "forward"
			} else if n.Hold {
				drawn.State = "hold"
			}
			if n.Yarn != 0 {
				drawn.Colour = p.Yarns[n.Yarn-1].Colour
			}
			for c := course; c > course-v.Hang; c-- {
				colour := ""
				if y := f.Row(c)[n.At-f.From]; y != 0 {
					colour = p.Yarns[y-1].Colour
				}
				drawn.Hangs = append(drawn.Hangs, colour)
			}
			v.Needles = append(v.Needles, drawn)
			if labelled(n.At, from, to) {
				v.Labels = append(v.Labels, tick{X: labelX(n.At, x(n.At)), Label: n.At.String()})
			}
		}
		v.Moves = append(v.Moves, drawMoves(b.Steps, from, to, x)...)
		if from < 0 && to >= 0 {
			v.Centres = append(v.Centres, x(0)-step/2)
		}
		left += float64(to-from+1)*step + gap
		if k > 0 {
			v.Gap = at - gap/2
		}
	}
	if v.Wide {
		strip := func(n machine.Needle) float64 { return 1000 * float64(n-first) / float64(last-first+1) }
		for a, z := range b.Pass.Main().Select.Or(b.Pass.Main().Hold).Runs() {
			v.Strip = append(v.Strip, stripRun{strip(a), strip(z+1) - strip(a)})
		}
		for _, w := range parts {
			v.Windows = append(v.Windows, stripRun{strip(w[0]), strip(w[1]+1) - strip(w[0])})
		}
	}
	return v
}

// windows are the stretches of the bed that are drawn: all of it where it is narrow, one
// window where that holds everything that the fingers touch, else one at each end of that.
func windows(b *beside.Band, shift int) [][2]machine.Needle {
	work := b.Pass.Main().AtWork
	first, last := work.First(), work.Last()
	if int(last-first)+1 <= window+8 {
		return [][2]machine.Needle{{first, last}}
	}
	fit := func(from machine.Needle, n int) [2]machine.Needle {
		from = max(min(from+machine.Needle(shift), last-machine.Needle(n-1)), first)
		return [2]machine.Needle{from, from + machine.Needle(n-1)}
	}
	touched := b.Touched.And(work)
	if touched.Empty() {
		return [][2]machine.Needle{fit(-window/2, window)}
	}
	a, z := touched.First(), touched.Last()
	if n := int(z-a) + 1; n <= window {
		return [][2]machine.Needle{fit(a-machine.Needle((window-n)/2), window)}
	}
	left, right := fit(a-2, window/2), fit(z+3-window/2, window/2)
	if left[1]+1 >= right[0] { // moved along until they meet
		return [][2]machine.Needle{fit(left[0]-machine.Needle(shift), window)}
	}
	return [][2]machine.Needle{left, right}
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
		lift, ok := st.Step.(step.Lift)
		if !ok {
			continue
		}
		tool, way := lift.Prongs()
		for a, z := range lift.Needles().Runs() {
			for ; a <= z; a += machine.Needle(tool) {
				if b := min(a+machine.Needle(tool)-1, z); b >= from && a <= to {
					marks = append(marks, moveMark{X0: x(max(a, from)) - 5, X1: x(min(b, to)) - 5,
						Y: 12 + 18*float64(row%3), Right: way == machine.Right, N: row + 1})
				}
			}
		}
		row++
	}
	return marks
}
