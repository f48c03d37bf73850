package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Remove takes a carriage off the bed on a side: onto the rails there, or, where another is to come past or stands
// there, right off.
type Remove struct {
	plain
	Carriage machine.Carriage
	Parked   machine.Side
	Lifted   bool
}

func (Remove) Do() Do { return DoRemove }

func (s Remove) Say(*piece.Piece) string {
	if s.Lifted {
		return fmt.Sprintf("Lift the %v carriage off the bed, on the %v", s.Carriage, s.Parked)
	}
	return fmt.Sprintf("Park the %v carriage off the bed, on the %v", s.Carriage, s.Parked)
}

func (Remove) Rank(bool) Rank    { return Carriages }
func (s Remove) Act(at Standing) { at.PutOff(s) }

func (s Remove) JSON(_ *piece.Piece, j *JSON) {
	j.Carry, j.Side, j.To = s.Carriage.String(), s.Parked.String(), "rails"
	if s.Lifted {
		j.To = "off"
	}
}

// RemovePart takes a part of the machine off, in words of the recipe's.
type RemovePart struct {
	plain
	Part string
}

func (RemovePart) Do() Do                    { return DoRemove }
func (s RemovePart) Say(*piece.Piece) string { return "Remove " + s.Part }
func (RemovePart) Short(*piece.Piece) string { return "remove a part" }
func (RemovePart) Rank(bool) Rank            { return Carriages }
