package step

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Control is something besides the cams that is switched on or off.
type Control string

// The controls. Both act while a line is read: with Selecting off none is, and with EndNeedles on both end needles
// come forward, whatever the line holds.
const (
	EndNeedles Control = "end-needles"
	Selecting  Control = "select"
)

// Switch turns a control of a carriage on or off. On a lace carriage EndNeedles keeps both end needles back.
type Switch struct {
	plain
	Control Control
	On      bool
	Of      machine.Carriage
}

func (Switch) Do() Do       { return DoSetCams }
func (Switch) Touches() int { return machine.CamTouches }

func (s Switch) Say(p *piece.Piece) string {
	said := fmt.Sprintf("Turn the %s %s", p.Machine.Word(string(s.Control)), onOff(s.On))
	if s.Of != machine.KnitCarriage {
		said = fmt.Sprintf("Turn the %v carriage's %s %s", s.Of, p.Machine.Word(string(s.Control)), onOff(s.On))
	}
	if s.Control == EndNeedles {
		said += " on both sides"
	}
	return said
}

func onOff(on bool) string {
	if on {
		return "on"
	}
	return "off"
}

func (s Switch) Short(p *piece.Piece) string {
	short := words.Small(p.Machine.Word(string(s.Control))) + " " + onOff(s.On)
	if s.Of != machine.KnitCarriage {
		return s.Of.String() + " carriage: " + short
	}
	return short
}

func (s Switch) Rank(bool) Rank {
	if s.Control == Selecting {
		return Selects
	}
	return Ends
}

func (Switch) Event() Event      { return OfCams }
func (Switch) Slip() Slip        { return LeverLeft }
func (s Switch) Act(at Standing) { at.Switch(s) }

func (s Switch) JSON(_ *piece.Piece, j *JSON) {
	j.Cams, j.Value, j.Carry = string(s.Control), new(int), notKnit(s.Of)
	if s.On {
		*j.Value = 1
	}
}
