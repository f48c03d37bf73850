package recipe

import (
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Pair is the yarns of one loop, or of both feeders; 0: none.
type Pair [2]piece.YarnNo

// Group is needles that do the same in a pass.
type Group struct {
	Needles machine.Set
	Do      machine.Action // knit, tuck or slip
	Yarns   Pair           // that they take; slip: none
}

// Half is what a bed does in a pass.
type Half struct {
	Named  bool // it works; else the carriage passes it over
	Work   machine.Set
	Hold   machine.Set // before the pass
	Groups []Group     // of the needles at work, at most two
	Takes  bool        // the held needles knit too
	Held   Pair        // in these yarns
	takers machine.Set
	Caught machine.Set // held needles on which feeder 1's yarn leaves a strand
	Size   string
}

// Out is the needles of the half that are not out.
func (h *Half) In() machine.Set { return h.Work.Or(h.Hold) }

// Moves is a pass as the recipe means it.
type Moves struct {
	Dir     machine.Side
	Free    bool
	Beds    [2]Half
	Feeders Pair
	ByCard  bool
	Course  bool // a needle of the main bed takes the yarn
	Begins  bool // hands have done something since the pass before
	room    [2][2]Group
}

// Act is one thing that a recipe comes to when it is run: a step with its sets and numbers
// worked out, in the round at hand.
type Act struct {
	Step   *Step
	Do     Verb
	Rounds []finding.Round // around it, outermost first; shared
	Bed    machine.BedNo
	Set    machine.Set // needles; of work, hold and out those that were not there already
	With   machine.Set // cross: the others; knit by hand: the long ones, Set the short
	N      int         // places moved; the counter; rows between weights
	Side   machine.Side
	Yarns  Pair
	Fed    bool // it uses the feeders
	Rack   int
	Pitch  machine.Pitch
	Size   string
	Pile   bool   // a drop that the second bed's carriage does by itself, over and back
	Stand  *Stand // of such a drop
	Pass   *Moves
}

// Stand is the needles of both beds that are not out, and those in hold.
type Stand struct{ In, Hold [2]machine.Set }

// Totals is what a recipe came to (recipes 8).
type Totals struct {
	Rounds map[string]int
	Loops  []map[string]int // by yarn from 1
	Pile   int              // loops let go that were drawn through nothing
	Run    int              // and through others
	Hands  Hands
	Free   int
	Most   int
	Passes [2]int // on the needle that knitted most, and on the one that knitted least
	Drops  bool   // loops are let go somewhere
}

// Hands is what hands did.
type Hands struct {
	Needles int `json:"needles"`
	Moved   int `json:"moved"`
	Crossed int `json:"crossed"`
	Knitted int `json:"knitted"`
	Wrapped int `json:"wrapped"`
}

// Count is all needles and stitches that hands touched; a pair crossed is two.
func (h Hands) Count() int { return h.Needles + h.Moved + 2*h.Crossed + h.Knitted + h.Wrapped }
