package fabric_test

import (
	"strings"
	"testing"

	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// TestHeldCatches: a needle in full hold between two that take the yarn catches a
// strand, knitted off with its stitch; beyond the last of them it stays untouched.
func TestHeldCatches(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "hand-mid", "L3", "R3", []string{"......"}, piecetest.Set("/sections/0/rows", 1)))
	pl.Passes[0].Before = append(pl.Passes[0].Before,
		pass.Step{Do: pass.ToHold, Needles: machine.SetOf(machine.L(3), machine.L(1))})
	f := technique.Prove(pl)
	if got := f.Courses[0].Tucked; got != machine.SetOf(machine.L(1)) || f.Tucks != 1 {
		t.Errorf("caught %v, %d loops; want L1, 1", got, f.Tucks)
	}
	if got := f.Courses[0].Slipped; got != machine.SetOf(machine.L(3)) {
		t.Errorf("untouched %v, want L3", got)
	}
}

func TestLongFloats(t *testing.T) {
	p := piecetest.New(t, "card-direct", "L8", "R8", []string{"......#.........", "#.#.#.#.#.#.#.#."})
	f := technique.Prove(plan.Make(p))
	// Row 1 from the top is pass 2: B floats 6 stitches to the left edge, 9 to the right.
	for limit, want := range map[int]string{5: "L8-L3 L1-R8", 6: "L1-R8", 9: ""} {
		var got []string
		for _, l := range f.LongFloats(1, limit) {
			got = append(got, l.First.String()+"-"+l.Last.String())
		}
		if strings.Join(got, " ") != want {
			t.Errorf("over %d: got %v, want %s", limit, got, want)
		}
	}
	if s := f.Summary(); s.LongestFloat != (fabric.LongestFloat{Yarn: "B", Stitches: 9}) {
		t.Errorf("longest float %v", s.LongestFloat)
	}
	// Floats that are longer by one from row to row, the longest neither first nor last.
	grows := technique.Prove(plan.Make(piecetest.New(t, "card-direct", "L8", "R8",
		[]string{"#.#.#.#.#.#.#.#.", "#.....#.#.#.#.##", "#....#.#.#.#.#.#", "#..#.#.#.#.#.#.#"})))
	if s := grows.Summary(); s.LongestFloat != (fabric.LongestFloat{Yarn: "B", Stitches: 5}) ||
		grows.Longest.Stitches() != 5 {
		t.Errorf("longest float %v, %v", s.LongestFloat, grows.Longest)
	}
}
