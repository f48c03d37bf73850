package piece

import (
	"cmp"
	"vindel/knit/chart"
	"vindel/knit/machine"
)

// YarnNo is a yarn's number in the piece's list, from 1; 0 is no yarn. It is
// another name for a byte, so that rows of yarns can be compared and filled as bytes.
type YarnNo = uint8

// Yarn is one yarn of the piece. Colour is #rrggbb.
type Yarn struct {
	ID     byte
	Name   string
	Colour string
	Ball   Ball
	Have   int  // whole balls in hand; -1: not said
	Carry  bool // its threads are kept whole, however far their strands run
}

// Ball is what a ball of yarn weighs, and how long its yarn is; 0: not known.
type Ball struct{ Grams, Metres float64 }

// Piece is a whole piece to be knitted.
type Piece struct {
	Name     string
	Machine  machine.Profile
	Yarns    []Yarn
	Charts   map[string]*Chart
	From, To machine.Needle // the ends of the work
	Out      machine.Set    // needles between them that do not work
	Second   Second         // how the second bed stands, where a section works it
	Shape    *Shape         // how it grows, narrows and divides; nil: it does not
	Start    machine.Side   // where the carriage stands before the first pass
	Sizes    []Size         // that are kept beside its outline
	Begin    *Begin         // how the first loops come on; nil: hand steps only
	End      *End           // how the last come off; nil: likewise
	PartEnds [3]*End        // of a divided piece: how a part's come off, where it has a way of its own
	Sections []Section
	Gauge    Gauge  // the swatch's, or as it is written where there is none
	Swatch   Swatch // what was measured
	Limits   Limits
	Options  Options
}

// Chart is a chart with its legend resolved: Means[k] is what key k stands for.
// Unknown lists the keys that the legend does not explain; only lace may use them.
type Chart struct {
	*chart.Chart
	Means   []chart.Meaning
	Legend  map[rune]chart.Meaning // as the file has it
	Unknown []rune
	Shows   bool       // the file says which rows it shows
	Lines   []LaceLine // of the lines of a lace carriage: their memos, line 1 first; nil: a drawing
	School  string     // of lines: preselect or direct, for which they were made; "": for the piece's machine
}

// Section is a stretch of rows in one technique. Rows is 0 where the file leaves it
// out: one height of its areas.
type Section struct {
	ID         string // by which the journal knows it: the file's own, or its number among the sections, "s2"
	OwnID      bool   // the file has it
	Name       string
	Technique  *Technique
	Rows       int
	Yarn       YarnNo   // for plain rows and needles outside the areas; never 0
	Stripes    []YarnNo // `yarns`: the yarn of each row, bottom up, repeated
	Weft       YarnNo
	Size       string
	Behind     string      // what the second bed knits in each of its passes: every, birdseye, stripes; "": nothing
	BehindSize string      // its stitch size; "": the section's
	Rib        [2]int      // so many needles of the main bed by turns with so many of the second; 0: no rib
	Out        machine.Set // of the main bed out of work in it
	SecondOut  machine.Set // of the second
	OwnYarn    bool        // the file has its yarn: it is a colour of the section even where it shows nowhere
	Areas      []Area
	Carry      bool             // its threads are kept whole, however far their strands run
	Free       bool             // an empty pass goes across before its first row
	Notes      map[int][]string // hand steps of the user's own, by the row that they stand before; 0: the section
	ByPurl     bool             // of plain rows: the purl carriage knits them
	Joined     bool             // its card is closed into a loop
	FromLine   int              // the row of its charts that its row 1 is, from 1
	Passes     int              // one less than its rows take where a reader gives every line two; 0: all
	Recipe     string           // its text, lines with "\n" between
	With       map[string]int   // its parameters set from outside, in tenths
	Swatch     Swatch           // measured on this section
	Variants   []map[string]int // settings of them that are kept side by side
	OwnSize    bool             // the file has its size
	Options    Options
}

// Shift is by how many rows its charts are ahead of its own: from_line less one.
func (s *Section) Shift() int { return s.FromLine - 1 }

// Title is the section's name, or its technique's where it has none.
func (s *Section) Title() string {
	if s.Name != "" {
		return s.Name
	}
	return s.Technique.Name
}

// Lace says that the section's charts are drawn in the marks of lace.
func (s *Section) Lace() bool { return s.Technique.Drawn == InLace }

// IsLines says that the section's charts are lines of a lace carriage.
func (s *Section) IsLines() bool { return len(s.Areas) > 0 && s.Areas[0].Chart.IsLines() }

