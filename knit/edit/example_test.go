package edit_test

import (
	"fmt"

	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

func Example() {
	doc, _ := edit.Parse(piecetest.TourFile)
	back, err := doc.Apply(edit.Set("/sections/0/rows", 4))
	if err != nil {
		fmt.Println(err)
	}
	p, _ := technique.Piece(doc)
	fmt.Println(p.Sections[0].Rows, "rows")
	doc.Apply(back) // undo is the same code as do
	p, _ = technique.Piece(doc)
	fmt.Println(p.Sections[0].Rows, "rows")
	// Output:
	// 4 rows
	// 2 rows
}
