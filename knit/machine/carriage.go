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

// Across is how the second bed lies to the main one: shifted so many needles to the right,
// and at half pitch half a needle more.
type Across struct {
	Shift int
	Pitch Pitch
}

// Left is the main needle that second-bed needle n faces, at half pitch the one to its left.
func (a Across) Left(n Needle) Needle { return n + Needle(a.Shift) }

// OnMain is second-bed needles by the main needles that they face, or that are to their left.
func (a Across) OnMain(second Set) (main Set) {
	if a.Shift < 0 {
		return second.Left(-a.Shift)
	}
	return second.Right(a.Shift)
}

// Apart is how far right of main needle m second-bed needle n stands, in half needles.
func (a Across) Apart(n, m Needle) int {
	apart := 2 * int(a.Left(n)-m)
	if a.Pitch == HalfPitch {
		apart++
	}
	return apart
}

func (p Pitch) String() string { return [...]string{"full", "half"}[p] }
