package technique_test

import (
	"testing"

	"vindel/chance"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// slowContinue tries every way of pairing overlapping fields of one colour: the most
// pairs, then the greatest overlap.
func slowContinue(below, row []technique.Field) (count, overlap int) {
	used := make([]bool, len(below))
	var try func(j, n, o int)
	try = func(j, n, o int) {
		if j == len(row) {
			if n > count || n == count && o > overlap {
				count, overlap = n, o
			}
			return
		}
		try(j+1, n, o)
		for i, b := range below {
			if over := int(min(b.To, row[j].To)-max(b.From, row[j].From)) + 1; !used[i] && over > 0 &&
				b.Yarn == row[j].Yarn {
				used[i] = true
				try(j+1, n+1, o+over)
				used[i] = false
			}
		}
	}
	try(0, 0, 0)
	return count, overlap
}

func TestContinueAgainstEveryWay(t *testing.T) {
	rng := chance.Rand(t, 31, 32)
	fields := func() (list []technique.Field) {
		for n := machine.Needle(0); n < 18; {
			run := machine.Needle(1 + rng.IntN(4))
			list = append(list, technique.Field{Yarn: piece.YarnNo(1 + rng.IntN(3)), From: n, To: min(n+run-1, 17)})
			n += run
		}
		return list
	}
	for i := range chance.Cases(500) {
		below, row := fields(), fields()
		count, overlap, seen := 0, 0, map[int]bool{}
		for j, k := range technique.Continue(below, row) {
			if k < 0 {
				continue
			}
			over := int(min(below[k].To, row[j].To)-max(below[k].From, row[j].From)) + 1
			if over < 1 || below[k].Yarn != row[j].Yarn || seen[k] {
				t.Fatalf("case %d: field %d cannot go on from %d", i, j, k)
			}
			seen[k] = true
			count, overlap = count+1, overlap+over
		}
		if wantCount, wantOverlap := slowContinue(below, row); count != wantCount || overlap != wantOverlap {
			t.Fatalf("case %d, %v on %v: %d pairs of %d stitches; %d of %d are possible", i, row, below, count, overlap,
				wantCount, wantOverlap)
		}
	}
}
