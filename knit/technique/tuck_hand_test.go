package technique_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// touches counts what hands do for the tucks of a plan whose first and last sections are
// plain: a needle moved is one, a lever set two.
func touches(pl *pass.Plan) (n int) {
	for i := range pl.Passes {
		p := &pl.Passes[i]
		for _, st := range p.Before {
			switch {
			case st.Do() == step.DoBringForward || st.Do() == step.DoToHold || st.Do() == step.DoToWork:
				n += st.Needles().Len()
			case step.Is[step.Cams](st.Step) && p.Section == 2:
				n += 2
			}
		}
	}
	return n
}

// everyWay is the fewest touches over all ways through a section's stretches of tucks, each given as its needles row by
// row, a row without tucks after it but at the top: forward, in hold and back by hand, or in hold and back by a cam of
// the next row, which the last has not if it is at the top of the section.
func everyWay(stretches [][]machine.Set, reset, ends, top bool) int {
	best := -1
	ways := []string{"forward", "fingers", "cam"}
	if ends {
		ways = ways[:1]
	}
	for n := range int(math.Pow(float64(len(ways)), float64(len(stretches)))) {
		cost, levers := 0, pencil{last: "plain", pattern: [2]string{"plain", ""}, alone: "p"}
		for i, tucks := range stretches {
			way, before := ways[n%len(ways)], machine.Set{}
			n /= len(ways)
			for _, t := range tucks {
				cost += t.Minus(before).Len() + before.Minus(t).Len()
				if way != "forward" {
					cost += levers.row("plain", "on")
				} else if cost += levers.row("tuck", ""); reset {
					cost += t.And(before).Len() - before.Minus(t).Len() // as all stand at rest
				}
				before = t
			}
			last := top && i == len(stretches)-1
			switch {
			case way == "cam" && last:
				cost += 1000 // there is no row that could
			case way == "cam":
				cost += levers.row("plain", "off")
			default:
				if way == "fingers" || !reset {
					cost += before.Len()
				}
				if !last {
					cost += levers.row("", "")
				}
			}
		}
		if best < 0 || cost < best {
			best = cost
		}
	}
	return max(best, 0)
}

// pencil keeps in mind where the controls stand, by way: 0 is the way of the row before the first.
type pencil struct {
	rows          int
	last          string // the pattern of the row before
	pattern, hold [2]string
	alone         string // what was moved for the way back alone: p, h or ph
}

// row is what setting the controls for a row costs; no pattern: what stands will do, no hold: it does not matter.
func (v *pencil) row(pattern, hold string) int {
	v.rows++
	way := v.rows % 2
	if pattern == "" {
		if pattern = v.pattern[way]; pattern == "" {
			pattern = v.last
		}
	}
	move := ""
	if pattern == "plain" && v.pattern[way] == "tuck" {
		pattern = "tuck" // with no needle forward it is as good
	}
	v.last = pattern
	if v.pattern[way] != pattern {
		move = "p"
	}
	if hold != "" && v.hold[way] != hold {
		move += "h"
	}
	back := 1 - way
	fits := v.alone != "" && strings.Contains(move, v.alone[:1]) &&
		(v.alone[0] == 'h' || v.pattern[back] == pattern)
	if fits && strings.Contains(v.alone, "h") {
		if strings.Contains(move, "h") {
			fits = v.hold[back] == hold
		} else {
			fits = hold == "" && (v.hold[way] == "" || v.hold[way] == v.hold[back])
		}
	}
	if fits { // the step before the way back serves both ways
		if strings.Contains(v.alone, "h") {
			v.hold[way] = v.hold[back]
		}
		for _, part := range v.alone {
			move = strings.ReplaceAll(move, string(part), "")
		}
	}
	v.pattern[way] = pattern
	if strings.Contains(move, "h") {
		v.hold[way] = hold
	}
	if v.alone = move; move == "" {
		return 0
	}
	return 2
}

