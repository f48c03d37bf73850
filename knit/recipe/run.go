package recipe

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// MaxWorked bounds the lines and passes that a recipe works through.
const MaxWorked = 100000

// Start is how everything stands before a recipe.
type Start struct {
	Side    machine.Side
	Work    [2]machine.Set // at work, not in hold
	Hold    [2]machine.Set
	Lowered [2]bool
	Rack    int
	Pitch   machine.Pitch
	Found   []loops.Loop // what the needles hold: Bed, Needle, Yarn, oldest first
	Feeders Pair
	Hangs   [64]machine.Side // where the end of each yarn hangs; 0: not used yet
	Sizes   [2]string
	Counter int
}

// Run is a recipe gone through: what it comes to, by its own rules.
type Run struct {
	Recipe  *Recipe
	Acts    []Act
	Found   []finding.Finding // a stop is the last, where there is one
	FoundAt []int             // by finding but the stop: how many acts there were when it was told first
	Stopped bool
	Err     *Error // it cannot be run further: bad input
	Totals  Totals
	Beds    *loops.Beds
	Marks   []Tally // by act: what had been made when it began

	// How everything stands at the end, or where it stops.
	Side    machine.Side
	Feeders Pair // as the last use had them
	Hangs   [64]machine.Side
	Sizes   [2]string

	ground  Ground
	piece   *piece.Piece
	no      int // of the section
	ctx     context.Context
	bases   [2]machine.Set
	work    [2]machine.Set
	hold    [2]machine.Set
	beds    *loops.Beds
	params  map[string]int
	names   map[string]machine.Set
	charts  map[string]*followed
	sets    []seen
	rounds  []finding.Round
	worked  int
	fed     Pair // what the feeders are to hold
	used    bool // they have been used
	rack    int
	pitch   machine.Pitch
	lowered [2]bool
	byCard  bool
	pass    int32
	sizeNo  [2]uint16        // of Sizes, in the log
	row     []machine.Needle // of the pass at work, in its order
	slab    []Moves          // room for passes to come
	knits   [machine.MaxBed]int
	hands   bool   // since the pass before
	done    func() // after every line, where somebody watches
	remarks
}

// Tally is how much had been made, and let go, at a moment.
type Tally struct{ Loops, Gone int }

type followed struct {
	chart  *piece.Chart
	mirror bool
	at     machine.Needle
	row    int // from 1
	each   int
	served int
	used   bool // in the pass at hand
}

// seen is what became of a set.
type seen struct{ asked, found bool }

// stop ends a run: a finding.
type stop struct{ finding.Finding }

// Go runs a recipe of a section of the piece (from 1; 0: before or after all sections). The
// context ends it where nobody waits any more.
func (rec *Recipe) Go(ctx context.Context, g Ground, no int, at Start) *Run {
	r := rec.ready(ctx, g, no, at)
	r.guard(func() { r.steps(rec.Lines) })
	r.Totals.Most = r.beds.Most
	r.finish()
	return r
}

// ready is a run that has not begun.
func (rec *Recipe) ready(ctx context.Context, g Ground, no int, at Start) *Run {
	p := g.Piece
	r := &Run{Recipe: rec, ground: g, piece: p, no: no, ctx: ctx, bases: g.places(), beds: &loops.Beds{},
		params: map[string]int{},
		names:  map[string]machine.Set{}, charts: map[string]*followed{}, sets: make([]seen, rec.nos), Side: at.Side,
		work: at.Work,
		hold: at.Hold, lowered: at.Lowered, fed: at.Feeders, Hangs: at.Hangs, Sizes: at.Sizes, rack: at.Rack,
		pitch: at.Pitch}
	r.Beds = r.beds
	r.Totals.Rounds = map[string]int{}
	for _, l := range at.Found {
		l.Kind = loops.Found
		r.beds.Lay(l.Bed, machine.Needle(l.Needle), l)
	}
	for bed := range r.Sizes {
		r.sizeNo[bed] = r.beds.SizeNo(r.Sizes[bed])
	}
	r.remarks.begin(r)
	return r
}

