// Package lost finds the pass at which a knitter stands from what she sees: each answer narrows the
// passes that fit, and the next question is the one that narrows them most. It imports the core, and
// nothing of pages.
package lost

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"

	"vindel/knit/beside"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Fact is something that she can see or read without touching a needle.
type Fact string

// The facts, those that are the quickest to see first: of two that tell as much the first is asked.
const (
	Side     Fact = "side"     // on which side the carriage stands
	Carriage Fact = "carriage" // which one worked last
	Counter  Fact = "counter"  // what the row counter shows
	Window   Fact = "window"   // the number in the card's window
	Yarn     Fact = "yarn"     // what is threaded
	Forward  Fact = "forward"  // how many needles stand forward
	Held     Fact = "held"     // how many needles wait in full hold
	AtWork   Fact = "work"     // how many needles carry the work
	Empty    Fact = "empty"    // how many needles at work hold no loop
	First    Fact = "first"    // the leftmost needle that stands forward
	Hole     Fact = "hole"     // the leftmost needle at work that holds no loop
	Doubled  Fact = "doubled"  // how many needles carry more than one loop
	Edges    Fact = "edges"    // the outermost needles that carry the work
)

// Facts lists them in that order.
var Facts = []Fact{Side, Carriage, Counter, Window, Yarn, Edges, First, Hole, Forward, Held, AtWork, Empty, Doubled}

// Answer is what she says of a fact. She may not know, and then it is not told.
type Answer struct {
	Fact  Fact
	Value string
}

// Standing is what can be seen when so many passes are knitted and nothing has been done since: a
// value for each fact that can be told there, "" for one that cannot.
type Standing map[Fact]string

// Standings are what can be seen after each number of passes of a plan that was knitted on the
// simulated bed: index 0 before the first, and the last when all are knitted.
func Standings(f *fabric.Fabric) []Standing {
	pl := f.Plan
	all := make([]Standing, len(pl.Passes)+1)
	for n := range all {
		all[n] = after(f, n)
	}
	return all
}

// after is what is seen when n passes are knitted.
func after(f *fabric.Fabric, n int) Standing {
	pl := f.Plan
	m, s := &pl.Piece.Machine, Standing{}
	if n == 0 {
		s[Counter] = "0"
		if len(pl.Passes) > 0 {
			s[Side] = pl.Passes[0].Dir.Other().String()
		}
		return s
	}
	p := &pl.Passes[n-1]
	s[Side], s[Carriage], s[Counter] = p.Dir.String(), p.Carriage.String(), strconv.Itoa(p.Counter)
	work, forward, hold, _ := Look(f, n)
	s[AtWork] = strconv.Itoa(work.Len())
	if yarns := fed(pl, n-1); len(yarns) > 0 {
		for i, y := range yarns {
			if i > 0 {
				s[Yarn] += " + "
			}
			if y == 0 {
				s[Yarn] += "none"
			} else {
				s[Yarn] += pl.Piece.YarnName(y)
			}
		}
	}
	s[Forward] = strconv.Itoa(forward.Len())
	if p.Recipe == 0 || pl.Parts == nil { // beside a recipe the other part of a divided piece waits too
		s[Held] = strconv.Itoa(hold.Len())
	}
	if s[First] = "none"; !forward.Empty() {
		s[First] = forward.First().String()
	}
	if !work.Empty() {
		s[Edges] = work.First().String() + " to " + work.Last().String()
	}
	if n < len(pl.Passes) {
		next := &pl.Passes[n]
		if m.HasCard() && !pass.Has[step.SetCard](next.Before) {
			s[Window] = strconv.Itoa(next.Window)
		}
		if f.Stands != nil && len(next.Before) == 0 {
			stand := &f.Stands[n]
			s[Empty], s[Doubled] = strconv.Itoa(stand.Empty.Len()), strconv.Itoa(stand.Doubled.Len())
			if s[Hole] = "none"; !stand.Empty.Empty() {
				s[Hole] = stand.Empty.First().String()
			}
		}
	}
	return s
}

// fed is the yarns in the main carriage's feeders when pass i (index) is made: those of the last pass that it made
// itself, for they stay in it while another carriage works, and what hands have threaded or taken out since.
func fed(pl *pass.Plan, i int) []piece.YarnNo {
	others := []machine.Carriage{machine.LaceCarriage, machine.SecondCarriage}
	own := i
	for own > 0 && slices.Contains(others, pl.Passes[own].Carriage) {
		own--
	}
	mains := func(of machine.Carriage) bool { // a lace carriage has no feeder of its own
		return of == machine.KnitCarriage || of == machine.LaceCarriage
	}
	yarns := slices.Clone(beside.RowOf(pl, &pl.Passes[own]).Feeders)
	if !slices.Contains(others, pl.Passes[own].Carriage) {
		own++ // what was done before a pass of its own is in its feeders
	}
	for k := own; k <= i; k++ {
		for _, st := range pl.Passes[k].Before {
			switch st := st.Step.(type) {
			case step.Thread:
				if mains(st.Of) && st.Feeder > 0 && st.Feeder <= len(yarns) {
					yarns[st.Feeder-1] = st.Yarn
				}
			case step.Unthread:
				if mains(st.Of) && st.Feeder > 0 && st.Feeder <= len(yarns) {
					yarns[st.Feeder-1] = 0
				}
			}
		}
	}
	return yarns
}

