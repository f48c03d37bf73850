package check_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/card"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// limitCase is one limit of the rules: a piece that stands at n of something, and the
// finding that must be there from the limit on, and not up to it.
type limitCase struct {
	what  string
	code  string
	limit int
	at    func(t *testing.T, n int) *piece.Piece
}

// marks is a limit of marked stitches: rows of n drawn on L12 to R12, the top row first,
// whatever the machine is said to be besides.
func marks(id, technique, stitch string, rows func(n int) []string, edits ...edit.Change) func(*testing.T,
	int) *piece.Piece {
	return func(t *testing.T, n int) *piece.Piece {
		first := []edit.Change{set("/charts/c/legend",
			map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": stitch}}),
			set("/sections/0/technique", technique), set("/sections/0/weft", "D")}
		return piecetest.New(t, id, "L12", "R12", rows(n), append(first, edits...)...)
	}
}

func repeated(row string, n int) []string { return slices.Repeat([]string{row}, n) }

// TestEveryLimit: each limit of the rules just below it, at it and just above. What a
// limit allows is not remarked on; one more is.
func TestEveryLimit(t *testing.T) {
	tuckRows := func(n int) []string {
		return append(repeated("........................", 2), repeated(".#......................", n)...)
	}
	wide := func(n int) []string {
		return []string{"........................", "....." + strings.Repeat("#", n) + strings.Repeat(".", 19-n)}
	}
	float := func(id string, edits ...edit.Change) func(*testing.T, int) *piece.Piece {
		return func(t *testing.T, n int) *piece.Piece { // B knits at the ends and over the middle, but for a gap of n
			return piecetest.New(t, id, "L12", "R12",
				[]string{strings.Repeat("#.", 6) + strings.Repeat(".", n-1) + strings.Repeat("#.", 6)[:13-n]}, edits...)
		}
	}
	alone := func(mirror bool) func(*testing.T, int) *piece.Piece {
		// B turns n stitches short of one edge, at the other edge of the work
		return func(t *testing.T, n int) *piece.Piece {
			row := strings.Repeat("#.", 12)[:23-n] + "#" + strings.Repeat(".", n)
			if mirror {
				b := []byte(row)
				slices.Reverse(b)
				row = string(b)
			}
			return piecetest.New(t, "card-direct", "L12", "R12", []string{row},
				set("/limits", map[string]any{"float": 5}))
		}
	}
	pitch := func(mm float64) edit.Change { return set("/machine/pitch_mm", mm) }
	memory := func(key string, limit int, rows func(n int) []string, more ...edit.Change) func(*testing.T,
		int) *piece.Piece {
		return func(t *testing.T, n int) *piece.Piece {
			return piecetest.New(t, "program-preselect", "L12", "R12", rows(n),
				append(more, set(edit.Member("machine").To(key), limit))...)
		}
	}
	stacked := func(t *testing.T, n int) *piece.Piece { // n-2 tucks on a stitch, and one more moved there
		tucks := map[string]any{"technique": "tuck", "rows": n - 2,
			"areas": []any{map[string]any{"chart": "t", "from": "L2", "to": "L2", "first": "L2"}}}
		if n == 2 {
			tucks = map[string]any{"technique": "plain", "rows": 2}
		}
		p, err := technique.Piece(laceDocument(t, "hand-mid", "L6", "R6", []string{"...o\\......."},
			set("/charts/c/side", "purl"), set("/charts/t",
				map[string]any{"legend": map[string]any{"t": map[string]any{"stitch": "tuck"}}, "rows": []string{"t"}}),
			set("/sections/0", tucks), piecetest.Before(2, "A")))
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	bobbin := func(t *testing.T, n int) *piece.Piece { // B1 ends at R1 and is wanted n needles to the right
		return piecetest.New(t, "hand-chunky", "L8", "R8",
			[]string{".......##" + strings.Repeat("#", n) + strings.Repeat(".", 7-n), ".......##......."},
			set("/sections/0/technique", "intarsia"))
	}
	areas := func(t *testing.T, n int) *piece.Piece {
		edits := []edit.Change{set("/machine/areas_max", 2)}
		for range n - 1 {
			edits = append(edits, set("/sections/0/areas/-", map[string]any{"chart": "c"}))
		}
		return piecetest.New(t, "program-preselect", "L12", "R12", []string{"#."}, edits...)
	}
	for _, c := range []limitCase{
		{"a motif alone, on the right", "motif-alone", 5, alone(false)},
		{"a motif alone, on the left", "motif-alone", 5, alone(true)},
		{"a float at 4.5 mm", "float-long", 5, float("card-direct")},
		{"a float at 5 mm", "float-long", 5, float("card-direct", pitch(5))},
		{"a float at 6.5 mm", "float-long", 3, float("card-direct", pitch(6.5))},
		{"a float at 9 mm", "float-long", 2, float("card-direct", pitch(9))},
		{"a float by the swatch", "float-long", 8,
			float("card-direct", set("/gauge", map[string]any{"stitches": 32, "rows": 40}))},
		{"a float by the piece's own limit", "float-long", 7,
			float("card-direct", set("/limits", map[string]any{"float": 7}))},
		{"tucks at 4.5 mm", "tuck-stack", 4, marks("card-direct", "tuck", "tuck", tuckRows)},
		{"tucks at 5 mm", "tuck-stack", 4, marks("card-direct", "tuck", "tuck", tuckRows, pitch(5))},
		{"tucks just under 6 mm", "tuck-stack", 4, marks("card-direct", "tuck", "tuck", tuckRows, pitch(5.9))},
		{"tucks at 6 mm", "tuck-stack", 8, marks("card-direct", "tuck", "tuck", tuckRows, pitch(6))},
		{"tucks by the piece's own limit", "tuck-stack", 2,
			marks("card-direct", "tuck", "tuck", tuckRows, set("/limits", map[string]any{"tuck": 2}))},
		{"neighbours that tuck", "tuck-wide", 1, marks("card-direct", "tuck", "tuck", wide)},
		{"neighbours that are meant to", "tuck-wide", 3,
			marks("card-direct", "tuck", "tuck", wide, set("/limits", map[string]any{"tuck_wide": 3}))},
		{"rows slipped", "slip-tall", 6, marks("card-direct", "slip", "slip", tuckRows)},
		{"a weft over marked stitches", "weave-float", 4, marks("card-preselect", "weave", "weave",
			func(n int) []string {
				return []string{strings.Repeat(".#", 5) + strings.Repeat("#", n-1) + "." + strings.Repeat("#.",
					6)[:14-n]}
			})},
		{"a weft under unmarked ones", "weave-float", 4, marks("card-preselect", "weave", "weave",
			func(n int) []string {
				return []string{strings.Repeat(".#", 5) + strings.Repeat(".", n) + "#" + strings.Repeat(".#", 6)[:13-n]}
			})},
		{"loops on a needle", "lace-stack", 3, stacked},
		{"a bobbin away from where it is wanted", "bobbin-far", 3, bobbin},
		{"neighbours that stand empty", "lace-wide-hole", 1, func(t *testing.T, n int) *piece.Piece {
			p, err := technique.Piece(laceDocument(t, "card-direct", "L6", "R6",
				[]string{"./" + []string{"", "o..", "oo\\"}[n] + strings.Repeat(".",
					10)[:10-len([]string{"", "o..", "oo\\"}[n])]}, piecetest.Before(2, "A")))
			if err != nil {
				t.Fatal(err)
			}
			return p
		}},
		{"colours in a row", "colours-in-row", 2, func(t *testing.T, n int) *piece.Piece {
			return piecetest.New(t, "card-direct", "L12", "R12", []string{strings.Repeat(".#+"[:n], 24)[:24]})
		}},
		{"columns of the card", "width-tile", 24, func(t *testing.T, n int) *piece.Piece {
			return piecetest.New(t, "card-direct", "L30", "R30", []string{strings.Repeat("#.", 15)[:n]}, area("from",
				"L12"),
				area("first", "L12"), area("to", (machine.L(12)+machine.Needle(n-1)).String()))
		}},
		{"program lines", "memory-rows", 3, memory("rows_max", 3, func(n int) []string { return repeated("#.", n) })},
		{"stitches in memory", "memory-stitches", 6,
			memory("stitches_max", 6, func(n int) []string { return repeated("#", n) })},
		{"the width of a program", "memory-stitches", 8,
			memory("columns", 8, func(n int) []string { return []string{strings.Repeat("#.", 8)[:n]} })},
		{"areas in memory", "memory-areas", 2, areas},
	} {
		for n := c.limit - 1; n <= c.limit+1; n++ {
			if n < 1 {
				continue
			}
			r := check.Run(c.at(t, n))
			said := find(r, string(c.code))
			if (len(said) > 0) != (n > c.limit) {
				t.Errorf("%s: at %d, with a limit of %d: %d × %s", c.what, n, c.limit, len(said), c.code)
			}
			for _, f := range said {
				if strings.Contains(f.Text, "imit") && !strings.Contains(f.Text, fmt.Sprint(c.limit)) {
					t.Errorf("%s: the limit of %d is not the one it names: %s", c.what, c.limit, f.Text)
				}
			}
		}
	}
}

// TestFloatsCaught: a long float is caught as often as it takes to stay within the limit,
// evenly, and no oftener.
func TestFloatsCaught(t *testing.T) {
	for gap, want := range map[int]string{5: "", 6: "L7", 11: "L4", 12: "L6,L2", 17: "L4,R3", 18: "L6,L1,R5"} {
		row := "#." + "#" + strings.Repeat(".", gap) + strings.Repeat("#", 21-gap)
		r := check.Run(piecetest.New(t, "card-direct", "L12", "R12", []string{row}, set("/charts/c/side", "purl"),
			set("/limits", map[string]any{"float": 5})))
		var caught machine.Set
		for _, f := range find(r, "float-long") {
			if !strings.Contains(f.Text, "yarn B") {
				continue
			}
			for _, ch := range f.Remedy() {
				for x, c := range ch.Value.(string) {
					if row[x] == '.' && c == '#' {
						caught.Add(machine.L(12) + machine.Needle(x))
					}
				}
			}
		}
		if caught.String() != want {
			t.Errorf("a float of %d with a limit of 5 is caught at %v, want %s", gap, caught, want)
		}
	}
}

// TestPinned: single figures that pages and plans print, each at values where a slip of
// one, or a rule of another machine, would show.
func TestPinned(t *testing.T) {
	// The counter goes back at the height of the tallest area, not where all cycles meet.
	two := piecetest.New(t, "program-preselect", "L12", "R12", []string{"#.", ".#", "##"}, set("/sections/0/rows", 6),
		set("/options", map[string]any{"counter": "repeat", "selecting": "free"}),
		set("/charts/d", map[string]any{"side": "purl", "legend": map[string]any{"#": map[string]any{"yarn": "B"}},
			"rows": []string{"#", "#"}}), set("/sections/0/areas/-", map[string]any{"chart": "d", "from": "R6",
			"to": "R8"}))
	counters := ""
	for _, p := range plan.Make(two).Passes {
		counters += fmt.Sprint(p.Counter, " ")
	}
	if counters != "0 1 2 3 1 2 3 " {
		t.Errorf("areas of 3 and 2 rows, back to 0 at each repeat: %s", counters)
	}
	// Only a card is locked for the selecting pass.
	for id, want := range map[string]string{"card-preselect": "card-lock card-release ", "program-preselect": "",
		"program-small": ""} {
		locks := ""
		for _, p := range plan.Make(piecetest.New(t, id, "L12", "R12", []string{"#."})).Passes {
			for _, st := range p.Before {
				if st.Do() == step.DoCardLock || st.Do() == step.DoCardRelease {
					locks += string(st.Do()) + " "
				}
			}
		}
		if locks != want {
			t.Errorf("%s: %q, want %q", id, locks, want)
		}
	}
	// A tool of three prongs is used once for up to three neighbours.
	for row, want := range map[string]int{"./o.........": 1, "./.o........": 1, "./..o.......": 1, "./...o......": 2,
		"./.....o....": 2, "./......o...": 3} {
		p, err := technique.Piece(laceDocument(t, "hand-mid", "L6", "R6", []string{row}, piecetest.Before(2, "A")))
		if err != nil {
			t.Fatal(err)
		}
		if got := beside.HandUses(plan.Make(p)); got != want {
			t.Errorf("%s by hand: the tool is used %d times, want %d", row, got, want)
		}
	}
	// What exact leans cost is the difference that choosing them makes.
	doc := laceDocument(t, "card-direct", "L6", "R6", []string{"\\..o\\..o/..."},
		set("/charts/c/rows", []string{"\\..o.../..o."}), piecetest.Before(2, "A"))
	p, err := technique.Piece(doc)
	if err != nil {
		t.Fatal(err)
	}
	before := check.Run(p)
	said := find(before, "lace-lean")
	if len(said) != 1 {
		t.Fatalf("leans: %v", before.Findings)
	}
	if _, err := doc.Apply(said[0].Remedy()); err != nil {
		t.Fatal(err)
	}
	if p, err = technique.Piece(doc); err != nil {
		t.Fatal(err)
	}
	if more := len(check.Run(p).Plan.Passes) - len(before.Plan.Passes); more < 1 ||
		!strings.Contains(said[0].Fix, fmt.Sprintf(": %d pass", more)) {
		t.Errorf("exact leans take %d passes more; said: %s", more, said[0].Fix)
	}
	// A program exactly as large as the memory is no finding of the card package either.
	if found := card.Findings(plan.Make(piecetest.New(t, "program-small", "L12", "R12", repeated("#.", 200),
		set("/machine/stitches_max", 400)))); len(found) != 0 {
		t.Errorf("200 lines of 2 in a memory of 200 lines and 400 stitches: %v", found)
	}
}
