package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Rack moves the second bed to a position of its handle, and to a pitch. SaysPitch: it may be another than before.
type Rack struct {
	plain
	To        int
	Pitch     machine.Pitch
	SaysPitch bool
}

func (Rack) Do() Do             { return DoRack }
func (Rack) Bed() machine.BedNo { return machine.Second }

func (s Rack) Say(*piece.Piece) string {
	said := fmt.Sprintf("Move the handle of the second bed to %d, one position at a time", s.To)
	if s.SaysPitch {
		said += fmt.Sprintf("; %v pitch", s.Pitch)
	}
	return said
}

func (s Rack) Short(*piece.Piece) string { return fmt.Sprintf("handle to %d", s.To) }
func (Rack) Rank(bool) Rank              { return Beds }
func (Rack) Slip() Slip                  { return RackLeft }
func (s Rack) Act(at Standing)           { at.Rack(s.To, s.Pitch) }

func (s Rack) JSON(_ *piece.Piece, j *JSON) { j.Rack, j.Pitch = &s.To, s.Pitch.String() }
