package fabric

import (
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// slowBed keeps every stack as a list, as one would write it without thinking of speed.
type slowBed map[machine.Needle][]loop

func (b slowBed) knit(on machine.Set, y piece.YarnNo) {
	for n := range on.All() {
		b[n] = []loop{{y, n, false}}
	}
}

func (b slowBed) tuck(on machine.Set, y piece.YarnNo) {
	for n := range on.All() {
		b[n] = append(slices.Clone(b[n]), loop{y, n, false})
	}
}

func (b slowBed) transfer(from machine.Set, dir machine.Side, fine bool, work machine.Set) {
	lifted := map[machine.Needle][]loop{}
	for n := range from.All() {
		lifted[n] = b[n]
		if !fine {
			b[n] = nil
		}
	}
	way := machine.Needle(1)
	if dir == machine.Left {
		way = -1
	}
	for n, loops := range lifted {
		if work.Has(n + way) {
			for _, l := range loops {
				l.moved = true
				b[n+way] = append(slices.Clone(b[n+way]), l)
			}
		}
	}
}

// TestLoopsAgainstLists: any run of stitches, tucks and transfers leaves the same loops, in
// the same order, as a bed of lists; the sets that speed it up say what the stacks are.
func TestLoopsAgainstLists(t *testing.T) {
	rng := rand.New(rand.NewPCG(41, 42))
	for i := range 400 {
		width := 1 + rng.IntN(90)
		first := machine.Needle(-rng.IntN(width))
		work := machine.Range(first, first+machine.Needle(width-1))
		if width > 4 {
			work.Remove(first + machine.Needle(1+rng.IntN(width-2)))
		}
		fast, slow := &needles{}, slowBed{}
		fast.castOn(work, 1)
		slow.knit(work, 1)
		some := func() (s machine.Set) {
			for n := range work.All() {
				if rng.IntN(3) == 0 {
					s.Add(n)
				}
			}
			return s
		}
		for step := range 30 {
			on, y := some(), piece.YarnNo(1+rng.IntN(4))
			switch rng.IntN(4) {
			case 0:
				fast.knit(on, y)
				slow.knit(on, y)
			case 1:
				fast.tuck(on, y)
				slow.tuck(on, y)
			default:
				dir, fine := []machine.Side{machine.Left, machine.Right}[rng.IntN(2)], rng.IntN(3) == 0
				fast.transfer(on, dir, fine)
				slow.transfer(on, dir, fine, work)
			}
			for n := range work.All() {
				got, want := fast.stack(n), slow[n]
				if len(got)+len(want) > 0 && !reflect.DeepEqual(got, want) {
					t.Fatalf("case %d, step %d, needle %v: %v, want %v", i, step, n, got, want)
				}
				if fast.empty.Has(n) != (len(want) == 0) || fast.stacked.Has(n) != (len(want) > 1) || len(want) > 0 &&
					fast.moved.Has(n) != want[0].moved {
					t.Fatalf("case %d, step %d, needle %v holds %v: empty %v, stacked %v, moved %v", i, step, n, want,
						fast.empty, fast.stacked, fast.moved)
				}
			}
		}
	}
}
