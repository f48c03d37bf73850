package edit_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// TestApplyAndUndo: any run of edits, undone in one go, leaves the file as it was; an
// edit that fails half-way leaves it untouched.
func TestApplyAndUndo(t *testing.T) {
	rng := chance.Rand(t, 3, 4)
	for range 200 {
		doc := piecetest.Document(t, "card-preselect", "L4", "R4", []string{"..##", "#..#"})
		before := string(doc.JSON())
		all := []edit.Change{
			piecetest.Set("/name", "other"), piecetest.Set("/options", map[string]any{"counter": "repeat"}),
			piecetest.Set("/yarns/1", map[string]any{"id": "E"}),
			{Op: "remove", Path: "/yarns/2"}, {Op: "replace", Path: "/charts/c/rows/0", Value: "####"},
			{Op: "add", Path: "/yarns/-", Value: map[string]any{"id": "F"}},
			{Op: "remove", Path: "/start"}, {Op: "replace", Path: "", Value: map[string]any{"vindel": 1}},
			{Op: "replace", Path: "/nowhere/at/all", Value: 1}, {Op: "remove", Path: "/yarns/9"},
		}
		var edits []edit.Change
		for range 1 + rng.IntN(4) {
			edits = append(edits, all[rng.IntN(len(all))])
		}
		inverse, err := doc.Apply(edits)
		if err == nil {
			if _, err := doc.Apply(inverse); err != nil {
				t.Fatalf("undoing %v: %v", edits, err)
			}
		}
		if after := string(doc.JSON()); after != before {
			t.Fatalf("%v (%v) and back:\n%s", edits, err, after)
		}
	}
}

// TestRefused: a change that cannot be made is refused with its place, and leaves the
// document as it was.
func TestRefused(t *testing.T) {
	for _, c := range []struct {
		change edit.Change
		want   string
	}{
		{edit.Change{Op: edit.Add, Path: "name", Value: 1},
			`change 1: add name: "name" is no place: a path begins with /`},
		{edit.Change{Op: edit.Remove, Path: "0", Value: 1}, `change 1: remove 0: "0" is no place`},
		{edit.Change{Op: "move", Path: "/name", Value: 1}, `change 1: move /name: "move": add, replace or remove`},
		{edit.Change{Op: "", Path: "/name", Value: 1}, `change 1:  /name: "": add, replace or remove`},
		{edit.Change{Op: edit.Add, Path: "", Value: 1}, `change 1: add : the whole piece can only be replaced`},
		{edit.Change{Op: edit.Replace, Path: "/nowhere", Value: 1}, `change 1: replace /nowhere: no such place`},
		{edit.Change{Op: edit.Replace, Path: "/yarns/4", Value: 1}, `change 1: replace /yarns/4: no such place`},
		{edit.Change{Op: edit.Add, Path: "/yarns/-1", Value: 1}, `change 1: add /yarns/-1: no such place`},
		{edit.Change{Op: edit.Remove, Path: "/yarns/-"}, `change 1: remove /yarns/-: no such place`},
		{edit.Change{Op: edit.Add, Path: "/name/first", Value: 1}, `change 1: add /name/first: no such place`},
		{edit.Change{Op: edit.Add, Path: "/name", Value: func() {}}, `change 1: add /name: json`},
	} {
		doc := piecetest.Document(t, "card-preselect", "L4", "R4", []string{"..##"})
		before := string(doc.JSON())
		_, err := doc.Apply(append(edit.Set(edit.Member("name"), "other"), c.change))
		var refused *edit.Refused
		if !errors.As(err, &refused) || !strings.HasPrefix(err.Error(), c.want) || string(doc.JSON()) != before {
			t.Errorf("%v: %v, want %s", c.change, err, c.want)
		}
	}
	if at := edit.Chart("a/b~c").To("rows").At(3); at != "/charts/a~1b~0c/rows/3" {
		t.Errorf("a chart with odd letters in its name: %s", at)
	}
}

// FuzzApply: no change, however odd, does more than an error that names it, and what was
// done can be undone.
func FuzzApply(f *testing.F) {
	f.Add("add", "/yarns/0/name", `"heron"`)
	f.Add("remove", "charts", "")
	f.Add("replace", "", "{}")
	f.Fuzz(func(t *testing.T, op, path, value string) {
		doc := piecetest.Document(t, "card-preselect", "L4", "R4", []string{"..##"})
		before := string(doc.JSON())
		inverse, err := doc.Apply([]edit.Change{{Op: edit.Op(op), Path: edit.Path(path), Value: value}})
		if err == nil {
			technique.Piece(doc)
			_, err = doc.Apply(inverse)
		}
		var refused *edit.Refused
		if err != nil && !errors.As(err, &refused) || string(doc.JSON()) != before {
			t.Errorf("%s %q: %v", op, path, err)
		}
	})
}

