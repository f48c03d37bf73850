package plan_test

import (
	"fmt"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// TestOffers: what each way is said to take is what the plan does.
func TestOffers(t *testing.T) {
	for _, id := range machine.IDs() {
		p := piecetest.New(t, id, "L6", "R6", []string{"#."}, edit.Change{Op: edit.Replace, Path: "/sections/0",
			Value: map[string]any{"technique": "plain", "rows": 4, "size": "6"}})
		for _, w := range plan.BeginWays(p) {
			if w.Lacks != "" {
				if p.Machine.HasSecond() || w.Way != "two-bed" {
					t.Errorf("%s, %s: lacks %s", id, w.Way, w.Lacks)
				}
				continue
			}
			pl := plan.Make(piecetest.New(t, id, "L6", "R6", []string{"#."}, edit.Change{Op: edit.Replace,
				Path: "/sections/0", Value: map[string]any{"technique": "plain", "rows": 4, "size": "6"}},
				piecetest.Set("/begin", map[string]any{"way": w.Way, "yarn": "D"})))
			n, side := 0, machine.Right
			for i := range pl.Passes {
				if pl.Passes[i].Section == 0 {
					n, side = n+1, pl.Passes[i].Dir
				}
			}
			if n != w.Passes || side != w.Side {
				t.Errorf("%s, %s: %d passes, then on the %v; it is said to be %d and %v", id, w.Way, n, side,
					w.Passes, w.Side)
			}
		}
		for _, w := range plan.EndWays(p) {
			end := map[string]any{"way": w.Way}
			if w.Way == "waste" {
				end["yarn"] = "D"
			}
			pl := plan.Make(piecetest.New(t, id, "L6", "R6", []string{"#."}, edit.Change{Op: edit.Replace,
				Path: "/sections/0", Value: map[string]any{"technique": "plain", "rows": 4, "size": "6"}},
				piecetest.Set("/end", end)))
			if n := len(pl.Passes) - 4; n != w.Passes {
				t.Errorf("%s, %s: %d passes, it is said to be %d", id, w.Way, n, w.Passes)
			}
		}
	}
}

// TestRibsEnd: a rib may stand beyond the needles that either bed has else; every finish takes it off.
func TestRibsEnd(t *testing.T) {
	for rib, ends := range map[string][2]string{"1x1": {"L10", "R10"}, "2x1": {"L12", "R12"}} {
		for _, way := range []string{"latch", "drop", "join", "hook", "chain"} {
			p := piecetest.New(t, "two-bed-pairs", ends[0], ends[1], []string{"."}, piecetest.Set("/begin",
				map[string]any{"way": "two-bed"}), piecetest.Set("/end", map[string]any{"way": way}),
				piecetest.Set("/sections", []any{map[string]any{"technique": "plain", "rows": 4, "rib": rib}}))
			pl := plan.Make(p)
			if off := len(pl.After); off == 0 || pl.Refused != nil {
				t.Errorf("%s, %s: %d steps after the last pass, %v", rib, way, off, pl.Refused)
			}
		}
	}
}

// TestLooseLast: before stitches are drawn through others the last row is knitted loosely, and no pass is added for it.
func TestLooseLast(t *testing.T) {
	for _, c := range []struct{ way, size, want string }{
		{"join", "", "6: Stitch size 8; Second bed: stitch size 8"}, {"join", "9.5", "6: Stitch size 9.5; Second bed: stitch size 9.5"},
		{"hook", "", ""}, {"hook", "7", "6: Stitch size 7; Second bed: stitch size 7"},
		{"chain", "7", "6: Stitch size 7; Second bed: stitch size 7"},
		{"chain", "6", ""}, {"drop", "7", ""},
	} {
		end := map[string]any{"way": c.way}
		if c.size != "" {
			end["size"] = c.size
		}
		p := piecetest.New(t, "two-bed-pairs", "L6", "R6", []string{"#."}, piecetest.Set("/end", end),
			piecetest.Set("/sections", []any{map[string]any{"technique": "plain", "rows": 6, "size": "6", "second": "every"}}))
		pl := plan.Make(p)
		var said []string
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if step.Is[step.Size](st.Step) && i > 0 {
					said = append(said, st.Say(p))
				}
			}
			if len(said) > 0 && !strings.Contains(said[0], ": Stitch") {
				said[0] = fmt.Sprintf("%d: %s", i+1, said[0])
			}
		}
		if got := strings.Join(said, "; "); got != c.want || len(pl.Passes) != 6 {
			t.Errorf("%s %q: %q, %d passes", c.way, c.size, got, len(pl.Passes))
		}
	}
}

