package project_test

import (
	"fmt"

	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/project"
)

func Example() {
	for _, e := range project.Edges(plan.Make(piecetest.Tour())) {
		fmt.Printf("%s: %.0f mm\n", e.Key, e.MM)
	}
	// Output:
	// cast-on: 29 mm
	// left: 12 mm
	// right: 12 mm
	// top: 29 mm
}
