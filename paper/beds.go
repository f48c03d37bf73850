package paper

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/recipe"
)

// BedsSVG is both beds as they stand in a recipe, each needle with what it holds: a ring is empty, a
// disc a loop, a disc with a rim more than one; a needle in hold stands out of the bed, one that is
// out of work is a stroke. A second bed without a needle in work is left out.
func BedsSVG(m *machine.Profile, s *recipe.State) []byte {
	const step, top = 5.0, 9.0
	all := s.Places[machine.Main].Or(s.Places[machine.Second])
	first, last := all.First(), all.Last()
	two := !s.Work[machine.Second].Or(s.Hold[machine.Second]).Empty()
	w, h := float64(last-first+3)*step, 24.0
	if two {
		h = 46
	}
	pen := newSVG(w, h)
	var b strings.Builder
	lie := machine.Across{Shift: s.Rack - m.RackCentre, Pitch: s.Pitch}
	for bed := range s.Places {
		if bed == int(machine.Second) && !two {
			continue
		}
		in := s.Work[bed].Or(s.Hold[bed])
		for n := range s.Places[bed].All() {
			x, y := (float64(n-first)+1.5)*step, top+22*float64(bed)
			if bed == int(machine.Second) {
				x = (float64(lie.Apart(n, 0))/2 - float64(first) + 1.5) * step
			}
			if !in.Has(n) {
				fmt.Fprintf(&b, `<path d="M%s %sv3" stroke="#b9b1a0" stroke-width=".5"/>`+"\n", number(x), number(y+6))
				continue
			}
			if s.Hold[bed].Has(n) {
				y += 4
			}
			fmt.Fprintf(&b, `<path d="M%s %sv8" stroke="#56625f" stroke-width=".7"/>`+"\n", number(x), number(y))
			fill, rim := "#2f6a60", "#2f6a60"
			switch {
			case !s.Holds[bed].Has(n):
				fill, rim = "#ffffff", "#56625f"
			case s.Over[bed].Has(n):
				fill, rim = "#1d2624", "#8a5a00"
			}
			fmt.Fprintf(&b, `<circle cx="%s" cy="%s" r="1.7" fill="%s" stroke="%s" stroke-width=".8"/>`+"\n",
				number(x), number(y), fill, rim)
		}
	}
	pen.b.WriteString(b.String())
	for _, n := range []machine.Needle{first, machine.L(1), last} {
		if s.Places[machine.Main].Has(n) {
			pen.text((float64(n-first)+1.5)*step, 4.6, 3.4, 0, true, Colour("#56625f"), n.String())
		}
	}
	return pen.bytes()
}