// Leaves is how a recipe that comes right after this one begins: places, loops, beds.
func (r *Run) Leaves(at *Start) {
	at.Work, at.Hold, at.Lowered, at.Rack, at.Pitch, at.Found = r.work, r.hold, r.lowered, r.rack, r.pitch,
		r.beds.Standing()
}

// Held is the needles of both beds that are still in hold.
func (r *Run) Held() [2]machine.Set { return r.hold }

// In is the needles of a bed that are not out.
func (r *Run) In(bed machine.BedNo) machine.Set { return r.in(bed) }

// FirstYarn is the yarn that the recipe threads first; 0 for none.
func (rec *Recipe) FirstYarn(p *piece.Piece) (y piece.YarnNo) {
	each(rec.Lines, func(st *Step) {
		if y == 0 && st.Do == Yarn && len(st.Yarns) > 0 {
			ref := st.Yarns[0]
			if ref.List != nil {
				ref = ref.List[0]
			}
			y = yarnNo(p, ref.ID)
		}
	})
	return y
}

// each yields every line of a recipe, those in repeats too.
func each(list []*Step, f func(*Step)) {
	for _, st := range list {
		f(st)
		each(st.Body, f)
	}
}

// State is how both beds stand after an act.
type State struct {
	Places      [2]machine.Set // all needles of each bed
	Work, Hold  [2]machine.Set // at work, not in hold; in hold
	Holds, Over [2]machine.Set // with a loop; with more than one
	Side        machine.Side
	Rack        int
	Pitch       machine.Pitch
}

// Again runs the recipe once more and tells of the state after each act (by its index) that the
// caller asks for: for pages, which show few of them.
func (r *Run) Again(at Start, asks func(act int) bool, tell func(act int, s State)) {
	again := r.Recipe.ready(context.Background(), r.ground, r.no, at)
	next := 0
	again.done = func() {
		for ; next < len(again.Acts); next++ {
			if asks(next) {
				tell(next, State{again.bases, again.work, again.hold, again.beds.Holds, again.beds.Over, again.Side,
					again.rack, again.pitch})
			}
		}
	}
	again.guard(func() { again.steps(again.Recipe.Lines) })
	again.done()
}

// Round is what the first round of a word comes to: its passes with yarn and the loops of each yarn.
func (r *Run) Round(word string) (one struct {
	Passes int
	Loops  map[piece.YarnNo]int
}) {
	one.Loops = map[piece.YarnNo]int{}
	in := func(a *Act) bool {
		return slices.ContainsFunc(a.Rounds, func(x finding.Round) bool { return x.Word == word }) &&
			!slices.ContainsFunc(a.Rounds[:1+slices.IndexFunc(a.Rounds,
				func(x finding.Round) bool { return x.Word == word })], func(x finding.Round) bool { return x.N != 1 })
	}
	for i := range r.Acts {
		if !in(&r.Acts[i]) {
			continue
		}
		if m := r.Acts[i].Pass; m != nil && !m.Free {
			one.Passes++
		}
		end := len(r.beds.Loops)
		if i+1 < len(r.Marks) {
			end = r.Marks[i+1].Loops
		}
		for _, l := range r.beds.Loops[r.Marks[i].Loops:end] {
			one.Loops[l.Yarn]++
			if l.Under != 0 {
				one.Loops[l.Under]++
			}
		}
	}
	return one
}

// Charts lists the charts that the recipe follows.
func (rec *Recipe) Charts() (names []string) {
	each(rec.Lines, func(st *Step) {
		if st.Do == Follow && !slices.Contains(names, st.Chart.Name) {
			names = append(names, st.Chart.Name)
		}
	})
	return names
}

