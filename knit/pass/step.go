package pass

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Do is what a hand step asks of the fingers.
type Do string

// The verbs of hand steps. Beside each stands which fields of a Step it uses; every one is
// made by the constructor of its name.
const (
	CastOn       Do = "cast-on"       // Needles, Yarn
	BringForward Do = "bring-forward" // Needles
	ToHold       Do = "to-hold"       // Needles
	ToWork       Do = "to-work"       // Needles
	Thread       Do = "thread"        // Yarn, Feeder, Bobbin
	Unthread     Do = "unthread"      // Yarn, Feeder, Bobbin
	Cut          Do = "cut"           // Yarn, Side where it hangs
	Park         Do = "park"          // Yarn, Side where it is left
	Transfer     Do = "transfer"      // Needles, Side they go to, Tool
	Reform       Do = "reform"        // Needles
	Attach       Do = "attach"        // Carriage, Side it comes on from, Other
	Remove       Do = "remove"        // Carriage, Side where it is parked
	SetCard      Do = "set-card"      // Value the line, Section whose; 0: the one that is in
	// Setting and, where it is for one way only, Side; or a Control and Value; or Size
	SetCams     Do = "cams"
	Weights     Do = "weights"  // Value 1: off
	BindOff     Do = "bind-off" // Needles
	SetCounter  Do = "counter"  // Value
	CardLock    Do = "card-lock"
	CardRelease Do = "card-release"
	// Value the counter's reading, Window the card's number, Pass the one that comes next
	Lifeline   Do = "lifeline"
	Inspect    Do = "inspect"      // Needles that are empty, Doubled
	Note       Do = "note"         // Text, Side, Needles it is about, Value the line that it takes (SweepStep)
	Care       Do = "care"         // Text
	Rack       Do = "rack"         // Value the position of the handle, Pitch
	ToOut      Do = "to-out"       // Needles
	Cross      Do = "cross"        // Needles, With
	KnitByHand Do = "knit-by-hand" // Yarn, Side from which, Needles short, With long, Course
	Wrap       Do = "wrap"         // Needles, Yarn
	Drop       Do = "drop"         // Needles
	TakeOff    Do = "take-off"     // Needles
	Mark       Do = "mark"         // Needles that wait, Marked, Side of the carriage; Off: they wait on waste yarn
	Return     Do = "return"       // Needles that go on, Marked, Side; Off likewise
	Increase   Do = "increase"     // Needles that come into work; Tool where fashioned
	Decrease   Do = "decrease"     // Needles that go out of work; Tool where fashioned
	Lower      Do = "lower"        // Bed
	Raise      Do = "raise"        // Bed
)

// Step is one thing that hands do before a pass. Which fields count depends on Do.
type Step struct {
	Do       Do
	Bed      machine.BedNo // whose needles; of the second bed's carriage its setting and size
	Across   bool          // of a transfer: to the other bed
	Pitch    machine.Pitch // of the two beds
	Needles  machine.Set
	Side     machine.Side // where something lies, or the way that it goes
	Tool     int          // prongs
	Feeder   int          // from 1
	Yarn     piece.YarnNo
	Value    int
	Window   int
	Pass     int
	Doubled  machine.Set
	Section  int              // from 1
	Carriage machine.Carriage // put on or taken off the bed
	Other    machine.Carriage // the one that had the yarn before it
	Setting  machine.Setting  // to which the cams are set
	Control  Control
	Size     string
	Bobbin   string
	Text     string

	Marked *Marked     // where the work stands that is marked, or returned to
	Off    bool        // stitches wait on waste yarn, and not in hold
	Shape  bool        // the step is the shape's: an edge moves, a stitch waits
	Recipe int         // whose step it is, among the plan's recipes, from 1; 0: no recipe's
	Source int         // its line, from 1
	With   machine.Set // the other needles
	By     int         // places that a transfer goes; 0: one
	Course int         // the row of fabric that it makes, from 1
	Part   bool        // of attach and remove: Text is a part of the machine, and no carriage
	Way    string      // of a cast-on: how the loops come on
	Chosen string      // needles as the recipe says them
}

// Marked is a place in the work to come back to: the row of its section that comes next, the line of card or
// program that it stands on (0: none), and the counter's reading.
type Marked struct{ Row, Line, Counter int }

// When the step of an edge is due, among the others before its pass: as soon as can be, once the yarn is in,
// or with what is still to be done on the row below.
const (
	AtOnce = iota
	WithYarn
	OfRowBelow
)

// EdgeStep moves an edge of the work by the needles that come or go; tool is its prongs, 0 by fingers alone.
func EdgeStep(do Do, needles machine.Set, tool int) Step {
	return Step{Do: do, Needles: needles, Tool: tool, Shape: true}
}

// WrapStep lays yarn once round needles that wait.
func WrapStep(needles machine.Set, y piece.YarnNo) Step {
	return Step{Do: Wrap, Needles: needles, Yarn: y, Shape: true}
}

// Control is something besides the cams that is switched on or off.
type Control string

// The controls. Both act while a line is read: with Selecting off none is, and with EndNeedles
// on both end needles come forward, whatever the line holds.
const (
	EndNeedles Control = "end-needles"
	Selecting  Control = "select"
)

