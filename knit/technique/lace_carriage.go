package technique

import (
	"fmt"

	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/words"
)

// laceState is what lace keeps from row to row: how the lace carriage is set, once that has
// been said, and the rows of fabric when a lifeline was last due.
type laceState struct {
	set   bool
	fine  bool
	lined int
}

// lifeline reminds of one at a plain row, as often as the weights are moved: before the
// first transfers of a section, and then again once so many rows have been knitted.
func lifeline(l *loom.Loom) {
	st, last := loom.State[laceState](l), l.Last()
	if last == nil || l.Course() == 0 || st.lined > 0 && l.Course()-st.lined < l.WeightsEvery() {
		return
	}
	if below := l.Plan.Section(last.Section); len(last.Works) > 0 && last.Works[0].Part != plainRow &&
		moves(below.StitchRow(last.Row())) {
		return // its loops are still as the transfers left them
	}
	st.lined = l.Course()
	l.Later(pass.LifelineStep(l.Counter()))
}

// laceCarriage runs the lace carriage: one pass a shift, and before them the pass that
// only selects, where the carriage transfers what it selected on the way before.
func laceCarriage(l *loom.Loom, w loom.Work, shifts []shift, ahead bool) {
	if ahead {
		shifts = append([]shift{{dir: machine.Right}}, shifts...)
	}
	setting, fine := machine.Transfer, w.Placed.Section.Options.Transfer == "fine"
	if fine {
		setting = machine.FineTransfer
	}
	st := loom.State[laceState](l)
	if st.set && fine != st.fine || !st.set && fine {
		l.Later(pass.SettingStep(setting, 0))
	}
	st.set, st.fine = true, fine
	for i, s := range shifts {
		p := l.New(w, setting)
		p.Carriage, p.Free = machine.LaceCarriage, true
		half := p.Main()
		half.Yarns, half.Select = nil, s.needles
		if !l.Machine.Reads(machine.LaceCarriage) { // nothing selects for it but the fingers
			half.ByHand = half.Select
		}
		p.Lace.Why, p.Lace.Blank = why(shifts, i, ahead)
		l.Go(p)
	}
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
