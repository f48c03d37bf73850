package check_test

import (
	"vindel/knit/recipe"
	"vindel/knit/technique"

	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"math/rand/v2"
	"runtime/debug"
	"testing"

	"vindel/knit/check"
	"vindel/knit/piece"
)

// fullSize is a two-colour piece of 200 needles × rows with no repeat at all and no
// float over the limit: neither the planner nor the picture's compression meets an
// easy case.
func fullSize(rows int, shape ...any) *piece.Piece {
	rng := rand.New(rand.NewPCG(7, 7))
	lines := make([]any, rows)
	for y := range lines {
		line := make([]byte, 200)
		for x, n := 0, 0; x < len(line); n++ {
			for run := 1 + rng.IntN(5); run > 0 && x < len(line); run-- {
				line[x] = ".#"[n&1]
				x++
			}
		}
		lines[y] = string(line)
	}
	tree := map[string]any{
		"vindel": 1, "name": "full size", "machine": map[string]any{"profile": "program-preselect"},
		"yarns": []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}},
		"charts": map[string]any{"c": map[string]any{"legend": map[string]any{".": map[string]any{"yarn": "A"},
			"#": map[string]any{"yarn": "B"}}, "rows": lines}},
		"needles":  map[string]any{"from": "L100", "to": "R100"},
		"sections": []any{map[string]any{"technique": "two-colour", "areas": []any{map[string]any{"chart": "c"}}}},
	}
	if len(shape) > 0 {
		tree["shape"] = shape
	}
	return mustRead(tree)
}

// BenchmarkShaped plans, knits and checks 200 needles × 600 rows: as a rectangle, with edges that move some
// two hundred times, and divided besides. The collector is given room, as beside pieces that a program keeps: with
// the smallest heap it comes after every plan of the one and after every second of the other.
func BenchmarkShaped(b *testing.B) {
	edges := []any{map[string]any{"side": "both", "rows": []int{21, 300}, "stitches": -50},
		map[string]any{"side": "both", "rows": []int{301, 400}, "stitches": 40, "fashion": 3},
		map[string]any{"side": "left", "row": 420, "stitches": -8}, map[string]any{"side": "right", "row": 421,
			"stitches": -8}}
	split := []any{map[string]any{"split": 480, "left": "L7", "right": "R7"},
		map[string]any{"part": "first", "side": "left", "rows": []int{490, 540}, "stitches": -20}}
	defer debug.SetGCPercent(debug.SetGCPercent(800))
	for name, shape := range map[string][]any{"rectangle": nil, "edges": edges,
		"divided": append(edges[:len(edges):len(edges)], split...)} {
		b.Run(name, func(b *testing.B) {
			p := fullSize(600, shape...)
			b.ReportAllocs()
			for b.Loop() {
				if r := check.Run(p); !r.Fabric.Matches() {
					b.Fatal(r.Fabric.First, r.Fabric.Faults)
				}
			}
		})
	}
}

// BenchmarkFullSize plans, knits and checks 200 needles × 1000 rows; it stands beside
// BenchmarkPNGEncode, which does to the same chart what everybody's library does.
func BenchmarkFullSize(b *testing.B) {
	for _, rows := range []int{500, 1000} {
		b.Run(fmt.Sprint(rows), func(b *testing.B) {
			p := fullSize(rows)
			b.ReportAllocs()
			for b.Loop() {
				if r := check.Run(p); !r.Fabric.Matches() {
					b.Fatal(r.Fabric.First)
				}
			}
		})
	}
}

func BenchmarkPNGEncode(b *testing.B) {
	c := fullSize(1000).Charts["c"]
	img := image.NewPaletted(image.Rect(0, 0, c.W, c.H), color.Palette{color.White, color.Black})
	for y := range c.H {
		copy(img.Pix[(c.H-1-y)*img.Stride:], c.Row(y))
	}
	for b.Loop() {
		if err := png.Encode(io.Discard, img); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkStreamer plans, knits and compares the recipe of 4345 passes.
func BenchmarkStreamer(b *testing.B) {
	p, err := technique.Read(recipe.Shipped("wind-streamer").File)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if r := check.Run(p); !r.Fabric.Matches() {
			b.Fatal(r.Fabric.First)
		}
	}
}
