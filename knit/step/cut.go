package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Cut cuts a yarn that is in no feeder: one that hangs on a side, so that it can be joined anew, or a bobbin.
type Cut struct {
	plain
	Yarn   piece.YarnNo
	Name   string // the thread's
	Hangs  machine.Side
	Bobbin string
	Joined bool // the bobbin goes on with a new end
	Laid   bool // it is a weft
}

func (Cut) Do() Do { return DoCut }

func (s Cut) Say(p *piece.Piece) string {
	switch {
	case s.Laid && !s.Joined:
		return "Cut the laid " + p.YarnName(s.Yarn) // it is finished
	case s.Joined && s.Bobbin != "":
		return fmt.Sprintf("Cut bobbin %s and go on with a new end", s.Bobbin)
	case s.Bobbin != "":
		return "Cut bobbin " + s.Bobbin // it is finished
	}
	return fmt.Sprintf("Cut %s, which hangs on the %v, and bring its end here", p.YarnName(s.Yarn), s.Hangs)
}

func (s Cut) Short(p *piece.Piece) string {
	if s.Laid && !s.Joined {
		return "cut " + p.YarnName(s.Yarn)
	}
	if s.Bobbin != "" {
		return "cut bobbin " + s.Bobbin
	}
	return fmt.Sprintf("cut and join %s", p.YarnName(s.Yarn))
}

func (Cut) Rank(bool) Rank { return YarnOut }

func (s Cut) Event() Event {
	if (s.Bobbin != "" || s.Laid) && !s.Joined {
		return Everyday
	}
	return OfYarn
}

func (s Cut) Act(at Standing) { at.Cut(s) }

func (s Cut) JSON(p *piece.Piece, j *JSON) {
	j.Yarn, j.Side, j.Bobbin, j.Thread = p.YarnID(s.Yarn), s.Hangs.String(), s.Bobbin, s.Name
}

func (s Cut) Swap(yarn func(piece.YarnNo) piece.YarnNo) Step {
	s.Yarn = yarn(s.Yarn)
	return s
}
