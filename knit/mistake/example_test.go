package mistake_test

import (
	"fmt"

	"vindel/knit/mistake"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

func Example() {
	pl := plan.Make(piecetest.Tour())
	for _, m := range mistake.All(pl, 3, 4)[:3] {
		fmt.Println(m.Say(pl))
	}
	// Output:
	// Pass 4 (row 2 of drift) was left out: the carriage stayed where it stood.
	// After pass 4 (row 2 of drift) the carriage went once more than planned.
	// From pass 4 (row 2 of drift) on, the card stood a line further on.
}
