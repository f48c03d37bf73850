package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Lever is which of a carriage's controls a step moves: what does the pattern, holding, or both.
type Lever uint8

// The levers. Holding is a control of its own, independent of the pattern's (rules 1, Cams).
const (
	Pattern Lever = 1 << iota
	Holding
	Whole = Pattern | Holding
)

// Cams sets a carriage for a way; Way is 0 where one setting serves both ways. A lever that it does not
// name stays as it stands. Silent: her words for what stands and for what is wanted are the same, so nothing is to be moved, nor said.
type Cams struct {
	plain
	Setting machine.Setting
	Way     machine.Side
	Lever   Lever
	Silent  bool
}

func (Cams) Do() Do { return DoSetCams }

func (s Cams) Touches() int {
	if s.Silent {
		return 0
	}
	return machine.CamTouches
}

func (s Cams) Bed() machine.BedNo {
	if s.Setting.Of == machine.SecondCarriage {
		return machine.Second
	}
	return machine.Main
}

// words are what it is set to, in the owner's words, and what that does.
func (s Cams) words(m *machine.Profile) (word, means string) {
	held := s.Held()
	on, waits := m.HoldingWord(held)
	pattern := s.Setting.Pattern()
	switch word, means = m.Word(pattern), machine.Meaning(pattern); {
	case s.Lever == Holding:
		return on, waits
	case s.Lever == Whole && !s.Setting.Whole() && !s.Setting.Moves:
		if pattern == machine.Plain.Key && held == machine.Hold {
			return word + " with " + on, "needles in full hold wait, all others knit"
		}
		return word + " with " + on, means + "; " + waits
	}
	return word, means
}

// Held is what it makes of needles in full hold, on a way that it sets.
func (s Cams) Held() machine.Action {
	if s.Way == 0 {
		return s.Setting.Ways[0].Held
	}
	return s.Setting.Cams(s.Way).Held
}

func (s Cams) Say(p *piece.Piece) string {
	word, means := s.words(&p.Machine)
	whose := "cams"
	switch s.Setting.Of {
	case machine.SecondCarriage:
		whose = "second bed"
	case machine.KnitCarriage:
	default:
		whose = s.Setting.Of.String() + " carriage"
	}
	if s.Way != 0 {
		whose += fmt.Sprintf(" for the way %v", s.Way)
	}
	return fmt.Sprintf("Set the %s: %s (%s)", whose, word, means)
}

func (s Cams) Short(p *piece.Piece) string {
	if s.Silent {
		return ""
	}
	word, _ := s.words(&p.Machine)
	whose := "cams"
	if s.Setting.Of == machine.SecondCarriage {
		whose = "second bed"
	}
	if s.Way != 0 {
		return fmt.Sprintf("%s %s %s", whose, s.Way.Arrow(), word)
	}
	return whose + " " + word
}

func (s Cams) Rank(first bool) Rank {
	if first && (s.Setting.Pattern() == machine.Plain.Key || s.Bed() == machine.Second) {
		return FirstCams
	}
	return Levers
}

func (s Cams) Event() Event {
	if s.Silent {
		return Everyday
	}
	return OfCams
}

func (s Cams) Slip() Slip {
	if s.Setting.Moves || s.Setting.Of != machine.KnitCarriage || s.Setting.Lays || s.Silent {
		return NoSlip
	}
	return LeverLeft
}

func (s Cams) Hands() bool     { return !s.Silent }
func (s Cams) Act(at Standing) { at.Cams(s) }

// Sets says that it moves a lever of a carriage for a way.
func (s Cams) Sets(c machine.Carriage, way machine.Side, lever Lever) bool {
	return s.Setting.Of == c && (s.Way == 0 || s.Way == way) && s.Lever&lever != 0
}

// Take is a setting for one way after the step: what it does not move stays.
func (s Cams) Take(was machine.Setting) machine.Setting {
	now := was
	if s.Lever&Pattern != 0 {
		now = s.Setting
		for w := range now.Ways {
			now.Ways[w].Held = was.Ways[w].Held
		}
	}
	if s.Lever&Holding != 0 {
		for w := range now.Ways {
			now.Ways[w].Held = s.Setting.Ways[w].Held
		}
	}
	return now
}

// waysJSON is what a step sets, by way.
type waysJSON struct {
	Left  *camsJSON `json:"left,omitempty"`
	Right *camsJSON `json:"right,omitempty"`
}

// camsJSON is what a step sets of one way; what stays is left out.
type camsJSON struct {
	Selected   *machine.Action `json:"selected,omitempty"`
	Unselected *machine.Action `json:"unselected,omitempty"`
	Held       *machine.Action `json:"held,omitempty"`
}

func (s Cams) way(w machine.Side) *camsJSON {
	if s.Way != 0 && s.Way != w {
		return nil
	}
	does, j := s.Setting.Cams(w), &camsJSON{}
	if s.Lever&Pattern != 0 {
		j.Selected, j.Unselected = &does.Selected, &does.Unselected
	}
	if s.Lever&Holding != 0 {
		j.Held = &does.Held
	}
	return j
}

func (s Cams) JSON(_ *piece.Piece, j *JSON) {
	j.Bed, j.Cams, j.Dir, j.Silent = second(s.Bed()), s.Setting.Word(), s.Way.String(), s.Silent
	j.Ways = &waysJSON{s.way(machine.Left), s.way(machine.Right)}
	switch {
	case s.Lever == Holding && s.Held() == machine.Hold:
		j.Cams = machine.Holding.Key
	case s.Lever == Holding:
		j.Cams = machine.Plain.Key
	}
	if s.Setting.Of != machine.SecondCarriage {
		j.Carry = notKnit(s.Setting.Of)
	}
}
