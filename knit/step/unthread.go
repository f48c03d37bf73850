package step

import (
	"cmp"
	"fmt"

	"vindel/knit/piece"
	"vindel/knit/words"
)

// Unthread takes a yarn out of a feeder (from 1); Bobbin is the one that it becomes, "" if none. AtMark: the part of
// a divided piece that it has knitted is finished.
type Unthread struct {
	plain
	Feeder int
	Yarn   piece.YarnNo
	Bobbin string
	AtMark bool
}

func (Unthread) Do() Do { return DoUnthread }

func (s Unthread) Say(p *piece.Piece) string {
	yarn, feeder := p.YarnName(s.Yarn), feederWord(p, s.Feeder)
	if s.Bobbin != "" {
		return fmt.Sprintf("Take %s out of %s without cutting it: it is bobbin %s now", yarn, cmp.Or(feeder,
			"the feeder"), s.Bobbin)
	}
	return fmt.Sprintf("Take %s out of %s", yarn, feeder)
}

func (s Unthread) Short(p *piece.Piece) string {
	if s.Bobbin == "" {
		return words.Small(s.Say(p))
	}
	return p.YarnName(s.Yarn) + " out as bobbin " + s.Bobbin
}

func (s Unthread) Rank(bool) Rank {
	if s.AtMark {
		return Returning
	}
	return YarnOut
}

func (s Unthread) Event() Event {
	if s.AtMark {
		return OfPart
	}
	return OfYarn
}

func (s Unthread) Act(at Standing) { at.Unthread(s.Feeder, s.Yarn, s.Bobbin) }

func (s Unthread) JSON(p *piece.Piece, j *JSON) {
	j.Feeder, j.Yarn, j.Bobbin = s.Feeder, p.YarnID(s.Yarn), s.Bobbin
}

func (s Unthread) Swap(yarn func(piece.YarnNo) piece.YarnNo) Step {
	s.Yarn = yarn(s.Yarn)
	return s
}
