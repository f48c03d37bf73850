package loom_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"vindel/chance"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// The two optima are held to twins that try everything.

func same(a, b [][]piece.YarnNo) bool { return slices.EqualFunc(a, b, slices.Equal) }

func randomNeeds(rng *rand.Rand, n, yarns int) []loom.Need {
	rows := make([]loom.Need, n)
	for i := range rows {
		a, b := piece.YarnNo(1+rng.IntN(yarns)), piece.YarnNo(1+rng.IntN(yarns))
		rows[i] = loom.Only(a)
		if a != b {
			rows[i] = loom.Need{Yarns: []piece.YarnNo{min(a, b), max(a, b)}, Free: rng.IntN(5) > 0}
		}
	}
	return rows
}

// everyWay calls f with each way of ordering the yarns of the free rows.
func everyWay(rows []loom.Need, f func([][]piece.YarnNo)) {
	for bits := range 1 << len(rows) {
		way := make([][]piece.YarnNo, len(rows))
		ok := true
		for i, r := range rows {
			way[i] = r.Yarns
			if bits>>i&1 == 1 {
				ok = ok && r.Free
				if ok {
					way[i] = []piece.YarnNo{r.Yarns[1], r.Yarns[0]}
				}
			}
		}
		if ok {
			f(way)
		}
	}
}

func TestFeedersAgainstEveryWay(t *testing.T) {
	rng := chance.Rand(t, 7, 8)
	for i := range 400 {
		rows := randomNeeds(rng, 1+rng.IntN(8), 2+rng.IntN(3))
		cost := func(way [][]piece.YarnNo) (threadings, later int) {
			held := [2]piece.YarnNo{}
			for j, w := range way {
				for f, y := range w {
					if y != held[f] {
						threadings++
					}
				}
				if rows[j].Free && w[0] > w[1] {
					later++
				}
				held = [2]piece.YarnNo{}
				copy(held[:], w)
			}
			return threadings, later
		}
		best, bestLater := 1<<30, 0
		everyWay(rows, func(way [][]piece.YarnNo) {
			if n, l := cost(way); n < best || n == best && l < bestLater {
				best, bestLater = n, l
			}
		})
		got, n := loom.Feeders(rows)
		if gn, gl := cost(got); n != best || gn != best || gl != bestLater {
			t.Fatalf("case %d, %v: %v makes %d threadings (says %d), %d with the later yarn first; %d and %d are "+
				"possible", i,
				rows, got, gn, n, gl, best, bestLater)
		}
	}
}

// slowCuts follows every yarn's end by hand: where it hangs, and when it must be cut.
func slowCuts(way [][]piece.YarnNo, side int) (cuts int) {
	hangs, feeder := map[piece.YarnNo]int{}, piece.YarnNo(0)
	for _, row := range way {
		for _, y := range row {
			if y == 0 {
				continue
			}
			if at, known := hangs[y]; y != feeder && known && at != side {
				cuts++
			}
			feeder, side = y, 1-side
			hangs[y] = side
		}
	}
	return cuts
}

func TestLeadsAgainstEveryWay(t *testing.T) {
	rng := chance.Rand(t, 9, 10)
	for i := range 400 {
		rows := randomNeeds(rng, 1+rng.IntN(8), 2+rng.IntN(3))
		for j := range rows {
			rows[j].Free = len(rows[j].Yarns) == 2 // a row of two colours may always be led by either
		}
		best := 1 << 30
		everyWay(rows, func(way [][]piece.YarnNo) {
			best = min(best, slowCuts(way, 1))
		})
		got, n := loom.Leads(rows, machine.Right, nil)
		if n != best || slowCuts(got, 1) != best {
			t.Fatalf("case %d, %v: %v makes %d cuts (says %d); %d are possible", i, rows, got, slowCuts(got, 1), n,
				best)
		}
	}
	// Alternating needs no cut, and the yarn listed first leads.
	rows := []loom.Need{{Yarns: []piece.YarnNo{1, 2}, Free: true}, {Yarns: []piece.YarnNo{1, 2}, Free: true},
		{Yarns: []piece.YarnNo{1, 2}, Free: true}}
	if got, n := loom.Leads(rows, machine.Right, nil); n != 0 || !same(got, [][]piece.YarnNo{{1, 2}, {2, 1}, {1, 2}}) {
		t.Errorf("three two-colour rows: %v with %d cuts", got, n)
	}
	if got, _ := loom.Leads(rows, machine.Right, map[int]piece.YarnNo{0: 2}); !same(got,
		[][]piece.YarnNo{{2, 1}, {1, 2}, {2, 1}}) {
		t.Errorf("led by the second yarn: %v", got)
	}
}
