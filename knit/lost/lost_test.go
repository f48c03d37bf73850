package lost_test

import (
	"slices"
	"strconv"
	"strings"
	"testing"

	"vindel/demo/pieces"
	"vindel/knit/check"
	"vindel/knit/fabric"
	"vindel/knit/lost"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// mostQuestions are those after which the pass is known.
const mostQuestions = 5

// seen is what she sees after each number of passes of a plan, read off the simulated bed and counted with her, and
// nothing of it taken from the plan's own halves: a value for every fact but the window's number.
func seen(pl *pass.Plan) []lost.Standing {
	r, counter := fabric.Begin(pl), 0
	all := []lost.Standing{{lost.Counter: "0"}}
	if len(pl.Passes) > 0 {
		all[0][lost.Side] = r.Stands(pl.Passes[0].Carriage).String()
	}
	label := func(on machine.Set) string {
		if on.Empty() {
			return "none"
		}
		return on.First().String()
	}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		for _, st := range p.Before {
			if st, ok := st.Step.(step.Counter); ok {
				counter = st.To
			}
		}
		purl := p.Carriage == machine.PurlCarriage
		if r.Next(); !p.Free && !p.Main().Setting.Moves && (p.Carriage == machine.KnitCarriage || purl) {
			counter++
		}
		work, hold, hangs := r.Bed()
		var yarns []string
		for k, y := range r.Feeders() {
			if y != 0 {
				yarns = append(yarns, pl.Piece.YarnName(y))
			} else if k < pl.Piece.Machine.Feeders {
				yarns = append(yarns, "none")
			}
		}
		all = append(all, lost.Standing{lost.Side: r.Stands(p.Carriage).String(), lost.Carriage: p.Carriage.String(),
			lost.Counter: strconv.Itoa(counter), lost.Yarn: strings.Join(yarns, " + "),
			lost.Forward: strconv.Itoa(r.Forward().Len()), lost.First: label(r.Forward()),
			lost.Held: strconv.Itoa(hold.Len()), lost.AtWork: strconv.Itoa(work.Len()),
			lost.Edges: label(work) + " to " + work.Last().String(),
			lost.Empty: strconv.Itoa(hangs.Empty.Len()), lost.Hole: label(hangs.Empty),
			lost.Doubled: strconv.Itoa(hangs.Doubled.Len())})
	}
	return all
}

// TestStandings: whatever is said to be seen after a pass is what the simulated bed shows then; and the window's
// number is not asked for where hands put a card in before the next pass.
func TestStandings(t *testing.T) {
	told := map[lost.Fact]int{}
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		r := check.Run(p)
		all, bed := lost.Standings(r.Fabric), seen(r.Plan)
		for n := range all {
			for _, f := range lost.Facts {
				if all[n][f] == "" || bed[n][f] == "" {
					continue
				}
				if told[f]++; all[n][f] != bed[n][f] {
					t.Errorf("%s, %d knitted: %s is said to be %s, and is %s", name, n, f, all[n][f], bed[n][f])
				}
			}
			if n < len(r.Plan.Passes) && all[n][lost.Window] != "" &&
				slices.ContainsFunc(r.Plan.Passes[n].Before, func(st pass.Step) bool { return st.Do() == step.DoSetCard }) {
				t.Errorf("%s, %d knitted: number %s is asked for, and the card goes in only then", name, n,
					all[n][lost.Window])
			}
		}
	}
	for _, f := range lost.Facts {
		if f != lost.Window && told[f] < 100 {
			t.Errorf("%s is told %d times", f, told[f])
		}
	}
}

