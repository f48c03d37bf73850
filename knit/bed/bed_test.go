package bed_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

var area, set = piecetest.Area, piecetest.Set

// row is a section row as letters, left to right as the knitter faces the bed.
func row(p *piece.Piece, s *bed.Placed, r int) string {
	var b strings.Builder
	for _, y := range s.YarnRow(r) {
		b.WriteString(p.YarnID(y))
	}
	return b.String()
}

// TestPlacing is the placing rules, worked out by hand. The figure F is "#.." over
// ".##", unsymmetrical both ways.
func TestPlacing(t *testing.T) {
	figure := []string{"#..", ".##"}
	for _, c := range []struct {
		name  string
		edits []edit.Change
		want  []string // the top row first
	}{
		{"purl side, as drawn", nil, []string{"BAABAABA", "ABBABBAB"}},
		{"knit side, mirrored", []edit.Change{set("/charts/c/side", "knit")}, []string{"AABAABAA", "BBABBABB"}},
		{"near bed, purl side: mirrored", []edit.Change{set("/machine/program_bed", "near")},
			[]string{"AABAABAA", "BBABBABB"}},
		{"near bed, knit side: as drawn",
			[]edit.Change{set("/machine/program_bed", "near"), set("/charts/c/side", "knit")},
			[]string{"BAABAABA", "ABBABBAB"}},
		{"anchor one to the right", []edit.Change{area("first", "L3")}, []string{"ABAABAAB", "BABBABBA"}},
		{"anchor outside the work", []edit.Change{area("first", "R30")}, []string{"BAABAABA", "ABBABBAB"}},
		{"only on some needles", []edit.Change{area("from", "L2"), area("to", "R2"), area("first", "L2")},
			[]string{"AABAABAA", "AAABBAAA"}},
		{"upside down", []edit.Change{area("transform", []string{"upside-down"})}, []string{"ABBABBAB", "BAABAABA"}},
		{"knit side and mirror: twice mirrored",
			[]edit.Change{set("/charts/c/side", "knit"), area("transform", []string{"mirror"})},
			[]string{"BAABAABA", "ABBABBAB"}},
		{"a cut rectangle", []edit.Change{area("columns", []int{1, 2}), area("rows", []int{2, 2})},
			[]string{"BABABABA"}},
		{"drop of one", []edit.Change{area("drop", 1)}, []string{"BAAABBBA", "ABBBAAAB"}},
		{"outside in the section's yarn", []edit.Change{set("/sections/0/yarn", "C"), area("from", "L1"),
			area("to", "R1"),
			area("first", "L1")}, []string{"CCCBACCC", "CCCABCCC"}},
		{"invert", []edit.Change{area("transform", []string{"invert"})}, []string{"ABBABBAB", "BAABAABA"}},
	} {
		p := piecetest.New(t, "program-preselect", "L4", "R4", figure, c.edits...)
		s, _ := bed.Place(p, 1)
		for i, want := range c.want {
			if got := row(p, s, len(c.want)-i); got != want {
				t.Errorf("%s, row %d: got %s, want %s", c.name, len(c.want)-i, got, want)
			}
		}
	}
	// Each repeat stands a row above its left neighbour.
	p := piecetest.New(t, "program-preselect", "L4", "R4", []string{"#.", "..", ".."}, area("drop", 1))
	s, _ := bed.Place(p, 1)
	if got := []string{row(p, s, 3), row(p, s, 2), row(p, s, 1)}; !slices.Equal(got, []string{"BAAAAABA", "AAAABAAA",
		"AABAAAAA"}) {
		t.Errorf("three rows, dropped by one: %q", got)
	}
}

// TestAnchor: a 20-wide repeat on R1–R50 with first = R11 shows columns 11–20, a whole
// repeat, then another whole one and no more.
func TestAnchor(t *testing.T) {
	wide := strings.Repeat(".", 10) + "#" + strings.Repeat(".", 9) // column 11 is marked
	p := piecetest.New(t, "program-preselect", "R1", "R50", []string{wide}, area("first", "R11"))
	s, found := bed.Place(p, 1)
	if got := row(p, s, 1); got != "B"+strings.Repeat("A", 19)+"B"+strings.Repeat("A", 19)+"B"+strings.Repeat("A", 9) {
		t.Errorf("got %s", got)
	}
	if s := bed.Sentence(&p.Sections[0].Areas[0], 20); s != "2 repeats of 20 and 10 stitches, from R1 to R50" {
		t.Errorf("said: %s", s)
	}
	if len(found) != 1 || found[0].Code != "area-cut" || !strings.HasSuffix(found[0].Text,
		"From the left it shows columns 11 to 20, then 2 × columns 1 to 20.") {
		t.Errorf("found %v", found)
	}
	away := piecetest.New(t, "program-preselect", "R1", "R30", []string{wide}, area("first", "R11"),
		set("/charts/c/side", "knit"), area("transform", []string{"double-width"}))
	if _, found = bed.Place(away, 1); !strings.HasSuffix(found[0].Text,
		"shows columns 5 to 1, then columns 20 to 11.") {
		t.Errorf("found %v", found)
	}
}

