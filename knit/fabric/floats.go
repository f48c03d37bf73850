package fabric

import (
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// Float is a stretch of yarn that runs past needles without being taken, in one
// pass, from needle First to Last, both included.
type Float struct {
	Pass        int // index of the pass
	Yarn        piece.YarnNo
	First, Last machine.Needle
}

// Stitches is the length of the float in needles; 0 for none.
func (f Float) Stitches() int {
	if f.Yarn == 0 {
		return 0
	}
	return int(f.Last-f.First) + 1
}

// measure keeps the longest float of all passes.
func (f *Fabric) measure(i int, p *pass.Pass, work machine.Set) {
	for feeder, took := range f.Took[i] {
		longest := f.Longest.Stitches()
		if took.Empty() || took == work {
			continue
		}
		gap := machine.Range(work.First(), work.Last()).Minus(took)
		if !gap.HasRun(longest + 1) {
			continue
		}
		for first, last := range gap.Runs() {
			if float := (Float{i, p.Yarn(feeder + 1), first, last}); float.Stitches() > f.Longest.Stitches() {
				f.Longest = float
			}
		}
	}
}

// LongFloats lists, for pass i (from 0), the floats of more than limit stitches, left
// to right, feeder 1's before feeder 2's. A float runs from the last needle that took
// the yarn to the next; the stretches to both edges of the work count. A yarn that no
// needle took has none.
func (f *Fabric) LongFloats(i, limit int) (floats []Float) {
	work := f.Plan.Passes[i].Main().AtWork
	for feeder, took := range f.Took[i] {
		if took.Empty() || took == work {
			continue
		}
		gap := machine.Range(work.First(), work.Last()).Minus(took)
		if !gap.HasRun(limit + 1) {
			continue
		}
		for first, last := range gap.Runs() {
			if int(last-first)+1 > limit {
				floats = append(floats, Float{i, f.Plan.Passes[i].Yarn(feeder + 1), first, last})
			}
		}
	}
	return floats
}
