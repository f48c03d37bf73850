package measure_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/measure"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

var swatch = map[string]any{"stitches": 40, "width_mm": 160, "rows": 50, "height_mm": 100, "grams": 10,
	"technique": "two-colour"}

// TestMeasure: size, stitches, grams and balls of pieces that are worked out by hand: 4 mm a stitch, 2 mm a row, 5 mg a
// stitch.
func TestMeasure(t *testing.T) {
	set := func(path string, v any) edit.Change { return edit.Set(edit.Path(path), v)[0] }
	ball := func(grams, metres float64) map[string]any {
		b := map[string]any{"grams": grams}
		if metres > 0 {
			b["metres"] = metres
		}
		return b
	}
	for _, c := range []struct {
		what, profile string
		rows          []string
		changes       []edit.Change
		want          string
	}{
		// 40 stitches × 100 rows, half of them in each yarn: 2000 × 5 mg.
		{"by the swatch", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows", 100),
			set("/swatch", swatch)},
			`160×200 mm 40 st 100 rows swatch; A 2000 10g; B 2000 10g`},
		{"by a gauge written by hand", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows",
			100), set("/gauge", map[string]any{"stitches": 20, "rows": 40})},
			`200×250 mm 40 st 100 rows gauge; A 2000; B 2000`},
		{"half a gauge", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows", 100),
			set("/gauge", map[string]any{"rows": 50})},
			`138.6×200 mm 40 st 100 rows assumed; A 2000; B 2000`},
		{"a usual gauge", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows", 100)},
			`138.6×242.55 mm 40 st 100 rows assumed; A 2000; B 2000`},
		{"the usual gauge of a machine", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows",
			100), set("/machine", map[string]any{"profile": "card-direct", "stitch_mm": 4, "row_mm": 3})},
			`160×300 mm 40 st 100 rows assumed; A 2000; B 2000`},
		// 10 g and a tenth are 11 g: one ball of 11 g, two of 10.99 g. 210 m of 50 g: 4.2 m a gram.
		{"just one ball", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows", 100),
			set("/swatch", swatch), set("/yarns/0/ball", ball(11, 46.2)), set("/yarns/1/ball", ball(10.99, 46.2))},
			`160×200 mm 40 st 100 rows swatch; A 2000 10g 42m 1 ball; B 2000 10g 42.04m 2 ball`},
		{"another margin", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows", 100),
			set("/swatch", swatch), set("/options", map[string]any{"margin": 0}), set("/yarns/0/ball", ball(10, 0)),
			set("/yarns/1/ball", ball(9.99, 0))},
			`160×200 mm 40 st 100 rows swatch; A 2000 10g 1 ball; B 2000 10g 2 ball`},
		{"balls in hand", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows", 100),
			set("/swatch", swatch), set("/yarns/0/ball", ball(2, 0)), set("/yarns/0/have", 5), set("/yarns/1/ball",
				ball(2, 0)), set("/yarns/1/have", 6)},
			`160×200 mm 40 st 100 rows swatch; A 2000 10g 6 ball 1 short; B 2000 10g 6 ball`},
		// Slipped needles take nothing: of two rows of A half the needles.
		{"slipped", "card-direct", []string{"#."}, []edit.Change{set("/charts/c/legend",
			map[string]any{"#": map[string]any{"stitch": "slip"}, ".": map[string]any{"stitch": "knit"}}),
			set("/sections", []any{map[string]any{"technique": "slip", "rows": 10,
				"areas": []any{map[string]any{"chart": "c"}}}}), set("/swatch", map[string]any{"stitches": 40,
				"width_mm": 160, "rows": 50, "height_mm": 100, "grams": 10})},
			`160×20 mm 40 st 10 rows swatch; A 200 1g`},
		// A chart row of lace is two rows of the fabric.
		{"lace", "card-direct", []string{"........"}, []edit.Change{set("/sections",
			[]any{map[string]any{"technique": "lace", "rows": 10, "areas": []any{map[string]any{"chart": "c"}}}}),
			set("/charts/c", map[string]any{"rows": []string{"...o/...", "........"}}), set("/swatch",
				map[string]any{"stitches": 40, "width_mm": 160, "rows": 50, "height_mm": 100, "grams": 10})},
			`160×40 mm 40 st 10 rows swatch; A 800 4g`},
		// A section's own swatch counts for it; width by the widest; waste yarn and what ends it are left out.
		{"sections", "card-direct", []string{"##..", "..##"}, []edit.Change{set("/sections/0/rows", 100),
			set("/swatch", swatch),
			set("/sections/-", map[string]any{"technique": "plain", "rows": 10,
				"swatch": map[string]any{"stitches": 20, "width_mm": 100, "rows": 20, "height_mm": 50, "grams": 2}}),
			set("/begin", map[string]any{"way": "waste", "yarn": "B", "rows": 8}),
			set("/end", map[string]any{"way": "latch"})},
			`200×225 mm 40 st 110 rows swatch; A 2400 12g; B 2000 10g`},
		// Ten stitches are cast on before row 12: 40 × 11 + 50 × 9.
		{"shaped", "card-direct", []string{"."}, []edit.Change{set("/sections",
			[]any{map[string]any{"technique": "plain", "rows": 20}}), set("/swatch", map[string]any{"stitches": 40,
			"width_mm": 160, "rows": 50, "height_mm": 100, "grams": 10}),
			set("/shape", []any{map[string]any{"side": "left", "row": 12, "stitches": 10}})},
			`200×40 mm 50 st 20 rows swatch; A 890 4.45g`},
		// Eight wait from row 5 on, three are cast on before row 9: 40 × 4 + 32 × 4 + 35 × 12; but 43 hang from the
		// needles.
		{"in hold", "card-direct", []string{"."}, []edit.Change{
			set("/sections", []any{map[string]any{"technique": "plain", "rows": 20}}),
			set("/swatch", map[string]any{"stitches": 40, "width_mm": 160, "rows": 50, "height_mm": 100, "grams": 10}),
			set("/shape", []any{map[string]any{"side": "left", "row": 5, "stitches": -8, "by": "hold", "wrap": false},
				map[string]any{"side": "right", "row": 9, "stitches": 3}})},
			`172×40 mm 43 st 20 rows swatch; A 708 3.54g`},
	} {
		p := piecetest.New(t, c.profile, "L20", "R20", c.rows, c.changes...)
		m := measure.Of(plan.Make(p))
		if got := said(t, m.JSON(p)); got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.what, got, c.want)
		}
	}
}

