package beside_test

import (
	"testing"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// TestPlaceAfterEdits: what was knitted is shown as knitted, whatever becomes of the piece
// elsewhere: the next pass is the same row of the same section, under its new number.
func TestPlaceAfterEdits(t *testing.T) {
	band := map[string]any{"name": "band", "technique": "two-colour", "rows": 9,
		"areas": []any{map[string]any{"chart": "c"}}}
	start := func() *edit.Document {
		return piecetest.Document(t, "card-direct", "L4", "R4", []string{"#..#..#.", "..##....", ".#...##."},
			edit.Set("/sections/-", band)[0], piecetest.Before(4, "A"), edit.Set("/sections/0/name", "hem")[0])
	}
	doc := start()
	read := func(doc *edit.Document) (*piece.Piece, *pass.Plan) {
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		return p, plan.Make(p)
	}
	p, before := read(doc)
	const done = 4 + 3 + 5 // the hem, the first section, and to the second row of the band's second repeat
	last := before.Passes[done-1].ID
	if got := last.String(); got != "s3/2/2//1" {
		t.Fatalf("the last pass knitted is %s", got)
	}
	for _, c := range []struct {
		name    string
		changes []edit.Change
		want    int
		exact   bool
	}{
		{"nothing", nil, done, true},
		{"rows of a section that is knitted", edit.SectionRows(1, 6), done + 2, true},
		{"a section put in below", edit.InsertPlain(p, 1, 5, "B"), done + 5, true},
		{"a section put in above", edit.InsertPlain(p, 4, 5, "B"), done, true},
		{"the knitted hem taken away", edit.RemoveSection(p, 1), done - 4, true},
		{"sections moved", edit.MoveSection(p, doc, 1, true), done, true},
		{"colours redrawn", edit.Row(p.Charts["c"], 1, "##..##.."), done, true},
		{"fewer rows than were knitted", edit.SectionRows(3, 4), 4 + 3 + 4, false},
		{"the section at work taken away", edit.RemoveSection(p, 3), 7, false},
		{"a chart of one row", edit.Rows(p, p.Charts["c"], []string{"#..#..#."}), 4 + 1 + 2, false},
		{"a taller chart", edit.Rows(p, p.Charts["c"], []string{"........", "#..#..#.", "..##....", ".#...##."}),
			4 + 4 + 6,
			true},
	} {
		doc := start()
		if _, err := doc.Apply(c.changes); err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		_, after := read(doc)
		if got, exact := beside.Done(after, last, done); got != c.want || exact != c.exact {
			t.Errorf("%s: %d passes are knitted (exact %v), want %d (%v)", c.name, got, exact, c.want, c.exact)
		}
	}
	// A journal from before passes had an identity has its count, and no more than there are.
	for count, want := range map[int]int{0: 0, 5: 5, 99: len(before.Passes)} {
		if got, _ := beside.Done(before, pass.ID{}, count); got != want {
			t.Errorf("an old journal at %d: %d", count, got)
		}
	}
}
