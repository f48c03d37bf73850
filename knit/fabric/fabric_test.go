package fabric_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

var area, set = piecetest.Area, piecetest.Set

// randomTwoColour draws a chart of at most two colours a row.
func randomTwoColour(rng *rand.Rand, w, h, yarns int) []string {
	rows := make([]string, h)
	for y := range rows {
		a, b := ".#+*"[rng.IntN(yarns)], ".#+*"[rng.IntN(yarns)]
		line := make([]byte, w)
		for x := range line {
			line[x] = []byte{a, b}[rng.IntN(2)]
		}
		rows[y] = string(line)
	}
	return rows
}

// TestChartComesOut: a random knittable two-colour chart, placed at random, on every
// machine that can: the simulated fabric is the chart, and what is exempt are the
// needles of the policy and nothing else.
func TestChartComesOut(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 12))
	machines := plan.Able("two-colour")
	if len(machines) != len(machine.IDs()) {
		t.Fatalf("only %v can knit two-colour", machines)
	}
	for i := range 1000 {
		id := machines[i%len(machines)]
		m, _ := machine.Shipped(id)
		w, h, yarns := 1+rng.IntN(12), 1+rng.IntN(8), 2+rng.IntN(3)
		width := 4 + rng.IntN(40)
		from := machine.Needle(-rng.IntN(width))
		to := from + machine.Needle(width-1)
		policy := []string{"off", "auto", "hand"}[rng.IntN(3)]
		side := []string{"knit", "purl"}[rng.IntN(2)]
		var transforms []string
		for _, name := range chart.Transforms[1:7] {
			if rng.IntN(4) == 0 && name != "turn-right" {
				transforms = append(transforms, name)
			}
		}
		edits := []edit.Change{set("/charts/c/side", side), area("first", machine.Needle(rng.IntN(30)-15).String()), area("transform", transforms),
			set("/sections/0/rows", 1+rng.IntN(20)), set("/options", map[string]any{"end_needles": policy, "selecting": []string{"knit", "free"}[rng.IntN(2)]})}
		if m.School != machine.Pairs {
			edits = append(edits, set("/start", []string{"left", "right"}[rng.IntN(2)]))
			if rng.IntN(2) == 0 {
				edits = append(edits, piecetest.Before(1+rng.IntN(5), string("ABCD"[rng.IntN(yarns)])))
			}
		}
		if rng.IntN(4) == 0 && width > 8 { // some needles out of work, not at the ends
			edits = append(edits, set("/needles/out", (from+machine.Needle(2+rng.IntN(width-6))).String()))
		}
		p := piecetest.New(t, id, from.String(), to.String(), randomTwoColour(rng, w, h, yarns), edits...)
		pl := plan.Make(p)
		f := fabric.Knit(pl)
		want, differ, work := 0, 0, p.Work()
		ends := machine.SetOf(work.First(), work.Last())
		for k, pass := range pl.Passes {
			twice := k+1 < len(pl.Passes) && pl.Passes[k+1].Row == pass.Row && pl.Passes[k+1].Section == pass.Section
			back := k > 0 && pl.Passes[k-1].Row == pass.Row && pl.Passes[k-1].Section == pass.Section
			switch s := pl.Placed[pass.Section-1]; {
			case s.Section.Technique.Name != "two-colour" || pass.Row == 0 || m.Feeders == 1 && back:
			case m.Feeders == 1 && twice:
				if work.Len() > 2 {
					want += ends.Len()
				}
			case m.Feeders == 1: // a plain row between them: its end needles show what it is knitted in
				for n := range ends.All() {
					if s.YarnRow(pass.Row)[n-s.From] != pass.Feeders[0] {
						differ++
					}
				}
			case policy != "off" && pass.Feeders[1] != 0:
				want += ends.Len()
			}
		}
		if f.Differences != differ || len(f.Faults) > 0 || f.Matches() != (differ == 0) {
			t.Fatalf("case %d on %s, %v: %d stitches differ, want %d; %s\n%v\n%s", i, id, edits, f.Differences, differ, f.First, f.Faults, pl)
		}
		if f.Exempt != want {
			t.Fatalf("case %d on %s, end needles %s: %d stitches exempt, the policy holds %d\n%s", i, id, policy, f.Exempt, want, pl)
		}
		checkFaces(t, p, f)
	}
}

// checkFaces: the knit side is the purl side in a mirror, and as wide as the work.
func checkFaces(t *testing.T, p *piece.Piece, f *fabric.Fabric) {
	t.Helper()
	knit, purl := f.Faces(fabric.KnitSide), f.Faces(fabric.PurlSide)
	for i := range knit {
		b := []byte(purl[i])
		slices.Reverse(b)
		if string(b) != knit[i] || len(b) != int(p.To-p.From)+1 {
			t.Fatalf("row %d of the faces: %q and %q", i, knit[i], purl[i])
		}
	}
}

// TestDrawnSide: a chart drawn for the knit side is read on the knit side as it was drawn.
func TestDrawnSide(t *testing.T) {
	figure := []string{"#.......", "##......", "....#.#.", "#.....##"}
	for side, face := range map[string]fabric.Side{"knit": fabric.KnitSide, "purl": fabric.PurlSide} {
		for _, id := range []string{"card-direct", "card-preselect", "program-small"} {
			p := piecetest.New(t, id, "L4", "R4", figure, set("/charts/c/side", side))
			faces := fabric.Knit(plan.Make(p)).Faces(face)[:4]
			for i, row := range faces {
				if want := strings.NewReplacer(".", "A", "#", "B").Replace(figure[i]); row != want {
					t.Errorf("%s, drawn for the %s side, row %d from the top: got %s, want %s", id, side, i, row, want)
				}
			}
		}
	}
}

