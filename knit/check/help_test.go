package check_test

import (
	"encoding/json"

	"vindel/knit/piece"
	"vindel/knit/technique"
)

// mustRead makes a piece of a tree of plain values, as a file would hold it.
func mustRead(tree map[string]any) *piece.Piece {
	b, err := json.Marshal(tree)
	if err != nil {
		panic(err)
	}
	p, err := technique.Read(b)
	if err != nil {
		panic(err)
	}
	return p
}
