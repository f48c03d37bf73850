package plan_test

import (
	"testing"

	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

// TestOddSizes: whatever stands on a dial, a piece begins and ends with it; sizes that a recipe can reckon with
// are a step or two looser at the end, others are left as they are.
func TestOddSizes(t *testing.T) {
	for _, size := range []string{"7", "7.2", "7.25", "10000000000000000000000000000000000000000", "1000", "1001",
		"-3", "NaN", "Inf", "two dots", "1e3", ""} {
		pl := plan.Make(piecetest.New(t, "hand-mid", "L6", "R6", []string{"..#", "#.."},
			piecetest.Set("/sections/0/size", size),
			piecetest.Set("/begin", map[string]any{"way": "waste", "yarn": "B"}), piecetest.Set("/end",
				map[string]any{"way": "latch"})))
		if pl.Stopped.Row > 0 || len(pl.Passes) < 10 {
			t.Errorf("size %q: %d passes, %v", size, len(pl.Passes), pl.Findings)
		}
	}
}
