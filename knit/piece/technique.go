package piece

import (
	"slices"

	"vindel/knit/chart"
	"vindel/knit/machine"
)

// Drawing is what the charts of a technique are drawn in.
type Drawing uint8

// The ways to draw: no chart at all, a yarn a cell, a stitch marked, the marks of lace.
const (
	Nothing Drawing = iota
	InYarns
	InStitches
	InLace
)

// Technique is what a piece file and its drawings need to know of a technique. How its
// rows are knitted stands with it in package technique, one file each; the reader is
// handed the list.
type Technique struct {
	Name  string // in the piece file
	Label string // as a knitter reads it
	Drawn Drawing
	Mark  chart.Stitch // that its charts mark, where they are drawn in stitches

	Worn       chart.Face // the face that is outside when worn
	EitherSide bool       // or whichever she likes

	OneYarn bool // one yarn makes a row, so `yarns` may say which
	Weft    bool // a second yarn is laid by hand: `weft`
	// Refuses lists the keys that its section may not have.
	Refuses []string
	// Long is how many rows its section has, where that stands in its text; nil: as it says, or as its charts.
	Long      func(p *Piece, s *Section) int
	OwnRows   bool // its rows are not those of a chart, nor counted in `rows`
	TwoPasses bool // with one feeder a row of two yarns is worked out and back, between two seam needles
	// ColourLines says that a line of card or program is one colour of a row, knitted in a pass of its own.
	ColourLines bool
	// Behind says that a second bed may knit behind its rows, as the section says.
	Behind bool
	// TwoBeds says that its section works the second bed by itself; nil: never.
	TwoBeds func(s *Section) bool
	// Ribs says that a rib, or the purl carriage, may knit its rows: nothing of them is drawn.
	Ribs bool
	// Larger says that the second bed's stitches are larger than the main one's by the machine's plated step.
	Larger bool
	// Separates says that its colours can be separated in ways that cost differently.
	Separates bool
	// Laid says that its yarns are laid over the needles by hand, and no carriage feeds them.
	Laid bool
	// HandHolds says that where fingers choose the needles they put them in full hold, and cams must not knit those.
	HandHolds bool
	// Patterned says that the needles of its rows are selected from the chart, so that a program
	// has lines for them; nil: they are not.
	Patterned  func(m *machine.Profile) bool
	Transforms []string // that its areas may have; nil: all
	Changed    string   // those in words: "mirrored and repeated"
	Options    []string // that its sections show on the pages

	// Sense checks what its section may say, once it and all before it are read; faults are
	// told at places within the section, such as "areas[0].chart". nil: nothing more.
	Sense func(p *Piece, s *Section, fault func(path, format string, a ...any))
}

// IsPatterned says that the needles of its rows are selected from the chart on the machine.
func (t *Technique) IsPatterned(m *machine.Profile) bool { return t.Patterned != nil && t.Patterned(m) }

// Takes says whether an area of the technique may have a transform.
func (t *Technique) Takes(transform string) bool {
	return t.Transforms == nil || slices.Contains(t.Transforms, transform)
}

// Techniques is a list of techniques in the order in which they are offered.
type Techniques []*Technique

// Find is the technique with a name, nil where there is none.
func (ts Techniques) Find(name string) *Technique {
	for _, t := range ts {
		if t.Name == name {
			return t
		}
	}
	return nil
}

// Names lists their names.
func (ts Techniques) Names() (names []string) {
	for _, t := range ts {
		names = append(names, t.Name)
	}
	return names
}