// Around is the lines of the repeats around every line of the recipe, outermost first.
func (rec *Recipe) Around() map[int][]int {
	around := map[int][]int{}
	var walk func(list []*Step, in []int)
	walk = func(list []*Step, in []int) {
		for _, st := range list {
			around[st.Line] = in
			if st.Do == Repeat {
				walk(st.Body, append(slices.Clip(in), st.Line))
			}
		}
	}
	walk(rec.Lines, nil)
	return around
}

// guard runs a part of the recipe, and keeps what ends it.
func (r *Run) guard(f func()) {
	defer func() {
		switch end := recover().(type) {
		case nil:
		case *Error:
			r.Err = end
		case stop:
			r.Stopped = true
			r.remarks.last = &end.Finding
		default:
			panic(end)
		}
	}()
	f()
}

// round is the round of the line at hand.
func (r *Run) round() int {
	if n := len(r.rounds); n > 0 {
		return r.rounds[n-1].N
	}
	return 1
}

// stop ends the run with a finding at a step.
func (r *Run) stop(st *Step, code finding.Code, on machine.Set, fix, format string, a ...any) {
	panic(stop{r.finding(st, code, finding.Stop, on, fix, format, a...)})
}

func (r *Run) finding(st *Step, code finding.Code, severity finding.Severity, on machine.Set, fix, format string,
	a ...any) finding.Finding {
	row := int(r.pass)
	return finding.Finding{Code: code, Severity: severity, Section: r.no, Rows: [2]int{row, row}, Needles: on,
		Fix: fix, Source: st.Line, Round: r.rounds,
		Text: fmt.Sprintf(format, a...) + r.where(st)}
}

// where says where in the recipe something is, after a sentence.
func (r *Run) where(st *Step) string {
	return r.lineOf(st.Line, r.rounds)
}

// works counts a line that is worked, and looks every so often whether anybody still waits.
func (r *Run) works(st *Step) {
	r.empties()
	r.at = st
	if r.worked++; r.worked > MaxWorked {
		panic(&Error{st.Pos, fmt.Sprintf("%q: more than %d lines and passes are worked through", st.Do.String(),
			MaxWorked), len(st.Do.String())})
	}
	if r.worked%1000 == 0 && r.ctx.Err() != nil {
		panic(&Error{st.Pos, r.ctx.Err().Error(), 0})
	}
}

func (r *Run) steps(list []*Step) {
	for _, st := range list {
		r.works(st)
		if st.Do == Repeat {
			r.repeat(st)
			continue
		}
		r.step(st)
		if r.done != nil {
			r.done()
		}
	}
}

func (r *Run) repeat(st *Step) {
	n := r.count(st.Num, fromZero, 0)
	outer := r.rounds
	drifts := r.watch(st, n)
	rounds := make([]finding.Round, 0, min(n, 1000)*(len(outer)+1))
	acts, made := len(r.Acts), len(r.beds.Loops)
	for i := 1; i <= n; i++ {
		from := len(rounds)
		rounds = append(append(rounds, outer...), finding.Round{Word: st.Text, N: i, Of: n})
		r.rounds = rounds[from:len(rounds):len(rounds)]
		r.steps(st.Body)
		if i == 1 { // the others are about as long
			more := min(n-1, MaxWorked)
			r.expect(min(more*(len(r.Acts)-acts), MaxWorked))
			r.beds.Expect(min(more*(len(r.beds.Loops)-made), 10*MaxWorked))
		}
		if st.Text != "" {
			r.Totals.Rounds[st.Text]++
		}
		drifts.after(i)
		if len(st.Body) == 0 {
			r.works(st)
		}
	}
	r.rounds = outer
}

// expect makes room for so many acts.
func (r *Run) expect(n int) {
	r.Acts, r.Marks = slices.Grow(r.Acts, n), slices.Grow(r.Marks, n)
}

