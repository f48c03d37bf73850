package beside_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// TestForwardNow: before a pass only what stands forward then is shown as forward; what a
// carriage brings forward as it passes is told apart.
func TestForwardNow(t *testing.T) {
	held := piecetest.Set("/options", map[string]any{"end_needles": "hand"})
	for _, c := range []struct {
		machine string
		edits   []edit.Change
		forward string
		comes   string
		see     string
	}{
		{"card-direct", nil, "", "L6,L3,R1,R4", "no needle forward, and 4 needles come forward as the carriage passes"},
		{"card-direct", []edit.Change{held}, "L6,R6", "L3,R1,R4",
			"L6,R6 forward, and 3 needles come forward as the carriage passes"},
		{"card-preselect", nil, "L6,L3,R1,R4", "", "4 needles forward, 8 at rest"},
		{"two-bed-pairs", nil, "", "L4,L1,R3,R6", "no needle forward, and 4 needles come forward"},
	} {
		pl := plan.Make(piecetest.New(t, c.machine, "L6", "R6", []string{"#.."}, append(c.edits, piecetest.Before(2,
			"A"))...))
		b := beside.Before(technique.Prove(pl), 2)
		var forward, comes machine.Set
		for _, n := range b.Needles {
			if n.Forward {
				forward.Add(n.At)
			}
			if n.Comes {
				comes.Add(n.At)
			}
		}
		see := ""
		for _, w := range b.See {
			see += w.Text
		}
		if forward.String() != c.forward || comes.String() != c.comes || !strings.Contains(see, c.see) {
			t.Errorf("%s: forward %v, coming %v; %s", c.machine, forward, comes, see)
		}
	}
}

// TestEvents: the next of every kind, so that a weight does not hide a yarn, the ends of
// repeats and sections among them; and how many passes can be knitted before hands are wanted.
func TestEvents(t *testing.T) {
	p := piecetest.New(t, "card-direct", "L6", "R6", []string{"+..", "#..", "#..", "#.."},
		piecetest.Set("/sections/0/rows", 8),
		piecetest.Set("/limits", map[string]any{"weights": 3}),
		piecetest.Set("/sections/-", map[string]any{"technique": "plain", "rows": 2, "yarn": "A", "name": "top"}))
	pl := plan.Make(p)
	want := []string{
		"[in 3 passes, at 3: yarn C for yarn B in feeder 2, weights up; in 4 passes, at 4: repeat 1 of 2 ends]",
		"[in 1 pass, at 7: yarn C for yarn B in feeder 2; in 2 passes, at 8: top begins, selecting off]"}
	for k, i := range []int{0, 6} {
		var got []string
		for _, e := range beside.Events(pl, i, 2) {
			got = append(got, e.String())
		}
		if text := "[" + strings.Join(got, "; ") + "]"; text != want[k] {
			t.Errorf("after pass %d: %s, want %s", i+1, text, want[k])
		}
	}
	var upto []int
	for i := range pl.Passes {
		upto = append(upto, beside.UpTo(pl, i))
	}
	if fmt.Sprint(upto) != "[3 2 1 1 2 1 1 1 1 1]" {
		t.Errorf("up to the next event: %v\n%s", upto, pl)
	}
	// What comes is looked for ten thousand passes ahead; the end is told from anywhere.
	far := plan.Make(piecetest.New(t, "hand-mid", "L3", "R3", []string{"#....."}, piecetest.Set("/sections/0",
		map[string]any{"technique": "plain", "rows": 10000, "yarn": "A"}), piecetest.Set("/limits", map[string]any{
		"weights": 9000})))
	for i, want := range []string{
		"[in 9000 passes, at 9000: weights up in 10001 passes, at 10001: the last pass is knitted]",
		"[in 8999 passes, at 9000: weights up in 9999 passes, at 10000: two-colour begins]"} {
		if got := fmt.Sprint(beside.Events(far, i, 2)); got != want {
			t.Errorf("after pass %d: %s, want %s", i+1, got, want)
		}
	}
	// Bobbins are laid by hand before every pass that knits them: no two such passes are one stretch.
	laid := plan.Make(piecetest.New(t, "hand-chunky", "L6", "R6", []string{"###...", "###...", "###...", "###..."},
		piecetest.Set("/sections/0/technique", "intarsia"), piecetest.Before(3, "A")))
	for i := range laid.Passes {
		n := beside.UpTo(laid, i)
		for k := i + 1; k < i+n; k++ {
			if len(laid.Passes[k].Lays) > 0 {
				t.Errorf("%d passes from pass %d on, and bobbins are laid before pass %d", n, i+1, k+1)
			}
		}
	}
	if !slices.ContainsFunc(laid.Passes, func(p pass.Pass) bool { return len(p.Lays) > 0 }) {
		t.Errorf("no bobbin is laid\n%s", laid)
	}
	if a, b := beside.RowsToRepeat(pl, 1); a != 4 || b != 12 {
		t.Errorf("one repeat: %d rows, one more: %d", a, b)
	}
}

