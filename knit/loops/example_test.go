package loops_test

import (
	"fmt"

	"vindel/knit/loops"
	"vindel/knit/machine"
)

func Example() {
	var b loops.Beds
	for _, n := range []machine.Needle{machine.L(1), machine.R(1)} {
		b.Lay(machine.Main, n, loops.Loop{Yarn: 1, Kind: loops.Cast})
		b.Draw(machine.Main, n, loops.Loop{Yarn: 1}) // a stitch, drawn through what lay there
	}
	b.Put(machine.Main, machine.R(1), b.Lift(machine.Main, machine.L(1)))
	fmt.Println(b.Holds[machine.Main], "holds", b.Len(machine.Main, machine.R(1)))
	// Output:
	// R1 holds 2
}
