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
			shows := make([]machine.Set, 2)
			for k := range machine.Needle(6) {
				shows[rng.IntN(2)].Add(k)
			}
			rows[i] = loom.Need{Yarns: []piece.YarnNo{min(a, b), max(a, b)}, Free: rng.IntN(5) > 0, Shows: shows}
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
		fingers := i%2 == 0
		cost := func(way [][]piece.YarnNo) (c [3]int) { // threadings, needles forward, and the later yarn first
			held := [2]piece.YarnNo{}
			for j, w := range way {
				for f, y := range w {
					if y != held[f] {
						c[0]++
					}
				}
				if fingers {
					c[1] += forward(rows[j], w)
				}
				if rows[j].Free && w[0] > w[1] {
					c[2]++
				}
				held = [2]piece.YarnNo{}
				copy(held[:], w)
			}
			return c
		}
		best := [3]int{1 << 30}
		everyWay(rows, func(way [][]piece.YarnNo) {
			if c := cost(way); slices.Compare(c[:], best[:]) < 0 {
				best = c
			}
		})
		if got, n := loom.Feeders(rows, fingers); n != best[0] || cost(got) != best {
			t.Fatalf("case %d, %v: %v costs %v (says %d); %v is possible", i, rows, got, cost(got), n, best)
		}
	}
}

// forward is how many needles of a row fingers bring forward: those of the yarn that comes second.
func forward(row loom.Need, way []piece.YarnNo) int {
	if len(way) < 2 {
		return 0
	}
	return row.Shows[slices.Index(row.Yarns, way[1])].Len()
}

// slowLead follows every yarn's end by hand: where it hangs, when it must be cut, and when the empty carriage fetches it.
func slowLead(rows []loom.Need, way [][]piece.YarnNo, side int) (cost [3]int) {
	hangs, feeder := map[piece.YarnNo]int{}, piece.YarnNo(0)
	for i, row := range way {
		cost[2] += forward(rows[i], row)
		for k, y := range row {
			at, known := hangs[y]
			far := y != feeder && known && at != side
			if far && k == 0 && rows[i].Fetch {
				cost[1]++
				side, far = 1-side, false
			}
			if far {
				cost[0]++
			}
			feeder, side = y, 1-side
			hangs[y] = side
		}
	}
	return cost
}

func TestLeadsAgainstEveryWay(t *testing.T) {
	rng := chance.Rand(t, 9, 10)
	fetched := 0
	for i := range 400 {
		rows := randomNeeds(rng, 1+rng.IntN(8), 2+rng.IntN(3))
		for j := range rows {
			rows[j].Free = len(rows[j].Yarns) == 2 // a row of two colours may always be led by either
			rows[j].Fetch = !rows[j].Free && i%3 == 0
		}
		best := [3]int{1 << 30}
		everyWay(rows, func(way [][]piece.YarnNo) {
			if c := slowLead(rows, way, 1); slices.Compare(c[:], best[:]) < 0 {
				best = c
			}
		})
		if got, n := loom.Leads(rows, machine.Right, nil); n != best[0] || slowLead(rows, got, 1) != best {
			t.Fatalf("case %d, %v: %v costs %v (says %d); %v is possible", i, rows, got, slowLead(rows, got, 1), n, best)
		}
		fetched += best[1]
	}
	if fetched == 0 {
		t.Error("the empty carriage fetched nothing")
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
