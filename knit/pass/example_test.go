package pass_test

import (
	"fmt"

	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

func Example() {
	for i, p := range plan.Make(piecetest.Tour()).Passes[:4] {
		fmt.Printf("pass %d %s, counter %d: forward %v, feeders %d and %d\n", i+1, p.Dir.Arrow(), p.Counter, p.Main().Select,
			p.Yarn(1), p.Yarn(2))
	}
	// Output:
	// pass 1 ←, counter 1: forward , feeders 1 and 0
	// pass 2 →, counter 2: forward , feeders 1 and 0
	// pass 3 ←, counter 3: forward L4-L3,R1-R2, feeders 1 and 2
	// pass 4 →, counter 4: forward L3-L2,R2-R3, feeders 1 and 2
}
