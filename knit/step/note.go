package step

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Note says something in words of its own, about needles or a side where there are any.
type Note struct {
	At
	Text string
	Side machine.Side
}

func (Note) Do() Do                      { return DoNote }
func (s Note) Say(*piece.Piece) string   { return s.Text }
func (s Note) Short(*piece.Piece) string { return noted(s.Text) }
func (Note) Event() Event                { return OfNote }

// Rank is with the card, what is about the second bed with how the beds stand.
func (s Note) Rank(bool) Rank {
	if s.Of == machine.Second {
		return Beds
	}
	return Programs
}

func (s Note) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Side = s.Side.String()
}

// noted is a text of her own for the rail.
func noted(text string) string {
	if r := []rune(words.Small(text)); len(r) > 40 {
		return strings.TrimSpace(string(r[:39])) + "…"
	}
	return words.Small(text)
}

// Sweep sweeps the reader across by hand, so that it takes a line.
type Sweep struct {
	plain
	Line int
}

func (Sweep) Do() Do { return DoNote }

func (s Sweep) Say(*piece.Piece) string {
	return fmt.Sprintf("Sweep the reader across by hand, so that it takes line %d", s.Line)
}

func (s Sweep) Short(p *piece.Piece) string { return noted(s.Say(p)) }
func (Sweep) Rank(bool) Rank                { return Programs }
func (Sweep) Event() Event                  { return OfNote }
func (s Sweep) Act(at Standing)             { at.Sweep(s.Line) }
