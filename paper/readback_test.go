package paper_test

import (
	"bytes"
	"compress/zlib"
	"image"
	"image/png"
	"io"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
	"vindel/paper"
)

// circle is a round hole as it stands on a print, in millimetres from its top left.
type circle struct{ x, y, width float64 }

// svgCircles reads the circles of an SVG whose unit is a millimetre: each begins at its
// rightmost point and goes round by its lowest.
func svgCircles(svg string) (list []circle) {
	for _, m := range regexp.MustCompile(`M([\d.]+) ([\d.]+)C([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) `+
		`([\d.]+)C`).FindAllStringSubmatch(svg, -1) {
		right, y, mid := number(m[1]), number(m[2]), number(m[7])
		list = append(list, circle{mid, y, 2 * (right - mid)})
	}
	return list
}

// pdfCircles reads the circles of a PDF's first page, whose unit is a 72nd of an inch,
// upwards.
func pdfCircles(t *testing.T, pdf []byte) []circle {
	t.Helper()
	return slices.Concat(pdfSheets(t, pdf)...)
}

// pdfSheets reads the circles of a PDF, sheet by sheet.
func pdfSheets(t *testing.T, pdf []byte) (sheets [][]circle) {
	t.Helper()
	page := regexp.MustCompile(`/MediaBox \[0 0 [\d.]+ ([\d.]+)\]`).FindSubmatch(pdf)
	if page == nil {
		t.Fatal("the PDF says no size")
	}
	const mm = 25.4 / 72
	for rest := pdf; ; {
		_, after, ok := bytes.Cut(rest, []byte("stream\n"))
		if !ok {
			return sheets
		}
		rest = after
		z, err := zlib.NewReader(bytes.NewReader(after))
		if err != nil {
			continue
		}
		text, _ := io.ReadAll(z)
		var at []float64
		var start []float64
		var list []circle
		for _, word := range strings.Fields(string(text)) {
			if v, err := strconv.ParseFloat(word, 64); err == nil {
				at = append(at, v)
				continue
			}
			if word == "m" && len(at) >= 2 {
				start = at[len(at)-2:]
			} else if word == "c" && start != nil && len(at) >= 6 {
				mid := at[len(at)-2]
				list = append(list, circle{mid * mm, (number(string(page[1])) - start[1]) * mm,
					2 * (start[0] - mid) * mm})
				start = nil
			}
			at = nil
		}
		if list != nil {
			sheets = append(sheets, list)
		}
	}
}

func number(s string) float64 { v, _ := strconv.ParseFloat(s, 64); return v }

// places lists the different values of one coordinate, sorted, those that are nearer than
// half a millimetre being one.
func places(list []circle, of func(circle) float64) (out []float64) {
	for _, c := range list {
		out = append(out, of(c))
	}
	slices.Sort(out)
	return slices.CompactFunc(out, func(a, b float64) bool { return math.Abs(a-b) < 0.5 })
}

// TestCardReadBack: what is punched by the print is the card: the right holes in the right
// columns, row 1 at the bottom, and each number beside the row that the window shows.
func TestCardReadBack(t *testing.T) {
	for _, c := range []struct {
		rows  []string
		edits []edit.Change
	}{
		{[]string{"#.....", "##....", "#.#..."}, []edit.Change{piecetest.Set("/machine/loop", 9)}},
		{[]string{"#.......", "........", "##......", "#.#....."}, []edit.Change{piecetest.Set("/machine/overlap",
			"holes")}},
		{[]string{"#.....", "##....", "#.#..."}, []edit.Change{piecetest.Set("/sections/0/joined", false)}},
	} {
		pl := plan.Make(piecetest.New(t, "card-direct", "L12", "R12", c.rows, c.edits...))
		made, _ := card.Make(pl, 1)
		m := &pl.Piece.Machine
		var want []string // the top row first, as the card is printed as text
		for line := range strings.Lines(made.Text()) {
			want = append(want, line[:m.Columns])
		}
		svg := string(paper.CardSVG(made, m, "Reeds"))
		pdf, err := paper.CardPDF(made, m, "Reeds")
		if err != nil {
			t.Fatal(err)
		}
		for name, circles := range map[string][]circle{"SVG": svgCircles(svg), "PDF": pdfCircles(t, pdf)} {
			xs, ys := places(circles, func(c circle) float64 { return c.x }),
				places(circles, func(c circle) float64 { return c.y })
			if len(xs) != m.Columns || len(ys) != made.Rows+made.Overlap+made.Blank {
				t.Fatalf("%s: %d columns and %d rows are printed", name, len(xs), len(ys))
			}
			got := make([][]byte, len(ys))
			for y := range got {
				got[y] = bytes.Repeat([]byte("."), len(xs))
			}
			near := func(v float64) func(float64) bool { return func(u float64) bool { return math.Abs(u-v) < 0.5 } }
			for _, h := range circles {
				if h.width > m.HoleMM/2 {
					got[slices.IndexFunc(ys, near(h.y))][slices.IndexFunc(xs, near(h.x))] = '#'
				}
			}
			for y := range want {
				if string(got[y]) != want[y] {
					t.Errorf("%s, row %d from the top: %s, want %s", name, y+1, got[y], want[y])
				}
			}
			seen := map[int]bool{}
			for _, n := range regexp.MustCompile(`<text x="[\d.]+" y="([\d.]+)" font-size="3" `+
				`font-family="monospace"[^>]*>(\d+)</text>`).FindAllStringSubmatch(svg, -1) {
				line := int(number(n[2]))
				seen[line] = true
				stands := func(row int) bool { // from 1 at the bottom
					return row <= len(ys) && math.Abs(number(n[1])-ys[len(ys)-row]) < m.RowPitchMM/2
				}
				row := line + m.Offset
				if made.Overlap > 0 && row > made.Rows { // it comes round
					row -= made.Rows
				}
				if name == "SVG" && !stands(row) && !(made.Overlap > 0 && stands(row+made.Rows)) {
					t.Errorf("number %s stands at %s mm, and not in row %d", n[2], n[1], row)
				}
			}
			for line := 1; line <= made.Rows && name == "SVG"; line++ {
				if !seen[line] {
					t.Errorf("number %d, which the window shows, stands nowhere on the card", line)
				}
			}
		}
	}
}

