package step

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Do is the word of a verb in the plan's JSON. Several verbs may share one.
type Do string

// The words.
const (
	DoCastOn       Do = "cast-on"
	DoBringForward Do = "bring-forward"
	DoToHold       Do = "to-hold"
	DoToWork       Do = "to-work"
	DoToOut        Do = "to-out"
	DoThread       Do = "thread"
	DoUnthread     Do = "unthread"
	DoCut          Do = "cut"
	DoPark         Do = "park"
	DoTransfer     Do = "transfer"
	DoReform       Do = "reform"
	DoAttach       Do = "attach"
	DoRemove       Do = "remove"
	DoSetCard      Do = "set-card"
	DoCardLock     Do = "card-lock"
	DoCardRelease  Do = "card-release"
	DoSetCams      Do = "cams"
	DoWeights      Do = "weights"
	DoBindOff      Do = "bind-off"
	DoSetCounter   Do = "counter"
	DoLifeline     Do = "lifeline"
	DoInspect      Do = "inspect"
	DoNote         Do = "note"
	DoCare         Do = "care"
	DoRack         Do = "rack"
	DoCross        Do = "cross"
	DoKnitByHand   Do = "knit-by-hand"
	DoWrap         Do = "wrap"
	DoDrop         Do = "drop"
	DoTakeOff      Do = "take-off"
	DoMark         Do = "mark"
	DoReturn       Do = "return"
	DoIncrease     Do = "increase"
	DoDecrease     Do = "decrease"
	DoLower        Do = "lower"
	DoPushBack     Do = "push-back"
	DoConsole      Do = "console"
	DoRaise        Do = "raise"
)

// Step is one thing that hands do before a pass. All of it goes without a plan: what a value does not know is not
// said of it.
type Step interface {
	Do() Do
	// Say is the step for the knitter, with the words of her machine.
	Say(p *piece.Piece) string
	// Short is the step in a few words, for the rail; "" where the rail stays quiet.
	Short(p *piece.Piece) string
	// Rank is its place among what is done before a pass; first: before the first of all.
	Rank(first bool) Rank
	// Event is what it is among the things that come; "" for what comes at every row.
	Event() Event
	// Needles are those that it is about, of bed Bed; Others are what they are exchanged with, or knitted beside.
	Bed() machine.BedNo
	Needles() machine.Set
	Others() machine.Set
	// Uses is how often fingers or a tool go to the needles.
	Uses() int
	// Touches is what it costs: a needle put or a stitch moved, wrapped or knitted by hand 1, a lever 2.
	Touches() int
	// Rests is the needles of the main bed that the fingers leave at rest, as the beds lie to each other.
	Rests(lie machine.Across) machine.Set
	// Slip is what goes wrong where the step is forgotten or done amiss, if that is known.
	Slip() Slip
	// Hands says that it wants the hands at the machine, not only the eye.
	Hands() bool
	// Act does it.
	Act(s Standing)
	// JSON fills in what the verb has besides its word and its text.
	JSON(p *piece.Piece, j *JSON)
}

// Event is a kind of thing that comes, so that one of each is told.
type Event string

// The kinds of events. Everyday is at every row, and not told.
const (
	Everyday   Event = ""
	OfPart     Event = "mark"
	OfEdge     Event = "edge"
	OfYarn     Event = "yarn"
	OfCams     Event = "cams"
	OfCarriage Event = "carriage"
	OfCard     Event = "card"
	OfWeights  Event = "weights"
	OfLifeline Event = "lifeline"
	OfStitches Event = "stitches"
	OfNote     Event = "note"
	OfCounter  Event = "counter"
)

// Slip is what goes wrong where a step is forgotten or done amiss.
type Slip uint8

// The slips. LeverLeft stays as it was until it is turned again; RackLeft likewise, and so on.
const (
	NoSlip Slip = iota
	LeverLeft
	CardAmiss
	YarnsExchanged
	DropMissed
	RackLeft
)

// Rank is when a step is due among those before its pass. At the start the stitches come on first, with their own
// yarn, size and plain cams; then the counter is set, and after that come card, switches, pattern cams and the second
// yarn (rules 5.12).
type Rank uint8

// The ranks, in order.
const (
	Careful   Rank = iota // of hooks and carriages
	FirstYarn             // of the stitches that are cast on
	FirstSize
	FirstCams
	Beds // how they stand to each other
	OnNeedles
	Fingers   // on the row below: reformed, moved, a lifeline
	ComesOff  // the part of a divided piece that is finished, its weights first
	Returning // to a mark, with what waited
	Leaving   // a mark, and stitches that wait
	Edges     // of the work, moved
	Moving    // stitches of the row to come
	Hangs     // weights
	Counts
	Programs // in, with what is said of it
	Locks
	Selects
	Ends
	Carriages // off the bed, and on
	Levers
	Sizes
	YarnOut
	YarnIn
	OnBehind // at an edge, bound off there, or on the second bed, later than the first pass
	Chosen
)

