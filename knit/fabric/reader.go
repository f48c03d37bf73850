package fabric

import (
	"vindel/knit/card"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
)

// reader is what drives the selection of the carriages: the cards or programs as they are printed or keyed, the one that
// is in, the line that is read next, and the switches. It knows nothing of what the plan wishes of a line.
type reader struct {
	print   *pass.Plan
	count   []int       // lines, by section
	held    []card.Held // by section; nil: not read back yet
	lines   [][]machine.Set
	round   []bool // by section: after its last line comes the first again
	section int    // whose is in, from 1; 0: none
	next    int    // the line to be read next, from 1

	selecting bool                             // the knit carriage's switch
	ends      [machine.SecondCarriage + 1]bool // of each carriage: its end-needle switch is on
	turned    map[step.Console]bool            // of the console, each as On would turn it
	out       map[[2]int]machine.Set           // by section and line: what has been brought, as the console stands

	taken int         // of a reader that gives lines two passes: the line that it took last
	pair  machine.Set // and what it has set with it, for the way left and the way right
}

func newReader(pl *pass.Plan) *reader {
	r := &reader{print: pl, round: make([]bool, len(pl.Placed)), turned: map[step.Console]bool{}}
	if pl.Printed != nil {
		r.print = pl.Printed
	}
	r.reads(nil)
	for i, s := range pl.Placed {
		r.round[i] = s.Section.Joined || !pl.Piece.Machine.HasCard()
	}
	return r
}

// reads puts lines in the place of what is printed or keyed, by section; nil: that again.
func (r *reader) reads(lines [][]machine.Set) {
	r.lines, r.count, r.held = lines, make([]int, len(r.round)), make([]card.Held, len(r.round))
	r.out = map[[2]int]machine.Set{}
	if lines == nil {
		lines = r.print.Programs
	}
	for i := range lines {
		r.count[i] = len(lines[i])
	}
}

// set puts in the card or program of a section (from 1; 0: the one that is in) at a line.
func (r *reader) set(section, line int) {
	if section > 0 {
		r.section = section
	}
	r.next = line
}

// has says that there is something in, with lines.
func (r *reader) has() bool { return r.section > 0 && r.count[r.section-1] > 0 }

// take is what the next line selects, and which line that is; 0 where there is none: a
// program goes round, and so does a card that is joined, but another has run out.
func (r *reader) take() (selected machine.Set, line int) {
	if !r.has() {
		return machine.Set{}, 0
	}
	if r.next > r.count[r.section-1] {
		if !r.round[r.section-1] {
			return machine.Set{}, 0
		}
		r.next = 1
	}
	line, r.next = r.next, r.next+1
	return r.brings(line), line
}

// brings is every needle of the bed that a line brings forward.
func (r *reader) brings(line int) machine.Set {
	at := r.section - 1
	if r.lines != nil {
		return r.lines[at][line-1]
	}
	key := [2]int{at, line}
	if on, known := r.out[key]; known {
		return on
	}
	if r.held[at] == nil {
		r.held[at] = card.ReadBack(r.print, r.section)
	}
	r.out[key] = r.held[at](line, func(name string, area int) bool {
		return r.turned[step.Console{Switch: name, Area: area, On: true}]
	})
	return r.out[key]
}

// read is the needles at work that the knit carriage brings forward as it reads the next
// line, and which line that is; 0 where none is read.
func (r *reader) read(work machine.Set) (forward machine.Set, line int) {
	if !r.selecting || !r.has() {
		return machine.Set{}, 0
	}
	forward, line = r.take()
	if r.ends[machine.KnitCarriage] && !work.Empty() {
		forward = forward.Or(machine.SetOf(work.First(), work.Last()))
	}
	return forward.And(work), line
}

// lace is the needles at work that another carriage brings forward as it reads the next line: the end-needle switch of
// a lace carriage keeps both ends back.
func (r *reader) lace(of machine.Carriage, work machine.Set) (forward machine.Set, line int) {
	forward, line = r.take()
	if r.ends[of] && !work.Empty() {
		forward = forward.Minus(machine.SetOf(work.First(), work.Last()))
	}
	return forward.And(work), line
}

// Switch turns a carriage's switch.
func (c *carriage) Switch(s step.Switch) {
	switch s.Control {
	case step.Selecting:
		c.reader.selecting = s.On
	case step.EndNeedles:
		c.reader.ends[s.Of] = s.On
	}
}

// Console turns a switch of the console.
func (c *carriage) Console(s step.Console) {
	at := s
	at.On = true
	if c.reader.turned[at] != s.On {
		c.reader.turned[at] = s.On
		clear(c.reader.out)
	}
}
