package plan_test

import (
	"testing"

	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
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
