package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// TakeOff takes stitches off the needles, open.
type TakeOff struct{ At }

func (TakeOff) Do() Do { return DoTakeOff }

func (s TakeOff) Say(*piece.Piece) string {
	return fmt.Sprintf("Take %s%s off the needles, open: %s", s.stitches(), s.of(), s.On.Words())
}

func (s TakeOff) Short(*piece.Piece) string        { return fmt.Sprintf("take off %d", s.On.Len()) }
func (s TakeOff) Rests(machine.Across) machine.Set { return s.touched() }
func (s TakeOff) Act(at Standing)                  { at.TakeOff(s.Of, s.On) }
