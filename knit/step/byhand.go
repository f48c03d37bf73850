package step

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// KnitByHand knits a row of the main bed with the end of a yarn, from a side: short stitches on the needles that it
// is about, long ones on others. Course is the row of fabric that it makes, from 1.
type KnitByHand struct {
	At
	Long   machine.Set
	Yarn   piece.YarnNo
	Name   string // the thread's
	From   machine.Side
	Course int
}

func (KnitByHand) Do() Do         { return DoKnitByHand }
func (s KnitByHand) Touches() int { return s.On.Or(s.Long).Len() }

func (s KnitByHand) Say(p *piece.Piece) string {
	var parts []string
	if !s.On.Empty() {
		parts = append(parts, "short on "+s.On.Words())
	}
	if !s.Long.Empty() {
		parts = append(parts, "long on "+s.Long.Words())
	}
	return fmt.Sprintf("Knit by hand with the end of %s, from the %v: %s", p.YarnName(s.Yarn), s.From,
		strings.Join(parts, ", "))
}

func (s KnitByHand) Short(p *piece.Piece) string {
	return fmt.Sprintf("by hand in %s: %d", p.YarnName(s.Yarn), s.On.Or(s.Long).Len())
}

func (s KnitByHand) Others() machine.Set              { return s.Long }
func (s KnitByHand) Rests(machine.Across) machine.Set { return s.On.Or(s.Long) }
func (s KnitByHand) Act(at Standing)                  { at.KnitByHand(s) }

func (s KnitByHand) JSON(p *piece.Piece, j *JSON) {
	j.Yarn, j.Thread, j.From = p.YarnID(s.Yarn), s.Name, s.From.String()
	j.Short, j.Long = s.On.String(), s.Long.String()
}
