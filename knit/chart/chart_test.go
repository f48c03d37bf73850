package chart_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/chart"
	"vindel/knit/sketch"
)

func rows(s string) []string { return strings.Fields(s) }

func mustRows(t testing.TB, s string) *chart.Chart {
	t.Helper()
	c, err := chart.FromRows(rows(s))
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// TestTransforms: an unsymmetrical figure, drawn top row first, and what each
// transform makes of it.
func TestTransforms(t *testing.T) {
	const figure = "#.. ##. ..a"
	for _, c := range []struct{ names, want string }{
		{"", figure},
		{"turn", "..a .#. ##."},
		{"turn-right", ".## .#. a.."},
		{"mirror", "..# .## a.."},
		{"upside-down", "..a ##. #.."},
		{"bounce", "##. #.. ##. ..a"},
		{"double-width", "##.... ####.. ....aa"},
		{"double-length", "#.. #.. ##. ##. ..a ..a"},
		{"mirror turn", "a.. .#. .##"}, // the turn comes first, whatever the order written
		{"turn turn-right", figure},
	} {
		f := mustRows(t, figure)
		g := f.Transform(strings.Fields(c.names))
		got := (&chart.Chart{Keys: f.Keys, Grid: g}).Rows()
		if !slices.Equal(got, rows(c.want)) {
			t.Errorf("%s: got %v, want %v", c.names, got, rows(c.want))
		}
	}
	if one := mustRows(t, "#"); one.Bounce().H != 1 {
		t.Errorf("bounce of one row has %d rows", one.Bounce().H)
	}
	inverted := mustRows(t, "#.. ##.")
	inverted.Grid = chart.Invert(inverted.Grid)
	if got := inverted.Rows(); !slices.Equal(got, rows(".## ..#")) {
		t.Errorf("invert: got %v", got)
	}
}

func TestSymmetric(t *testing.T) {
	for s, want := range map[string]bool{"#..# ....": true, ".#.. #.#.": true, "##. .#.": false, "###. .#..": true,
		"##.#.. ......": false} {
		if got := chart.Symmetric(mustRows(t, s).Grid, nil); got != want {
			t.Errorf("Symmetric(%s) = %v, want %v", s, got, want)
		}
	}
}

func TestTextErrorsNameTheLine(t *testing.T) {
	for text, want := range map[string]string{
		"":                        "line 1: no rows",
		"; only words\n":          "line 1: no rows",
		"..#\n; a word\n..#.\n":   "line 3: 4 stitches wide; the first row has 3",
		"..#\n\n..#\n":            "line 2: 0 stitches wide",
		"..#\n.\x01#\n":           `line 2: column 2: '\x01' is not a character to draw with`,
		strings.Repeat("#", 1001): "line 1: 1001 stitches by 1 rows: a chart has at most 1000",
	} {
		_, err := chart.ParseText(text)
		if err == nil || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("ParseText(%.20q): got %v, want %s", text, err, want)
		}
	}
	if _, err := chart.ParseCSV(strings.NewReader(".,#\n#,ab\n")); err == nil ||
		!strings.HasPrefix(err.Error(), "line 2, column 3:") {
		t.Errorf("ParseCSV: got %v, want the place of \"ab\"", err)
	}
}

// TestAsOthersWrite: charts as other programs write them: cells between semicolons or tabs, a byte-order mark, blanks
// and pixels that are not there as the ground, blanks at the ends of lines.
func TestAsOthersWrite(t *testing.T) {
	want := "..#. #..#"
	for _, text := range []string{".,.,#,.\n#,.,.,#", ".;.;#;.\r\n#;.;.;#\r\n", ".\t.\t#\t.\n#\t.\t.\t#",
		"\uFEFF.,.,#,.\n#,.,.,#", " ;;#;\n#;;;#", ",,#,\n#, ,,#"} {
		c, err := chart.ParseCSV(strings.NewReader(text))
		if err != nil || strings.Join(c.Rows(), " ") != want {
			t.Errorf("CSV %q: %v", text, err)
		}
	}
	for _, text := range []string{"..#.\n#..#", "\uFEFF..#.\n#..#", "..#.   \n#..#\t\n", "  # \n#  #",
		"..#.\r\n#..# \r\n \r\n"} {
		c, err := chart.ParseText(text)
		if err != nil || strings.Join(c.Rows(), " ") != want {
			t.Errorf("text %q: %v", text, err)
		}
	}
	through := image.NewNRGBA(image.Rect(0, 0, 4, 2))
	indexed := image.NewPaletted(through.Rect, color.Palette{color.NRGBA{20, 30, 40, 255}, color.NRGBA{0, 0, 0, 0}})
	for x := range 4 {
		for y, row := range strings.Fields(want) {
			if row[x] == '#' {
				through.SetNRGBA(x, y, color.NRGBA{20, 30, 40, 255})
			} else {
				indexed.SetColorIndex(x, y, 1)
			}
		}
	}
	through.SetNRGBA(0, 0, color.NRGBA{20, 30, 40, 10}) // a trace of colour is none
	for _, img := range []image.Image{through, indexed} {
		var b bytes.Buffer
		if err := png.Encode(&b, img); err != nil {
			t.Fatal(err)
		}
		c, colours, err := chart.FromPNG(b.Bytes())
		if err != nil || strings.Join(c.Rows(), " ") != want || colours[0] != (color.RGBA{255, 255, 255, 255}) {
			t.Errorf("%T: %v %v", img, colours, err)
		}
	}
}