// Fits lists the numbers of passes knitted that agree with every answer. What cannot be told of a
// standing agrees with anything.
func Fits(all []Standing, told []Answer) (list []int) {
	for n, s := range all {
		if !slices.ContainsFunc(told, func(a Answer) bool { return s[a.Fact] != "" && s[a.Fact] != a.Value }) {
			list = append(list, n)
		}
	}
	return list
}

// Same says that two standings cannot be told apart by anything that is seen, so that asking more is
// of no use.
func Same(a, b Standing) bool {
	for _, f := range Facts {
		if a[f] != b[f] && a[f] != "" && b[f] != "" {
			return false
		}
	}
	return true
}

// Look is how the needles stand when n passes are made, for a drawing: those at work, and of them those that
// stand forward, wait in hold, and hold no loop.
func Look(f *fabric.Fabric, n int) (work, forward, hold, empty machine.Set) {
	if n == 0 {
		return work, forward, hold, empty
	}
	p := &f.Plan.Passes[n-1]
	half := p.Main()
	forward, hold = half.Sets, half.Hold
	cams := half.Setting.Cams(p.Dir)
	m := &f.Plan.Piece.Machine
	if cams.Selected == machine.Hold || // what stood forward stays where it is passed over, or tucks by hand
		cams.Selected == machine.Tuck && m.School == machine.ByHand && !m.ResetEach {
		forward = forward.Or(half.Select)
	}
	if cams.Held != machine.Hold { // what waited is knitted
		hold = machine.Set{}
	}
	if f.Stands != nil && n < len(f.Stands) {
		empty = f.Stands[n].Empty
	}
	return half.AtWork, forward, hold, empty
}

// Question is what is asked next: a fact, and what it may be in the passes that fit, the most frequent
// first.
type Question struct {
	Fact   Fact
	Values []string
	Left   int // passes that fit at most, whatever is answered
}

// Next is the question that leaves the fewest passes, whatever is answered; nil where none would leave
// fewer. Facts that she has told, or does not know, are not asked again.
func Next(all []Standing, fits []int, told []Answer, unknown []Fact) *Question {
	var best *Question
	for _, fact := range Facts {
		if asked(fact, told, unknown) {
			continue
		}
		times, open := map[string]int{}, 0
		for _, n := range fits {
			if v := all[n][fact]; v == "" {
				open++
			} else {
				times[v]++
			}
		}
		if len(times) < 2 && (len(times) == 0 || open == 0) {
			continue
		}
		q := &Question{Fact: fact}
		for v, n := range times {
			q.Values = append(q.Values, v)
			q.Left = max(q.Left, n+open)
		}
		if q.Left >= len(fits) {
			continue
		}
		slices.SortFunc(q.Values, func(a, b string) int {
			return cmp.Or(cmp.Compare(times[b], times[a]), cmp.Compare(a, b))
		})
		if best == nil || q.Left < best.Left {
			best = q
		}
	}
	return best
}

// Found is where answers lead: the passes that agree most with them, and what is asked next.
type Found struct {
	Fits   []int     // numbers of passes knitted; nil: more than one answer must be otherwise
	Slip   bool      // each of them agrees with all answers but one
	Ask    *Question // nil: nothing that is seen would tell more
	Second bool      // it is asked to see whether an answer was a slip
	Beside []int     // as many passes knitted would explain all answers but one, and nothing else tells them from these
}

// enough answers agree: nobody is asked to look once more.
const enough = 4

// Find says where answers lead. Where they settle a place, a second look is asked for that tells most against a slip
// in one of them, until no slip is left that anything would show. Where they contradict each other it goes by all but
// one, and asks what tells which.
func Find(all []Standing, told []Answer, unknown []Fact) (p Found) {
	var slips, far []int
	for n, s := range all {
		switch missed := Missed(s, told); {
		case len(missed) == 0:
			p.Fits = append(p.Fits, n)
		case len(missed) == 1 && near(missed[0].Value, s[missed[0].Fact]):
			slips = append(slips, n)
		case len(missed) == 1:
			far = append(far, n)
		}
	}
	if p.Fits == nil {
		if p.Fits = slips; p.Fits == nil {
			p.Fits = far
		}
		p.Slip = true
	}
	if len(p.Fits) > 1 {
		p.Ask = Next(all, p.Fits, told, unknown)
	}
	if p.Ask == nil && p.Fits != nil && !p.Slip {
		p.Beside = slips
		if len(told) >= enough {
			return p
		}
		if p.Ask = second(all, p.Fits[0], slips, told, unknown); p.Ask != nil {
			p.Second = true
		}
	}
	return p
}

