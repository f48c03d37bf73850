package step

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Inspect looks which needles are empty (those that it is about) and which doubled.
type Inspect struct {
	At
	Doubled machine.Set
}

func (Inspect) Do() Do { return DoInspect }

func (s Inspect) Say(*piece.Piece) string {
	var parts []string
	if !s.On.Empty() {
		parts = append(parts, fmt.Sprintf("empty %v", s.On))
	}
	if !s.Doubled.Empty() {
		parts = append(parts, fmt.Sprintf("doubled %v", s.Doubled))
	}
	return "Look: " + strings.Join(parts, ", ") + ", the others one loop each"
}

func (Inspect) Short(*piece.Piece) string { return "look" }

func (s Inspect) JSON(p *piece.Piece, j *JSON) {
	s.At.JSON(p, j)
	j.Doubled = s.Doubled.String()
}

// Look looks at what a recipe says.
type Look struct {
	plain
	For string
}

func (Look) Do() Do                    { return DoInspect }
func (s Look) Say(*piece.Piece) string { return "Look: " + s.For }
func (Look) Short(*piece.Piece) string { return "look" }
