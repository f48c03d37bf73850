package step

import (
	"fmt"

	"vindel/knit/piece"
)

// Console turns a switch of the console on or off, for an area of the section at hand, from 1, or for all: 0.
type Console struct {
	plain
	Switch string // a transform that the console does itself
	Area   int
	On     bool
}

func (Console) Do() Do { return DoConsole }

func (s Console) Say(p *piece.Piece) string {
	said := fmt.Sprintf("Turn the console's %s %s", s.word(p), onOff(s.On))
	if s.Area > 0 {
		said += fmt.Sprintf(" for area %d", s.Area)
	}
	return said
}

// word is what she calls the switch, or our own word for it.
func (s Console) word(p *piece.Piece) string {
	if w := p.Machine.PanelWords[s.Switch]; w != "" {
		return w
	}
	return s.Switch + " switch"
}

func (s Console) Short(p *piece.Piece) string { return s.word(p) + " " + onOff(s.On) }
func (Console) Rank(bool) Rank                { return Programs }
func (Console) Event() Event                  { return OfCard }
func (s Console) Act(at Standing)             { at.Console(s) }

func (s Console) JSON(_ *piece.Piece, j *JSON) {
	j.Switch, j.Area, j.Value = s.Switch, &s.Area, new(int)
	if s.On {
		*j.Value = 1
	}
}
