package machine

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

// Arrow is the way as it is drawn in text.
func (s Side) Arrow() string { return [...]string{"", "←", "→"}[s] }
