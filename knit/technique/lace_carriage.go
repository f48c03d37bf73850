package technique

import (
	"fmt"

	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// laceState is what lace keeps from row to row: how the lace carriage is set, once that has
// been said, and the rows of fabric when a lifeline was last due.
type laceState struct {
	set   bool
	fine  bool
	lined int
}

// lifeline reminds of one at a plain row, as often as the piece says: before the first
// transfers of a section, and then again once so many rows have been knitted.
func lifeline(l *loom.Loom) {
	st, last, every := loom.State[laceState](l), l.Last(), piece.Limit(l.Piece.Limits.Lifeline, piece.LifelineEvery)
	if l.Piece.Limits.Lifeline == piece.Never || last == nil || l.Course() == 0 || st.lined > 0 &&
		l.Course()-st.lined < every {
		return
	}
	if below := l.Plan.Section(last.Section); len(last.Works) > 0 && last.Works[0].Part != plainRow &&
		moves(below.StitchRow(last.Row())) {
		return // its loops are still as the transfers left them
	}
	st.lined = l.Course()
	l.Later(step.Lifeline{})
}

// laceCarriage runs the lace carriage: one pass a shift, and before them the pass that
// only selects, where the carriage transfers what it selected on the way before.
func laceCarriage(l *loom.Loom, w loom.Work, shifts []shift, ahead bool) {
	if ahead {
		shifts = append([]shift{{dir: machine.Right}}, shifts...)
		if len(shifts) > 1 {
			shifts[0].fine = shifts[1].fine
		}
	}
	st := loom.State[laceState](l)
	look := newLook(w)
	for i, s := range shifts {
		setting := machine.Transfer
		if s.fine {
			setting = machine.FineTransfer
		}
		if !st.set || s.fine != st.fine {
			l.Later(step.Cams{Setting: setting, Lever: step.Whole})
		}
		st.set, st.fine = true, s.fine
		p := l.New(w, setting)
		p.Carriage, p.Free = machine.LaceCarriage, true
		half := p.Main()
		half.Yarns, half.Select = nil, s.needles
		if p.Lace.Drawn = s.needles; w.Placed.Divided(w.Row) { // both parts take the same lines
			half.Select = s.needles.And(w.InWork())
		}
		if !l.Machine.Reads(machine.LaceCarriage) { // nothing selects for it but the fingers
			half.ByHand = half.Select
		}
		p.Lace.Why, p.Lace.Blank = why(shifts, i, ahead)
		l.Go(p)
		if look.shift(shift{half.Select, s.dir, s.fine}) {
			l.Later(step.Inspect{At: step.Main(look.empty), Doubled: look.doubled})
		}
	}
}

// look follows which needles the moves of a row leave empty and which doubled, for a
// section that asks to look after each moving pass.
type look struct {
	on             bool
	loops          [machine.MaxBed]int
	empty, doubled machine.Set
}

func newLook(w loom.Work) *look {
	k := &look{on: w.Placed.Section.Options.Look == "on"}
	for n := range w.InWork().All() {
		k.loops[n+machine.MaxBed/2] = 1
	}
	return k
}

// shift makes the moves of a pass; true where there is something to look at.
func (k *look) shift(s shift) bool {
	if !k.on || s.needles.Empty() {
		return false
	}
	way := machine.Needle(1)
	if s.dir == machine.Left {
		way = -1
	}
	for n := range s.needles.All() {
		from, to := n+machine.MaxBed/2, n+way+machine.MaxBed/2
		k.loops[to] += k.loops[from]
		if !s.fine {
			k.loops[from] = 0
		}
		for _, at := range []machine.Needle{n, n + way} {
			k.empty.Remove(at)
			k.doubled.Remove(at)
			switch k.loops[at+machine.MaxBed/2] {
			case 0:
				k.empty.Add(at)
			case 1:
			default:
				k.doubled.Add(at)
			}
		}
	}
	return true
}

// why says what the line that is read in pass i is for, and whether it is blank.
func why(shifts []shift, i int, ahead bool) (text string, blank bool) {
	worked := i // the shift that the line read now selects for
	if ahead {
		worked++
	}
	switch {
	case worked == len(shifts):
		return "blank: everything is moved, and the carriage comes off on the left", true
	case !shifts[worked].needles.Empty():
		return fmt.Sprintf("moves %s to the %v", words.Stitches(shifts[worked].needles.Len()), shifts[worked].dir),
			false
	}
	for _, later := range shifts[worked:] {
		if !later.needles.Empty() {
			return fmt.Sprintf("blank: what is left to move goes to the %v", later.dir), true
		}
	}
	return "blank: everything is moved, and the carriage must end on the left", true
}