// said is what the command line prints, in one line.
func said(t *testing.T, v any) string {
	data, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	var m struct {
		W, H                            float64
		Stitches, Rows, Passes, Minutes int
		Basis                           string
		Yarns                           []struct {
			ID            string
			Stitches      int
			Metres, Grams *float64
			Balls         *int
			Short         int
		}
	}
	if err := json.Unmarshal([]byte(strings.NewReplacer("width_mm", "w", "height_mm", "h").Replace(string(data))),
		&m); err != nil {
		t.Fatal(err)
	}
	var b strings.Builder
	say := func(x any, unit string) { data, _ := json.Marshal(x); b.WriteString(" " + string(data) + unit) }
	say(m.W, "×")
	data, _ = json.Marshal(m.H)
	b.Write(data)
	b.WriteString(" mm")
	say(m.Stitches, " st")
	say(m.Rows, " rows")
	b.WriteString(" " + m.Basis)
	for _, y := range m.Yarns {
		b.WriteString("; " + y.ID)
		say(y.Stitches, "")
		if y.Grams != nil {
			say(*y.Grams, "g")
		}
		if y.Metres != nil {
			say(*y.Metres, "m")
		}
		if y.Balls != nil {
			say(*y.Balls, " ball")
		}
		if y.Short > 0 {
			say(y.Short, " short")
		}
	}
	if m.Passes == 0 || m.Minutes == 0 {
		t.Error("no passes, or no minutes")
	}
	return strings.TrimSpace(b.String())
}

