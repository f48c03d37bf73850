package card_test

import (
	"fmt"
	"strings"

	"vindel/knit/card"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

func Example() {
	made, _ := card.Make(plan.Make(piecetest.Tour()), 2)
	rows := strings.Split(made.Text(), "\n")
	for _, row := range rows[28:31] { // of those with a number the lowest: number 1 is read first
		fmt.Println(strings.TrimSpace(row))
	}
	// Output:
	// ........##..##..........	3
	// ..........##..##........	2
	// .........##..##.........	1
}
