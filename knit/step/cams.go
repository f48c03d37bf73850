package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Cams sets a carriage; Way is 0 where one setting serves both ways.
type Cams struct {
	plain
	Of      machine.BedNo
	Setting machine.Setting
	Way     machine.Side
}

func (Cams) Do() Do               { return DoSetCams }
func (s Cams) Bed() machine.BedNo { return s.Of }

func (s Cams) Say(p *piece.Piece) string {
	word, means := p.Machine.Word(s.Setting.Key), machine.Meaning(s.Setting.Key)
	switch {
	case s.Of == machine.Second && s.Way != 0:
		return fmt.Sprintf("Set the second bed for the way %v: %s (%s)", s.Way, word, means)
	case s.Of == machine.Second:
		return fmt.Sprintf("Set the second bed: %s (%s)", word, means)
	case s.Setting.Of != machine.KnitCarriage:
		return fmt.Sprintf("Set the %v carriage: %s (%s)", s.Setting.Of, word, means)
	case s.Way != 0:
		return fmt.Sprintf("Set the cams for the way %v: %s (%s)", s.Way, word, means)
	}
	return fmt.Sprintf("Set the cams: %s (%s)", word, means)
}

func (s Cams) Short(p *piece.Piece) string {
	word := p.Machine.Word(s.Setting.Key)
	switch {
	case s.Of == machine.Second && s.Way != 0:
		return fmt.Sprintf("second bed %s %s", s.Way.Arrow(), word)
	case s.Of == machine.Second:
		return "second bed " + word
	case s.Way != 0:
		return fmt.Sprintf("cams %s %s", s.Way.Arrow(), word)
	}
	return "cams " + word
}

func (s Cams) Rank(first bool) Rank {
	if first && (s.Setting.Key == machine.Plain.Key || s.Of == machine.Second) {
		return FirstCams
	}
	return Levers
}

func (Cams) Event() Event { return OfCams }

func (s Cams) Slip() Slip {
	if s.Setting.Moves || s.Setting.Of != machine.KnitCarriage {
		return NoSlip
	}
	return LeverLeft
}

func (s Cams) Act(at Standing) { at.Cams(s.Of, &s.Setting, s.Way) }

func (s Cams) JSON(_ *piece.Piece, j *JSON) {
	j.Bed, j.Cams, j.Dir = second(s.Of), s.Setting.Word(), s.Way.String()
}
