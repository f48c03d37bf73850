package technique_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// stitchPiece is a piece of one section in a technique whose chart marks stitches: '#'
// is the stitch, '.' knits.
func stitchPiece(t testing.TB, id, technique, stitch string, width int, rows []string,
	edits ...edit.Change) *piece.Piece {
	from, to := machine.Centre(width, machine.Right)
	first := []edit.Change{set("/charts/c/legend",
		map[string]any{".": map[string]any{"stitch": "knit"}, "#": map[string]any{"stitch": stitch}}),
		set("/sections/0/technique", technique)}
	if technique == "weave" {
		first = append(first, set("/sections/0/weft", "D"), set("/machine/weave", true))
	}
	return piecetest.New(t, id, from.String(), to.String(), rows, append(first, edits...)...)
}

func randomMarks(rng *rand.Rand, w, h int) []string {
	rows := make([]string, h)
	for y := range rows {
		for range w {
			rows[y] += string(".#"[rng.IntN(2)])
		}
	}
	return rows
}

// TestStitchesComeOut: random charts of marked stitches, on every machine that can and
// by every convention of selection: what the needles did is what the chart asks for.
func TestStitchesComeOut(t *testing.T) {
	for _, c := range []struct{ technique, stitch string }{{"tuck", "tuck"}, {"slip", "slip"}, {"weave", "weave"},
		{"texture", "purl"}} {
		t.Run(c.technique, func(t *testing.T) {
			rng := chance.Rand(t, 21, 22)
			machines := machine.IDs()
			refused := 0
			for i := range chance.Cases(500) {
				id := machines[i%len(machines)]
				width := 3 + rng.IntN(30)
				edits := []edit.Change{set("/charts/c/side", []string{"knit", "purl"}[rng.IntN(2)]),
					set("/sections/0/rows", 1+rng.IntN(15)), area("first", machine.Needle(rng.IntN(20)-10).String()),
					set("/options", map[string]any{"end_needles": []string{"off", "auto", "hand"}[rng.IntN(3)]}),
					set("/machine/tuck_selected", []string{"knit", "tuck"}[rng.IntN(2)]),
					set("/machine/weave_selected", []string{"hidden", "shown"}[rng.IntN(2)]),
					set("/machine/reset_each_pass", rng.IntN(2) == 0), set("/machine/purl_carriage", rng.IntN(2) == 0)}
				ahead := rng.IntN(2) == 0
				edits = append(edits, set("/machine/purl_selects", map[bool]string{true: "ahead", false: "now"}[ahead]))
				if rng.IntN(3) == 0 && id != "two-bed-pairs" {
					edits = append(edits, piecetest.Before(2*(1+rng.IntN(2)), "B"))
				} else if m, _ := machine.Shipped(id); m.School == machine.Preselect && ahead {
					// the selecting pass takes the yarn to the purl carriage's side
					edits = append(edits, set("/start", "left"))
				}
				p := stitchPiece(t, id, c.technique, c.stitch, width, randomMarks(rng, 1+rng.IntN(8), 1+rng.IntN(6)),
					edits...)
				pl := plan.Make(p)
				if finding.Stops(pl.Findings) { // the purl carriage on the wrong side
					refused++
					continue
				}
				f := technique.Prove(pl)
				if !f.Matches() {
					t.Fatalf("case %d on %s: %s\n%v\n%s", i, id, f.First, f.Faults, pl)
				}
				held := 0 // rows in which a policy acts: not those in which needles wait at an end
				for j := range f.Courses {
					c := &f.Courses[j]
					if c.Row > 0 && c.AtWork == pl.Section(c.Section).Covered &&
						pl.Section(c.Section).Waiting(c.Row).Empty() {
						held++
					}
				}
				if p.Options.EndNeedles == "off" || c.technique != "tuck" && c.technique != "slip" {
					held = 0
				}
				if f.Exempt != 2*held {
					t.Fatalf("case %d: %d stitches exempt under %s in %d rows of %s", i, f.Exempt,
						p.Options.EndNeedles, held,
						c.technique)
				}
			}
			if refused > 100 {
				t.Errorf("%d of 1000 refused", refused)
			}
		})
	}
}

