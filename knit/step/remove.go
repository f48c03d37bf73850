package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Remove parks a carriage off the bed, on a side.
type Remove struct {
	plain
	Carriage machine.Carriage
	Parked   machine.Side
}

func (Remove) Do() Do { return DoRemove }

func (s Remove) Say(*piece.Piece) string {
	return fmt.Sprintf("Park the %v carriage off the bed, on the %v", s.Carriage, s.Parked)
}

func (Remove) Rank(bool) Rank    { return Carriages }
func (s Remove) Act(at Standing) { at.PutOff(s.Carriage, s.Parked) }

func (s Remove) JSON(_ *piece.Piece, j *JSON) {
	j.Carry, j.Side = s.Carriage.String(), s.Parked.String()
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
