package finding

// Code names what a finding is about; codes are stable, other tools rely on them. Each says
// when it occurs, and has an example: a machine, the needles and a technique, a chart (the
// top row first) and changes of the piece; or it says that only the simulated bed sees it,
// when a plan has been spoilt.
type Code string

// What stops a plan.
const (
	// ColoursInRow occurs when a two-colour row shows more than two colours.
	//
	// Example:
	//	card-preselect L6-R6 two-colour
	//	..#+.#..#..#
	ColoursInRow Code = "colours-in-row"

	// WidthTile occurs when needles that share a column of the card would need other holes.
	//
	// Example:
	//	card-preselect L36-R36 two-colour
	//	#...#
	WidthTile Code = "width-tile"

	// OffBed occurs when a shape grows beyond the bed, or an area lies wholly off the needles in work.
	//
	// Example:
	//	card-preselect L6-R6 two-colour
	//	#..#..
	//	/sections/0/areas/0/to "R12"
	//	/sections/0/areas/0/from "R8"
	OffBed Code = "off-bed"

	// ShapeSide occurs when an edge is to be bound off, cast on or put in hold by several stitches, and
	// no row starts on the side that this needs.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	.....o\.....
	//	/shape [{"side": "left", "row": 1, "stitches": -2}]
	ShapeSide Code = "shape-side"

	// TooLong occurs when a piece has more passes than are planned.
	//
	// Example:
	//	card-preselect L6-R6 lace
	//	^/ooo^/ooo..
	//	/sections/0/rows 20000
	TooLong Code = "too-long"

	// MemoryStitches occurs when a program has more stitches, or is wider, than the machine keeps.
	//
	// Example:
	//	program-small L25-R25 two-colour
	//	#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.#.
	MemoryStitches Code = "memory-stitches"

	// MemoryRows occurs when a program has more lines than the machine keeps.
	//
	// Example:
	//	program-small L6-R6 two-colour
	//	#..
	//	.#.
	//	..#
	//	/machine/rows_max 2
	MemoryRows Code = "memory-rows"

	// MemoryAreas occurs when a section has more areas than the machine keeps.
	//
	// Example:
	//	program-small L6-R6 two-colour
	//	#.
	//	/sections/0/areas/- {"chart": "c"}
	//	/machine/areas_max 1
	MemoryAreas Code = "memory-areas"

	// SlipColour occurs when a stitch is to be passed over and does not show the yarn that
	// the chart asks for there.
	//
	// Example:
	//	card-direct L2-R2 slip
	//	..#.
	//	....
	//	/charts/c/legend {".": {"yarn": "A"}, "#": {"yarn": "B"}}
	SlipColour Code = "slip-colour"

	// LaceCount occurs when a lace row uses more or fewer stitches than it makes.
	//
	// Example:
	//	card-preselect L6-R6 lace
	//	.o....
	LaceCount Code = "lace-count"

	// LaceNoStitch occurs when the rows of a lace drawing do not close up to one width.
	//
	// Example:
	//	hand-mid L6-R6 lace
	//	.x/o.x
	//	......
	LaceNoStitch Code = "lace-no-stitch"

	// LaceSecondRow occurs when transfers stand in the second row of a pair that the machine
	// knits without a break.
	//
	// Example:
	//	card-preselect L6-R6 lace
	//	/o..o\
	//	......
	//	/charts/c/shows "all"
	LaceSecondRow Code = "lace-second-row"

	// CarriageSide occurs when a carriage is wanted on the side where it does not stand.
	//
	// Example:
	//	two-bed-pairs L2-R2 two-colour
	//	#..#
	//	/start "left"
	CarriageSide Code = "carriage-side"

	// CardSchool occurs when lines of a lace carriage are made for the other school than the machine's.
	//
	// Example:
	//	program-preselect L6-R6 lace
	//	....
	//	/charts/c {"lines": [{"row": "...."}, {"row": ".#.."}], "school": "direct"}
	CardSchool Code = "card-school"

	// TechniqueMachine occurs when the machine cannot knit a section.
	//
	// Example:
	//	two-bed-pairs L6-R6 lace
	//	/o..o\
	TechniqueMachine Code = "technique-machine"

	// FabricDiffers occurs when the simulated fabric is not what the charts ask for. Only the simulated bed sees it.
	FabricDiffers Code = "fabric-differs"

	// CarriagesClash occurs when two carriages are on the bed. Only the simulated bed sees it.
	CarriagesClash Code = "carriages-clash"

	// StitchDropped occurs when a stitch is let go that nobody meant to. Only the simulated bed sees it.
	StitchDropped Code = "stitch-dropped"

	// NeedleNoYarn occurs when needles knit with no yarn. Only the simulated bed sees it.
	NeedleNoYarn Code = "needle-no-yarn"

	// TransferOff occurs when a stitch goes to a needle that is out of work, or off the bed.
	// Only the simulated bed sees it.
	TransferOff Code = "transfer-off"

	// YarnWrongSide occurs when a yarn is to be threaded on the side where it does not hang.
	// Only the simulated bed sees it.
	YarnWrongSide Code = "yarn-wrong-side"

	// YarnNotThreaded occurs when the feeders hold other yarns than a pass needs. Only the
	// simulated bed sees it.
	YarnNotThreaded Code = "yarn-not-threaded"

	// SelectionLost occurs when other needles stand forward than a pass needs. Only the
	// simulated bed sees it.
	SelectionLost Code = "selection-lost"

	// SeparationOrder occurs when the colours of a row cannot be interleaved, since there are more
	// than two of them, or fewer.
	//
	// Example:
	//	program-preselect L6-R6 separated
	//	..#+.#..#..#
	//	/sections/0/separation "interleaved"
	SeparationOrder Code = "separation-order"

	// PlatedColours occurs when a plated row has not two colours.
	//
	// Example:
	//	program-preselect L3-R3 plated
	//	..#+.#
	PlatedColours Code = "plated-colours"

	// BedsCollide occurs when needles that are both in work face each other at full pitch.
	//
	// Example:
	//	program-preselect L3-R3 plated
	//	..##.#
	//	/second {"pitch":"full"}
	BedsCollide Code = "beds-collide"

	// SecondStands occurs when the second bed stands, or is set, otherwise than a pass needs. Only
	// the simulated bed sees it.
	SecondStands Code = "second-stands"

	// LaidOutOfOrder occurs when yarns are laid against the carriage's way. Only the simulated
	// bed sees it.
	LaidOutOfOrder Code = "laid-out-of-order"
)

