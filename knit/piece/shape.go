package piece

import (
	"fmt"
	"slices"

	"vindel/knit/machine"
)

// Part is which part of a divided piece a row belongs to.
type Part uint8

// The parts: of a piece that is not divided, or below the split, the whole.
const (
	Whole Part = iota
	FirstPart
	SecondPart
)

// String is the part as the plan writes it: "", "first" or "second".
func (p Part) String() string { return [...]string{"", "first", "second"}[p] }

// PartOf is the part that String writes so.
func PartOf(name string) Part {
	for p := Whole; p <= SecondPart; p++ {
		if p.String() == name {
			return p
		}
	}
	return Whole
}

// Shape is how a piece grows, narrows and divides (rules 5.11). Rows count from 1 over all
// sections, added selecting rows left out.
type Shape struct {
	Rules   []ShapeRule // as the file has them
	Steps   []ShapeStep // one edge and row each, in the order of rows: what is spread is taken apart
	Split   *Split
	Outline *Outline // from which the steps were worked out; nil: they were written
	Kept    *Kept    // of an outline: what was knitted before it was changed; nil: nothing

	low, high machine.Needle // the ends of all needles that ever come into work
}

// ShapeRule is one entry of the file's list, besides a split: single steps spread evenly over rows,
// or one step at once, at one edge or at both.
type ShapeRule struct {
	At       int // its index in the list, from 0
	Side     machine.Side
	Both     bool
	Rows     [2]int // the same twice: at once
	Spread   bool   // written as `rows`
	Stitches int    // positive grows
	Fashion  int    // prongs of the tool; 0: plainly
	Hold     bool   // into hold, instead of binding off
	Wrap     bool   // and the yarn round the first of them
	Release  bool   // back to work what waits
	Part     Part
}

// ShapeStep is what changes at one edge before one row. Its Stitches are one, or come at once.
type ShapeStep struct {
	ShapeRule
	Row int
}

// Split is where a piece becomes two parts.
type Split struct {
	At          int // its index in the list, from 0
	Row         int
	Left, Right machine.Needle // the last needle of the left part, the first of the right one
	First       machine.Side   // the part that is knitted first; 0: the one on the carriage's side
}

// Spread is the rows before which n single steps over rows a to b are made: the first gap is counted
// from row a-1, the last step comes at row b, and gaps differ by at most one row, the longer first.
func Spread(a, b, n int) (rows []int) {
	if n <= 0 {
		return nil
	}
	length := b - a + 1
	at := a - 1
	for i := range n {
		at += length / n
		if i < length%n {
			at++
		}
		rows = append(rows, at)
	}
	return rows
}

// steps takes a rule apart.
func (r ShapeRule) steps() (list []ShapeStep) {
	sides := []machine.Side{r.Side}
	if r.Both {
		sides = []machine.Side{machine.Left, machine.Right}
	}
	for _, side := range sides {
		one := r
		one.Side, one.Both = side, false
		if !r.Spread {
			list = append(list, ShapeStep{one, r.Rows[0]})
			continue
		}
		n, by := r.Stitches, 1
		if n < 0 {
			n, by = -n, -1
		}
		one.Stitches = by
		for _, row := range Spread(r.Rows[0], r.Rows[1], n) {
			list = append(list, ShapeStep{one, row})
		}
	}
	return list
}

// Ends are the first and the last of all needles that ever come into work: areas are measured
// against them (rules 5.11).
func (p *Piece) Ends() (low, high machine.Needle) {
	if p.Shape == nil {
		return p.From, p.To
	}
	return p.Shape.low, p.Shape.high
}

// Ever is all needles that ever come into work.
func (p *Piece) Ever() machine.Set {
	low, high := p.Ends()
	return machine.Range(low, high).Minus(p.Out)
}

// RowsOf is how many rows a section has, as shape counts them.
func (p *Piece) RowsOf(s *Section) int {
	if s.Technique.Long != nil {
		return s.Technique.Long(p, s)
	}
	return max(s.rowsAsked(), 1)
}

// Edge is what is done at one edge of the work before a row: a step, with the needles it is about.
type Edge struct {
	Step    *ShapeStep
	Later   bool        // it comes a row later than asked, since the yarn was on the other side
	Needles machine.Set // that come, or go, or wait, or come back to work
	Touched machine.Set // of the needles that stay: those that the fingers take in hand
	Wraps   bool        // and the yarn is laid round the first that waits
}

