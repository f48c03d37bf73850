package fabric

import (
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// measure keeps the longest float of all passes.
func (b *model) measure(i int, p *plan.Pass, feeders [2]piece.YarnNo, took *Took) {
	for f, y := range feeders {
		if y == 0 || took[f].Empty() || took[f] == b.work {
			continue
		}
		gap := b.span().Minus(took[f])
		if !gap.HasRun(b.f.longest + 1) {
			continue
		}
		for first, last := range gap.Runs() {
			if n := int(last-first) + 1; n > b.f.longest {
				b.f.longest = n
				b.f.Longest = Float{i, y, first, last}
			}
		}
	}
}

func (b *model) span() machine.Set { return machine.Range(b.work.First(), b.work.Last()) }

// LongFloats lists, for pass i (from 0), the floats of more than limit stitches, left
// to right, feeder 1's before feeder 2's. A float runs from the last needle that took
// the yarn to the next; the stretches to both edges of the work count. A yarn that no
// needle took has none.
func (f *Fabric) LongFloats(i, limit int) (floats []Float) {
	work := f.Plan.Piece.Work()
	span := machine.Range(work.First(), work.Last())
	for feeder, took := range f.Took[i] {
		if took.Empty() || took == work {
			continue
		}
		gap := span.Minus(took)
		if !gap.HasRun(limit + 1) {
			continue
		}
		for first, last := range gap.Runs() {
			if int(last-first)+1 > limit {
				floats = append(floats, Float{i, f.Plan.Passes[i].Feeders[feeder], first, last})
			}
		}
	}
	return floats
}
