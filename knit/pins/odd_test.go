package pins_test

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"vindel/chance"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/technique"
)

// TestOdd: what is said of pieces that are a little off, each by one or two things that are still read: a number by
// one, a stitch of a chart, a choice that another piece made. Few of them are as anybody would draw them, so read of
// what is ever found wrong is found here. Their hashes are held, twenty together.
func TestOdd(t *testing.T) {
	choices := map[string][]string{}
	for n := range 120 {
		doc, _ := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 79)))
		for _, at := range leaves(treeOf(t, doc.JSON())) {
			v, err := json.Marshal(at.in[at.key])
			if err != nil {
				t.Fatal(err)
			}
			if list := choices[at.key]; len(v) < 40 && !slices.Contains(list, string(v)) {
				choices[at.key] = append(list, string(v))
			}
		}
	}
	groups, read := 25, 0
	if chance.Soaks() || *update {
		groups = 300
	}
	var hashes []string
	codes := map[finding.Code]bool{}
	for g := range groups {
		all := sha256.New()
		for n := range 20 {
			rng := rand.New(rand.NewPCG(uint64(20*g+n), 80))
			doc, _ := chance.Piece(t, rng)
			top := treeOf(t, doc.JSON())
			for range 1 + rng.IntN(2) {
				nudge(rng, top, choices)
			}
			b, err := json.Marshal(top)
			if err != nil {
				t.Fatal(err)
			}
			if p, err := technique.Read(b); err == nil {
				read++
				r := check.Run(p)
				r.Plan.WriteText(all)
				for _, f := range r.Findings {
					codes[f.Code] = true
					fmt.Fprintln(all, f.OneLine(), "|", f.Fix, "|", f.Remedy())
				}
				if r.Fabric != nil {
					fmt.Fprintln(all, r.Fabric.Differences, r.Fabric.First, r.Fabric.Draw(chart.KnitSide))
				}
			}
		}
		hashes = append(hashes, fmt.Sprintf("odd %d %x", g, all.Sum(nil)[:5]))
	}
	held(t, "odd.txt", hashes, groups == 300)
	t.Logf("%d are read; %d kinds of findings", read, len(codes))
	if read < 8*groups || len(codes) < 35 {
		t.Errorf("only %d are read, with %d kinds of findings", read, len(codes))
	}
}

// nudge changes one thing a little.
func nudge(rng *rand.Rand, top map[string]any, choices map[string][]string) {
	all := leaves(top)
	at := all[rng.IntN(len(all))]
	switch v := at.in[at.key].(type) {
	case float64:
		at.in[at.key] = v + []float64{-1, 1, -0.5, 0.5, 10, -v, v}[rng.IntN(7)]
	case bool:
		at.in[at.key] = !v
	case []any:
		i := rng.IntN(max(1, len(v)))
		row, isText := "", false
		if len(v) > 0 {
			row, isText = v[i].(string)
		}
		switch {
		case isText && len(row) > 0 && rng.IntN(4) > 0: // a stitch as another of the chart's
			from, _ := v[rng.IntN(len(v))].(string)
			if from != "" {
				x := rng.IntN(len(row))
				v[i] = row[:x] + from[x%len(from):][:1] + row[x+1:]
			}
		case len(v) > 0 && rng.IntN(2) == 0:
			at.in[at.key] = slices.Insert(v, i, v[i])
		case len(v) > 0:
			at.in[at.key] = slices.Delete(v, i, i+1)
		}
	default:
		list := choices[at.key]
		if len(list) == 0 || rng.IntN(8) == 0 {
			delete(at.in, at.key)
			return
		}
		var other any
		json.Unmarshal([]byte(list[rng.IntN(len(list))]), &other)
		at.in[at.key] = other
	}
}