// act notes what a step comes to.
func (r *Run) act(st *Step, a Act) *Act {
	a.Step, a.Do, a.Rounds = st, st.Do, r.rounds
	if n := len(r.Acts); n == cap(r.Acts) {
		r.expect(max(n, 64))
	}
	r.Marks = append(r.Marks, Tally{len(r.beds.Loops), len(r.beds.Gone)})
	r.Acts = append(r.Acts, a)
	return &r.Acts[len(r.Acts)-1]
}

// on is the needles of a step's target.
func (r *Run) on(st *Step) machine.Set {
	r.hasBed(st, st.Bed)
	return r.set(st.Set, st.Bed, machine.Set{})
}

// hasBed stops where the machine lacks a bed.
func (r *Run) hasBed(st *Step, bed machine.BedNo) {
	if bed == machine.Second && !r.piece.Machine.HasSecond() {
		r.stop(st, finding.TechniqueMachine, machine.Set{}, "Use a machine that has a second bed",
			"%s has no second bed.", r.piece.Machine.Name)
	}
}

func (r *Run) step(st *Step) {
	p, b := r.piece, r.beds
	switch st.Do {
	case Param:
		v := r.count(st.Num, any_, 0)
		if with, ok := r.ground.With[st.Name]; ok {
			v = with
		}
		r.params[st.Name] = v
	case Starts: // as r.work has it already
	case Fits:
		r.fits(st)
	case Name:
		r.names[st.Name] = r.on(st)
	case Pass:
		for range r.count(st.Num, fromOne, 1) {
			r.works(st)
			r.moves(st)
		}
	case Work, Hold, Out:
		r.place(st, r.on(st))
	case Move:
		if on := r.on(st); st.Way == "across" {
			r.across(st, on)
		} else {
			r.move(st, on, r.count(st.Num, fromOne, 1))
		}
	case Cross:
		r.cross(st)
	case KnitByHand:
		r.byHand(st)
	case Wrap:
		r.wrap(st, r.on(st))
	case Drop:
		r.drop(st, r.on(st))
	case CastOn:
		on := r.on(st)
		r.feed(st)
		r.act(st, Act{Bed: st.Bed, Set: on, Yarns: r.fed, Fed: true})
		r.comeIn(st.Bed, on, &r.work)
		for n := range on.All() {
			b.Lay(st.Bed, n, r.loop(st.Bed, loops.Cast, Pair{r.fed[0]}))
		}
		r.hands = true
	case BindOff, TakeOff:
		on := r.on(st).And(r.in(st.Bed))
		r.act(st, Act{Bed: st.Bed, Set: on})
		for n := range on.All() {
			b.Lift(st.Bed, n)
		}
		r.work[st.Bed], r.hold[st.Bed] = r.work[st.Bed].Minus(on), r.hold[st.Bed].Minus(on)
		r.hands = true
	case Yarn:
		var fed Pair
		for i, y := range st.Yarns {
			fed[i] = r.yarn(y)
		}
		if fed[1] != 0 && p.Machine.Feeders < 2 {
			r.stop(st, finding.TechniqueMachine, machine.Set{}, "Use one yarn, or a machine with two feeders",
				"%s has one feeder, and two yarns are to be threaded.", p.Machine.Name)
		}
		r.twice(st.Yarns, fed)
		r.fed = fed
		r.act(st, Act{Yarns: fed})
	case Size:
		v := r.count(st.Num, sized, 0)
		r.hasBed(st, st.Bed)
		for bed := range r.Sizes {
			if !st.Named || machine.BedNo(bed) == st.Bed {
				r.Sizes[bed] = Figures(v)
				r.sizeNo[bed] = r.beds.SizeNo(r.Sizes[bed])
			}
		}
		r.act(st, Act{Bed: st.Bed, Size: Figures(v)})
	case Rack:
		r.hasBed(st, machine.Second)
		to := r.count(st.Num, fromZero, 0)
		if racks := p.Machine.Racks; to < racks[0] || to > racks[1] {
			panic(&Error{st.Num.Pos, fmt.Sprintf("%d: the handle goes from %d to %d", to, racks[0], racks[1]),
				st.Num.width})
		}
		pitch := r.pitch
		switch st.Way {
		case "half":
			pitch = machine.HalfPitch
		case "full":
			pitch = machine.FullPitch
		}
		if to != r.rack || pitch != r.pitch {
			r.rack, r.pitch = to, pitch
			r.act(st, Act{Rack: to, Pitch: pitch})
			r.racked(st)
		}
	case Choose:
		if r.byCard = st.Way != "hand"; r.byCard && (p.Machine.Program == machine.NoProgram ||
			p.Machine.School == machine.ByHand) {
			r.stop(st, finding.TechniqueMachine, machine.Set{},
				"Choose by hand, or use a machine with a card or program",
				"%s has neither card nor program.", p.Machine.Name)
		}
		r.act(st, Act{})
	case Follow:
		c := p.Charts[st.Chart.Name]
		row := r.count(st.From, fromOne, 1)
		if row > c.H {
			panic(&Error{st.From.Pos, fmt.Sprintf("%d: the chart has %d rows", row, c.H), st.From.width})
		}
		r.charts[st.Chart.Name] = &followed{chart: c, mirror: (c.Face == chart.KnitSide) != p.Machine.Near,
			at: st.At, row: row,
			each: r.count(st.To, fromOne, 1)}
	case Counter:
		r.act(st, Act{N: r.count(st.Num, fromZero, 0)})
	case Weights:
		n := 0
		if st.Num != nil {
			n = r.count(st.Num, fromOne, 0)
		}
		r.act(st, Act{N: n})
	case Lower, Raise:
		r.hasBed(st, st.Bed)
		if r.lowered[st.Bed] != (st.Do == Lower) {
			r.lowered[st.Bed] = st.Do == Lower
			r.act(st, Act{Bed: st.Bed})
		}
	case Check:
		r.check(st)
	default: // attach, remove, note, look
		r.act(st, Act{})
	}
}