// bright counts, in the part of a stitch's cell given in fractions of its width and height
// (from its lower left corner), the pixels that are fully of the yarn's colour.
func bright(img image.Image, column, row, rows int, x0, x1, y0, y1 float64) (n int) {
	const w, h = 40.0, 30.0
	bottom := float64(img.Bounds().Dy()) - h*float64(row)
	for y := bottom - y1*h; y < bottom-y0*h; y++ {
		for x := (float64(column) + x0) * w; x < (float64(column)+x1)*w; x++ {
			if r, _, _, _ := img.At(int(x), int(y)).RGBA(); r>>8 > 0xd8 {
				n++
			}
		}
	}
	return n
}

// TestStitchesInPictures: on the knit side a knit stitch is two legs with a gap between
// them, a purl stitch an arch over its whole width; on the purl side the other way round.
// A decrease stands where it is drawn to lean from.
func TestStitchesInPictures(t *testing.T) {
	face := func(f *fabric.Fabric, side chart.Face) image.Image {
		data, err := paper.FabricPNG(t.Context(), f, side, paper.Window{}, 40)
		if err != nil {
			t.Fatal(err)
		}
		img, err := png.Decode(bytes.NewReader(data))
		if err != nil {
			t.Fatal(err)
		}
		return img
	}
	pale := piecetest.Set("/yarns/0/colour", "#e0e0e0")
	marks := piecetest.Set("/charts/c/legend", map[string]any{".": map[string]any{},
		"#": map[string]any{"stitch": "purl"}})
	f := technique.Prove(plan.Make(piecetest.New(t, "card-direct", "L3", "R3", []string{"......", ".#....",
		"......"}, pale,
		marks, piecetest.Set("/charts/c/side", "knit"), piecetest.Set("/sections/0/technique", "texture"))))
	for side, purl := range map[chart.Face]int{chart.KnitSide: 1, chart.PurlSide: 4} {
		img := face(f, side)
		for column := range 6 {
			arch := bright(img, column, 1, 3, 0.46, 0.54, 0.5, 0.7) > 10
			if want := (column == purl) == (side == chart.KnitSide); arch != want {
				t.Errorf("side %d, column %d: an arch: %v, want %v", side, column, arch, want)
			}
		}
	}
	for mark, leans := range map[string]bool{"./..o.": true, ".o..\\.": false} {
		lace := technique.Prove(plan.Make(piecetest.New(t, "hand-mid", "L3", "R3", []string{"......", mark,
			"......"}, pale,
			piecetest.Set("/charts/c/legend", map[string]any{}), piecetest.Set("/charts/c/side", "knit"),
			piecetest.Set("/charts/c/shows", "all"), piecetest.Set("/sections/0/technique", "lace"))))
		if !lace.Matches() {
			t.Fatal(lace.First)
		}
		img := face(lace, chart.KnitSide)
		at := strings.IndexAny(mark, "/\\")
		left, right := bright(img, at, 1, 3, -0.1, 0.03, -0.3, 0.3), bright(img, at, 1, 3, 0.97, 1.1, -0.3, 0.3)
		if (left > right) != leans {
			t.Errorf("%s: %d bright pixels left of its foot, %d right; it is to lean right: %v", mark, left, right,
				leans)
		}
	}
}

