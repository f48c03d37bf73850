package acts

import (
	"fmt"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/recipe"
	"vindel/knit/step"
)

// All passes of a recipe that card or program chooses are one program, in their order (recipes 6,
// By card or program).
type cards struct {
	lines   []machine.Set // of every line, as they come
	own     []int         // indexes of the plan's passes that use them
	line    []int         // and which line each uses, from 0
	reads   []reading
	program []machine.Set // the shortest repeat
	open    bool          // a stretch is at work
	half    bool          // of a pair the first pass has been sent
	locked  bool
}

// reading is a pass (index), or -1 for a sweep by hand before one, that reads a line (from 0).
type reading struct {
	pass, sweep, line int
}

// chosen begins or ends a stretch in which card or program chooses.
func (w *weaver) chosen(a *recipe.Act) bool {
	byCard := a.Step.Way != "hand"
	c := &w.card
	if !byCard && c.open && w.m.HasCard() {
		w.step(a, step.CardLock{})
		c.locked = true
	}
	if byCard && c.locked {
		w.step(a, step.CardRelease{})
		c.locked = false
	}
	c.open, c.half = byCard, false
	return true
}

// stopAt ends the plan at a pass that card or program cannot choose.
func (w *weaver) stopAt(a *recipe.Act, code finding.Code, on machine.Set, fix, format string, args ...any) bool {
	w.pl.Report(finding.Finding{Code: code, Severity: finding.Stop, Section: w.s.No, Rows: [2]int{w.rows, w.rows},
		Needles: on, Fix: fix,
		Source: a.Step.Line, Round: a.Rounds,
		Text: fmt.Sprintf("Pass %d: ", len(w.pl.Passes)) + fmt.Sprintf(format,
			args...) + fmt.Sprintf(" (Line %d%s.)", a.Step.Line, finding.Said(a.Rounds))})
	return false
}

// read gives a pass the program line that its needles come from, and settles where it is read.
func (w *weaver) read(a *recipe.Act, p *pass.Pass) bool {
	main, c, m := p.Main(), &w.card, w.m
	work := main.AtWork.Minus(main.Hold)
	line := main.Select
	if m.HasCard() {
		if clash := w.clash(line, work); !clash.Empty() {
			return w.stopAt(a, finding.WidthTile, clash, fmt.Sprintf(
				"Choose needles that repeat every %d, or fewer that fit the card once", m.Columns),
				"%v are to do other things than the needles %d to their left, which share their columns of "+
					"the card.", clash, m.Columns)
		}
	}
	here := len(w.pl.Passes) - 1 // where the pass is
	last := -1                   // the knit carriage's pass before it
	for i := here - 1; i >= 0 && last < 0; i-- {
		if w.pl.Passes[i].Carriage == machine.KnitCarriage {
			last = i
		}
	}
	if !main.Named {
		line = machine.Set{}
	}
	switch m.School {
	case machine.Preselect:
		if last < 0 {
			return w.stopAt(a, finding.RecipeReader, machine.Set{}, "Let a pass by hand come before it",
				"the carriage selects a row ahead, and no pass stands before this one that could select for it.")
		}
		c.reads = append(c.reads, reading{last, -1, len(c.lines)})
		c.lines = append(c.lines, line)
		w.ahead(a, p, last, line)
	case machine.Direct:
		c.reads = append(c.reads, reading{here, -1, len(c.lines)})
		c.lines = append(c.lines, line)
	case machine.Pairs:
		if stretch := len(c.own) > 0 && c.own[len(c.own)-1] == last && c.half; p.Dir == machine.Left {
			if n := len(c.own); n > 0 && c.own[n-1] == last && c.open && !w.broken(last) {
				c.reads = append(c.reads, reading{last, -1, len(c.lines)}) // on the way right before it
			} else {
				c.reads = append(c.reads, reading{-1, here, len(c.lines)})
			}
			c.lines, c.half = append(c.lines, line), true
		} else if !stretch {
			return w.stopAt(a, finding.RecipeReader, machine.Set{}, "Begin with a pass to the left",
				"the reader sets the needles on a pass to the left; here it goes to the right.")
		} else if c.half = false; c.lines[len(c.lines)-1] != line {
			differ := line.Minus(c.lines[len(c.lines)-1]).Or(c.lines[len(c.lines)-1].Minus(line))
			return w.stopAt(a, finding.RecipeReader, differ, "Let both passes of a pair ask for the same needles",
				"the reader gives every line two passes, to the left and back; this one asks for other needles than "+
					"the one before it: %v.", differ)
		}
	}
	c.own, c.line = append(c.own, here), append(c.line, len(c.lines)-1)
	p.Patterned = true
	main.Line = line
	return true
}

