package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Cut cuts a yarn that hangs on a side, so that it can be joined anew.
type Cut struct {
	plain
	Yarn  piece.YarnNo
	Hangs machine.Side
}

func (Cut) Do() Do { return DoCut }

func (s Cut) Say(p *piece.Piece) string {
	return fmt.Sprintf("Cut %s, which hangs on the %v, and bring its end here", p.YarnName(s.Yarn), s.Hangs)
}

func (s Cut) Short(p *piece.Piece) string { return fmt.Sprintf("cut and join %s", p.YarnName(s.Yarn)) }
func (Cut) Rank(bool) Rank                { return YarnOut }
func (Cut) Event() Event                  { return OfYarn }
func (s Cut) Act(at Standing)             { at.Cut(s.Yarn) }

func (s Cut) JSON(p *piece.Piece, j *JSON) { j.Yarn, j.Side = p.YarnID(s.Yarn), s.Hangs.String() }

func (s Cut) Swap(yarn func(piece.YarnNo) piece.YarnNo) Step {
	s.Yarn = yarn(s.Yarn)
	return s
}
