package lost_test

import (
	"testing"

	"vindel/knit/check"
	"vindel/knit/lost"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// mostQuestions are those after which the pass is known.
const mostQuestions = 6

// TestFound: from truthful answers every pass of every piece of Larkmoor is found in six questions: one is
// left, or those that are left look the same in everything that can be seen.
func TestFound(t *testing.T) {
	asked, passes, most := 0, 0, 0
	for name, data := range piecetest.Larkmoor(t) {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		all := lost.Standings(check.Run(p).Fabric)
		step := max(1, len(all)/120)
		for n := 0; n < len(all); n += step {
			var told []lost.Answer
			fits := lost.Fits(all, nil)
			questions := 0
			for q := lost.Next(all, fits, told, nil); q != nil; q = lost.Next(all, fits, told, nil) {
				var unknown []lost.Fact
				for q != nil && all[n][q.Fact] == "" { // she cannot tell: another is asked
					unknown = append(unknown, q.Fact)
					q = lost.Next(all, fits, told, unknown)
				}
				if q == nil {
					break
				}
				questions++
				told = append(told, lost.Answer{Fact: q.Fact, Value: all[n][q.Fact]})
				before := len(fits)
				if fits = lost.Fits(all, told); len(fits) >= before {
					t.Fatalf("%s, %d knitted: %s tells nothing", name, n, q.Fact)
				}
			}
			found := false
			for _, at := range fits {
				if found = found || at == n; !lost.Same(all[at], all[n]) {
					t.Errorf("%s: %d knitted looks otherwise than %d", name, at, n)
				}
			}
			if !found {
				t.Errorf("%s, %d knitted: it is not among %v", name, n, fits)
			}
			if questions > mostQuestions {
				t.Errorf("%s, %d knitted: %d questions", name, n, questions)
			}
			asked, passes, most = asked+questions, passes+1, max(most, questions)
		}
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
