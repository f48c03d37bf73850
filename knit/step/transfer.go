package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Transfer moves stitches one needle to a side, all at once, with a tool of so many prongs.
type Transfer struct {
	At
	Way  machine.Side
	Tool int
}

func (Transfer) Do() Do         { return DoTransfer }
func (s Transfer) Touches() int { return s.On.Len() }

func (s Transfer) Say(*piece.Piece) string {
	return fmt.Sprintf("Move %s one needle to the %v with the %d-prong tool: %v", s.stitches(), s.Way, s.Tool, s.On)
}

func (s Transfer) Short(*piece.Piece) string            { return fmt.Sprintf("move %d %v", s.On.Len(), s.Way) }
func (Transfer) Rank(bool) Rank                         { return Moving }
func (Transfer) Event() Event                           { return OfStitches }
func (s Transfer) Uses() int                            { return s.lifts(s.Tool) }
func (s Transfer) Rests(machine.Across) machine.Set     { return s.passed(s.Way, 1) }
func (s Transfer) Act(at Standing)                      { at.Transfer(s.Of, s.On, s.Way, 1) }
func (s Transfer) Prongs() (tool int, way machine.Side) { return s.Tool, s.Way }

func (s Transfer) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Dir, j.Tool = s.Way.String(), s.Tool
}

// Lift is a step that lifts stitches with a tool of so many prongs and sets them down a way along the bed.
type Lift interface {
	Step
	Prongs() (tool int, way machine.Side)
}

// lifts is how often a tool of so many prongs goes to the needles.
func (a At) lifts(tool int) (n int) {
	for from, to := range a.On.Runs() {
		n += (int(to-from) + tool) / max(tool, 1)
	}
	return n
}

// passed is the main bed's needles from which and to which stitches go.
func (a At) passed(way machine.Side, by int) machine.Set {
	on := a.touched()
	if way == machine.Left {
		return on.Or(on.Left(by))
	}
	return on.Or(on.Right(by))
}

// Move is Transfer as a recipe says it: By needles along the bed.
type Move struct {
	At
	Way      machine.Side
	By, Tool int
	Chosen   string
}

func (Move) Do() Do         { return DoTransfer }
func (s Move) Touches() int { return s.On.Len() }

func (s Move) Say(*piece.Piece) string {
	return fmt.Sprintf("Move %s%s %s to the %v with the %d-prong tool: %s", s.stitches(), s.of(),
		words.Count(max(s.By, 1), "needle", "needles"), s.Way, s.Tool, s.said(s.Chosen))
}

func (s Move) Short(*piece.Piece) string            { return fmt.Sprintf("move %d %v", s.On.Len(), s.Way) }
func (Move) Rank(bool) Rank                         { return Moving }
func (Move) Event() Event                           { return OfStitches }
func (s Move) Uses() int                            { return s.lifts(s.Tool) }
func (s Move) Rests(machine.Across) machine.Set     { return s.passed(s.Way, max(s.By, 1)) }
func (s Move) Act(at Standing)                      { at.Transfer(s.Of, s.On, s.Way, max(s.By, 1)) }
func (s Move) Prongs() (tool int, way machine.Side) { return s.Tool, s.Way }

func (s Move) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	if j.Dir, j.Tool = s.Way.String(), s.Tool; s.By > 1 {
		j.By = s.By
	}
}

// Across moves stitches from one bed to needles of the other, one after another: those that they face, or to whose right
// they stand; what has none there goes to the nearest.
type Across struct {
	At
	Onto machine.Set
	Tool int
}

func (Across) Do() Do         { return DoTransfer }
func (s Across) Touches() int { return s.On.Len() }

func (s Across) Say(*piece.Piece) string {
	said := fmt.Sprintf("Move %s of the %v bed across to the other: %s, onto %s", s.stitches(), s.Of, s.On.Words(),
		s.Onto.Words())
	if n := s.On.Len() - s.Onto.Len(); n > 0 {
		said += fmt.Sprintf("; %s over, onto the last", words.Count(n, "is", "are"))
	}
	return said
}

func (s Across) Short(*piece.Piece) string { return fmt.Sprintf("move %d across", s.On.Len()) }
func (Across) Event() Event                { return OfStitches }
func (s Across) Uses() int                 { return s.lifts(s.Tool) }
func (s Across) Act(at Standing)           { at.Across(s.Of, s.On) }

func (s Across) Rests(lie machine.Across) machine.Set {
	if s.Of == machine.Main {
		return s.On
	}
	return lie.OnMain(s.On)
}

func (s Across) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Dir, j.Tool, j.Onto = "across", s.Tool, s.Onto.String()
}

// Prongs says that it goes no way along the bed.
func (s Across) Prongs() (tool int, way machine.Side) { return s.Tool, 0 }
