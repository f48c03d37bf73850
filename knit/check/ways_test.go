package check_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
)

// TestWays: every way to begin and to end comes out on every shipped machine, before and after rows
// in colours, lace, two beds and a recipe, from either side: with its passes, of section 0 and no
// course, the counter at 0 before row 1, and a free pass where row 1 needs the other side.
func TestWays(t *testing.T) {
	passes := map[string]int{"every-second": 2, "thread": 2, "waste": 9, "two-bed": 3}
	ends := map[string]int{"latch": 1, "waste": 8}
	sections := []map[string]any{
		{"technique": "two-colour", "rows": 4, "size": "6", "areas": []any{map[string]any{"chart": "c"}}},
		{"technique": "plain", "rows": 3, "size": "7.2"},
		{"technique": "lace", "rows": 2, "areas": []any{map[string]any{"chart": "l"}}},
		{"technique": "recipe", "recipe": "yarn A\npass 2\npass 2: tuck place 4\npass 2"},
		{"technique": "separated", "rows": 2, "areas": []any{map[string]any{"chart": "c"}}},
		{"technique": "tuck", "rows": 3, "areas": []any{map[string]any{"chart": "t"}}},
	}
	tried := 0
	for _, id := range machine.IDs() {
		m, _ := machine.Shipped(id)
		for _, begin := range piece.BeginWays {
			if begin == "two-bed" && !m.HasSecond() {
				continue
			}
			for e, end := range piece.EndWays {
				for s, section := range sections {
					start := []string{"left", "right"}[(e+s)%2]
					b, z := map[string]any{"way": begin}, map[string]any{"way": end}
					if b["yarn"] = "D"; end == "waste" {
						z["yarn"] = "C"
					}
					at := fmt.Sprintf("%s, %s, %s, %v, from the %s", id, begin, end, section["technique"], start)
					p := piecetest.New(t, id, "L6", "R6", []string{"#..#", ".##."}, edit.Change{Op: edit.Replace,
						Path: "/sections/0", Value: section}, piecetest.Set("/start", start),
						piecetest.Set("/begin", b), piecetest.Set("/end", z),
						piecetest.Set("/charts/l", map[string]any{"side": "knit", "rows": []string{"./o.", "...."},
							"legend": map[string]any{}}),
						piecetest.Set("/charts/t", map[string]any{"side": "purl", "rows": []string{"#...", "...."},
							"legend": map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": "tuck"}}}))
					r := check.Run(p)
					if slices.ContainsFunc(r.Findings, func(f finding.Finding) bool {
						return f.Code == finding.TechniqueMachine || f.Code == finding.CarriageSide &&
							len(r.Plan.Passes) < 1+passes[begin]
					}) {
						continue // no such section on this machine, or none that begins on this side
					}
					tried++
					if r.Stops() || !r.Fabric.Matches() {
						t.Errorf("%s: %v; %s", at, r.Findings, r.Fabric.First)
						continue
					}
					n := 0
					for i := range r.Plan.Passes {
						p := &r.Plan.Passes[i]
						if p.Section == 0 {
							if n++; p.Row() != 0 || p.Course != 0 {
								t.Errorf("%s: pass %d of the start or finish works row %d, course %d", at, p.N,
									p.Row(), p.Course)
							}
						}
						if p.Row() == 1 && i > 0 && r.Plan.Passes[i-1].Row() == 0 &&
							r.Plan.Passes[i-1].Section == 0 && p.Counter != 1 {
							t.Errorf("%s: the counter is %d after row 1", at, p.Counter)
						}
					}
					want := passes[begin] + ends[end]
					if n != want {
						t.Errorf("%s: %d passes, want %d", at, n, want)
					}
				}
			}
		}
	}
	if tried < 1000 {
		t.Errorf("%d were tried", tried)
	}
}

// TestWaySizes: stitch sizes of a start and a finish are steps from the section's, unless the piece says
// them: smaller to cast on, the smallest on two beds, larger before latching off.
func TestWaySizes(t *testing.T) {
	for _, c := range []struct{ way, size, want string }{
		{"every-second", "", "5.2 5.2"}, {"every-second", "4", "4 4"}, {"thread", "", "5.2 5.2"},
		{"waste", "", "7.2 7.2 7.2 7.2 7.2 7.2 7.2 7.2 7.2"}, {"two-bed", "", "0 0 0"}, {"two-bed", "1", "1 1 1"},
		{"comb", "", ""},
		{"latch", "", "9.2"}, {"latch", "8", "8"}, {"end waste", "", "7.2 7.2 7.2 7.2 7.2 7.2 7.2 7.2"}, {"drop", "",
			""},
	} {
		way, key := map[string]any{"way": strings.TrimPrefix(c.way, "end ")}, "end"
		if slices.Contains(piece.BeginWays, c.way) && c.way != "latch" {
			key = "begin"
		}
		if c.size != "" {
			way["size"] = c.size
		}
		if way["way"] == "waste" {
			way["yarn"] = "C"
		}
		p := piecetest.New(t, "two-bed-pairs", "L6", "R6", []string{"#."}, piecetest.Set(edit.Member(key), way),
			edit.Change{Op: edit.Replace, Path: "/sections/0", Value: map[string]any{"technique": "plain", "rows": 4,
				"size": "7.2"}})
		var sizes []string
		pl := check.Run(p).Plan
		for i := range pl.Passes {
			if pl.Passes[i].Section == 0 {
				sizes = append(sizes, pl.Passes[i].Main().Size)
			} else if got := pl.Passes[i].Main().Size; got != "7.2" {
				t.Errorf("%s: row %d at %s", c.way, pl.Passes[i].Row(), got)
			}
		}
		if got := strings.Join(sizes, " "); got != c.want {
			t.Errorf("%s at %q: %q, not %q", c.way, c.size, got, c.want)
		}
	}
}