// CastOnStep casts stitches on in a yarn.
func CastOnStep(needles machine.Set, y piece.YarnNo) Step {
	return Step{Do: CastOn, Needles: needles, Yarn: y}
}

// NeedleStep moves needles: forward, to hold, to rest.
func NeedleStep(do Do, needles machine.Set) Step { return Step{Do: do, Needles: needles} }

// ThreadStep puts a yarn in a feeder (from 1); bobbin is the one that it was laid from
// before, "" if none.
func ThreadStep(feeder int, y piece.YarnNo, bobbin string) Step {
	return Step{Do: Thread, Feeder: feeder, Yarn: y, Bobbin: bobbin}
}

// UnthreadStep takes a yarn out of a feeder (from 1); bobbin is the one that it becomes, "" if none.
func UnthreadStep(feeder int, y piece.YarnNo, bobbin string) Step {
	return Step{Do: Unthread, Feeder: feeder, Yarn: y, Bobbin: bobbin}
}

// CutStep cuts a yarn that hangs on a side, so that it can be joined anew.
func CutStep(y piece.YarnNo, at machine.Side) Step { return Step{Do: Cut, Yarn: y, Side: at} }

// ParkStep takes a yarn out of the only feeder and leaves it hanging on a side.
func ParkStep(y piece.YarnNo, at machine.Side) Step { return Step{Do: Park, Yarn: y, Side: at} }

// TransferStep moves stitches one needle to a side, all at once, with a tool of so many prongs.
func TransferStep(needles machine.Set, way machine.Side, prongs int) Step {
	return Step{Do: Transfer, Needles: needles, Side: way, Tool: prongs}
}

// ReformStep drops stitches and latches them back as purl.
func ReformStep(needles machine.Set) Step { return Step{Do: Reform, Needles: needles} }

// AttachStep brings a carriage on from a side; other had the yarn before it.
func AttachStep(c machine.Carriage, from machine.Side, other machine.Carriage) Step {
	return Step{Do: Attach, Carriage: c, Side: from, Other: other}
}

// RemoveStep parks a carriage off the bed, on a side.
func RemoveStep(c machine.Carriage, at machine.Side) Step {
	return Step{Do: Remove, Carriage: c, Side: at}
}

// SetCardStep puts the card or program of a section (from 1) in at a line; section 0 sets
// the one that is in.
func SetCardStep(section, line int) Step { return Step{Do: SetCard, Section: section, Value: line} }

// SettingStep sets the carriage; way is 0 where one setting serves both ways.
func SettingStep(s machine.Setting, way machine.Side) Step {
	return Step{Do: SetCams, Setting: s, Side: way}
}

// SwitchStep turns a control on or off.
func SwitchStep(c Control, on bool) Step {
	st := Step{Do: SetCams, Control: c}
	if on {
		st.Value = 1
	}
	return st
}

// SizeStep sets the stitch size.
func SizeStep(size string) Step { return Step{Do: SetCams, Size: size} }

// WeightsOn hangs the comb and the weights.
func WeightsOn() Step { return Step{Do: Weights, Value: 2} }

// WeightsUp moves the weights up; WeightsOff takes them and the comb off.
func WeightsUp() Step { return Step{Do: Weights} }

// WeightsOff takes the weights and the comb off.
func WeightsOff() Step { return Step{Do: Weights, Value: 1} }

// BindOffStep ends the stitches.
func BindOffStep(needles machine.Set) Step { return Step{Do: BindOff, Needles: needles} }

// CounterStep sets the row counter.
func CounterStep(n int) Step { return Step{Do: SetCounter, Value: n} }

// CardStep locks or releases the card.
func CardStep(do Do) Step { return Step{Do: do} }

// LifelineStep lays a lifeline. The planner records where: the counter's reading, the number
// in the card's window, and the pass that comes next.
func LifelineStep() Step { return Step{Do: Lifeline} }

// InspectStep looks which needles are empty and which doubled.
func InspectStep(empty, doubled machine.Set) Step {
	return Step{Do: Inspect, Needles: empty, Doubled: doubled}
}

// SweepStep sweeps the reader across by hand, so that it takes a line.
func SweepStep(line int) Step {
	return Step{Do: Note, Value: line, Text: fmt.Sprintf("Sweep the reader across by hand, so that it takes line %d",
		line)}
}

// NoteStep says something in words of its own, about needles or a side where there are any.
func NoteStep(text string, side machine.Side, needles machine.Set) Step {
	return Step{Do: Note, Text: text, Side: side, Needles: needles}
}

// CareStep is a caution at the step where it matters.
func CareStep(text string) Step { return Step{Do: Care, Text: text} }

// RackStep moves the second bed to a position of its handle, and to a pitch.
func RackStep(to int, pitch machine.Pitch) Step {
	return Step{Do: Rack, Bed: machine.Second, Value: to, Pitch: pitch}
}

// AcrossStep moves stitches from one bed to the needles of the other that they face, or to whose
// right they stand.
func AcrossStep(from machine.BedNo, needles machine.Set) Step {
	return Step{Do: Transfer, Bed: from, Needles: needles, Across: true, Tool: 1}
}

// On is a step on the second bed.
func (st Step) On(bed machine.BedNo) Step {
	st.Bed = bed
	return st
}

// Hands says that the step wants the hands at the machine, not only the eye.
func (st *Step) Hands() bool { return st.Do != Care }
