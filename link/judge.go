package link

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Report is what a machine says of a pass that was made: as much as it sees.
type Report struct {
	Carriage machine.Carriage
	Dir      machine.Side // the way that it went
	Counter  int          // what its counter shows now
	Line     int          // of the program, that it has read in this pass; 0: none
	Forward  machine.Set  // needles that stand forward now
	Sees     Sees
}

// Sees is what a machine can report besides the way: not every one has a sensor for all of it.
type Sees struct{ Carriage, Counter, Line, Forward bool }

// Otherwise is how a report differs from the plan.
type Otherwise string

// What can be otherwise.
const (
	AsPlanned Otherwise = ""
	Again     Otherwise = "again"     // the same pass is reported once more: a switch has bounced
	Unheard   Otherwise = "unheard"   // passes were made that the wire did not bring
	WrongWay  Otherwise = "wrong-way" // the carriage went the other way
	WrongOne  Otherwise = "carriage"  // another carriage went
	LineOff   Otherwise = "line"      // another line of the program was read
	Needles   Otherwise = "needles"   // other needles stand forward
	Counter   Otherwise = "counter"   // the counter shows something else
	Edited    Otherwise = "edited"    // the pass was made as it was planned before an edit
)

// Verdict is what a report means for the plan: the pass (index) that comes next when all is right again, what
// was otherwise, and what to do, in words.
type Verdict struct {
	What  Otherwise
	Next  int
	Words string
	Do    []string
}

// Right says that nothing need be done.
func (v *Verdict) Right() bool { return v.What == AsPlanned || v.What == Again }

// mostUnheard is how many passes in a row the wire may lose and be understood.
const mostUnheard = 4

// Judge holds a report to the plan, in which pass i (index) comes next.
func Judge(pl *pass.Plan, i int, r Report) Verdict {
	if i >= len(pl.Passes) {
		return Verdict{Again, i, "The piece is knitted; this pass is not of the plan.", nil}
	}
	p := &pl.Passes[i]
	off := differs(p, r)
	if off == AsPlanned {
		return Verdict{AsPlanned, i + 1, "", nil}
	}
	if i > 0 && differs(&pl.Passes[i-1], r) == AsPlanned && r.Sees.Counter && r.Counter != p.Counter {
		return Verdict{Again, i, fmt.Sprintf("Pass %d was reported twice; it counts once.", i), nil}
	}
	if r.Sees.Counter || r.Sees.Line {
		for k := 1; k <= mostUnheard && i+k < len(pl.Passes); k++ {
			told := r.Sees.Counter && r.Counter != p.Counter || r.Sees.Line && r.Line != p.Line // by more than the way
			if differs(&pl.Passes[i+k], r) == AsPlanned && told {
				return unheard(pl, i, k, i+k)
			}
		}
	}
	v := Verdict{What: off, Next: i}
	begin := func(format string, a ...any) { v.Words = fmt.Sprintf(format, a...) }
	ravel := undone(p)
	switch off {
	case WrongWay:
		begin("The %v carriage went to the %v; pass %d goes to the %v.", r.Carriage, r.Dir, p.N, p.Dir)
		v.Do = append(ravel, fmt.Sprintf("Bring the %v carriage back to the %v without knitting.", p.Carriage,
			p.Dir.Other()))
	case WrongOne:
		begin("The %v carriage went; pass %d is the %v carriage's.", r.Carriage, p.N, p.Carriage)
		v.Do = append(ravel, fmt.Sprintf("Bring the %v carriage back to where it stood.", r.Carriage))
	case Counter:
		v.Next = i + 1
		begin("The counter shows %d; after pass %d it should show %d.", r.Counter, p.N, p.Counter)
	case LineOff:
		begin("Pass %d read line %d, not line %d.", p.N, r.Line, p.Line)
		v.Next = afterWrongLine(pl, i)
	case Needles:
		v.Next = afterWrongLine(pl, i)
		begin("After pass %d other needles stand %s than should: %s too many, %s too few.", p.N,
			pl.Piece.Machine.Word("forward"),
			count(r.Forward.Minus(p.Main().Sets)), count(p.Main().Sets.Minus(r.Forward)))
	}
	if v.Next == i && (off == LineOff || off == Needles) {
		v.Do = append(ravel, fmt.Sprintf("Bring the %v carriage back to the %v without knitting.", p.Carriage,
			p.Dir.Other()))
	} else if off == LineOff || off == Needles {
		v.Do = []string{"The row itself is right; nothing is to be ravelled."}
	}
	v.Do = append(v.Do, beside.RestoreOrEnd(pl, v.Next)...)
	return v
}

