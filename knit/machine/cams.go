package machine

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

// Knits says that a needle under the action takes the yarn into a stitch of its own.
func (a Action) Knits() bool { return a == Knit || a == Weave || a == Lay }

// Takes says that a needle under the action takes the yarn at all.
func (a Action) Takes() bool { return a.Knits() || a == Tuck }
