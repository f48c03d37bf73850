package paper_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"

	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/goregular"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
	"vindel/paper"
)

// TestTrueScale: on the card's print a millimetre is a millimetre: the sheet's size is
// its view box, holes stand a pitch apart, and the check line is 100 mm long.
func TestTrueScale(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "card-direct", "L12", "R12", []string{"#...#.", ".#.#.."}))
	made, _ := card.Make(pl, 1)
	m := &pl.Piece.Machine
	svg := string(paper.CardSVG(made, m, "Reeds & <rushes>"))
	if size := regexp.MustCompile(`width="([\d.]+)mm" height="([\d.]+)mm" viewBox="0 0 ([\d.]+) ` +
		`([\d.]+)"`).FindStringSubmatch(svg); size == nil || size[1] != size[3] || size[2] != size[4] {
		t.Errorf("the sheet's size: %v", size)
	}
	if strings.Contains(svg, "<rushes>") || !strings.Contains(svg, "Reeds &amp; &lt;rushes&gt;") {
		t.Error("the title is not escaped")
	}
	num := func(s string) float64 { v, _ := strconv.ParseFloat(s, 64); return v }
	check := regexp.MustCompile(`d="M([\d.]+) ([\d.]+)L([\d.]+) ([\d.]+)"`)
	found := false
	for _, l := range check.FindAllStringSubmatch(svg, -1) {
		found = found || l[2] == l[4] && math.Abs(num(l[3])-num(l[1])-paper.CheckLine) < 0.001
	}
	if !found {
		t.Error("no check line of 100 mm")
	}
	// Every hole starts a path step at its rightmost point; row 2 from the bottom has
	// holes in columns 1 and 5 of each six, four pitches apart.
	holes := regexp.MustCompile(`M([\d.]+) ([\d.]+)C`).FindAllStringSubmatch(svg[strings.LastIndex(svg,
		`<path d="M`):], -1)
	all := regexp.MustCompile(`M([\d.]+) ([\d.]+)C`).FindAllStringSubmatch(svg, -1)
	want := 0
	for _, h := range made.Holes.Cells {
		want += int(h)
	}
	if len(all) != len(made.Holes.Cells) {
		t.Errorf("%d holes and blanks drawn, the card has %d cells; holes %d, last path %d", len(all),
			len(made.Holes.Cells),
			want, len(holes))
	}
	rows := map[string][]float64{}
	for _, h := range all[len(all)-want:] {
		rows[h[2]] = append(rows[h[2]], num(h[1]))
	}
	for y, xs := range rows {
		for i := 1; i < len(xs); i++ {
			if cells := (xs[i] - xs[i-1]) / m.HolePitchMM; math.Abs(cells-math.Round(cells)) > 0.001 {
				t.Fatalf("row at %s mm: holes %.3f pitches apart", y, cells)
			}
		}
	}
	if pdf, err := paper.CardPDF(made, m, "Reeds"); err != nil || !bytes.HasPrefix(pdf, []byte("%PDF-")) {
		t.Errorf("PDF: %v", err)
	}
}

// TestFabricPicture: in the middle of each stitch's leg stands the colour of its yarn,
// on the knit side from the left as it is drawn.
func TestFabricPicture(t *testing.T) {
	p := piecetest.New(t, "card-direct", "L3", "R3", []string{"#.....", ".....#"}, piecetest.Set("/charts/c/side",
		"knit"),
		piecetest.Set("/yarns/0/colour", "#e0e0e0"), piecetest.Set("/yarns/1/colour", "#902010"))
	f := technique.Prove(plan.Make(p))
	data, err := paper.FabricPNG(t.Context(), f, chart.KnitSide, paper.Window{}, 40)
	if err != nil {
		t.Fatal(err)
	}
	img, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		t.Fatal(err)
	}
	red := func(column, row int) bool { // counted from 0 at the top left
		r, g, _, _ := img.At(column*40+10, img.Bounds().Dy()-(2-row)*30+6).RGBA()
		return r > 2*g
	}
	for row, want := range []string{"#.....", ".....#"} {
		for column, c := range want {
			if red(column, row) != (c == '#') {
				t.Errorf("row %d, column %d: red %v", row, column, red(column, row))
			}
		}
	}
	shaped := technique.Prove(plan.Make(piecetest.New(t, "card-direct", "L3", "R3", []string{"."},
		piecetest.Set("/sections/0/rows", 12),
		piecetest.Set("/shape", []any{map[string]any{"side": "both", "rows": []int{2, 9}, "stitches": -2}}))))
	for _, px := range []float64{12, 1} { // where there is no stitch a page shows through, and paper is white
		for _, see := range []bool{true, false} {
			data, err := paper.FabricPNG(t.Context(), shaped, chart.KnitSide, paper.Window{Clear: see}, px)
			if err != nil {
				t.Fatal(err)
			}
			img, _ := png.Decode(bytes.NewReader(data))
			if _, _, _, a := img.At(img.Bounds().Dx()-1, 1).RGBA(); (a == 0) != see {
				t.Errorf("%g pixels a stitch: beside the fabric %d, clear %v", px, a, see)
			}
		}
	}
	part, err := paper.FabricPNG(t.Context(), f, chart.KnitSide, paper.Window{X: 5, Y: 0, W: 1, H: 1}, 40)
	if err != nil || !bytes.HasPrefix(part, []byte("\x89PNG")) {
		t.Errorf("a window of one stitch: %v", err)
	}
	if svg := string(paper.FabricSVG(f, chart.PurlSide, paper.Window{})); !strings.Contains(svg, "#902010") {
		t.Error("the purl side lacks a yarn")
	}
}

