package fabric_test

import (
	"fmt"
	"strings"
	"testing"

	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// TestHeldCatches: a needle in full hold between two that take the yarn catches a
// strand, knitted off with its stitch; beyond the last of them it stays untouched.
func TestHeldCatches(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "hand-mid", "L3", "R3", []string{"......"}, piecetest.Set("/sections/0/rows", 1)))
	pl.Passes[0].Add(step.ToHold{At: step.Main(machine.SetOf(machine.L(3), machine.L(1)))},
		step.Cams{Setting: machine.Holding, Lever: step.Holding})
	f := technique.Prove(pl)
	if got := f.Courses[0].Tucked; got != machine.SetOf(machine.L(1)) || f.Tucks != 1 || f.Longest.Stitches() != 0 {
		t.Errorf("caught %v, %d loops, a float of %d; want L1, 1, and none: it holds the yarn", got, f.Tucks,
			f.Longest.Stitches())
	}
	if got := f.Courses[0].Slipped; got != machine.SetOf(machine.L(3)) {
		t.Errorf("untouched %v, want L3", got)
	}
	pl.Piece.Machine.HeldPasses = true // a machine on which the yarn does not catch there
	if f = technique.Prove(pl); f.Tucks != 0 || f.Longest.Stitches() != 1 ||
		f.Courses[0].Slipped != machine.SetOf(machine.L(3), machine.L(1)) {
		t.Errorf("%d loops caught, %v untouched, a float of %d", f.Tucks, f.Courses[0].Slipped, f.Longest.Stitches())
	}
}

// TestLongFloats: along the yarn, from the needle that took it to the next, over the turn
// too; to the edge of the work nothing floats, and a yarn that rested begins afresh. Each
// float is its needles, its pass, and a < where only the row below can break it.
func TestLongFloats(t *testing.T) {
	for _, c := range []struct {
		name  string
		rows  []string // the top row first; pass 1 goes left
		limit int
		want  string
	}{
		{"in a pass, not to the edges", []string{".#.....#...", "#.#.#.#.#.#"}, 4, "2:L3-R2"},
		{"at the limit", []string{".#.....#...", "#.#.#.#.#.#"}, 5, ""},
		{"over the turn, inside this row", []string{"......#....", "#.#.#.#.#.#"}, 4, "2:L4-R1"},
		{"over the turn, beyond what the row below had", []string{"#.#.#.#.#.#", "......#..#."}, 3, "2:L4-R1<"},
		{"from the same needle", []string{"#..........", "#.........."}, 0, ""},
		{"rested for a row", []string{"..........#", "...........", "#.........."}, 8, ""},
		{"and if it had not", []string{"..........#", "#.........."}, 8, "2:L4-R5"},
	} {
		p := piecetest.New(t, "card-direct", "L5", "R6", c.rows)
		f := technique.Prove(plan.Make(p))
		var got []string
		for i := range f.Plan.Passes {
			for _, l := range f.LongFloats(i, c.limit) {
				switch at := l.First.String() + "-" + l.Last.String(); {
				case l.Below:
					got = append(got, fmt.Sprintf("%d:%s<", i+1, at))
				default:
					got = append(got, fmt.Sprintf("%d:%s", i+1, at))
				}
			}
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s: %v, want %s", c.name, got, c.want)
		}
	}
	// Floats that are longer by one from row to row, the longest neither first nor last.
	grows := technique.Prove(plan.Make(piecetest.New(t, "card-direct", "L8", "R8",
		[]string{"#.#.#.#.#.#.#.#.", "#.....#.#.#.#.##", "#....#.#.#.#.#.#", "#..#.#.#.#.#.#.#"})))
	if s := grows.Summary(); s.LongestFloat != (fabric.LongestFloat{Yarn: "B", Stitches: 5}) ||
		grows.Longest.Stitches() != 5 {
		t.Errorf("longest float %v, %v", s.LongestFloat, grows.Longest)
	}
}

// TestNearBed: whichever bed is patterned, the fabric shows a chart as drawn on the face that
// it is drawn for; only which face the knitter looks at, and so which chart is mirrored on
// its way to the needles, is the other one.
func TestNearBed(t *testing.T) {
	rows := []string{"#...", ".##."}
	for _, side := range []string{"knit", "purl"} {
		forward := map[string]machine.Set{}
		for _, bed := range []string{"far", "near"} {
			pl := plan.Make(piecetest.New(t, "card-direct", "L2", "R2", rows, piecetest.Set("/machine/program_bed",
				bed),
				piecetest.Set("/charts/c/side", side)))
			f := technique.Prove(pl)
			face := map[string]chart.Face{"knit": chart.KnitSide, "purl": chart.PurlSide}[side]
			if got := fmt.Sprint(f.Draw(face)); got != "[BAAA ABBA]" || f.Differences > 0 {
				t.Errorf("%s side, %s bed: shows %s", side, bed, got)
			}
			forward[bed] = pl.Passes[1].Main().Select
		}
		if forward["far"] == forward["near"] || forward["far"] != machine.SetOf(
			map[string]machine.Needle{"knit": machine.R(2),
				"purl": machine.L(2)}[side]) {
			t.Errorf("%s side: forward %v", side, forward)
		}
	}
}
