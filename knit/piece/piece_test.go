package piece_test

import (
	"encoding/json"
	"errors"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// TestPlaces: every kind of bad input names its place, the value and the bound.
func TestPlaces(t *testing.T) {
	set, area := piecetest.Set, piecetest.Area
	for _, c := range []struct {
		edit edit.Change
		want string
	}{
		{area("first", "L140"), `sections[0].areas[0].first: "L140": the bed ends at L100`},
		{area("chart", "moth"), `sections[0].areas[0].chart: "moth": no such chart`},
		{area("rows", []int{1, 3}), `sections[0].areas[0].rows[1]: 3: 1 to 2`},
		{area("rows", []int{2, 1}), `sections[0].areas[0].rows: [2,1]: the first is above the last`},
		{area("transform", []string{"flip"}), `sections[0].areas[0].transform[0]: "flip": turn, turn-right`},
		{area("colour", "x"), `sections[0].areas[0]: unknown key "colour"`},
		{area("to", "L9"), `sections[0].areas[0].to: "L9": lies left of L4`},
		{set("/needle", 1), `unknown key "needle"`},
		{set("/vindel", 2), `vindel: 2: written by a newer Vindel; this one reads 1`},
		{set("/vindel", json.Number("1.1")), `vindel: 1.1: written by a newer Vindel; this one reads 1`},
		{set("/vindel", 0), `vindel: 0: 1 to 1`},
		{set("/later", true), `unknown key "later"; a newer Vindel may have written it`},
		{set("/name", 7), `name: 7: text in quotes is needed`},
		{set("/machine/profile", "loom"), `machine.profile: "loom": no such machine`},
		{set("/machine/needles", 201), `machine.needles: 201: a bed has an even number`},
		{set("/machine/school", "magic"), `machine.school: "magic": hand, preselect, direct or pairs`},
		{set("/yarns/1/id", "A"), `yarns[1].id: "A": an earlier yarn has this letter`},
		{set("/yarns/1/id", "o"), `yarns[1].id: "o": one letter, not o`},
		{set("/yarns/0/colour", "red"), `yarns[0].colour: "red": six digits`},
		{set("/charts/c/rows/1", "#.#"), `charts.c.rows[1]: 3 stitches wide; the first row has 4`},
		{set("/charts/c/rows/1", "#.?#"), `charts.c.rows[1]: column 3: "?" is not in the legend`},
		{set("/charts/c/legend/#", map[string]any{"yarn": "Q"}),
			`charts.c.legend.#.yarn: "Q": no yarn has this letter`},
		{set("/charts/c/legend/#", map[string]any{"stitch": "twist"}), `charts.c.legend.#.stitch: "twist": knit, purl`},
		{set("/needles/out", "L9-L8,x"), `needles.out: "x": a needle is L or R`},
		{set("/needles/to", "R101"), `needles.to: "R101": the bed ends at R100`},
		{set("/sections/0/technique", "macrame"), `sections[0].technique: "macrame": plain, two-colour`},
		{set("/sections/0/rows", 0), `sections[0].rows: 0: 1 to 20000`},
		{set("/sections/0/selecting", "maybe"), `sections[0].selecting: "maybe": knit, free`},
		{set("/limits", map[string]any{"float": 2.5}), `limits.float: 2.5: a whole number is needed`},
		{set("/options", map[string]any{"counter": "up"}), `options.counter: "up": run, section, repeat`},
	} {
		doc := piecetest.Document(t, "card-preselect", "L4", "R4", []string{"..##", "#..#"})
		op := c.edit
		if _, ok := doc.Get(op.Path); ok {
			op.Op = "replace"
		}
		if _, err := doc.Apply([]edit.Change{op}); err != nil {
			t.Fatalf("%s: %v", op.Path, err)
		}
		_, err := technique.Piece(doc)
		var list piece.ErrorList
		if !errors.As(err, &list) || !strings.HasPrefix(list[0].Error(), c.want) {
			t.Errorf("%s = %v: got %v, want %s", op.Path, op.Value, err, c.want)
		}
	}
	three := []string{".#+"}
	if _, err := technique.Piece(piecetest.Document(t, "card-preselect", "L4", "R4", three,
		area("transform", []string{"invert"}))); err == nil ||
		!strings.Contains(err.Error(), "has 3 characters; only a chart of two can be inverted") {
		t.Errorf("invert of three characters: %v", err)
	}
	for text, want := range map[string]string{"": "line 1, column 1: not JSON",
		"{\"vindel\": 1,\n ]": "line 2, column 2: not JSON", "{} {}": "line 1, column 3: not JSON: something follows"} {
		if _, err := technique.Read([]byte(text)); err == nil || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("Read(%q): got %v, want %s", text, err, want)
		}
	}
}

// FuzzRead: no input, however odd, does more than an error with a text.
func FuzzRead(f *testing.F) {
	f.Add(piecetest.Document(f, "card-preselect", "L4", "R4", []string{"..##", "#..#"}).JSON())
	f.Add([]byte(`{"vindel":1,"machine":{"profile":"hand-mid"},"yarns":[{"id":"A"}],"needles":{"width":9},
		"sections":[{"technique":"plain","rows":3,"yarns":["A*2"]}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := technique.Read(data)
		if (p == nil) == (err == nil) {
			t.Fatalf("a piece and an error: %v, %v", p, err)
		}
		if err != nil && (err.Error() == "" || !json.Valid(data) && p != nil) {
			t.Fatal("an error without words")
		}
	})
}
