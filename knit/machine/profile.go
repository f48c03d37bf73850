package machine

import (
	"cmp"
	"fmt"
	"slices"
)

// School is how needles get chosen (rules 1, Selection).
type School uint8

// The four schools of selection.
const (
	ByHand School = iota
	Preselect
	Direct
	Pairs
)

var schoolNames = [...]string{"hand", "preselect", "direct", "pairs"}

func (s School) String() string { return schoolNames[s] }

// ParseSchool reads a school's word.
func ParseSchool(t string) (School, error) {
	for i, name := range schoolNames {
		if t == name {
			return School(i), nil
		}
	}
	return 0, fmt.Errorf("%q: hand, preselect, direct or pairs", t)
}

// Program is what drives the selection.
type Program uint8

// What can drive a selection.
const (
	NoProgram Program = iota
	PunchCard
	Electronic
)

// Profile is what Vindel knows of one machine. Fields of a shipped profile can be
// overridden in a piece file; the names there are the JSON names in read.go of piece.
type Profile struct {
	ID, Name   string
	Bed        Bed
	PitchMM    float64 // needle to needle
	StitchMM   float64 // how wide a stitch usually comes out; 0: as on most machines
	RowMM      float64 // and how tall a row
	Beds       int
	MaySecond  bool   // it may have a second bed, set up before it where a piece wants one
	Racks      [2]int // the least and the highest position of the handle that shifts the second bed
	RackCentre int    // the position at which the two beds stand as they are numbered
	PlatedStep int    // by how many whole sizes the second bed's stitches are larger in plated work
	Ticks      int    // steps after the point of a stitch size
	School     School
	Comb       int // needles one comb sets at a time; 0: no comb
	Feeders    int // yarns in one pass

	Program    Program
	Columns    int    // a card's columns, or the widest program
	Offset     int    // lines between the one read and the one seen
	Loop       int    // rows a card needs to close round the reader
	Overlap    string // copy or holes: what the two overlapping rows carry
	Joined     bool   // a card is closed into a loop, where a section does not say otherwise
	ShowsNext  bool   // the window shows the line read next, not the one read last
	LeadIn     int    // rows past the click before line 1, as a card is put in
	CardOrigin Needle // the needle that column 1 selects
	RowsMax    int    // program lines; 0: no limit
	Stitches   int    // program cells in memory; 0: no limit
	AreasMax   int    // 0: no limit
	Flat       bool   // a console that does not place areas itself: every line of the bed is keyed

	PanelOrder []string          // of PanelKeys: what it asks for first, of an area
	PanelWords map[string]string // her words for PanelKeys, transforms, and area, drawing, repeat, blank, none
	PanelDoes  []string          // the transforms that it does itself
	PanelAll   bool              // and does for all areas together, not for each

	HolePitchMM  float64 // between holes of a card, across
	RowPitchMM   float64 // between rows of a card
	HoleMM       float64 // a hole's diameter
	Lace         string  // separate, combined, hand, or "" for none
	PurlCarriage bool
	PurlAhead    bool     // it purls the needles of the line read before, not of the one that it reads
	Advances     []string // carriages that read a line in lace
	Weave        bool
	Intarsia     bool
	TuckSelected string // knit or tuck: what selected needles do on tuck cams
	WeaveSel     string // hidden or shown
	HoldDisturbs bool   // needles left in hold disturb its carriage: stitches wait on waste yarn
	EmptyCounts  bool   // the empty pass before yarns laid by hand moves the counter
	ResetEach    bool   // tucking needles are set again after every pass
	HeldPasses   bool   // the yarn does not catch on a needle in full hold between two that knit
	Near         bool   // the patterned bed is the one nearest to her: its knit side faces her
	EndSwitch    bool   // a switch brings the end needles forward while a line is read
	MirrorSwitch bool
	Homes        map[string]string // where a carriage is that is not at work: left or right, the rails there, or her words
	Kit          []Kit             // what has to be there before a carriage comes on
	Controls     []Control         // her own, where she has placed them on the carriage
	Words        map[string]string // the user's own, by the keys of Terms; others are kept
}

// Kit is something that has to be there before a carriage comes on: on a side, or anywhere.
type Kit struct {
	For    Carriage
	Side   Side
	Text   string
	Always bool // each time it comes on, and not once
}

// Home is the side on whose rails a carriage stands that has not been at work yet; 0: it is elsewhere.
func (p *Profile) Home(c Carriage) Side {
	switch at := p.Homes[c.String()]; {
	case at == "left", at == "" && c == LaceCarriage:
		return Left
	case at == "right", at == "" && c == PurlCarriage:
		return Right
	}
	return 0
}

// MemoKey begins a panel word that is a number her panel shows for a memo: "memo knit 2" = "5".
const MemoKey = "memo "

// PanelKeys is what a console that places areas is told of one, by the alphabet.
var PanelKeys = []string{"above", "anchor", "columns", "drawing", "from", "rows", "switches", "to"}

// Reads says that a carriage advances the program by a line in lace.
func (p *Profile) Reads(c Carriage) bool {
	return p.Program != NoProgram && slices.Contains(p.Advances, c.String())
}

// Selects says that the knit carriage has a switch by which it reads the program, or not.
func (p *Profile) Selects() bool { return p.School == Preselect || p.School == Direct }

// LaceSchool is the school for which lines of this machine's lace carriage are made: preselect where it moves on the
// next pass what a line selects, direct where it moves that at once, "" where it has no lace carriage.
func (p *Profile) LaceSchool() string {
	switch p.Lace {
	case "separate":
		return "preselect"
	case "combined":
		return "direct"
	}
	return ""
}

// HasCard says that a punch card selects the needles.
func (p *Profile) HasCard() bool { return p.Program == PunchCard }

// CardRows is how many rows a card of so many lines has: a joined one is punched as often as
// closes it round the reader, another once (rules 6, Punch card).
func (p *Profile) CardRows(lines int, joined bool) int {
	if !joined || lines == 0 {
		return lines
	}
	return lines * ((p.Loop + lines - 1) / lines)
}

// HasSecond says that it has a second bed, or may have one.
func (p *Profile) HasSecond() bool { return p.Beds > 1 || p.MaySecond }

// Of the needles' pitch a stitch is usually so wide, and of its width a row so tall.
const usualStitch, usualRow = 0.77, 0.70

// Usual is the size in mm of a stitch where no swatch is known: the profile's, or as most machines knit.
func (m *Profile) Usual() (stitch, row float64) {
	stitch = cmp.Or(m.StitchMM, usualStitch*m.PitchMM)
	return stitch, cmp.Or(m.RowMM, usualRow*stitch)
}

// FloatLimit is the longest float, in stitches, that 25 mm allows at the given
// width of a stitch in millimetres (rules 5.1); at least 1.
func FloatLimit(stitchMM float64) int { return max(1, int(25/stitchMM+1e-9)) }
