package acts_test

import (
	"fmt"
	"strings"

	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

func Example() {
	doc, _ := edit.Parse(piecetest.TourFile)
	doc.Apply(edit.Put("/sections/1", map[string]any{"technique": "recipe",
		"recipe": []string{"yarn A", "hold every 2", "pass 2", "work all", "pass"}}))
	p, err := technique.Piece(doc)
	if err != nil {
		fmt.Println(err)
		return
	}
	pl := plan.Make(p) // asks acts.Plan for the passes of the recipe
	_, text, _ := strings.Cut(pl.String(), "Section 2: ")
	for line := range strings.Lines(text) {
		fmt.Println(strings.TrimRight(line, " \n"))
	}
	// Output:
	// recipe, recipe
	//         - Put every 2, L4 to R3: 4 needles in full hold
	//         - Set the cams: holding on (needles in full hold wait)
	//     3  ←  row 1    counter 3    A      hold L4,L2,R1,R3
	//     4  →  row 2    counter 4    A      hold L4,L2,R1,R3
	//         - Put all: every 2nd needle from L4 to R3 (4) at rest
	//     5  ←  row 3    counter 5    A
	//         - Weights fall when the last stitches come off: take them off first, with a hand under them.
	//         - Take the weights and the comb off
	//         - Bind off 8 stitches: L4-R4
}
