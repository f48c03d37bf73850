package paper_test

import (
	"bytes"
	"compress/zlib"
	"io"
	"math"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
	"vindel/paper"
)

// upright reads the places, in mm from the left, of the lines of a PDF that stand upright, and in mm from the foot of
// those that lie flat, over all its sheets.
func upright(t *testing.T, pdf []byte) (x, y []float64) {
	t.Helper()
	const mm = 25.4 / 72
	for rest := pdf; ; {
		_, after, ok := bytes.Cut(rest, []byte("stream\n"))
		if !ok {
			break
		}
		rest = after
		z, err := zlib.NewReader(bytes.NewReader(after))
		if err != nil {
			continue
		}
		text, _ := io.ReadAll(z)
		var at, from []float64
		for _, word := range strings.Fields(string(text)) {
			if v, err := strconv.ParseFloat(word, 64); err == nil {
				at = append(at, v)
				continue
			}
			switch {
			case word == "m" && len(at) == 2:
				from = at
			case word == "l" && len(at) == 2 && from != nil:
				if at[0] == from[0] {
					x = append(x, at[0]*mm)
				} else if at[1] == from[1] {
					y = append(y, at[1]*mm)
				}
				from = at
			}
			at = nil
		}
	}
	sorted := func(list []float64) []float64 {
		slices.Sort(list)
		return slices.CompactFunc(list, func(a, b float64) bool { return math.Abs(a-b) < 0.02 })
	}
	return sorted(x), sorted(y)
}

// TestChartPaper: the cells are stitches of the swatch, or twice as large where they are small, to a tenth of a
// millimetre from the first to the last; a chart that does not go on one sheet takes more.
func TestChartPaper(t *testing.T) {
	for _, c := range []struct {
		stitches, rows int // over 100 mm
		w, h           float64
	}{{20, 28, 5, 100.0 / 28}, {32, 50, 6.25, 4}} {
		p := piecetest.New(t, "card-direct", "L12", "R12", []string{"#...#.", ".#.#.."}, piecetest.Set("/gauge",
			map[string]any{"stitches": c.stitches, "rows": c.rows}))
		pdf, err := paper.GridPDF(p, paper.Grid{}, paper.Sheets[0])
		if err != nil {
			t.Fatal(err)
		}
		x, y := upright(t, pdf)
		n := int((210 - 16 - 44) / c.w)
		for i := range n + 1 {
			if off := x[i] - 16 - float64(i)*c.w; math.Abs(off) > 0.1 {
				t.Errorf("%d stitches: line %d lies %.2f mm off", c.stitches, i, off)
			}
		}
		for i := range y {
			if off := y[i] - 16 - float64(i)*c.h; math.Abs(off) > 0.1 {
				t.Errorf("%d rows: line %d lies %.2f mm off", c.rows, i, off)
			}
		}
		if want := int((297-24-16)/c.h) + 1; len(y) != want {
			t.Errorf("%d rows: %d lines, not %d", c.rows, len(y), want)
		}
	}
	wide := piecetest.New(t, "card-direct", "L12", "R12", []string{strings.Repeat("#..", 30)})
	wide.Gauge = piece.Gauge{Stitches: 100 / 4.5, Rows: 30}
	pdf, err := paper.GridPDF(wide, paper.Grid{Chart: wide.Charts["c"]}, paper.Sheets[1])
	if n := bytes.Count(pdf, []byte("/Type /Page\n")); err != nil || n != 3 {
		t.Errorf("90 stitches of 4.5 mm: %d sheets, %v", n, err)
	}
}

// TestCheatSheet: rows that come again stand once, with a box for each time; rows that never do all stand there.
func TestCheatSheet(t *testing.T) {
	sheets := func(rows []string, n int) (int, int) {
		pdf, err := paper.CheatPDF(plan.Make(piecetest.New(t, "hand-mid", "L12", "R12", rows,
			piecetest.Set("/sections/0/rows", n))), 1)
		if err != nil {
			t.Fatal(err)
		}
		return bytes.Count(pdf, []byte("/Type /Page\n")), len(pdf)
	}
	if n, _ := sheets([]string{"#...#.", ".#.#.."}, 100); n != 1 {
		t.Errorf("two rows, 50 times: %d sheets", n)
	}
	var own []string
	for y := range 100 {
		row := []byte("........................")
		for x := range row {
			if (y+1)*(x+3)%7 < 2 || x == y%24 {
				row[x] = '#'
			}
		}
		own = append(own, string(row))
	}
	if n, _ := sheets(own, 100); n < 3 {
		t.Errorf("100 rows of their own: %d sheets", n)
	}
}

// TestLaceList: every line of the lace carriage has a box; a section without one has no list.
func TestLaceList(t *testing.T) {
	data, err := os.ReadFile("../demo/pieces/9-screen.json")
	if err != nil {
		t.Fatal(err)
	}
	p, err := technique.Read(data)
	if err != nil {
		t.Fatal(err)
	}
	pl := plan.Make(p)
	pdf, err := paper.LaceListPDF(pl, 2)
	if n := bytes.Count(pdf, []byte("/Type /Page\n")); err != nil || n != 2 {
		t.Errorf("%d sheets, %v", n, err)
	}
	if _, err := paper.LaceListPDF(pl, 1); err == nil {
		t.Error("plain rows have lines of lace")
	}
}
