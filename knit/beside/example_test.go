package beside_test

import (
	"fmt"

	"vindel/knit/beside"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

func Example() {
	pl := plan.Make(piecetest.Tour())
	f := technique.Prove(pl)
	for _, st := range beside.Before(f, 2).Steps {
		fmt.Println(st.Say(pl.Piece))
	}
	for _, e := range beside.Events(pl, 2, 3) {
		fmt.Println(e)
	}
	// Output:
	// Release the card
	// Set the cams: two-colour (needles at rest take feeder 1, needles forward feeder 2)
	// Thread slate in feeder 2
	// in 2 passes, at 4: selecting off
	// in 3 passes, at 5: the last pass is knitted
}
