package piece_test

import (
	"math"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// TestSwatch: a swatch gives the gauge, what is missing in it is taken from the gauge by hand; measures
// that cannot be are refused at their place.
func TestSwatch(t *testing.T) {
	swatch := map[string]any{"stitches": 40, "width_mm": 145, "grams": 12.4, "technique": "tuck", "size": "7",
		"yarn": "A"}
	p := piecetest.New(t, "card-direct", "L3", "R3", []string{"#."}, piecetest.Set("/swatch", swatch),
		piecetest.Set("/gauge", map[string]any{"stitches": 20, "rows": 31}))
	if g := p.Gauge; g.Stitches < 27.58 || g.Stitches > 27.59 || g.Rows != 31 {
		t.Errorf("gauge %+v", g)
	}
	for path, v := range map[string]any{"swatch.stitches": "x", "swatch.width_mm": 20000, "swatch.technique": "felt",
		"swatch.yarn": "Q"} {
		key := strings.TrimPrefix(path, "swatch.")
		_, err := technique.Piece(piecetest.Document(t, "card-direct", "L3", "R3", []string{"#."},
			piecetest.Set("/swatch", map[string]any{key: v})))
		if err == nil || !strings.HasPrefix(err.Error(), path+": ") {
			t.Errorf("%s %v: %v", path, v, err)
		}
	}
}

// TestSwatchMeasures: a size and a stitch's yarn follow from the swatch, in rounds where those were counted.
func TestSwatchMeasures(t *testing.T) {
	for _, c := range []struct {
		swatch           piece.Swatch
		wide, tall, each float64
		round            bool
	}{
		{piece.Swatch{Stitches: 40, WidthMM: 160, Rows: 60, HeightMM: 150, Grams: 12}, 400, 500, .005, false},
		{piece.Swatch{Stitches: 40, WidthMM: 160, Rows: 60, Rounds: 20, Grams: 12}, 400, 0, .015, true},
		{piece.Swatch{Stitches: 40, Grams: 12}, 0, 0, 0, false},
		{piece.Swatch{Rounds: 20, Grams: 12}, 0, 0, 0, true},
	} {
		wide, tall := c.swatch.Measures(100, 200)
		if each, round := c.swatch.StitchGrams(); wide != c.wide || tall != c.tall || math.Abs(each-c.each) > 1e-9 ||
			round != c.round {
			t.Errorf("%+v: %v x %v, %v, %v", c.swatch, wide, tall, each, round)
		}
	}
}

// TestWaysOfTheFile: how a piece begins and ends is read, with its defaults, and refused at its place.
func TestWaysOfTheFile(t *testing.T) {
	p := piecetest.New(t, "card-direct", "L3", "R3", []string{"#."}, piecetest.Set("/begin",
		map[string]any{"way": "waste", "yarn": "D"}),
		piecetest.Set("/end", map[string]any{}))
	if b := p.Begin; b.Rows != 8 || !b.Cord || b.Yarn != 4 || p.End.Way != "latch" {
		t.Errorf("%+v, %+v", p.Begin, p.End)
	}
	for _, c := range []struct {
		key  string
		doc  map[string]any
		want string
	}{
		{"begin", map[string]any{"way": "waste"}, "begin.yarn: "},
		{"begin", map[string]any{"way": "waste", "yarn": "D", "rows": 5}, "begin.rows: "},
		{"begin", map[string]any{"way": "two-bed"}, "begin.way: "},
		{"begin", map[string]any{"way": "comb", "rows": 8}, "begin.rows: "},
		{"begin", map[string]any{"way": "comb", "cord": true}, "begin.cord: "},
		{"begin", map[string]any{"way": "knots"}, "begin.way: "},
		{"end", map[string]any{"way": "waste"}, "end.yarn: "},
		{"end", map[string]any{"way": "waste", "yarn": "D", "rows": 5}, "end.rows: "},
		{"end", map[string]any{"cord": true}, "end: unknown key"},
	} {
		_, err := technique.Piece(piecetest.Document(t, "card-direct", "L3", "R3", []string{"#."},
			piecetest.Set(edit.Member(c.key), c.doc)))
		if err == nil || !strings.HasPrefix(err.Error(), c.want) {
			t.Errorf("%s %v: %v, want %s", c.key, c.doc, err, c.want)
		}
	}
	for rows, ok := range map[int]bool{5: false, 6: true, 7: true} {
		_, err := technique.Piece(piecetest.Document(t, "card-direct", "L3", "R3", []string{"#."},
			piecetest.Set("/begin", map[string]any{"way": "waste", "yarn": "D", "rows": rows})))
		if (err == nil) != ok {
			t.Errorf("%d rows of waste: %v", rows, err)
		}
	}
}
