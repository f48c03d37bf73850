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