// TestTwoAtOnce: sheets can be made at the same time. The font's bytes are appended to while
// a PDF is made: what is shared is no longer what it was, and the race detector sees it.
func TestTwoAtOnce(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "card-direct", "L12", "R12", []string{"#...#.", ".#.#.."}))
	fonts := [][]byte{bytes.Clone(goregular.TTF), bytes.Clone(gomono.TTF)}
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			if b, err := paper.CheatPDF(pl, 1); err != nil || !bytes.HasPrefix(b, []byte("%PDF")) {
				t.Error(err)
			}
		})
	}
	all.Wait()
	if !bytes.Equal(fonts[0], goregular.TTF) || !bytes.Equal(fonts[1], gomono.TTF) {
		t.Error("the fonts that all sheets share were written into")
	}
}

// TestFabricInBands: a picture that is drawn band by band is the one that is drawn at once: a
// part of it, drawn by itself, is the same pixel for pixel, over the seams of the bands too, but
// for the rounding of edges.
func TestFabricInBands(t *testing.T) {
	p := piecetest.New(t, "card-preselect", "L4", "R4", []string{"..#.", ".##.", "#...", ".##.", "..#."},
		piecetest.Set("/sections/0/rows", 430))
	f := technique.Prove(plan.Make(p))
	picture := func(win paper.Window) image.Image {
		data, err := paper.FabricPNG(t.Context(), f, chart.PurlSide, win, 8) // a stitch is 8 pixels by 6
		if err != nil {
			t.Fatal(err)
		}
		img, err := png.Decode(bytes.NewReader(data))
		if err != nil {
			t.Fatal(err)
		}
		return img
	}
	whole := picture(paper.Window{})
	bottom := whole.Bounds().Dy()
	for _, from := range []int{0, 60, 183, 385} {
		part := picture(paper.Window{Y: from, H: 40})
		for y := 2 * 6; y < 38*6; y++ { // from the bottom; the ends lack their neighbours
			for x := range whole.Bounds().Dx() {
				a, b := part.At(x, part.Bounds().Dy()-1-y), whole.At(x, bottom-1-from*6-y)
				if !alike(a, b) {
					t.Fatalf("from course %d: pixel %d of the row %d from the bottom is %v, want %v", from, x, y, b, a)
				}
			}
		}
	}
	gone, leave := context.WithCancel(t.Context())
	leave()
	if _, err := paper.FabricPNG(gone, f, chart.KnitSide, paper.Window{}, 8); !errors.Is(err, context.Canceled) {
		t.Errorf("nobody waits for it: %v", err)
	}
}

// alike says that two colours differ by no more than rounding.
func alike(a, b color.Color) bool {
	x, y := a.(color.RGBA), b.(color.RGBA)
	near := func(a, b uint8) bool { return max(a, b)-min(a, b) <= 2 }
	return near(x.R, y.R) && near(x.G, y.G) && near(x.B, y.B)
}

// TestFabricAfar: in a picture of a very long piece, where a stitch is less than two pixels
// wide, every spot has the mean colour of its stitches, and no picture is taller than browsers show.
func TestFabricAfar(t *testing.T) {
	var rows []string
	for range 50 {
		rows = append(rows, "##", "##", "..", "..")
	}
	p := piecetest.New(t, "program-preselect", "L1", "R1", rows, piecetest.Set("/sections/0/rows", 20000),
		piecetest.Set("/sections/1", map[string]any{"technique": "plain", "rows": 20000, "yarn": "C"}))
	f := technique.Prove(plan.Make(p))
	data, err := paper.FabricPNG(t.Context(), f, chart.KnitSide, paper.Window{}, 8)
	if err != nil {
		t.Fatal(err)
	}
	img, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		t.Fatal(err)
	}
	h := img.Bounds().Dy()
	if h > 30000 || h < 29990 {
		t.Errorf("%d pixels tall", h)
	}
	if got, want := img.At(1, h/4), color.Color(paper.Colour(p.Yarns[2].Colour)); got != want {
		t.Errorf("in the plain part: %v, want %v", got, want)
	}
	a, b := paper.Colour(p.Yarns[0].Colour), paper.Colour(p.Yarns[1].Colour)
	sum := [2]int{}
	for y := h / 2; y < h; y++ {
		r, g, _, _ := img.At(0, y).RGBA()
		sum[0], sum[1] = sum[0]+int(r>>8), sum[1]+int(g>>8)
	}
	for i, want := range []int{(int(a.R) + int(b.R)) / 2, (int(a.G) + int(b.G)) / 2} {
		if got := sum[i] / (h / 2); got < want-3 || got > want+3 {
			t.Errorf("the two colours by turns, seen from afar: %d, want about %d", got, want)
		}
	}
}

