package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// ToOut puts needles out of work.
type ToOut struct {
	At
	Chosen string
}

func (ToOut) Do() Do         { return DoToOut }
func (s ToOut) Touches() int { return s.On.Len() }

func (s ToOut) Say(p *piece.Piece) string {
	return fmt.Sprintf("Put %s%s %s", s.said(s.Chosen), s.of(), p.Machine.Word("out"))
}

func (s ToOut) Short(*piece.Piece) string        { return s.few("out") }
func (s ToOut) Rests(machine.Across) machine.Set { return s.touched() }
func (s ToOut) Act(at Standing)                  { at.Out(s.Of, s.On) }
