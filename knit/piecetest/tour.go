package piecetest

import (
	_ "embed"

	"vindel/knit/piece"
	"vindel/knit/technique"
)

// TourFile is the small piece that docs/tour.md follows from its file to a knitted pass, and most examples with it.
//
//go:embed tour.vindel.json
var TourFile []byte

// Tour is that piece.
func Tour() *piece.Piece {
	p, err := technique.Read(TourFile)
	if err != nil {
		panic(err)
	}
	return p
}
