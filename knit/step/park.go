package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Park takes a yarn out of the only feeder and leaves it hanging on a side.
type Park struct {
	plain
	Yarn piece.YarnNo
	Left machine.Side // where it is left
}

func (Park) Do() Do { return DoPark }

func (s Park) Say(p *piece.Piece) string {
	return fmt.Sprintf("Take %s out and leave it hanging on the %v", p.YarnName(s.Yarn), s.Left)
}

func (Park) Rank(bool) Rank    { return YarnOut }
func (s Park) Act(at Standing) { at.Park(s.Yarn, s.Left) }

func (s Park) JSON(p *piece.Piece, j *JSON) { j.Yarn, j.Side = p.YarnID(s.Yarn), s.Left.String() }

func (s Park) Swap(yarn func(piece.YarnNo) piece.YarnNo) Step {
	s.Yarn = yarn(s.Yarn)
	return s
}
