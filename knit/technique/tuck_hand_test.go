package technique_test

import (
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

// everyWay is the fewest touches over all ways through a section's stretches of tucks, each
// given as its needles row by row: forward, in hold and back by hand, or in hold and back by
// a cam of the next row, which the last has not if it is at the top of the section.
func everyWay(stretches [][]machine.Set, reset, ends, top bool, now string) int {
	if len(stretches) == 0 {
		return 0
	}
	set := func(to string) int {
		if now == to {
			return 0
		}
		return 2
	}
	forward, hold, before := 0, 0, machine.Set{}
	for _, t := range stretches[0] {
		moved := t.Minus(before).Len() + before.Minus(t).Len()
		hold += moved
		if forward += moved; reset {
			forward += t.Len() - moved
		}
		before = t
	}
	if !reset {
		forward += before.Len()
	}
	rest := func(lever string) int { return everyWay(stretches[1:], reset, ends, top, lever) }
	best := set("tuck") + forward + rest("tuck")
	if !ends {
		best = min(best, set("plain")+hold+before.Len()+rest("plain"))
		if !top || len(stretches) > 1 {
			best = min(best, set("plain")+hold+2+rest("back"))
		}
	}
	return best
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
		p := stitchPiece(t, "hand-mid", "tuck", "tuck", width, rows, set("/machine/reset_each_pass", reset),
			set("/sections/-", after), set(edit.Section(1), after))
		pl := plan.Make(p)
		if f := technique.Prove(pl); !f.Matches() {
			t.Fatalf("case %d: %s %v\n%s", i, f.First, f.Faults, pl)
		}
		if got, want := touches(pl), everyWay(stretches, reset, ends, top, "plain"); got != want {
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
