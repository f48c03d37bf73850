package recipe

import (
	"fmt"
	"strconv"
	"strings"

	"vindel/knit/machine"
)

// Recipe is a text that has been read. Lines are its steps in order, those of a repeat within
// it; Params those that can be set from outside.
type Recipe struct {
	Lines  []*Step
	Params []*Step
	Bare   bool // starts bare
	nos    int  // sets and charts are numbered while they are read
}

// Verb is what a line does.
type Verb uint8

// The verbs, in the order of the grammar.
const (
	Param Verb = iota
	Fits
	Starts
	Repeat
	Name
	Pass
	Work
	Hold
	Out
	Drop
	Wrap
	Move
	Cross
	KnitByHand
	CastOn
	BindOff
	TakeOff
	Yarn
	Size
	Rack
	Choose
	Follow
	Counter
	Weights
	Lower
	Raise
	Attach
	Remove
	Note
	Look
	Check
)

var verbs = [...]string{"param", "fits", "starts", "repeat", "name", "pass", "work", "hold", "out", "drop", "wrap",
	"move",
	"cross", "knit by hand in", "cast on", "bind off", "take off", "yarn", "size", "rack", "choose by", "follow",
	"counter",
	"weights", "lower", "raise", "attach", "remove", "note", "look", "check"}

func (v Verb) String() string { return verbs[v] }

// Step is a line. Which fields count depends on Do.
type Step struct {
	Pos
	Do      Verb
	Name    string // param, name
	NamePos Pos
	Num     *Number
	From    *Number // param: its range; follow: the row
	To      *Number // param; follow: each
	Text    string
	Told    bool // there is a text, perhaps an empty one
	Bed     machine.BedNo
	Named   bool // the bed is written
	Set     *Set
	With    *Set   // cross
	Way     string // left, right, across; pitch; hand, card, program; on, up, off; what is checked
	Free    bool
	Parts   []Clause
	Sets    []Length
	Yarns   []*YarnRef
	Chart   ChartRef
	At      machine.Needle
	AtPos   Pos
	Body    []*Step
	Closed  bool // a repeat has its end

	broken bool    // a word of the line cannot stand where it stands
	before []token // those before it
}

// Clause is a bed's part in a pass.
type Clause struct {
	Pos
	Bed   machine.BedNo
	Named bool
	Deeds []Deed
}

// Deed is what some needles do in a pass.
type Deed struct {
	Pos
	Do    machine.Action
	Held  bool // knit held
	Set   *Set
	Yarns []*YarnRef // none: feeder 1's
}

// Length is stitches by hand of a length.
type Length struct {
	Long bool
	Set  *Set
}

// YarnRef is a yarn, or yarns by turns.
type YarnRef struct {
	Pos
	ID   byte
	List []*YarnRef
}

// ChartRef names a chart of the piece.
type ChartRef struct {
	Pos
	Name string
	len  int
}

// Number is a number, or how it is worked out. Op is + - * or one of the letters below.
type Number struct {
	Pos
	Op    byte
	A, B  *Number
	Value int // in tenths
	Name  string
	List  []*Number
	width int // characters of a word
}

// What a number can be besides a sum: figures, a param, the width, the round, a list by turns,
// an arithmetic series by turns, another in brackets.
const (
	opFigures = 'f'
	opParam   = 'p'
	opWidth   = 'w'
	opRound   = 'r'
	opTurns   = '['
	opSeries  = 's'
	opGroup   = '('
)

// Pick is how needles are chosen.
type Pick uint8

// The picks, and what joins sets.
const (
	pickLabels Pick = iota
	pickName
	pickGroup
	pickTurns
	pickAll
	pickNone
	pickEnds
	pickMiddle
	pickFirst
	pickLast
	pickInside
	pickPlace
	pickNumbered
	pickEvery
	pickRuns
	pickWorking
	pickHeld
	pickEmpty
	pickOthers
	pickMarks
	joinAnd
	joinBut
)

