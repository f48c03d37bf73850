package lost_test

import (
	"fmt"

	"vindel/knit/lost"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

func Example() {
	all := lost.Standings(technique.Prove(plan.Make(piecetest.Tour())))
	q := lost.Next(all, lost.Fits(all, nil), nil, nil)
	fmt.Printf("%d places; asked first: %s, one of %v, which leaves at most %d\n", len(all), q.Fact, q.Values, q.Left)
	// Output:
	// 6 places; asked first: counter, one of [0 1 2 3 4 5], which leaves at most 1
}
