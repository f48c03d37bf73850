package paper_test

import (
	"testing"

	"vindel/knit/chart"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
	"vindel/paper"
)

// BenchmarkFaces draws both faces of 140 stitches × 600 rows, as wide as a page shows them.
func BenchmarkFaces(b *testing.B) {
	p := piecetest.New(b, "card-preselect", "L70", "R70", []string{"#..#..", ".##...", "..#.##", "#....."},
		piecetest.Set("/sections/0/rows", 600))
	f := technique.Prove(plan.Make(p))
	for b.Loop() {
		for _, side := range []chart.Face{chart.KnitSide, chart.PurlSide} {
			if _, err := paper.FabricPNG(b.Context(), f, side, paper.Window{}, 4); err != nil {
				b.Fatal(err)
			}
		}
	}
}