// Area places a rectangle of a chart on needles (rules 2). A rectangle's
// columns and rows count from 1 at the bottom left, both ends included.
type Area struct {
	Chart           *Chart
	Columns, Rows   [2]int
	First, From, To machine.Needle
	Open            [3]bool           // the file leaves out from, to, first: they go as far as the needles ever do
	Edge            [2]bool           // from, to are the edge of the work, wherever it is
	Asked           [2]machine.Needle // from, to before what lies beyond the work at its widest was cut
	Transform       []string
	Blank           bool // above the chart's top: blank, not repeated
	Drop            int
	Lace            bool // of a lace section: padding closes up, and mirroring exchanges the leans
	Away            bool // drawn for the face that looks away from the knitter: mirrored once more
}

// Limits are in stitches or rows; 0 means the default of the rules. Weights is
// the number of rows between two moves of the weights, Lifeline that between two lifelines
// in lace: at 1 or 2 every plain pair has one, at Never none has.
type Limits struct {
	Float, Tuck, TuckWide, Slip, Weave, Weights, Lifeline int

	Strand, Carried int // of a thread that rests: stitches across to where it is taken up again, knitted passes up to it
}

// The limits where the piece says nothing; the float's and the tuck's hang on the needles.
const (
	SlipLimit     = 6  // rows running that a needle is slipped (rules 5.3)
	TuckWideLimit = 1  // neighbours that tuck together (rules 5.4)
	WeaveLimit    = 4  // stitches that a woven yarn passes uncaught (rules 5.6)
	CarriedLimit  = 20 // knitted passes that a thread is carried up an edge (rules 4, Threads)
	WeightsEvery  = 12 // rows of fabric between two moves of the weights (rules 3)
	LifelineEvery = 12 // and between two lifelines in lace
)

// Never is the limit of what is not to be done at all.
const Never = -1

// StrandLimit is how many stitches a thread that rests may run across to where it is taken up again.
func (p *Piece) StrandLimit() int { return cmp.Or(p.Limits.Strand, 2*p.FloatLimit()) }

// Gauge is stitches and rows over 10 cm of the swatch; 0 where nobody has measured.
type Gauge struct{ Stitches, Rows float64 }

// StitchMM is the width of a stitch in millimetres: the swatch's, or else the usual one of the machine.
func (p *Piece) StitchMM() float64 {
	if p.Gauge.Stitches > 0 {
		return 100 / p.Gauge.Stitches
	}
	stitch, _ := p.Machine.Usual()
	return stitch
}

// RowMM is the height of a row in millimetres: the swatch's, or as much of a stitch's width as is usual.
func (p *Piece) RowMM() float64 {
	if p.Gauge.Rows > 0 {
		return 100 / p.Gauge.Rows
	}
	stitch, row := p.Machine.Usual()
	return p.StitchMM() * row / stitch
}

// Assumed says that sizes go by a usual gauge: neither swatch nor gauge tells one of the two figures.
func (p *Piece) Assumed() bool { return p.Gauge.Stitches == 0 || p.Gauge.Rows == 0 }

// ApartMM is how far one stitch is from the next where floats are judged: by the swatch, else as the needles stand,
// since what is assumed must make no float longer than it may be.
func (p *Piece) ApartMM() float64 {
	if p.Gauge.Stitches > 0 {
		return 100 / p.Gauge.Stitches
	}
	return p.Machine.PitchMM
}

// Section is the section with a number, from 1 in the order of knitting.
func (p *Piece) Section(no int) *Section { return &p.Sections[no-1] }

// Second is the second bed: its needles, and how it stands to the main one.
type Second struct {
	Needles machine.Set
	Places  machine.Set // all from the first to the last, those that are out among them
	Turns   bool        // only every second needle works
	Pitch   machine.Pitch
	Rack    int // position of the handle
}

// Across is how the second bed lies to the main one.
func (p *Piece) Across() machine.Across {
	return machine.Across{Shift: p.Second.Rack - p.Machine.RackCentre, Pitch: p.Second.Pitch}
}

// TwoBeds says that a section works the second bed, as its technique does or as it says.
func (p *Piece) TwoBeds(s *Section) bool {
	return s.Behind != "" || s.Rib[0] > 0 || s.Technique.TwoBeds != nil && s.Technique.TwoBeds(s)
}

// Beds is the needles of either bed that a section has in work: of a rib they take turns, from the
// left, so that every place has one stitch.
func (p *Piece) Beds(s *Section) (main, second machine.Set) { return p.BedsOn(s, p.Ever()) }

