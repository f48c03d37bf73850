package finding_test

import (
	"fmt"

	"vindel/knit/check"
	"vindel/knit/piecetest"
)

func Example() {
	p := piecetest.Tour()
	p.Limits.Float = 1
	for _, f := range check.Run(p).Findings {
		fmt.Printf("%s %s: %s\n", f.Severity, f.Code, f.Text)
	}
	// Output:
	// warn faces-away: drift is drawn as seen on the purl side; on the knit side, which is the outside when worn, it reads backwards.
	// warn float-long: Rows 1 to 3: oat floats up to 2 stitches, 7 mm, behind R1 to R2, and over the limit in 1 more place. The limit is 1: it will snag.
	// warn float-long: Rows 1 to 3: slate floats up to 2 stitches, 7 mm, behind L2 to L1. The limit is 1: it will snag.
	// note motif-alone: Oat turns at L2,R2, away from the edge of the work: a motif that stands alone.
}
