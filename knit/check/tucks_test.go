package check_test

import (
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
)

// TestTucksApart: tucks on a needle before and after a row that something else works are not one pile.
func TestTucksApart(t *testing.T) {
	tuck := map[string]any{"technique": "tuck", "rows": 3, "areas": []any{map[string]any{"chart": "t", "from": "L2",
		"to": "L2", "first": "L2"}}}
	for _, c := range []struct {
		name    string
		between map[string]any
		piles   bool
	}{
		{"a recipe", map[string]any{"technique": "recipe", "recipe": []string{"yarn A", "pass 1"}}, false},
		{"a plain row", map[string]any{"technique": "plain", "rows": 1, "yarn": "A"}, false},
		{"nothing", nil, true},
	} {
		edits := append(edit.Put("/sections/0", tuck), piecetest.Set("/charts/t", map[string]any{
			"legend": map[string]any{"t": map[string]any{"stitch": "tuck"}}, "rows": []string{"t"}}),
			piecetest.Set("/limits", map[string]any{"tuck": 4}))
		if c.between != nil {
			edits = append(edits, piecetest.Set("/sections/-", c.between))
		}
		p := piecetest.New(t, "hand-mid", "L6", "R6", []string{"."}, append(edits, piecetest.Set("/sections/-", tuck))...)
		piles := false
		for _, f := range check.Run(p).Findings {
			piles = piles || f.Code == finding.TuckStack
		}
		if piles != c.piles {
			t.Errorf("%s between: a pile is found: %v", c.name, piles)
		}
	}
}
