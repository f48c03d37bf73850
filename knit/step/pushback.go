package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// PushBack puts needles at rest that the card has brought forward, and the plan does not want.
type PushBack struct{ At }

func (PushBack) Do() Do { return DoPushBack }

func (s PushBack) Say(*piece.Piece) string {
	return fmt.Sprintf("Push %s back: %s", words.Count(s.On.Len(), "needle", "needles"), s.On.Both())
}

func (PushBack) Short(*piece.Piece) string          { return "" }
func (PushBack) Rank(bool) Rank                     { return Chosen }
func (s PushBack) Uses() int                        { return s.runs() }
func (s PushBack) Touches() int                     { return s.On.Len() }
func (s PushBack) Rests(machine.Across) machine.Set { return s.touched() }
func (s PushBack) Act(at Standing)                  { at.Work(s.Of, s.On) }