// Remade holds pass i (index), which was made while the piece was edited, to the plan before that: where it is
// another pass now, it is to be made again.
func Remade(before, pl *pass.Plan, i int) Verdict {
	if i < len(before.Passes) && i < len(pl.Passes) && alike(&before.Passes[i], &pl.Passes[i]) {
		return Verdict{AsPlanned, i + 1, "", nil}
	}
	if i >= len(pl.Passes) {
		return Verdict{Again, i, "The piece is knitted; this pass is not of the plan.", nil}
	}
	v := Verdict{What: Edited, Next: i, Words: fmt.Sprintf(
		"Pass %d was made while the piece was edited, and as it was planned before.", i+1)}
	if i < len(before.Passes) {
		p := &before.Passes[i]
		v.Do = append(undone(p), fmt.Sprintf("Bring the %v carriage back to the %v without knitting.", p.Carriage,
			p.Dir.Other()))
	}
	v.Do = append(v.Do, beside.RestoreOrEnd(pl, i)...)
	return v
}

// alike says that a pass does the same on the machine in two plans.
func alike(a, b *pass.Pass) bool {
	for bed := range a.Beds {
		x, y := &a.Beds[bed], &b.Beds[bed]
		if x.AtWork != y.AtWork || x.Select != y.Select || x.Hold != y.Hold || x.Sets != y.Sets ||
			x.Setting != y.Setting || !slices.Equal(x.Yarns, y.Yarns) {
			return false
		}
	}
	return a.Carriage == b.Carriage && a.Dir == b.Dir && a.Line == b.Line && a.Counter == b.Counter &&
		a.Rack == b.Rack && slices.Equal(a.Lays, b.Lays)
}

// undone is how what a pass has made is taken back.
func undone(p *pass.Pass) []string {
	if moved := p.Main().Select; p.Main().Setting.Moves && !moved.Empty() {
		return []string{fmt.Sprintf("Put the stitches back by hand that it moved, those of %s, each on the needle "+
			"from which it came.", moved.Words())}
	}
	if p.Course == 0 {
		return nil
	}
	return []string{"Ravel the row that was just made, needle by needle, without moving the carriage."}
}

func count(s machine.Set) string {
	if s.Empty() {
		return "none"
	}
	return words.Count(s.Len(), "needle", "needles")
}

// afterWrongLine is the pass (index) from which she goes on when pass i has read a wrong line: the next, where
// what a pass reads is for the next one, else that pass again.
func afterWrongLine(pl *pass.Plan, i int) int {
	if s := pl.Piece.Machine.School; s == machine.Pairs || s == machine.Preselect && !pl.Passes[i].Lace.Now {
		return i + 1 // a reader of pairs reads on the way to the right, for the way back
	}
	return i
}

// unheard is k passes from the i-th on (index) that were made and not reported; last is the last pass of all (index)
// that has been made.
func unheard(pl *pass.Plan, i, k, last int) Verdict {
	which := fmt.Sprintf("Pass %d was", i+1)
	if k > 1 {
		which = fmt.Sprintf("Passes %d to %d were", i+1, i+k)
	}
	v := Verdict{What: Unheard, Next: i + k + 1, Words: which +
		" made, and the wire did not say so: the counter tells it."}
	if hands := handsIn(pl, i+1, last); len(hands) > 0 {
		v.Words = which + " made, and the wire did not say so. Before it hands had something to do."
		v.Do = append(v.Do, "If this was not done, ravel back to before it: "+strings.Join(hands, "; ")+".")
	}
	v.Do = append(v.Do, beside.RestoreOrEnd(pl, v.Next)...)
	return v
}

// handsIn is what hands are to do before passes a to b (indexes).
func handsIn(pl *pass.Plan, a, b int) (list []string) {
	for i := a; i <= b; i++ {
		for k := range pl.Passes[i].Before {
			if st := &pl.Passes[i].Before[k]; st.Hands() {
				list = append(list, st.Say(pl.Piece))
			}
		}
	}
	return list
}

