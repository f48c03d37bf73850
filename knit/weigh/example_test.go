package weigh_test

import (
	"context"
	"fmt"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
	"vindel/knit/weigh"
)

func ExampleOf() {
	doc, _ := edit.Parse(piecetest.TourFile)
	p, _ := technique.Piece(doc)
	list, _ := weigh.Of(context.Background(), doc, check.Run(p))
	for _, c := range list {
		fmt.Println(c.Title)
		for _, w := range c.Ways[1:] {
			fmt.Println("-", w.Text, "·", w.Costs.Than(c.Ways[0].Costs))
		}
	}
	// Output:
	// Section 2: its end needles
	// - always knit, by the machine's switch · 4 touches more
	// - always knit, brought forward by hand · 6 touches more
}
