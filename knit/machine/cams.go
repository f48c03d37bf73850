package machine

import "fmt"

// Side is an end of the bed as the knitter faces it, and also the way a carriage
// goes when it travels towards that end. The zero value is none.
type Side uint8

// The two ends of the bed.
const (
	Left Side = iota + 1
	Right
)

var sideNames = [...]string{"", "left", "right"}

func (s Side) String() string { return sideNames[s] }

// MarshalText writes "left" or "right".
func (s Side) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// Other is the opposite side.
func (s Side) Other() Side {
	if s == Left {
		return Right
	}
	return Left
}

// ParseSide reads "left" or "right".
func ParseSide(t string) (Side, error) {
	switch t {
	case "left":
		return Left, nil
	case "right":
		return Right, nil
	}
	return 0, fmt.Errorf("%q: left or right", t)
}

// Carriage is one of the carriages that can run on the bed.
type Carriage uint8

// The carriages: the knit carriage is the main one; the second runs on the second bed alone.
const (
	KnitCarriage Carriage = iota
	LaceCarriage
	PurlCarriage
	SecondCarriage
)

func (c Carriage) String() string { return [...]string{"knit", "lace", "purl", "second"}[c] }

// MarshalText writes the carriage's word.
func (c Carriage) MarshalText() ([]byte, error) { return []byte(c.String()), nil }

// Action is what a cam makes a needle do in a pass.
type Action uint8

// The actions of the cams; lay is intarsia, where yarns are laid by hand.
const (
	Knit Action = iota
	Tuck
	Slip
	Hold
	Weave
	Lay
)

func (a Action) String() string {
	return [...]string{"knit", "tuck", "slip", "hold", "weave", "lay"}[a]
}

// MarshalText writes the action's word.
func (a Action) MarshalText() ([]byte, error) { return []byte(a.String()), nil }

// Cams is what the knit carriage does in one direction with needles that are
// selected, unselected, and in hold.
type Cams struct {
	Selected   Action `json:"selected"`
	Unselected Action `json:"unselected"`
	Held       Action `json:"held"`
}

// PlainCams knits everything and passes needles in hold: plain and two-colour rows.
var PlainCams = Cams{Knit, Knit, Hold}

// FreeCams slips everything: the empty carriage of a free pass.
var FreeCams = Cams{Slip, Slip, Hold}
