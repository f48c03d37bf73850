package lost_test

import (
	"slices"
	"testing"

	"vindel/demo/pieces"
	"vindel/knit/check"
	"vindel/knit/lost"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// mostQuestions are those after which the pass is known.
const mostQuestions = 6

// TestFound: from truthful answers every pass of every piece of Larkmoor is found in six questions: one is
// left, or those that are left look the same in everything that can be seen. The questions are a tree, of
// which every branch is walked.
func TestFound(t *testing.T) {
	asked, passes, most := 0, 0, 0
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		all := lost.Standings(check.Run(p).Fabric)
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
				by[all[n][q.Fact]] = append(by[all[n][q.Fact]], n)
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
	told := []lost.Answer{{Fact: lost.Counter, Value: all[4][lost.Counter]}, {Fact: lost.Side, Value: all[3][lost.Side]}, {Fact: lost.Yarn, Value: all[4][lost.Yarn]}}
	if fits := lost.Fits(all, told); len(fits) != 0 {
		t.Fatalf("%v fit", fits)
	}
	doubts := lost.Doubts(all, told)
	if len(doubts) != 2 || doubts[0].Answer.Fact == lost.Yarn || doubts[1].Answer.Fact == lost.Yarn || doubts[0].Fits != 1 {
		t.Errorf("%v", doubts)
	}
	if lost.Doubts(all, told[:1]) != nil {
		t.Error("what fits is doubted")
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
	two := []lost.Standing{{lost.Counter: "1"}, {lost.Counter: "1", lost.Window: "3"}, {lost.Counter: "1", lost.Window: "4"}}
	if fits := lost.Fits(two, []lost.Answer{{Fact: lost.Window, Value: "3"}}); len(fits) != 2 {
		t.Errorf("number 3 in the window: %v fit", fits)
	}
	for _, fact := range lost.Facts {
		if fact.Words() == "" || (lost.Answer{Fact: fact, Value: "x"}).String() == "x" {
			t.Errorf("%s has no words", fact)
		}
	}
}
