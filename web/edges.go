package web

import (
	"fmt"

	"vindel/knit/beside"
	"vindel/knit/machine"
)

// edgeView is a moving edge of the work, drawn: its needles side by side as the knitter faces them.
type edgeView struct {
	Text, Side string
	W          float64
	Needles    []edgeNeedle
	Arcs       []string // of stitches that move, as paths that end in a head
	Fill       float64  // where a loop is taken from below; 0: nowhere
}

type edgeNeedle struct {
	X                    float64
	Label, State, Colour string
}

// edgePitch is how far apart the needles of an edge are drawn.
const edgePitch = 44

func (d *opened) drawEdge(e *beside.Edge) edgeView {
	v := edgeView{Text: e.Text, Side: e.Side.String(), W: edgePitch * float64(len(e.Needles))}
	x := func(i int) float64 {
		if e.Side == machine.Right { // the outermost on the right
			i = len(e.Needles) - 1 - i
		}
		return edgePitch * (float64(i) + 0.5)
	}
	for i, n := range e.Needles {
		v.Needles = append(v.Needles, edgeNeedle{x(i), n.Label, n.State, d.colour(n.Yarn)})
	}
	for _, m := range e.Moves {
		a, b := x(m[0]), x(m[1])
		head := 7.0
		if b > a {
			head = -7
		}
		v.Arcs = append(v.Arcs, fmt.Sprintf("M%.0f 40C%.0f 14 %.0f 14 %.0f 38m%.0f -9l%.0f 9l%.0f -2", a, a, b, b,
			head, -head, head*1.4))
	}
	if e.Fill >= 0 {
		v.Fill = x(e.Fill)
	}
	return v
}
