package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Marked is a place in the work to come back to: the row of its section that comes next, the line of card or
// program that it stands on (0: none), and the counter's reading.
type Marked struct{ Row, Line, Counter int }

// words are a mark's counter and line.
func (m *Marked) words() string {
	said := fmt.Sprintf("counter %d", m.Counter)
	if m.Line > 0 {
		said += fmt.Sprintf(", line %d", m.Line)
	}
	return said
}

func (m *Marked) json(j *JSON) { j.Row, j.Line, j.Counter = &m.Row, &m.Line, &m.Counter }

// Mark marks the place where a piece divides: the needles that wait, the carriage's side; Off: they wait on waste
// yarn, and not in hold.
type Mark struct {
	At
	Marked *Marked
	Side   machine.Side
	Off    bool
}

func (Mark) Do() Do { return DoMark }

func (s Mark) Say(*piece.Piece) string {
	return fmt.Sprintf("Mark the place, before row %d: %s, the carriage on the %v. The piece divides here, and "+
		"%s wait for the second part", s.Marked.Row, s.Marked.words(), s.Side, s.stitches())
}

func (Mark) Short(*piece.Piece) string { return "mark, and leave one part" }
func (Mark) Rank(bool) Rank            { return Leaving }
func (Mark) Event() Event              { return OfPart }
func (s Mark) Act(at Standing)         { at.Mark(s.Off) }

func (s Mark) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Side = s.Side.String()
	s.Marked.json(j)
}

// Wait leaves stitches waiting for the second part: in hold, or Off, on waste yarn.
type Wait struct {
	At
	Off bool
}

func (s Wait) Do() Do {
	if s.Off {
		return DoTakeOff
	}
	return DoToHold
}

func (s Wait) Say(p *piece.Piece) string {
	if s.Off {
		return fmt.Sprintf("Knit a few rows of waste yarn by hand on %s%s, %s, and take them off: they wait on it",
			s.stitches(), s.of(), s.On.Words())
	}
	return fmt.Sprintf("Put %s%s %s: they wait for the second part", s.On.Words(), s.of(), p.Machine.Word("hold"))
}

func (s Wait) Short(*piece.Piece) string {
	if s.Off {
		return fmt.Sprintf("take off %d", s.On.Len())
	}
	return s.few("in hold")
}

func (s Wait) Uses() int {
	if s.Off {
		return 0
	}
	return s.runs()
}

func (s Wait) Touches() int {
	if s.Off {
		return 0
	}
	return s.On.Len()
}

func (Wait) Rank(bool) Rank                     { return Leaving }
func (Wait) Event() Event                       { return OfPart }
func (s Wait) Rests(machine.Across) machine.Set { return s.touched() }
func (s Wait) Act(at Standing)                  { at.Wait(s.Of, s.On) }

// Return goes back to the mark for the second part: the needles that go on, the side to which the carriage goes.
type Return struct {
	At
	Marked *Marked
	Side   machine.Side
}

func (Return) Do() Do { return DoReturn }

func (s Return) Say(*piece.Piece) string {
	return fmt.Sprintf("Go back to the mark for the second part, before row %d: %s; it goes on from the %v",
		s.Marked.Row, s.Marked.words(), s.Side)
}

func (Return) Short(*piece.Piece) string { return "back to the mark" }
func (Return) Rank(bool) Rank            { return Returning }
func (Return) Event() Event              { return OfPart }
func (s Return) Act(at Standing)         { at.Return() }

func (s Return) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Side = s.Side.String()
	s.Marked.json(j)
}

// TakeUp takes up stitches that have waited: out of hold, or Off, from the waste yarn.
type TakeUp struct {
	At
	Off bool
}

func (TakeUp) Do() Do         { return DoToWork }
func (s TakeUp) Touches() int { return s.On.Len() }

func (s TakeUp) Say(p *piece.Piece) string {
	if s.Off {
		return fmt.Sprintf("Hang %s%s again from the waste yarn, on %s, and pull it out", s.stitches(), s.of(),
			s.On.Words())
	}
	return fmt.Sprintf("Bring back what waits%s, %s: %s", s.of(), s.On.Words(), p.Machine.Word("work"))
}

func (s TakeUp) Short(*piece.Piece) string        { return s.few("to work") }
func (TakeUp) Rank(bool) Rank                     { return Returning }
func (TakeUp) Event() Event                       { return OfPart }
func (s TakeUp) Uses() int                        { return s.runs() }
func (s TakeUp) Rests(machine.Across) machine.Set { return s.touched() }
func (s TakeUp) Act(at Standing)                  { at.TakeUp(s.Of, s.On) }
