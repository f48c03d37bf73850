package plan

import (
	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Pass is one travel of a carriage across the bed, and the hand steps before it.
// Rows and lines count from 1; 0 is none.
type Pass struct {
	N          int // over the whole piece, from 1
	Section    int // from 1
	Carriage   machine.Carriage
	Dir        machine.Side // the way the carriage travels
	Row        int          // of the section
	Line       int          // of the program or card, read in this pass
	Counter    int          // reading after the pass
	Run        int          // knitted passes so far, this one included
	Course     int          // the row of fabric this pass is part of, from 1; 0: knits nothing
	Select     machine.Set  // standing forward when the pass starts
	Sets       machine.Set  // brought forward by this pass for the next
	Hold       machine.Set  // in full hold
	Feeders    [2]piece.YarnNo
	Cams       machine.Cams
	Size       string
	Rack       int
	HalfPit    bool // the second bed at half pitch
	Second     *SecondBed
	Lays       []Lay
	ByHand     machine.Set // of Select: brought forward by the fingers, not by card or carriage
	PushedBack machine.Set // put back to rest by the fingers, though card or carriage brings them forward
	Exempt     machine.Set // seam and end needles, which do not follow the chart
	Before     []Step

	OtherLeans machine.Set // lace: decreases that the shortest route stacks another way than drawn
	PlainRow   bool        // lace: the second, plain row of a right-side chart row
	Fine       bool        // lace: a transfer leaves the loop on both needles
	Why        string      // lace: what the line read is for, or why it is blank
	InLace     bool        // its line is one of a lace program: numbered already
	SelectsNow bool        // of those: the line it reads selects for this pass, not for the next

	TwoYarns  bool        // needles forward take feeder 2, those at rest feeder 1
	Free      bool        // an empty carriage: knits nothing, moves no counter
	Patterned bool        // its needles come from a chart row, so a program has a line for it
	own       int         // the program line its own row stands on
	h         int         // program lines of its section
	reads     machine.Set // lace: the needles of the line it reads
}

// SecondBed is what the second bed does in a pass in which both beds knit.
type SecondBed struct {
	Needles machine.Set  `json:"needles"`
	Select  machine.Set  `json:"select"`
	Cams    machine.Cams `json:"cams"`
	Size    string       `json:"size"`
}

// Lay is one bobbin laid by hand over the needles From to To before the pass.
type Lay struct {
	Bobbin string         `json:"bobbin"`
	Yarn   piece.YarnNo   `json:"-"`
	First  bool           `json:"-"` // the bobbin's first row: its end is anchored, and there is nothing to twist
	From   machine.Needle `json:"-"`
	To     machine.Needle `json:"-"`
}

// Do is what a hand step asks of the fingers.
type Do string

// The verbs of hand steps.
const (
	CastOn       Do = "cast-on"
	BringForward Do = "bring-forward"
	ToHold       Do = "to-hold"
	ToWork       Do = "to-work"
	Thread       Do = "thread"
	Unthread     Do = "unthread"
	Cut          Do = "cut"
	Park         Do = "park"
	Transfer     Do = "transfer"
	Drop         Do = "drop"
	Reform       Do = "reform"
	Attach       Do = "attach"
	Remove       Do = "remove"
	SetCard      Do = "set-card"
	SetCams      Do = "cams"
	Weights      Do = "weights"
	BindOff      Do = "bind-off"
	SetCounter   Do = "counter"
	CardLock     Do = "card-lock"
	CardRelease  Do = "card-release"
	Lifeline     Do = "lifeline"
	Note         Do = "note"
	Care         Do = "care"
)

// Step is one thing the hands do before a pass. Which fields count depends on Do.
type Step struct {
	Do       Do
	Needles  machine.Set
	Dir      machine.Side
	Side     machine.Side // where a yarn lies
	Tool     int
	Feeder   int // from 1
	Yarn     piece.YarnNo
	Value    int              // counter reading, card line, 1 for on
	Section  int              // whose card or program
	Carriage machine.Carriage // put on or taken off the bed
	Other    machine.Carriage // the one that had the yarn before it
	Cams     string           // key of the cam setting in the profile's words
	Way      machine.Side
	Size     string
	Text     string // for notes and cautions
}

// Totals count over the whole plan.
type Totals struct {
	Passes        int `json:"passes"`
	Knitted       int `json:"knitted"`
	Threadings    int `json:"threadings"`
	Cuts          int `json:"cuts"`
	Lines         int `json:"lines"`
	Bobbins       int `json:"bobbins"`
	BobbinsAtOnce int `json:"bobbins_at_once"`
}

// Plan is everything the planner decided.
type Plan struct {
	Piece    *piece.Piece
	Bobbins  []Bobbin      // of intarsia, in the order in which they come into use
	Placed   []*bed.Placed // one a section, in order
	Lines    []int         // program lines of each section; 0: none
	Passes   []Pass
	After    []Step // once the last pass is knitted
	Findings []finding.Finding
	Totals   Totals

	// Stopped is the section (from 0) and row (from 1) that could not be planned;
	// the passes end before it. Row 0: everything was planned.
	Stopped struct{ Section, Row int }
}

// To is the side on which the carriage stands when the plan is done.
func (pl *Plan) To() machine.Side {
	if len(pl.Passes) == 0 {
		return pl.Piece.Start
	}
	return pl.Passes[len(pl.Passes)-1].Dir
}
