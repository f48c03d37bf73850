package fabric

import (
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// Fabric is what came off the machine. Courses count from 1 at the bottom.
type Fabric struct {
	Plan    *plan.Plan
	From    machine.Needle // the leftmost wale, as the knitter faces the bed
	W       int            // wales
	Courses []Course
	Face    []piece.YarnNo // Courses × W, bottom first: the yarn of the stitch on show on the knit side
	Took    []Took         // one a pass
	Stands  []Stand        // before each pass; nil where nothing is transferred
	Faults  []finding.Finding
	Tucks   int // tuck loops laid
	Eyelets int // yarn-overs: stitches knitted on an empty needle
	Doubled int // stitches knitted through two or more loops of which one was transferred
	Longest Float
	longest int

	Differences int // stitches that are not what the chart asked for
	Exempt      int // stitches left out of the comparison: seam and end needles
	First       string
	Wrong       Wrong
}

// Course is one row of the fabric: where it comes from, and what its needles did.
type Course struct {
	Section, Row             int         // of the plan; row 0 is no chart row
	Exempt                   machine.Set // needles that the plan says do not follow the chart
	Knitted, Tucked, Slipped machine.Set
	Purled                   machine.Set // stitches whose purl bump shows on the knit side
	Weft                     machine.Set // stitches that the woven yarn covers on the purl side
	WeftYarn                 piece.YarnNo

	PlainRow     bool        // the second, plain row of a right-side lace row
	Eyelets      machine.Set // knitted on an empty needle
	Doubled      machine.Set // knitted through a transferred loop and another
	Merged       machine.Set // of those: through loops of more than one wale, as a decrease is
	Deep         machine.Set // of those: through more than three
	LeanR, LeanL machine.Set // of those: whose left, or right, loop on the bed shows on the knit side
	OtherLeans   machine.Set // leans that the plan says will differ from the chart's
}

// Took is the needles that took the yarn of each feeder in one pass.
type Took [2]machine.Set

// Float is a stretch of yarn that runs past needles without being taken, in one
// pass, from needle First to Last, both included.
type Float struct {
	Pass        int // index of the pass
	Yarn        piece.YarnNo
	First, Last machine.Needle
}

// Stitches is the length of the float in needles.
func (f Float) Stitches() int { return int(f.Last-f.First) + 1 }

// Row is course c (from 1) of the knit side's yarns in bed order, left to right as
// the knitter faces the bed; 0 where a wale runs free.
func (f *Fabric) Row(c int) []piece.YarnNo { return f.Face[(c-1)*f.W : c*f.W] }

// Matches says that the fabric is what the charts asked for, to the last row.
func (f *Fabric) Matches() bool {
	return f.Differences == 0 && len(f.Faults) == 0 && f.Plan.Stopped.Row == 0
}
