package technique

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// laceLines numbers the lines that the carriages read in a lace section: one a pass of
// every carriage that advances the program, starting again with the pattern. A carriage
// that selects ahead reads the line of the pass after it.
func laceLines(m *machine.Profile, s *bed.Placed, passes []pass.Pass, from int) (lines int) {
	if m.Program == machine.NoProgram {
		return 0
	}
	ahead := m.Lace == "separate" || m.Lace == "hand" && m.School == machine.Preselect
	now := func(c machine.Carriage) bool { // it reads a line for the pass that it is on
		if c == machine.PurlCarriage {
			return !m.PurlAhead
		}
		return !ahead
	}
	before := func(i int) bool { // a pass before i has selected for it
		return i > 0 && m.Reads(passes[i-1].Carriage) && passes[i-1].Row() > 0 && !now(passes[i-1].Carriage)
	}
	again := s.Cycle // the rows after which the lines begin again: the fewest (rules 5.5, Smallest program)
	if !s.Section.IsLines() && s.Still() && s.Shaped(1) == nil {
		again = min(again, s.Again())
	}
	line, cycle := 0, -1
	for i := range passes {
		p := &passes[i]
		if c := (p.Row() - 1) / again; c != cycle {
			if line = 0; cycle < 0 {
				line = from
			}
			cycle = c
		}
		if !m.Reads(p.Carriage) || p.Row() == 0 { // an empty pass to the other side reads nothing
			continue
		}
		line++
		lines = max(lines, line)
		half := p.Main()
		p.Line, p.Own = line, line
		p.Ends = p.Carriage == machine.LaceCarriage && m.EndSwitch && s.Section.Options.EndNeedles == "auto"
		p.Lace.InProgram, p.Lace.Now, p.Lace.Reads = true, now(p.Carriage), drawn(p)
		if !p.Lace.Now {
			p.Lace.Reads = machine.Set{}
			if i+1 < len(passes) && m.Reads(passes[i+1].Carriage) && !now(passes[i+1].Carriage) {
				p.Lace.Reads = drawn(&passes[i+1])
			} else {
				p.Lace.Reads = p.Lace.Left
			}
			half.Sets = p.Lace.Reads
			// Where no reading pass comes before it, fingers set what it needs.
			if !half.Select.Empty() && !before(i) {
				half.ByHand = half.Select
				p.Add(step.BringForward{At: step.Main(half.Select)})
			}
		}
		// Fingers that have moved stitches undo what was selected there.
		var moved machine.Set
		for _, st := range p.Before {
			if lift, ok := st.Step.(step.Lift); ok {
				on := lift.Needles()
				moved = moved.Or(on).Or(on.Left(1)).Or(on.Right(1))
			}
		}
		if moved = moved.And(half.Select).Minus(half.ByHand); !moved.Empty() && !p.Lace.Now {
			p.Add(step.BringForward{At: step.Main(moved)})
		}
		explain(p)
	}
	return lines
}

// drawn is what the line of a pass selects, in all parts of a divided piece.
func drawn(p *pass.Pass) machine.Set { return p.Main().Select.Or(p.Lace.Drawn) }

// explain says why a line is there, once it is known what it selects.
func explain(p *pass.Pass) {
	switch l := &p.Lace; {
	case p.Carriage == machine.LaceCarriage && (l.Reads.Empty() || !l.Blank):
	case !l.Reads.Empty() && l.Now:
		l.Why, l.Blank = "purls "+words.Stitches(l.Reads.Len()), false
	case !l.Reads.Empty():
		l.Why, l.Blank, l.ForPurl = fmt.Sprintf("selects %s",
			words.Count(l.Reads.Len(), "purl stitch", "purl stitches")), false, true
	case p.Carriage == machine.PurlCarriage:
		l.Why, l.Blank = "blank: no purl stitch follows", true
	default:
		l.Why, l.Blank = "blank: this carriage moves the program on, and selects nothing", true
	}
}