// fits holds the width to what the recipe is written for.
func (r *Run) fits(st *Step) {
	k, plus, w := r.count(st.Num, fromOne, 0), r.count(st.From, fromZero, 0), r.bases[machine.Main].Len()
	if w >= plus && (w-plus)%k == 0 {
		return
	}
	down := plus + max(0, w-plus)/k*k
	up := down + k
	if w < plus {
		down, up = 0, plus
	}
	if up == 0 {
		up = k
	}
	var offers []string
	for _, n := range []int{down, up} {
		if n > 0 && n <= int(r.piece.Machine.Bed) {
			offers = append(offers, fmt.Sprint(n))
		}
	}
	f := r.finding(st, finding.RecipeWidth, finding.Stop, r.bases[machine.Main], "",
		"The recipe wants a multiple of %d and %d more: %d stitches are none. Next to it are %s.", k, plus, w,
		strings.Join(offers, " or "))
	if len(offers) > 0 {
		to := up
		if up > int(r.piece.Machine.Bed) || down > 0 && w-down < up-w {
			to = down
		}
		a, z := machine.Centre(to, r.piece.Options.OddSide())
		f.Fix = fmt.Sprintf("Work %s, %v to %v", words.Stitches(to), a, z)
		f.Mend = finding.Always(edit.WorkNeedles(a, z))
	}
	panic(stop{f})
}

// in is the needles of a bed that are not out.
func (r *Run) in(bed machine.BedNo) machine.Set { return r.work[bed].Or(r.hold[bed]) }

// comeIn puts needles to work or in hold.
func (r *Run) comeIn(bed machine.BedNo, on machine.Set, to *[2]machine.Set) {
	r.work[bed], r.hold[bed] = r.work[bed].Minus(on), r.hold[bed].Minus(on)
	to[bed] = to[bed].Or(on)
}

