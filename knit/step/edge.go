package step

import (
	"fmt"
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Due is when the step of an edge is due, among the others before its pass.
type Due uint8

// As soon as can be, once the yarn is in, or with what is still to be done on the row below.
const (
	AtOnce Due = iota
	WithYarn
	OfRowBelow
)

// Edge is what the steps of an edge have: the needles that come, go or wait, the side (0: both), prongs (0: fingers
// alone), and the yarn of those that need one.
type Edge struct {
	At
	Side machine.Side
	Tool int
	Yarn piece.YarnNo
	Due  Due
}

// Edged is a step that moves an edge of the work, or lets its stitches wait.
type Edged interface {
	Step
	Edging() Edge
	// Moves are the stitches that move, in an order in which it can be done; active is the bed's needles at work
	// before it, without those in hold.
	Moves(active machine.Set) []Moved
	// As is the same verb with another edge.
	As(e Edge) Edged
	// InHand is the needles that the fingers touch: a selection made there before is undone.
	InHand(active machine.Set) machine.Set
}

func (e Edge) Edging() Edge            { return e }
func (Edge) Moves(machine.Set) []Moved { return nil }
func (Edge) Event() Event              { return OfEdge }

func (e Edge) Rank(bool) Rank { return [...]Rank{Edges, OnBehind, Fingers}[e.Due] }

func (e Edge) JSON(p *piece.Piece, j *JSON) {
	e.At.JSON(p, j)
	j.Side, j.Tool, j.Yarn = e.Side.String(), e.Tool, p.YarnID(e.Yarn)
}

// sides says which edges move.
func (e Edge) sides() string {
	if e.Side == 0 {
		return "of each side"
	}
	return "of the " + e.Side.String()
}

// Moved is a stitch that the fingers move as an edge moves: onto another needle; or Fill, a new loop that is
// taken from below another needle's.
type Moved struct {
	From, To machine.Needle
	Fill     bool
}

// Widen brings needles into work at an edge; with a tool the outer stitches move out and the needle that is left
// empty is filled from below.
type Widen struct{ Edge }

func (Widen) Do() Do { return DoIncrease }

func (s Widen) Say(p *piece.Piece) string {
	if s.Tool == 0 {
		return fmt.Sprintf("Bring %s%s into work, %s", s.On.Words(), s.of(), p.Machine.Word("work"))
	}
	return fmt.Sprintf("Move the outer %d %s%s out by one, onto %s, and fill the empty needle from the loop "+
		"below its neighbour", s.Tool, s.sides(), s.of(), s.On.Words())
}

func (s Widen) Short(*piece.Piece) string { return "widen: " + s.On.String() }
func (s Widen) As(e Edge) Edged           { return Widen{e} }
func (s Widen) Act(at Standing)           { at.Widen(s) }

func (s Widen) InHand(active machine.Set) machine.Set { return s.On.Or(inHand(s.Moves(active))) }

// Moves are the stitches that move, in an order in which it can be done (rules 5.11, How). active is the bed's
// needles at work before it, without those in hold.
//
//	increase, 2 prongs, on the left
//	   (L10) L9  L8  L7
//	     ╱___╱    ↑ filled from below L7
func (s Widen) Moves(active machine.Set) (moves []Moved) {
	moves = make([]Moved, 0, s.On.Len()*(s.Tool+1))
	for n := range s.On.All() {
		inner := s.inward(n, active)
		at := n
		for range s.Tool {
			from := inner(at)
			moves = append(moves, Moved{from, at, false})
			at = from
		}
		if s.Tool > 0 {
			moves = append(moves, Moved{inner(at), at, true})
		}
	}
	return moves
}

// inward gives, for the edge at a needle, the next needle inwards that is at work.
func (e Edge) inward(edge machine.Needle, active machine.Set) func(machine.Needle) machine.Needle {
	out := machine.Needle(1)
	if e.Side == machine.Left || e.Side == 0 && edge == e.On.First() { // of both edges one each
		out = -1
	}
	return func(n machine.Needle) machine.Needle {
		for n -= out; n > -machine.MaxBed/2 && n < machine.MaxBed/2-1 && !active.Has(n); {
			n -= out
		}
		return n
	}
}

func inHand(moves []Moved) (touched machine.Set) {
	for _, m := range moves {
		if !m.Fill {
			touched.Add(m.From)
		}
		touched.Add(m.To)
	}
	return touched
}

// Narrow takes needles out of work at an edge: their stitches go onto their neighbours, with a tool those of the
// outer needles move in.
type Narrow struct{ Edge }

func (Narrow) Do() Do { return DoDecrease }

func (s Narrow) Say(p *piece.Piece) string {
	if s.Tool == 0 {
		return fmt.Sprintf("Move the stitch of %s%s onto its neighbour, and put the needle %s", s.On.Words(), s.of(),
			p.Machine.Word("out"))
	}
	return fmt.Sprintf("Move the outer %d %s%s in by one, and put %s %s", s.Tool, s.sides(), s.of(), s.On.Words(),
		p.Machine.Word("out"))
}

func (s Narrow) Short(*piece.Piece) string { return "narrow: " + s.On.String() }
func (s Narrow) As(e Edge) Edged           { return Narrow{e} }
func (s Narrow) Act(at Standing)           { at.Narrow(s) }

func (s Narrow) InHand(active machine.Set) machine.Set { return inHand(s.Moves(active)) }

// Moves are the stitches that move, as Widen's are.
//
//	decrease, 2 prongs, on the left
//	    L9  L8  L7  L6
//	        ╲___╲___╲
//	         L8  L7  L6+
func (s Narrow) Moves(active machine.Set) (moves []Moved) {
	moves = make([]Moved, 0, s.On.Len()*(s.Tool+1))
	for n := range s.On.All() {
		inner := s.inward(n, active)
		at, from := n, len(moves)
		for range max(s.Tool, 1) {
			to := inner(at)
			moves = append(moves, Moved{at, to, false})
			at = to
		}
		slices.Reverse(moves[from:]) // the innermost first
	}
	return moves
}
