package beside

import (
	"fmt"
	"strings"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Restore is how everything must stand before pass i (from 0), hands' work for it done, so
// that she can begin there: after a pause, a jump, or rows that were ravelled.
func Restore(pl *pass.Plan, i int) (list []string) {
	p, m := &pl.Passes[i], &pl.Piece.Machine
	half := p.Main()
	say := func(format string, a ...any) { list = append(list, fmt.Sprintf(format, a...)) }
	place := fmt.Sprintf("Pass %d, section %s", p.N, pl.Title(p))
	if p.Row() > 0 {
		place += fmt.Sprintf(", row %d", p.Row())
	}
	if p.ID.Part != "" {
		place += ", " + p.ID.Part + " part"
	}
	if n, of := Repeat(pl, i); of > 1 {
		place += fmt.Sprintf(" (repeat %d of %d)", n, of)
	}
	say("%s", place)
	say("Counter to %d", Reading(pl, i))
	if p.Window > 0 {
		card := fmt.Sprintf("Card: number %d in the window", p.Window)
		if m.School == machine.Pairs && p.Dir == machine.Left && p.Own > 0 {
			card += fmt.Sprintf("; the reader has taken line %d (if not, sweep it across by hand at that line)", p.Own)
		} else if _, line := nextLine(pl, i); line > 0 {
			card += fmt.Sprintf("; line %d is read next", line)
		}
		say("%s", card)
	} else if section, line := nextLine(pl, i); line > 0 && m.Program == machine.Electronic {
		say("Program of section %d at line %d", section, line)
	}
	say("%s carriage on the %v, to go %v", words.Capital(p.Carriage.String()), p.Dir.Other(), p.Dir)
	if cams := settingWords(pl.Piece, p); cams != "" {
		say("%s", words.Capital(cams))
	}
	for _, w := range wayBack(pl, i) {
		say("%s", w)
	}
	for _, w := range parked(pl, i) {
		say("%s", w)
	}
	if !p.Second().AtWork.Empty() {
		say("Second bed: handle at %d, %v pitch", p.Rack, p.Pitch)
	}
	if m.Selects() || m.EndSwitch {
		say("%s", switchWords(pl, i))
	}
	switch yarns := feederWords(pl, p); {
	case len(p.Lays) > 0:
		var names []string
		for j := range p.Lays {
			names = append(names, p.Lays[j].Bobbin)
		}
		say("Bobbins in use: %s", strings.Join(names, ", "))
	case !p.Free && yarns != "":
		say("%s", words.Capital(yarns))
	}
	if !half.Setting.Moves || m.Lace != "combined" {
		if m.School == machine.Direct || m.School == machine.Pairs {
			say("All needles %s; the carriage brings forward what it needs", m.Word("work"))
		} else if half.Select.Empty() {
			say("No needle %s", m.Word("forward"))
		} else {
			say("%s %s: %s", words.Capital(words.Count(half.Select.Len(), "needle", "needles")), m.Word("forward"),
				half.Select.Words())
		}
	}
	if w := Waiting(pl, i); w != "" {
		say("%s", words.Capital(w))
	}
	if pl.Piece.Shape != nil {
		say("At work: %s", half.AtWork.Minus(half.Hold).Words())
	}
	if !half.Hold.Empty() {
		say("%s: %s", words.Capital(m.Word("hold")), half.Hold.Words())
	}
	return list
}

// wayBack is how the carriages stand for the way back from pass i, where that is otherwise than for the way there, and
// wanted so: set before an earlier pass, it is not said again. Holding is told for the way there too, where it has been
// moved and the setting says nothing of it.
func wayBack(pl *pass.Plan, i int) (list []string) {
	at, m := leversBefore(pl, i), &pl.Piece.Machine
	there := pl.Passes[i].Dir
	for bed, of := range carriageOf {
		now, back := at.stands(of, there), at.stands(of, there.Other())
		name, half := "Cams", &pl.Passes[i].Beds[bed]
		if of == machine.SecondCarriage {
			name = "Second bed"
		}
		now.holds = now.holds && holdingWanted(pl, i, machine.BedNo(bed), there)
		back.holds = back.holds && holdingWanted(pl, i, machine.BedNo(bed), there.Other())
		if now.holds && half.Setting.Key != machine.Holding.Key && !now.set.Whole() && !half.AtWork.Empty() {
			word, _ := m.HoldingWord(now.held)
			list = append(list, fmt.Sprintf("%s: %s", name, word))
		}
		if back.set.Key == "" || back.words(m) == now.words(m) || !wanted(pl, i, machine.BedNo(bed), there.Other()) {
			continue
		}
		list = append(list, fmt.Sprintf("%s for the way %v: %s", name, there.Other(), back.words(m)))
	}
	return list
}

// wanted says that a pass after pass i goes a way with a bed's carriage as it was set before pass i.
func wanted(pl *pass.Plan, i int, bed machine.BedNo, way machine.Side) bool {
	of := carriageOf[bed]
	for j := i + 1; j < len(pl.Passes); j++ {
		p := &pl.Passes[j]
		for k := range p.Before {
			if st, ok := p.Before[k].Step.(step.Cams); ok && st.Sets(of, way, step.Pattern) {
				return false // it is set anew
			}
		}
		if p.Carriage == machine.KnitCarriage && p.Dir == way {
			return !p.Beds[bed].AtWork.Empty()
		}
	}
	return false
}

// holdingWanted says that from pass i on a pass goes a way with needles that wait, or are knitted from where they
// wait, and holding as it was set before.
func holdingWanted(pl *pass.Plan, i int, bed machine.BedNo, way machine.Side) bool {
	for j := i; j < len(pl.Passes); j++ {
		p := &pl.Passes[j]
		for k := range p.Before {
			if st, ok := p.Before[k].Step.(step.Cams); ok && j > i && st.Sets(carriageOf[bed], way, step.Holding) {
				return false
			}
		}
		if half := &p.Beds[bed]; p.Dir == way && p.Carriage == machine.KnitCarriage && (!half.Hold.Empty() ||
			!p.Waits.Empty()) {
			return true
		}
	}
	return false
}

// carriageOf is the carriage that works a bed.
var carriageOf = [...]machine.Carriage{machine.KnitCarriage, machine.SecondCarriage}

// levers is what the carriages are set to, each for the way left and right, as far as steps have said it.
type levers struct {
	step.Idle
	at [machine.SecondCarriage + 1][2]lever
}

// lever is how a carriage's controls stand for a way.
type lever struct {
	set   machine.Setting // what does the pattern; no key: nothing was said
	held  machine.Action
	holds bool // of holding something was said
}

func (l *levers) Cams(s step.Cams) {
	for w := range l.at[s.Setting.Of] {
		way, at := machine.Left+machine.Side(w), &l.at[s.Setting.Of][w]
		if s.Sets(s.Setting.Of, way, step.Pattern) {
			at.set = s.Setting
		}
		if s.Sets(s.Setting.Of, way, step.Holding) {
			at.held, at.holds = s.Setting.Cams(way).Held, true
		}
	}
}

func (l *levers) stands(of machine.Carriage, way machine.Side) *lever {
	return &l.at[of][way-machine.Left]
}

// words are the lever's positions in her words.
func (at *lever) words(m *machine.Profile) string {
	word := m.Word(at.set.Pattern())
	if at.holds && !at.set.Whole() {
		on, _ := m.HoldingWord(at.held)
		word += " with " + on
	}
	return word
}

// leversBefore is how the carriages are set in pass i (from 0), hands' work for it done.
func leversBefore(pl *pass.Plan, i int) *levers {
	l := &levers{}
	for j := range i + 1 {
		for k := range pl.Passes[j].Before {
			pl.Passes[j].Before[k].Act(l)
		}
	}
	return l
}

// RestoreOrEnd is Restore, or where all passes are made that they are.
func RestoreOrEnd(pl *pass.Plan, i int) []string {
	if i >= len(pl.Passes) {
		return []string{"That was the last pass."}
	}
	return Restore(pl, i)
}

// parked is where what is not at work in pass i (from 0) waits, hands' work for it done: other carriages off the
// bed, and yarns that hang at a side.
func parked(pl *pass.Plan, i int) (list []string) {
	away := resting{carriages: map[machine.Carriage]machine.Side{}, yarns: map[piece.YarnNo]machine.Side{}}
	for j := range i + 1 {
		for k := range pl.Passes[j].Before {
			pl.Passes[j].Before[k].Act(away)
		}
	}
	for _, c := range []machine.Carriage{machine.KnitCarriage, machine.LaceCarriage, machine.PurlCarriage} {
		if side, ok := away.carriages[c]; ok {
			list = append(list, fmt.Sprintf("%s carriage parked on the %v", words.Capital(c.String()), side))
		}
	}
	for y := range pl.Piece.Yarns {
		if side, ok := away.yarns[piece.YarnNo(y+1)]; ok {
			list = append(list, fmt.Sprintf("%s hangs on the %v",
				words.Capital(pl.Piece.YarnName(piece.YarnNo(y+1))), side))
		}
	}
	return list
}

// resting is where what is not at work waits.
type resting struct {
	step.Idle
	carriages map[machine.Carriage]machine.Side
	yarns     map[piece.YarnNo]machine.Side
}

func (r resting) PutOff(s step.Remove)                     { r.carriages[s.Carriage] = s.Parked }
func (r resting) PutOn(c machine.Carriage, _ machine.Side) { delete(r.carriages, c) }
func (r resting) Thread(s step.Thread)                     { delete(r.yarns, s.Yarn) }

func (r resting) Unthread(s step.Unthread) {
	if s.Left != 0 && !s.Cut {
		r.yarns[s.Yarn] = s.Left
	}
}

func (r resting) Cut(s step.Cut) {
	if s.Bobbin == "" {
		delete(r.yarns, s.Yarn)
	}
}

// Where is where pass i (from 0) stands, in few words: its row and part, the counter, the line, the carriage's side.
func Where(pl *pass.Plan, i int) string {
	p := &pl.Passes[i]
	said := fmt.Sprintf("before pass %d", p.N)
	if p.Row() > 0 {
		said += fmt.Sprintf(", row %d of %s", p.Row(), pl.Title(p))
	}
	if p.ID.Part != "" {
		said += ", " + p.ID.Part + " part"
	}
	said += fmt.Sprintf(", counter %d", Reading(pl, i))
	if p.Window > 0 {
		said += fmt.Sprintf(", card number %d", p.Window)
	} else if _, line := nextLine(pl, i); line > 0 {
		said += fmt.Sprintf(", line %d", line)
	}
	return said + fmt.Sprintf(", the carriage on the %v", p.Dir.Other())
}

// LastLifeline is the pass, from 1, before which the last lifeline at or before pass i was laid;
// 0 where there is none.
func LastLifeline(pl *pass.Plan, i int) int {
	for i = min(i, len(pl.Passes)-1); i >= 0; i-- {
		for j := range pl.Passes[i].Before {
			if step.Is[step.Lifeline](pl.Passes[i].Before[j].Step) {
				return i + 1
			}
		}
	}
	return 0
}

// NextLine is the program line that is read next, in pass i (from 0) or after it, and whose section's it is.
func NextLine(pl *pass.Plan, i int) (section, line int) { return nextLine(pl, i) }

// nextLine is the program line that is read next, in pass i or after it, and whose it is.
func nextLine(pl *pass.Plan, i int) (section, line int) {
	for ; i < len(pl.Passes); i++ {
		p := &pl.Passes[i]
		if p.Line == 0 {
			continue
		}
		section = p.Section
		if pl.Piece.Machine.School == machine.Preselect && i+1 < len(pl.Passes) && !p.Lace.InProgram {
			section = pl.Passes[i+1].Section
		}
		return section, p.Line
	}
	return 0, 0
}

// switchWords is how the switches of the knit carriage stand before pass i, and the lace carriage's, if it is on.
func switchWords(pl *pass.Plan, i int) string {
	m, on := &pl.Piece.Machine, map[step.Control]bool{}
	lace := step.Switch{}
	for j := range i + 1 {
		for k := range pl.Passes[j].Before {
			if st, ok := pl.Passes[j].Before[k].Step.(step.Switch); ok {
				if st.Of == machine.LaceCarriage {
					lace = st
				} else {
					on[st.Control] = st.On
				}
			}
		}
	}
	state := map[bool]string{false: "off", true: "on"}
	text := words.Capital(m.Word(string(step.Selecting))) + " " + state[on[step.Selecting]]
	if m.EndSwitch {
		text += fmt.Sprintf(", %s %s", m.Word(string(step.EndNeedles)), state[on[step.EndNeedles]])
	}
	if lace.On {
		text += ", " + lace.Short(pl.Piece)
	}
	return text
}

// feederWords is what the feeders hold for a pass, by name and number.
func feederWords(pl *pass.Plan, p *pass.Pass) string {
	m := &pl.Piece.Machine
	if m.Feeders == 1 {
		return pl.Piece.YarnName(p.Yarn(1))
	}
	var parts []string
	for f := range m.Feeders {
		name := pl.Piece.YarnName(p.Yarn(f + 1))
		if name == "" {
			name = "empty"
		}
		parts = append(parts, fmt.Sprintf("%s %s", m.Word(fmt.Sprintf("feeder%d", f+1)), name))
	}
	return strings.Join(parts, ", ")
}
