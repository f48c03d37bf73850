package step

import (
	"cmp"
	"fmt"

	"vindel/knit/piece"
	"vindel/knit/words"
)

// Thread puts a yarn in a feeder (from 1); Bobbin is the one that it was laid from before, "" if none.
type Thread struct {
	plain
	Feeder int
	Yarn   piece.YarnNo
	Bobbin string
}

func (Thread) Do() Do { return DoThread }

func (s Thread) Say(p *piece.Piece) string {
	yarn, feeder := p.YarnName(s.Yarn), feederWord(p, s.Feeder)
	switch {
	case s.Bobbin != "":
		return fmt.Sprintf("Put %s, which was bobbin %s, back in %s", yarn, s.Bobbin, cmp.Or(feeder, "the feeder"))
	case feeder == "":
		return fmt.Sprintf("Thread %s", yarn)
	}
	return fmt.Sprintf("Thread %s in %s", yarn, feeder)
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

func (Thread) Event() Event      { return OfYarn }
func (Thread) Slip() Slip        { return YarnsExchanged }
func (s Thread) Act(at Standing) { at.Thread(s.Feeder, s.Yarn, s.Bobbin) }

func (s Thread) JSON(p *piece.Piece, j *JSON) {
	j.Feeder, j.Yarn, j.Bobbin = s.Feeder, p.YarnID(s.Yarn), s.Bobbin
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
