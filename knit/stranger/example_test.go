package stranger_test

import (
	"fmt"

	"vindel/knit/stranger"
)

func Example() {
	k := stranger.Knitter{Hand: true}
	made, err := k.Knit(`
        - Thread oat
        - Set the cams: plain (every needle knits)
        - Cast on 4 stitches, L2-R2, in oat; hang the comb and weights
        - Set the row counter to 0
    1  ←  row 1    counter 1    A      
        - Put R2 in full hold
    2  →  row 2    counter 2    A      hold R2
`)
	fmt.Println(len(made), "pass:", made[0].Takes)
	fmt.Println(err)
	// Output:
	// 1 pass: map[{0 oat false}:[-2 -1 0 1]]
	// line 8, pass 2: what a needle does that stands so, nobody has said
}
