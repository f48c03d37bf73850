package sketch_test

import (
	"bytes"
	"encoding/base64"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/knit/chart"
	"vindel/knit/sketch"
)

func TestRuns(t *testing.T) {
	for _, c := range []struct{ typed, want string }{
		{"5# 3. 4#", "#####...####"}, {"##.. again", "##..##..##.."},
		{"##..", "4 of 12 stitches typed. Is the rest empty"}, {"5# rest", "#####......."}, {"5# again",
			"##########"}, {"rest", "............"},
		{"12# rest", "############"}, {"2(2# 1.) 6.", "##.##......."}, {"3'5' 9.", "555........."},
		{"5#3.4#", "#####...####"}, {"3", "column 1: 3 of what"}, {"2(# .", "column 2: this bracket"},
		{")", "column 1: this bracket closes nothing"},
		{"5#", "5 of 12 stitches typed."}, {"13#", "13 stitches typed; the row has 12"}, {"99999# .", "column 1: "},
		{"", "column 1: type a row"},
	} {
		row, err := sketch.ParseRuns(c.typed, 12, '.')
		got := string(row)
		if err != nil {
			got = err.Error()
		}
		if !strings.HasPrefix(got, c.want) {
			t.Errorf("ParseRuns(%q) = %s, want %s", c.typed, got, c.want)
		}
	}
}

// TestCountRuns counts as one types.
func TestCountRuns(t *testing.T) {
	for typed, want := range map[string]int{"": 0, "5": 0, "5#": 5, "5# 3": 5, "5# 3(2": 5, "5# 3(2#": 5,
		"5# 3(2#)": 11, "5# rest": 5} {
		if got := sketch.CountRuns(typed); got != want {
			t.Errorf("%q counts %d, want %d", typed, got, want)
		}
	}
}

