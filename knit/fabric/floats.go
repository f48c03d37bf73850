package fabric

import (
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Float is a stretch of yarn that runs past needles without being taken, from the last
// needle that took it to the next that takes it, in one pass or over the turn between two:
// the needles strictly between, First to Last, both included. To the edge of the work
// nothing floats: there the yarn turns (rules 4).
type Float struct {
	Pass        int // index of the pass that takes the yarn up again
	Yarn        piece.YarnNo
	First, Last machine.Needle
	Turn        bool // it lies over the turn between two passes
	// Below says that it lies at a turn, beyond what the pass before had taken: a stitch of
	// that row would break it, not one of this.
	Below bool

	N      int // of recipes: the needles that it runs past; 0: all from First to Last
	Bed    machine.BedNo
	Source int // its line
	Round  []finding.Round
}

// Stitches is the length of the float in needles; 0 for none.
func (f Float) Stitches() int {
	if f.Yarn == 0 {
		return 0
	}
	if f.N > 0 {
		return f.N
	}
	return int(f.Last-f.First) + 1
}

// measure keeps the longest float of all passes, and which passes have one beyond the limit.
func (f *Fabric) measure(i int) {
	most, limit := f.Longest.Stitches(), f.limit
	for feeder := range f.Took[i] {
		f.longer(i, feeder, min(most, limit), func(float Float) {
			if n := float.Stitches(); n > most {
				f.Longest, most = float, n
			}
			if n := len(f.Floating); float.Stitches() > limit && (n == 0 || f.Floating[n-1] != i) {
				f.Floating = append(f.Floating, i)
			}
		})
	}
}

// LongFloats lists, for pass i (from 0), the floats of more than limit stitches: for each
// feeder the one over the turn, and then those of the pass, left to right.
func (f *Fabric) LongFloats(i, limit int) (floats []Float) {
	for feeder := range f.Took[i] {
		f.longer(i, feeder, limit, func(float Float) { floats = append(floats, float) })
	}
	return floats
}

// longer tells of the floats of a feeder's yarn that pass i ends, where they are of more
// than limit stitches.
func (f *Fabric) longer(i, feeder, limit int, tell func(Float)) {
	took, p := f.reach(i, feeder), &f.Plan.Passes[i]
	if took.Empty() {
		return
	}
	y := p.Yarn(feeder + 1)
	if from, ok := f.cameFrom(i, y); ok {
		to := first(took, p)
		if low, high := min(from, to)+1, max(from, to)-1; int(high-low)+1 > limit {
			tell(Float{Pass: i, Yarn: y, First: low, Last: high, Turn: true,
				Below: (to > from) == (p.Dir == machine.Left)})
		}
	}
	gap := machine.Range(took.First(), took.Last()).Minus(took)
	if !gap.HasRun(limit + 1) {
		return
	}
	for low, high := range gap.Runs() {
		if int(high-low)+1 > limit {
			tell(Float{Pass: i, Yarn: y, First: low, Last: high})
		}
	}
}

// reach is where a feeder's yarn was taken in pass i, of either bed: a needle of the second counts
// as the main one that it faces, or to whose right it stands. Between a stitch on one bed and the
// next on the other the strand crosses the gap, and does not float.
func (f *Fabric) reach(i, feeder int) machine.Set {
	took := f.Took[i][feeder]
	if f.Behind == nil || f.Behind[i][feeder].Empty() {
		return took
	}
	p := &f.Plan.Passes[i]
	return took.Or(machine.Across{Shift: p.Shift, Pitch: p.Pitch}.OnMain(f.Behind[i][feeder]))
}

// cameFrom is the needle that last took a yarn before pass i, if the yarn has gone with the
// carriage since: one that rested in between begins afresh.
func (f *Fabric) cameFrom(i int, y piece.YarnNo) (machine.Needle, bool) {
	part := f.Plan.Passes[i].ID.Part
	for j := range f.Plan.Passes[i].Before {
		if n, knitted, ok := edgeYarn(f.Plan.Passes[i].Before[j].Step, y); knitted {
			return n, ok // it has just been knitted with, along the edge
		}
	}
	for i--; i >= 0; i-- {
		p := &f.Plan.Passes[i]
		if p.ID.Part != part && part == piece.SecondPart.String() {
			return 0, false // threaded anew
		}
		feeder := 0
		for feeder < len(f.Took[i]) && p.Yarn(feeder+1) != y {
			feeder++
		}
		if feeder == len(f.Took[i]) {
			return 0, false
		}
		if took := f.reach(i, feeder); !took.Empty() {
			return last(took, p), true
		}
	}
	return 0, false
}

// edgeYarn is where a yarn is once it has bound stitches off at an edge, in the stitch beside them, or cast some on,
// in the last of them; nowhere where it was joined anew. knitted: the step is one of those, in that yarn.
func edgeYarn(st step.Step, y piece.YarnNo) (n machine.Needle, knitted, ok bool) {
	switch st := st.(type) {
	case step.BindOffEdge:
		switch knitted = st.Yarn == y; st.Side {
		case machine.Right:
			return st.On.First() - 1, knitted, true
		case machine.Left:
			return st.On.Last() + 1, knitted, true
		}
	case step.CastOnEdge:
		switch knitted = st.Yarn == y; st.Side {
		case machine.Right:
			return st.On.Last(), knitted, true
		case machine.Left:
			return st.On.First(), knitted, true
		}
	}
	return 0, knitted, false
}

// first is the needle of a set that a pass comes to first; last is the other end.
func first(on machine.Set, p *pass.Pass) machine.Needle {
	if p.Dir == machine.Left {
		return on.Last()
	}
	return on.First()
}

func last(on machine.Set, p *pass.Pass) machine.Needle {
	if p.Dir == machine.Left {
		return on.First()
	}
	return on.Last()
}
