package technique

import (
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"strings"
	"testing"

	"vindel/knit/chart"
	"vindel/knit/machine"
)

func marksOf(row string) (marks []chart.Stitch) {
	for _, r := range row {
		m, _ := chart.LaceMark(r)
		marks = append(marks, m)
	}
	return marks
}

// balanced yields every row of w marks that uses as many stitches as it makes.
func balanced(w int, yield func(row string)) {
	var add func(row string, uses int)
	add = func(row string, uses int) {
		if len(row) == w {
			if uses == w {
				yield(row)
			}
			return
		}
		for _, m := range []string{".", "o", "/", `\`, "^"} {
			if u := uses + marksOf(m)[0].Uses(); u <= w {
				add(row+m, u)
			}
		}
	}
	add("", 0)
}

// every is the slow twin: a search of all that a carriage could do, detours included. It
// gives the number of shifts of the shortest schedule that begins with one to `dir`,
// goes to and fro, and ends with one to the left. A bed is written as stacks of stitch
// letters between bars, the oldest stitch first.
func every(marks []chart.Stitch, dir machine.Side, exact bool) int {
	w := len(marks)
	target, top, full := make([]int, w), make([]int, w), make([]int, w)
	j := 0
	for i, m := range marks {
		full[i] = m.Uses()
		top[i] = j
		if m == chart.LeanLeft || m == chart.Centre {
			top[i] = j + 1
		}
		for range m.Uses() {
			target[j] = i
			j++
		}
	}
	start := make([]string, w)
	for x := range start {
		start[x] = string(rune('a' + x))
	}
	want := func(s string) int { return target[s[0]-'a'] }
	done := func(bed []string) bool {
		for x, s := range bed {
			if s != "" && (want(s) != x || len(s) != full[x] || exact && len(s) > 1 && int(s[0]-'a') != top[x]) {
				return false
			}
		}
		return true
	}
	type state struct{ bed string }
	seen := map[state]bool{}
	now := [][]string{start}
	for shifts := 0; ; shifts++ {
		for _, bed := range now {
			ends := shifts == 0 || (dir == machine.Right) // the last went left
			if done(bed) && ends {
				return shifts
			}
		}
		way := -1
		if dir == machine.Right {
			way = 1
		}
		var next [][]string
		here := map[string]bool{}
		for _, bed := range now {
			var choose func(x int, picked []int)
			choose = func(x int, picked []int) {
				if x >= w {
					after := append([]string(nil), bed...)
					for _, p := range picked {
						after[p+way], after[p] = after[p+way]+bed[p], ""
					}
					for i, s := range after { // the order above the oldest does not matter
						if len(s) > 2 {
							rest := strings.Split(s[1:], "")
							if rest[0] > rest[1] {
								after[i] = s[:1] + rest[1] + rest[0]
							}
						}
					}
					key := strings.Join(after, "|")
					if !here[key] {
						here[key] = true
						next = append(next, after)
					}
					return
				}
				choose(x+1, picked)
				to := x + way
				if bed[x] == "" || to < 0 || to >= w || len(picked) > 0 && picked[len(picked)-1] == x-1 {
					return
				}
				if bed[to] == "" || want(bed[to]) == want(bed[x]) {
					choose(x+1, append(picked[:len(picked):len(picked)], x))
				}
			}
			choose(0, nil)
		}
		// A bed seen before with the same way to go next leads nowhere new.
		kept := next[:0]
		for _, bed := range next {
			key := state{fmt.Sprint(dir, strings.Join(bed, "|"))}
			if !seen[key] {
				seen[key] = true
				kept = append(kept, bed)
			}
		}
		now, dir = kept, dir.Other()
	}
}

// TestFewestPasses: for every row up to six stitches wide, in both schools and with both
// leans, no schedule of the carriage has fewer passes.
func TestFewestPasses(t *testing.T) {
	rows := 0
	for w := 1; w <= 6; w++ {
		balanced(w, func(row string) {
			rows++
			marks := marksOf(row)
			for _, exact := range []bool{false, true} {
				if got, want := len(newTransfers(marks, 0, exact).separate()),
					every(marks, machine.Left, exact); got != want {
					t.Errorf("%s, exact %v, separate: %d shifts, %d are enough", row, exact, got, want)
				}
				if got, want := len(newTransfers(marks, 0, exact).combined()),
					every(marks, machine.Right, exact); got != want {
					t.Errorf("%s, exact %v, combined: %d shifts, %d are enough", row, exact, got, want)
				}
			}
		})
	}
	t.Logf("%d rows", rows)
}

// TestPasses: the counts of the rules, worked out by hand.
func TestPasses(t *testing.T) {
	for _, c := range []struct {
		row                string
		separate, combined int
		hand               string
	}{
		{"...", 0, 0, ""},
		{"/o", 2, 2, "R2 left 1"},
		{`o\`, 4, 2, "R1 right 1"},
		{"/..o", 6, 6, "R2-R4 left 3"},
		{`o..\`, 8, 6, "R1-R3 right 3"},
		{`/..oo\`, 6, 6, "R2-R4 left 3; R5 right 1"}, // left and right share passes
		{"o^o", 4, 2, "R3 left 1; R1 right 1"},
		{"/oo\\", 4, 2, "R2 left 1; R3 right 1"},
		{"/...o", 8, 8, "R2-R4 left 3; R5 left 1"},
		{"^oo", 4, 4, "R2-R3 left 2; R2 left 1"},
	} {
		marks := marksOf(c.row)
		sep := 0
		if n := len(newTransfers(marks, 0, false).separate()); n > 0 {
			sep = n + 1
		}
		if com := len(newTransfers(marks, 0, false).combined()); sep != c.separate || com != c.combined {
			t.Errorf("%s: %d passes separate, %d combined; want %d and %d", c.row, sep, com, c.separate, c.combined)
		}
		var said []string
		shifts, tools := newTransfers(marks, 0, false).byHand()
		for i, s := range shifts {
			said = append(said, fmt.Sprintf("%v %v %d", s.needles, s.dir, tools[i]))
		}
		if got := strings.Join(said, "; "); got != c.hand {
			t.Errorf("%s by hand: %s; want %s", c.row, got, c.hand)
		}
	}
}

// laceRow200 is a row of 200 stitches with 30 blocks, both ways and of several lengths.
func laceRow200() []chart.Stitch {
	row := ""
	for i := range 30 {
		plain := strings.Repeat(".", i%4)
		row += []string{"/" + plain + "o.", ".o" + plain + `\`, "o^o" + plain}[i%3]
	}
	return marksOf(row + strings.Repeat(".", 200-len(row)))
}

// BenchmarkLaceRow schedules the row; BenchmarkLaceRowPNG encodes it as a picture.
func BenchmarkLaceRow(b *testing.B) {
	marks := laceRow200()
	b.ReportAllocs()
	for b.Loop() {
		newTransfers(marks, -100, false).separate()
	}
}

func BenchmarkLaceRowPNG(b *testing.B) {
	marks := laceRow200()
	img := image.NewPaletted(image.Rect(0, 0, len(marks), 1),
		color.Palette{color.White, color.Black, color.Gray{50}, color.Gray{100}, color.Gray{150}, color.Gray{200},
			color.Gray{220}, color.Gray{240}, color.Gray{250}, color.Gray{251}})
	for i, m := range marks {
		img.Pix[i] = uint8(m)
	}
	for b.Loop() {
		if err := png.Encode(io.Discard, img); err != nil {
			b.Fatal(err)
		}
	}
}
