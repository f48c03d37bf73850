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
	"testing"

	"vindel/knit/check"
	"vindel/knit/piece"
)

// fullSize is a two-colour piece of 200 needles × rows with no repeat at all and no
// float over the limit: neither the planner nor the picture's compression meets an
// easy case.
func fullSize(rows int) *piece.Piece {
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
	return mustRead(tree)
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