// TestCut: a cut shows each pass of the row with a loop for every needle that takes its yarn, on the
// bed where it stands; a row on one bed has none.
func TestCut(t *testing.T) {
	p := piecetest.New(t, "program-preselect", "L3", "R3", []string{"#.+.#."}, piecetest.Set("/sections", []any{
		map[string]any{"technique": "separated", "separation": "single", "areas": []any{map[string]any{"chart": "c"}}},
		map[string]any{"technique": "plain", "rows": 2, "yarn": "A"}}))
	f := technique.Prove(plan.Make(p))
	svg := string(paper.CutSVG(f, 1, 1))
	rounds := map[float64]int{} // by height: those that are drawn as loops
	for _, c := range svgCircles(svg) {
		if c.width > 3 {
			rounds[c.y]++
		}
	}
	var heights []float64
	for y := range rounds {
		heights = append(heights, y)
	}
	slices.Sort(heights)
	got := ""
	for _, y := range heights {
		got += fmt.Sprint(rounds[y]/2, " ") // each is stroked twice
	}
	if got != "1 5 2 5 3 5 " { // the last pass on top: C, B, A, each over the backing
		t.Errorf("loops by bed and pass from the top: %s", got)
	}
	if paper.CutSVG(f, 2, 1) != nil || paper.CutSVG(f, 1, 9) != nil {
		t.Error("a cut where there are not two beds")
	}
}

// TestAlike: a course that is copied from one that looks the same is, but for rounding, pixel by pixel what it is where
// it is drawn: in a window of its own, in which nothing below it is like it.
func TestAlike(t *testing.T) {
	const rows, px = 70, 6 // pixels a course at this scale
	p := piecetest.New(t, "card-preselect", "L12", "R12", []string{"#..#..", ".##...", "..#.##", "#....."},
		piecetest.Set("/sections/0/rows", rows))
	f := technique.Prove(plan.Make(p))
	picture := func(side chart.Face, win paper.Window) image.Image {
		data, err := paper.FabricPNG(t.Context(), f, side, win, 8)
		if err != nil {
			t.Fatal(err)
		}
		img, err := png.Decode(bytes.NewReader(data))
		if err != nil {
			t.Fatal(err)
		}
		return img
	}
	n := len(f.Courses)
	for _, side := range []chart.Face{chart.KnitSide, chart.PurlSide} {
		whole := picture(side, paper.Window{})
		for _, from := range []int{20, 33, 41} {
			part := picture(side, paper.Window{Y: from, H: 26})
			for course := from + 12; course <= from+13; course++ {
				at, as := 4+px*(n-1-course), 4+px*(26-1-(course-from))
				for y := range px {
					for x := range part.Bounds().Dx() {
						a, b := color.RGBAModel.Convert(whole.At(x, at+y)).(color.RGBA),
							color.RGBAModel.Convert(part.At(x, as+y)).(color.RGBA)
						// the rasteriser rounds
						if d := max(int(a.R)-int(b.R), int(b.R)-int(a.R), int(a.G)-int(b.G), int(b.G)-int(a.G)); d > 3 {
							t.Fatalf("%v side, course %d: pixel %d, %d differs by %d", side, course, x, y, d)
						}
					}
				}
			}
		}
	}
}

// TestSeam: only a card that goes round shows where its ends lie over each other.
func TestSeam(t *testing.T) {
	for _, joined := range []bool{true, false} {
		p := piecetest.New(t, "card-preselect", "L12", "R12", []string{"#..#.."}, piecetest.Set("/sections/0/joined",
			joined))
		pl := plan.Make(p)
		made, _ := card.Make(pl, 1)
		if svg := string(paper.CardSVG(made, &p.Machine, "Reeds")); strings.Contains(svg, "joins over") != joined {
			t.Errorf("joined %v: %d rows lie over others; the seam is drawn otherwise", joined, made.Overlap)
		}
	}
}