func FuzzRuns(f *testing.F) {
	f.Add("5# 3. 4#")
	f.Add("2(2# 1.)'3'")
	f.Fuzz(func(t *testing.T, text string) {
		row, err := sketch.ParseRuns(text, 24, '.')
		if err != nil {
			return
		}
		if again, err := sketch.ParseRuns(sketch.Runs(row), len(row), '.'); err != nil || !slices.Equal(again, row) {
			t.Errorf("%q is %q, written %q, read again %q, %v", text, string(row), sketch.Runs(row), string(again), err)
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
		{"R1: k1, sl1, k2tog, psso, yo, k 2, yo", "o..o^."},
		{"1st row: K 1, sl 1, k1, psso, yfwd\n2nd row: p", `... o\.`},
		{"Row 1: k2tog tbl, yo, k 2 tog, yo\nRow 2 and all WS rows: purl\nRow 3: yo, ssk, k2", `..\o o/o\`},
		{"Row 1: k2, yo, k2tog\nRow 2 and all WS rows: knit\nRow 3: k4", "---- .... ---- /o.."},
		{"All wrong side rows: k to end\nRow 1: k2, yo, k2tog", "---- /o.."},
		{"Rows 1: k2, yo, k2tog", "/o.."},
		{"Rnd 1 (ws facing): k2, yo, k2tog", "/o.."},
		{"Rnd 1: yo, k2tog, k1\nRnd 2: k3", "... ./o"},
		{"Round 1: yo, k2tog, k1\nRound 2 and all even rounds: knit", "./o"},
		{"k1, *yo, k2tog*, rep from * to last 3 st, k3", ".../o."},
		{"foo 1, k2\nk1, bar, k1", `line 1: "foo": not a word I know; there are k, p, yo, k2tog, ssk, skp, cdd, ` +
			`s2kp, sk2p, and on wrong-side rows p2tog, ssp; nor are "1" in line 1, "bar" in line 2`},
		{"Row 1: k2, yo, k2tog\nRows 2, 4: purl\nRow 3: k4", ".... .... .... /o.."},
		{"Row 3: yo, k2tog\nRow 1: k2\nRow 2 and 4: purl", ".. /o .. .."},
		{"Row 1 (RS, 3 sts): k3\nRow 2 (WS) 3 sts: p3\nRow 3 of 4: k3\nRow 4 [3 stitches]: p3", "... ... ... ..."},
		{"Rnds 1-3: yo, k2tog", "/o /o /o"},
		{"Row 1: k2\nRow 3: yo, k2tog", "/o .."},
		{"Row 1: k2\nRow 1: k2", "line 2: row 1 is written already, on line 1"},
		{"Row 1: k2\nRow 2: p2\nRow 5: k2", "line 3: row 5 comes after row 2; row 3 is not written"},
		{"Row 1: k2\nRow 5: k2", "line 2: row 5 comes after row 1; row 3 is not written"},
		{"Row 1: k2\nk2", "line 2: a row without a number, where others have one"},
		{"Row 1: k2\nRows 2 and 3: purl", "line 2: rows 2 and 3 are of the two sides"},
		{"Rows 2-1: k2", "line 1: rows 2 to 1"},
		{"k2\nk3", "row 2 makes 3 stitches, the rows before it 2"},
		{"k1, k2tgo", `line 1: "k2tgo": not a word I know`},
		{"Row 2 (WS): k2tog, yo", `line 1: "k2tog" on the wrong side makes a purled decrease`},
		{"(k1, yo", `line 1: ")" is missing`},
		{"", "line 1: write a row"},
	} {
		w, err := sketch.ParseWorded(c.text)
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
		w, err := sketch.ParseWorded(text)
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
	low, err := sketch.Lettering("Hi", false)
	if err != nil || len(low) != 7 || low[0] != "#...#.###" || low[3] != "#####..#." {
		t.Errorf("Hi: %q, %v", low, err)
	}
	if tall, _ := sketch.Lettering("Hi", true); len(tall) != 11 || tall[5] != low[3] {
		t.Errorf("tall: %q", tall)
	}
	if _, err := sketch.Lettering("a€", false); err == nil || !strings.HasPrefix(err.Error(), `character 2: "€"`) {
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
	three, _, err := sketch.FromPicture(t.Context(), b.Bytes(), sketch.Sampling{W: 10, Yarns: 3, RowsPerStitch: 1.5})
	if err != nil || three.W != 10 || three.H != 15 || len(three.Keys) != 3 {
		t.Fatalf("three yarns: %v, %v", three, err)
	}
	two, _, _ := sketch.FromPicture(t.Context(), b.Bytes(), sketch.Sampling{W: 10, Yarns: 3, MostInRow: 2})
	for y := range two.H {
		seen := map[uint8]bool{}
		for _, k := range two.Row(y) {
			seen[k] = true
		}
		if len(seen) != 2 || two.Row(y)[0] == two.Row(y)[9] {
			t.Errorf("row %d mended: %v", y+1, two.Row(y))
		}
	}
	left, _, _ := sketch.FromPicture(t.Context(), b.Bytes(), sketch.Sampling{W: 8, Yarns: 3, Crop: image.Rect(0, 0,
		30, 100)})
	if len(left.Keys) != 1 || left.H != 27 {
		t.Errorf("the left third: %d colours, %d rows", len(left.Keys), left.H)
	}
}

// TestEnlarged: a chart that comes ten pixels a stitch is read as that chart; a picture, one colour, and a chart that has
// two pixels a block only, are no enlargements.
func TestEnlarged(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	drawn := func(w, h, times int, keep func(x, y int) bool) []byte {
		img := image.NewPaletted(image.Rect(0, 0, w*times, h*times), color.Palette{color.White, color.Black})
		for y := range h * times {
			for x := range w * times {
				if keep(x/times, y/times) {
					img.SetColorIndex(x, y, 1)
				}
			}
		}
		var b bytes.Buffer
		if err := png.Encode(&b, img); err != nil {
			t.Fatal(err)
		}
		return b.Bytes()
	}
	bits := make([]bool, 24*16)
	for i := range bits {
		bits[i] = rng.IntN(2) == 0
	}
	motif := func(x, y int) bool { return bits[y*24+x] }
	for times, want := range map[int]bool{1: false, 2: false, 5: false, 6: true, 10: true} {
		small, n := sketch.Enlarged(drawn(24, 16, times, motif))
		if (small != nil) != want || want && (n != times || small.Bounds().Dx() != 24 || small.Bounds().Dy() != 16) {
			t.Fatalf("%d pixels a stitch: %v, %d", times, small, n)
		}
		if !want {
			continue
		}
		for i, bit := range bits {
			if r, _, _, _ := small.At(i%24, i/24).RGBA(); (r == 0) != bit {
				t.Fatalf("%d pixels a stitch: stitch %d", times, i)
			}
		}
	}
	if small, _ := sketch.Enlarged(drawn(24, 24, 10, func(int, int) bool { return true })); small != nil {
		t.Error("one colour is an enlargement")
	}
	webp, _ := base64.StdEncoding.DecodeString("UklGRhoAAABXRUJQVlA4TA0AAAAvAAAAEAcQERGIiP4HAA==")
	if w, h, err := sketch.PictureSize(webp); w != 1 || h != 1 || err != nil {
		t.Errorf("WebP: %d × %d, %v", w, h, err)
	}
}

// TestWordedRepeat: what stands between asterisks is the repeat, in columns of the drawing, where all rows agree.
func TestWordedRepeat(t *testing.T) {
	for text, want := range map[string][2]int{
		"Row 1: k1, *k2tog, yo, k1, yo, ssk, k3*\nRow 2: purl":                           {1, 8},
		"Row 1: *k2tog, yo, k1; rep from * to last st, k1":                               {2, 4},
		"Row 1: k2, *yo, ssk; rep from * to last st, k1\nRow 3: k2, *k2; rep from *, k1": {2, 3},
		"Row 1: k2, *yo, ssk*, k1\nRow 3: k1, *ssk, yo*, k2":                             {},
		"Row 1: k1, yo, ssk":                                 {},
		"Row 1: *yo, ssk*":                                   {},
		"Row 1: *yo, ssk*, k1, *k2tog, yo*":                  {},
		"Row 1: k1, *yo, ssk*, k2\nRow 2 (WS): p2, *p2*, p1": {3, 4},
		"Row 1: k1, *yo, ssk*, k2\nRow 2 (WS): p1, *p2*, p2": {},
	} {
		w, err := sketch.ParseWorded(text)
		if err != nil || w.Repeat != want {
			t.Errorf("%q: %v, %v, not %v", text, w.Repeat, err, want)
		}
	}
}
