package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// ToWork puts needles to rest in work.
type ToWork struct {
	At
	Chosen string
}

func (ToWork) Do() Do         { return DoToWork }
func (s ToWork) Touches() int { return s.On.Len() }

func (s ToWork) Say(p *piece.Piece) string {
	return fmt.Sprintf("Put %s%s %s", s.said(s.Chosen), s.of(), p.Machine.Word("work"))
}

func (s ToWork) Short(*piece.Piece) string        { return s.few("to work") }
func (ToWork) Rank(bool) Rank                     { return Chosen }
func (s ToWork) Uses() int                        { return s.runs() }
func (s ToWork) Rests(machine.Across) machine.Set { return s.touched() }
func (s ToWork) Act(at Standing)                  { at.Work(s.Of, s.On) }

// WorkEdge takes needles back that waited in hold for the shape.
type WorkEdge struct{ Edge }

func (WorkEdge) Do() Do         { return DoToWork }
func (s WorkEdge) Touches() int { return s.On.Len() }

func (s WorkEdge) Say(p *piece.Piece) string {
	return fmt.Sprintf("Bring back what waits in hold%s, %s: %s", s.of(), s.On.Words(), p.Machine.Word("work"))
}

func (s WorkEdge) Short(*piece.Piece) string        { return s.few("to work") }
func (s WorkEdge) Uses() int                        { return s.runs() }
func (s WorkEdge) Rests(machine.Across) machine.Set { return s.touched() }
func (s WorkEdge) InHand(machine.Set) machine.Set   { return s.On }
func (s WorkEdge) As(e Edge) Edged                  { return WorkEdge{e} }
func (s WorkEdge) Act(at Standing)                  { at.WorkEdge(s.Of, s.On) }

// Enter brings needles into work with nothing on them: what knits them next makes their first loops.
type Enter struct{ At }

func (Enter) Do() Do         { return DoToWork }
func (s Enter) Touches() int { return s.On.Len() }

func (s Enter) Say(*piece.Piece) string {
	return fmt.Sprintf("Bring %s%s into work, empty: their first loops are knitted", s.On.Words(), s.of())
}

func (s Enter) Short(*piece.Piece) string        { return s.few("into work") }
func (Enter) Rank(bool) Rank                     { return OnBehind }
func (s Enter) Uses() int                        { return s.runs() }
func (s Enter) Rests(machine.Across) machine.Set { return s.touched() }
func (s Enter) Act(at Standing)                  { at.Enter(s.Of, s.On) }