// TestReading: a pass is named by the counter's reading before it, where it is set back too.
func TestReading(t *testing.T) {
	for policy, want := range map[string]string{"run": "[0 1 2 3 4 5]", "repeat": "[0 1 0 1 0 1]",
		"section": "[0 1 0 1 2 3]"} {
		pl := plan.Make(piecetest.New(t, "card-direct", "L6", "R6", []string{"#..", ".#."},
			piecetest.Set("/sections/0/rows", 4),
			piecetest.Set("/options", map[string]any{"counter": policy}), piecetest.Before(2, "A")))
		var got []int
		for i := range pl.Passes {
			got = append(got, beside.Reading(pl, i))
		}
		if fmt.Sprint(got) != want {
			t.Errorf("counter %s: %v, want %s", policy, got, want)
		}
	}
}

// TestStands: what the head of the page says of a carriage changes when hands move a lever or a dial, and never else;
// how far it is to anything says what it is.
func TestStands(t *testing.T) {
	still, moved, parts := 0, 0, 0
	for n := range chance.Cases(300) {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 91)))
		f := technique.Prove(plan.Make(p))
		last, power, sets := map[string]string{}, 0, false
		for i := range f.Plan.Passes {
			now := &f.Plan.Passes[i]
			touched := pass.Has[step.Cams](now.Before) || pass.Has[step.Size](now.Before)
			key := fmt.Sprint(now.Carriage, now.Second().AtWork.Empty(), now.Main().Size, now.Second().Size)
			b := beside.Before(f, i)
			if was, known := last[key]; known && !touched && b.Setting != was {
				t.Fatalf("piece %d, pass %d: %q, and was %q though nothing moved", n, i+1, b.Setting, was)
			} else if known && !touched {
				still++
			}
			if touched {
				clear(last)
				moved++
			}
			last[key] = b.Setting
			if u := b.Until; u.Rows > 0 && u.Text != "" && !strings.HasSuffix(u.String(), ": "+u.Text) {
				t.Fatalf("piece %d, pass %d: %v, and %q", n, i+1, u, u.Text)
			}
			for _, e := range b.Events {
				parts += strings.Count(e.Text, "2nd part")
				if e.Text == "2nd part" {
					t.Fatalf("piece %d, pass %d: nothing comes %d passes on: %q", n, i+1, e.Passes, e.Text)
				}
			}
			for _, st := range now.Before {
				if care, ok := st.Step.(step.Care); ok && care.Text == step.CarePower {
					power++
				}
				sets = sets || st.Do() == step.DoSetCard && p.Machine.Program == machine.Electronic
			}
		}
		if power > 1 || sets != (power == 1) {
			t.Fatalf("piece %d: the caution of power is given %d times; a program is set: %v", n, power, sets)
		}
	}
	if parts == 0 || still < chance.Share(1000, 300) || moved < chance.Share(300, 300) {
		t.Errorf("%d passes with nothing moved, %d with", still, moved)
	}
	pl := plan.Make(piecetest.New(t, "hand-mid", "L4", "R4", []string{".##."}))
	f := technique.Prove(pl)
	for i, want := range []string{"cams hold the forward ones",
		"cams ← hold the forward ones → slip the ones at rest"} {
		if got := beside.Before(f, i).Setting; got != want {
			t.Errorf("pass %d: %q", i+1, got)
		}
	}
}

// TestSeenBefore: where fingers set right what the card has brought, what stands before them is said, and what after.
func TestSeenBefore(t *testing.T) {
	seen := func(from, to string) string {
		pl := plan.Make(piecetest.New(t, "card-preselect", from, to, []string{"#..#"}, piecetest.Area("from", "L2"),
			piecetest.Area("to", "R2"), piecetest.Area("first", "L2"), piecetest.Before(2, "A")))
		text := ""
		for _, w := range beside.Before(technique.Prove(pl), 2).See {
			text += w.Text
		}
		return text
	}
	for _, c := range [][3]string{
		{"L30", "R30", "You should see 6 needles forward first, and once the steps are done 2 needles forward, 58 at rest"},
		{"L20", "R20", "You should see 2 needles forward, 38 at rest"},
	} {
		if got := seen(c[0], c[1]); !strings.HasPrefix(got, c[2]) {
			t.Errorf("%s to %s: %s", c[0], c[1], got)
		}
	}
}
