package chart_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"slices"
	"strings"
	"testing"

	"vindel/knit/chart"
)

// TestEdit: each change of a drawing, worked out by hand on an unsymmetrical figure.
func TestEdit(t *testing.T) {
	figure := "#..+ .##. ...."
	for _, c := range []struct {
		name string
		e    chart.Edit
		lace bool
		want string // or how the error begins
	}{
		{"mirror a part", chart.Edit{Do: "transform", Names: []string{"mirror"}, Columns: [2]int{1, 2}, Rows: [2]int{2, 3}}, false, ".#.+ #.#. ...."},
		{"turn the whole", chart.Edit{Do: "transform", Names: []string{"turn"}}, false, "+.. .#. .#. #.."},
		{"turn a part that fits", chart.Edit{Do: "transform", Names: []string{"turn-right"}, Columns: [2]int{1, 3}, Rows: [2]int{2, 3}}, false, "error"},
		{"turn a square", chart.Edit{Do: "transform", Names: []string{"turn-right"}, Columns: [2]int{1, 2}, Rows: [2]int{2, 3}}, false, ".#.+ #.#. ...."},
		{"double the whole", chart.Edit{Do: "transform", Names: []string{"double-width"}}, false, "##....++ ..####.. ........"},
		{"invert three characters", chart.Edit{Do: "transform", Names: []string{"invert"}}, false, "error"},
		{"lace leans", chart.Edit{Do: "transform", Names: []string{"mirror"}}, true, "+..# .##. ...."},
		{"lace cannot turn", chart.Edit{Do: "transform", Names: []string{"turn"}}, true, "error"},
		{"room above and right", chart.Edit{Do: "resize", W: 5, H: 4, At: "bottom left"}, false, "..... #..+. .##.. ....."},
		{"cropped to the top right", chart.Edit{Do: "resize", W: 2, H: 2, At: "top right"}, false, ".+ #."},
		{"middle", chart.Edit{Do: "resize", W: 6, H: 3, At: "middle"}, false, ".#..+. ..##.. ......"},
		{"nothing left", chart.Edit{Do: "resize", W: 0, H: 3}, false, "error"},
		{"shift round", chart.Edit{Do: "shift", DX: 1, DY: 1, Wrap: true}, false, "..## .... +#.."},
		{"shift out", chart.Edit{Do: "shift", DX: -1}, false, "..+. ##.. ...."},
		{"replace", chart.Edit{Do: "replace", From: "#", To: "+", Rows: [2]int{2, 2}, Columns: [2]int{1, 4}}, false, "#..+ .++. ...."},
		{"insert rows", chart.Edit{Do: "insert-rows", First: 3, N: 2}, false, "#..+ .... .... .##. ...."},
		{"insert a column", chart.Edit{Do: "insert-columns", First: 5}, false, "#..+. .##.. ....."},
		{"delete rows", chart.Edit{Do: "delete-rows", First: 1, N: 2}, false, "#..+"},
		{"delete columns", chart.Edit{Do: "delete-columns", First: 2, N: 2}, false, "#+ .. .."},
		{"delete all", chart.Edit{Do: "delete-rows", First: 1, N: 3}, false, "error"},
		{"outside", chart.Edit{Do: "shift", Columns: [2]int{2, 9}, Rows: [2]int{1, 1}}, false, "error"},
	} {
		drawn, err := chart.FromRows(strings.Fields(figure))
		if err != nil {
			t.Fatal(err)
		}
		m, err := c.e.Apply(drawn.Runes(), '.', c.lace)
		got := strings.Join(chart.Lines(m), " ")
		if err != nil {
			got = "error"
		}
		if got != c.want {
			t.Errorf("%s: got %s (%v), want %s", c.name, got, err, c.want)
		}
		if strings.Join(drawn.Rows(), " ") != figure {
			t.Errorf("%s: the drawing it was given is changed", c.name)
		}
	}
	lace, _ := chart.FromRows([]string{`/o.\`})
	m, _ := (&chart.Edit{Do: "transform", Names: []string{"mirror"}}).Apply(lace.Runes(), '.', true)
	if got := chart.Lines(m)[0]; got != `/.o\` {
		t.Errorf("lace in a mirror: %s", got)
	}
}

func TestRuns(t *testing.T) {
	for _, c := range []struct{ typed, want string }{
		{"5# 3. 4#", "#####...####"}, {"##..", "##..##..##.."}, {"2(2# 1.) 6.", "##.##......."}, {"3'5' 9.", "555........."},
		{"5#3.4#", "#####...####"}, {"3", "column 1: 3 of what"}, {"2(# .", "column 2: this bracket"}, {")", "column 1: this bracket closes nothing"},
		{"5#", "5 stitches typed; the row has 12"}, {"99999# .", "column 1: "}, {"", "column 1: type a row"},
	} {
		row, err := chart.ParseRuns(c.typed, 12)
		got := string(row)
		if err != nil {
			got = err.Error()
		}
		if !strings.HasPrefix(got, c.want) {
			t.Errorf("ParseRuns(%q) = %s, want %s", c.typed, got, c.want)
		}
	}
}

func FuzzRuns(f *testing.F) {
	f.Add("5# 3. 4#")
	f.Add("2(2# 1.)'3'")
	f.Fuzz(func(t *testing.T, text string) {
		row, err := chart.ParseRuns(text, 24)
		if err != nil {
			return
		}
		if again, err := chart.ParseRuns(chart.Runs(row), len(row)); err != nil || !slices.Equal(again, row) {
			t.Errorf("%q is %q, written %q, read again %q, %v", text, string(row), chart.Runs(row), string(again), err)
		}
	})
}

// TestWorded: rows as hand knitters write them, and what they are on the knit side.
func TestWorded(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"k1, k2tog, yo, k3", "...o/."},
		{"Row 1 (RS): k2, yo, ssk, p1\nRow 2 (WS): k1, p4", `-.... -\o..`},
		{"Row 1: (k2tog, yo) twice, k1\nRow 2: purl", "..... .o/o/"},
		{"*k1, yo, cdd, yo*; repeat from * to end", "o^o."},
		{"[yo, ssk] x2, k2", `..\o\o`},
		{"1: k3\n2: p1, yo, p2tog", ".o/ ..."},
		{"k2\nk3", "row 2 makes 3 stitches, the rows before it 2"},
		{"k1, k2tgo", `line 1: "k2tgo": not a word I know`},
		{"Row 2 (WS): k2tog, yo", `line 1: "k2tog" on the wrong side makes a purled decrease`},
		{"(k1, yo", `line 1: ")" is missing`},
		{"", "line 1: write a row"},
	} {
		w, err := chart.ParseWorded(c.text)
		got := ""
		if err != nil {
			got = err.Error()
		} else {
			got = strings.Join(w.Rows, " ")
		}
		if !strings.HasPrefix(got, c.want) || err == nil && got != c.want {
			t.Errorf("%q: got %s, want %s", c.text, got, c.want)
		}
	}
}

func FuzzWorded(f *testing.F) {
	f.Add("Row 1 (RS): *k1, k2tog, yo* 3 times, (yo, ssk) x2\nRow 2: purl")
	f.Fuzz(func(t *testing.T, text string) {
		w, err := chart.ParseWorded(text)
		if err != nil {
			return
		}
		c, err := chart.FromRows(w.Rows)
		if err != nil {
			t.Fatalf("%q: %q is no chart: %v", text, w.Rows, err)
		}
		for _, k := range c.Keys {
			if _, ok := chart.LaceMark(k); !ok {
				t.Errorf("%q: %q is no mark of lace", text, string(k))
			}
		}
	})
}

func TestLettering(t *testing.T) {
	low, err := chart.Lettering("Hi", false)
	if err != nil || len(low) != 7 || low[0] != "#...#.###" || low[3] != "#####..#." {
		t.Errorf("Hi: %q, %v", low, err)
	}
	if tall, _ := chart.Lettering("Hi", true); len(tall) != 11 || tall[5] != low[3] {
		t.Errorf("tall: %q", tall)
	}
	if _, err := chart.Lettering("a€", false); err == nil || !strings.HasPrefix(err.Error(), `character 2: "€"`) {
		t.Errorf("an unknown character: %v", err)
	}
}

// TestSampling: crop, proportion, and rows mended to two colours.
func TestSampling(t *testing.T) {
	img := image.NewNRGBA(image.Rect(0, 0, 40, 40))
	for y := range 40 {
		for x := range 40 {
			img.Set(x, y, []color.Color{color.White, color.Black, color.NRGBA{40, 40, 40, 255}}[min(x/14, 2)])
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		t.Fatal(err)
	}
	three, _, err := chart.FromPicture(b.Bytes(), chart.Sampling{W: 10, Yarns: 3, RowsPerStitch: 1.5})
	if err != nil || three.W != 10 || three.H != 15 || len(three.Keys) != 3 {
		t.Fatalf("three yarns: %v, %v", three, err)
	}
	two, _, _ := chart.FromPicture(b.Bytes(), chart.Sampling{W: 10, Yarns: 3, MostInRow: 2})
	for y := range two.H {
		seen := map[uint8]bool{}
		for _, k := range two.Row(y) {
			seen[k] = true
		}
		if len(seen) != 2 || two.Row(y)[0] == two.Row(y)[9] {
			t.Errorf("row %d mended: %v", y+1, two.Row(y))
		}
	}
	left, _, _ := chart.FromPicture(b.Bytes(), chart.Sampling{W: 8, Yarns: 3, Crop: image.Rect(0, 0, 30, 100)})
	if len(left.Keys) != 1 || left.H != 27 {
		t.Errorf("the left third: %d colours, %d rows", len(left.Keys), left.H)
	}
}
