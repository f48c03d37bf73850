package loops_test

import (
	"fmt"
	"slices"
	"testing"

	"vindel/chance"
	"vindel/knit/loops"
	"vindel/knit/machine"
)

const l1, r1 = machine.Needle(-1), machine.Needle(0)

// TestLoops: each thing that can happen to a loop.
func TestLoops(t *testing.T) {
	var b loops.Beds
	b.Lay(machine.Main, l1, loops.Loop{Kind: loops.Cast, Yarn: 1})
	b.Lay(machine.Main, l1, loops.Loop{Kind: loops.Strand, Yarn: 2})
	if b.Len(machine.Main, l1) != 2 || !b.Over[0].Has(l1) || b.Most != 2 {
		t.Errorf("laid: %d on L1, over %v, most %d", b.Len(machine.Main, l1), b.Over[0], b.Most)
	}
	id := b.Draw(machine.Main, l1, loops.Loop{Kind: loops.Knit, Yarn: 3})
	if got := b.Through(id); !slices.Equal(got, []loops.ID{0, 1}) || b.Len(machine.Main, l1) != 1 ||
		!b.Over[0].Empty() {
		t.Errorf("drawn through %v, %d on L1", got, b.Len(machine.Main, l1))
	}
	b.Lay(machine.Main, r1, loops.Loop{Kind: loops.Cast, Yarn: 1})
	b.Put(machine.Main, r1, b.Lift(machine.Main, l1))
	if got := b.Stack(machine.Main, r1); !slices.Equal(got, []loops.ID{3, 2}) || !b.Moved(2) || b.Moved(3) ||
		b.Holds[0].Has(l1) {
		t.Errorf("put over: %v, moved %v %v", got, b.Moved(2), b.Moved(3))
	}
	gone := b.Let(machine.Main, r1)
	var ran []loops.ID
	if deep := b.Runs(gone, func(id loops.ID) { ran = append(ran, id) }); deep != 1 || !slices.Equal(ran,
		[]loops.ID{2, 0, 1}) {
		t.Errorf("runs %d rows down: %v", deep, ran)
	}
	if !slices.Equal(b.Gone, []loops.ID{3, 2}) || !b.Holds[0].Empty() {
		t.Errorf("gone %v, holds %v", b.Gone, b.Holds[0])
	}
}

// TestDiffer: two runs that do the same at random are the same; one that does any one thing otherwise
// is not, and the first loop that differs is told.
func TestDiffer(t *testing.T) {
	rng := chance.Rand(t, 5, 8)
	do := func(seed uint64, otherwise int) *loops.Beds {
		rng, b := chance.Rand(t, seed, 1), &loops.Beds{}
		for i := range 60 {
			n, l := machine.Needle(rng.IntN(8)-4), loops.Loop{Yarn: uint8(1 + rng.IntN(3)), Kind: loops.Knit,
				Size: b.SizeNo(fmt.Sprint(rng.IntN(3))), Pass: int32(i)}
			deed := rng.IntN(8)
			if i == otherwise {
				l.Yarn += 3
				deed = 0
			}
			switch bed := machine.BedNo(rng.IntN(2)); deed {
			case 0, 1, 2, 3:
				b.Draw(bed, n, l)
			case 4, 5:
				l.Kind = loops.Strand
				b.Lay(bed, n, l)
			case 6:
				b.Put(bed, n+1, b.Lift(bed, n))
			default:
				b.Let(bed, n)
			}
		}
		return b
	}
	for range 200 {
		seed := rng.Uint64()
		if at, what, differ := loops.Differ(do(seed, -1), do(seed, -1)); differ {
			t.Fatalf("seed %d: the same differs at %d: %s", seed, at, what)
		}
		if _, what, differ := loops.Differ(do(seed, -1), do(seed, rng.IntN(60))); !differ || what == "" {
			t.Fatalf("seed %d: another is said to be the same", seed)
		}
	}
}
