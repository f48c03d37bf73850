package repeats_test

import (
	"fmt"

	"vindel/knit/repeats"
)

func Example() {
	r := repeats.All()[0]
	fmt.Printf("%s, %s: %d stitches by %d rows\n", r.Name, r.Technique, r.Chart.W, r.Chart.H)
	// Output:
	// Speckled eggs, two-colour: 8 stitches by 8 rows
}
