package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Cross lets stitches of the main bed change places with others, one by one from the left; the first lie in front.
type Cross struct {
	At
	With machine.Set
}

func (Cross) Do() Do         { return DoCross }
func (s Cross) Touches() int { return s.On.Len() + s.With.Len() }

func (s Cross) Say(*piece.Piece) string {
	return fmt.Sprintf("Cross %s with %s, from the left; those of the first lie in front", s.On.Words(),
		s.With.Words())
}

func (s Cross) Short(*piece.Piece) string {
	return fmt.Sprintf("cross %d with %d", s.On.Len(), s.With.Len())
}

func (s Cross) Others() machine.Set              { return s.With }
func (s Cross) Rests(machine.Across) machine.Set { return s.On.Or(s.With) }
func (s Cross) Act(at Standing)                  { at.Cross(s.On, s.With) }

func (s Cross) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.With = s.With.String()
}