// broken says that the pass at an index ended a stretch: the choosing was by hand since.
func (w *weaver) broken(last int) bool { return w.card.half || w.pl.Passes[last].Dir == machine.Left }

// clash is the needles at work that would need another hole than one to their left in their column.
func (w *weaver) clash(line, work machine.Set) (clash machine.Set) {
	if work.Empty() || int(work.Last()-work.First()) < w.m.Columns {
		return clash // each has a column of its own
	}
	var known [machine.MaxBed]int8
	for n := range work.All() {
		at := ((int(n-w.m.CardOrigin) % w.m.Columns) + w.m.Columns) % w.m.Columns
		hole := int8(1)
		if line.Has(n) {
			hole = 2
		}
		if known[at] == 0 {
			known[at] = hole
		} else if known[at] != hole {
			clash.Add(n)
		}
	}
	return clash
}

// ahead settles what the pass before has brought forward for this one, and what fingers set again:
// needles that were touched since, or came into work.
func (w *weaver) ahead(a *recipe.Act, p *pass.Pass, last int, line machine.Set) {
	before := w.pl.Passes[last].Main()
	was := before.AtWork.Minus(before.Hold)
	if w.pl.Passes[last].Cams().Held != machine.Hold {
		was = before.AtWork
	}
	before.Sets = line.And(was)
	forward := before.Sets
	for i := range w.steps {
		forward = forward.Minus(w.steps[i].Rests(w.lie()))
	}
	w.forward[machine.Main] = forward
}

// choose says which needles fingers bring forward, and which they put back.
func (w *weaver) choose(a *recipe.Act, p *pass.Pass, byCard bool) {
	for no := range p.Beds {
		b, half := machine.BedNo(no), &p.Beds[no]
		now := w.forward[no]
		if byCard && b == machine.Main && w.m.School != machine.Preselect {
			now = half.Select // as it goes
		}
		if !half.Named {
			half.Select = now
			continue
		}
		if back := now.Minus(half.Select); !back.Empty() {
			half.PushedBack = back
			w.toWork(a, b, back)
		}
		if come := half.Select.Minus(now); !come.Empty() {
			half.ByHand = come
			w.step(a, step.BringForward{At: step.On(b, come)})
		}
		w.forward[no] = half.Select
	}
}

// program settles the shortest repeat of the lines, and which line each pass is of and reads.
func (w *weaver) program() {
	c := &w.card
	if len(c.lines) == 0 || w.s.No == 0 {
		return
	}
	h := shortest(c.lines)
	c.program = c.lines[:h]
	w.pl.Programs[w.s.No-1] = c.program
	for i, at := range c.own {
		w.pl.Passes[at].Own = c.line[i]%h + 1
	}
	for i, r := range c.reads {
		line := r.line%h + 1
		at := r.pass
		if r.sweep >= 0 {
			at = r.sweep
		}
		p := &w.pl.Passes[at]
		if i == 0 {
			if w.m.Program == machine.Electronic {
				p.Add(step.Care{Text: step.CarePower})
			}
			p.Add(step.SetCard{Section: w.s.No, Line: 1})
		}
		if r.sweep >= 0 {
			p.Add(step.Sweep{Line: line})
		} else {
			p.Line = line
		}
	}
}

// shortest is the least number of lines after which they come again, the last time perhaps cut short.
func shortest(lines []machine.Set) int {
	border := make([]int, len(lines)) // the longest beginning that ends there too
	for i, k := 1, 0; i < len(lines); i++ {
		for k > 0 && lines[i] != lines[k] {
			k = border[k-1]
		}
		if lines[i] == lines[k] {
			k++
		}
		border[i] = k
	}
	return len(lines) - border[len(lines)-1]
}
