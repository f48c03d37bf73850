package technique_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// lacePiece is a piece of two plain rows and a lace section.
func lacePiece(t testing.TB, id string, from, to machine.Needle, rows []string, edits ...edit.Change) *piece.Piece {
	first := []edit.Change{set("/charts/c/legend", map[string]any{}), set("/charts/c/side", "knit"),
		set("/sections/0/technique", "lace")}
	return piecetest.New(t, id, from.String(), to.String(), rows,
		append(append(first, edits...), piecetest.Before(2, "A"))...)
}

// randomLace draws rows of legal decreases and yarn-overs: each group of marks uses as
// many stitches as it makes, with stitches between a decrease and its yarn-over.
func randomLace(rng *rand.Rand, w, h int, purls, everySecond bool) []string {
	rows := make([]string, h)
	for y := range rows {
		if everySecond && (h-1-y)%2 == 1 {
			rows[y] = strings.Repeat(".", w)
			continue
		}
		line := ""
		for len(line) < w {
			plain := strings.Repeat(".", rng.IntN(4))
			group := []string{"/" + plain + "o", "o" + plain + `\`, `\` + plain + "o", "o" + plain + "/",
				"o" + plain + "^" + plain + "o", "^" + plain + "oo", "oo" + plain + "^", "/oo\\", ".", "..", "-",
				"^/ooo"}[rng.IntN(12)]
			if group == "-" && !purls {
				group = "."
			}
			if len(line)+len(group) <= w {
				line += group
			} else if w-len(line) < 3 {
				line += strings.Repeat(".", w-len(line))
			}
		}
		if rng.IntN(5) == 0 {
			line = strings.Repeat(".", w)
		}
		rows[y] = line
	}
	return rows
}

// TestLaceComesOut: random lace in both schools and by hand, drawn for either side, with
// repeats cut anywhere: eyelets, doubled stitches, leans and purls are as drawn, and what
// is not is what the plan has said.
func TestLaceComesOut(t *testing.T) {
	rng := chance.Rand(t, 31, 32)
	machines := technique.Find("lace").Able(&piece.Section{})
	if len(machines) != 6 {
		t.Fatalf("lace on %v", machines)
	}
	refused, lacy := 0, 0
	for i := range chance.Cases(1000) {
		id := machines[i%len(machines)]
		m, _ := machine.Shipped(id)
		w, h, width := 3+rng.IntN(12), 1+rng.IntN(5), 6+rng.IntN(40)
		shows := []string{"right-side", "all"}[rng.IntN(2)]
		all := shows == "all" && m.Lace != "hand"
		if all {
			h += h % 2
		}
		from := machine.Needle(-rng.IntN(width))
		options := map[string]any{"lean": []string{"shortest", "exact"}[rng.IntN(2)],
			"transfer": []string{"open", "open", "fine"}[rng.IntN(3)], "end_needles": []string{"off",
				"auto"}[rng.IntN(2)]}
		if m.Lace == "hand" {
			delete(options, "transfer")
		}
		edits := []edit.Change{set("/charts/c/shows", shows), set("/charts/c/side", []string{"knit",
			"purl"}[rng.IntN(2)]),
			area("first", machine.Needle(rng.IntN(20)-10).String()), set("/options", options),
			set("/machine/purl_carriage", rng.IntN(2) == 0),
			set("/machine/advances", [][]string{{"lace"}, {"lace", "purl"}, {"lace", "knit"}}[rng.IntN(3)])}
		if rng.IntN(2) == 0 {
			edits = append(edits, area("transform", []string{"mirror"}))
		}
		if rng.IntN(2) == 0 {
			edits = append(edits, set("/sections/0/yarns", []string{"A", "B*2", "C"}))
		}
		if rng.IntN(3) == 0 { // a motif over the ground, cutting what lies under it
			mw := 3 + rng.IntN(6)
			mh := 1 + rng.IntN(4)
			if all {
				mh += mh % 2
			}
			at := from + machine.Needle(rng.IntN(width-2))
			edits = append(edits, set("/charts/m",
				map[string]any{"side": "knit", "shows": shows, "rows": randomLace(rng, mw, mh, false, all)}),
				set("/sections/0/areas/-", map[string]any{"chart": "m", "from": at.String(),
					"to":    min(at+machine.Needle(rng.IntN(2*mw)), from+machine.Needle(width-1)).String(),
					"above": []string{"repeat", "blank"}[rng.IntN(2)]}))
		}
		if rng.IntN(4) == 0 && width > 12 {
			edits = append(edits, set("/needles/out", (from+machine.Needle(3+rng.IntN(width-6))).String()))
		}
		p := lacePiece(t, id, from, from+machine.Needle(width-1), randomLace(rng, w, h, rng.IntN(2) == 0, all),
			edits...)
		r := check.Run(p)
		if slices.ContainsFunc(r.Findings, func(f finding.Finding) bool {
			return f.Code == "width-tile" ||
				f.Code == "memory-stitches"
		}) {
			r.Findings = slices.DeleteFunc(r.Findings,
				func(f finding.Finding) bool { return f.Code == "width-tile" || f.Code == "memory-stitches" })
		}
		if r.Stops() {
			refused++
			continue
		}
		if !r.Fabric.Matches() {
			t.Fatalf("case %d on %s, %v:\n%v\n%s\n%v\n%s", i, id, edits, p.Charts["c"].Rows(), r.Fabric.First,
				r.Fabric.Faults, r.Plan)
		}
		if r.Fabric.Doubled > 0 {
			lacy++
		}
		faces := strings.Join(r.Fabric.Draw(chart.KnitSide), "")
		if got := strings.Count(faces, "o"); got != r.Fabric.Eyelets || options["transfer"] == "fine" && got > 0 {
			t.Fatalf("case %d: %d eyelets on the face, %d made", i, got, r.Fabric.Eyelets)
		}
	}
	if refused > chance.Share(100, 1000) || lacy < chance.Share(600, 1000) {
		t.Errorf("of 1000 charts %d are refused, and %d have a decrease", refused, lacy)
	}
}

// TestSaidToLean: a plan that says that a decrease leans otherwise than drawn must make it so.
func TestSaidToLean(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "card-direct", "L6", "R6", []string{"/o..o\\"},
		piecetest.Set("/charts/c/legend", map[string]any{}),
		piecetest.Set("/charts/c/side", "knit"), piecetest.Set("/sections/0/technique", "lace"), piecetest.Before(2,
			"A")))
	if f := technique.Prove(pl); !f.Matches() {
		t.Fatalf("as planned: %s", f.First)
	}
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Course > 0 && p.Section == 2 {
			p.Lace.OtherLeans = machine.SetOf(machine.L(6))
		}
	}
	if f := technique.Prove(pl); f.Matches() || !strings.Contains(f.First, "leans as drawn") {
		t.Errorf("L6 is said to lean otherwise than drawn, and does not: %q", f.First)
	}
}

// TestLaceByHand: an unsymmetrical row, worked out by hand. On the knit side the stitch
// left of the first yarn-over shows and leans right; on the bed it all lies in a mirror.
func TestLaceByHand(t *testing.T) {
	for _, c := range []struct {
		side, id string
		passes   []string // direction, needles moved
		lines    []string
	}{
		{"knit", "program-preselect", []string{"right ", "left ", "right L1", "left "},
			[]string{"......", "..#...", "......", "......"}},
		{"knit", "card-direct", []string{"right L1", "left "}, nil},
		{"purl", "program-preselect", []string{"right ", "left L1"}, []string{"..#...", "......"}},
		{"purl", "card-direct", []string{"right ", "left L1"}, nil},
	} {
		row := "../o.." // on the bed, knit side first: . . o \ . .
		if c.side == "purl" {
			row = "./o..."
		}
		p := lacePiece(t, c.id, machine.L(3), machine.R(3), []string{row}, set("/charts/c/side", c.side))
		pl := plan.Make(p)
		var got []string
		for _, made := range pl.Passes {
			if made.Carriage == machine.LaceCarriage {
				got = append(got, made.Dir.String()+" "+made.Main().Select.String())
			}
		}
		want := c.passes
		if !slices.Equal(got, want) {
			t.Errorf("%s side on %s: %q, want %q", c.side, c.id, got, want)
		}
		if c.lines != nil {
			w := card.MakeProgram(pl, 2)
			for l := range w.Bits.H {
				if w.Bits.H != len(c.lines) || strings.Repeat(w.Line(l+1), 2)[:6] != c.lines[l] || w.Bits.W != 4 &&
					w.Bits.W != 3 {
					t.Errorf("%s side: line %d of %d is %s, want %q", c.side, l+1, w.Bits.H, w.Line(l+1), c.lines)
				}
			}
		}
		f := technique.Prove(pl)
		if !f.Matches() || f.Eyelets != 1 || f.Doubled != 1 {
			t.Errorf("%s side on %s: %s, %d eyelets", c.side, c.id, f.First, f.Eyelets)
		}
	}
}
