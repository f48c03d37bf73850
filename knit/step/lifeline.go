package step

import (
	"fmt"

	"vindel/knit/piece"
)

// Lifeline lays a lifeline. The planner records where: the counter's reading, the number in the card's window (0: no
// card), and the pass that comes next.
type Lifeline struct {
	plain
	Reading, Window, Pass int
}

func (Lifeline) Do() Do { return DoLifeline }

func (s Lifeline) Say(*piece.Piece) string {
	at := fmt.Sprintf("%d on the counter", s.Reading)
	if s.Window > 0 {
		at += fmt.Sprintf(", card number %d", s.Window)
	}
	return fmt.Sprintf("Lay a lifeline through this plain row, and note it: %s, before pass %d", at, s.Pass)
}

func (Lifeline) Short(*piece.Piece) string { return "lifeline" }
func (Lifeline) Event() Event              { return OfLifeline }

func (s Lifeline) JSON(_ *piece.Piece, j *JSON) {
	j.Value, j.Window, j.Pass = &s.Reading, s.Window, s.Pass
}
