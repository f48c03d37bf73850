package loom_test

import (
	"fmt"

	"vindel/knit/loom"
	"vindel/knit/piece"
)

func Example() {
	// Rows of A, then A with B, then B with C: which yarn goes in which feeder, with the fewest threadings?
	rows := []loom.Need{loom.Only(1), {Yarns: []piece.YarnNo{1, 2}, Free: true}, {Yarns: []piece.YarnNo{2, 3}, Free: true}}
	feeders, threadings := loom.Feeders(rows, false)
	fmt.Println(feeders, threadings, "threadings")
	// Output:
	// [[1] [1 2] [3 2]] 3 threadings
}
