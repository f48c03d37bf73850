package bed

import (
	"fmt"
	"strings"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Facing is the needles of the second bed that face one of the main bed which is in work too; at
// half pitch none does.
func Facing(second, main machine.Set, lie machine.Across) (facing machine.Set) {
	if lie.Pitch == machine.HalfPitch {
		return facing
	}
	for n := range second.All() {
		if main.Has(lie.Left(n)) {
			facing.Add(n)
		}
	}
	return facing
}

// collide stops a section whose two beds would run into each other (rules 5.10, Pitch and racking).
func (s *Placed) collide(p *piece.Piece) *finding.Finding {
	lie := p.Across()
	facing := Facing(s.Second, s.work, lie)
	if facing.Empty() {
		return nil
	}
	var pairs []string
	for n := range facing.All() {
		if len(pairs) == 4 && facing.Len() > 5 {
			pairs = append(pairs, fmt.Sprintf("and %d more", facing.Len()-4))
			break
		}
		pairs = append(pairs, fmt.Sprintf("%v and %v", n, lie.Left(n)))
	}
	fix := "Set the beds to half pitch; or take every other needle of each bed"
	for _, by := range []int{1, -1} {
		at := p.Second.Rack + by
		moved := machine.Across{Shift: lie.Shift + by, Pitch: lie.Pitch}
		if at >= p.Machine.Racks[0] && at <= p.Machine.Racks[1] && Facing(s.Second, s.work, moved).Empty() {
			fix += fmt.Sprintf("; or move the handle one position, to %d", at)
			break
		}
	}
	return &finding.Finding{Code: finding.BedsCollide, Severity: finding.Stop, Section: s.No, Rows: [2]int{1,
		s.Rows}, Needles: facing,
		Text: fmt.Sprintf("At full pitch %s face each other, and both are in work (second and main bed): %s.",
			words.Count(facing.Len(), "pair of needles", "pairs of needles"), strings.Join(pairs, ", ")),
		Fix: fix, Mend: finding.Always(edit.HalfPitch())}
}
