package plan

import (
	"vindel/knit/machine"
)

// numberLines gives the passes of one section, from index `from`, the program line
// of their own row: 1 to h, and again from 1.
func (k *planner) numberLines(from, h int) {
	if h == 0 {
		return
	}
	for i := from; i < len(k.plan.Passes); i++ {
		if p := &k.plan.Passes[i]; p.Patterned {
			p.own, p.h = (p.Row-1)%h+1, h
		}
	}
}

// Own is the program line that the pass's own row stands on, 0 for none. Line is the
// one read in the pass, which a preselecting carriage knits only in the next.
func (p *Pass) Own() int { return p.own }

// Reads is what the line read in a lace pass selects: for the same pass, or for the next
// where the carriage selects ahead.
func (p *Pass) Reads() machine.Set { return p.reads }

// link settles which pass reads which program line, and what it sets for the next
// (rules: Selection), and puts card and program in place where a section's first
// line is read.
func (k *planner) link() {
	passes := k.plan.Passes
	for i := range passes {
		p := &passes[i]
		var next *Pass
		if i+1 < len(passes) {
			next = &passes[i+1]
		}
		switch k.m.School {
		case machine.Direct:
			if p.Line = p.own; p.own == 1 && p.Row == 1 && !p.InLace {
				k.setProgram(p, p.Section)
			}
		case machine.Preselect:
			if next == nil || next.own == 0 || next.InLace {
				continue
			}
			p.Line, p.Sets = next.own, next.Select.Minus(next.ByHand).Or(next.PushedBack)
			k.setAgain(next)
			if next.Row == 1 {
				k.setProgram(p, next.Section)
				if k.m.HasCard() {
					p.Before = append(p.Before, Step{Do: CardLock})
					next.Before = append([]Step{{Do: CardRelease}}, next.Before...)
				}
			}
		case machine.Pairs:
			k.linkPairs(p, next)
		}
	}
}

// linkPairs: the reader takes a line on the way right and sets the needles on the
// way left. A section's first line is read by sweeping the reader across by hand.
func (k *planner) linkPairs(p, next *Pass) {
	if p.own > 0 && p.Row == 1 && p.Dir == machine.Left && p.Line == 0 {
		k.setProgram(p, p.Section)
		p.Before = append(p.Before, Step{Do: Note, Text: "Sweep the reader across by hand, so that it takes line 1"})
	}
	if p.Dir != machine.Right || next == nil || next.own == 0 || next.Row == 1 {
		return
	}
	if p.Line = next.own; p.Line == 1 {
		p.Before = append(p.Before, Step{Do: SetCard, Value: 1})
	}
}

// setAgain: fingers that reform a stitch put its needle back at rest, and so undo what
// the carriage has just selected; those needles are brought forward again by hand.
func (k *planner) setAgain(p *Pass) {
	var undone machine.Set
	for _, st := range p.Before {
		if st.Do == Reform {
			undone = undone.Or(st.Needles)
		}
	}
	if undone = undone.And(p.Select).Minus(p.ByHand); !undone.Empty() {
		p.Before = append(p.Before, Step{Do: BringForward, Needles: undone})
	}
}

func (k *planner) setProgram(p *Pass, section int) {
	if k.m.Program == machine.Electronic {
		p.Before = append(p.Before, Step{Do: Care, Text: carePower})
	}
	p.Before = append(p.Before, Step{Do: SetCard, Value: 1, Section: section})
}

// count sums up the finished plan and adds what follows the last pass.
func (k *planner) count() {
	t := &k.plan.Totals
	for i := range k.plan.Passes {
		p := &k.plan.Passes[i]
		t.Passes++
		if !p.Free {
			t.Knitted++
		}
		if p.Line > 0 {
			t.Lines++
		}
	}
	k.plan.After = k.due // what the last row still wants of the fingers, also where the plan stops
	if k.plan.Stopped.Row == 0 && t.Passes > 0 {
		k.plan.After = append(k.plan.After, []Step{
			{Do: Care, Text: careWeights}, {Do: Weights, Value: 1}, {Do: BindOff, Needles: k.p.Work()},
		}...)
	}
}