// TestHeights: a shorter area is blank above its top once in each whole height, or
// repeats in its own cycle without a break; a later one lies on top.
func TestHeights(t *testing.T) {
	two := func(above string) []edit.Change {
		return []edit.Change{
			set("/charts/tall", map[string]any{"side": "purl",
				"legend": map[string]any{".": map[string]any{"yarn": "A"}, "#": map[string]any{"yarn": "B"}},
				"rows":   []string{"#", ".", "."}}),
			set("/sections/0/areas/0", map[string]any{"chart": "tall", "from": "L2", "to": "L1"}),
			set("/sections/0/rows", 6),
			set("/sections/0/areas/1/above", above),
			set("/sections/0/areas/1/from", "R1"), set("/sections/0/areas/1/to", "R2"),
			set("/sections/0/areas/1/first", "R1"),
		}
	}
	for above, want := range map[string][]string{
		"repeat": {"AACA", "AAAC", "BBCA", "AAAC", "AACA", "BBAC"},
		"blank":  {"AACA", "AAAC", "BBAA", "AACA", "AAAC", "BBAA"},
	} {
		p := piecetest.New(t, "program-preselect", "L2", "R2", []string{".+", "+."}, two(above)...)
		s, _ := bed.Place(p, 1)
		for r, w := range want {
			if got := row(p, s, r+1); got != w {
				t.Errorf("above %s, row %d: got %s, want %s", above, r+1, got, w)
			}
		}
	}
}

func TestFindings(t *testing.T) {
	second := func(from, to string) edit.Change {
		return set("/sections/0/areas/-", map[string]any{"chart": "c", "from": from, "to": to, "first": from})
	}
	for _, c := range []struct {
		name  string
		edits []edit.Change
		code  string
		at    string
	}{
		{"beyond the needles in work", []edit.Change{area("to", "R8")}, "area-cut", "R5-R8"},
		{"on the last needle in work, and beyond", []edit.Change{area("from", "R4"), area("to", "R7")}, "area-cut", "R5-R7"},
		{"none of it on the needles in work", []edit.Change{area("from", "R6"), area("to", "R9")}, "off-bed", "R6-R9"},
		{"cut", []edit.Change{area("to", "R3")}, "area-cut", "L4-R3"},
		{"touching", []edit.Change{area("to", "L1"), second("R1", "R4")}, "areas-touch", "L1-R1"},
		{"overlapping", []edit.Change{area("to", "R2"), second("R1", "R4")}, "areas-overlap", "R1-R2"},
		{"cut by a taller one", []edit.Change{area("to", "L1"), set("/charts/tall", map[string]any{"side": "purl",
			"legend": map[string]any{"#": map[string]any{"yarn": "B"}}, "rows": []string{"##", "##", "##"}}),
			set("/charts/c/rows", []string{".##.", ".##."}),
			set("/sections/0/areas/-", map[string]any{"chart": "tall", "from": "R2", "to": "R3", "first": "R2"})},
			"area-cut",
			"L4-L1"},
		{"a motif on a ground", []edit.Change{second("L2", "R2")}, "", ""},
		{"backwards on the knit side", []edit.Change{set("/charts/c/rows", []string{"##.#"})}, "", ""},
		{"backwards on the knit side", []edit.Change{set("/charts/c/rows", []string{"##..", "#.#."})}, "faces-away",
			"L4-R4"},
	} {
		p := piecetest.New(t, "program-preselect", "L4", "R4", []string{".##."}, c.edits...)
		_, found := bed.Place(p, 1)
		if c.code == "" {
			if len(found) != 0 {
				t.Errorf("%s: found %v", c.name, found)
			}
			continue
		}
		i := slices.IndexFunc(found, func(f finding.Finding) bool { return string(f.Code) == c.code })
		if i < 0 || found[i].Needles.String() != c.at {
			t.Errorf("%s: found %v, want %s at %s", c.name, found, c.code, c.at)
		}
	}
}

