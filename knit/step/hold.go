package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// ToHold puts needles in full hold. Quiet: the rail says nothing, since every row has it. Again: they waited so when
// they were taken off, and do as they are hung again, before any edge is moved.
type ToHold struct {
	At
	Chosen       string
	Quiet, Again bool
}

func (ToHold) Do() Do         { return DoToHold }
func (s ToHold) Touches() int { return s.On.Len() }

func (s ToHold) Say(p *piece.Piece) string {
	return fmt.Sprintf("Put %s%s %s", s.said(s.Chosen), s.of(), p.Machine.Word("hold"))
}

func (s ToHold) Short(*piece.Piece) string {
	if s.Quiet {
		return ""
	}
	return s.few("in hold")
}

func (s ToHold) Rank(bool) Rank {
	if s.Again {
		return Returning
	}
	return Chosen
}

func (s ToHold) Uses() int                        { return s.runs() }
func (s ToHold) Rests(machine.Across) machine.Set { return s.touched() }
func (s ToHold) Act(at Standing)                  { at.Hold(s.Of, s.On) }

// HoldEdge puts needles in hold for the shape: they wait there for many rows.
type HoldEdge struct{ Edge }

func (HoldEdge) Do() Do         { return DoToHold }
func (s HoldEdge) Touches() int { return s.On.Len() }

func (s HoldEdge) Say(p *piece.Piece) string {
	return fmt.Sprintf("Put %s%s %s", s.On.Words(), s.of(), p.Machine.Word("hold"))
}

func (s HoldEdge) Short(*piece.Piece) string             { return s.few("in hold") }
func (s HoldEdge) Uses() int                             { return s.runs() }
func (s HoldEdge) Rests(machine.Across) machine.Set      { return s.touched() }
func (s HoldEdge) InHand(machine.Set) (none machine.Set) { return none }
func (s HoldEdge) As(e Edge) Edged                       { return HoldEdge{e} }
func (s HoldEdge) Act(at Standing)                       { at.HoldEdge(s.Of, s.On) }