func TestPNG(t *testing.T) {
	c := mustRows(t, "..#+ #.ä. +.#.")
	cols := []color.RGBA{{230, 216, 189, 255}, {35, 72, 63, 255}, {180, 83, 47, 255}, {10, 20, 30, 255}}
	data, err := c.PNG(cols)
	if err != nil {
		t.Fatal(err)
	}
	back, backCols, err := chart.FromPNG(data)
	if err != nil || !slices.Equal(back.Rows(), c.Rows()) || !slices.Equal(backCols, cols) {
		t.Errorf("read back: %v %v, %v", back.Rows(), backCols, err)
	}

	// Drawn elsewhere, in plain colours: the commonest comes first.
	img := image.NewRGBA(image.Rect(0, 0, 3, 2))
	for i := range 6 {
		img.Set(i%3, i/3, color.White)
	}
	img.Set(2, 0, color.Black)
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		t.Fatal(err)
	}
	got, _, err := chart.FromPNG(b.Bytes())
	if err != nil || !slices.Equal(got.Rows(), []string{"..#", "..."}) {
		t.Errorf("FromPNG of a plain picture = %v, %v", got.Rows(), err)
	}
	// The same as a larger picture, sampled to a width and two yarns.
	large := image.NewRGBA(image.Rect(0, 0, 300, 200))
	for y := range 200 {
		for x := range 300 {
			large.Set(x, y, img.At(x/100, y/100))
		}
	}
	b.Reset()
	if err := png.Encode(&b, large); err != nil {
		t.Fatal(err)
	}
	sampled, _, err := sketch.FromPicture(t.Context(), b.Bytes(), sketch.Sampling{W: 3, Yarns: 2})
	if err != nil || !slices.Equal(sampled.Rows(), []string{"..#", "..."}) {
		t.Errorf("FromPicture = %v, %v", sampled.Rows(), err)
	}
}

// FuzzText: what can be read is written and read again the same.
func FuzzText(f *testing.F) {
	f.Add("..#\n##.\n")
	f.Add("; x\r\n.é\r\n")
	f.Add("\u00a0#\n##") // a blank that is none to every reader
	f.Fuzz(func(t *testing.T, text string) {
		c, err := chart.ParseText(text)
		if err != nil {
			return
		}
		again, err := chart.ParseText(c.Text())
		if err != nil || !slices.Equal(again.Rows(), c.Rows()) {
			t.Errorf("%q: read again: %v", text, err)
		}
		var b bytes.Buffer
		if err := c.WriteCSV(&b); err != nil {
			t.Fatal(err)
		}
		fromCSV, err := chart.ParseCSV(&b)
		if err != nil || !slices.Equal(fromCSV.Rows(), c.Rows()) {
			t.Errorf("%q: through CSV: %v", text, err)
		}
	})
}

func FuzzPNG(f *testing.F) {
	small, _ := mustRows(f, "..# ##.").PNG([]color.RGBA{{1, 2, 3, 255}, {4, 5, 6, 255}})
	f.Add(small)
	f.Fuzz(func(t *testing.T, data []byte) {
		c, cols, err := chart.FromPNG(data)
		if err != nil {
			return
		}
		if len(cols) < len(c.Keys) || len(c.Cells) != c.W*c.H || int(slices.Max(c.Cells)) >= len(c.Keys) {
			t.Errorf("a chart of %d × %d with %d keys and %d colours", c.W, c.H, len(c.Keys), len(cols))
		}
	})
}

// TestRepeat: of what is drawn several times one part is found, the smallest, and only one that goes into the whole.
func TestRepeat(t *testing.T) {
	for _, c := range []struct {
		rows []string
		w, h int
	}{
		{[]string{"#..#..", ".#..#.", "#..#..", ".#..#."}, 3, 2},
		{[]string{"#.#.#", "#.#.#"}, 5, 1}, // two and a half times
		{[]string{"##..##..", "##..##.."}, 4, 1},
		{[]string{"####"}, 1, 1},
		{[]string{"#..", ".#.", "..#"}, 3, 3},
		{[]string{"#.#.", ".#.#", "#.#.", ".#.."}, 4, 4},
	} {
		ch, err := chart.FromRows(c.rows)
		if err != nil {
			t.Fatal(err)
		}
		if w, h := ch.Repeat(); w != c.w || h != c.h {
			t.Errorf("%v: %d × %d", c.rows, w, h)
		} else if one := ch.Corner(w, h); one.W != w || one.At(0, 0) != ch.At(0, 0) || one.At(w-1, h-1) != ch.At(w-1,
			h-1) {
			t.Errorf("%v: the corner is %v", c.rows, one)
		}
	}
	// Any drawing laid side by side and one on another comes back as a part of itself.
	rng := chance.Rand(t, 3, 1)
	for range 300 {
		part := chart.NewMat[uint8](1+rng.IntN(6), 1+rng.IntN(6))
		for i := range part.Cells {
			part.Cells[i] = uint8(rng.IntN(2))
		}
		whole := chart.NewMat[uint8](part.W*(1+rng.IntN(4)), part.H*(1+rng.IntN(4)))
		for y := range whole.H {
			for x := range whole.W {
				whole.Set(x, y, part.At(x%part.W, y%part.H))
			}
		}
		w, h := whole.Repeat()
		if part.W%w != 0 || part.H%h != 0 {
			t.Errorf("%v laid to %d × %d: %d × %d", part, whole.W, whole.H, w, h)
		}
		for y := range whole.H {
			for x := range whole.W {
				if whole.At(x, y) != whole.At(x%w, y%h) {
					t.Fatalf("%v: not a repeat of %d × %d", part, w, h)
				}
			}
		}
	}
}
