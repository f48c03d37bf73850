package step

import (
	"cmp"
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Thread puts a yarn in a feeder (from 1) of a carriage; Bobbin is the one that it was laid from before, "" if none. Its
// end is a new one, or it is the thread that hangs there, or one that is carried over from the other side.
type Thread struct {
	plain
	Feeder  int
	Yarn    piece.YarnNo
	Name    string // the thread's
	Of      machine.Carriage
	Bobbin  string
	New     bool
	Again   bool // it is not the yarn's first end
	Carried bool
	Over    bool // it comes out of another carriage
}

func (Thread) Do() Do { return DoThread }

func (s Thread) Say(p *piece.Piece) string {
	yarn, feeder := p.YarnName(s.Yarn), feederWord(p, s.Feeder)
	switch {
	case s.Bobbin != "":
		return fmt.Sprintf("Put %s, which was bobbin %s, back in %s", yarn, s.Bobbin, cmp.Or(feeder, "the feeder"))
	}
	said := "Thread " + yarn
	if s.Again {
		said = "Thread a new end of " + yarn
	}
	switch {
	case s.Over:
		return fmt.Sprintf("%s in the %v carriage", said, s.Of)
	case feeder != "":
		said += " in " + feeder
	}
	if s.Carried {
		said += " from the other side"
	}
	return said
}

func (s Thread) Short(p *piece.Piece) string {
	if s.Bobbin == "" {
		return words.Small(s.Say(p))
	}
	return p.YarnName(s.Yarn) + " back in the feeder"
}

func (s Thread) Rank(first bool) Rank {
	if first && s.Feeder == 1 {
		return FirstYarn
	}
	return YarnIn
}

func (s Thread) Event() Event {
	if s.Over {
		return OfCarriage
	}
	return OfYarn
}

func (s Thread) Slip() Slip {
	if s.Over {
		return NoSlip
	}
	return YarnsExchanged
}

func (s Thread) Act(at Standing) { at.Thread(s) }

func (s Thread) JSON(p *piece.Piece, j *JSON) {
	j.Feeder, j.Yarn, j.Thread, j.Bobbin, j.Carry = s.Feeder, p.YarnID(s.Yarn), s.Name, s.Bobbin, notKnit(s.Of)
	if s.New {
		j.End = "new"
	}
}

// feederWord is the machine's word for a feeder, "" where it has but one.
func feederWord(p *piece.Piece, feeder int) string {
	if p.Machine.Feeders < 2 || feeder < 1 {
		return ""
	}
	return p.Machine.Word(fmt.Sprintf("feeder%d", feeder))
}

// Threaded is a step that is about the end of a yarn; Swap is the same with another yarn.
type Threaded interface {
	Step
	Swap(yarn func(piece.YarnNo) piece.YarnNo) Step
}

func (s Thread) Swap(yarn func(piece.YarnNo) piece.YarnNo) Step {
	s.Yarn = yarn(s.Yarn)
	return s
}