// TestSourceAgainstTransforms: reading an area backwards finds, for every needle and
// row, a chart cell that means what the needle shows.
func TestSourceAgainstTransforms(t *testing.T) {
	rng := chance.Rand(t, 5, 6)
	for i := range 400 {
		w, h := 1+rng.IntN(5), 1+rng.IntN(5)
		rows := make([]string, h)
		for y := range rows {
			for range w {
				rows[y] += string(".#+*"[rng.IntN(4)])
			}
		}
		var names []string
		for _, n := range chart.Transforms[:7] {
			if rng.IntN(3) == 0 {
				names = append(names, n)
			}
		}
		edits := []edit.Change{set("/charts/c/side", []string{"knit", "purl"}[rng.IntN(2)]), area("transform", names),
			area("drop", rng.IntN(4)-1), set("/sections/0/rows", 1+rng.IntN(12)),
			area("above", []string{"repeat", "blank"}[rng.IntN(2)]), area("first",
				machine.Needle(rng.IntN(12)-6).String()),
			area("columns", []int{1 + rng.IntN(w), w}), area("rows", []int{1 + rng.IntN(h), h})}
		p := piecetest.New(t, "program-preselect", "L4", "R4", rows, edits...)
		s, _ := bed.Place(p, 1)
		c := p.Charts["c"]
		for r := 1; r <= s.Rows; r++ {
			for x, y := range s.YarnRow(r) {
				name, column, crow := s.Source(s.From+machine.Needle(x), r)
				want := fmt.Sprint(p.Sections[0].Yarn)
				if name != "" {
					want = fmt.Sprint(slices.IndexFunc(p.Yarns,
						func(y piece.Yarn) bool { return y.ID == c.Means[c.At(column-1, crow-1)].Yarn }) + 1)
				}
				if fmt.Sprint(y) != want {
					t.Fatalf("case %d, %v: row %d, column %d shows %d, but %q %d/%d means %s", i, edits, r, x, y, name,
						column, crow, want)
				}
			}
		}
	}
}

// TestWidths: whole repeats, and every width whose edges mirror one another, with the column
// at its left edge; a figure without an axis only ends as it begins. Where rows take two
// passes the area lies inside two seam needles more. Each offer, taken, is what it says.
func TestWidths(t *testing.T) {
	for _, c := range []struct {
		machine, row string
		w            int
		want         string // N=repeats+more@column, = where the edges are alike
	}{
		{"card-direct", "..#.....", 27, "24=3+0@1 32=4+0@1 27=3+3@2= 25=3+1@3= 29=3+5@1= 23=2+7@8="},
		{"card-direct", "#..#....", 26, "24=3+0@3= 32=4+0@3= 26=3+2@2= 25=3+1@1 28=3+4@1= 22=2+6@8="},
		{"card-direct", "##.#...", 14, "14=2+0@1 7=1+0@1 15=2+1@1 8=1+1@1 22=3+1@1 29=4+1@1"},
		{"hand-mid", "##.#...", 16, "16=2+0@1 9=1+0@1 17=2+1@1 10=1+1@1 24=3+1@1 31=4+1@1"},
	} {
		from, to := machine.Centre(c.w, machine.Right)
		doc := piecetest.Document(t, c.machine, from.String(), to.String(), []string{c.row})
		p, _ := technique.Piece(doc)
		s, _ := bed.Place(p, 1)
		var got []string
		for _, o := range s.Widths(p, 1, c.w) {
			alike := ""
			if o.Alike {
				alike = "="
			}
			got = append(got, fmt.Sprintf("%d=%d+%d@%d%s", o.N, o.Repeats, o.More, o.Column, alike))
			taken := piecetest.Document(t, c.machine, from.String(), to.String(), []string{c.row},
				edit.Centred(p, o.N, o.Column)...)
			q, err := technique.Piece(taken)
			if err != nil {
				t.Fatal(err)
			}
			placed, _ := bed.Place(q, 1)
			line := row(q, placed, 1)[o.Seam/2 : o.N-o.Seam/2]
			back := []byte(line)
			slices.Reverse(back)
			if o.Alike != (string(back) == line) || o.Begins && line[0] != line[len(line)-1] ||
				q.Sections[0].Areas[0].From != q.From+machine.Needle(o.Seam/2) {
				t.Errorf("%s %s: %+v is %s", c.machine, c.row, o, line)
			}
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s, %s near %d: %v", c.machine, c.row, c.w, got)
		}
	}
}

// TestEvened: the remedy of any row that changes the count makes it even, and touches
// nothing else.
func TestEvened(t *testing.T) {
	rng := chance.Rand(t, 41, 42)
	for i := range chance.Cases(500) {
		row := ""
		for range 1 + rng.IntN(12) {
			row += string(`...oo/\^-`[rng.IntN(9)])
		}
		doc := piecetest.Document(t, "hand-mid", "L6", "R6", []string{row}, set("/charts/c/legend", map[string]any{}),
			set("/sections/0/technique", "lace"))
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		s, _ := bed.Place(p, 1)
		f := s.Refused[1]
		if f == nil {
			continue
		}
		if _, err := doc.Apply(f.Remedy()); err != nil {
			t.Fatalf("case %d, %s: %v", i, row, err)
		}
		p, err = technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		if s, _ = bed.Place(p, 1); s.Refused[1] != nil || len(p.Charts["c"].Rows()[0]) != len(row) {
			t.Errorf("case %d: %s became %s: %s", i, row, p.Charts["c"].Rows()[0], s.Refused[1].Text)
		}
	}
}
