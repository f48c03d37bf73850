package pass

import (
	"fmt"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Half is one bed's part in a pass. The zero Half does not knit. All sets are of needles at
// work, as they are when the pass starts, hands' work done.
type Half struct {
	AtWork machine.Set // needles that are not out of work; by the loom, as the pass is begun
	Select machine.Set // standing forward; by the technique, before the pass is sent
	Hold   machine.Set // in full hold; likewise
	Line   machine.Set // what the program line of its row selects, before switches and fingers; by the loom
	Sets   machine.Set // brought forward by this pass for the next; by the planner, when all passes are there

	// What of it the fingers do: of Select, those that they bring forward, and besides those
	// that they put back though card or carriage brings them forward. The technique says so
	// where a rule does; where no carriage selects, the loom does for every pass.
	ByHand, PushedBack machine.Set

	Setting machine.Setting // of the carriage; by the technique, as it begins the pass
	Yarns   []piece.YarnNo  // by feeder; 0: empty. Rows share it: it is replaced, never changed
	Size    string          // as the section writes it

	// Of the second bed: its needles take the yarns of both feeders, feeder 1's on top; where
	// they are plated, on top that which the main needle to their left does not take.
	Both, Plated bool

	// Of recipes: the bed is named in the pass, and not passed over; and from which feeders each
	// group takes its yarn.
	Named bool
	Takes Takes
}

// Takes is the feeders from which needles forward, at rest and in hold take their yarn: 1, 2 or,
// for both in one loop, 3. The zero value is feeder 1 for all.
type Takes struct{ Selected, Unselected, Held uint8 }

// RowPart is a row of the section that a pass works, from 1, and which of the row's parts
// it is, from 1: a two-colour row in two passes has two, and so has a right-side row of
// lace with the plain row after it.
type RowPart struct{ Row, Part int }

// Pass is one travel of a carriage across the bed, and the hand steps before it. A technique
// begins it on the loom (Works, Carriage, settings, needles, Lays, Exempt, Patterned, Lace)
// and sends it; sending fills in what only the loom knows (ID, N, Section, Dir, Counter, Run,
// Course, and what Before takes of yarns, cams and carriages); when all passes are there the
// planner settles the lines (Line, Own, Sets, Window). Then it changes no more. Rows, lines, sections
// and feeders count from 1, and 0 is none.
type Pass struct {
	ID       ID               // stays when other rows are edited
	N        int              // in the plan, from 1
	Section  int              // that it belongs to, a selecting pass to the one it selects for
	Carriage machine.Carriage // the zero Carriage knits
	Dir      machine.Side     // the way the carriage travels
	Beds     [2]Half          // by machine.Main and machine.Second
	Rack     int              // position of the handle that shifts the second bed
	Pitch    machine.Pitch    // of the two beds to each other
	Shift    int              // by so many needles the second bed stands to the right: Rack from the middle
	Works    []RowPart        // what it works of the section; none: a selecting or free pass
	Line     int              // of the program or card, read in this pass
	Window   int              // the number in the card's window, hands' work done; 0: no card
	Counter  int              // reading after the pass
	Run      int              // knitted passes so far, this one included
	Course   int              // the row of fabric this pass is part of; 0: knits nothing
	Threads  [2]string        // the names of what is in the main bed's feeders
	Lays     []Lay            // yarns laid by hand before it, in laying order
	Exempt   machine.Set      // needles that need not follow the chart: Compare works them out anew
	Before   []Step           // what hands do first, in order

	Waits     machine.Set // needles of the main bed that wait in hold for the other part of a divided piece
	Free      bool        // an empty carriage: knits nothing, moves no counter
	Patterned bool        // its needles come from a chart row, so a program has a line for it
	Own       int         // the program line that its own row stands on
	Ends      bool        // the end-needle switch is to be on while that line is read
	Lace      Lace        // zero outside lace sections
	Comb      Comb        // where the comb brings its needles forward

	Recipe int             // whose pass it is, among the plan's recipes, from 1; 0: no recipe's
	Source int             // its line, from 1
	Round  []finding.Round // the rounds around that, outermost first; shared
}

// Comb is one choice of a comb, repeated across the bed: its needles from 1, the first of
// them on needle At. No picks: the comb does not serve.
type Comb struct {
	At    machine.Needle
	Picks []int
}

// Lace is what only passes of lace sections have.
type Lace struct {
	Drawn      machine.Set // what the line of this pass selects, in all parts of a divided piece
	Reads      machine.Set // what the line read now selects, for this pass or for the next
	Left       machine.Set // what it selects, of lines that are given, and no pass of the lace carriage moves
	Why        string      // what that line is for, or why it is blank
	Blank      bool        // nothing is selected by it
	ForPurl    bool        // what it selects is for the purl carriage
	InProgram  bool        // the line is one of the lace carriage's program: numbered already
	Now        bool        // of those: the line selects for this pass, not for the next
	OtherLeans machine.Set // decreases that the shortest route stacks another way than drawn
}

// Works says that needles of the bed may take yarn on a way; else the carriage passes them over.
func (h *Half) Works(way machine.Side) bool {
	c := h.Setting.Cams(way)
	return !h.AtWork.Empty() && (c.Selected.Takes() || c.Unselected.Takes())
}

// Second is the second bed's part; the zero Half where it does not work.
func (p *Pass) Second() *Half { return &p.Beds[machine.Second] }

// Main is the main bed's part.
func (p *Pass) Main() *Half { return &p.Beds[machine.Main] }

// Row is the row of the section that the pass works; 0 for none.
func (p *Pass) Row() int {
	if len(p.Works) == 0 {
		return 0
	}
	return p.Works[0].Row
}

// Cams is what the main bed's cams do on the pass's way.
func (p *Pass) Cams() machine.Cams { return p.Main().Setting.Cams(p.Dir) }

// Yarn is the yarn in the main bed's feeder f, from 1; 0: it is empty.
func (p *Pass) Yarn(f int) piece.YarnNo {
	if yarns := p.Main().Yarns; f <= len(yarns) {
		return yarns[f-1]
	}
	return 0
}

// Lay is one yarn laid by hand over the needles From to To before the pass: a bobbin of
// intarsia, or a weft.
type Lay struct {
	Bobbin   string
	Thread   string // its name
	Yarn     piece.YarnNo
	First    bool // the bobbin's first row: its end is anchored, and there is nothing to twist
	From, To machine.Needle
}

// SayLay is lay i (from 0) of the pass in words, with the way in which it is laid: "2 spruce B1,
// from beneath A2, R8 to L3"; a weft is "frost over the needles, R8 to L8".
func (p *Pass) SayLay(pc *piece.Piece, i int) string {
	l := &p.Lays[i]
	from, to := l.From, l.To
	if p.Dir == machine.Left {
		from, to = to, from
	}
	if !p.Main().Setting.Lays {
		return fmt.Sprintf("%s over the needles, %v to %v", pc.YarnName(l.Yarn), from, to)
	}
	beneath := ""
	if i > 0 && !l.First {
		beneath = fmt.Sprintf(", from beneath %s", p.Lays[i-1].Bobbin)
	}
	return fmt.Sprintf("%d %s %s%s, %v to %v", i+1, pc.YarnName(l.Yarn), l.Bobbin, beneath, from, to)
}
