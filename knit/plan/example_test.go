package plan_test

import (
	"fmt"
	"strings"

	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

func Example() {
	for line := range strings.Lines(plan.Make(piecetest.Tour()).String()) {
		fmt.Println(strings.TrimRight(line, " \n"))
	}
	// Output:
	// drift pennant, on Punch card, selects a row ahead
	// 5 passes, 5 knitted, 2 threadings, 0 cuts
	//
	// Section 1: hem, plain
	//         - Latch hooks and moving carriages pinch: keep fingers and hair clear. Never force a carriage; check what caught, and the stitch size. Your machine's manual comes first.
	//         - Thread oat in feeder 1
	//         - Set the cams: plain (every needle knits)
	//         - Cast on 8 stitches, L4-R4, in oat; hang the comb and weights
	//         - Set the row counter to 0
	//     1  ←  row 1    counter 1    A
	//         - Put in the card of section 2, joined round the reader, at line 1: number 1 stands in the window
	//         - Lock the card for this pass
	//         - Turn the selecting on
	//     2  →  row 2    counter 2    A      reads line 1
	//
	// Section 2: drift, two-colour
	//         - Release the card
	//         - Set the cams: two-colour (needles at rest take feeder 1, needles forward feeder 2)
	//         - Thread slate in feeder 2
	//     3  ←  row 1    counter 3    A+B    forward L4-L3,R1-R2; reads line 2
	//     4  →  row 2    counter 4    A+B    forward L3-L2,R2-R3; reads line 3
	//         - Turn the selecting off
	//     5  ←  row 3    counter 5    A+B    forward L2-L1,R3-R4
	//         - Weights fall when the last stitches come off: take them off first, with a hand under them.
	//         - Take the weights and the comb off
	//         - Bind off 8 stitches: L4-R4
}
