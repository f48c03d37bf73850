package piece_test

import (
	"testing"

	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/piece/piecetest"
	"vindel/knit/plan"
)

// TestPalette: what a chart can be drawn with, as its technique has it.
func TestPalette(t *testing.T) {
	set := piecetest.Set
	for _, c := range []struct {
		name  string
		edits []finding.Change
		want  string
	}{
		{"yarns", nil, ".#+*"},
		{"marks", []finding.Change{set("/charts/c/legend", map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": "tuck"}}), set("/sections/0/technique", "tuck")}, ".#"},
		{"lace", []finding.Change{set("/charts/c/legend", map[string]any{}), set("/sections/0/technique", "lace"), set("/charts/c/rows", []string{"./o."})}, `.o/\^-x`},
		{"a yarn the chart has not used yet", []finding.Change{set("/charts/c/rows", []string{"...."})}, ".#+*"},
	} {
		p := piecetest.New(t, "program-preselect", "L4", "R4", []string{".##."}, c.edits...)
		got := ""
		for _, m := range p.Palette(p.Charts["c"]) {
			got += string(m.Char)
		}
		if got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

// TestNewPieces: a piece begun in any technique is one that can be planned, and drawn on.
func TestNewPieces(t *testing.T) {
	for _, technique := range []string{"two-colour", "slip", "tuck", "lace", "weave", "texture", "intarsia"} {
		doc, err := piece.New(piece.Start{Name: technique, Profile: "card-preselect", Technique: technique, W: 6, H: 4, Repeats: 4})
		if err != nil {
			t.Fatal(err)
		}
		if technique == "intarsia" {
			doc.Apply([]finding.Change{piecetest.Set("/machine/intarsia", true)})
		}
		p, err := doc.Piece()
		if err != nil {
			t.Errorf("%s: %v", technique, err)
			continue
		}
		if pl := plan.Make(p); finding.Stops(pl.Findings) || len(pl.Passes) < 4 || len(p.Palette(p.Charts["chart"])) < 2 {
			t.Errorf("%s: %v, %d passes, %d marks", technique, pl.Findings, len(pl.Passes), len(p.Palette(p.Charts["chart"])))
		}
	}
}
