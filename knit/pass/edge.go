package pass

import (
	"slices"

	"vindel/knit/machine"
)

// Move is a stitch that the fingers move as an edge moves: onto another needle; or Fill, a new loop that is
// taken from below another needle's.
type Move struct {
	From, To machine.Needle
	Fill     bool
}

// Moves are the stitches that an edge step moves, in an order in which it can be done (rules 5.11, How). active
// is the bed's needles at work before it, without those in hold.
//
//	decrease, 2 prongs, on the left     increase, 2 prongs, on the left
//	    L9  L8  L7  L6                      (L10) L9  L8  L7
//	        ╲___╲___╲                         ╱___╱    ↑ filled from below L7
//	         L8  L7  L6+
func (st *Step) Moves(active machine.Set) (moves []Move) {
	if st.Do != Increase && st.Do != Decrease {
		return nil
	}
	moves = make([]Move, 0, st.Needles.Len()*(st.Tool+1))
	for n := range st.Needles.All() {
		out := machine.Needle(1)
		if st.Side == machine.Left || st.Side == 0 && n == st.Needles.First() { // of both edges one each
			out = -1
		}
		inner := func(n machine.Needle) machine.Needle { // the next that is at work, inwards
			for n -= out; n > -machine.MaxBed/2 && n < machine.MaxBed/2-1 && !active.Has(n); {
				n -= out
			}
			return n
		}
		if st.Do == Increase {
			at := n
			for range st.Tool {
				from := inner(at)
				moves = append(moves, Move{from, at, false})
				at = from
			}
			if st.Tool > 0 {
				moves = append(moves, Move{inner(at), at, true})
			}
			continue
		}
		at, from := n, len(moves)
		for range max(st.Tool, 1) {
			to := inner(at)
			moves = append(moves, Move{at, to, false})
			at = to
		}
		slices.Reverse(moves[from:]) // the innermost first
	}
	return moves
}

// InHand is the needles that the fingers touch as an edge step moves stitches, or takes needles back to work: a
// selection made there before is undone.
func (st *Step) InHand(active machine.Set) (touched machine.Set) {
	switch st.Do {
	case ToWork, Increase, CastOn, BindOff:
		touched = st.Needles
	}
	for _, m := range st.Moves(active) {
		if !m.Fill {
			touched.Add(m.From)
		}
		touched.Add(m.To)
	}
	return touched
}
