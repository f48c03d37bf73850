package fabric

import (
	"slices"

	"vindel/knit/machine"
)

// Side is a face of the fabric.
type Side uint8

// The knit side faces away from the knitter, the purl side faces her.
const (
	KnitSide Side = iota
	PurlSide
)

// Faces draws one face: the top row first, as one looks at that face; a character is
// the yarn on show, `o` an eyelet, a space a wale that runs free. The purl side lies as the bed does,
// the knit side is its mirror.
func (f *Fabric) Faces(side Side) []string {
	ids := []byte{' '}
	for _, y := range f.Plan.Piece.Yarns {
		ids = append(ids, y.ID)
	}
	rows := make([]string, len(f.Courses))
	line := make([]byte, f.W)
	for c := range f.Courses {
		course := &f.Courses[c]
		for x, y := range f.Row(c + 1) {
			if line[x] = ids[y]; side == PurlSide && course.WeftYarn != 0 && course.Weft.Has(f.From+machine.Needle(x)) {
				line[x] = ids[course.WeftYarn]
			}
			if course.Shape().Eyelets.Has(f.From + machine.Needle(x)) {
				line[x] = 'o'
			}
		}
		if side == KnitSide {
			slices.Reverse(line)
		}
		rows[len(rows)-1-c] = string(line)
	}
	return rows
}

// Summary is the fabric as `vindel fabric --format json` prints it.
type Summary struct {
	Matches         bool         `json:"matches"`
	Differences     int          `json:"differences"`
	FirstDifference string       `json:"first_difference"`
	Exempt          int          `json:"exempt"`
	Courses         int          `json:"courses"`
	Wales           int          `json:"wales"`
	Eyelets         int          `json:"eyelets"`
	Doubled         int          `json:"doubled"`
	Tucks           int          `json:"tucks"`
	LongestFloat    LongestFloat `json:"longest_float"`
	Knit            []string     `json:"knit"`
	Purl            []string     `json:"purl"`
}

// LongestFloat is the longest float of the fabric: its yarn's letter and its stitches.
type LongestFloat struct {
	Yarn     string `json:"yarn"`
	Stitches int    `json:"stitches"`
}

// Summary sums the fabric up.
func (f *Fabric) Summary() Summary {
	return Summary{f.Matches(), f.Differences, f.First, f.Exempt, len(f.Courses), f.W, f.Eyelets, f.Doubled, f.Tucks,
		LongestFloat{f.Plan.Piece.YarnID(f.Longest.Yarn), f.Longest.Stitches()}, f.Faces(KnitSide), f.Faces(PurlSide)}
}
