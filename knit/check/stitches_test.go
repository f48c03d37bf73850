package check_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

var set = piecetest.Set

// TestLimits: what slipped, tucked and woven rows do to needle, edge and yarn, at the
// limit and one over it. The work is L4 to R4.
func TestLimits(t *testing.T) {
	repeat := func(row string, n int, rest ...string) []string {
		rows := []string{}
		for range n {
			rows = append(rows, row)
		}
		return append(rest, rows...)
	}
	plain := "........"
	for _, c := range []struct {
		name, id, technique, stitch string
		rows                        []string
		limits                      map[string]any
		want                        string // code rows needles
	}{
		{"four tucks", "card-direct", "tuck", "tuck", repeat(".#......", 4, plain), nil, ""},
		{"five tucks", "card-direct", "tuck", "tuck", repeat(".#......", 5, plain), nil, "tuck-stack 5 L3"},
		{"five tucks at 6.5 mm", "hand-mid", "tuck", "tuck", repeat(".#......", 5, plain), nil, ""},
		{"nine tucks at 6.5 mm", "hand-mid", "tuck", "tuck", repeat(".#......", 9, plain), nil, "tuck-stack 9 L3"},
		{"a limit of two", "card-direct", "tuck", "tuck", repeat(".#......", 3, plain), map[string]any{"tuck": 2},
			"tuck-stack 3 L3"},
		{"knitted in between", "card-direct", "tuck", "tuck",
			append(repeat(".#......", 4, plain), repeat(".#......", 4, plain)...), nil, ""},
		{"neighbours tuck", "card-direct", "tuck", "tuck", []string{plain, ".##...#."}, nil, "tuck-wide 1 L3-L2"},
		{"meant, for bubbles", "card-direct", "tuck", "tuck", []string{plain, ".##...#."},
			map[string]any{"tuck_wide": 2},
			""},
		{"an end tucks", "card-direct", "tuck", "tuck", []string{plain, "#......."}, nil, "edge-not-knit 1 L4"},
		{"slipped six rows", "card-direct", "slip", "slip", repeat(".#......", 6, plain), nil, ""},
		{"slipped seven", "card-direct", "slip", "slip", repeat(".#......", 7, plain), nil, "slip-tall 7 L3"},
		{"slipped too wide", "card-direct", "slip", "slip", []string{plain, ".######."}, nil, "float-long 1 L3-R3"},
		{"woven", "card-preselect", "weave", "weave", []string{plain, ".#.##.#."}, nil, ""},
		{"woven float", "card-preselect", "weave", "weave", []string{plain, ".#####.."}, nil, "weave-float 1 L3-R2"},
		{"caught too seldom", "card-preselect", "weave", "weave", []string{plain, ".#......"}, nil,
			"weave-float 1 L2-R4"},
		{"nothing catches", "card-preselect", "weave", "weave", []string{plain, "########"}, nil,
			"weave-loose 1 L4-R4"},
		{"a loose end", "card-preselect", "weave", "weave", []string{plain, "#..#..#."}, nil, "weave-loose 1 L4"},
	} {
		edits := []edit.Change{set("/charts/c/legend",
			map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": c.stitch}}),
			set("/sections/0/technique", c.technique), set("/sections/0/weft", "D")}
		if c.limits != nil {
			edits = append(edits, set("/limits", c.limits))
		}
		r := check.Run(piecetest.New(t, c.id, "L4", "R4", c.rows, edits...))
		var got []string
		for _, f := range r.Findings {
			if f.Severity > finding.Note {
				got = append(got, fmt.Sprintf("%s %d %v", f.Code, f.Rows[0], f.Needles))
			}
		}
		if strings.Join(got, "; ") != c.want {
			t.Errorf("%s: got %v, want %s", c.name, got, c.want)
		}
		// What is said of tucks, slips and wefts goes once its remedies are applied.
		doc := piecetest.Document(t, c.id, "L4", "R4", c.rows, edits...)
		for range 4 {
			p, err := technique.Piece(doc)
			if err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
			i := slices.IndexFunc(check.Run(p).Findings,
				func(f finding.Finding) bool { return f.Severity > finding.Note && f.Mend != nil })
			if i < 0 {
				break
			}
			if _, err := doc.Apply(check.Run(p).Findings[i].Remedy()); err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
		}
		p, _ := technique.Piece(doc)
		for _, f := range check.Run(p).Findings {
			if slices.Contains([]string{"tuck-stack", "tuck-wide", "slip-tall", "weave-float", "edge-not-knit"},
				string(f.Code)) {
				t.Errorf("%s: mended, and still %s", c.name, f.OneLine())
			}
		}
	}
}

// BenchmarkTechniques plans, knits and checks 200 needles by 500 and by 1000 rows.
func BenchmarkTechniques(b *testing.B) {
	for _, c := range []struct{ technique, stitch string }{{"tuck", "tuck"}, {"slip", "slip"}, {"weave", "weave"},
		{"texture", "purl"}, {"intarsia", ""}, {"lace", ""},
		{"separated", ""}, {"plated", ""}} {
		for _, rows := range []int{500, 1000} {
			b.Run(fmt.Sprintf("%s/%d", c.technique, rows), func(b *testing.B) {
				lines := make([]string, rows)
				for y := range lines {
					row := make([]byte, 200)
					for x := range row {
						row[x] = '.'
						if c.technique == "separated" {
							row[x] = ".#+"[(x/2+y*y)%3]
						} else if c.technique == "intarsia" && (x+y/3)/20%2 == 0 || c.technique != "intarsia" &&
							c.technique != "lace" && x%4 == 1+y/2%2 {
							row[x] = '#'
						}
					}
					if c.technique == "lace" { // blocks of one to three stitches, both ways by turns
						for x := 1 + y%5; x+5 < len(row); x += 7 {
							row[x], row[x+1+x%3] = '/', 'o'
							if y%2 == 1 {
								row[x], row[x+1+x%3] = 'o', '\\'
							}
						}
					}
					lines[y] = string(row)
				}
				edits := []edit.Change{set("/sections/0/technique", c.technique), set("/sections/0/weft", "D"),
					set("/machine/weave", true), set("/machine/intarsia", true)}
				if c.technique == "lace" {
					edits = append(edits, set("/charts/c/legend", map[string]any{}))
				}
				if c.stitch != "" {
					edits = append(edits, set("/charts/c/legend",
						map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": c.stitch}}))
				}
				if c.technique == "separated" {
					edits = append(edits, set("/machine/rows_max", 10000), set("/machine/stitches_max", 10000000))
				}
				p := piecetest.New(b, "program-preselect", "L100", "R100", lines, edits...)
				b.ReportAllocs()
				for b.Loop() {
					if r := check.Run(p); !r.Fabric.Matches() {
						b.Fatal(r.Fabric.First)
					}
				}
			})
		}
	}
}
