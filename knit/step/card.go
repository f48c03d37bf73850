package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// SetCard puts the card or program of a section (from 1) in at a line; section 0 sets the one that is in.
type SetCard struct {
	plain
	Section, Line int
	In            int // the section whose it is, where Section is 0
}

func (SetCard) Do() Do { return DoSetCard }

func (s SetCard) Say(p *piece.Piece) string {
	switch m := &p.Machine; {
	case m.Program == machine.Electronic:
		return fmt.Sprintf("Set the program of section %d to line %d", s.Section, s.Line)
	case s.Section == 0:
		return fmt.Sprintf("Set the card back to line %d", s.Line)
	default:
		at, joined := "", ""
		if m.LeadIn > 0 {
			at = fmt.Sprintf(" (%s past the click)", words.Count(m.LeadIn, "row", "rows"))
		}
		if p.Section(s.Section).Joined {
			joined = ", joined round the reader,"
		}
		return fmt.Sprintf("Put in the card of section %d%s at line %d%s: number %d stands in the window", s.Section,
			joined, s.Line, at, s.Line)
	}
}

func (s SetCard) Short(p *piece.Piece) string {
	switch {
	case p.Machine.Program == machine.Electronic:
		return "program in"
	case s.Section == 0:
		return fmt.Sprintf("card back to line %d", s.Line)
	}
	return "card in"
}

func (SetCard) Rank(bool) Rank    { return Programs }
func (SetCard) Event() Event      { return OfCard }
func (SetCard) Slip() Slip        { return CardAmiss }
func (s SetCard) Act(at Standing) { at.Card(s.Section, s.Line) }

func (s SetCard) JSON(_ *piece.Piece, j *JSON) { j.Value, j.Section = &s.Line, max(s.Section, s.In) }

// CardLock keeps the card from going on for one pass, CardRelease lets it go on again.
type (
	CardLock    struct{ plain }
	CardRelease struct{ plain }
)

func (CardLock) Do() Do                       { return DoCardLock }
func (CardLock) Say(*piece.Piece) string      { return "Lock the card for this pass" }
func (CardLock) Short(*piece.Piece) string    { return "card locked" }
func (CardLock) Rank(bool) Rank               { return Locks }
func (CardLock) Event() Event                 { return OfCard }
func (CardRelease) Do() Do                    { return DoCardRelease }
func (CardRelease) Say(*piece.Piece) string   { return "Release the card" }
func (CardRelease) Short(*piece.Piece) string { return "card released" }
func (CardRelease) Rank(bool) Rank            { return Locks }
func (CardRelease) Event() Event              { return OfCard }