// TestFound: from answers that are true of the simulated bed every pass of every piece of Larkmoor is found in five
// questions: one is left, or those that are left look the same in everything that can be seen. The questions are a
// tree, of which every branch is walked.
func TestFound(t *testing.T) {
	asked, passes, most := 0, 0, 0
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		r := check.Run(p)
		all, bed := lost.Standings(r.Fabric), seen(r.Plan)
		// walk asks on where `fits` agree with what is told; `mine` are those of which it is the truth.
		var walk func(fits, mine []int, told []lost.Answer, unknown []lost.Fact, questions int)
		walk = func(fits, mine []int, told []lost.Answer, unknown []lost.Fact, questions int) {
			q := lost.Next(all, fits, told, unknown)
			if q == nil || len(fits) == 1 {
				for _, n := range mine {
					for _, at := range fits {
						if !lost.Same(all[at], all[n]) {
							t.Fatalf("%s: %d knitted looks otherwise than %d", name, at, n)
						}
					}
					if !slices.Contains(fits, n) {
						t.Fatalf("%s, %d knitted: it is not among %v", name, n, fits)
					}
				}
				if questions > mostQuestions {
					t.Errorf("%s, %v knitted: %d questions", name, mine, questions)
				}
				asked, passes, most = asked+questions*len(mine), passes+len(mine), max(most, questions)
				return
			}
			by := map[string][]int{}
			for _, n := range mine {
				is, sees := bed[n][q.Fact]
				if !sees { // the window, which the bed does not have
					is = all[n][q.Fact]
				}
				by[is] = append(by[is], n)
			}
			for value, these := range by {
				if value == "" { // she cannot tell: another is asked
					walk(fits, these, told, append(slices.Clone(unknown), q.Fact), questions)
					continue
				}
				answers := append(slices.Clone(told), lost.Answer{Fact: q.Fact, Value: value})
				left := lost.Fits(all, answers)
				if len(left) >= len(fits) {
					t.Fatalf("%s: %s %s tells nothing", name, q.Fact, value)
				}
				walk(left, these, answers, unknown, questions+1)
			}
		}
		every := lost.Fits(all, nil)
		walk(every, every, nil, nil, 0)
	}
	t.Logf("%d passes, %.1f questions each, %d at most", passes, float64(asked)/float64(passes), most)
}

// TestContradiction: where answers cannot all be true no pass fits, and it is said which may be wrong.
func TestContradiction(t *testing.T) {
	p := piecetest.New(t, "card-preselect", "L8", "R8", []string{"..##", "#..#", ".##."}, piecetest.Before(3, "A"))
	all := lost.Standings(check.Run(p).Fabric)
	told := []lost.Answer{{Fact: lost.Counter, Value: all[4][lost.Counter]}, {Fact: lost.Side,
		Value: all[3][lost.Side]}, {Fact: lost.Yarn, Value: all[4][lost.Yarn]}}
	if fits := lost.Fits(all, told); len(fits) != 0 {
		t.Fatalf("%v fit", fits)
	}
	doubts := lost.Doubts(all, told)
	if len(doubts) != 2 || doubts[0].Answer.Fact == lost.Yarn || doubts[1].Answer.Fact == lost.Yarn ||
		doubts[0].Fits != 1 {
		t.Errorf("%v", doubts)
	}
	if lost.Doubts(all, told[:1]) != nil {
		t.Error("what fits is doubted")
	}
	// Of two answers that may be wrong the one without which fewer passes fit is the likelier slip, and comes first.
	three := []lost.Standing{{lost.Side: "left", lost.Counter: "1"}, {lost.Side: "left", lost.Counter: "2"},
		{lost.Side: "right", lost.Counter: "3"}}
	likely := lost.Doubts(three, []lost.Answer{{Fact: lost.Side, Value: "left"}, {Fact: lost.Counter, Value: "3"}})
	if len(likely) != 2 || likely[0].Answer.Fact != lost.Side || likely[0].Fits != 1 || likely[1].Fits != 2 {
		t.Errorf("%v", likely)
	}
	// Of questions that tell as much the quicker look is asked.
	even := []lost.Standing{{lost.Side: "left", lost.Counter: "1", lost.Forward: "4"}, {lost.Side: "right",
		lost.Counter: "2", lost.Forward: "5"}}
	if q := lost.Next(even, []int{0, 1}, nil, nil); q == nil || q.Fact != lost.Side {
		t.Errorf("side, counter and needles tell as much; asked first: %v", q)
	}
	// The most telling question comes first: no other leaves fewer.
	first := lost.Next(all, lost.Fits(all, nil), nil, nil)
	for _, fact := range lost.Facts {
		var others []lost.Fact
		for _, f := range lost.Facts {
			if f != fact {
				others = append(others, f)
			}
		}
		if q := lost.Next(all, lost.Fits(all, nil), nil, others); q != nil && q.Left < first.Left {
			t.Errorf("%s is asked and leaves %d; %s leaves %d", first.Fact, first.Left, fact, q.Left)
		}
	}
	// What cannot be told of a standing agrees with anything.
	two := []lost.Standing{{lost.Counter: "1"}, {lost.Counter: "1", lost.Window: "3"}, {lost.Counter: "1",
		lost.Window: "4"}}
	if fits := lost.Fits(two, []lost.Answer{{Fact: lost.Window, Value: "3"}}); len(fits) != 2 {
		t.Errorf("number 3 in the window: %v fit", fits)
	}
	for _, fact := range lost.Facts {
		if fact.Words() == "" || (lost.Answer{Fact: fact, Value: "x"}).String() == "x" {
			t.Errorf("%s has no words", fact)
		}
	}
}
