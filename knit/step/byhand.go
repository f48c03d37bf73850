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
	if along := s.along(); along != "" {
		return fmt.Sprintf("Knit by hand with the end of %s, from the %v: %s", p.YarnName(s.Yarn), s.From, along)
	}
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

// mostRuns is how many stretches of stitches alike a hand keeps in mind.
const mostRuns = 6

// along is what a hand does as it goes along the bed, "3 short, 3 long, 2 left alone, again and again", with where it
// begins and ends; "" where all stitches are alike, or no short run of them comes again.
func (s KnitByHand) along() string {
	all := s.On.Or(s.Long)
	if s.On.Empty() || s.Long.Empty() {
		return ""
	}
	var kinds []string // needle by needle, in the order of the hand
	from, to, by := all.First(), all.Last(), machine.Needle(1)
	if s.From == machine.Right {
		from, to, by = to, from, -1
	}
	for n := from; n != to+by; n += by {
		kind := "left alone"
		if s.On.Has(n) {
			kind = "short"
		} else if s.Long.Has(n) {
			kind = "long"
		}
		kinds = append(kinds, kind)
	}
	period := 1
	for ; period < len(kinds); period++ {
		again := true
		for i := period; i < len(kinds) && again; i++ {
			again = kinds[i] == kinds[i-period]
		}
		if again {
			break
		}
	}
	var runs []string
	for i := 0; i < period; {
		n := 1
		for i+n < period && kinds[i+n] == kinds[i] {
			n++
		}
		runs = append(runs, fmt.Sprint(n, " ", kinds[i]))
		i += n
	}
	if len(runs) > mostRuns {
		return ""
	}
	again := ""
	if period < len(kinds) {
		again = ", again and again"
	}
	return fmt.Sprintf("%s%s, from %v to %v (%d short, %d long)", strings.Join(runs, ", "), again, from, to, s.On.Len(),
		s.Long.Len())
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
