package loom

import (
	"slices"

	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/step"
)

// A recipe goes its own way: which yarns, cams and sizes it has when is its own affair. The loom
// tells it how everything stands, takes its passes, and is told how it leaves everything.

// Standing is how everything stands before a recipe. fed is what the feeders hold to begin with
// where the section names a yarn, 0 where it names none.
func (l *Loom) Standing(fed piece.YarnNo) recipe.Start {
	at := recipe.Start{Side: l.carriage, Counter: l.counter, Sizes: [2]string{l.size, l.second.size}}
	at.Feeders = recipe.Pair(l.feeders)
	if l.Machine.Feeders == 1 {
		at.Feeders = recipe.Pair{l.yarns.feeder}
	}
	copy(at.Hangs[:], l.yarns.side[:])
	for _, y := range at.Feeders {
		if y != 0 {
			at.Hangs[y] = l.carriage
		}
	}
	if fed != 0 {
		at.Feeders = recipe.Pair{fed}
	}
	return at
}

// Feeding is what the feeders really hold.
func (l *Loom) Feeding() recipe.Pair {
	if l.Machine.Feeders == 1 {
		return recipe.Pair{l.yarns.feeder}
	}
	return recipe.Pair(l.feeders)
}

// Loaded is the loops on the main bed after the passes so far, and on the second: one a needle, and
// the tucks that have been laid since each knitted last. cast is the yarn of stitches that no pass
// has knitted.
func (l *Loom) Loaded(main, second machine.Set, cast piece.YarnNo) (list []loops.Loop) {
	if l.Piece.Shape != nil {
		return l.shapedLoad(main, second, cast)
	}
	var base, over [2][machine.MaxBed][]piece.YarnNo
	left := [2]machine.Set{main, second}
	for i := len(l.Plan.Passes) - 1; i >= 0 && !(left[0].Empty() && left[1].Empty()); i-- {
		var done [2]machine.Set
		p := &l.Plan.Passes[i]
		if caught := l.caught(p).And(left[machine.Main]); !caught.Empty() {
			for n := range caught.All() {
				over[machine.Main][n+machine.MaxBed/2] = append(over[machine.Main][n+machine.MaxBed/2], p.Yarn(1))
			}
		}
		for g := range p.Groups() {
			for n := range g.Needles.And(left[g.Bed]).All() {
				at := n + machine.MaxBed/2
				switch {
				case g.Action.Knits() && g.Yarn != 0:
					base[g.Bed][at] = []piece.YarnNo{g.Yarn}
					done[g.Bed].Add(n)
				case g.Action == machine.Tuck && g.Yarn != 0:
					over[g.Bed][at] = append(over[g.Bed][at], g.Yarn)
				}
			}
		}
		for bed := range left {
			left[bed] = left[bed].Minus(done[bed])
		}
	}
	for bed, on := range [2]machine.Set{main, second} {
		for n := range on.All() {
			at := n + machine.MaxBed/2
			stack := base[bed][at]
			if stack == nil {
				stack = []piece.YarnNo{cast}
			}
			strands := over[bed][at]
			slices.Reverse(strands)
			for _, y := range append(stack, strands...) {
				list = append(list, loops.Loop{Bed: machine.BedNo(bed), Needle: int16(n), Yarn: y})
			}
		}
	}
	return list
}

// caught is the needles in full hold over which a pass of a section leaves a strand.
func (l *Loom) caught(p *pass.Pass) machine.Set {
	if p.Main().Hold.Empty() || p.Yarn(1) == 0 || l.Machine.HeldPasses || p.Cams().Held != machine.Hold {
		return machine.Set{}
	}
	var took machine.Set
	for g := range p.Groups() {
		if g.Bed == machine.Main && g.Action.Takes() && g.Feeder == 1 {
			took = took.Or(g.Needles)
		}
	}
	if took.Empty() {
		return took
	}
	return p.Main().Hold.And(machine.Range(took.First(), took.Last()))
}

