package outline_test

import (
	"fmt"

	"vindel/knit/outline"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

func Example() {
	for _, e := range outline.Of(plan.Make(piecetest.Tour())).Edges {
		fmt.Println(e)
	}
	// Output:
	// Cast-on: 8 stitches, 29 mm
	// Left, rows 1 to 5: 12 mm
	// Right, rows 1 to 5: 12 mm
	// Top, row 5: 8 stitches, 29 mm
}