// ShapeRow is how the needles stand while a row is knitted, and what is done before it.
type ShapeRow struct {
	Work  machine.Set // at work, those in hold left out
	Hold  machine.Set // that wait in hold
	Wrap  machine.Set // of those: round which the yarn is laid before this row
	Edges []Edge
}

// All is the needles with stitches on them.
func (r *ShapeRow) All() machine.Set { return r.Work.Or(r.Hold) }

// Trouble is why a shape cannot go on: at a row, by an entry of the file's list.
type Trouble struct {
	Row   int
	At    int // the entry, from 0
	Step  *ShapeStep
	Kind  TroubleKind
	Words string // of bad input
}

// TroubleKind says whether a trouble is bad input or a finding.
type TroubleKind uint8

// The kinds: bad input; beyond the bed; the yarn is never on the side that it needs.
const (
	BadShape TroubleKind = iota
	OffTheBed
	WrongSide
)

// Walk goes through a shape row by row: how the needles stand depends on where the carriage starts.
type Walk struct {
	p       *Piece
	part    Part
	side    machine.Side // of the bed on which the part lies; 0: the whole
	row     int          // of the last Next
	work    machine.Set  // with those in hold
	hold    [3]machine.Set
	wrap    machine.Set // to be wrapped before the next row
	steps   []*ShapeStep
	edges   []Edge       // made so far, kept together
	late    []*ShapeStep // asked for on the row before, and not made
	inner   machine.Needle
	against *Walk         // of the second part: the first, whose needles it may not come to in the same row
	rows    []machine.Set // of the first part: its needles by row
	from    int           // its first row
	stood   ShapeRow      // the row of the last Next
}

// Walk begins at the cast-on.
func (p *Piece) Walk() *Walk {
	w := &Walk{p: p, work: p.Work()}
	for i := range p.Shape.Steps {
		if s := &p.Shape.Steps[i]; s.Part == Whole {
			w.steps = append(w.steps, s)
		}
	}
	return w
}

// Late is a step that waits for the next row, nil where none does.
func (w *Walk) Late() *ShapeStep {
	if len(w.late) > 0 {
		return w.late[0]
	}
	return nil
}

// Needles are those with stitches on them, after the row that Next came to last.
func (w *Walk) Needles() machine.Set { return w.work }

// Row is the row that Next came to last; 0 before the first.
func (w *Walk) Row() int { return w.row }

// Next goes to the next row, which starts on a side; 0: on whichever each step needs. Where it
// cannot, the trouble says why.
func (w *Walk) Next(starts machine.Side) (r ShapeRow, t *Trouble) {
	w.row++
	if r = w.stood; len(w.late) == 0 && (len(w.steps) == 0 || w.steps[0].Row > w.row) && !r.Work.Empty() &&
		r.Wrap.Empty() && w.wrap.Empty() &&
		w.part == Whole {
		r.Edges = nil // as the row before
		return r, nil
	}
	defer func() { w.stood = r }()
	made := len(w.edges)
	late := w.late
	w.late = nil
	for _, s := range late {
		if t := w.step(s, starts, true); t != nil {
			return r, t
		}
	}
	done := [3]int{}
	for len(w.steps) > 0 && w.steps[0].Row <= w.row {
		s := w.steps[0]
		w.steps = w.steps[1:]
		if done[s.Side] == s.Row && s.Row > 0 {
			return r, w.bad(s, "row %d has another step on the %v; a side has one step a row", s.Row, s.Side)
		}
		done[s.Side] = s.Row
		if t := w.step(s, starts, false); t != nil {
			return r, t
		}
	}
	r.Edges = w.edges[made:len(w.edges):len(w.edges)]
	r.Hold = w.hold[machine.Left].Or(w.hold[machine.Right])
	r.Work = w.work.Minus(r.Hold)
	if r.Wrap = w.wrap; w.part != FirstPart || w.row > w.from { // of what the split leaves waiting, too
		r.Wrap = w.wrap.And(r.Hold)
	}
	w.wrap = machine.Set{}
	for i := range r.Edges {
		if e := &r.Edges[i]; e.Wraps {
			n := e.Needles.First()
			if e.Step.Side == machine.Left {
				n = e.Needles.Last()
			}
			w.wrap.Add(n)
		}
	}
	w.wrap = w.wrap.And(r.Hold) // nothing is wrapped that is released at once
	if w.part == FirstPart {
		w.rows = append(w.rows, w.work)
	}
	if a := w.against; a != nil && w.row-w.from < len(a.rows) {
		if both := a.rows[w.row-w.from].And(w.work); !both.Empty() {
			s := w.last(&r)
			return r, &Trouble{Row: w.row, At: s.At, Step: s,
				Words: fmt.Sprintf("in row %d both parts would have %v", w.row, both)}
		}
	}
	return r, nil
}

