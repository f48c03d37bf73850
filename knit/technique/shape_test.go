package technique_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// shapedPiece is a piece of up to three sections in any techniques, on any machine, and a shape of up to six
// entries, with a split in some.
func shapedPiece(rng *rand.Rand) (doc, shape map[string]any) {
	pick := func(s ...string) string { return s[rng.IntN(len(s))] }
	width := 10 + rng.IntN(24)
	from, to := machine.Centre(width, machine.Right)
	charts := map[string]any{}
	var sections []any
	total := 0
	for i := range 1 + rng.IntN(3) {
		row := contract[rng.IntN(len(contract))]
		rows := 4 + rng.IntN(12)
		if row.technique == &technique.Lace {
			rows -= rows % 2
		}
		total += rows
		sec := map[string]any{"technique": row.technique.Name, "yarn": "A", "size": "5", "rows": rows,
			"end_needles": pick("off", "auto", "hand")}
		for k, v := range row.section {
			sec[k] = v
		}
		sections = append(sections, sec)
		if row.draw == nil {
			continue
		}
		name := fmt.Sprint("c", i)
		drawn := row.draw(rng, 1+rng.IntN(8), 2*(1+rng.IntN(3)))
		charts[name] = map[string]any{"side": pick("knit", "purl"), "legend": legendOf(row.technique), "rows": drawn}
		sec["areas"] = []any{map[string]any{"chart": name}}
		switch {
		case row.technique == &technique.Separated && rng.IntN(2) == 0:
			sec["separation"], sec["backing"] = pick("twice", "single"), pick("none", "every", "birdseye", "stripes")
		case row.technique.Behind && rng.IntN(4) == 0:
			sec["behind"] = true
		}
	}
	ids := machine.IDs()
	m := map[string]any{"profile": ids[rng.IntN(len(ids))], "weave": true, "intarsia": true,
		"purl_carriage": rng.IntN(3) == 0,
		"tuck_selected": pick("knit", "tuck"), "weave_selected": pick("hidden", "shown"),
		"reset_each_pass": rng.IntN(2) == 0,
		"hold_disturbs":   rng.IntN(4) == 0}
	shipped, _ := machine.Shipped(m["profile"].(string))
	for _, s := range sections {
		if sec := s.(map[string]any); sec["behind"] != nil {
			if delete(sec, "behind"); shipped.HasSecond() {
				sec["second"] = pick("every", "birdseye", "stripes")
			}
		}
	}
	doc = map[string]any{"vindel": 1, "name": "shaped", "machine": m, "charts": charts, "start": pick("right", "left"),
		"yarns": []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}, map[string]any{"id": "C"},
			map[string]any{"id": "W"}},
		"needles":  map[string]any{"from": from.String(), "to": to.String()},
		"options":  map[string]any{"selecting": pick("knit", "free"), "counter": pick("run", "section", "repeat")},
		"sections": append([]any{map[string]any{"technique": "plain", "rows": 2, "yarn": "A"}}, sections...)}
	total += 2
	if rng.IntN(3) == 0 {
		doc["begin"] = map[string]any{"way": pick("comb", "every-second", "by-hand")}
	}
	var list []any
	split := 0
	if rng.IntN(5) < 2 {
		split = 2 + rng.IntN(total-1)
		left := from + machine.Needle(2+rng.IntN(width-5))
		right := min(to-1, left+machine.Needle(1+rng.IntN(4)))
		entry := map[string]any{"split": split, "left": left.String(), "right": right.String()}
		if rng.IntN(2) == 0 {
			entry["first"] = pick("left", "right")
		}
		list = append(list, entry)
	}
	for range 1 + rng.IntN(5) {
		row := 1 + rng.IntN(total)
		e := map[string]any{"side": pick("left", "right", "both")}
		if split > 0 && row >= split && rng.IntN(2) == 0 {
			e["side"], e["part"] = pick("left", "right"), pick("first", "second")
		}
		sign := []int{1, -1}[rng.IntN(2)]
		switch rng.IntN(6) {
		case 0: // at once
			e["row"], e["stitches"] = row, sign*(1+rng.IntN(3))
			if e["side"] == "both" {
				e["side"] = pick("left", "right")
			}
		case 1: // in hold, and some of them back
			e["row"], e["stitches"], e["by"], e["wrap"] = row, -1-rng.IntN(3), "hold", rng.IntN(2) == 0
			if e["side"] == "both" {
				e["side"] = pick("left", "right")
			}
			if back := row + 2 + rng.IntN(4); back <= total && rng.IntN(3) > 0 {
				release := map[string]any{"side": e["side"], "row": back, "release": true}
				if e["part"] != nil {
					release["part"] = e["part"]
				}
				list = append(list, release)
			}
		default:
			last := min(total, row+rng.IntN(12))
			e["rows"], e["stitches"] = []int{row, last}, sign*(1+rng.IntN(last-row+1))
			if rng.IntN(3) == 0 {
				e["fashion"] = 1 + rng.IntN(3)
			}
		}
		list = append(list, e)
	}
	if rng.IntN(4) == 0 {
		doc["end"] = map[string]any{"way": pick("latch", "drop", "hook")}
		if rng.IntN(2) == 0 {
			doc["end"] = map[string]any{"way": "waste", "yarn": "W"}
		}
	}
	return doc, map[string]any{"shape": list}
}

