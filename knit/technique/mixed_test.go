package technique_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"vindel/chance"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// mixedPiece is a piece of up to three sections in any techniques, on any machine, altered
// at random: what nobody would think of trying.
func mixedPiece(rng *rand.Rand) []byte {
	pick := func(s ...string) string { return s[rng.IntN(len(s))] }
	width := 1 + rng.IntN(30)
	from := machine.Needle(-rng.IntN(width))
	to := from + machine.Needle(width-1)
	charts := map[string]any{}
	var sections []any
	for i := range 1 + rng.IntN(3) {
		row := contract[rng.IntN(len(contract))]
		sec := map[string]any{"technique": row.technique.Name, "yarn": pick("A", "B", "C"), "size": pick("5", "6"),
			"end_needles": pick("off", "auto", "hand"), "lean": pick("shortest", "exact"), "free": rng.IntN(4) == 0}
		sections = append(sections, sec)
		if row.draw == nil || rng.IntN(2) == 0 {
			sec["rows"] = 1 + rng.IntN(8)
		}
		if row.draw == nil {
			continue
		}
		for k, v := range row.section {
			sec[k] = v
		}
		if row.technique.Drawn == piece.InStitches && rng.IntN(3) == 0 {
			sec["yarns"] = []string{"A*2", "B"}
		}
		name := fmt.Sprint("c", i)
		rows, legend := row.draw(rng, 1+rng.IntN(8), 1+rng.IntN(5)), legendOf(row.technique)
		charts[name] = map[string]any{"side": pick("knit", "purl"), "legend": legend, "rows": rows}
		area := map[string]any{"chart": name, "drop": rng.IntN(5) - 2, "above": pick("repeat", "blank")}
		if rng.IntN(2) == 0 {
			a := from + machine.Needle(rng.IntN(width))
			area["from"], area["to"] = a.String(), (a + machine.Needle(rng.IntN(int(to-a)+1))).String()
		}
		if row.technique.Transforms == nil && rng.IntN(3) == 0 {
			area["transform"] = []string{pick("turn", "mirror", "bounce", "double-width", "upside-down",
				"double-length",
				"turn-right")}
		}
		sec["areas"] = []any{area}
	}
	ids := machine.IDs()
	m := map[string]any{"profile": ids[rng.IntN(len(ids))], "weave": true, "intarsia": rng.IntN(3) > 0,
		"purl_carriage": rng.IntN(2) == 0, "tuck_selected": pick("knit", "tuck"), "weave_selected": pick("hidden",
			"shown"),
		"reset_each_pass": rng.IntN(2) == 0, "advances": [][]string{{"lace"}, {"lace", "purl"}, {"purl"},
			{}}[rng.IntN(4)],
		"joined": rng.IntN(2) == 0, "purl_selects": pick("now", "ahead"), "window": pick("read", "next"),
		"program_bed": pick("far", "near"), "loop": 1 + rng.IntN(8)}
	if rng.IntN(3) == 0 {
		m["school"], m["feeders"], m["lace"] = pick("hand", "preselect", "direct", "pairs"), 1+rng.IntN(2),
			pick("separate", "combined", "hand", "")
	}
	id := m["profile"].(string)
	shipped, _ := machine.Shipped(id)
	school := shipped.School.String()
	if s, ok := m["school"].(string); ok {
		school = s
	}
	for i, v := range sections {
		sec := v.(map[string]any)
		areas, _ := sec["areas"].([]any)
		lined := len(areas) > 0 && sec["technique"] != "lace" && sec["technique"] != "intarsia" &&
			(sec["technique"] != "texture" || m["purl_carriage"] == true) && shipped.Program != machine.NoProgram &&
			school != "hand"
		if lined && areas[0].(map[string]any)["transform"] == nil && rng.IntN(3) == 0 {
			sec["from_line"] = 1 + rng.IntN(len(charts[fmt.Sprint("c", i)].(map[string]any)["rows"].([]string)))
		}
		if rows, ok := sec["rows"].(int); ok && lined && sec["technique"] != "separated" && school == "pairs" &&
			rng.IntN(2) == 0 {
			sec["passes"] = 2*rows - 1
		}
		if rng.IntN(4) == 0 && shipped.HasCard() {
			sec["joined"] = rng.IntN(2) == 0
		}
		if sec["technique"] == "plain" && rng.IntN(3) == 0 {
			sec["carriage"] = "purl"
		}
		if rng.IntN(5) == 0 {
			sec["notes"] = []any{map[string]any{"before": 0, "text": "look out of the window"}}
		}
	}
	out := ""
	if width > 6 && rng.IntN(3) == 0 {
		out = (from + machine.Needle(1+rng.IntN(width-2))).String()
	}
	b, _ := json.Marshal(map[string]any{"vindel": 1, "machine": m,
		"yarns":   []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}, map[string]any{"id": "C"}},
		"charts":  charts,
		"needles": map[string]any{"from": from.String(), "to": to.String(), "out": out}, "start": pick("left", "right"),
		"sections": sections,
		"options":  map[string]any{"counter": pick("run", "section", "repeat"), "selecting": pick("knit", "free")},
		"limits":   map[string]any{"weights": 1 + rng.IntN(5)}})
	return b
}

// TestMixedPieces: whatever a piece asks for, either a finding stops it or it comes out as
// drawn; the simulated bed never finds a fault in what was planned; and every remedy that
// is offered leaves a piece that can be read.
func TestMixedPieces(t *testing.T) {
	planned := 0
	for seed := range uint64(chance.Cases(3000)) {
		file := mixedPiece(chance.Rand(t, seed, 9))
		p, err := technique.Read(file)
		if err != nil {
			t.Fatalf("seed %d: %v", seed, err)
		}
		r := check.Run(p)
		differs := slices.ContainsFunc(r.Findings, func(f finding.Finding) bool { return f.Code == "fabric-differs" })
		if differs != (r.Fabric.Differences > 0) {
			t.Fatalf("seed %d: %d stitches differ, and it is said: %v", seed, r.Fabric.Differences, differs)
		}
		// Only the end needles of a plain row between rows worked in two passes may differ.
		if len(r.Fabric.Faults) > 0 || !r.Stops() && !r.Fabric.Matches() || differs && p.Machine.Feeders > 1 {
			t.Fatalf("seed %d: %s %v\n%s\n%s", seed, r.Fabric.First, r.Fabric.Faults, file, r.Plan)
		}
		if !r.Stops() {
			planned++
		}
		for i := range r.Findings {
			f := &r.Findings[i]
			if f.Mend == nil {
				continue
			}
			doc, _ := edit.Parse(file)
			if _, err := doc.Apply(f.Remedy()); err != nil {
				t.Errorf("seed %d: the remedy of %s: %v", seed, f.Code, err)
			} else if _, err := technique.Piece(doc); err != nil {
				t.Errorf("seed %d: the remedy of %s leaves %v", seed, f.Code, err)
			}
		}
	}
	if planned < chance.Share(1200, 3000) {
		t.Errorf("only %d of 3000 pieces could be planned", planned)
	}
}