// JSON is a hand step in the plan's JSON: only what its verb needs is there.
type JSON struct {
	Do      Do        `json:"do"`
	Bed     string    `json:"bed,omitempty"`
	Needles string    `json:"needles,omitempty"`
	Dir     string    `json:"dir,omitempty"`
	Side    string    `json:"side,omitempty"`
	Tool    int       `json:"tool,omitempty"`
	Feeder  int       `json:"feeder,omitempty"`
	Yarn    string    `json:"yarn,omitempty"`
	Value   *int      `json:"value,omitempty"`
	Cams    string    `json:"cams,omitempty"`
	Switch  string    `json:"switch,omitempty"`
	Area    *int      `json:"area,omitempty"`
	Section int       `json:"section,omitempty"`
	Ways    *waysJSON `json:"ways,omitempty"`
	Silent  bool      `json:"silent,omitempty"`
	Carry   string    `json:"carriage,omitempty"`
	Bobbin  string    `json:"bobbin,omitempty"`
	Thread  string    `json:"thread,omitempty"`
	End     string    `json:"end,omitempty"`
	Then    string    `json:"then,omitempty"`
	Size    string    `json:"size,omitempty"`
	Window  int       `json:"window,omitempty"`
	Pass    int       `json:"pass,omitempty"`
	Doubled string    `json:"doubled,omitempty"`
	Rack    *int      `json:"rack,omitempty"`
	Pitch   string    `json:"pitch,omitempty"`
	To      string    `json:"to,omitempty"`
	Onto    string    `json:"onto,omitempty"`
	With    string    `json:"with,omitempty"`
	From    string    `json:"from,omitempty"`
	Short   string    `json:"short,omitempty"`
	Long    string    `json:"long,omitempty"`
	By      int       `json:"by,omitempty"`
	Way     string    `json:"way,omitempty"`
	Source  int       `json:"source,omitempty"`
	Row     *int      `json:"row,omitempty"`
	Line    *int      `json:"line,omitempty"`
	Counter *int      `json:"counter,omitempty"`
	Text    string    `json:"text"`
}

// plain is what most verbs answer.
type plain struct{}

func (plain) Short(*piece.Piece) string        { return "" }
func (plain) Rank(bool) Rank                   { return Fingers }
func (plain) Event() Event                     { return Everyday }
func (plain) Bed() machine.BedNo               { return machine.Main }
func (plain) Needles() (none machine.Set)      { return none }
func (plain) Others() (none machine.Set)       { return none }
func (plain) Uses() int                        { return 0 }
func (plain) Touches() int                     { return 0 }
func (plain) Rests(machine.Across) machine.Set { return machine.Set{} }
func (plain) Slip() Slip                       { return NoSlip }
func (plain) Hands() bool                      { return true }
func (plain) Act(Standing)                     {}
func (plain) JSON(*piece.Piece, *JSON)         {}

// At is the needles of a bed that a step is about.
type At struct {
	plain
	Of machine.BedNo
	On machine.Set
}

// On is needles of a bed; Main is needles of the main bed.
func On(bed machine.BedNo, on machine.Set) At { return At{Of: bed, On: on} }

// Main is needles of the main bed.
func Main(on machine.Set) At { return At{On: on} }

func (a At) Bed() machine.BedNo   { return a.Of }
func (a At) Needles() machine.Set { return a.On }

func (a At) JSON(_ *piece.Piece, j *JSON) {
	j.Needles, j.Bed = a.On.String(), second(a.Of)
}

// second is the second bed's word; the main bed's is left out.
func second(bed machine.BedNo) string {
	if bed == machine.Main {
		return ""
	}
	return bed.String()
}

// runs is how many runs of neighbours the needles are.
func (a At) runs() (n int) {
	for range a.On.Runs() {
		n++
	}
	return n
}

// touched is the needles that fingers leave at rest, of the main bed.
func (a At) touched() machine.Set {
	if a.Of == machine.Main {
		return a.On
	}
	return machine.Set{}
}

// of says whose the needles are, where it is not the main bed.
func (a At) of() string { return ofBed(a.Of) }

func ofBed(bed machine.BedNo) string {
	if bed == machine.Second {
		return " of the second bed"
	}
	return ""
}

// stitches is how many there are, in words.
func (a At) stitches() string { return words.Stitches(a.On.Len()) }

// few is a number of needles and what becomes of them, for the rail.
func (a At) few(what string) string { return fmt.Sprintf("%d %s", a.On.Len(), what) }

// said is the needles as a recipe says them, with their number and ends, or as a pattern.
func (a At) said(chosen string) string {
	if chosen == "" || a.On.Len() < 4 {
		return a.On.Words()
	}
	if !tells(chosen, a.On) {
		return fmt.Sprintf("%s: %s", chosen, a.On.Both())
	}
	return fmt.Sprintf("%s, %v to %v: %s", chosen, a.On.First(), a.On.Last(),
		words.Count(a.On.Len(), "needle", "needles"))
}

// tells says that a recipe's words for needles, with the first and the last of them, are enough for who has not read it.
func tells(chosen string, on machine.Set) bool {
	if chosen == "all" {
		return on == machine.Range(on.First(), on.Last())
	}
	var every machine.Needle
	if n, _ := fmt.Sscanf(chosen, "every %d", &every); n == 0 || strings.Contains(chosen, "take") || every < 1 {
		return false
	}
	var list machine.Set
	for n := on.First(); n <= on.Last(); n += every {
		list.Add(n)
	}
	return list == on
}

// Silent says that a step is in the plan for who simulates it, and is not told: there is nothing to be moved.
func Silent(s Step) bool {
	cams, is := s.(Cams)
	return is && cams.Silent
}

// Is says that a step is of a verb.
func Is[T Step](s Step) bool {
	_, is := s.(T)
	return is
}
