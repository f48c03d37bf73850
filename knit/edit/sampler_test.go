package edit_test

import (
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// TestSampler: a section in three sizes, one above the other after one cast-on, with rows of a marker
// between; what was measured becomes a piece's swatch.
func TestSampler(t *testing.T) {
	doc := piecetest.Document(t, "card-preselect", "L6", "R6", []string{"#..", ".#."},
		piecetest.Set("/sections/0/rows", 6),
		piecetest.Set("/sections/0/size", "7"), piecetest.Set("/begin", map[string]any{"way": "every-second"}))
	p, err := technique.Piece(doc)
	if err != nil {
		t.Fatal(err)
	}
	made, err := edit.Sampler(p, doc, 1, []edit.Band{{Name: "six", Size: "6"}, {Name: "seven", Size: "7"},
		{Name: "eight", Size: "8"}}, 4)
	if err != nil {
		t.Fatal(err)
	}
	s, err := technique.Piece(made)
	if err != nil {
		t.Fatal(err)
	}
	r := check.Run(s)
	sizes, marks := []string{}, 0
	for _, k := range edit.Samples(s) {
		sizes = append(sizes, s.Section(k).Size)
	}
	for i := range s.Sections {
		if sec := &s.Sections[i]; sec.Technique.Name == "plain" && sec.Rows == edit.MarkRows && sec.Yarn == 4 {
			marks++
		}
	}
	casts := 0
	for i := range r.Plan.Passes {
		if r.Plan.Passes[i].Section == 0 {
			casts++
		}
	}
	if !r.Fabric.Matches() || len(sizes) != 3 || sizes[0] != "6" || sizes[2] != "8" || marks != 2 || casts != 2 {
		t.Errorf("matches %t, sizes %v, %d marks, %d passes of the start: %s", r.Fabric.Matches(), sizes, marks,
			casts, r.Fabric.First)
	}
	if _, err := doc.Apply(edit.TakeSwatch(map[string]any{"stitches": 40, "width_mm": 160})); err != nil {
		t.Fatal(err)
	}
	if p, err := technique.Piece(doc); err != nil || p.Gauge.Stitches != 25 {
		t.Errorf("gauge %v, %v", p.Gauge, err)
	}
}
