package edit_test

import (
	"slices"
	"testing"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// TestMirrored: the mirror image of a piece comes off the machine as the mirror image of its fabric, row by row,
// with its repeat cut where the other's is, its motif and its edges on the other side.
func TestMirrored(t *testing.T) {
	for _, side := range []string{"knit", "purl"} {
		doc := piecetest.Document(t, "card-direct", "L9", "R6", []string{"#..#.", ".##..", "#...#"},
			piecetest.Set("/charts/c/side", side),
			piecetest.Set("/sections/0/rows", 12), piecetest.Area("first", "L7"), piecetest.Set("/needles/out", "L4"),
			piecetest.Set("/shape", []any{map[string]any{"side": "left", "rows": []int{3, 7}, "stitches": 2},
				map[string]any{"side": "right", "rows": []int{2, 9}, "stitches": -3, "fashion": 2},
				map[string]any{"split": 10, "left": "L3", "right": "R2", "first": "left"}}))
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		want := technique.Prove(plan.Make(p))
		changes, err := edit.Mirrored(p, "the other")
		if err != nil {
			t.Fatal(err)
		}
		if _, err := doc.Apply(changes); err != nil {
			t.Fatal(err)
		}
		other, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		got := technique.Prove(plan.Make(other))
		a, b := want.Draw(chart.PurlSide), got.Draw(chart.PurlSide)
		for i := range a {
			line := []byte(a[i])
			slices.Reverse(line)
			if !want.Matches() || !got.Matches() || len(a) != len(b) || string(line) != b[i] {
				t.Fatalf("%s side: %v %v %v; row %d from the top is %q, its mirror %q", side, want.First, got.First,
					got.Faults, i+1, a[i], b[i])
			}
		}
		if other.Name != "the other" {
			t.Errorf("it is called %q", other.Name)
		}
	}
}