var picks = [...]string{pickAll: "all", pickNone: "none", pickEnds: "ends", pickMiddle: "middle", pickFirst: "first",
	pickLast:   "last",
	pickInside: "inside", pickPlace: "place", pickNumbered: "numbered", pickEvery: "every", pickWorking: "working",
	pickHeld:  "held",
	pickEmpty: "empty", pickOthers: "others", pickMarks: "marks"}

// Set chooses needles: by a pick, from others where Of is there, from each of their runs where
// Each is; or joins two sets.
type Set struct {
	Pos
	Pick            Pick
	no              int // of the sets of its recipe: by it a run remembers it
	width           int // characters of its word
	Name            string
	Needles         machine.Set
	Labels          string
	Num, From, Some *Number // Some: take
	Cut             bool
	A, B            *Set
	List            []*Set
	Of              *Set
	Each            bool
	Chart           ChartRef
}

func (n *Number) String() string {
	switch n.Op {
	case opFigures:
		return Figures(n.Value)
	case opParam:
		return n.Name
	case opWidth:
		return "width"
	case opRound:
		return "round"
	case opGroup:
		return "(" + n.A.String() + ")"
	case opSeries:
		return fmt.Sprintf("[%v step %v]", n.A, n.B)
	case opTurns:
		return "[" + joined(n.List) + "]"
	case '*':
		return n.A.String() + "*" + n.B.String()
	}
	return fmt.Sprintf("%v %c %v", n.A, n.Op, n.B)
}

// Figures is a number of tenths as it is written.
func Figures(tenths int) string {
	if tenths%10 == 0 {
		return strconv.Itoa(tenths / 10)
	}
	return strconv.FormatFloat(float64(tenths)/10, 'f', 1, 64)
}

func joined[T fmt.Stringer](list []T) string {
	words := make([]string, len(list))
	for i, v := range list {
		words[i] = v.String()
	}
	return strings.Join(words, ", ")
}

func (y *YarnRef) String() string {
	if y.List == nil {
		return string(y.ID)
	}
	return "[" + joined(y.List) + "]"
}

func (c ChartRef) String() string {
	if isWord.MatchString(c.Name) && !vocabulary[c.Name] {
		return c.Name
	}
	return `"` + c.Name + `"`
}

func (s *Set) String() string {
	switch s.Pick {
	case joinAnd:
		return s.A.String() + " and " + s.B.String()
	case joinBut:
		return s.A.String() + " but " + s.B.String()
	}
	var b strings.Builder
	switch s.Pick {
	case pickLabels:
		b.WriteString(s.Labels)
	case pickName:
		b.WriteString(s.Name)
	case pickGroup:
		fmt.Fprintf(&b, "(%v)", s.A)
	case pickTurns:
		fmt.Fprintf(&b, "[%s]", joined(s.List))
	case pickRuns:
		fmt.Fprintf(&b, "every %v runs from %v", s.Num, s.From)
	case pickMarks:
		fmt.Fprintf(&b, "marks %v", s.Chart)
	default:
		b.WriteString(picks[s.Pick])
		if s.Num != nil {
			fmt.Fprintf(&b, " %v", s.Num)
		}
		if s.From != nil {
			fmt.Fprintf(&b, " from %v", s.From)
		}
		if s.Some != nil {
			fmt.Fprintf(&b, " take %v", s.Some)
		}
		if s.Cut {
			b.WriteString(" cut")
		}
	}
	switch {
	case s.Each:
		fmt.Fprintf(&b, " of each run of %v", s.Of)
	case s.Of != nil:
		fmt.Fprintf(&b, " of %v", s.Of)
	}
	return b.String()
}

func (d *Deed) String() string {
	said := d.Do.String() + " held"
	if !d.Held {
		said = fmt.Sprintf("%v %v", d.Do, d.Set)
	}
	if len(d.Yarns) > 0 {
		said += " in " + strings.ReplaceAll(joined(d.Yarns[:1]), ", ", ", ")
		if len(d.Yarns) > 1 {
			said += "+" + d.Yarns[1].String()
		}
	}
	return said
}