// randomFields draws stretches of three colours.
func randomFields(rng *rand.Rand, w, h int) []string {
	rows := make([]string, h)
	for y := range rows {
		for len(rows[y]) < w {
			rows[y] += strings.Repeat(string(".#+"[rng.IntN(3)]), 1+rng.IntN(6))
		}
		rows[y] = rows[y][:w]
	}
	return rows
}

// TestSlippedColour: random charts that slipped colour work can knit, in pairs of rows
// of one yarn; and one stitch that breaks the rule is refused with its needle.
func TestSlippedColour(t *testing.T) {
	rng := chance.Rand(t, 23, 24)
	for i := range chance.Cases(500) {
		w, pairs := 2+rng.IntN(12), 1+rng.IntN(5)
		rows, below := []string{}, []byte{}
		for x := 0; x < w; x++ {
			below = append(below, '.') // the cast-on is in A
		}
		for pair := range pairs {
			own := ".#"[(pair+1)%2]
			for range 2 {
				row := make([]byte, w)
				for x := range row {
					if row[x] = own; rng.IntN(2) == 0 {
						row[x] = below[x]
					}
				}
				below = row
				rows = slices.Insert(rows, 0, string(row))
			}
		}
		id := machine.IDs()[i%len(machine.IDs())]
		from, to := machine.Centre(w, machine.Right)
		edits := []edit.Change{set("/sections/0/technique", "slip"), set("/sections/0/yarns", []string{"B*2", "A*2"}),
			set("/charts/c/side", []string{"knit", "purl"}[rng.IntN(2)])}
		if id != "two-bed-pairs" {
			edits = append(edits, piecetest.Before(1+rng.IntN(3), "A"))
		} else {
			edits = append(edits, piecetest.Before(2, "A"))
		}
		p := piecetest.New(t, id, from.String(), to.String(), rows, edits...)
		f := technique.Prove(plan.Make(p))
		if !f.Matches() {
			t.Fatalf("case %d on %s, %v: %s %v\n%v\n%s", i, id, rows, f.First, f.Faults, f.Plan.Findings, f.Plan)
		}
	}
	bad := piecetest.New(t, "card-direct", "L2", "R2", []string{"..#.", "....", "#..."}, set("/sections/0/technique",
		"slip"),
		set("/sections/0/yarns", []string{"B", "A", "A"}), piecetest.Before(1, "A"))
	pl := plan.Make(bad)
	if i := slices.IndexFunc(pl.Findings, func(f finding.Finding) bool { return f.Code == "slip-colour" }); i < 0 ||
		pl.Findings[i].Rows != [2]int{3, 3} || pl.Findings[i].Needles.String() != "R1" || len(pl.Passes) != 3 {
		t.Errorf("a stitch that was not showing B: %v, %d passes", pl.Findings, len(pl.Passes))
	}
}

// TestIntarsiaComesOut: random fields, twisted at their borders, each with a bobbin.
func TestIntarsiaComesOut(t *testing.T) {
	rng := chance.Rand(t, 25, 26)
	for i := range chance.Cases(500) {
		w, h := 2+rng.IntN(20), 1+rng.IntN(10)
		rows := make([]string, h)
		for y := range rows {
			for len(rows[y]) < w {
				for run, ch := 1+rng.IntN(6), ".#+*"[rng.IntN(4)]; run > 0 && len(rows[y]) < w; run-- {
					rows[y] += string(ch)
				}
			}
		}
		from, to := machine.Centre(w, machine.Right)
		id := []string{"hand-chunky", "card-preselect", "program-small"}[i%3]
		edits := []edit.Change{set("/sections/0/technique", "intarsia"), set("/machine/intarsia", true),
			set("/charts/c/side", []string{"knit", "purl"}[rng.IntN(2)]),
			set("/start", []string{"left", "right"}[rng.IntN(2)])}
		if rng.IntN(2) == 0 {
			edits = append(edits, piecetest.Before(1+rng.IntN(3), "A"),
				set("/sections/-", map[string]any{"technique": "two-colour",
					"areas": []any{map[string]any{"chart": "c", "rows": []int{1, 1}, "columns": []int{1, 1}}}}))
		}
		p := piecetest.New(t, id, from.String(), to.String(), rows, edits...)
		f := technique.Prove(plan.Make(p))
		if !f.Matches() {
			t.Fatalf("case %d on %s: %s %v\n%s", i, id, f.First, f.Faults, f.Plan)
		}
	}
}
