package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/recipe"
	"vindel/knit/technique"
	"vindel/paper"
)

// TestRecipeDocs: every recipe in docs/recipes.md runs to its end, and the picture below it is how the
// beds stand then. A recipe's first comment names its picture; "two-bed" in it asks for such a machine.
func TestRecipeDocs(t *testing.T) {
	root := filepath.Join("..", "..", "docs")
	page, err := os.ReadFile(filepath.Join(root, "recipes.md"))
	if err != nil {
		t.Fatal(err)
	}
	seen := 0
	for _, m := range regexp.MustCompile(
		"(?s)```recipe\n(.*?)```\n\n!\\[[^\\]]*\\]\\((recipes/[a-z-]+\\.svg)\\)").FindAllSubmatch(page, -1) {
		text, picture := string(m[1]), filepath.Join(root, string(m[2]))
		profile := "hand-mid"
		if strings.Contains(text, "second") {
			profile = "program-preselect"
		}
		data, _ := json.Marshal(map[string]any{"vindel": 1, "name": "t", "machine": map[string]any{"profile": profile},
			"yarns":    []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}},
			"needles":  map[string]any{"from": "L9", "to": "R10"},
			"sections": []any{map[string]any{"technique": "recipe", "recipe": strings.TrimRight(text, "\n")}}})
		p, err := technique.Read(data)
		if err != nil {
			t.Errorf("%s: %v\n%s", m[2], err, text)
			continue
		}
		g := recipe.Ground{Piece: p}
		rec, _ := recipe.Read(p.Sections[0].Recipe, g)
		start := recipe.Start{Side: machine.Right, Work: [2]machine.Set{p.Work()}, Rack: 5, Pitch: machine.HalfPitch}
		for n := range p.Work().All() {
			start.Found = append(start.Found, loopOn(n))
		}
		run := rec.Go(t.Context(), g, 1, start)
		if run.Stopped || run.Err != nil {
			t.Errorf("%s: %v %v", m[2], run.Err, run.Found)
			continue
		}
		var state recipe.State
		run.Again(start, func(i int) bool { return i == len(run.Acts)-1 }, func(_ int, s recipe.State) { state = s })
		want := paper.BedsSVG(&p.Machine, &state)
		if *update {
			if err := os.WriteFile(picture, want, 0o644); err != nil {
				t.Fatal(err)
			}
		}
		if got, err := os.ReadFile(picture); err != nil || !bytes.Equal(got, want) {
			t.Errorf("%s is not how the beds stand (%v); go test ./cmd/vindel -run RecipeDocs -update draws it",
				m[2], err)
		}
		seen++
	}
	if seen < 6 {
		t.Errorf("%d recipes have a picture", seen)
	}
}

func loopOn(n machine.Needle) loops.Loop { return loops.Loop{Needle: int16(n), Yarn: 1} }