// Missed are the answers that are not true of a standing.
func Missed(s Standing, told []Answer) (list []Answer) {
	for _, a := range told {
		if s[a.Fact] != "" && s[a.Fact] != a.Value {
			list = append(list, a)
		}
	}
	return list
}

// near says that one answer may be a slip for the other: numbers and needles that are at most two apart, or words.
func near(a, b string) bool {
	x, bad := strconv.Atoi(a)
	y, worse := strconv.Atoi(b)
	if bad != nil || worse != nil {
		i, bad := machine.ParseNeedle(a)
		j, worse := machine.ParseNeedle(b)
		if bad != nil || worse != nil {
			return true
		}
		x, y = int(i), int(j)
	}
	return max(x-y, y-x) <= 2
}

// second is the look that tells a place from the most of those that one slip away explain what was answered; nil
// where none would tell it from any.
func second(all []Standing, at int, slips []int, told []Answer, unknown []Fact) *Question {
	best, most := Fact(""), 0
	for _, fact := range Facts {
		if all[at][fact] == "" || asked(fact, told, unknown) {
			continue
		}
		tells := 0
		for _, n := range slips {
			if v := all[n][fact]; v != "" && v != all[at][fact] {
				tells++
			}
		}
		if tells > most {
			best, most = fact, tells
		}
	}
	if most == 0 {
		return nil
	}
	q := &Question{Fact: best}
	for _, s := range all { // all that it may be, so that what is true is among them
		if v := s[best]; v != "" && !slices.Contains(q.Values, v) {
			q.Values = append(q.Values, v)
		}
	}
	return q
}

func asked(fact Fact, told []Answer, unknown []Fact) bool {
	return slices.Contains(unknown, fact) || slices.ContainsFunc(told, func(a Answer) bool { return a.Fact == fact })
}

// CountFrom says how the place is found in the fabric where only a number tells it: from what last changed in it, so
// many rows up to the needles.
func CountFrom(pl *pass.Plan, n int) string {
	for i := n - 1; i > 0; i-- {
		was, is := &pl.Passes[i-1], &pl.Passes[i]
		what := ""
		if was.Course == is.Course { // in the middle of a row nothing is seen to begin
			continue
		}
		switch a, b := fed(pl, i-1), fed(pl, i); {
		case was.Section != is.Section:
			what = "the section " + pl.Title(is) + " begins"
		case !slices.Equal(a, b):
			what = "the yarn is changed"
		case was.Main().AtWork != is.Main().AtWork:
			what = "the edge moves"
		case was.Main().Setting.Key != is.Main().Setting.Key:
			what = "the cams are changed"
		default:
			continue
		}
		return fmt.Sprintf("Count in the fabric: %s before pass %d, and from there up to the needles there must be %s.",
			what, i+1, words.Count(rows(pl, i, n), "row", "rows"))
	}
	return fmt.Sprintf("Count in the fabric: from the cast-on up to the needles there must be %s.",
		words.Count(rows(pl, 0, n), "row", "rows"))
}

// rows is how many rows of fabric passes from the i-th to before the n-th (indexes) make, whichever part they are of.
func rows(pl *pass.Plan, i, n int) (many int) {
	last := 0
	if i > 0 {
		last = pl.Passes[i-1].Course
	}
	for ; i < n; i++ {
		if c := pl.Passes[i].Course; c > 0 && c != last {
			many, last = many+1, c
		}
	}
	return many
}

// Words are how a fact is asked for, and an answer said.
func (f Fact) Words() string {
	return map[Fact]string{Side: "On which side does the carriage stand?", Carriage: "Which carriage worked last?",
		Counter: "What does the row counter show?", Window: "Which number stands in the card's window?",
		Yarn:    "What is threaded?",
		Forward: "How many needles stand forward?", Held: "How many needles wait in full hold?",
		AtWork: "How many needles carry the work?",
		Empty:  "How many needles at work hold no loop?", First: "Which is the leftmost needle that stands forward?",
		Hole:    "Which is the leftmost needle at work without a loop?",
		Doubled: "How many needles carry more than one loop?",
		Edges:   "Which are the outermost needles that carry the work?"}[f]
}

// Noun is the thing that a fact is read off.
func (f Fact) Noun() string {
	switch f {
	case Counter:
		return "the counter"
	case Window:
		return "the card's window"
	case Side, Carriage:
		return "the carriage"
	case Yarn:
		return "the yarn"
	}
	return "the needles"
}

func (a Answer) String() string {
	return fmt.Sprintf(map[Fact]string{Side: "the carriage on the %s", Carriage: "the %s carriage last",
		Counter: "%s on the counter",
		Window:  "number %s in the window", Yarn: "%s threaded", Forward: "%s needles forward",
		Held: "%s in full hold", AtWork: "%s needles at work",
		Empty: "%s empty", First: "%s the leftmost forward", Hole: "%s the leftmost without a loop",
		Doubled: "%s with more than one loop", Edges: "the work from %s"}[a.Fact], a.Value)
}
