package fabric_test

import (
	"fmt"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

func Example() {
	pl := plan.Make(piecetest.Tour())
	f := technique.Prove(pl)
	fmt.Println(strings.Join(f.Draw(chart.PurlSide), "\n"))
	fmt.Println(f.Differences, "differences")
	// Output:
	// AABBAABB
	// ABBAABBA
	// BBAABBAA
	// AAAAAAAA
	// AAAAAAAA
	// 0 differences
}
