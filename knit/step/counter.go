package step

import (
	"fmt"

	"vindel/knit/piece"
)

// Counter sets the row counter.
type Counter struct {
	plain
	To int
}

func (Counter) Do() Do                         { return DoSetCounter }
func (s Counter) Say(*piece.Piece) string      { return fmt.Sprintf("Set the row counter to %d", s.To) }
func (s Counter) Short(*piece.Piece) string    { return fmt.Sprintf("counter to %d", s.To) }
func (Counter) Rank(bool) Rank                 { return Counts }
func (Counter) Event() Event                   { return OfCounter }
func (s Counter) Act(at Standing)              { at.Counter(s.To) }
func (s Counter) JSON(_ *piece.Piece, j *JSON) { j.Value = &s.To }
