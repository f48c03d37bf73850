package chart_test

import (
	"fmt"

	"vindel/knit/chart"
)

func Example() {
	c, err := chart.FromRows([]string{"..##", ".##.", "##.."}) // the top row first
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%d columns, %d rows; the first stitch of row 1 is %c\n", c.W, c.H, c.Keys[c.At(0, 0)])
	// Output:
	// 4 columns, 3 rows; the first stitch of row 1 is #
}
