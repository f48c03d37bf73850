package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Drop lets go what needles hold, on purpose.
type Drop struct {
	At
	Chosen string
}

func (Drop) Do() Do { return DoDrop }

func (s Drop) Say(*piece.Piece) string {
	return fmt.Sprintf("Let go what %s%s hold, on purpose", s.said(s.Chosen), s.of())
}

func (s Drop) Short(*piece.Piece) string        { return fmt.Sprintf("drop %d", s.On.Len()) }
func (s Drop) Rests(machine.Across) machine.Set { return s.touched() }
func (Drop) Slip() Slip                         { return DropMissed }
func (s Drop) Act(at Standing)                  { at.Drop(s.Of, s.On) }
