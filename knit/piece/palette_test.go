package piece_test

import (
	"testing"

	"vindel/knit/edit"
	"vindel/knit/piecetest"
)

// TestPalette: what a chart can be drawn with, as its technique has it.
func TestPalette(t *testing.T) {
	set := piecetest.Set
	for _, c := range []struct {
		name  string
		edits []edit.Change
		want  string
	}{
		{"yarns", nil, ".#+*"},
		{"marks", []edit.Change{set("/charts/c/legend",
			map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": "tuck"}}),
			set("/sections/0/technique", "tuck")}, ".#"},
		{"lace", []edit.Change{set("/charts/c/legend", map[string]any{}), set("/sections/0/technique", "lace"),
			set("/charts/c/rows", []string{"./o."})}, `.o/\^-x`},
		{"a yarn the chart has not used yet", []edit.Change{set("/charts/c/rows", []string{"...."})}, ".#+*"},
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
