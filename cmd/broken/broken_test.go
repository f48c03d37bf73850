package main

import (
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

// TestRules: the table of the rules is read row by row, and every file that it names is there.
func TestRules(t *testing.T) {
	t.Chdir("../..")
	rules, err := Rules("docs/rules.md")
	if err != nil || len(rules) < 150 {
		t.Fatalf("%d rules, %v", len(rules), err)
	}
	if !slices.Contains(rules, Rule{"knit/plan/begin.go", "setsBack"}) ||
		!slices.Contains(rules, Rule{File: "knit/machine/needle.go"}) {
		t.Errorf("a function, and a whole file: %v", rules[:8])
	}
	wrong := filepath.Join(t.TempDir(), "rules.md")
	if err := os.WriteFile(wrong, []byte("| a | `plan/gone.go` | `TestA` |\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := Rules(wrong); err == nil || !strings.Contains(err.Error(), "gone.go") {
		t.Errorf("a file that is not there: %v", err)
	}
}

// TestDraw: the same seed draws the same places, none inside another, spread over rules and kinds.
func TestDraw(t *testing.T) {
	var all []*Place
	for i := range 400 {
		all = append(all, &Place{Rule: i % 20, File: "f.go", Kind: []string{"step", "step", "side"}[i%3],
			Start: 10 * i, End: 10*i + 15})
	}
	drawn := Draw(rand.New(rand.NewPCG(4, 0)), all, 60)
	again := Draw(rand.New(rand.NewPCG(4, 0)), all, 60)
	sides := 0
	for i, p := range drawn {
		if p != again[i] || p.No != i+1 {
			t.Fatalf("place %d is another the second time", i)
		}
		if i > 0 && p.Start < drawn[i-1].End {
			t.Errorf("%d to %d lies in the one before", p.Start, p.End)
		}
		if p.Kind == "side" {
			sides++
		}
	}
	if len(drawn) != 60 || sides < 15 {
		t.Errorf("%d places, %d of them sides", len(drawn), sides)
	}
}

// TestSwitched: what takes a place's text works out one of two expressions, and which, by its number.
func TestSwitched(t *testing.T) {
	want := "(broken__.Is(%[1]d) && (a%%b <= c) || !broken__.Is(%[1]d) && (a%%b < c))"
	if got := either("a%b < c", "a%b <= c"); got != want {
		t.Error(got)
	}
}

// TestKnown: what changes nothing is named so that it is found, and says why.
func TestKnown(t *testing.T) {
	text, err := os.ReadFile("known.txt")
	if err != nil {
		t.Fatal(err)
	}
	known, err := Known("known.txt")
	if err != nil {
		t.Fatal(err)
	}
	lines := 0
	for _, line := range strings.Split(strings.TrimSpace(string(text)), "\n") {
		if strings.HasPrefix(line, "#") {
			continue
		}
		lines++
		key, why, ok := strings.Cut(line, " :: ")
		file, _, _ := strings.Cut(key, " ")
		if !ok || why == "" || !known[key] || !exists(filepath.Join("../..", file)) {
			t.Errorf("%q names no place, or no reason", line)
		}
	}
	if lines != len(known) {
		t.Errorf("%d lines, %d are known", lines, len(known))
	}
}
