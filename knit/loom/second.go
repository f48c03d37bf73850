package loom

import (
	"cmp"
	"fmt"
	"slices"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// secondBed is how the second bed stands after the pass sent last.
type secondBed struct {
	holds   machine.Set // needles with a loop, or in work without one
	bare    machine.Set // of those, the ones that have nothing yet
	main    machine.Set // of the main bed, likewise
	size    string
	forward machine.Set // left standing forward by a recipe
	racked  bool        // it stands otherwise than the piece has it
	pitched bool        // at the other pitch, too
	known   bool        // handle and pitch have been set, as the piece has them
}

// behind completes a pass with the second bed's part: which needles knit on its way, in which
// yarns, and what hands do for it first. Loops that the section does not work are moved across
// to the main bed before it.
func (l *Loom) behind(p *pass.Pass) {
	s, b, m := l.placed, &l.second, l.Machine
	all, hold := l.standsBehind(p.Row())
	if m.HasSecond() {
		p.Rack, p.Pitch, p.Shift = l.Piece.Second.Rack, l.Piece.Second.Pitch, l.Piece.Across().Shift
	}
	if b.racked {
		b.racked = false
		p.Add(step.Rack{To: l.Piece.Second.Rack, Pitch: l.Piece.Second.Pitch, SaysPitch: b.pitched})
	}
	l.changeBeds(p, all)
	if s.Second.Empty() && !l.shape.waitsBehind.Empty() && p.Carriage == machine.KnitCarriage {
		p.Add(l.Set(&pass.Half{Setting: machine.SecondIdle}, p.Dir, l.shape.waitsBehind)...) // it passes by what waits there
	}
	if s.Second.Empty() || p.Carriage != machine.KnitCarriage {
		return
	}
	half := p.Second()
	half.AtWork, half.Hold = all, hold
	if half.Size == "" { // the technique says no other
		half.Size = cmp.Or(s.Section.BehindSize, p.Main().Size)
	}
	if half.Setting.Key == "" {
		var ok bool
		if half.Setting, ok = machine.BehindBy(s.Section.Behind); !ok {
			half.Setting = machine.SecondEvery // of a selecting row
		}
	}
	if p.Free {
		half.Setting = machine.SecondIdle
	}
	half.Yarns = p.Main().Yarns
	half.Select = machine.Set{}
	if half.Setting.Key == machine.SecondTurns.Key {
		half.Select = Turn(all.Minus(hold), p.Dir)
	}
	p.Add(l.Beds(p.Pitch, p.Rack)...)
	p.Add(l.Set(half, p.Dir, l.shape.waitsBehind)...)
	if half.Size != "" && half.Size != b.size {
		b.size = half.Size
		p.Add(step.Size{Of: machine.Second, Size: half.Size})
	}
}

// Beds is what is done once, before the second bed is first used: what has to be there, and how the two beds stand.
func (l *Loom) Beds(pitch machine.Pitch, rack int) []step.Step {
	if l.second.known {
		return nil
	}
	l.second.known = true
	return append(l.needs(machine.SecondCarriage), step.Note{At: step.On(machine.Second, machine.Set{}),
		Text: fmt.Sprintf("Set the two beds to %v pitch, the handle of the second to %d", pitch, rack)})
}

// changeBeds moves stitches across to the other bed where the section has their needles out of
// work, and casts on by hand where a needle comes into work that has none.
func (l *Loom) changeBeds(p *pass.Pass, second machine.Set) {
	b, work := &l.second, p.Main().AtWork
	if p.N == 1 && !l.begun {
		b.main = work
		return
	}
	shift := l.Piece.Across().Shift
	lie := machine.Across{Shift: shift}
	if gone := b.main.Minus(work); !gone.Empty() {
		back := machine.Across{Shift: -shift}.OnMain(gone)
		p.Add(step.Across{At: step.Main(gone), Onto: back.And(second), Tool: 1}, step.ToOut{At: step.Main(gone)})
		if lost := back.Minus(second); !lost.Empty() {
			l.Plan.Report(finding.Finding{Code: finding.TransferOff, Severity: finding.Stop, Section: l.placed.No,
				Rows: [2]int{1, 1}, Needles: gone,
				Text: fmt.Sprintf("%v go out of work with stitches on them, and the second bed has no needle in work "+
					"to take them.", gone),
				Fix: "Let the second bed work there, or keep them in work"})
		}
		b.holds, b.main = b.holds.Or(back), b.main.Minus(gone)
	}
	if left := b.holds.Minus(second); !left.Empty() {
		moved := left.Minus(b.bare)
		b.bare = b.bare.Minus(left)
		b.holds, b.main = b.holds.Minus(left), b.main.Or(lie.OnMain(left).And(work))
		l.shape.behind = l.shape.behind.Minus(left) // nothing waits there any more
		var onto machine.Set
		hang := l.beforeEdges(p)
		for n := range moved.All() {
			if to, ok := pass.Nearest(hang, lie.Left(n)); ok {
				onto.Add(to)
			}
		}
		if !moved.Empty() {
			p.Add(step.Across{At: step.On(machine.Second, moved), Onto: onto, Tool: 1})
		}
		p.Add(step.ToOut{At: step.On(machine.Second, left)}) // else its carriage casts on there
	}
	if bare := work.Minus(b.main); !bare.Empty() {
		y := p.Yarn(1)
		if y == 0 {
			y = l.placed.Section.RowYarn(1)
		}
		p.Add(step.CastOn{At: step.Main(bare), Yarn: y})
		b.main = work
	}
}

// beforeEdges is the main bed's needles that hold stitches when those of the second come across: the edges of the row
// are moved after that.
func (l *Loom) beforeEdges(p *pass.Pass) machine.Set {
	on := l.second.main
	for i := range p.Before {
		st := p.Before[i].Step
		if st.Bed() != machine.Main || st.Rank(false) <= (step.Across{}).Rank(false) {
			continue
		}
		switch e := st.(type) {
		case step.Narrow:
			on = on.Or(e.On)
		case step.BindOffEdge:
			on = on.Or(e.On)
		case step.Widen:
			on = on.Minus(e.On)
		case step.CastOnEdge:
			on = on.Minus(e.On)
		}
	}
	return on
}

// castOnBehind brings needles of the second bed that hold nothing yet into work, with loops where the piece begins so,
// once the yarns for the pass are in the feeders.
func (l *Loom) castOnBehind(p *pass.Pass) {
	bare := p.Second().AtWork.Minus(l.second.holds)
	if bare.Empty() {
		return
	}
	if len(l.Plan.Passes) > 1 || l.begun { // in mid-piece the next pass that knits them makes their first loops
		p.Add(step.Enter{At: step.On(machine.Second, bare)})
		l.second.bare = l.second.bare.Or(bare)
	} else {
		y := p.Yarn(1)
		if y == 0 {
			y = l.placed.Section.RowYarn(1)
		}
		p.Add(step.CastOn{At: step.On(machine.Second, bare), Yarn: y})
	}
	l.second.holds = l.second.holds.Or(bare)
	if wait := p.Second().Hold.And(bare); !wait.Empty() && l.Piece.Shape != nil { // those behind what waits
		p.Add(step.HoldEdge{Edge: step.Edge{At: step.On(machine.Second, wait), Due: step.WithYarn}})
		l.shape.behind = l.shape.behind.Or(wait)
	}
}

// loopsBehind notes which needles of the second bed have their first loops once a pass is made.
func (l *Loom) loopsBehind(p *pass.Pass) {
	if l.second.bare.Empty() {
		return
	}
	for g := range p.Groups() {
		if g.Bed == machine.Second && g.Action.Takes() && g.Yarn != 0 {
			l.second.bare = l.second.bare.Minus(g.Needles)
		}
	}
}

// Turn is which needles of the second bed knit on a way where they take turns: the first, third,
// fifth … from the left on the way right, the others on the way left.
func Turn(second machine.Set, way machine.Side) (knit machine.Set) {
	odd := true
	for n := range second.All() {
		if odd == (way == machine.Right) {
			knit.Add(n)
		}
		odd = !odd
	}
	return knit
}

// Fewest puts the colours of rows in the order that needs the fewest changes of the yarn: as often
// as can be a row begins with the colour that the row below ended with. Among equals a row keeps
// to the order in which it is written, the lower rows deciding. before is the yarn that is in the
// feeder when the first row is begun, 0 for none.
func Fewest(rows [][]piece.YarnNo, before piece.YarnNo) [][]piece.YarnNo {
	saves := func(row []piece.YarnNo, before, last piece.YarnNo) int {
		if slices.Contains(row, before) && (before != last || len(row) == 1) {
			return 1
		}
		return 0
	}
	// rest[r][y] is how many changes are saved at most from row r on, where the row below ended with y.
	rest := make([]map[piece.YarnNo]int, len(rows)+1)
	for r := len(rows) - 1; r > 0; r-- {
		rest[r] = map[piece.YarnNo]int{}
		for _, was := range rows[r-1] {
			most := 0
			for _, last := range rows[r] {
				most = max(most, saves(rows[r], was, last)+rest[r+1][last])
			}
			rest[r][was] = most
		}
	}
	out := make([][]piece.YarnNo, len(rows))
	for r, row := range rows {
		best, last := -1, piece.YarnNo(0)
		for i := len(row) - 1; i >= 0; i-- { // as it is written first
			if n := saves(row, before, row[i]) + rest[r+1][row[i]]; n > best {
				best, last = n, row[i]
			}
		}
		if saves(row, before, last) == 0 {
			before = 0
		}
		out[r] = ordered(row, before, last)
		before = last
	}
	return out
}

// ordered is a row's colours with one of them first, if any, and one last.
func ordered(row []piece.YarnNo, first, last piece.YarnNo) []piece.YarnNo {
	out := make([]piece.YarnNo, 0, len(row))
	if first != 0 {
		out = append(out, first)
	}
	for _, y := range row {
		if y != last && y != first {
			out = append(out, y)
		}
	}
	if first != last && len(row) > 0 {
		out = append(out, last)
	}
	return out
}
