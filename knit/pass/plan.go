package pass

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/recipe"
)

// Totals count over the whole plan.
type Totals struct {
	Passes        int `json:"passes"`
	Knitted       int `json:"knitted"`
	Threadings    int `json:"threadings"`
	Cuts          int `json:"cuts"`
	Ends          int `json:"ends"`    // to darn in: two for every thread, waste apart
	Touches       int `json:"touches"` // needles put, levers set (two each), stitches moved, wrapped or knitted by hand
	Lines         int `json:"lines"`
	Bobbins       int `json:"bobbins"`
	BobbinsAtOnce int `json:"bobbins_at_once"`

	Recipe []RecipeTotals `json:"recipe,omitempty"`
}

// RecipeTotals is what a recipe section came to (recipes 8).
type RecipeTotals struct {
	Section int                       `json:"section"`
	Rounds  map[string]int            `json:"rounds"`
	Loops   map[string]map[string]int `json:"loops"`
	LetGo   struct {
		Pile int `json:"pile"`
		Run  int `json:"run"`
	} `json:"let_go"`
	Hands recipe.Hands `json:"hands"`
	Card  struct {
		Lines   int `json:"lines"`
		SetBack int `json:"set_back"`
	} `json:"card"`
	Free int `json:"free"`
	Most int `json:"most"`
}

// Recipe is a recipe of the plan: a section's, or what begins or ends the piece (section 0).
type Recipe struct {
	Section int
	Start   recipe.Start
	Run     *recipe.Run
	Acts    int // of its run, how many are planned
	First   int // index of its first pass
}

// Bobbin is one length of yarn laid by hand: rows and stitches are what it knits, Metres
// what to wind. Each bobbin but one from the feeder leaves two ends to darn.
type Bobbin struct {
	Name              string
	Yarn              piece.YarnNo
	Section           int // from 1
	FirstRow, LastRow int
	Stitches          int
	Metres            float64
	Cone              bool           // it is the yarn that came out of the feeder: nothing to wind, no end to anchor
	Left, Right       machine.Needle // of its field in the last row
}

// MaxPasses bounds the passes of a plan.
const MaxPasses = 100000

// Plan is everything the planner decided. While it is made, Placed is there from the first
// pass on, Passes and Bobbins grow, and After and Totals come last. Programs is, by section,
// what each line of its card or program selects, line 1 first, before switches and fingers;
// empty where nothing reads one.
type Plan struct {
	Piece  *piece.Piece
	Placed []*bed.Placed // one a section, in order
	// of a shaped piece, by section: as the whole and as each part of it knits the rows that are its own; nil: none
	// does
	Parts    [][3]*bed.Placed
	Programs [][]machine.Set
	AtLine   [][]machine.Set // of a shaped piece, by section and line: the needles at work in any row that it serves
	Passes   []Pass
	After    []Step            // once the last pass is knitted, or where the plan stops, what its row still wants
	Bobbins  []Bobbin          // of intarsia, in the order in which they come into use
	Findings []finding.Finding // of the planner alone; check adds those of the fabric
	Totals   Totals
	Recipes  []Recipe    // in the order of knitting
	Outside  *bed.Placed // what begins and ends the piece: section 0

	// Printed is the plan whose cards and programs are in, where hands do otherwise than it; nil: its own.
	Printed *Plan

	// TooLong says that it would have more than MaxPasses passes; it ends there.
	TooLong bool

	// Refused is bad input that only shows when a recipe is run, nil where there is none. The
	// plan ends before it.
	Refused *piece.Error

	// Stopped is the section and row (from 1) that could not be planned;
	// the passes end before it. Row 0: everything was planned.
	Stopped struct{ Section, Row int }
}

// Section is the section with a number, from 1, as it lies on the needles; 0 is what begins and
// ends the piece.
func (pl *Plan) Section(no int) *bed.Placed {
	if no == 0 {
		return pl.Outside
	}
	return pl.Placed[no-1]
}

// The sections that stand before the first and after the last, by the ids of their passes.
const (
	BeginID = "~begin"
	EndID   = "~end"
)

// Title is the name of a pass's section.
func (pl *Plan) Title(p *Pass) string {
	switch p.ID.Section {
	case BeginID:
		return "the start"
	case EndID:
		return "the finish"
	}
	return pl.Piece.Section(p.Section).Title()
}

// LinesOf is the number of program lines of a section (from 1); 0: none.
func (pl *Plan) LinesOf(section int) int {
	if section == 0 {
		return 0
	}
	return len(pl.Programs[section-1])
}

// LineWork is the needles at work in any row that a line (from 0) of a section's program serves.
func (pl *Plan) LineWork(section, line int) machine.Set {
	if len(pl.AtLine) >= section && line < len(pl.AtLine[section-1]) {
		return pl.AtLine[section-1][line]
	}
	return pl.Section(section).InWork(1)
}

// CardRows is how many rows the card of a section (from 1) has, without what lies over them.
func (pl *Plan) CardRows(section int) int {
	if section == 0 {
		return 0
	}
	return pl.Piece.Machine.CardRows(pl.LinesOf(section), pl.Section(section).Section.Joined)
}

// Report adds a finding.
func (pl *Plan) Report(f finding.Finding) { pl.Findings = append(pl.Findings, f) }

// Stop notes a row that cannot be planned; the first in the order of knitting stays.
func (pl *Plan) Stop(section, row int) {
	if at := &pl.Stopped; at.Row == 0 || section < at.Section || section == at.Section && row < at.Row {
		at.Section, at.Row = section, row
	}
}

// Refuse notes bad input that shows when the recipe of a section (from 1) is run.
func (pl *Plan) Refuse(section int, err error) {
	pl.Refused = &piece.Error{Path: fmt.Sprintf("sections[%d].recipe", section-1), Err: err}
	pl.Stop(section, 1)
}

// Find is the index of the pass with an identity, -1 where the plan has none.
func (pl *Plan) Find(id ID) int {
	for i := range pl.Passes {
		if pl.Passes[i].ID == id {
			return i
		}
	}
	return -1
}
