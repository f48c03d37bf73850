package fabric

import (
	"iter"

	"vindel/knit/machine"
)

// Streak counts, for every needle, how many courses running it has done the same.
type Streak [machine.MaxBed]int

// Next moves on by a course in which `did` did it again, and gives the needles that have
// now done it once more than the limit.
func (s *Streak) Next(did, work machine.Set, limit int) (over machine.Set) {
	for n := range work.Minus(did).All() {
		s[n+machine.MaxBed/2] = 0
	}
	for n := range did.All() {
		i := n + machine.MaxBed/2
		if s[i]++; s[i] == limit+1 {
			over.Add(n)
		}
	}
	return over
}

// Section yields the courses of a section (from 0), bottom first.
func (f *Fabric) Section(section int) iter.Seq[*Course] {
	return func(yield func(*Course) bool) {
		for i := range f.Courses {
			if c := &f.Courses[i]; c.Section == section && !yield(c) {
				return
			}
		}
	}
}