// What stops a recipe (recipes 7). Their examples are recipes of their own, on a machine and
// needles.
const (
	// RecipeWidth occurs when the stitches are not as many as the recipe's `fits` wants.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	fits 5 plus 1
	//	yarn A
	//	pass 2
	RecipeWidth Code = "recipe-width"

	// RecipeCheck occurs when a `check` is not true.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	pass 1: tuck place 4
	//	check single all
	RecipeCheck Code = "recipe-check"

	// RecipeWays occurs when one bed is to do three different things in a pass.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	pass 1: tuck place 4, slip place 6
	RecipeWays Code = "recipe-ways"

	// RecipeEmpty occurs when a needle without a loop is to be moved, crossed, or knitted by hand,
	// or one that is not in hold is to be wrapped.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	move place 4 left
	//	cross place 4 with place 6
	RecipeEmpty Code = "recipe-empty"

	// RecipeCross occurs when stitches cross that are not as many on both sides, or with themselves.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	cross first 2 with last 3
	RecipeCross Code = "recipe-cross"

	// RecipeReader occurs when card or program cannot choose the needles of a pass.
	//
	// Example:
	//	card-preselect L6-R6 recipe
	//	yarn A
	//	choose by card
	//	pass 2: tuck every 2 from 2 of inside 1
	RecipeReader Code = "recipe-reader"

	// RecipeHeld occurs when needles are still in hold, or loops on the second bed, and a section of
	// another technique follows.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	hold place 4
	//	pass 2
	//	/sections/- {"technique": "plain", "rows": 2}
	RecipeHeld Code = "recipe-held"

	// BedLowered occurs when a lowered bed is to knit.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	lower main
	//	pass 1
	BedLowered Code = "bed-lowered"
)

