package plan

import (
	"fmt"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/card"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// programLines finds how many program lines each section takes: the rows after which
// chart and feeders both begin again. Where yarns change feeders from one repeat to
// the next the holes are inverted, so the program is longer than the chart.
func (k *planner) programLines() {
	k.Programs = make([][]machine.Set, len(k.Placed))
	for i := range k.sections {
		s := &k.sections[i]
		if !s.technique.IsPatterned(k.m) || k.m.School == machine.ByHand || s.rows == 0 || k.Programs[s.No-1] != nil {
			continue
		}
		lines := s.Whole
		// the smallest program (rules 5.5, Smallest program)
		if k.m.Flat && k.Piece.Shape == nil && s.Section.Shift() == 0 {
			lines = s.Again()
		}
		if k.Piece.Shape != nil {
			lines = k.shapedLines(s)
		} else {
			yarns := k.yarns[s.at : s.at+s.rows]
			for begun := lines; lines < s.rows && !periodic(yarns, lines); {
				lines += begun
			}
		}
		if s.Section.Shift() == 0 { // else the card is whole, though its first lines are not knitted
			lines = min(lines, s.Rows)
		}
		k.Programs[s.No-1] = make([]machine.Set, lines)
	}
}

func periodic(yarns [][]piece.YarnNo, n int) bool {
	for i := n; i < len(yarns); i++ {
		if !slices.Equal(yarns[i], yarns[i-n]) {
			return false
		}
	}
	return true
}

// number gives the passes of a section, from index `from`, the program line of their own
// row: 1 to h, and again from 1; or lets the technique number them. What the lines select
// becomes the section's program.
func (k *planner) number(s *section, from int) {
	defer k.serving(s, from)
	passes := k.Passes[from:]
	program := k.Programs[s.No-1]
	if lines := s.technique.Lines; lines != nil {
		before := 0
		if s.Part == piece.SecondPart && s.FromRow > 1 {
			before = k.linesBelow(s)
		}
		n := lines(k.m, s.Placed, passes, before)
		program = append(program, make([]machine.Set, max(0, n-len(program)))...)
		if k.Piece.Shape != nil { // parts and rows are added up
			for j := range passes {
				if p := &passes[j]; p.Lace.InProgram {
					program[p.Own-1] = program[p.Own-1].Or(p.Lace.Reads)
				}
			}
		} else {
			// of its repeats the first: the last may end before its line is used
			for j := len(passes) - 1; j >= 0; j-- {
				if p := &passes[j]; p.Lace.InProgram {
					program[p.Own-1] = p.Lace.Reads
				}
			}
		}
		for j := range passes {
			if p := &passes[j]; p.Lace.InProgram && !p.Lace.Now {
				p.Main().Sets = program[p.Own-1].And(p.Main().AtWork)
			}
		}
		k.Programs[s.No-1] = program
		if at := slices.IndexFunc(passes, func(p pass.Pass) bool { return p.Line == before+1 }); at >= 0 {
			k.setProgramAt(&passes[at], s.No, before+1)
			if k.m.HasCard() && at+1 < len(passes) { // locked before the carriage comes on
				passes[at].Add(step.CardLock{})
				passes[at+1].Add(step.CardRelease{})
			}
		}
		return
	}
	if s.technique.PassLines {
		if s.Part == piece.SecondPart {
			k.numberAgain(s, passes)
		} else {
			k.numberPasses(s, passes)
		}
		return
	}
	known := make([]bool, len(program))
	for j := range passes {
		p := &passes[j]
		if !p.Patterned || len(program) == 0 {
			continue
		}
		p.Own = (p.Row()-1+s.Section.Shift())%len(program) + 1
		if !known[p.Own-1] && k.Piece.Shape == nil {
			program[p.Own-1] = p.Main().Line
		} else if k.Piece.Shape != nil { // each row on its own needles
			program[p.Own-1] = program[p.Own-1].Or(p.Main().Line)
		}
		known[p.Own-1] = true
	}
	if s.Section.Shift() > 0 && slices.Contains(known, false) {
		k.unread(s, known)
	}
}

// serving notes which needles are at work in the rows that each line of a shaped piece's program serves.
func (k *planner) serving(s *section, from int) {
	if k.Piece.Shape == nil || len(k.Programs[s.No-1]) == 0 {
		return
	}
	if k.AtLine == nil {
		k.AtLine = make([][]machine.Set, len(k.Placed))
	}
	of := k.AtLine[s.No-1]
	of = append(of, make([]machine.Set, max(0, len(k.Programs[s.No-1])-len(of)))...)
	for i := from; i < len(k.Passes); i++ {
		if p := &k.Passes[i]; p.Section == s.No && p.Own > 0 {
			of[p.Own-1] = of[p.Own-1].Or(at(p))
		}
	}
	k.AtLine[s.No-1] = of
}

// numberPasses gives every patterned pass of a section a program line of its own, of a reader of
// pairs every two: from 1 to where the lines begin again, after whole repeats of the rows.
func (k *planner) numberPasses(s *section, passes []pass.Pass) {
	if k.m.School == machine.ByHand {
		return
	}
	each := 1
	if k.m.School == machine.Pairs {
		each = 2
	}
	var lines []machine.Set // of every line, in order: first those of the rows that are not knitted
	var ends []int          // how many of them, by rows
	var own []*pass.Pass
	times := each // of a reader of pairs a line serves both passes of a colour
	if len(s.skipped) > 0 && s.skipped[0].Twice && each == 1 {
		times = 2
	}
	for r := range s.skipped {
		for _, y := range s.skippedYarns[r] {
			for range times / each {
				lines = append(lines, s.skipped[r].ShowsOf(y))
			}
		}
		ends = append(ends, len(lines))
	}
	offset := len(lines)
	for j := range passes {
		p := &passes[j]
		if !p.Patterned {
			continue
		}
		if len(own)%each == 0 {
			lines = append(lines, p.Main().Line)
		}
		own = append(own, p)
		for len(ends) < len(s.skipped)+p.Row() {
			ends = append(ends, 0)
		}
		ends[len(s.skipped)+p.Row()-1] = len(lines)
	}
	n, rows := len(lines), s.Whole
	if k.m.Flat && len(s.skipped) == 0 && k.Piece.Shape == nil { // the smallest program (rules 5.5, Smallest program)
		rows = s.Again()
	}
	for r := rows; r < len(ends); r += rows {
		if again := ends[r-1]; again > 0 && repeats(lines, again) {
			n = again
			break
		}
	}
	for i, p := range own {
		p.Own = (offset+i/each)%n + 1
	}
	k.Programs[s.No-1] = slices.Clone(lines[:n])
}

// skips is what the rows of a section's charts take that it does not knit, since it begins at a
// later one: its card or program has their lines all the same.
func (k *planner) skips(s *section) (list []loom.Need) {
	if s.Section.Shift() == 0 {
		return nil
	}
	alone, from1 := *k.Piece, *s.Section
	alone.From, alone.To = k.Piece.Ends()
	alone.Shape = nil
	from1.FromLine, from1.Rows = 1, s.Section.Shift()
	alone.Sections = []piece.Section{from1}
	placed, _ := bed.Place(&alone, 1)
	for r := 1; r <= placed.Rows; r++ {
		need, refused := s.technique.Yarns(&alone, placed, r)
		if refused != nil {
			return list
		}
		list = append(list, need)
	}
	return list
}

// repeats says that lines come again after the first n.
func repeats(lines []machine.Set, n int) bool {
	for i := n; i < len(lines); i++ {
		if lines[i] != lines[i-n] {
			return false
		}
	}
	return true
}

// begins says that a pass is the first of its section that has a line, given the one before it.
func begins(p, before *pass.Pass) bool {
	if before != nil && p.Own > 0 && p.ID.Part == piece.SecondPart.String() &&
		(before.ID.Part != p.ID.Part || before.Free && before.Own == 0 && before.Row() == 0) {
		return true // the card is set for the second part
	}
	return p.Own > 0 && p.Row() == 1 && (before == nil || before.Own == 0 || before.Section != p.Section)
}

// unread fills in the lines that a section which begins at a later one never reads: what
// they would select if it were knitted from line 1. The card is punched with them all the same.
func (k *planner) unread(s *section, known []bool) {
	program := k.Programs[s.No-1]
	alone, from1 := *k.Piece, *s.Section
	alone.From, alone.To = k.Piece.Ends()
	alone.Shape = nil
	from1.FromLine, from1.Rows, from1.Passes = 1, len(program), 0
	from1.Free, from1.Notes = false, nil
	alone.Sections, alone.Start = []piece.Section{from1}, machine.Right
	for i, line := range Make(&alone).Programs[0] {
		if i < len(program) && !known[i] {
			program[i] = line
		}
	}
}

// link settles which pass reads which program line, and what it sets for the next
// (rules 1, Selection), and puts card and program in where a section's first
// line is read.
func (k *planner) link() {
	for i := range k.Passes {
		p := &k.Passes[i]
		var before, next *pass.Pass
		if i > 0 {
			before = &k.Passes[i-1]
		}
		if i+1 < len(k.Passes) {
			next = &k.Passes[i+1]
		}
		if p.Lace.InProgram && p.Lace.Now && !k.now(i) {
			return
		} else if p.Lace.InProgram && !p.Lace.Now {
			k.linkLace(p, next)
		}
		// brought forward for a row that does not come
		if p.Lace.InProgram && next != nil && (!next.Lace.InProgram || next.Section != p.Section) {
			if left := p.Main().Sets.Minus(next.Main().Select); !left.Empty() {
				next.Add(step.ToWork{At: step.Main(left)})
			}
		}
		switch k.m.School {
		case machine.Direct:
			if p.Recipe > 0 {
				continue // a recipe settles its own
			}
			if p.Line = p.Own; p.Own > 0 && !k.now(i) {
				return
			}
			if begins(p, before) && !p.Lace.InProgram {
				k.setProgramAt(p, p.Section, p.Own)
			}
		case machine.Preselect:
			if k.purlsNow(p) {
				if !k.now(i) {
					return
				}
				if p.Line = p.Own; p.Row() == 1 || k.again(p) {
					k.setProgramAt(p, p.Section, p.Own)
				}
			}
			for j := i + 2; next != nil && next.Carriage == machine.SecondCarriage; j++ {
				if next = nil; j < len(k.Passes) {
					next = &k.Passes[j]
				}
			}
			if p.Carriage != machine.SecondCarriage {
				k.linkAhead(p, next)
			}
		case machine.Pairs:
			if p.Own > 0 && p.Recipe == 0 && !p.Lace.InProgram && !k.now(i) {
				return
			}
			k.linkPairs(p, before, next)
		}
	}
}

// purlsNow: the purl carriage reads the line of the row that it is on, where it does not
// purl what was selected before.
func (k *planner) purlsNow(p *pass.Pass) bool {
	return p.Carriage == machine.PurlCarriage && p.Own > 0 && !p.Lace.InProgram && !k.m.PurlAhead
}

// linkLace: a lace carriage that moves what it selected on the pass before reads the line of the pass after.
func (k *planner) linkLace(p, next *pass.Pass) {
	sets := k.comes(p.Section, p.Own).And(at(p)).Minus(keptBack(p))
	if next == nil || !next.Lace.InProgram || next.Lace.Now || next.Section != p.Section {
		p.Main().Sets = sets
		return
	}
	k.selected(p, next, sets)
}

// linkAhead: a preselecting carriage reads, as it knits one row, the line of the next.
func (k *planner) linkAhead(p, next *pass.Pass) {
	if next == nil || next.Own == 0 || next.Recipe > 0 || next.Lace.InProgram || k.purlsNow(next) {
		return
	}
	p.Line = next.Own
	work := at(p) // needles newly in work then were never selected
	sets := k.comes(next.Section, next.Own).And(work)
	if next.Ends { // the switch brings those forward that end the work now
		sets = sets.Or(machine.SetOf(work.First(), work.Last()))
	}
	k.selected(p, next, sets)
	if begins(next, p) {
		k.setProgramAt(p, next.Section, next.Own)
		if k.m.HasCard() {
			p.Add(step.CardLock{})
			next.Before = append(pass.Steps(step.CardRelease{}), next.Before...)
		}
	}
}

// selected settles what a pass brings forward for the next: what is too much is pushed back, what lacks, and what hands
// have undone, is brought.
func (k *planner) selected(p, next *pass.Pass, sets machine.Set) {
	half := next.Main()
	p.Main().Sets = sets
	if wrong := sets.And(at(next)).Minus(half.Select).Minus(half.PushedBack); !wrong.Empty() {
		next.Add(step.PushBack{At: step.Main(wrong)})
	}
	if lacks := undone(next).Or(half.Select.Minus(sets)).And(half.Select).Minus(half.ByHand); !lacks.Empty() {
		next.Add(step.BringForward{At: step.Main(lacks)})
	}
}

// comes is every needle of the bed that a line of a section's card or program brings forward, as it is printed or keyed:
// a card goes on beside the areas (rules 6, The reader selects what is punched). A program is keyed for all needles at
// work; only a shape has others there from one row to the next.
func (k *planner) comes(section, line int) machine.Set {
	if !k.m.HasCard() && k.Piece.Shape == nil {
		return k.Programs[section-1][line-1]
	}
	if k.printed == nil {
		k.printed, k.brought = make([]card.Held, len(k.Programs)), map[[2]int]machine.Set{}
	}
	key := [2]int{section, line}
	on, known := k.brought[key]
	if !known {
		if k.printed[section-1] == nil {
			k.printed[section-1] = card.ReadBack(k.Plan, section)
		}
		on = k.printed[section-1](line, nil)
		k.brought[key] = on
	}
	return on
}

// now settles a pass that reads a line for itself: what lacks is brought by fingers; what is too much no hand can push
// back in time, and stops the plan there: false.
func (k *planner) now(i int) bool {
	p := &k.Passes[i]
	half := p.Main()
	comes := k.comes(p.Section, p.Own).And(at(p)).Minus(keptBack(p))
	if beyond := comes.Minus(half.Select).Minus(half.PushedBack); !beyond.Empty() {
		k.cannot(p, beyond)
		return false
	}
	if p.Ends && !p.Lace.InProgram {
		comes = comes.Or(p.Exempt)
	}
	if lacks := half.Select.Minus(comes).Minus(half.ByHand); !lacks.Empty() {
		p.Add(step.BringForward{At: step.Main(lacks)})
		half.ByHand = half.ByHand.Or(lacks)
	}
	return true
}

// cannot refuses the row of a pass whose line brings needles forward that the row does not want: the plan is made once
// more, and stops before it.
func (k *planner) cannot(p *pass.Pass, beyond machine.Set) {
	no, row := p.Section, p.Row()
	f := finding.Finding{Code: finding.CardPatternsAll, Severity: finding.Stop, Section: no, Rows: [2]int{row, row},
		Needles: beyond,
		Fix: "Draw a chart that fills the card, give it another place, or knit it where a row is selected ahead, or by " +
			"hand",
		Text: fmt.Sprintf("The card brings %s forward as the carriage passes, where the pattern is not knitted, and no "+
			"hand can push them back in time.", beyond.Brief())}
	if fix, mend := k.filled(k.Section(no)); mend != nil {
		f.Fix, f.Mend = fix, finding.Always(mend)
	}
	k.tooMuch = &f
}

// filled is what lets the only pattern of a section be all that its card brings: it goes from end to end, or, of lace
// that the edges cut, over whole repeats; nil where neither does it.
func (k *planner) filled(s *bed.Placed) (fix string, changes []edit.Change) {
	if len(s.Section.Areas) != 1 || k.m.Columns%s.Wide[0] != 0 || k.Piece.Shape != nil {
		return "", nil
	}
	a, work := &s.Section.Areas[0], s.InWork(1)
	if work.Minus(machine.Range(a.From, a.To)).Empty() && s.Section.Lace() {
		for _, w := range s.Widths(k.Piece, 1, work.Len()) {
			if w.More == 0 { // from its first column on no yarn-over loses its decrease
				return fmt.Sprintf("Make it %d needles wide, whole repeats", w.N), edit.Centred(k.Piece, w.N, 1)
			}
		}
		return "", nil
	}
	if s.Section.Lace() && work.Len()%s.Wide[0] != 0 {
		return "", nil
	}
	return "Let the pattern go from end to end", edit.AreaEnds(s.No, 1, work.First(), work.Last())
}

// keptBack is the end needles, where a lace carriage's switch keeps them back as it reads.
func keptBack(p *pass.Pass) machine.Set {
	if work := at(p); p.Ends && p.Lace.InProgram && !work.Empty() {
		return machine.SetOf(work.First(), work.Last())
	}
	return machine.Set{}
}

// at is the main bed's needles at work in a pass, without those in hold for the shape.
func at(p *pass.Pass) machine.Set {
	work := p.Main().AtWork
	if p.Recipe > 0 {
		return work
	}
	return work.Minus(p.Main().Hold)
}

// linkPairs: the reader takes a line on the way right and sets the needles on the
// way left. A section's first line is read by sweeping the reader across by hand.
func (k *planner) linkPairs(p, before, next *pass.Pass) {
	if p.Lace.InProgram || p.Recipe > 0 {
		return
	}
	if begins(p, before) && p.Dir == machine.Left {
		k.setProgramAt(p, p.Section, p.Own)
		p.Add(step.Sweep{Line: p.Own})
	}
	if p.Dir == machine.Right && next != nil && next.Own > 0 && next.Recipe == 0 && !begins(next, p) &&
		!next.Lace.InProgram {
		p.Line = next.Own
	}
}

// undone is the needles that fingers have put at rest before a pass, and so undone what the carriage had
// just selected there: as they reformed a stitch, or moved an edge.
func undone(p *pass.Pass) (needles machine.Set) {
	for i := range p.Before {
		st := &p.Before[i]
		if step.Is[step.Reform](st.Step) || st.Recipe > 0 {
			needles = needles.Or(st.Needles()).Or(st.Others())
		} else if e, ok := st.Step.(step.Edged); ok && st.Bed() == machine.Main {
			needles = needles.Or(e.InHand(at(p).Or(st.Needles())))
		}
	}
	return needles
}

// setProgramAt puts the card or the program of a section (from 1) in at a line.
func (k *planner) setProgramAt(p *pass.Pass, section, line int) {
	if k.m.Program == machine.Electronic && !k.careful {
		k.careful = true
		p.Add(step.Care{Text: step.CarePower})
	}
	p.Add(step.SetCard{Section: section, Line: line})
}

// again says that a pass is of the row with which the second part of the piece begins.
func (k *planner) again(p *pass.Pass) bool {
	return p.ID.Part == piece.SecondPart.String() && p.Section == k.shape.section && p.Row() == k.shape.row
}

// lifelines notes at each lifeline what brings her back to it: counter, card and pass.
func (k *planner) lifelines() {
	for i := range k.Passes {
		p := &k.Passes[i]
		for j := range p.Before {
			if st, ok := p.Before[j].Step.(step.Lifeline); ok {
				st.Pass, st.Window = p.N, p.Window
				if i > 0 {
					st.Reading = k.Passes[i-1].Counter
				}
				p.Before[j].Step = st
			}
		}
	}
}

// windows works out which number stands in the card's window before each pass, counted over
// the whole card: the line read last, or the one after it where the window shows the next;
// before the first reading the line under the reader (rules 1, Program). A card that is not
// joined is set back to line 1 before the pass that reads line 1 again, whatever the school;
// a joined one never is.
func (k *planner) windows() {
	if !k.m.HasCard() {
		return
	}
	section, under, read := 0, 0, 0 // the card that is in, the row under its reader, the one read last
	for i := range k.Passes {
		p := &k.Passes[i]
		reading := func() { // a joined card goes round
			if read++; read == 1 && under > 0 {
				read = under
			}
			read = (read-1)%k.CardRows(section) + 1
			under = 0
		}
		put := pass.Has[step.SetCard](p.Before)
		if !put && p.Line == 1 && read > 0 && read%k.CardRows(section) == 0 && !k.Section(section).Section.Joined {
			p.Add(step.SetCard{Line: 1, In: section})
		}
		for j := 0; j < len(p.Before); j++ {
			switch st := p.Before[j].Step.(type) {
			case step.Sweep:
				if st.Line == 1 && read > 0 && read%k.CardRows(section) == 0 && !k.Section(section).Section.Joined {
					p.Before = slices.Insert(p.Before, j, pass.Steps(step.SetCard{Line: 1, In: section})...) // from line 1 again
					under, read = 1, 0
					j++
				}
				reading()
			case step.SetCard:
				under, read = st.Line, 0
				if st.Section > 0 {
					section = st.Section
				}
			}
		}
		switch {
		case section == 0:
		case read == 0:
			p.Window = under
		case k.m.ShowsNext && k.Section(section).Section.Joined:
			p.Window = read%k.CardRows(section) + 1
		case k.m.ShowsNext && read == k.CardRows(section):
			p.Window = 0 // beyond the last line of a card that is not joined there is no number
		case k.m.ShowsNext:
			p.Window = read + 1
		default:
			p.Window = read
		}
		if p.Line > 0 {
			reading()
		}
	}
}
