package plan

import (
	"slices"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// programLines finds how many program lines each section takes: the rows after which
// chart and feeders both begin again. Where yarns change feeders from one repeat to
// the next the holes are inverted, so the program is longer than the chart.
func (k *planner) programLines() {
	k.Lines = make([]int, len(k.sections))
	for i := range k.sections {
		s := &k.sections[i]
		if !s.technique.IsPatterned(k.m) || k.m.School == machine.ByHand || s.rows == 0 {
			continue
		}
		yarns := k.yarns[s.at : s.at+s.rows]
		lines := s.Cycle
		for lines < s.rows && !periodic(yarns, lines) {
			lines += s.Cycle
		}
		k.Lines[i] = min(lines, s.Rows)
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
// row: 1 to h, and again from 1; or lets the technique number them.
func (k *planner) number(s *section, from int) {
	passes := k.Passes[from:]
	count := &k.Lines[s.No-1]
	if lines := s.technique.Lines; lines != nil {
		*count = lines(k.m, s.Placed, passes)
		if at := slices.IndexFunc(passes, func(p pass.Pass) bool { return p.Line == 1 }); at >= 0 {
			k.setProgram(&passes[at], s.No)
		}
		return
	}
	for j := range passes {
		if p := &passes[j]; p.Patterned && *count > 0 {
			p.Own = (p.Row()-1)%*count + 1
		}
	}
}

// link settles which pass reads which program line, and what it sets for the next
// (rules 1, Selection), and puts card and program in where a section's first
// line is read.
func (k *planner) link() {
	for i := range k.Passes {
		p := &k.Passes[i]
		var next *pass.Pass
		if i+1 < len(k.Passes) {
			next = &k.Passes[i+1]
		}
		switch k.m.School {
		case machine.Direct:
			if p.Line = p.Own; p.Own == 1 && p.Row() == 1 && !p.Lace.InProgram {
				k.setProgram(p, p.Section)
			}
		case machine.Preselect:
			k.linkAhead(p, next)
		case machine.Pairs:
			k.linkPairs(p, next)
		}
	}
}

// linkAhead: a preselecting carriage reads, as it knits one row, the line of the next.
func (k *planner) linkAhead(p, next *pass.Pass) {
	if next == nil || next.Own == 0 || next.Lace.InProgram {
		return
	}
	p.Line, p.Main().Sets = next.Own, next.Main().Line
	if next.Ends {
		p.Main().Sets = p.Main().Sets.Or(next.Exempt)
	}
	setAgain(next)
	if next.Row() == 1 {
		k.setProgram(p, next.Section)
		if k.m.HasCard() {
			p.Before = append(p.Before, pass.CardStep(pass.CardLock))
			next.Before = append([]pass.Step{pass.CardStep(pass.CardRelease)}, next.Before...)
		}
	}
}

// linkPairs: the reader takes a line on the way right and sets the needles on the
// way left. A section's first line is read by sweeping the reader across by hand.
func (k *planner) linkPairs(p, next *pass.Pass) {
	if p.Own > 0 && p.Row() == 1 && p.Dir == machine.Left && p.Line == 0 {
		k.setProgram(p, p.Section)
		p.Before = append(p.Before, pass.NoteStep("Sweep the reader across by hand, so that it takes line 1", 0,
			machine.Set{}))
	}
	if p.Dir != machine.Right || next == nil || next.Own == 0 || next.Row() == 1 {
		return
	}
	if p.Line = next.Own; p.Line == 1 {
		p.Before = append(p.Before, pass.SetCardStep(0, 1))
	}
}

// setAgain: fingers that reform a stitch put its needle back at rest, and so undo what
// the carriage has just selected; those needles are brought forward again by hand.
func setAgain(p *pass.Pass) {
	var undone machine.Set
	for _, st := range p.Before {
		if st.Do == pass.Reform {
			undone = undone.Or(st.Needles)
		}
	}
	if undone = undone.And(p.Main().Select).Minus(p.Main().ByHand); !undone.Empty() {
		p.Before = append(p.Before, pass.NeedleStep(pass.BringForward, undone))
	}
}

// setProgram puts the card or the program of a section (from 1) in at its first line.
func (k *planner) setProgram(p *pass.Pass, section int) {
	if k.m.Program == machine.Electronic {
		p.Before = append(p.Before, pass.CareStep(pass.CarePower))
	}
	p.Before = append(p.Before, pass.SetCardStep(section, 1))
}