// What a recipe may cost.
const (
	// CrossFar occurs when stitches cross over more than four needles.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	cross first 1 with last 1
	CrossFar Code = "cross-far"

	// WrapFar occurs when a needle is wrapped that is not beside the last one that took the yarn.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	hold first 3
	//	pass 1
	//	wrap first 1
	WrapFar Code = "wrap-far"

	// DropRuns occurs when a stitch is dropped that was drawn through others, which run down.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	pass 2
	//	drop place 4
	DropRuns Code = "drop-runs"

	// RecipeIdle occurs when no needle takes the yarn in a pass, or a line never chooses a needle.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	pass 2: slip all
	RecipeIdle Code = "recipe-idle"

	// RoundDrifts occurs when a round leaves things otherwise than it found them, and no step of it
	// says that it does.
	//
	// Example:
	//	hand-mid L6-R6 recipe
	//	yarn A
	//	repeat 3
	//	hold first 1 of working but held
	//	pass 2
	//	end
	RoundDrifts Code = "round-drifts"
)

// What may cost fabric.
const (
	// RackFar occurs when the second bed is moved more than two positions without a pass between,
	// while it holds stitches. Only the simulated bed sees it.
	RackFar Code = "rack-far"

	// FloatLong occurs when a yarn runs past more stitches than the limit.
	//
	// Example:
	//	card-preselect L12-R12 two-colour
	//	#...........
	FloatLong Code = "float-long"

	// TuckStack occurs when a needle tucks more rows running than the limit.
	//
	// Example:
	//	card-direct L2-R2 tuck
	//	.#..
	TuckStack Code = "tuck-stack"

	// TuckWide occurs when more neighbours tuck in one row than the limit.
	//
	// Example:
	//	card-direct L2-R2 tuck
	//	....
	//	.##.
	TuckWide Code = "tuck-wide"

	// SlipTall occurs when a needle is slipped more rows running than the limit.
	//
	// Example:
	//	card-direct L2-R2 slip
	//	.#..
	SlipTall Code = "slip-tall"

	// EdgeNotKnit occurs when an end needle does not take the yarn.
	//
	// Example:
	//	card-direct L2-R2 tuck
	//	....
	//	#...
	EdgeNotKnit Code = "edge-not-knit"

	// AreasOverlap occurs when an area lies partly on an earlier one.
	//
	// Example:
	//	card-preselect L6-R6 two-colour
	//	#.
	//	/sections/0/areas/0/to "R2"
	//	/sections/0/areas/- {"chart": "c", "from": "R1"}
	AreasOverlap Code = "areas-overlap"

	// FacesAway occurs when a chart reads backwards on the side that is worn.
	//
	// Example:
	//	card-preselect L6-R6 two-colour
	//	##.#..
	FacesAway Code = "faces-away"

	// LaceStack occurs when a needle holds more loops than knit off well.
	//
	// Example:
	//	hand-mid L6-R6 lace
	//	...o\.......
	//	/charts/c/side "purl"
	//	/charts/t {"legend": {"t": {"stitch": "tuck"}}, "rows": ["t"]}
	//	/sections/0 {"technique": "tuck", "rows": 3, "areas": [{"chart": "t", "from": "L2", "to": "L2", "first": "L2"}]}
	LaceStack Code = "lace-stack"

	// LaceEdge occurs when an end needle is transferred.
	//
	// Example:
	//	hand-mid L6-R6 lace
	//	o\../o
	LaceEdge Code = "lace-edge"

	// WeaveFloat occurs when a woven yarn runs over or under more stitches than the limit.
	//
	// Example:
	//	card-preselect L4-R4 weave
	//	.#####..
	WeaveFloat Code = "weave-float"

	// WeaveLoose occurs when nothing catches a woven yarn, in a row or at its end.
	//
	// Example:
	//	card-preselect L4-R4 weave
	//	########
	WeaveLoose Code = "weave-loose"

	// BobbinFar occurs when a bobbin hangs more needles from where it is wanted than the limit.
	//
	// Example:
	//	hand-chunky L8-R8 intarsia
	//	.......#########
	//	.......##.......
	BobbinFar Code = "bobbin-far"

	// YarnFarSide occurs when a yarn must be cut because it hangs on the other side.
	//
	// Example:
	//	hand-mid L3-R3 two-colour
	//	......
	//	.#..#.
	//	/options {"first_yarn": "A"}
	YarnFarSide Code = "yarn-far-side"

	// StrandFar occurs when a thread that is kept whole runs further from its last loop than its limit.
	//
	// Example:
	//	card-preselect L20-R20 two-colour
	//	.
	//	#
	//	/sections/0/areas/0/rows [1, 1]
	//	/sections/0/rows 1
	//	/sections/- {"technique": "plain", "rows": 22, "yarn": "A"}
	//	/sections/- {"technique": "plain", "rows": 2, "yarn": "B", "strand": "carry"}
	StrandFar Code = "strand-far"

	// CardPatternsAll occurs when the card selects needles outside the areas.
	//
	// Example:
	//	card-preselect L24-R24 two-colour
	//	#........#
	//	/sections/0/areas/0/from "L5"
	//	/sections/0/areas/0/first "L5"
	//	/sections/0/areas/0/to "R5"
	CardPatternsAll Code = "card-patterns-all"
)