// last is the step of a row that has just been made, or the split's.
func (w *Walk) last(r *ShapeRow) *ShapeStep {
	for _, e := range r.Edges {
		return e.Step
	}
	return &ShapeStep{ShapeRule: ShapeRule{At: w.p.Shape.Split.At}, Row: w.row}
}

func (w *Walk) bad(s *ShapeStep, format string, a ...any) *Trouble {
	return &Trouble{Row: s.Row, At: s.At, Step: s, Words: fmt.Sprintf(format, a...)}
}

// startsOn is the side on which a row has to start for a step; 0: on either.
func (s *ShapeStep) startsOn() machine.Side {
	switch {
	case s.Release || !s.Hold && s.Stitches >= -1 && s.Stitches <= 1:
		return 0
	case s.Hold:
		return s.Side.Other()
	}
	return s.Side
}

// NeedsYarn says that a step hangs on the side where its row starts.
func (s *ShapeStep) NeedsYarn() bool { return s.startsOn() != 0 }

// step makes a step before the row at hand, or leaves it for the next.
func (w *Walk) step(s *ShapeStep, starts machine.Side, late bool) *Trouble {
	if need := s.startsOn(); need != 0 && starts != 0 && need != starts {
		if late {
			return &Trouble{Row: s.Row, At: s.At, Step: s, Kind: WrongSide}
		}
		w.late = append(w.late, s)
		return nil
	}
	e := Edge{Step: s, Later: late}
	active := w.work.Minus(w.hold[machine.Left]).Minus(w.hold[machine.Right])
	waits := w.hold[s.Side]
	n := s.Stitches
	switch {
	case s.Release:
		if waits.Empty() {
			return w.bad(s, "no needle waits in hold on the %v before row %d", s.Side, w.row)
		}
		e.Needles, w.hold[s.Side] = waits, machine.Set{}
	case s.Hold:
		if active.Len()+n < 1 {
			return w.bad(s, "%d of %d stitches cannot wait in row %d: one at least knits", -n, active.Len(), w.row)
		}
		e.Needles, e.Wraps = outer(active, s.Side, -n), s.Wrap
		w.hold[s.Side] = waits.Or(e.Needles)
	case !waits.Empty():
		return w.bad(s, "needles wait in hold on the %v, %v; release them before the edge moves in row %d", s.Side,
			waits, w.row)
	case n < 0:
		if active.Len()+n < 1 {
			return w.bad(s, "the work has %d in row %d; taking %d away would leave none", active.Len(), w.row, -n)
		}
		if s.Fashion > 0 && active.Len() <= s.Fashion {
			return w.bad(s, "a tool of %d prongs needs %d stitches and one beside them; row %d has %d", s.Fashion,
				s.Fashion, w.row, active.Len())
		}
		e.Needles = outer(active, s.Side, -n)
		if n == -1 { // the outer stitches move in
			e.Touched = outer(active, s.Side, max(s.Fashion, 1)+1).Minus(e.Needles)
		}
		w.work = w.work.Minus(e.Needles)
	default:
		if s.Fashion > 0 && active.Len() <= s.Fashion {
			return w.bad(s, "a tool of %d prongs needs %d stitches and one beside them; row %d has %d", s.Fashion,
				s.Fashion, w.row, active.Len())
		}
		if t := w.grow(s, &e, active); t != nil {
			return t
		}
		if s.Fashion > 0 {
			e.Touched = outer(active, s.Side, s.Fashion)
		}
		w.work = w.work.Or(e.Needles)
	}
	w.edges = append(w.edges, e)
	return nil
}

