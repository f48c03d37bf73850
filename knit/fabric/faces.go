package fabric

import (
	"slices"

	"vindel/knit/chart"
	"vindel/knit/machine"
)

// Draw draws one face: the top row first, as one looks at that face; a character is the
// yarn on show, `o` an eyelet, a space a wale that runs free. The face that the knitter looks
// at lies as the bed does, the other is its mirror.
func (f *Fabric) Draw(face chart.Face) []string {
	ids := []byte{' '}
	for _, y := range f.Plan.Piece.Yarns {
		ids = append(ids, y.ID)
	}
	rows := make([]string, len(f.Courses))
	line := make([]byte, f.W)
	for c := range f.Courses {
		course := &f.Courses[c]
		for x, y := range f.Row(c + 1) {
			if line[x] = ids[y]; face == chart.PurlSide && course.WeftYarn != 0 &&
				course.Weft.Has(f.From+machine.Needle(x)) {
				line[x] = ids[course.WeftYarn]
			}
			if course.Shape().Eyelets.Has(f.From + machine.Needle(x)) {
				line[x] = 'o'
			}
			if course.Shape().Ran.Has(f.From + machine.Needle(x)) {
				line[x] = '|'
			}
		}
		if f.Away(face) {
			slices.Reverse(line)
		}
		rows[len(rows)-1-c] = string(line)
	}
	return rows
}

// SecondFace is the second bed's stitches as a fabric of their own, a course for each pass in which
// one of its needles took the yarn: its knit side is the other knitted face of two-bed fabric. nil
// where the second bed never knits.
func (f *Fabric) SecondFace() *Fabric {
	if len(f.Second) == 0 {
		return nil
	}
	all := f.second
	w := len(f.Second[0].Row)
	face := &Fabric{Plan: f.Plan, From: all.First(), W: w, Courses: make([]Course, len(f.Second)), other: true}
	for i, row := range f.Second {
		p := &f.Plan.Passes[row.Pass]
		face.Courses[i] = Course{Section: p.Section, Row: p.Row(), AtWork: p.Second().AtWork,
			Knitted: row.Knitted}
		if !row.Ran.Empty() {
			face.Courses[i].shaping().Ran = row.Ran
		}
		face.cells = append(face.cells, row.Row...)
	}
	return face
}

// Away says that a face of the fabric looks away from the knitter while it is knitted.
func (f *Fabric) Away(face chart.Face) bool {
	return (face == chart.KnitSide) != (f.Plan.Piece.Machine.Near != f.other)
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
	Second          []string     `json:"second,omitempty"`
	// plated: stitches of the second bed between two in different yarns
	Mixed int `json:"mixed,omitempty"`
}

// LongestFloat is the longest float of the fabric: its yarn's letter and its stitches.
type LongestFloat struct {
	Yarn     string `json:"yarn"`
	Stitches int    `json:"stitches"`
}

// Summary sums the fabric up.
func (f *Fabric) Summary() Summary {
	return Summary{f.Matches(), f.Differences, f.First, f.Exempt, len(f.Courses), f.W, f.Eyelets, f.Doubled, f.Tucks,
		LongestFloat{f.Plan.Piece.YarnID(f.Longest.Yarn), f.Longest.Stitches()}, f.Draw(chart.KnitSide),
		f.Draw(chart.PurlSide), f.DrawSecond(), f.mixed()}
}

func (f *Fabric) mixed() (n int) {
	for i := range f.Plan.Passes {
		n += f.Plan.Passes[i].Mixed().Len()
	}
	return n
}

// DrawSecond draws the second bed: a line for each pass in which one of its needles took the yarn,
// the last first, as one looks at the purl face; `.` is a needle that holds nothing.
func (f *Fabric) DrawSecond() []string {
	ids := []byte{'.'}
	for _, y := range f.Plan.Piece.Yarns {
		ids = append(ids, y.ID)
	}
	rows := make([]string, len(f.Second))
	for i := range f.Second {
		line := make([]byte, len(f.Second[i].Row))
		for x, y := range f.Second[i].Row {
			n := f.second.First() + machine.Needle(x)
			if line[x] = ids[y]; f.Second[i].Mixed.Has(n) {
				line[x] = '?'
			}
			if f.Second[i].Ran.Has(n) {
				line[x] = '|'
			}
		}
		if f.Away(chart.PurlSide) {
			slices.Reverse(line)
		}
		rows[len(rows)-1-i] = string(line)
	}
	return rows
}