// TestNewPieces: a piece begun in any technique is one that can be planned, and drawn on.
func TestNewPieces(t *testing.T) {
	for _, name := range []string{"two-colour", "slip", "tuck", "lace", "weave", "texture", "intarsia"} {
		doc, err := edit.New(edit.Start{Name: name, Profile: "card-preselect", Technique: &technique.For(nil,
			name).Technique,
			W: 6, H: 4, Repeats: 4})
		if err != nil {
			t.Fatal(err)
		}
		if name == "intarsia" {
			doc.Apply([]edit.Change{piecetest.Set("/machine/intarsia", true)})
		}
		p, err := technique.Piece(doc)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if pl := plan.Make(p); finding.Stops(pl.Findings) || len(pl.Passes) < 4 ||
			len(p.Palette(p.Charts["chart"])) < 2 {
			t.Errorf("%s: %v, %d passes, %d marks", name, pl.Findings, len(pl.Passes),
				len(p.Palette(p.Charts["chart"])))
		}
	}
}

// TestNewWhole: of a chart that is asked for oftener than the bed has room, as many whole repeats are placed as there
// are; a chart that is wider than the bed is cut.
func TestNewWhole(t *testing.T) {
	for _, c := range []struct{ w, times, want int }{{50, 4, 200}, {50, 5, 200}, {67, 3, 134}, {66, 3, 198}, {200, 2, 200},
		{240, 1, 200}, {12, 0, 12}} {
		doc, err := edit.New(edit.Start{Name: "n", Profile: "card-preselect", Technique: &technique.For(nil,
			"two-colour").Technique, W: c.w, H: 2, Repeats: c.times})
		if err != nil {
			t.Fatal(err)
		}
		if p, err := technique.Piece(doc); err != nil || p.Work().Len() != c.want {
			t.Errorf("%d wide, %d times: %v, not %d", c.w, c.times, p.Work().Len(), c.want)
		}
	}
}

// TestSpans: two numbers as they are typed; a rectangle becomes an area's, or a chart's own.
func TestSpans(t *testing.T) {
	for typed, want := range map[string]string{"2–3": "[2 3]", "2 to 3": "[2 3]", "2": "[2 2]", "": "[1 4]",
		"x":     "the first and the last",
		"1 2 3": "the first and the last", "3-2": "the first is above the last", "2-9": "1 to 4"} {
		doc := piecetest.Document(t, "card-direct", "L4", "R4", []string{"#.##", "..#."})
		changes, err := edit.Field(doc, edit.Area(1, 1).To("columns"), typed, edit.AsSpan)
		if err == nil {
			_, err = doc.Apply(changes)
		}
		got := ""
		if p, e := technique.Piece(doc); err == nil && e == nil {
			got = fmt.Sprint(p.Sections[0].Areas[0].Columns)
		} else {
			got = fmt.Sprint(err, e)
		}
		if !strings.Contains(got, want) {
			t.Errorf("%q: %s, want %s", typed, got, want)
		}
	}
	doc := piecetest.Document(t, "card-direct", "L4", "R4", []string{"#.##", "..#."})
	p, _ := technique.Piece(doc)
	if _, err := doc.Apply(append(edit.ChartOf(p, doc, p.Charts["c"], [2]int{2, 3}, [2]int{2, 2}),
		edit.AreaOf(1, 1, [2]int{3, 4}, [2]int{1, 1})...)); err != nil {
		t.Fatal(err)
	}
	if p, _ = technique.Piece(doc); p.Charts["c 2"].Rows()[0] != ".#" || p.Sections[0].Areas[0].Columns != [2]int{3,
		4} {
		t.Errorf("%q, area %v", p.Charts["c 2"].Rows(), p.Sections[0].Areas[0])
	}
	// Lace brought into a chart makes the sections that knit it lace.
	lace, _ := chart.FromRows([]string{"./o."})
	if _, err := doc.Apply(edit.Bring(p, p.Charts["c"], &edit.Brought{Chart: lace},
		&technique.Lace.Technique)); err != nil {
		t.Fatal(err)
	}
	if p, err := technique.Piece(doc); err == nil && p.Sections[0].Technique.Name != "lace" {
		t.Errorf("knitted as %s", p.Sections[0].Technique.Name)
	}
}

// TestNewInsideSeam: a new two-colour piece on a machine with one feeder has its repeats
// between two seam stitches; on another it has none.
func TestNewInsideSeam(t *testing.T) {
	for id, want := range map[string]string{"hand-mid": "L17-R17 L16-R16", "card-direct": "L16-R16 L16-R16"} {
		doc, err := edit.New(edit.Start{Name: "Fern", Profile: id, Technique: &technique.TwoColour.Technique, W: 8,
			H: 4, Repeats: 4})
		if err != nil {
			t.Fatal(err)
		}
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		a := p.Sections[0].Areas[0]
		if got := fmt.Sprintf("%v-%v %v-%v", p.From, p.To, a.From, a.To); got != want {
			t.Errorf("%s: %s, want %s", id, got, want)
		}
	}
}
