package step

import (
	"cmp"
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Unthread takes a yarn out of a feeder (from 1) of a carriage. Then it becomes a bobbin, is cut, or is left hanging on
// a side. AtMark: the part of a divided piece that it has knitted is finished.
type Unthread struct {
	plain
	Feeder int
	Yarn   piece.YarnNo
	Name   string // the thread's
	Of     machine.Carriage
	Bobbin string
	Cut    bool
	Left   machine.Side
	AtMark bool
	Over   bool // it goes into another carriage
}

func (Unthread) Do() Do { return DoUnthread }

func (s Unthread) Say(p *piece.Piece) string {
	said := fmt.Sprintf("Take %s out", p.YarnName(s.Yarn))
	feeder := feederWord(p, s.Feeder)
	if s.Over {
		return fmt.Sprintf("%s of the %v carriage", said, s.Of)
	}
	if feeder != "" {
		said += " of " + feeder
	}
	switch {
	case s.Bobbin != "":
		return fmt.Sprintf("Take %s out of %s without cutting it: it is bobbin %s now", p.YarnName(s.Yarn),
			cmp.Or(feeder, "the feeder"), s.Bobbin)
	case s.Cut:
		return said + " and cut it"
	case s.Left != 0:
		return fmt.Sprintf("%s and leave it hanging on the %v", said, s.Left)
	}
	return said
}

func (s Unthread) Short(p *piece.Piece) string {
	if s.Bobbin != "" {
		return p.YarnName(s.Yarn) + " out as bobbin " + s.Bobbin
	}
	s.Left = 0 // the step says it
	return words.Small(s.Say(p))
}

func (s Unthread) Rank(bool) Rank {
	if s.AtMark {
		return Returning
	}
	return YarnOut
}

func (s Unthread) Event() Event {
	switch {
	case s.AtMark:
		return OfPart
	case s.Over:
		return Everyday
	case s.Cut || s.Feeder > 1 || s.Bobbin != "":
		return OfYarn
	}
	return Everyday
}

func (s Unthread) Act(at Standing) { at.Unthread(s) }

func (s Unthread) JSON(p *piece.Piece, j *JSON) {
	j.Feeder, j.Yarn, j.Thread, j.Bobbin, j.Carry = s.Feeder, p.YarnID(s.Yarn), s.Name, s.Bobbin, notKnit(s.Of)
	switch {
	case s.Bobbin != "":
		j.Then = "bobbin"
	case s.Cut:
		j.Then = "cut"
	case s.Left != 0:
		j.Then, j.Side = "park", s.Left.String()
	}
}

// notKnit is the word of a carriage that is not the knit carriage.
func notKnit(c machine.Carriage) string {
	if c == machine.KnitCarriage {
		return ""
	}
	return c.String()
}

func (s Unthread) Swap(yarn func(piece.YarnNo) piece.YarnNo) Step {
	s.Yarn = yarn(s.Yarn)
	return s
}