// place puts needles to work, in hold, or out.
func (r *Run) place(st *Step, on machine.Set) {
	bed := st.Bed
	there := map[Verb]machine.Set{Work: r.work[bed], Hold: r.hold[bed], Out: r.bases[bed].Minus(r.in(bed))}[st.Do]
	on = on.Minus(there)
	if st.Do == Out {
		if holding := on.And(r.beds.Holds[bed]); !holding.Empty() {
			r.stop(st, finding.StitchDropped, holding, "Move the stitches or drop them first",
				"%s of the %v bed are put out of work and still hold loops, which would fall: %v.",
				words.Count(holding.Len(), "needle", "needles"),
				bed, holding)
		}
	}
	r.act(st, Act{Bed: bed, Set: on})
	switch st.Do {
	case Work:
		r.comeIn(bed, on, &r.work)
	case Hold:
		r.comeIn(bed, on, &r.hold)
	case Out:
		r.work[bed], r.hold[bed] = r.work[bed].Minus(on), r.hold[bed].Minus(on)
	}
	r.Totals.Hands.Needles += on.Len()
	r.hands = r.hands || !on.Empty()
}

// bare stops where needles that must hold a loop hold none, or are out.
func (r *Run) bare(st *Step, bed machine.BedNo, on machine.Set, to string) {
	if none := on.Minus(r.in(bed).And(r.beds.Holds[bed])); !none.Empty() {
		r.stop(st, finding.RecipeEmpty, none, "Leave them out, or see first that they hold a stitch",
			"%v of the %v bed are to be %s, and hold nothing.", none, bed, to)
	}
}

func (r *Run) move(st *Step, on machine.Set, by int) {
	bed := st.Bed
	r.bare(st, bed, on, "moved")
	to, way := on.Right(by), machine.Right
	if st.Way == "left" {
		to, way = on.Left(by), machine.Left
	}
	if to.Len() < on.Len() || !to.Minus(r.in(bed)).Empty() {
		var off machine.Set
		for n := range on.All() {
			if at := n + machine.Needle(by); way == machine.Right && !r.in(bed).Has(at) {
				off.Add(n)
			}
			if at := n - machine.Needle(by); way == machine.Left && !r.in(bed).Has(at) {
				off.Add(n)
			}
		}
		r.stop(st, finding.TransferOff, off, "Put the needles to work first, or move fewer",
			"The stitches of %v are moved %s to the %s, where no needle is in work.", off, words.Count(by, "needle",
				"needles"), st.Way)
	}
	r.act(st, Act{Bed: bed, Set: on, N: by, Side: way})
	lifted := make([][]loops.ID, 0, on.Len())
	for n := range on.All() {
		lifted = append(lifted, r.beds.Lift(bed, n))
	}
	i := 0
	for n := range on.All() {
		to := n + machine.Needle(by)
		if way == machine.Left {
			to = n - machine.Needle(by)
		}
		r.beds.Put(bed, to, lifted[i])
		i++
	}
	r.Totals.Hands.Moved += on.Len()
	r.hands = true
}

// lie is how the second bed lies to the main one.
func (r *Run) lie() machine.Across {
	return machine.Across{Shift: r.rack - r.piece.Machine.RackCentre, Pitch: r.pitch}
}

// opposite is the needle of the other bed that stands exactly opposite; false where none does.
func (r *Run) opposite(bed machine.BedNo, n machine.Needle) (machine.Needle, bool) {
	lie := r.lie()
	if lie.Pitch != machine.FullPitch {
		return 0, false
	}
	if bed == machine.Second {
		return lie.Left(n), true
	}
	return n - machine.Needle(lie.Shift), true
}

func (r *Run) across(st *Step, on machine.Set) {
	bed := st.Bed
	r.hasBed(st, machine.Second)
	r.bare(st, bed, on, "moved across")
	var off machine.Set
	for n := range on.All() {
		if to, ok := r.opposite(bed, n); !ok || !r.in(1-bed).Has(to) {
			off.Add(n)
		}
	}
	if !off.Empty() {
		r.stop(st, finding.TransferOff, off, "Set full pitch, and a position at which the needles face each other",
			"No needle in work of the %v bed stands exactly opposite to %v of the %v.", 1-bed, off, bed)
	}
	r.act(st, Act{Bed: bed, Set: on})
	for n := range on.All() {
		to, _ := r.opposite(bed, n)
		r.beds.Put(1-bed, to, r.beds.Lift(bed, n))
	}
	r.Totals.Hands.Moved += on.Len()
	r.hands = true
}

