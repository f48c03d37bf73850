package fabric

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// reader is what drives the selection of the knit carriage: the cards or programs, the one
// that is in, the line that is read next, and the switches.
type reader struct {
	lines   [][]machine.Set // by section and line, both from 0
	round   []bool          // by section: after its last line comes the first again
	section int             // whose is in, from 1; 0: none
	next    int             // the line to be read next, from 1

	selecting, ends bool

	taken int         // of a reader that gives lines two passes: the line that it took last
	pair  machine.Set // and what it has set with it, for the way left and the way right
}

func newReader(pl *pass.Plan) *reader {
	r := &reader{lines: pl.Programs, round: make([]bool, len(pl.Placed))}
	for i, s := range pl.Placed {
		r.round[i] = s.Section.Joined || !pl.Piece.Machine.HasCard()
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
func (r *reader) turn(c step.Control, on bool) {
	switch c {
	case step.Selecting:
		r.selecting = on
	case step.EndNeedles:
		r.ends = on
	}
}

// reads says that the knit carriage reads a line on its way.
func (r *reader) reads() bool { return r.selecting && r.section > 0 && len(r.lines[r.section-1]) > 0 }

// take is what the next line selects, and which line that is; 0 where there is none: a
// program goes round, and so does a card that is joined, but another has run out.
func (r *reader) take() (selected machine.Set, line int) {
	if r.section == 0 || len(r.lines[r.section-1]) == 0 {
		return machine.Set{}, 0
	}
	lines := r.lines[r.section-1]
	if r.next > len(lines) {
		if !r.round[r.section-1] {
			return machine.Set{}, 0
		}
		r.next = 1
	}
	line, r.next = r.next, r.next+1
	return lines[line-1], line
}

// read is the needles at work that the knit carriage brings forward as it reads the next
// line, and which line that is; 0 where none is read.
func (r *reader) read(work machine.Set) (forward machine.Set, line int) {
	if !r.reads() {
		return machine.Set{}, 0
	}
	forward, line = r.take()
	if r.ends && !work.Empty() {
		forward = forward.Or(machine.SetOf(work.First(), work.Last()))
	}
	return forward.And(work), line
}