// TestYarnShort: a ball too few is told with the row in which the yarn is used up, and one enough is not; a swatch of
// another technique is told.
func TestYarnShort(t *testing.T) {
	run := func(have int, technique string) map[finding.Code]finding.Finding {
		p := piecetest.New(t, "card-direct", "L20", "R20", []string{"##..", "..##"}, edit.Set("/sections/0/rows",
			100)[0],
			edit.Set("/swatch", map[string]any{"stitches": 40, "width_mm": 160, "rows": 50, "height_mm": 100,
				"grams": 10, "technique": technique})[0],
			edit.Set("/options", map[string]any{"margin": 0.25})[0], edit.Set("/yarns/1/ball",
				map[string]any{"grams": 2.5})[0], edit.Set("/yarns/1/have", have)[0])
		found := map[finding.Code]finding.Finding{}
		for _, f := range check.Run(p).Findings {
			found[f.Code] = f
		}
		return found
	}
	// 12.5 g are five balls. Four are 10 g, of which 8 may be used: 1600 stitches, 20 in a row.
	f, short := run(4, "two-colour")[finding.YarnShort]
	if !short || f.Rows != [2]int{81, 81} || f.Section != 1 || !strings.Contains(f.Text,
		"5 balls; 4 in hand, 1 missing") || !strings.Contains(f.Text, "repeat is 40 of 50") {
		t.Errorf("four balls: %+v", f)
	}
	if found := run(5, "two-colour"); len(found) > 0 && found[finding.YarnShort].Text != "" ||
		found[finding.SwatchOther].Text != "" {
		t.Errorf("five balls: %v", found)
	}
	// A section with a swatch of its own is not what the piece's swatch is for, however tall it is.
	own := piecetest.New(t, "card-direct", "L20", "R20", []string{"##..", "..##"}, edit.Set("/sections/0/rows", 100)[0],
		edit.Set("/sections/0/swatch", map[string]any{"stitches": 40, "width_mm": 160, "rows": 50, "height_mm": 100,
			"technique": "two-colour"})[0],
		edit.Set("/swatch", map[string]any{"stitches": 40, "width_mm": 160, "rows": 50, "height_mm": 100,
			"technique": "plain"})[0],
		piecetest.Before(10, "A"), edit.Set("/sections/0/name", "hem")[0])
	for _, f := range check.Run(own).Findings {
		if f.Code == finding.SwatchOther {
			t.Errorf("the plain hem goes by the piece's swatch: %+v", f)
		}
	}
	if f := run(5, "slip")[finding.SwatchOther]; f.Severity != finding.Warn || f.Section != 1 {
		t.Errorf("a swatch of another technique: %+v", f)
	}
}

// TestWish: stitches and rows for a width and a height that are wished for, in repeats, with what each measures.
func TestWish(t *testing.T) {
	// 4 mm a stitch, 2 mm a row; a hem of 10 rows below; the repeat is 6 × 4.
	p := piecetest.New(t, "card-direct", "L20", "R20", []string{"#.....", "##....", "###...", "#....."},
		edit.Set("/swatch", swatch)[0],
		piecetest.Before(10, "A"), edit.Set("/sections/1/rows", 20)[0])
	pl := plan.Make(p)
	two := plan.Make(piecetest.New(t, "card-direct", "L20", "R20", []string{"#....."}, edit.Set("/sections/0/rows",
		20)[0],
		edit.Set("/sections/-", map[string]any{"technique": "two-colour", "rows": 20,
			"areas": []any{map[string]any{"chart": "c"}}})[0]))
	if no := measure.Patterned(two); no != 1 {
		t.Errorf("of two patterned sections of 20 rows a wish is for section %d", no)
	}
	for mm, want := range map[float64]string{200: "48 192 -8 54 216 16", 192: "48 192 0 42 168 -24"} {
		got := ""
		for _, w := range measure.Widths(pl, mm)[:2] {
			got += fmt.Sprintf(" %d %g %g", w.N, w.MM, w.Off)
		}
		if strings.TrimSpace(got) != want {
			t.Errorf("%g mm wide:%s, not %s", mm, got, want)
		}
	}
	for _, h := range measure.Heights(pl, 100) { // a pass a row, 20 rows now
		if h.Passes != pl.Totals.Passes+h.Rows-20 {
			t.Errorf("%d rows take %d passes", h.Rows, h.Passes)
		}
	}
	// 20 mm of hem; 100 mm leaves 40 rows: ten repeats. 103 leaves 41.5: 42 rows, or 40, or 44.
	for mm, want := range map[float64]string{100: "40=10+0 100 0, 44=11+0 108 8",
		103: "42=10+2 104 1, 40=10+0 100 -3, 44=11+0 108 5", 21: "1=0+1 22 1, 4=1+0 28 7", 5: "4=1+0 28 23"} {
		var got []string
		for _, h := range measure.Heights(pl, mm) {
			got = append(got, fmt.Sprintf("%d=%d+%d %g %g", h.Rows, h.Repeats, h.More, h.MM, h.Off))
		}
		if strings.Join(got, ", ") != want {
			t.Errorf("%g mm tall: %s, not %s", mm, strings.Join(got, ", "), want)
		}
	}
}

