package step

import (
	"fmt"

	"vindel/knit/piece"
)

// Reform drops stitches and latches them back as purl.
type Reform struct{ At }

func (Reform) Do() Do { return DoReform }

func (s Reform) Say(*piece.Piece) string {
	return fmt.Sprintf("Reform %s as purl, with the latch tool: %v", s.stitches(), s.On)
}

func (s Reform) Short(*piece.Piece) string { return fmt.Sprintf("reform %d as purl", s.On.Len()) }
func (Reform) Event() Event                { return OfStitches }
func (s Reform) Uses() int                 { return s.On.Len() }
func (s Reform) Act(at Standing)           { at.Reform(s.On) }