// TestHandTucks: random tucks by hand come out, with as few touches as any way has, and no
// needle is put at rest that was not forward or in hold.
func TestHandTucks(t *testing.T) {
	rng := chance.Rand(t, 51, 52)
	held := 0
	for i := range chance.Cases(600) {
		reset, ends := rng.IntN(2) == 0, i%5 == 0
		width := 8 + rng.IntN(20)
		var rows []string // the top row first
		var stretches [][]machine.Set
		for range 1 + rng.IntN(4) {
			var tucks []machine.Set
			row := ""
			for n := range 1 + rng.IntN(5) {
				if n == 0 || rng.IntN(3) == 0 {
					row = strings.Repeat(".", 1+rng.IntN(2))
					for len(row) < width-1 {
						row += string("..#"[rng.IntN(3)])
					}
					row = row[:width-1] + "."
					if ends {
						row = "#" + row[1:]
					}
				}
				if on := marks(row, width); !on.Empty() {
					rows, tucks = append([]string{row}, rows...), append(tucks, on)
				}
			}
			if len(tucks) > 0 {
				stretches = append(stretches, tucks)
				rows = append([]string{strings.Repeat(".", width)}, rows...)
			}
		}
		if len(rows) == 0 {
			continue
		}
		top := rng.IntN(3) == 0
		if top {
			rows = rows[1:]
		}
		after := map[string]any{"technique": "plain", "rows": 1, "yarn": "A"}
		edits := []edit.Change{set("/machine/reset_each_pass", reset), set("/sections/-", after), set(edit.Section(1), after)}
		p := stitchPiece(t, "hand-mid", "tuck", "tuck", width, rows, edits...)
		pl := plan.Make(p)
		if f := technique.Prove(pl); !f.Matches() {
			t.Fatalf("case %d: %s %v\n%s", i, f.First, f.Faults, pl)
		}
		if got, want := touches(pl), everyWay(stretches, reset, ends, top); got != want {
			t.Fatalf("case %d, set again %v: %d touches, %d would do\n%s", i, reset, got, want, pl)
		}
		var away machine.Set
		for j := range pl.Passes {
			for _, st := range pl.Passes[j].Before {
				switch {
				case st.Do() == step.DoBringForward || st.Do() == step.DoToHold:
					away = away.Or(st.Needles())
				case st.Do() == step.DoToWork && !st.Needles().Minus(away).Empty():
					t.Fatalf("case %d: %v were never away\n%s", i, st.Needles().Minus(away), pl)
				}
			}
			if !pl.Passes[j].Main().Hold.Empty() {
				held++
			}
		}
		if told := len(pl.Findings) == 1 && pl.Findings[0].Code == finding.TuckWay; told == ends && len(stretches) > 0 {
			t.Errorf("case %d, at the ends %v: %v", i, ends, pl.Findings)
			continue
		} else if !told { // at the ends nothing can be held
			continue
		}
		// The other way is a press, and costs what was said of it.
		fix := pl.Findings[0].Remedy()
		other := plan.Make(stitchPiece(t, "hand-mid", "tuck", "tuck", width, rows, append(edits, fix...)...))
		f := technique.Prove(other)
		if said := fmt.Sprintf("would be %d.", touches(other)); !f.Matches() ||
			!strings.HasSuffix(pl.Findings[0].Text, said) {
			t.Fatalf("case %d: %v: %s; %s %s\n%s", i, fix, pl.Findings[0].Text, said, f.First, other)
		}
	}
	if held < chance.Share(300, 600) {
		t.Errorf("only %d passes with needles in hold", held)
	}
}

// marks is the needles under the marks of a row that is centred on the bed.
func marks(row string, width int) (on machine.Set) {
	from, _ := machine.Centre(width, machine.Right)
	for x := range row {
		if row[x] == '#' {
			on.Add(from + machine.Needle(x))
		}
	}
	return on
}
