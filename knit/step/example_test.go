package step_test

import (
	"fmt"

	"vindel/knit/piecetest"
	"vindel/knit/step"
)

func Example() {
	p := piecetest.Tour()
	st := step.Thread{Feeder: 2, Yarn: 2}
	fmt.Println(st.Say(p))
	fmt.Printf("on the rail %q; an event of the %s\n", st.Short(p), st.Event())
	// Output:
	// Thread slate in feeder 2
	// on the rail "thread slate in feeder 2"; an event of the yarn
}
