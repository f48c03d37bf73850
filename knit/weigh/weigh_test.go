package weigh_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
	"vindel/knit/weigh"
)

// TestOf: what small pieces decide, and what each other way costs, counted with a pencil; each that is taken is what
// it says.
func TestOf(t *testing.T) {
	plain := func(yarn string, rows int, more ...string) map[string]any {
		s := map[string]any{"technique": "plain", "yarn": yarn, "rows": rows}
		for _, key := range more {
			s[key] = true
		}
		return s
	}
	drawn := func(technique string, rows int) map[string]any {
		return map[string]any{"technique": technique, "rows": rows, "areas": []any{map[string]any{
			"chart": map[bool]string{false: "c", true: "t"}[technique == "tuck"]}}}
	}
	for _, c := range []struct {
		name, machine string
		rows          []string
		sections      []any
		want          []string
	}{
		{"an odd number of rows", "card-preselect", []string{"#."}, []any{plain("A", 2), plain("B", 3), plain("A", 2)},
			[]string{"Section 3: A is cut once, and goes on with a new end",
				"cut, and darned in; as planned 6 ends, 7 passes, 3 threadings, 2 touches",
				"carried along, however far; 2 ends fewer",
				"a free pass before the section; 2 ends fewer, 1 pass more, 4 touches more",
				"one row more in section 2: 4; 2 ends fewer, 1 pass more",
				"one row fewer in section 2: 2; 2 ends fewer, 1 pass fewer"}},
		{"an even number", "card-preselect", []string{"#."}, []any{plain("A", 2), plain("B", 2), plain("A", 2)}, nil},
		{"a free pass that saves nothing", "card-preselect", []string{"#."}, []any{plain("A", 2), plain("A", 2, "free")},
			[]string{"Section 2: A is cut once, and goes on with a new end",
				"cut, and darned in; as planned 4 ends, 5 passes, 1 threading, 6 touches",
				"carried along, however far; 2 ends fewer",
				"Section 2: before it",
				"a free pass to the other side; as planned 4 ends, 5 passes, 1 threading, 6 touches",
				"straight on; 2 ends fewer, 1 pass fewer, 4 touches fewer"}},
		{"two passes a row", "hand-mid", []string{"....", ".##.", ".##."}, []any{plain("A", 1), drawn("two-colour", 3)},
			[]string{"Section 2: which yarn leads its first row of two",
				"A leads; as planned 4 ends, 6 passes, 3 threadings, 14 touches",
				"B leads; 4 ends more, 2 cuts more, 2 threadings more, 2 warnings more"}},
		{"an edge stitch", "card-preselect", []string{"#..#", "....", "#..#"}, []any{drawn("two-colour", 3)},
			[]string{"Section 1: B is cut once, and goes on with a new end",
				"cut, and darned in; as planned 6 ends, 4 passes, 3 threadings, 8 touches",
				"carried along, however far; 2 ends fewer",
				"an edge stitch of it in each row between, drawn in the chart; 2 ends fewer, 1 threading fewer, 1 warning more",
				"Section 1: its end needles",
				"follow the chart; as planned 6 ends, 4 passes, 3 threadings, 8 touches",
				"always knit, by the machine's switch; 8 touches more",
				"always knit, brought forward by hand; 4 touches more"}},
		{"three colours, separated", "card-preselect", []string{"#+.#", "#..+"}, []any{drawn("separated", 2)},
			[]string{"Section 1: its end needles",
				"follow the chart; as planned 6 ends, 13 passes, 6 threadings, 10 touches, 1 warning",
				"always knit, by the machine's switch; 4 touches more",
				"always knit, brought forward by hand; 24 touches more",
				"Section 1: the order of its colours",
				"as the yarns are listed; as planned 6 ends, 13 passes, 6 threadings, 10 touches, 1 warning",
				"with the fewest changes of yarn; 1 threading fewer",
				"Section 1: the pass that selects for its first row",
				"knits a plain row; as planned 6 ends, 13 passes, 6 threadings, 10 touches, 1 warning",
				"free, without yarn; 2 touches more"}},
		{"tucks by hand", "hand-mid", []string{"...."}, []any{drawn("tuck", 4)},
			[]string{"Section 1: its tucks",
				"whichever touches the fewest needles and levers; as planned 2 ends, 4 passes, 1 threading, 6 touches",
				"forward, under a cam that tucks them; 2 touches more"}},
	} {
		doc := piecetest.Document(t, c.machine, "L4", "R4", c.rows, piecetest.Set("/sections", c.sections),
			piecetest.Set("/machine/reset_each_pass", true),
			piecetest.Set("/charts/t", map[string]any{"side": "purl", "rows": []string{"....", ".#..", ".#..", ".#.."},
				"legend": map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": "tuck"}}}))
		for i, id := range "ABCD" {
			if _, err := doc.Apply(edit.Set(edit.Path(fmt.Sprint("/yarns/", i, "/name")), string(id))); err != nil {
				t.Fatal(err)
			}
		}
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		list, err := weigh.Of(context.Background(), doc, check.Run(p))
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, one := range list {
			got = append(got, one.Title)
			for i, w := range one.Ways {
				says := "as planned " + w.Costs.String()
				if i > 0 {
					says = w.Costs.Than(one.Ways[0].Costs)
				}
				got = append(got, w.Text+"; "+says)
			}
		}
		if strings.Join(got, "\n") != strings.Join(c.want, "\n") {
			t.Errorf("%s:\n%s", c.name, strings.Join(got, "\n"))
		}
	}
}

// TestFilling: a motif whose card brings more is laid from end to end, or where its columns come again least often:
// of 60 needles and 24 columns twelve come three times, and eight needles on they come twice.
func TestFilling(t *testing.T) {
	doc := piecetest.Document(t, "card-preselect", "L30", "R30", []string{"#..#", ".##."}, piecetest.Area("from", "L2"),
		piecetest.Area("to", "R2"), piecetest.Area("first", "L2"), piecetest.Before(2, "A"))
	r := check.Run(must(technique.Piece(doc)))
	list, err := weigh.Of(t.Context(), doc, r)
	if err != nil {
		t.Fatal(err)
	}
	var said []string
	for _, c := range list {
		if strings.Contains(c.Title, "card") {
			for _, w := range c.Ways {
				said = append(said, w.Text+": "+w.Costs.Than(c.Ways[0].Costs))
			}
		}
	}
	if got := strings.Join(said, "; "); got != "set right by hand, in 8 touches: ; the pattern from end to end: 8 touches "+
		"fewer, 1 warning fewer; moved 8 needles to the right: 4 touches fewer" {
		t.Error(got)
	}
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// TestMendAlikeEnds: a remedy that mends nothing is tried once, and not taken.
func TestMendAlikeEnds(t *testing.T) {
	doc := piecetest.Document(t, "card-preselect", "L24", "R24", []string{"#...........", "............", "..........#."},
		piecetest.Set("/limits", map[string]any{"float": 4}))
	r := check.Run(must(technique.Piece(doc)))
	for i := range r.Findings {
		if f := &r.Findings[i]; f.Code == finding.FloatLong {
			if all, n, err := weigh.MendAlike(t.Context(), doc.JSON(), r, f.Code); n != 2 || len(all) == 0 || err != nil {
				t.Errorf("%d mended, %v, %v", n, all, err)
			}
			r.Findings[i].Mend = finding.Always(edit.Put(edit.Member("name"), "another"))
			if all, n, err := weigh.MendAlike(t.Context(), doc.JSON(), r, f.Code); n != 0 || len(all) > 0 || err != nil {
				t.Errorf("of no use, and %d mended: %v, %v", n, all, err)
			}
			return
		}
	}
	t.Error("nothing floats")
}