// TestRandomShapes: where nothing stops a random shape, the outline and every stitch come out as asked; and
// of shapes on pieces that can be knitted as rectangles fewer than one in five are stopped.
func TestRandomShapes(t *testing.T) {
	tries := chance.Cases(1500)
	rng := chance.Rand(t, 71, 72)
	done, stopped, divided := 0, map[finding.Code]int{}, 0
	for i := range tries {
		doc, shape := shapedPiece(rng)
		read := func() (*piece.Piece, []byte, error) {
			data, err := json.Marshal(doc)
			if err != nil {
				t.Fatal(err)
			}
			p, err := technique.Read(data)
			return p, data, err
		}
		p, data, err := read()
		if err != nil {
			t.Fatalf("case %d: %v\n%s", i, err, data)
		}
		if pl := plan.Make(p); finding.Stops(pl.Findings) || !technique.Prove(pl).Matches() {
			continue // it cannot be knitted as a rectangle
		}
		doc["shape"] = shape["shape"]
		if p, data, err = read(); err != nil {
			continue // bad input, which says its place
		}
		pl := plan.Make(p)
		if pl.Refused != nil {
			continue
		}
		done++
		if at := firstStop(pl); at != "" {
			stopped[at]++
			continue
		}
		f := technique.Prove(pl)
		if !f.Matches() && p.Machine.Feeders == 1 && len(f.Faults) == 0 && strings.Contains(f.First, "shows") {
			stopped[finding.FabricDiffers]++ // the end needles of a plain row between rows in two passes
			continue
		}
		if !f.Matches() {
			t.Fatalf("case %d: %s %v\n%s\n%s", i, f.First, f.Faults, data, pl)
		}
		if p.Shape.Split != nil {
			divided++
		}
	}
	n := 0
	for _, k := range stopped {
		n += k
	}
	t.Logf("%d shapes planned, %d stopped %v, %d divided", done, n, stopped, divided)
	if done < tries/8 || n*5 >= done || divided == 0 {
		t.Errorf("%d shapes planned, %d stopped %v, %d divided", done, n, stopped, divided)
	}
}

func firstStop(pl *pass.Plan) finding.Code {
	for _, f := range pl.Findings {
		if f.Severity == finding.Stop {
			return f.Code
		}
	}
	return ""
}