// BedsOn is Beds where the work has certain needles: of a shaped piece they change from row to row, and
// the second bed's edges move with the main bed's.
func (p *Piece) BedsOn(s *Section, all machine.Set) (main, second machine.Set) {
	main = all
	if s.Rib[0] > 0 {
		i := 0
		for n := range all.All() {
			if i%(s.Rib[0]+s.Rib[1]) >= s.Rib[0] {
				main.Remove(n)
				if at := n - machine.Needle(p.Across().Shift); p.Machine.Bed.Check(at) == nil {
					second.Add(at)
				}
			}
			i++
		}
	} else if p.TwoBeds(s) {
		second = p.behind(all)
	}
	return main.Minus(s.Out), second.Minus(s.SecondOut)
}

// behind is the second bed's needles where the main bed has certain ones: as many further out or in as its
// edges are than at the cast-on.
func (p *Piece) behind(all machine.Set) machine.Set {
	s := &p.Second
	work := p.Work()
	if all == work || all.Empty() || s.Places.Empty() {
		return s.Needles
	}
	set := p.PlacesBehind(all)
	set = set.Minus(s.Places.Minus(s.Needles)) // those that are out
	if s.Turns {
		from := s.Places.First()
		for n := range set.Minus(s.Places).All() {
			if (n-from)%2 != 0 {
				set.Remove(n)
			}
		}
	}
	return set
}

// PlacesBehind is the places of the second bed where the main bed has certain needles: moved as far out or in as
// its edges are against the cast-on's.
func (p *Piece) PlacesBehind(all machine.Set) machine.Set {
	s, work := &p.Second, p.Work()
	if all.Empty() || s.Places.Empty() {
		return s.Places
	}
	first, last := s.Places.First()+all.First()-work.First(), s.Places.Last()+all.Last()-work.Last()
	return machine.Range(max(first, p.Machine.Bed.First()), min(last, p.Machine.Bed.Last()))
}

// Work is the needles in work at the cast-on.
func (p *Piece) Work() machine.Set { return machine.Range(p.From, p.To).Minus(p.Out) }

// FloatLimit is the longest float in stitches, and why: the piece's own limit, or
// 25 mm at the gauge, or at the needle pitch.
func (p *Piece) FloatLimit() int {
	if p.Limits.Float > 0 {
		return p.Limits.Float
	}
	return machine.FloatLimit(p.ApartMM())
}

// TuckLimit is the most tucks one after another on a needle: 4 at pitches under 6 mm, 8 above.
func (p *Piece) TuckLimit() int {
	switch {
	case p.Limits.Tuck > 0:
		return p.Limits.Tuck
	case p.Machine.PitchMM < 6:
		return 4
	}
	return 8
}

// Limit is a limit of the piece, or its default.
func Limit(set, other int) int {
	if set > 0 {
		return set
	}
	return other
}

// YarnID is the letter of a yarn as text, "" for none.
func (p *Piece) YarnID(y YarnNo) string {
	if y == 0 {
		return ""
	}
	return string(p.Yarns[y-1].ID)
}

// YarnName is the name of a yarn, "" for none.
func (p *Piece) YarnName(y YarnNo) string {
	if y == 0 {
		return ""
	}
	return p.Yarns[y-1].Name
}

// RowYarn is the yarn of row r (from 1) of a section in which one yarn makes a row.
func (s *Section) RowYarn(r int) YarnNo {
	if len(s.Stripes) == 0 {
		return s.Yarn
	}
	return s.Stripes[(r-1)%len(s.Stripes)]
}

// Lace is what key k stands for in a lace chart: what its legend says, or else the mark.
func (c *Chart) Lace(k uint8) chart.Stitch {
	if st := c.Means[k].Stitch; st != chart.Knit {
		return st
	}
	st, _ := chart.LaceMark(c.Keys[k])
	return st
}

// Balance is by how many stitches a row of lace uses more than it makes; row is its keys.
func (c *Chart) Balance(row []uint8) (n int) {
	for _, k := range row {
		st := c.Lace(k)
		n += st.Uses() - st.Makes()
	}
	return n
}

// Mark is the character of a chart of marks that makes a stitch in the row's own yarn, 0
// where there is none.
func (c *Chart) Mark(stitch chart.Stitch) rune {
	for _, r := range legendKeys(c.Legend) {
		if m := c.Legend[r]; m.Stitch == stitch && m.Yarn == 0 {
			return r
		}
	}
	return 0
}

// Character is what draws yarn y in the chart: the one in use, one that the legend has
// for it, or the yarn's own letter.
func (c *Chart) Character(y YarnNo, p *Piece) rune {
	id := p.Yarns[y-1].ID
	for k, m := range c.Means {
		if m.Yarn == id && m.Stitch == chart.Knit {
			return c.Keys[k]
		}
	}
	for _, r := range legendKeys(c.Legend) {
		if m := c.Legend[r]; m.Yarn == id && m.Stitch == chart.Knit {
			return r
		}
	}
	return rune(id)
}
