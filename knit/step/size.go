package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Size sets the stitch size.
type Size struct {
	plain
	Of   machine.BedNo
	Size string
}

func (Size) Do() Do               { return DoSetCams }
func (Size) Touches() int         { return machine.CamTouches }
func (s Size) Bed() machine.BedNo { return s.Of }

func (s Size) Say(p *piece.Piece) string {
	if s.Of == machine.Second {
		return fmt.Sprintf("Second bed: %s %s", p.Machine.Word("size"), s.Size)
	}
	return fmt.Sprintf("%s %s", words.Capital(p.Machine.Word("size")), s.Size)
}

func (s Size) Short(*piece.Piece) string {
	if s.Of == machine.Second {
		return "second bed size " + s.Size
	}
	return "size " + s.Size
}

func (Size) Rank(first bool) Rank {
	if first {
		return FirstSize
	}
	return Sizes
}

func (Size) Event() Event      { return OfCams }
func (s Size) Act(at Standing) { at.Size(s.Of, s.Size) }

func (s Size) JSON(_ *piece.Piece, j *JSON) { j.Bed, j.Size = second(s.Of), s.Size }
