package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Attach brings a carriage on from a side; Had is the one that had the yarn before it.
type Attach struct {
	plain
	Carriage, Had machine.Carriage
	From          machine.Side
}

func (Attach) Do() Do { return DoAttach }

func (s Attach) Say(*piece.Piece) string {
	return fmt.Sprintf("Bring the %v carriage on from the %v", s.Carriage, s.From)
}

func (s Attach) Short(*piece.Piece) string { return fmt.Sprintf("%v carriage on", s.Carriage) }
func (Attach) Rank(bool) Rank              { return Carriages }
func (Attach) Event() Event                { return OfCarriage }
func (s Attach) Act(at Standing)           { at.PutOn(s.Carriage, s.From) }

func (s Attach) JSON(_ *piece.Piece, j *JSON) { j.Carry, j.Side = s.Carriage.String(), s.From.String() }

// Kit is what has to be there before a carriage comes on, in the owner's words.
type Kit struct {
	plain
	Text string
	On   machine.Side     // 0: no side
	For  machine.Carriage // of the second bed: before anything is said of the two
}

func (Kit) Do() Do { return DoAttach }

func (s Kit) Say(*piece.Piece) string {
	if s.On == 0 {
		return words.Capital(s.Text)
	}
	return fmt.Sprintf("%s, on the %v", words.Capital(s.Text), s.On)
}

func (s Kit) Rank(bool) Rank {
	if s.For == machine.SecondCarriage {
		return Beds
	}
	return Carriages
}

func (s Kit) Short(*piece.Piece) string    { return noted(s.Text) }
func (Kit) Event() Event                   { return OfCarriage }
func (s Kit) JSON(_ *piece.Piece, j *JSON) { j.Side = s.On.String() }

// AttachPart puts a part of the machine on, in words of the recipe's.
type AttachPart struct {
	plain
	Part string
}

func (AttachPart) Do() Do                    { return DoAttach }
func (s AttachPart) Say(*piece.Piece) string { return "Attach " + s.Part }
func (AttachPart) Short(*piece.Piece) string { return "attach a part" }
func (AttachPart) Rank(bool) Rank            { return Carriages }
func (AttachPart) Event() Event              { return OfCarriage }
