package step

import (
	"fmt"

	"vindel/knit/piece"
	"vindel/knit/words"
)

// BringForward brings needles forward, so that the cams find them.
type BringForward struct{ At }

func (BringForward) Do() Do         { return DoBringForward }
func (s BringForward) Touches() int { return s.On.Len() }

func (s BringForward) Say(p *piece.Piece) string {
	return fmt.Sprintf("Bring %s %s: %s", words.Count(s.On.Len(), "needle", "needles"), p.Machine.Word("forward"),
		s.On.Words())
}

func (BringForward) Rank(bool) Rank    { return Chosen }
func (s BringForward) Uses() int       { return s.runs() }
func (s BringForward) Act(at Standing) { at.Forward(s.Of, s.On) }
