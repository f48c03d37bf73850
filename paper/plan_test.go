package paper

import (
	"fmt"
	"image/color"
	"slices"
	"strings"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

// written is a pen that keeps the words, sheet by sheet, and where the lowest stands.
type written struct {
	words  []string
	boxes  int
	lowest float64
}

func (w *written) fill(*path, color.RGBA)            {}
func (w *written) stroke(*path, color.RGBA, float64) {}
func (w *written) text(_, y, size float64, _ int, _ bool, _ color.RGBA, t string) {
	if w.lowest = max(w.lowest, y); size == 4.8 {
		w.boxes++ // the counter, beside its box
	}
	w.words = append(w.words, t)
}

// TestPlanOnPaper: the sheets of a plan account for every pass: those before which something is done, by what is done,
// and the others by how many there are; nothing is written below the sheet.
func TestPlanOnPaper(t *testing.T) {
	for _, profile := range []string{"hand-mid", "card-preselect", "two-bed-pairs"} {
		pl := plan.Make(piecetest.New(t, profile, "L12", "R12", []string{"#..#", ".##."},
			piecetest.Set("/sections/0/rows", 90),
			piecetest.Set("/shape", []any{map[string]any{"side": "both", "rows": []int{5, 80}, "stitches": -8}})))
		w := &written{}
		sheets := 1
		drawPlan(w, func() { sheets++ }, pl)
		passes := w.boxes
		for _, said := range w.words {
			n := 0
			if fmt.Sscanf(said, "%d passes", &n); n > 1 && strings.Contains(said, "passes, nothing changes") {
				passes += n - 1
			}
		}
		if passes != len(pl.Passes) || w.lowest > 294 || profile == "hand-mid" && sheets < 2 {
			t.Errorf("%s: %d of %d passes on %d sheets, down to %.0f mm", profile, passes, len(pl.Passes), sheets,
				w.lowest)
		}
		for i := range pl.Passes {
			if said := beside.RowOf(pl, &pl.Passes[i]).Text; strings.Contains(said, "narrow") &&
				!slices.Contains(w.words, wrap(said, 76)[0]) {
				t.Errorf("%s: %q is not on paper", profile, said)
			}
		}
	}
}