// differs is the first thing in which a report is otherwise than a pass.
func differs(p *pass.Pass, r Report) Otherwise {
	switch {
	case r.Sees.Carriage && r.Carriage != p.Carriage:
		return WrongOne
	case r.Dir != p.Dir:
		return WrongWay
	case r.Sees.Line && p.Line > 0 && r.Line != p.Line:
		return LineOff
	case r.Sees.Forward && p.Carriage != machine.SecondCarriage && r.Forward != p.Main().Sets:
		return Needles
	case r.Sees.Counter && r.Counter != p.Counter:
		return Counter
	}
	return AsPlanned
}

// State is how a machine stands that was just connected, or asked.
type State struct {
	Knit, Lace machine.Side // where the carriages stand; 0: not known
	Counter    int
	Line       int // that it reads next; 0: none, or not known
	Lines      int // of the program that it has; 0: it has none
	Sees       Sees
}

// at is where a carriage stands; knit and purl carriage hand the yarn over.
func (s State) at(c machine.Carriage) machine.Side {
	if c == machine.LaceCarriage {
		return s.Lace
	}
	return s.Knit
}

// Fits is the pass (index) about i before which a machine stands as its state says: i itself where it can be,
// else the nearest after it; the number of passes where all are made; else -1.
func (s State) Fits(pl *pass.Plan, i int) int {
	if i == 0 && s.Counter == 0 {
		return 0
	}
	for k := i; k <= min(i+mostUnheard, len(pl.Passes)); k++ {
		if s.fits(pl, k) {
			return k
		}
	}
	return -1
}

// fits says that it stands as when k passes are made, hands' work for the next done or not.
func (s State) fits(pl *pass.Plan, k int) bool {
	counter := s.Counter == counterAfter(pl, k) || k < len(pl.Passes) && s.Counter == beside.Reading(pl, k)
	if s.Sees.Counter && !counter {
		return false
	}
	if k == 0 {
		return true
	}
	for _, c := range []machine.Carriage{machine.KnitCarriage, machine.LaceCarriage} {
		at := s.at(c)
		for j := k - 1; j >= 0 && at != 0; j-- {
			if p := &pl.Passes[j]; p.Carriage != machine.SecondCarriage &&
				(p.Carriage == machine.LaceCarriage) == (c == machine.LaceCarriage) {
				if at != p.Dir {
					return false
				}
				break
			}
		}
	}
	return !s.Sees.Line || s.Line == 0 || pl.Piece.Machine.Program == machine.NoProgram || s.reads(pl, k)
}

// reads says that the line which is read next can be the one that the plan reads when k passes are made; where
// hands put another in before that, it can be any.
func (s State) reads(pl *pass.Plan, k int) bool {
	for i := k; i < len(pl.Passes); i++ {
		p := &pl.Passes[i]
		if pass.Has[step.SetCard](p.Before) {
			return true
		}
		if p.Line > 0 {
			return s.Line == p.Line || p.Line == 1 // it goes round
		}
	}
	return true
}

// counterAfter is what the counter shows when pass k-1 is made and hands have done nothing yet.
func counterAfter(pl *pass.Plan, k int) int {
	if k == 0 {
		return 0
	}
	return pl.Passes[k-1].Counter
}

// Lost is what is otherwise when a machine was connected, or connected again: it has lost its program, or
// stands where no pass near is.
const (
	NoProgram Otherwise = "power"
	Elsewhere Otherwise = "elsewhere"
)

// Found holds how a machine stands that was connected to the plan, in which pass i (index) comes next. has: it
// has the plan's program; again: the line was there before.
func Found(pl *pass.Plan, i int, s State, has, again bool) Verdict {
	k := s.Fits(pl, i)
	switch {
	case k < 0:
		return Verdict{Elsewhere, i, "The machine does not stand where the plan has it.", beside.RestoreOrEnd(pl, i)}
	case again && !has && len(selects(pl)) > 0:
		v := Verdict{NoProgram, k, "The machine has lost its program; it was sent again.", beside.RestoreOrEnd(pl, k)}
		if k > i {
			v.Words = unheard(pl, i, k-i, k-1).Words + " " + v.Words
		}
		return v
	case k > i:
		v := unheard(pl, i, k-i, k-1)
		v.Next = k
		v.Do = beside.RestoreOrEnd(pl, k)
		return v
	}
	return Verdict{AsPlanned, i, "", nil}
}
