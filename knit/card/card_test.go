package card_test

import (
	"slices"
	"strings"
	"testing"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

var area, set = piecetest.Area, piecetest.Set

func codes(fs []finding.Finding) (list []string) {
	for _, f := range fs {
		list = append(list, string(f.Code)+" "+f.Needles.String())
	}
	return list
}

// TestCard: numbers moved up by the window's offset, mirrored holes from column 1 at
// L12, yarn changes where the eye is, and the two rows that overlap.
func TestCard(t *testing.T) {
	figure := []string{"....", "#...", ".##."}
	for _, c := range []struct {
		machine, overlap string
		edits            []edit.Change
		want             map[int]string // by line from the top, from 0
	}{
		{"card-preselect", "copy", nil, map[int]string{0: "#...#...#...#...#...#...\t31\t",
			1: ".##..##..##..##..##..##.\t30\t", 2: "........................\t29\t",
			30: "#...#...#...#...#...#...\t1\t"}},
		{"card-direct", "holes", []edit.Change{set("/machine/overlap", "holes"), set("/machine/loop", 4)},
			map[int]string{0: "########################\t3\t", 1: "########################\t2\t",
				2: "........................\t1\tthread yarn A in feeder 1, thread yarn B in feeder 2"}},
	} {
		pl := plan.Make(piecetest.New(t, c.machine, "L12", "R12", figure, c.edits...))
		made, found := card.Make(pl, 1)
		if len(found) != 0 {
			t.Errorf("%s: found %v", c.machine, found)
		}
		lines := strings.Split(strings.TrimSuffix(made.Text(), "\n"), "\n")
		for i, want := range c.want {
			if lines[i] != want {
				t.Errorf("%s, line %d from the top: got %q, want %q", c.machine, i, lines[i], want)
			}
		}
		if n := len(lines); n != made.Rows+2 || made.Rows%3 != 0 || made.Rows < pl.Piece.Machine.Loop {
			t.Errorf("%s: %d lines for %d rows", c.machine, n, made.Rows)
		}
		// Row 1 threads both yarns, row 3 takes B out again.
		up := pl.Piece.Machine.Offset
		if c.machine == "card-preselect" {
			up--
		}
		mark := func(row int) string { return made.Marks[(row-1+up)%made.Rows] }
		if !strings.Contains(mark(1), "thread yarn B in feeder 2") || !strings.Contains(mark(3), "take yarn B out") {
			t.Errorf("%s: marks %q", c.machine, made.Marks)
		}
	}
	moved, _ := card.Make(plan.Make(piecetest.New(t, "card-direct", "L12", "R12", figure,
		set("/machine/card_origin", "L11"))), 1)
	if !strings.HasPrefix(strings.Split(moved.Text(), "\n")[0], "...#...#") {
		t.Errorf("column 1 at L11: %s", strings.Split(moved.Text(), "\n")[0])
	}
}

func TestTiles(t *testing.T) {
	for _, c := range []struct {
		name, from, to string
		rows           []string
		edits          []edit.Change
		want           []string
	}{
		{"6 goes into 24", "L36", "R36", []string{"#....."}, nil, nil},
		{"5 does not", "L36", "R36", []string{"#...."}, nil, []string{"width-tile L36-R36"}},
		{"30 across is wider than the card", "L15", "R15", []string{"#" + strings.Repeat(".", 29)}, nil,
			[]string{"width-tile L15-R15"}},
		{"10 once fits inside it", "L5", "R5", []string{"#........#"}, nil, nil},
		{"a motif on a wider bed", "L24", "R24", []string{"#........#"},
			[]edit.Change{area("from", "L5"), area("to", "R5"), area("first", "L5")},
			[]string{"card-patterns-all L20,R20"}},
		{"two motifs that share columns", "L24", "R24", []string{"#.."},
			[]edit.Change{area("from", "L24"), area("to", "L22"), area("first", "L24"),
				set("/sections/0/areas/-", map[string]any{"chart": "c", "first": "R2", "from": "R1", "to": "R3"})},
			[]string{"width-tile R1-R2"}},
	} {
		pl := plan.Make(piecetest.New(t, "card-preselect", c.from, c.to, c.rows, c.edits...))
		_, found := card.Make(pl, 1)
		if got := codes(found); !slices.Equal(got, c.want) {
			t.Errorf("%s: got %v, want %v", c.name, got, c.want)
		}
	}
	// Which rows the card selects otherwise: here the second and third of three.
	alone := []edit.Change{area("from", "L5"), area("to", "R5"), area("first", "L5")}
	_, other := card.Make(plan.Make(piecetest.New(t, "card-preselect", "L24", "R24",
		[]string{"#........#", ".#.......#", ".........."}, alone...)), 1)
	if len(other) != 1 || other[0].Rows != [2]int{2, 3} {
		t.Errorf("a motif alone, drawn in rows 2 and 3: %+v", other)
	}
	// Each way does what it says, also where the area names its columns, and then it tiles.
	for _, edits := range [][]edit.Change{nil, {area("columns", []int{1, 5}), area("rows", []int{1, 1})}} {
		for way, want := range []string{"Pad it by 1 to make it 6", "Crop 1 to make it 4", "Knit it once, on L1 to R4"} {
			doc := piecetest.Document(t, "card-preselect", "L36", "R36", []string{"#...#"}, edits...)
			p, err := technique.Piece(doc)
			if err != nil {
				t.Fatal(err)
			}
			_, found := card.Make(plan.Make(p), 1)
			if found[0].Fix != "Pad it by 1 to make it 6, or crop 1 to make it 4, or knit it once, on L1 to R4" {
				t.Errorf("offered: %q", found[0].Fix)
			}
			one := found[0].Offers()[way]
			if _, err := doc.Apply(one.Mend()); err != nil || one.Fix != want {
				t.Fatalf("%s: %v", one.Fix, err)
			}
			p, err = technique.Piece(doc)
			if err != nil {
				t.Fatal(err)
			}
			for _, f := range card.Findings(plan.Make(p)) {
				if f.Code == finding.WidthTile {
					t.Errorf("%s: %s", want, f.Text)
				}
			}
			if w, _ := p.Sections[0].Areas[0].Size(); w != []int{6, 4, 5}[way] {
				t.Errorf("%s: the area is %d wide", want, w)
			}
		}
	}
}

func TestMemory(t *testing.T) {
	wide := strings.Repeat("#.", 25)
	for _, c := range []struct {
		rows  []string
		edits []edit.Change
		want  string
	}{
		{[]string{"#.", ".#"}, nil, ""},
		{[]string{wide}, nil, "memory-stitches"},
		{[]string{"#.", ".#", "##"}, []edit.Change{set("/machine/rows_max", 2)}, "memory-rows"},
		{[]string{"#.", ".#", "##"}, []edit.Change{set("/machine/stitches_max", 5)}, "memory-stitches"},
		{[]string{"#."}, []edit.Change{set("/machine/areas_max", 1),
			set("/sections/0/areas/-", map[string]any{"chart": "c"})}, "memory-areas"},
		// A drawing that is placed twice is keyed once, where the console places it.
		{[]string{"#.", ".#"}, []edit.Change{set("/machine/stitches_max", 4),
			set("/sections/0/areas/-", map[string]any{"chart": "c", "from": "L1", "to": "R1", "first": "L1"})}, ""},
		{[]string{"#.", ".#"}, []edit.Change{set("/machine/stitches_max", 4), set("/machine/panel", "flat"),
			set("/sections/0/areas/-", map[string]any{"chart": "c", "from": "L1", "to": "R1", "first": "R1"})},
			"memory-stitches"},
	} {
		found := card.Findings(plan.Make(piecetest.New(t, "program-small", "L25", "R25", c.rows, c.edits...)))
		if len(found) > 1 || (len(found) == 1) != (c.want != "") || c.want != "" &&
			(string(found[0].Code) != c.want || found[0].Severity != finding.Stop) {
			t.Errorf("%v: got %v, want %q", c.edits, found, c.want)
		}
	}
}

// TestProgram: one bit a needle over the repeat, mirrored once, by the data or by the
// machine's switch, never both; memos where yarns change; rows typed as runs.
func TestProgram(t *testing.T) {
	rows := []string{"......", "##.#..", "......"}
	for sw, want := range map[bool]string{false: "..#.## data", true: "##.#.. switch"} {
		pl := plan.Make(piecetest.New(t, "program-small", "L6", "R6", rows, set("/charts/c/side", "knit"),
			set("/machine/mirror_switch", sw), set("/options", map[string]any{"end_needles": "auto"})))
		w := card.MakeProgram(pl, 1)
		if got := w.Line(2) + " " + w.Mirrored; got != want || w.Bits.W != 6 || w.Bits.H != 3 {
			t.Errorf("mirror switch %v: got %s, want %s", sw, got, want)
		}
		if w.Memos[1] != "feeder 2 yarn B" || w.Memos[2] != "feeder 2 empty" {
			t.Errorf("memos %q", w.Memos)
		}
	}
	purl := card.MakeProgram(plan.Make(piecetest.New(t, "program-small", "L6", "R6", rows, area("first", "L5"))), 1)
	if got := purl.Runs(2); got != "2 filled, 1 empty, 1 filled, 2 empty" || purl.First.String() != "L5" ||
		purl.Mirrored != "none" {
		t.Errorf("purl side from L5: %s, column 1 on %v, %s", got, purl.First, purl.Mirrored)
	}
	two := card.MakeProgram(plan.Make(piecetest.New(t, "program-small", "L6", "R6", []string{"#."}, area("to", "L4"),
		set("/sections/0/areas/-", map[string]any{"chart": "c", "from": "R3", "to": "R6", "first": "R3"}))), 1)
	if got := two.Line(1); got != "#.#.....#.#." {
		t.Errorf("two areas, over the whole of the work: %s", got)
	}
}

// TestTyped: a line is keyed as its runs, with what is empty at its end left to "rest empty", or as one below it
// that is alike.
func TestTyped(t *testing.T) {
	// line 1 first
	lines := []string{"............", "##..#.......", "############", "##..#.......", "............", "#..........#"}
	w := card.Cells{Bits: chart.NewMat[uint8](12, len(lines))}
	for l, line := range lines {
		for x := range line {
			w.Bits.Set(x, l, uint8(strings.IndexByte(".#", line[x])))
		}
	}
	want := []string{"all empty", "2 filled, 2 empty, 1 filled, rest empty", "all filled", "as line 2", "as line 1",
		"1 filled, 10 empty, 1 filled"}
	for l, words := range want {
		if got := w.Typed(l + 1); got != words {
			t.Errorf("line %d: %q, not %q", l+1, got, words)
		}
	}
}

// TestRecipeMarks: where hands choose some of a recipe's rows, the yarn changes stand at the lines that
// are read in the rows of the others: at every round of a joined card, once on one that is set back.
func TestRecipeMarks(t *testing.T) {
	text := `yarn A
pass 4
choose by card
repeat 7
  yarn [B, C]
  pass 4: tuck every 4 from 3
  yarn A
  pass 2
end
choose by hand
yarn B
pass 2`
	for _, c := range []struct {
		joined bool
		rows   int
		want   map[int]string // by the line read, from 1
	}{
		{true, 30, map[int]string{1: "row 5: take A out of feeder 1, thread B in feeder 1; row 35: take A out of " +
			"feeder 1, thread C in feeder 1",
			13: "take A out of feeder 1, thread B in feeder 1",
			5: "row 9: take B out of feeder 1, thread A in feeder 1; row 39: take C out of feeder 1 and cut it, thread A in " +
				"feeder 1"}},
		{false, 6, map[int]string{1: "row 5: take A out of feeder 1, thread B in feeder 1; row 11: take A out of " +
			"feeder 1, thread C in feeder 1; " +
			"row 17: take A out of feeder 1, thread B in feeder 1; and 4 times more", 3: ""}},
	} {
		p := piecetest.New(t, "card-direct", "L12", "R12", []string{"."}, set("/machine/offset", 0),
			set("/machine/loop", 30),
			set("/sections/0", map[string]any{"technique": "recipe", "recipe": text, "joined": c.joined}))
		for i, id := range "ABCD" {
			p.Yarns[i].Name = string(id)
		}
		pl := plan.Make(p)
		made, found := card.Make(pl, 1)
		if len(found) > 0 || made.Rows != c.rows {
			t.Fatalf("joined %v: %d rows, %v", c.joined, made.Rows, found)
		}
		for line, want := range c.want {
			if got := made.Marks[line-1]; got != want {
				t.Errorf("joined %v, line %d: %q", c.joined, line, got)
			}
		}
		if got := card.MakeProgram(pl, 1).Memos; strings.Join(got, "|") != "feeder 1 B||||feeder 1 A|" {
			t.Errorf("memos %q", got)
		}
	}
}
