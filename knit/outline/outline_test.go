package outline_test

import (
	"fmt"
	"strings"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/outline"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

// TestEdges: every edge of a piece that grows, binds off and divides, with its length by the swatch.
func TestEdges(t *testing.T) {
	p := piecetest.New(t, "program-preselect", "L10", "R10", []string{"."}, edit.Set("/sections/0/rows", 40)[0],
		edit.Set("/gauge", map[string]any{"stitches": 25, "rows": 40})[0], edit.Set("/shape", []any{
			map[string]any{"side": "both", "rows": []int{3, 12}, "stitches": 4},
			map[string]any{"side": "right", "row": 15, "stitches": -3},
			map[string]any{"split": 20, "left": "L2", "right": "R2"},
			map[string]any{"part": "first", "side": "left", "rows": []int{21, 24}, "stitches": -2},
			map[string]any{"part": "second", "side": "left", "row": 31, "stitches": -4},
		})[0])
	pl := plan.Make(p)
	o := outline.Of(pl)
	var got []string
	for _, e := range o.Edges {
		got = append(got, e.String())
	}
	want := []string{
		"Cast-on: 20 stitches, 80 mm",
		"Left, rows 1 to 2: 5 mm",
		"Left, rows 3 to 12: 30 mm, 4 stitches out, every 3 rows 2 times, then every 2 rows 2 times",
		"Left, rows 13 to 19: 18 mm",
		"Right, rows 1 to 2: 5 mm",
		"Right, rows 3 to 12: 30 mm, 4 stitches out, every 3 rows 2 times, then every 2 rows 2 times",
		"Right, rows 13 to 15: 8 mm",
		"Right, bound off, row 16: 3 stitches, 12 mm",
		"Right, rows 16 to 19: 10 mm",
	}
	for i, w := range want {
		if i >= len(got) || got[i] != w {
			t.Errorf("edge %d: want %q\n%s", i, w, strings.Join(got, "\n"))
			break
		}
	}
	for _, w := range []string{"Left of the first part, rows 21 to 24: 13 mm, 2 stitches in, every 2 rows 2 times",
		"Left of the second part, bound off, row 31: 4 stitches, 16 mm",
		"Middle, bound off, row 20: 2 stitches, 8 mm", "Top of the first part, row 40: 8 stitches, 32 mm",
		"Top of the second part, row 40: 9 stitches, 36 mm"} {
		if !strings.Contains(strings.Join(got, "\n"), w) {
			t.Errorf("no edge %q in\n%s", w, strings.Join(got, "\n"))
		}
	}
	var rows []string
	for _, r := range beside.ShapeRows(pl) {
		rows = append(rows, fmt.Sprintf("%d at %d %s|%s|%s: %d", r.Row, r.Counter, r.Parts, r.Left, r.Right,
			r.Stitches))
	}
	for i, want := range []string{"5 at 5 |bring L11 to work|bring R11 to work: 22",
		"8 at 8 |bring L12 to work|bring R12 to work: 24",
		"10 at 10 |bring L13 to work|bring R13 to work: 26", "12 at 12 |bring L14 to work|bring R14 to work: 28",
		"16 at 16 ||bind off 3: R12-R14: 25",
		"20 at 20 it divides: 15 stitches wait||: 10", "22 at 22 |move R2 onto its neighbour|: 9",
		"24 at 24 |move R3 onto its neighbour|: 8",
		"20 at 20 back to where it divided||: 13", "31 at 31 |bind off 4: L14-L11|: 9"} {
		if i >= len(rows) || !strings.HasPrefix(rows[i], want) {
			t.Errorf("row by row, %d: want %q\n%s", i, want, strings.Join(rows, "\n"))
			break
		}
	}
	if n := len(o.Polygon(0, 0)); n < 8 {
		t.Errorf("the polygon has %d corners", n)
	}
}

// TestHeldEdge: needles that wait lie across, and the edge goes on from where it was: nothing has come off.
func TestHeldEdge(t *testing.T) {
	p := piecetest.New(t, "card-direct", "L10", "R10", []string{"."}, edit.Set("/sections/0/rows", 20)[0],
		edit.Set("/gauge", map[string]any{"stitches": 25, "rows": 40})[0], edit.Set("/shape", []any{
			map[string]any{"side": "left", "row": 5, "stitches": -6, "by": "hold", "wrap": false},
			map[string]any{"side": "left", "row": 9, "release": true},
			map[string]any{"side": "left", "rows": []int{11, 14}, "stitches": -2}})[0])
	var got []string
	for _, e := range outline.Of(plan.Make(p)).Edges {
		if strings.HasPrefix(e.String(), "Left") {
			got = append(got, e.String())
		}
	}
	want := []string{"Left, rows 1 to 4: 10 mm", "Left, in hold, row 5: 6 stitches, 24 mm", "Left, rows 5 to 10: 15 mm",
		"Left, rows 11 to 14: 13 mm, 2 stitches in, every 2 rows 2 times", "Left, rows 15 to 20: 15 mm"}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("edges\n%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
}
