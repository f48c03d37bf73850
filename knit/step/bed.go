package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Lower lowers a bed, Raise raises it.
type (
	Lower struct {
		plain
		Of machine.BedNo
	}
	Raise struct {
		plain
		Of machine.BedNo
	}
)

func (Lower) Do() Do                         { return DoLower }
func (s Lower) Bed() machine.BedNo           { return s.Of }
func (s Lower) Say(*piece.Piece) string      { return fmt.Sprintf("Lower the %v bed", s.Of) }
func (s Lower) Short(p *piece.Piece) string  { return words.Small(s.Say(p)) }
func (s Lower) JSON(_ *piece.Piece, j *JSON) { j.Bed = s.Of.String() }
func (Raise) Do() Do                         { return DoRaise }
func (s Raise) Bed() machine.BedNo           { return s.Of }
func (s Raise) Say(*piece.Piece) string      { return fmt.Sprintf("Raise the %v bed", s.Of) }
func (s Raise) Short(p *piece.Piece) string  { return words.Small(s.Say(p)) }
func (s Raise) JSON(_ *piece.Piece, j *JSON) { j.Bed = s.Of.String() }