// Holding is the needles of either bed that hold a loop, or are at work, as a section works them.
func (l *Loom) Holding() (main, second machine.Set) { return l.second.main, l.second.holds }

// Bare is the needles of the second bed that are in work and have nothing yet.
func (l *Loom) Bare() machine.Set { return l.second.bare }

// Forward is the needles of either bed that were chosen by hand and still stand forward.
func (l *Loom) Forward() [2]machine.Set { return [2]machine.Set{l.standing, l.second.forward} }

// AfterRecipe says that the pass sent last was a recipe's, or that one came to no pass at all.
func (l *Loom) AfterRecipe() bool { return l.woven }

// Begun readies a pass of a recipe to be sent: its hand steps begin with those that are due.
func (l *Loom) Begun() (steps []pass.Step) {
	steps, l.due = l.due, nil
	if len(l.Plan.Passes) == 0 {
		if l.begun {
			return steps
		}
		l.begun = true
		first := append([]step.Step{step.Care{Text: step.CareHooks}, step.Counter{}}, l.needs(machine.KnitCarriage)...)
		return append(steps, pass.Steps(first...)...)
	}
	var p pass.Pass
	l.changeCarriage(&p)
	return append(steps, p.Before...)
}

// Begin begins a pass of a recipe. It stays where it is only until the next one is begun.
func (l *Loom) Begin() *pass.Pass {
	l.Plan.Passes = append(l.Plan.Passes, pass.Pass{})
	return l.Last()
}

// Cancel takes the pass begun last away again.
func (l *Loom) Cancel() { l.Plan.Passes = l.Plan.Passes[:len(l.Plan.Passes)-1] }

// Send completes the pass begun last with its place, the counter, and which of its section's passes
// it is (nth, from 1).
func (l *Loom) Send(p *pass.Pass, nth int) {
	p.N, p.Section = len(l.Plan.Passes), l.placed.No
	p.ID = pass.ID{Section: l.placed.Section.ID, Repeat: 1, Row: nth, Nth: 1}
	if p.Beds[machine.Main].Named || p.Beds[machine.Second].Named {
		if p.Carriage == machine.KnitCarriage && !p.Free {
			l.counter++
			l.run++
		}
	}
	if m := l.Machine; m.HasSecond() {
		p.Shift = p.Rack - m.RackCentre
	}
	p.Counter, p.Run = l.counter, l.run
	if p.Carriage == machine.KnitCarriage {
		l.carriage, l.yarns.carriage = p.Dir, p.Dir
	}
}

// Works notes the row that a pass works.
func (l *Loom) Works(row int) []pass.RowPart {
	l.parts = append(l.parts, pass.RowPart{Row: row, Part: 1})
	return l.parts[len(l.parts)-1 : len(l.parts) : len(l.parts)]
}

// Reads sets what the counter reads, which a step says.
func (l *Loom) Reads(n int) { l.counter = n }

// Left notes how a recipe leaves everything: what the feeders hold, where yarns hang, the stitch
// sizes, and which needles hold loops.
func (l *Loom) Left(fed recipe.Pair, hangs [64]machine.Side, sizes [2]string, main, second machine.Set,
	rack int, pitch machine.Pitch, forward [2]machine.Set) {
	l.feeders = fed
	if l.Machine.Feeders == 1 {
		l.feeders, l.yarns.feeder = [2]piece.YarnNo{}, fed[0]
	}
	copy(l.yarns.side[:], hangs[:])
	l.size, l.second.size = sizes[0], sizes[1]
	l.second.main, l.second.holds, l.second.bare = main, second, machine.Set{}
	l.second.pitched = pitch != l.Piece.Second.Pitch
	l.second.racked = rack != l.Piece.Second.Rack || l.second.pitched
	l.standing, l.second.forward = forward[machine.Main], forward[machine.Second]
	l.knitter, l.woven = machine.KnitCarriage, true
}