// TestFashionedStand: a stitch that stands while an edge takes it to another needle shows there what it is, on both
// sides of the fabric, whether the edge narrows or widens.
func TestFashionedStand(t *testing.T) {
	for _, c := range []struct {
		stitches int
		rows     []string // of the chart, top first
		want     []string // purl side, top first, of the slipped section
	}{
		{-1, []string{"........", "......s.", ".......s"}, []string{"AAAAAAA ", "AAAAAAB ", "AAAAAAAB"}},
		{1, []string{".........", ".......s.", "......s.."}, []string{"AAAAAAAAA", "AAAAAAABA", "AAAAAABA "}},
	} {
		p := piecetest.New(t, "hand-mid", "L4", "R4", c.rows, piecetest.Set("/charts/c/side", "purl"),
			piecetest.Set("/charts/c/legend", map[string]any{".": map[string]any{}, "s": map[string]any{"stitch": "slip"}}),
			piecetest.Set("/sections", []any{map[string]any{"technique": "plain", "rows": 3, "yarn": "B"},
				map[string]any{"technique": "slip", "yarn": "A", "areas": []any{map[string]any{"chart": "c", "first": "L4"}}}}),
			piecetest.Set("/shape", []any{map[string]any{"side": "right", "row": 5, "stitches": c.stitches, "fashion": 2}}))
		f := technique.Prove(plan.Make(p))
		if got := f.Draw(chart.PurlSide)[:3]; !slices.Equal(got, c.want) || !f.Matches() {
			t.Errorf("%+d: %q, want %q; %s", c.stitches, got, c.want, f.First)
		}
	}
}

// TestBareWaits: a needle that came to work and was slipped ever since waits with nothing on it; hung again, its first
// loop is no eyelet.
func TestBareWaits(t *testing.T) {
	for _, side := range []string{"left", "right"} {
		p := piecetest.New(t, "hand-mid", "L6", "R6", []string{"......"}, piecetest.Set("/sections", []any{
			map[string]any{"technique": "plain", "rows": 9, "yarn": "A"},
			map[string]any{"technique": "slip", "rows": 3, "yarn": "A", "areas": []any{map[string]any{"chart": "s",
				"first": "R7",
				"above": "repeat"}}},
			map[string]any{"technique": "lace", "rows": 4, "yarn": "A", "areas": []any{map[string]any{"chart": "l"}}}}),
			piecetest.Set("/charts", map[string]any{"s": map[string]any{"side": "purl", "rows": []string{"s............."},
				"legend": map[string]any{".": map[string]any{}, "s": map[string]any{"stitch": "slip"}}},
				"l": map[string]any{"side": "purl", "rows": []string{"......", "..o/.."}}}),
			piecetest.Set("/shape", []any{map[string]any{"side": side, "row": 10, "stitches": 1},
				map[string]any{"split": 13, "left": "L1", "right": "R1", "first": map[string]string{"left": "right",
					"right": "left"}[side]}}))
		f := technique.Prove(plan.Make(p))
		if !f.Matches() {
			t.Errorf("%s: %s %v", side, f.First, f.Faults)
		}
	}
}

// TestDroppedRow: of a piece that divides at its last row the second part may stop there, where its row would knit what
// waits: only that is taken out of the plan, and it is told.
func TestDroppedRow(t *testing.T) {
	p := piecetest.New(t, "hand-mid", "L8", "R8", []string{"......"}, piecetest.Set("/sections", []any{
		map[string]any{"technique": "plain", "rows": 2, "yarn": "A"}, map[string]any{"technique": "lace", "rows": 4,
			"yarn": "A", "areas": []any{map[string]any{"chart": "c"}}}}),
		piecetest.Set("/charts/c/rows", []string{"......", "..o/.."}),
		piecetest.Set("/machine/hold_disturbs", false), piecetest.Set("/start", "left"), piecetest.Set("/shape", []any{
			map[string]any{"split": 6, "left": "L2", "right": "L1", "first": "left"},
			map[string]any{"by": "hold", "row": 6, "side": "right", "stitches": -1, "wrap": false}}))
	pl := plan.Make(p)
	parts := map[string]int{}
	for i := range pl.Passes {
		if pl.Passes[i].Section == 2 && pl.Passes[i].Row() == 4 {
			parts[pl.Passes[i].ID.Part]++
		}
	}
	if !finding.Stops(pl.Findings) || parts["first"] == 0 || parts["second"] != 0 {
		t.Errorf("%v, %v", parts, pl.Findings)
	}
}