// TestWasteOff: the waste yarn of the beginning comes off once its loops are hung up again, and the cord is pulled first.
func TestWasteOff(t *testing.T) {
	for cord, want := range map[bool]string{true: "Pull the cord out", false: "Ravel the waste yarn of the beginning"} {
		pl := plan.Make(piecetest.New(t, "card-preselect", "L6", "R6", []string{"#."}, piecetest.Set("/begin",
			map[string]any{"way": "waste", "yarn": "B", "cord": cord}), piecetest.Set("/end", map[string]any{"way": "join"})))
		var said []string
		for _, st := range pl.After {
			said = append(said, st.Say(pl.Piece))
		}
		all := strings.Join(said, "; ")
		hung, off := strings.Index(all, "Hang the loops"), strings.Index(all, want)
		if hung < 0 || off < hung || strings.Index(all, "Pull each stitch") < off {
			t.Error(all)
		}
	}
}

// TestFirstLoops: a second bed that begins in mid-piece needs no hand to cast on: the next pass makes its first loops;
// where the piece begins on both beds it is cast on by turns.
func TestFirstLoops(t *testing.T) {
	plain := func(more ...any) map[string]any {
		s := map[string]any{"technique": "plain", "rows": 3}
		for i := 0; i < len(more); i += 2 {
			s[more[i].(string)] = more[i+1]
		}
		return s
	}
	for _, c := range []struct {
		sections []any
		want     string
	}{
		{[]any{plain(), plain("second", "every")}, "4: Bring L6-R5 of the second bed into work, empty: their first loops " +
			"are knitted"},
		{[]any{plain("second", "every"), plain()}, "1: Cast on 11 stitches of the second bed, by turns with the main bed's, " +
			"L6-R5, in yarn A"},
	} {
		p := piecetest.New(t, "two-bed-pairs", "L6", "R6", []string{"#."}, piecetest.Set("/sections", c.sections))
		pl := plan.Make(p)
		var said []string
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if text := st.Say(p); st.Bed() == machine.Second && (st.Do() == step.DoCastOn || st.Do() == step.DoToWork) {
					said = append(said, fmt.Sprintf("%d: %s", i+1, text))
				}
			}
		}
		if got := strings.Join(said, "; "); got != c.want || !technique.Prove(pl).Matches() {
			t.Error(got)
		}
	}
}

// TestBareBehind: needles that have come into work, and never knitted, have no stitches that could go across.
func TestBareBehind(t *testing.T) {
	for rows, want := range map[int]int{1: 5, 2: 11} {
		p := piecetest.New(t, "two-bed-pairs", "L6", "R6", []string{"#."}, piecetest.Set("/sections", []any{
			map[string]any{"technique": "plain", "rows": 2},
			map[string]any{"technique": "plain", "rows": rows, "second": "birdseye"},
			map[string]any{"technique": "plain", "rows": 2}}))
		pl := plan.Make(p)
		moved := -1
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if step.Is[step.Across](st.Step) {
					moved = st.Needles().Len()
				}
			}
		}
		if f := technique.Prove(pl); moved != want || !f.Matches() {
			t.Errorf("%d rows: %d go across, %s %v", rows, moved, f.First, f.Faults)
		}
	}
}