func (r *Run) cross(st *Step) {
	a, z := r.set(st.Set, machine.Main, machine.Set{}), r.set(st.With, machine.Main, machine.Set{})
	switch both := a.And(z); {
	case a.Len() != z.Len():
		r.stop(st, finding.RecipeCross, a.Or(z), "Let as many cross as are crossed", "%s cannot cross with %d.",
			words.Stitches(a.Len()), z.Len())
	case !both.Empty():
		r.stop(st, finding.RecipeCross, both, "Leave them out of one of the two",
			"%v are in both sets and would cross themselves.", both)
	}
	r.bare(st, machine.Main, a.Or(z), "crossed")
	r.act(st, Act{Set: a, With: z})
	front, behind := slices.Collect(a.All()), slices.Collect(z.All())
	far := machine.Set{}
	for i := range front {
		x, y := r.beds.Lift(machine.Main, front[i]), r.beds.Lift(machine.Main, behind[i])
		r.beds.Put(machine.Main, front[i], y)
		r.beds.Put(machine.Main, behind[i], x)
		if d := front[i] - behind[i]; d > crossLimit || d < -crossLimit {
			far.Add(front[i])
			far.Add(behind[i])
		}
	}
	if !far.Empty() {
		r.remark(r.finding(st, finding.CrossFar, finding.Warn, far,
			"Cross over fewer needles, or loosen the row before",
			"%v cross over more than %d needles, which strains the stitches.", far, crossLimit))
	}
	r.Totals.Hands.Crossed += a.Len()
	r.hands = r.hands || !a.Empty()
}

func (r *Run) byHand(st *Step) {
	var short, long machine.Set
	for _, l := range st.Sets {
		on := r.set(l.Set, machine.Main, machine.Set{}).Minus(short).Minus(long)
		if l.Long {
			long = long.Or(on)
		} else {
			short = short.Or(on)
		}
	}
	y, on := r.yarn(st.Yarns[0]), short.Or(long)
	r.bare(st, machine.Main, on, "knitted by hand")
	from := r.Hangs[y]
	if from == 0 {
		from = machine.Left
	}
	r.act(st, Act{Set: short, With: long, Yarns: Pair{y}, Side: from})
	if on.Empty() {
		return
	}
	for n := range along(on, from.Other()) {
		kind := loops.Short
		if long.Has(n) {
			kind = loops.Long
		}
		r.beds.Draw(machine.Main, n, r.loop(machine.Main, kind, Pair{y}))
	}
	r.work[machine.Main], r.hold[machine.Main] = r.work[machine.Main].Or(on), r.hold[machine.Main].Minus(on)
	r.Hangs[y] = from.Other()
	r.Totals.Hands.Knitted += on.Len()
	r.hands = true
}

func (r *Run) wrap(st *Step, on machine.Set) {
	if bad := on.Minus(r.hold[st.Bed]); !bad.Empty() {
		r.stop(st, finding.RecipeEmpty, bad, "Put them in hold first",
			"%v of the %v bed are to be wrapped, and are not in hold.", bad, st.Bed)
	}
	if on.Empty() {
		r.act(st, Act{Bed: st.Bed})
		return
	}
	r.feed(st)
	r.act(st, Act{Bed: st.Bed, Set: on, Yarns: r.fed, Fed: true})
	for n := range on.All() {
		r.beds.Lay(st.Bed, n, r.loop(st.Bed, loops.Wrap, Pair{r.fed[0]}))
	}
	r.wrapped(st, on)
	r.Totals.Hands.Wrapped += on.Len()
	r.hands = true
}

