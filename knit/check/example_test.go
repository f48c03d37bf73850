package check_test

import (
	"fmt"

	"vindel/knit/check"
	"vindel/knit/piecetest"
)

func Example() {
	r := check.Run(piecetest.Tour())
	fmt.Println("stops:", r.Stops())
	for _, f := range r.Findings {
		fmt.Println(f.OneLine())
	}
	// Output:
	// stops: false
	// warn	faces-away	2	1-3	L4-R4	drift is drawn as seen on the purl side; on the knit side, which is the outside when worn, it reads backwards.
}
