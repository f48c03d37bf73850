package bed_test

import (
	"fmt"

	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

func Example() {
	s := plan.Make(piecetest.Tour()).Section(2) // drift
	fmt.Println("the yarns of row 1 from L4 on:", s.YarnRow(1))
	name, column, row := s.Source(machine.R(1), 2)
	fmt.Printf("R1 in row 2 is column %d, row %d of %s\n", column, row, name)
	// Output:
	// the yarns of row 1 from L4 on: [2 2 1 1 2 2 1 1]
	// R1 in row 2 is column 1, row 2 of drift
}