// What is good to know.
const (
	// SecondEdge occurs when a needle of the second bed takes yarn outside the first and last of the
	// main bed.
	//
	// Example:
	//	program-preselect L3-R3 plated
	//	..##.#
	//	/second {"from":"L4","to":"R2"}
	SecondEdge Code = "second-edge"

	// BackingLines occurs when a colour always meets the same needles of the second bed.
	//
	// Example:
	//	program-preselect L3-R3 separated
	//	..##.#
	//	/sections/0/separation "single"
	//	/sections/0/backing "birdseye"
	BackingLines Code = "backing-lines"

	// PlatedYarn occurs when a section is plated: what yarns and fabric it is for.
	//
	// Example:
	//	program-preselect L3-R3 plated
	//	..##.#
	PlatedYarn Code = "plated-yarn"

	// PlatedMixed occurs when needles of the second bed stand between two that take different yarns.
	//
	// Example:
	//	program-preselect L3-R3 plated
	//	..##.#
	PlatedMixed Code = "plated-mixed"

	// AreasTouch occurs when areas stand side by side with no spare stitch.
	//
	// Example:
	//	program-preselect L6-R6 two-colour
	//	#.
	//	/sections/0/areas/0/to "L1"
	//	/sections/0/areas/- {"chart": "c", "from": "R1"}
	AreasTouch Code = "areas-touch"

	// TurnHole occurs when needles wait one after another at an end of slipped rows: short rows,
	// whose turns leave holes.
	//
	// Example:
	//	card-direct L6-R6 slip
	//	########....
	//	########....
	//	####........
	//	####........
	TurnHole Code = "turn-hole"

	// ShapeLater occurs when an edge that needs the yarn, or a carriage from the other side, moves a row
	// later than asked.
	//
	// Example:
	//	card-direct L6-R6 two-colour
	//	############
	//	............
	//	############
	//	............
	//	/shape [{"side": "left", "row": 3, "stitches": -2}]
	ShapeLater Code = "shape-later"

	// SwatchOther occurs when what the piece is measured by was knitted in another technique.
	//
	// Example:
	//	card-direct L6-R6 two-colour
	//	##..
	//	/swatch {"stitches": 40, "width_mm": 145, "technique": "tuck"}
	SwatchOther Code = "swatch-other"

	// YarnShort occurs when the balls in hand are fewer than the piece takes, with what is to be left over.
	//
	// Example:
	//	card-direct L6-R6 two-colour
	//	##..
	//	/swatch {"stitches": 40, "width_mm": 145, "rows": 60, "height_mm": 152, "grams": 12}
	//	/yarns/0/ball {"grams": 50}
	//	/yarns/0/have 0
	YarnShort Code = "yarn-short"

	// SplitLace occurs when lace that shows every row is to divide between the two rows of a pair.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	............
	//	.....o\.....
	//	............
	//	.....o\.....
	//	/charts/c/shows "all"
	//	/shape [{"split": 2, "left": "L3", "right": "R3"}]
	SplitLace Code = "split-lace"

	// MotifAlone occurs when the second yarn of two-colour rows turns away from the edge of the
	// work, farther than a float may be.
	//
	// Example:
	//	card-preselect L12-R12 two-colour
	//	#.#.
	//	/sections/0/areas/0/from "L2"
	//	/sections/0/areas/0/to "R2"
	MotifAlone Code = "motif-alone"

	// AreaCut occurs when a repeat is cut at an end of its area.
	//
	// Example:
	//	program-preselect L6-R6 two-colour
	//	#....
	AreaCut Code = "area-cut"

	// CardInverted occurs when a chart's marks are the blanks of the card or program.
	//
	// Example:
	//	card-direct L2-R2 tuck
	//	....
	//	.#..
	CardInverted Code = "card-inverted"

	// RowDoubled occurs when a reader gives every line two passes.
	//
	// Example:
	//	two-bed-pairs L2-R2 two-colour
	//	#..#
	RowDoubled Code = "row-doubled"

	// LaceCut occurs when yarn-overs or decreases at a cut repeat knit plain.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	..o^o.
	//	/sections/0/areas/0/first "L3"
	LaceCut Code = "lace-cut"

	// SeamColumns occurs when columns of a chart lie under the two seam needles, where rows take two passes; where a row
	// of one colour is drawn otherwise there, it warns.
	//
	// Example:
	//	hand-mid L4-R4 two-colour
	//	#..#
	SeamColumns Code = "seam-columns"

	// CombWidth occurs when a repeat is of a width that the comb does not suit, where needles are chosen by hand.
	//
	// Example:
	//	hand-mid L4-R4 two-colour
	//	#..
	CombWidth Code = "comb-width"

	// TuckWay occurs when tucks are made by hand, and says what both ways of making them cost.
	//
	// Example:
	//	hand-mid L4-R4 tuck
	//	........
	//	.#..#.#.
	TuckWay Code = "tuck-way"

	// RowsShown occurs when a lace chart has purls in even rows and does not say which rows it shows.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	-...
	//	.o/.
	RowsShown Code = "rows-shown"

	// LaceWideHole occurs when neighbours stand empty together.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	./oo\.
	LaceWideHole Code = "lace-wide-hole"

	// LaceLean occurs when the shortest route stacks a decrease another way than drawn.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	\o..o/
	LaceLean Code = "lace-lean"

	// LaceMirror occurs when the mirror image of the lace would take fewer passes of the lace carriage.
	//
	// Example:
	//	card-preselect L6-R6 lace
	//	./o...
	LaceMirror Code = "lace-mirror"

	// LaceBias occurs when every move goes one way, so that the fabric slants.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	./o...
	LaceBias Code = "lace-bias"

	// LaceCastOn occurs when stitches are transferred right after the cast-on.
	//
	// Example:
	//	card-direct L6-R6 lace
	//	/o..o\
	LaceCastOn Code = "lace-cast-on"
)