func (c *Clause) String() string {
	var deeds []string
	for i := range c.Deeds {
		deeds = append(deeds, c.Deeds[i].String())
	}
	said := strings.Join(deeds, ", ")
	if c.Named {
		said = c.Bed.String() + " " + said
	}
	return said
}

// target is a set with its bed, where it is written.
func (s *Step) target() string {
	if s.Named {
		return fmt.Sprintf("%v %v", s.Bed, s.Set)
	}
	return s.Set.String()
}

// quoted is a text with its marks.
func quoted(t string) string { return `"` + t + `"` }

// String is the line as it is written, its block without what stands in it.
func (s *Step) String() string {
	v := s.Do.String()
	maybe := func(word string, n *Number) string {
		if n == nil {
			return ""
		}
		return " " + word + " " + n.String()
	}
	told := ""
	if s.Told {
		told = " " + quoted(s.Text)
	}
	switch s.Do {
	case Param:
		return fmt.Sprintf("param %s = %v%s%s%s", s.Name, s.Num, maybe("from", s.From), maybe("to", s.To), told)
	case Fits:
		return "fits " + s.Num.String() + maybe("plus", s.From)
	case Starts:
		return "starts bare"
	case Repeat:
		return "repeat " + s.Num.String() + told
	case Name:
		return fmt.Sprintf("name %s = %s", s.Name, s.target())
	case Pass:
		if s.Num != nil {
			v += " " + s.Num.String()
		}
		if s.Way != "" {
			v += " " + s.Way
		}
		if s.Free {
			v += " free"
		}
		for i := range s.Parts {
			v += [2]string{": ", " | "}[min(i, 1)] + s.Parts[i].String()
		}
		return v
	case Move:
		if s.Num != nil {
			return fmt.Sprintf("move %s %s %v", s.target(), s.Way, s.Num)
		}
		return fmt.Sprintf("move %s %s", s.target(), s.Way)
	case Cross:
		return fmt.Sprintf("cross %v with %v", s.Set, s.With)
	case KnitByHand:
		v += " " + s.Yarns[0].String()
		for i, l := range s.Sets {
			v += [2]string{": ", ", "}[min(i, 1)] + map[bool]string{false: "short", true: "long"}[l.Long] + " " +
				l.Set.String()
		}
		return v
	case Yarn:
		switch len(s.Yarns) {
		case 0:
			return "yarn none"
		case 1:
			return "yarn " + s.Yarns[0].String()
		}
		return fmt.Sprintf("yarn %v and %v", s.Yarns[0], s.Yarns[1])
	case Size:
		if s.Named {
			v += " " + s.Bed.String()
		}
		return v + " " + s.Num.String()
	case Rack:
		v += " " + s.Num.String()
		if s.Way != "" {
			v += " " + s.Way
		}
		return v
	case Follow:
		return fmt.Sprintf("follow %v at %v%s%s", s.Chart, s.At, maybe("row", s.From), maybe("each", s.To))
	case Counter:
		return v + " " + s.Num.String()
	case Weights:
		return v + " " + s.Way + maybe("every", s.Num)
	case Choose:
		return v + " " + s.Way
	case Lower, Raise:
		return v + " " + s.Bed.String()
	case Attach, Remove, Note, Look:
		return v + told
	case Check:
		if s.Set == nil {
			return "check carriage " + s.Way
		}
		return "check " + s.Way + " " + s.target()
	}
	return v + " " + s.target()
}

// String is the whole recipe, its blocks indented.
func (r *Recipe) String() string {
	var b strings.Builder
	write(&b, r.Lines, "")
	return b.String()
}

func write(b *strings.Builder, lines []*Step, indent string) {
	for _, s := range lines {
		b.WriteString(indent + s.String() + "\n")
		if s.Do == Repeat {
			write(b, s.Body, indent+"  ")
			b.WriteString(indent + "end\n")
		}
	}
}
