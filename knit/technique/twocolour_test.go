package technique_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
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
	rng := chance.Rand(t, 11, 12)
	machines := technique.Find("two-colour").Able(&piece.Section{})
	if len(machines) != len(machine.IDs()) {
		t.Fatalf("only %v can knit two-colour", machines)
	}
	for i := range chance.Cases(600) {
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
		edits := []edit.Change{set("/charts/c/side", side), area("first", machine.Needle(rng.IntN(30)-15).String()),
			area("transform", transforms),
			set("/sections/0/rows", 1+rng.IntN(20)),
			set("/options", map[string]any{"end_needles": policy, "selecting": []string{"knit", "free"}[rng.IntN(2)],
				"far_yarn": []string{"cut", "slip", "hold"}[rng.IntN(3)]})}
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
		f := technique.Prove(pl)
		want, work := 0, p.Work()
		ends := machine.SetOf(work.First(), work.Last())
		for k, made := range pl.Passes {
			twice := !made.Free && k+1 < len(pl.Passes) && pl.Passes[k+1].Row() == made.Row() &&
				pl.Passes[k+1].Section == made.Section
			back := k > 0 && !pl.Passes[k-1].Free && pl.Passes[k-1].Row() == made.Row() &&
				pl.Passes[k-1].Section == made.Section
			switch s := pl.Placed[made.Section-1]; {
			case s.Section.Technique.Name != "two-colour" || made.Row() == 0 || made.Free || m.Feeders == 1 && back:
			case m.Feeders == 1 && twice:
				if work.Len() > 2 {
					want += ends.Len()
				}
			case m.Feeders == 1: // a plain row between them: seam needles that are drawn otherwise knit in its yarn
				for n := range ends.All() {
					if s.YarnRow(made.Row())[n-s.From] != made.Yarn(1) {
						want++
					}
				}
			case policy != "off" && made.Yarn(2) != 0:
				want += ends.Len()
			}
		}
		if f.Differences != 0 || len(f.Faults) > 0 || !f.Matches() {
			t.Fatalf("case %d on %s, %v: %d stitches differ; %s\n%v\n%s", i, id, edits, f.Differences, f.First, f.Faults,
				pl)
		}
		if f.Exempt != want {
			t.Fatalf("case %d on %s, end needles %s: %d stitches exempt, the policy holds %d\n%s", i, id, policy,
				f.Exempt,
				want, pl)
		}
		checkFaces(t, p, f)
	}
}

// checkFaces: the knit side is the purl side in a mirror, and as wide as the work.
func checkFaces(t *testing.T, p *piece.Piece, f *fabric.Fabric) {
	t.Helper()
	knit, purl := f.Draw(chart.KnitSide), f.Draw(chart.PurlSide)
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
	for side, face := range map[string]chart.Face{"knit": chart.KnitSide, "purl": chart.PurlSide} {
		for _, id := range []string{"card-direct", "card-preselect", "program-small"} {
			p := piecetest.New(t, id, "L4", "R4", figure, set("/charts/c/side", side))
			faces := technique.Prove(plan.Make(p)).Draw(face)[:4]
			for i, row := range faces {
				if want := strings.NewReplacer(".", "A", "#", "B").Replace(figure[i]); row != want {
					t.Errorf("%s, drawn for the %s side, row %d from the top: got %s, want %s", id, side, i, row, want)
				}
			}
		}
	}
}

// TestComb: where the repeat suits the comb one choice of it, across the bed, brings forward
// what the row needs; the seam needles are seen to by themselves. Else the row has none.
func TestComb(t *testing.T) {
	rng := chance.Rand(t, 61, 62)
	combed := 0
	for i := range 400 {
		w := 1 + rng.IntN(9)
		first := machine.Needle(rng.IntN(20) - 10)
		p := piecetest.New(t, "hand-mid", "L12", "R12", randomTwoColour(rng, w, 3, 2), area("first", first.String()))
		pl := plan.Make(p)
		for j := range pl.Passes {
			now := &pl.Passes[j]
			if half := now.Main(); half.Setting.Key == machine.Outward.Key && !half.Select.Empty() {
				var by machine.Set
				for n := p.From + 1; n < p.To; n++ {
					if slices.Contains(now.Comb.Picks, (int(n-first)%8+8)%8+1) {
						by.Add(n)
					}
				}
				if fits := 8%w == 0; fits != (len(now.Comb.Picks) > 0) || fits && (by != half.Select ||
					now.Comb.At != first) {
					t.Fatalf("case %d, %d wide: comb %+v brings %v, the row needs %v", i, w, now.Comb, by, half.Select)
				}
				combed++
			} else if len(now.Comb.Picks) > 0 {
				t.Fatalf("case %d: a comb for pass %d", i, now.N)
			}
		}
	}
	if combed < 200 {
		t.Errorf("%d rows with a choice", combed)
	}
}
