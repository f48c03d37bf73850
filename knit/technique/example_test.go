package technique_test

import (
	"fmt"
	"strings"

	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

func Example() {
	var names []string
	for _, x := range technique.All {
		names = append(names, x.Name)
	}
	fmt.Println(strings.Join(names, ", "))
	fmt.Println(technique.Prove(plan.Make(piecetest.Tour())).Matches())
	// Output:
	// plain, two-colour, slip, tuck, lace, weave, intarsia, texture, separated, plated, recipe
	// true
}