// TestStripReadBack: the strip's needles lie as far apart as the machine's, to a tenth of a millimetre, from the first
// that is shown to the last, on every shipped machine; a piece of it begins where the one before ends.
func TestStripReadBack(t *testing.T) {
	for _, id := range machine.IDs() {
		pl := plan.Make(piecetest.New(t, id, "L26", "R26", []string{"#.....", "##...."}))
		pdf, err := paper.StripPDF(pl, 1)
		if err != nil {
			t.Fatal(err)
		}
		pitch := pl.Piece.Machine.PitchMM
		byRow := map[float64][]float64{}
		n := 0
		for _, c := range pdfCircles(t, pdf) {
			y := math.Round(c.y)
			byRow[y] = append(byRow[y], c.x)
			n++
		}
		if n != 60 { // the work, and four needles beyond each of its ends
			t.Errorf("%s: %d needles on the strip", id, n)
		}
		for _, xs := range byRow {
			slices.Sort(xs)
			for i, x := range xs {
				if off := x - xs[0] - float64(i)*pitch; math.Abs(off) > 0.1 || x > 297-10 {
					t.Errorf("%s: needle %d of a piece lies %.2f mm off, at %.1f", id, i+1, off, x)
				}
			}
		}
		if each := 269 / pitch; float64(len(byRow)) < 60/each {
			t.Errorf("%s: %d pieces", id, len(byRow))
		}
	}
}

// TestCardOnSheets: a long card, and a wide one, are printed whole over several sheets, every hole in its place to a
// tenth of a millimetre once the crosses lie on each other; a card that goes on one sheet takes one and has no crosses.
func TestCardOnSheets(t *testing.T) {
	for _, c := range []struct {
		profile      string
		rows, across int
		up           [2]int // sheets on A4, on Letter
	}{{"card-direct", 20, 1, [2]int{1, 1}}, {"card-preselect", 120, 1, [2]int{3, 3}}, {"two-bed-pairs", 100, 2,
		[2]int{3, 3}}} {
		rows := make([]string, c.rows)
		for i := range rows {
			rows[i] = []string{"#...#...", ".##...#.", "..#.#..."}[i%3]
		}
		pl := plan.Make(piecetest.New(t, c.profile, "L20", "R20", rows))
		made, _ := card.Make(pl, 1)
		m := &pl.Piece.Machine
		one, err := paper.CardPDF(made, m, "Reeds")
		if err != nil {
			t.Fatal(err)
		}
		whole := pdfCircles(t, one)
		for k, on := range paper.Sheets {
			pdf, err := paper.CardSheetsPDF(made, m, "Reeds", on)
			if err != nil {
				t.Fatal(err)
			}
			sheets := pdfSheets(t, pdf)
			if len(sheets) != c.across*c.up[k] {
				t.Errorf("%s on %s: %d sheets", c.profile, on.Label, len(sheets))
				continue
			}
			shown := 0
			seen := make([]bool, len(whole))
			at := [][2]float64{{0, 0}} // where each sheet lies once it is joined, by the first cross that it shares
			for n, list := range sheets {
				holes, crosses := list[:len(whole)], list[len(whole):]
				if len(sheets) == 1 && len(crosses) > 0 {
					t.Errorf("%s on %s: crosses on a single sheet", c.profile, on.Label)
				}
				if n > 0 { // its crosses lie where those of a sheet before it do
					found := false
					for before := 0; before < n && !found; before++ {
						for _, a := range sheets[before][len(whole):] {
							for _, b := range crosses {
								d := [2]float64{at[before][0] + a.x - b.x, at[before][1] + a.y - b.y}
								want := [2]float64{whole[0].x - holes[0].x, whole[0].y - holes[0].y}
								if home := [2]float64{whole[0].x - sheets[0][0].x,
									whole[0].y - sheets[0][0].y}; math.Abs(d[0]+home[0]-want[0]) < 0.1 &&
									math.Abs(d[1]+home[1]-want[1]) < 0.1 && !found {
									found, at = true, append(at, d)
								}
							}
						}
					}
					if !found {
						t.Fatalf("%s on %s: no cross of sheet %d lies on one before it", c.profile, on.Label, n+1)
					}
				}
				for i, h := range holes {
					if r := h.width / 2; h.x-r > 6 && h.y-r > 6 && h.x+r < on.Width-6 && h.y+r < on.Height-6 &&
						!seen[i] {
						seen[i] = true
						shown++
						if x := at[n][0] + h.x - sheets[0][0].x + whole[0].x; math.Abs(x-whole[i].x) > 0.1 {
							t.Errorf("%s on %s, sheet %d: a hole lies %.2f mm off", c.profile, on.Label, n+1,
								x-whole[i].x)
						}
					}
				}
			}
			if shown != len(whole) {
				t.Errorf("%s on %s: %d of %d holes are on some sheet", c.profile, on.Label, shown, len(whole))
			}
		}
	}
}