// TestRowsLeft: 30 rows took 12 g, 2.5 rows a gram; 50 g are left, and 8 of them kept: 42 × 2.5 = 105 rows.
func TestRowsLeft(t *testing.T) {
	for _, c := range []struct {
		rows                   int
		before, after, reserve float64
		want                   int
	}{{30, 62, 50, 8, 105}, {30, 62, 50, 49.7, 0}, {30, 62, 50, 49.6, 1}, {30, 62, 50, 60, 0}, {7, 10, 9, 0, 63},
		{1, 10, 9, 0, 9}, {30, 62, 0, 0, 0}} {
		if got, err := measure.RowsLeft(c.rows, c.before, c.after, c.reserve); err != nil || got != c.want {
			t.Errorf("%+v: %d, %v", c, got, err)
		}
	}
	for _, c := range [][4]float64{{0, 62, 50, 0}, {30, 50, 50, 0}, {30, 50, 60, 0}, {30, 50, 40, -1}} {
		if got, err := measure.RowsLeft(int(c[0]), c[1], c[2], c[3]); err == nil {
			t.Errorf("%v: %d rows", c, got)
		}
	}
}

// TestEveryLoopCounts: tucks by hand take as much yarn in full hold as forward, but where nothing is caught there; a
// needle of the second bed that knits two yarns takes both.
func TestEveryLoopCounts(t *testing.T) {
	tuck := piecetest.Set("/charts/t", map[string]any{"side": "purl", "rows": []string{"....", "..t."},
		"legend": map[string]any{".": map[string]any{}, "t": map[string]any{"stitch": "tuck"}}})
	tucks := func(way string) edit.Change {
		return piecetest.Set("/sections", []any{map[string]any{"technique": "tuck", "rows": 4, "yarn": "A",
			"hand_tucks": way, "areas": []any{map[string]any{"chart": "t"}}}})
	}
	for _, c := range []struct {
		name, machine string
		edits         []edit.Change
		want          []int
	}{
		{"forward", "hand-mid", []edit.Change{tuck, tucks("forward")}, []int{16}},
		{"in hold", "hand-mid", []edit.Change{tuck, tucks("hold")}, []int{16}},
		{"plated", "two-bed-pairs", []edit.Change{piecetest.Set("/sections", []any{map[string]any{"technique": "plated",
			"rows": 2, "areas": []any{map[string]any{"chart": "c"}}}})}, []int{4*2 + 4*3, 4*2 + 4*3}},
	} {
		p := piecetest.New(t, c.machine, "L2", "R2", []string{"##..", "..##"}, c.edits...)
		var got []int
		for _, y := range measure.Of(plan.Make(p)).Yarns {
			got = append(got, y.Stitches)
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("%s: %v stitches, want %v", c.name, got, c.want)
		}
	}
}