func (r *Run) drop(st *Step, on machine.Set) {
	on = on.And(r.beds.Holds[st.Bed])
	pile := st.Bed == machine.Second && on == r.beds.Holds[st.Bed].And(r.work[st.Bed]) && !r.lowered[st.Bed]
	if a := r.act(st, Act{Bed: st.Bed, Set: on, Pile: pile && !on.Empty()}); a.Pile {
		a.Stand = &Stand{[2]machine.Set{r.in(0), r.in(1)}, r.hold}
	}
	if on.Empty() {
		return
	}
	r.Totals.Drops = true
	var gone []loops.ID
	for n := range on.All() {
		gone = append(gone, r.beds.Let(st.Bed, n)...)
	}
	for _, id := range gone {
		if len(r.beds.Through(id)) > 0 {
			r.Totals.Run++
		} else {
			r.Totals.Pile++
		}
	}
	r.dropped(st, on, gone)
	r.hands = r.hands || !pile
}

// check stops where what the recipe says of the bed is not so.
func (r *Run) check(st *Step) {
	if st.Set == nil {
		if side := map[string]machine.Side{"left": machine.Left, "right": machine.Right}[st.Way]; r.Side != side {
			r.stop(st, finding.RecipeCheck, machine.Set{}, "Add a pass before it, or leave one out",
				"The carriage stands on the %v, not on the %v.", r.Side, side)
		}
		r.act(st, Act{})
		return
	}
	on := r.on(st)
	var not machine.Set
	is := ""
	switch st.Way {
	case "empty":
		not, is = on.And(r.beds.Holds[st.Bed]), "are not empty"
	case "single":
		is = "do not hold exactly one loop"
		for n := range on.All() {
			if r.beds.Len(st.Bed, n) != 1 {
				not.Add(n)
			}
		}
	case "held":
		not, is = on.Minus(r.hold[st.Bed]), "are not in hold"
	case "out":
		not, is = on.And(r.in(st.Bed)), "are not out of work"
	}
	if !not.Empty() {
		r.stop(st, finding.RecipeCheck, not, "See what the lines before it leave on these needles",
			"%v of the %v bed %s.", not, st.Bed, is)
	}
	r.act(st, Act{Bed: st.Bed, Set: on})
}

// yarn is a yarn in the round at hand.
func (r *Run) yarn(y *YarnRef) piece.YarnNo {
	if y.List != nil {
		y = y.List[(r.round()-1)%len(y.List)]
	}
	return yarnNo(r.piece, y.ID)
}

// twice refuses the same yarn in both feeders, or twice in a loop.
func (r *Run) twice(refs []*YarnRef, y Pair) {
	if len(refs) == 2 && y[0] == y[1] {
		panic(&Error{refs[1].Pos, fmt.Sprintf("%q: the same yarn twice", r.piece.YarnID(y[1])), 1})
	}
}

// loop is a loop made now.
func (r *Run) loop(bed machine.BedNo, kind loops.Kind, y Pair) loops.Loop {
	return loops.Loop{Yarn: y[0], Under: y[1], Kind: kind, Size: r.sizeNo[bed], Pass: r.pass}
}

// feed is a use of the feeders by hands: they are to hold a yarn, and one that hangs on the far
// side begins anew.
func (r *Run) feed(st *Step) {
	if r.fed[0] == 0 {
		r.stop(st, finding.NeedleNoYarn, machine.Set{}, "Thread a yarn first",
			"The feeders are empty, and feeder 1's yarn is wanted.")
	}
	r.uses(st)
}

// uses compares the feeders with the use before this one.
func (r *Run) uses(st *Step) {
	for _, y := range r.fed {
		if y != 0 && r.Hangs[y] != r.Side {
			if r.Hangs[y] != 0 {
				r.anew(st, y)
			}
			r.Hangs[y] = r.Side
		}
	}
	r.Feeders, r.used = r.fed, true
}