// grow finds the needles that come into work at an edge.
func (w *Walk) grow(s *ShapeStep, e *Edge, active machine.Set) *Trouble {
	way, at := machine.Needle(1), active.Last()
	if s.Side == machine.Left {
		way, at = -1, active.First()
	}
	for range s.Stitches {
		for at += way; w.p.Out.Has(at); at += way {
		}
		if w.p.Machine.Bed.Check(at) != nil {
			return &Trouble{Row: w.row, At: s.At, Step: s, Kind: OffTheBed}
		}
		if w.part == FirstPart && s.Side != w.side && (at-w.inner)*way > 0 {
			return w.bad(s, "row %d would bring %v to work, and a stitch waits there", w.row, at)
		}
		e.Needles.Add(at)
	}
	return nil
}

// outer is the n needles of a set that are outermost on a side.
func outer(set machine.Set, side machine.Side, n int) (out machine.Set) {
	for range min(n, set.Len()) {
		at := set.First()
		if side == machine.Right {
			at = set.Last()
		}
		set.Remove(at)
		out.Add(at)
	}
	return out
}

// Divide ends the walk of the whole before the row that comes next, and gives those of the two parts,
// first the one on the given side, and the needles between, that are bound off.
func (w *Walk) Divide(first machine.Side) (one, two *Walk, middle machine.Set, t *Trouble) {
	sp := w.p.Shape.Split
	left, right := machine.Range(w.p.Machine.Bed.First(), sp.Left), machine.Range(sp.Right, w.p.Machine.Bed.Last())
	at := [3]machine.Set{machine.Left: w.work.And(left), machine.Right: w.work.And(right)}
	middle = w.work.Minus(left).Minus(right)
	bad := func(format string, a ...any) *Trouble {
		return &Trouble{Row: w.row + 1, At: sp.At, Step: &ShapeStep{ShapeRule: ShapeRule{At: sp.At}, Row: sp.Row},
			Words: fmt.Sprintf(format, a...)}
	}
	held := w.hold[machine.Left].Or(w.hold[machine.Right])
	for side := machine.Left; side <= machine.Right; side++ {
		if at[side].Minus(held).Empty() {
			return nil, nil, middle, bad("no stitch is at work on the %v, up to %v, when the piece divides", side,
				[3]machine.Needle{0, sp.Left, sp.Right}[side])
		}
		if !w.hold[side].Minus(at[side]).Empty() {
			return nil, nil, middle, bad("needles wait in hold where the piece divides, %v",
				w.hold[side].Minus(at[side]))
		}
	}
	part := func(no Part, side machine.Side) *Walk {
		k := &Walk{p: w.p, part: no, side: side, row: w.row, from: w.row + 1, work: at[side], inner: sp.Left}
		if side == machine.Right {
			k.inner = sp.Right
		}
		k.hold[side] = w.hold[side]
		if no == FirstPart {
			k.wrap = w.wrap
		}
		for _, s := range w.late {
			if s.Side == side {
				k.late = append(k.late, s)
			}
		}
		for _, s := range w.steps {
			if s.Side == side { // without a part a step moves the outer edge of its side
				k.steps = append(k.steps, s)
			}
		}
		for i := range w.p.Shape.Steps {
			if s := &w.p.Shape.Steps[i]; s.Part == no {
				k.steps = append(k.steps, s)
			}
		}
		slices.SortStableFunc(k.steps, func(a, b *ShapeStep) int { return a.Row - b.Row })
		return k
	}
	one, two = part(FirstPart, first), part(SecondPart, first.Other())
	two.against = one
	return one, two, middle, nil
}

// ShapeWords says single steps over rows as knitters say them: "every 6 rows 4 times, then every 5 rows 3
// times". from is the row before the first gap.
func ShapeWords(from int, rows []int) string {
	text, before := "", from
	for i := 0; i < len(rows); {
		gap, n := rows[i]-before, 0
		for i < len(rows) && rows[i]-before == gap {
			before = rows[i]
			n, i = n+1, i+1
		}
		if text != "" {
			text += ", then "
		}
		switch {
		case gap == 1:
			text += fmt.Sprintf("every row %d times", n)
		case n == 1:
			text += fmt.Sprintf("after %d rows once", gap)
		default:
			text += fmt.Sprintf("every %d rows %d times", gap, n)
		}
	}
	return text
}
