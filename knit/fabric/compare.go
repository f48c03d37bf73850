package fabric

import (
	"bytes"
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Deed is one thing that a course's needles may have done besides showing a yarn.
type Deed uint8

// The deeds that a comparison may ask for.
const (
	Slipped Deed = iota
	Tucked
	Purled
	Covered // by a weft
	Eyelet
	Merged    // knitted through the loops of several wales, as a decrease is
	LeanRight // its left loop on the bed shows
	LeanLeft
	deeds
)

// Want is what a course must be, worked out from the piece and its policies alone: the
// plan is not asked.
type Want struct {
	Yarns  []piece.YarnNo // by wale, left to right; 0: whatever showed before. nil: not compared
	Exempt machine.Set    // needles that do not follow the chart
	Asks   [deeds]bool    // which deeds are compared
	Deeds  [deeds]machine.Set
	Only   machine.Set // deeds are compared on these needles alone; none: on all that follow

	Stand machine.Set // needles that wait in hold: they go on showing what they showed

	// Said are stitches that may lean otherwise than drawn, if the plan has said so (lace).
	Said machine.Set
}

// Ask says that needles, and no others that follow the chart, do something.
func (w *Want) Ask(d Deed, on machine.Set) { w.Asks[d], w.Deeds[d] = true, on }

// did is the needles of the course that did something.
func (c *Course) did(d Deed) machine.Set {
	switch d {
	case Slipped:
		return c.Slipped
	case Tucked:
		return c.Tucked
	case Purled:
		return c.Purled
	case Covered:
		return c.Weft
	case Eyelet:
		return c.Shape().Eyelets
	case Merged:
		return c.Shape().Merged
	case LeanRight:
		return c.Shape().LeanR
	}
	return c.Shape().LeanL
}

// words are what is said of a stitch that does a deed, or does not, against the chart.
var words = [deeds][2]string{
	Slipped: {"was passed over", "was not passed over"}, Tucked: {"tucked", "did not tuck"},
	Purled:  {"is purl", "is not purl"},
	Covered: {"is covered by the weft", "is not covered by the weft"}, Eyelet: {"is an eyelet", "is no eyelet"},
	Merged:    {"is doubled", "is not doubled"},
	LeanRight: {"leans as its left loop does", "does not lean as its left loop"},
	LeanLeft:  {"leans as its right loop does", "does not lean as its right loop"},
}

// Compare counts the stitches that are not what is wanted of their courses. Courses that
// belong to no chart row are not compared, nor are needles that do not follow the chart:
// which those are is told by want, and what the plan says of them must be the same.
func (f *Fabric) Compare(want func(c *Course) Want) {
	p := f.Plan.Piece
	for i := range f.Courses {
		c := &f.Courses[i]
		if c.Row == 0 || c.drawn {
			continue
		}
		w := want(c)
		f.Exempt += w.Exempt.Len()
		if w.Exempt != c.Exempt {
			f.each(c, w.Exempt.Minus(c.Exempt), "does not follow the chart here, and the plan does not say so")
			f.each(c, c.Exempt.Minus(w.Exempt), "is to follow the chart here, and the plan says that it does not")
		}
		followed := c.AtWork.Minus(w.Exempt).Minus(w.Stand)
		if got := f.Row(i + 1); w.Yarns != nil && (c.AtWork.Len() != f.W || !bytes.Equal(w.Yarns, got)) &&
			!f.alike(w.Yarns, got, followed) {
			for n := range followed.All() {
				x := int(n - f.From)
				if x < 0 || x >= f.W { // a needle that was never to work
					f.differ(c, n, "is at work")
					continue
				}
				if w.Yarns[x] != got[x] && w.Yarns[x] != 0 {
					f.differ(c, n, "shows %s, the chart asks for %s", name(p, got[x]), name(p, w.Yarns[x]))
					f.Wrong.shows(c, n, got[x])
				}
			}
		}
		f.compareDeeds(c, &w, followed)
	}
	if at := f.Plan.Stopped; at.Row > 0 && f.First == "" {
		f.First = fmt.Sprintf("section %d, row %d: not planned", at.Section, at.Row)
	}
}

// alike says that two rows of yarns are the same on the needles given, which mostly stand in a few runs.
func (f *Fabric) alike(a, b []piece.YarnNo, on machine.Set) bool {
	if on.Empty() {
		return true
	}
	if on.First() < f.From || int(on.Last()-f.From) >= f.W {
		return false
	}
	if from, to := on.First(), on.Last(); on == machine.Range(from, to) {
		x, y := int(from-f.From), int(to-f.From)+1
		return bytes.Equal(a[x:y], b[x:y])
	}
	for from, to := range on.Runs() {
		if x, y := int(from-f.From), int(to-f.From)+1; !bytes.Equal(a[x:y], b[x:y]) {
			return false
		}
	}
	return true
}

func (f *Fabric) compareDeeds(c *Course, w *Want, followed machine.Set) {
	for d := range deeds {
		if !w.Asks[d] {
			continue
		}
		got, want := c.did(d), w.Deeds[d]
		if d == LeanRight || d == LeanLeft {
			got = got.And(w.Deeds[Merged]).Minus(w.Said)
			want = want.Minus(w.Said)
		}
		if d == Merged && !w.Only.Empty() {
			got = got.And(w.Only)
		}
		if got == want {
			continue
		}
		f.each(c, got.Minus(want).And(followed), words[d][0]+", against the chart")
		f.each(c, want.Minus(got).And(followed), words[d][1]+", against the chart")
	}
	if w.Asks[LeanRight] && !w.Said.Empty() { // what is said to lean otherwise must do so
		as := c.Shape().LeanR.And(w.Deeds[LeanRight]).Or(c.Shape().LeanL.And(w.Deeds[LeanLeft]))
		f.each(c, as.And(w.Said).And(followed), "leans as drawn, but is said not to")
	}
}

// Lacks says that a row of a section (both from 1) was to be knitted where it was not.
func (f *Fabric) Lacks(section, row int, on machine.Set) {
	f.each(&Course{Section: section, Row: row}, on, "is not knitted when its row is due")
}

// Differ notes a difference that a technique's own proof has found, in words.
func (f *Fabric) Differ(format string, a ...any) {
	if f.Differences++; f.Differences == 1 {
		f.First = fmt.Sprintf(format, a...)
	}
}

// TooMany says that a course is knitted that nobody asked for.
func (f *Fabric) TooMany(c *Course) { f.each(c, c.AtWork, "is knitted once more than asked") }

// Wrong is the first row in which stitches show another yarn than the chart asks for:
// those of its needles that show the same one.
type Wrong struct {
	Section, Row int // both from 1; 0: no such row
	Needles      machine.Set
	Yarn         piece.YarnNo // that they show
}

func (w *Wrong) shows(c *Course, n machine.Needle, y piece.YarnNo) {
	if w.Row == 0 {
		w.Section, w.Row, w.Yarn = c.Section, c.Row, y
	}
	if w.Section == c.Section && w.Row == c.Row && w.Yarn == y {
		w.Needles.Add(n)
	}
}

// each notes a difference at each of the needles.
func (f *Fabric) each(c *Course, on machine.Set, what string) {
	for n := range on.All() {
		f.differ(c, n, "%s", what)
	}
}

func (f *Fabric) differ(c *Course, n machine.Needle, format string, a ...any) {
	if f.Differences++; f.Differences == 1 {
		f.First = fmt.Sprintf("section %d, row %d, %v: ", c.Section, c.Row, n) + fmt.Sprintf(format, a...)
	}
}

func name(p *piece.Piece, y piece.YarnNo) string {
	if y == 0 {
		return "nothing"
	}
	return p.YarnName(y)
}
