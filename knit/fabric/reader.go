package fabric

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// reader is what drives the selection of the knit carriage: the cards or programs as they
// are made from the plan, the one that is in, the line that is read next, and the switches.
type reader struct {
	lines   [][]machine.Set // by section and line, both from 0
	section int             // whose is in, from 1; 0: none
	next    int             // the line to be read next, from 1

	selecting, ends bool
}

func newReader(pl *pass.Plan) *reader {
	r := &reader{lines: make([][]machine.Set, len(pl.Lines))}
	for i, n := range pl.Lines {
		r.lines[i] = make([]machine.Set, n)
	}
	made := make([]int, len(pl.Lines)) // lines of each that are made
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Own == made[max(p.Section, 1)-1]+1 && p.Own > 0 && p.Section > 0 {
			made[p.Section-1]++
			r.lines[p.Section-1][p.Own-1] = p.Main().Line
		}
	}
	return r
}

// set puts in the card or program of a section (from 1; 0: the one that is in) at a line.
func (r *reader) set(section, line int) {
	if section > 0 {
		r.section = section
	}
	r.next = line
}

// turn turns a switch.
func (r *reader) turn(c pass.Control, on bool) {
	switch c {
	case pass.Selecting:
		r.selecting = on
	case pass.EndNeedles:
		r.ends = on
	}
}

// reads says that the knit carriage reads a line on its way.
func (r *reader) reads() bool { return r.selecting && r.section > 0 && len(r.lines[r.section-1]) > 0 }

// read is the needles at work that the next line brings forward, and which line that is;
// 0 where none is read.
func (r *reader) read(work machine.Set) (forward machine.Set, line int) {
	if !r.reads() {
		return machine.Set{}, 0
	}
	lines := r.lines[r.section-1]
	line = (r.next-1)%len(lines) + 1
	forward, r.next = lines[line-1], line+1
	if r.ends && !work.Empty() {
		forward = forward.Or(machine.SetOf(work.First(), work.Last()))
	}
	return forward.And(work), line
}
