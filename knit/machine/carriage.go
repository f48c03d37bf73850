package machine

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

// BedNo is one of the two beds.
type BedNo uint8

// The main bed is the patterned one; the second knits behind it, or alone.
const (
	Main BedNo = iota
	Second
)

func (b BedNo) String() string { return [...]string{"main", "second"}[b] }

// Pitch is how the second bed's needles stand to the main bed's: face to face, or each
// midway between two of them.
type Pitch uint8

// The two pitches.
const (
	FullPitch Pitch = iota
	HalfPitch
)

func (p Pitch) String() string { return [...]string{"full", "half"}[p] }
