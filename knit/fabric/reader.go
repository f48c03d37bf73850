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

	m     *machine.Profile
	cards []bool // by section: a card drives it, and goes on beside its areas
	plan  *pass.Plan
	tiled map[[2]int]machine.Set // by section and line, as far as they have been read

	taken int         // of a reader that gives lines two passes: the line that it took last
	pair  machine.Set // and what it has set with it, for the way left and the way right
}

func newReader(pl *pass.Plan) *reader {
	r := &reader{lines: pl.Programs, round: make([]bool, len(pl.Placed)), m: &pl.Piece.Machine, plan: pl,
		cards: make([]bool, len(pl.Placed))}
	for i, s := range pl.Placed {
		r.cards[i] = r.m.HasCard() && pl.Piece.Shape == nil && !s.Section.Lace() && !s.Section.Technique.OwnRows
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
	return r.holes(line), line
}

// holes is the needles that a line brings forward: those of a card on the whole bed, column by column, as its holes are
// punched for the needles of the areas.
func (r *reader) holes(line int) machine.Set {
	want := r.lines[r.section-1][line-1]
	if !r.cards[r.section-1] {
		return want
	}
	key := [2]int{r.section, line}
	if on, known := r.tiled[key]; known {
		return on
	}
	placed, work := r.plan.Placed[r.section-1], r.plan.LineWork(r.section, line-1)
	areas, punched := placed.Covered.Minus(placed.Cut).And(work), map[int]int{}
	for n := machine.Needle(-machine.MaxBed / 2); n < machine.MaxBed/2; n++ {
		at := int(n-r.m.CardOrigin) % r.m.Columns
		if at < 0 {
			at += r.m.Columns
		}
		switch {
		case areas.Has(n) && punched[at] < 2:
			if punched[at] = 2; want.Has(n) {
				punched[at] = 3
			}
		case areas.Has(n) && (punched[at] == 3) != want.Has(n):
			return want // two needles that share a column want it otherwise: no card does that
		case !areas.Has(n) && work.Has(n) && want.Has(n) && punched[at] == 0:
			punched[at] = 1
		}
	}
	var on machine.Set
	for n := machine.Needle(-machine.MaxBed / 2); n < machine.MaxBed/2; n++ {
		if at := (int(n-r.m.CardOrigin)%r.m.Columns + r.m.Columns) % r.m.Columns; punched[at]%2 == 1 {
			on.Add(n)
		}
	}
	if r.tiled == nil {
		r.tiled = map[[2]int]machine.Set{}
	}
	r.tiled[key] = on
	return on
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
