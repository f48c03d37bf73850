package beside

import (
	"fmt"
	"strings"

	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Band is everything that is told before a pass.
type Band struct {
	Pass    *pass.Pass
	Setting string       // how the carriage is set
	Row     string       // which row it works, and which way
	Turn    string       // whose turn it is, where carriages change places
	Moves   string       // what a lace carriage does now
	Steps   []*pass.Step // of the hands, in order
	Care    []*pass.Step // cautions
	Needles []Needle     // those at work, left to right
	See     []Word
	Reading int    // of the counter, before the pass
	Feeders string // what they hold, by name and number
	Line    string // of the program or card
	Repeat  [2]int // which of how many; 0: none
	Choice  *Choice
	Touched machine.Set // needles that the fingers touch before it
	Events  []Event     // that come next, of different kinds
	Edges   []Edge      // that move before it
	Until   Until       // how far it is to anything
	Waits   string      // of a divided piece: what waits, and how
	UpTo    int         // passes until hands must do anything again
}

// mostEvents is how many coming events are told.
const mostEvents = 4

// Before is what is told before pass i (from 0) of a plan that was knitted on the
// simulated bed.
func Before(f *fabric.Fabric, i int) *Band {
	pl := f.Plan
	p := &pl.Passes[i]
	b := &Band{Pass: p, Setting: stands(pl, i), Row: rowWords(pl, p), Turn: turn(pl, i),
		Needles: needles(f, i), See: see(f, i), Reading: Reading(pl, i), Line: lineWords(pl, p),
		Choice: choice(pl, p), Events: Events(pl, i, mostEvents), UpTo: UpTo(pl, i)}
	b.Repeat[0], b.Repeat[1] = Repeat(pl, i)
	b.Edges, b.Until, b.Waits = edges(pl, p), until(pl, i, b.UpTo), Waiting(pl, i)
	if !p.Free && !p.Main().Setting.Lays {
		b.Feeders = feederWords(pl, p)
	}
	if p.Carriage == machine.SecondCarriage {
		b.Turn = "" // the row says it
	}
	if p.Main().Setting.Moves {
		b.Moves = laceMoves(p)
	}
	if p.Carriage == machine.PurlCarriage && p.Dir == machine.Left && b.UpTo > 1 {
		b.Moves = "send it over and back once: two rows"
	}
	b.Touched = p.Main().ByHand.Or(p.Main().PushedBack)
	for j := range p.Before {
		if st := &p.Before[j]; st.Hands() {
			b.Steps = append(b.Steps, st)
			if do := st.Do(); do != step.DoCastOn && do != step.DoBindOff {
				b.Touched = b.Touched.Or(st.Needles())
			}
		} else if !step.Silent(st.Step) {
			b.Care = append(b.Care, st)
		}
	}
	return b
}

// settingWords is the state of the carriage in a few words.
func settingWords(p *piece.Piece, now *pass.Pass) string {
	var parts []string
	half := now.Main()
	if w := p.Machine.SettingWord(&half.Setting); w != "" {
		parts = append(parts, "cams "+w)
	}
	if half.Size != "" {
		parts = append(parts, p.Machine.Word("size")+" "+half.Size)
	}
	if behind := now.Second(); !behind.AtWork.Empty() {
		parts = append(parts, behindWords(p, now))
	}
	return strings.Join(parts, " · ")
}

// stands is settingWords with the levers as they stand for both ways: told so, nothing changes until hands move one.
func stands(pl *pass.Plan, i int) string {
	p, at := &pl.Passes[i], leversBefore(pl, i)
	var parts []string
	both := func(name string, of machine.Carriage) string {
		left, right := at.told(of, machine.Left, pl.Piece), at.told(of, machine.Right, pl.Piece)
		switch {
		case left == right || right == "":
			return name + " " + left
		case left == "":
			return name + " " + right
		}
		return fmt.Sprintf("%s ← %s → %s", name, left, right)
	}
	if w := both("cams", p.Carriage); w != "cams " && p.Carriage != machine.SecondCarriage {
		parts = append(parts, w)
	}
	if size := p.Main().Size; size != "" {
		parts = append(parts, pl.Piece.Machine.Word("size")+" "+size)
	}
	if behind := p.Second(); !behind.AtWork.Empty() {
		w := both("second bed", machine.SecondCarriage)
		if behind.Size != "" {
			w += " · its " + pl.Piece.Machine.Word("size") + " " + behind.Size
		}
		parts = append(parts, w)
	}
	return strings.Join(parts, " · ")
}

// told is how a carriage's levers stand for a way, "" where nobody has moved them.
func (l *levers) told(of machine.Carriage, way machine.Side, p *piece.Piece) string {
	at := l.stands(of, way)
	if at.set.Key == "" {
		return ""
	}
	word := p.Machine.Word(at.set.Pattern())
	if at.holds && at.held == machine.Hold && !at.set.Whole() && !at.set.Moves {
		on, _ := p.Machine.HoldingWord(at.held)
		word += " with " + on
	}
	return word
}

// rowWords says which row a pass works, and which way it goes.
func rowWords(pl *pass.Plan, p *pass.Pass) string {
	rows, setting := pl.Section(p.Section).Rows, &p.Main().Setting
	if p.Recipe > 0 && !p.Free && p.Section > 0 {
		if p.Carriage == machine.SecondCarriage {
			return fmt.Sprintf("the second bed's carriage alone, without yarn, to the %v", p.Dir)
		}
		said := roundWords(pl, p)
		if said == "" {
			said = fmt.Sprintf("row %d of %d", p.Row(), rows)
		}
		return fmt.Sprintf("%s, to the %v", said, p.Dir)
	}
	if p.Section == 0 && !p.Free {
		return fmt.Sprintf("%s, to the %v", pl.Title(p), p.Dir)
	}
	switch {
	case setting.Moves:
		return fmt.Sprintf("for row %d of %d, to the %v", p.Row(), rows, p.Dir)
	case p.Free && setting.Lays:
		return "without yarn, to bring the needles to the laying position"
	case p.Free:
		return fmt.Sprintf("free pass, to the %v", p.Dir)
	case p.Row() == 0:
		return fmt.Sprintf("plain row that selects, to the %v", p.Dir)
	}
	if p.ID.Part != "" {
		return fmt.Sprintf("row %d of %d, %s part, to the %v", p.Row(), rows, p.ID.Part, p.Dir)
	}
	return fmt.Sprintf("row %d of %d, to the %v", p.Row(), rows, p.Dir)
}

// lineWords is the line that a patterned pass reads, and what of it stands in sight.
func lineWords(pl *pass.Plan, p *pass.Pass) string {
	m := &pl.Piece.Machine
	var parts []string
	if p.Line > 0 && !p.Main().Setting.Moves {
		parts = append(parts, fmt.Sprintf("reads line %d", p.Line))
	} else if p.Own > 0 && p.Line == 0 && m.Program != machine.NoProgram && !p.Main().Setting.Moves {
		parts = append(parts, fmt.Sprintf("knits line %d", p.Own))
	}
	if p.Window > 0 {
		parts = append(parts, fmt.Sprintf("card number %d", p.Window))
	}
	return strings.Join(parts, ", ")
}

// laceMoves says what a pass of the lace carriage does now: what it moves, what it selects
// for the next, or why it goes at all.
func laceMoves(p *pass.Pass) string {
	var parts []string
	half := p.Main()
	if n := half.Select.Len(); n > 0 {
		parts = append(parts, fmt.Sprintf("moves %s to the %v", words.Stitches(n), p.Dir))
	}
	switch {
	case !half.Sets.Empty() && len(parts) == 0:
		parts = append(parts, fmt.Sprintf("selects %d", half.Sets.Len()))
	case !half.Sets.Empty():
		parts = append(parts, fmt.Sprintf("selects the next %d", half.Sets.Len()))
	case len(parts) == 0:
		parts = append(parts, "goes back for its place")
	}
	if p.Line > 0 {
		parts = append(parts, fmt.Sprintf("reads line %d", p.Line))
	}
	return strings.Join(parts, "; ")
}

// turn names the carriage that goes now, in a piece where it is not always the same.
func turn(pl *pass.Plan, i int) string {
	now := pl.Passes[i].Carriage
	for j := range pl.Passes {
		if pl.Passes[j].Carriage != now {
			return now.String() + " carriage"
		}
	}
	return ""
}

// Needle is a needle at work as it stands before a pass, hands' work done.
type Needle struct {
	At            machine.Needle
	Forward, Hold bool
	Comes         bool         // the carriage brings it forward as it passes
	Yarn          piece.YarnNo // it takes in the pass, or, where the lace carriage goes, holds; 0: none
	Empty, Twice  bool         // no loop on it; more than one
	Goes          machine.Side // its stitch moves to this side
}

// needles is the bed as it stands before pass i, each needle with the yarn that it takes.
func needles(f *fabric.Fabric, i int) []Needle {
	p := &f.Plan.Passes[i]
	half, stand := p.Main(), standOf(f, i)
	var takes [machine.MaxBed]piece.YarnNo
	for g := range p.Groups() {
		if g.Bed == machine.Main && g.Action.Takes() {
			for n := range g.Needles.All() {
				takes[n+machine.MaxBed/2] = g.Yarn
			}
		}
	}
	course := 0 // knitted last
	for j := i - 1; j >= 0 && course == 0; j-- {
		course = f.Plan.Passes[j].Course
	}
	list := make([]Needle, 0, half.AtWork.Len())
	for n := range half.AtWork.All() {
		forward := half.Select.Has(n)
		comes := forward && selectsNow(&f.Plan.Piece.Machine, p) && !half.ByHand.Has(n)
		at := Needle{At: n, Forward: forward && !comes, Comes: comes, Yarn: takes[n+machine.MaxBed/2],
			Empty: stand.Empty.Has(n),
			Twice: stand.Doubled.Has(n)}
		at.Hold = half.Hold.Has(n) && !at.Forward
		if half.Setting.Moves {
			if at.Yarn = f.Plan.Section(p.Section).Section.RowYarn(p.Row()); course > 0 {
				at.Yarn = f.Row(course)[n-f.From]
			}
			if forward {
				at.Goes = p.Dir
			}
		}
		list = append(list, at)
	}
	return list
}

// selectsNow says that the carriage of a pass brings needles forward as it passes, so that
// before it only those stand forward which hands have set.
func selectsNow(m *machine.Profile, p *pass.Pass) bool {
	switch {
	case p.Lace.InProgram:
		return p.Lace.Now
	case p.Carriage == machine.PurlCarriage && m.Selects():
		return p.Line > 0 && (m.School == machine.Direct || !m.PurlAhead)
	}
	return p.Patterned && (m.School == machine.Direct || m.School == machine.Pairs)
}

func standOf(f *fabric.Fabric, i int) (s fabric.Stand) {
	if f.Stands != nil {
		s = f.Stands[i]
	}
	return s
}