// TestTampered: what only the simulation can see is found when a plan is spoilt, and
// the fabric no longer counts as the chart's.
func TestTampered(t *testing.T) {
	remove := func(p *plan.Pass, do plan.Do) {
		p.Before = slices.DeleteFunc(slices.Clone(p.Before), func(st plan.Step) bool { return st.Do == do })
	}
	for _, c := range []struct {
		name, machine, code string
		spoil               func(pl *plan.Plan)
	}{
		{"a thread step left out", "card-preselect", "yarn-not-threaded", func(pl *plan.Plan) { remove(&pl.Passes[1], plan.Thread) }},
		{"the carriage on the other side", "card-preselect", "carriage-side", func(pl *plan.Plan) { pl.Passes[2].Dir = pl.Passes[1].Dir }},
		{"another line read", "card-preselect", "selection-lost", func(pl *plan.Plan) { pl.Passes[0].Sets.Add(machine.L(2)) }},
		{"feeder 2 emptied", "card-preselect", "needle-no-yarn", func(pl *plan.Plan) {
			for i := range pl.Passes {
				remove(&pl.Passes[i], plan.Thread)
				pl.Passes[i].Feeders[1] = 0
			}
			pl.Passes[0].Before = append(pl.Passes[0].Before, plan.Step{Do: plan.Thread, Feeder: 1, Yarn: 1})
		}},
		{"needles not brought forward", "hand-mid", "selection-lost", func(pl *plan.Plan) { remove(&pl.Passes[0], plan.BringForward) }},
		{"a yarn taken from the far side", "hand-mid", "yarn-wrong-side", func(pl *plan.Plan) {
			for i := range pl.Passes { // A knits out and back at once, so B hangs on the left when A ends there
				pl.Passes[i].Before = slices.Clone(pl.Passes[i].Before)
			}
			pl.Passes[3].Before = append(pl.Passes[3].Before, plan.Step{Do: plan.Park, Yarn: 1, Side: machine.Left}, plan.Step{Do: plan.Thread, Feeder: 1, Yarn: 2}, plan.Step{Do: plan.Thread, Feeder: 1, Yarn: 1}, plan.Step{Do: plan.Park, Yarn: 2})
			pl.Passes[2].Before = append(pl.Passes[2].Before, plan.Step{Do: plan.Thread, Feeder: 1, Yarn: 1})
		}},
	} {
		pl := plan.Make(piecetest.New(t, c.machine, "L4", "R4", []string{".##.#..#", "#..##.#.", ".#.#..##"}))
		if f := fabric.Knit(pl); !f.Matches() {
			t.Fatalf("%s: the plan is not good to begin with: %s", c.name, f.First)
		}
		c.spoil(pl)
		f := fabric.Knit(pl)
		if f.Matches() || !slices.ContainsFunc(f.Faults, func(f finding.Finding) bool { return f.Code == c.code && f.Severity == finding.Stop }) {
			t.Errorf("%s: want %s, found %v", c.name, c.code, f.Faults)
		}
	}
	wrong := plan.Make(piecetest.New(t, "card-direct", "L4", "R4", []string{".##.#..#"}))
	wrong.Passes[0].Select.Add(machine.L(4))
	if f := fabric.Knit(wrong); f.Differences != 1 || !strings.HasPrefix(f.First, "section 1, row 1, L4:") {
		t.Errorf("one hole too many: %d differences, first %s", f.Differences, f.First)
	}
}

// TestHeldCatches: a needle in full hold between two that take the yarn catches a
// strand, knitted off with its stitch; beyond the last of them it stays untouched.
func TestHeldCatches(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "hand-mid", "L3", "R3", []string{"......"}, set("/sections/0/rows", 1)))
	pl.Passes[0].Before = append(pl.Passes[0].Before, plan.Step{Do: plan.ToHold, Needles: machine.SetOf(machine.L(3), machine.L(1))})
	f := fabric.Knit(pl)
	if got := f.Courses[0].Tucked; got != machine.SetOf(machine.L(1)) || f.Tucks != 1 {
		t.Errorf("caught %v, %d loops; want L1, 1", got, f.Tucks)
	}
	if got := f.Courses[0].Slipped; got != machine.SetOf(machine.L(3)) {
		t.Errorf("untouched %v, want L3", got)
	}
}

func TestLongFloats(t *testing.T) {
	p := piecetest.New(t, "card-direct", "L8", "R8", []string{"......#.........", "#.#.#.#.#.#.#.#."})
	f := fabric.Knit(plan.Make(p))
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
	grows := fabric.Knit(plan.Make(piecetest.New(t, "card-direct", "L8", "R8", []string{"#.#.#.#.#.#.#.#.", "#.....#.#.#.#.##", "#....#.#.#.#.#.#", "#..#.#.#.#.#.#.#"})))
	if s := grows.Summary(); s.LongestFloat != (fabric.LongestFloat{Yarn: "B", Stitches: 5}) || grows.Longest.Stitches() != 5 {
		t.Errorf("longest float %v, %v", s.LongestFloat, grows.Longest)
	}
}
