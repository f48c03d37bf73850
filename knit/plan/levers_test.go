package plan_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// told is a plan as it is read by others.
type told struct {
	Passes []struct {
		N                           int
		Carriage, Dir, Select, Hold string
		Setting                     string
		Cams                        map[string]string
		Feeders                     []string
		Second                      *struct {
			Needles, Select, Hold string
			Cams                  map[string]string
		}
		Before []struct {
			Do, Bed, Carriage, Cams, Text string
			Silent                        bool
			Ways                          map[string]map[string]string
		}
	}
}

// TestLevers: applying what steps say of each way, in order, and nothing else, every bed is set for a pass as the pass
// says, wherever a needle stands that it matters for; and no step leaves all as it was.
func TestLevers(t *testing.T) {
	moved, held := 0, 0
	for n := range chance.Cases(600) {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 81)))
		var text strings.Builder
		if err := plan.Make(p).WriteJSON(&text, nil); err != nil {
			t.Fatal(err)
		}
		moved, held = follow(t, fmt.Sprint("piece ", n), text.String(), moved, held)
	}
	if moved < chance.Share(1200, 600) || held < chance.Share(150, 600) {
		t.Errorf("%d levers are moved, %d of them for holding", moved, held)
	}
}

func follow(t *testing.T, name, plan string, moved, held int) (int, int) {
	t.Helper()
	var pl told
	if err := json.Unmarshal([]byte(plan), &pl); err != nil {
		t.Fatal(err)
	}
	stands := map[string]map[string]string{} // of a carriage on a way
	for _, p := range pl.Passes {
		for _, st := range p.Before {
			if st.Ways == nil {
				continue
			}
			whose, changed := st.Carriage, false
			if whose == "" {
				whose = st.Bed + "knit"
			}
			for way, does := range st.Ways {
				at := stands[whose+way]
				if at == nil {
					at = map[string]string{}
					stands[whose+way] = at
				}
				if does["selected"] != "" { // two-colour is another setting than plain, though all knit
					does["word"] = st.Text[strings.Index(st.Text, ": "):]
				}
				for what, action := range does {
					changed = changed || at[what] != action
					at[what] = action
				}
			}
			if moved++; !changed {
				t.Fatalf("%s, pass %d: %s: all stood so", name, p.N, st.Text)
			}
			if _, pattern := st.Ways[p.Dir]["selected"]; !pattern {
				held++
			}
		}
		is := func(whose, sel, hold string, cams map[string]string) {
			at := stands[whose+p.Dir]
			if at["unselected"] != cams["unselected"] || sel != "" && at["selected"] != cams["selected"] ||
				hold != "" && at["held"] != cams["held"] {
				t.Fatalf("%s, pass %d to the %s, %s: set to %v, not to %v", name, p.N, p.Dir, whose, at, cams)
			}
		}
		switch {
		case p.Carriage == "knit":
			is("knit", p.Select, p.Hold, p.Cams)
			if p.Second != nil {
				is("secondknit", p.Second.Select, p.Second.Hold, p.Second.Cams)
			}
		case p.Carriage == "second":
			is("secondknit", "", "", p.Second.Cams)
		default:
			is(p.Carriage, p.Select, p.Hold, p.Cams)
		}
	}
	return moved, held
}

// TestLeversByHand: what is said before each pass is worked out with a pencil: short rows under holding, which goes on
// once for both ways and off for the way that knits what waits; one lever for both ways, that is moved each time; and
// words that do not tell two settings apart.
func TestLeversByHand(t *testing.T) {
	set := piecetest.Set
	recipe := func(text string) []edit.Change {
		return []edit.Change{set("/sections/0", map[string]any{"technique": "recipe", "recipe": text})}
	}
	lever := func(acts string) edit.Change {
		one := map[string]any{"name": "lever", "shape": "lever", "at": []float64{0.1, 0.5},
			"positions": []string{"up", "down"}, "sets": map[string]string{"plain": "up", "slip": "down"}}
		if acts != "" {
			one["acts"] = acts
		}
		return set("/machine/controls", []any{one})
	}
	slips := "yarn A\nrepeat 2\npass 1: knit all\npass 1: slip L3, knit others\nend\n"
	for _, c := range []struct {
		name  string
		edits []edit.Change
		want  []string // before each pass
	}{
		{"short rows", recipe("yarn A\npass 1\nhold R1-R6\npass 2\npass 2: knit held\npass 1"),
			[]string{"cams plain", "cams holding on", "", "cams → holding off", "", ""}},
		{"each way by itself", recipe(slips), []string{"cams ← plain", "cams → slip", "", ""}},
		{"levers that act one way each", append(recipe(slips), lever("left")),
			[]string{"cams ← plain", "cams → slip", "", ""}},
		{"one lever for both ways", append(recipe(slips), lever("")),
			[]string{"cams plain", "cams slip", "cams plain", "cams slip"}},
		{"one word for both", append(recipe(slips), set("/machine/words", map[string]any{"plain": "middle",
			"slip": "middle"})), []string{"cams ← middle", "cams → middle", "", ""}},
		{"one word for both, after the other", append(recipe(slips+"pass 1: slip L3, knit others"),
			set("/machine/words", map[string]any{"plain": "middle", "slip": "middle"})),
			[]string{"cams ← middle", "cams → middle", "", "", ""}},
	} {
		p := piecetest.New(t, "hand-mid", "L6", "R6", []string{"#."}, c.edits...)
		pl := plan.Make(p)
		for i, want := range c.want {
			var got []string
			for _, st := range pl.Passes[i].Before {
				if short := st.Short(p); st.Do() == step.DoSetCams && short != "" {
					got = append(got, short)
				}
			}
			if strings.Join(got, "; ") != want {
				t.Errorf("%s, pass %d: %q, not %q", c.name, i+1, got, want)
			}
		}
	}
}

// TestRails: two carriages never stand on the rails of one side, and none comes on where another stands: it is lifted
// off; what has to be there before a carriage comes on is said once, in her words.
func TestRails(t *testing.T) {
	lace := []edit.Change{piecetest.Set("/charts/c/legend", map[string]any{}), piecetest.Set("/charts/c/side", "knit"),
		piecetest.Set("/sections/0/technique", "lace"), piecetest.Set("/sections/0/rows", 6), piecetest.Before(2, "A")}
	rows := []string{"......", "/o..o\\", "......", "-o\\/o-"}
	for _, c := range []struct {
		name, want string
		machine    map[string]any
	}{
		{"lace alone", "rails lace; rails knit", map[string]any{}},
		{"purl at home on the right", "off lace; rails purl", map[string]any{"purl_carriage": true}},
		{"purl at home on a table", "rails lace; off; rails purl",
			map[string]any{"purl_carriage": true, "homes": map[string]any{"purl": "on the table"}}},
		{"and what the knit carriage needs", "Hang the guide in; rails lace", map[string]any{
			"kit": []any{map[string]any{"carriage": "knit", "text": "hang the guide in"}}}},
		{"each time", "Oil the channel; rails lace; rails knit; Oil the channel; rails lace", map[string]any{
			"kit": []any{map[string]any{"carriage": "lace", "text": "oil the channel", "always": true}}}},
		{"with rails to be put on", "Put the rails on, on the left; rails lace; rails knit", map[string]any{
			"kit": []any{map[string]any{"carriage": "lace", "side": "left", "text": "put the rails on"}}}},
	} {
		c.machine["profile"] = "card-preselect"
		p := piecetest.New(t, "card-preselect", "L12", "R12", rows, append(lace, piecetest.Set("/machine", c.machine))...)
		pl := plan.Make(p)
		var said []string
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				switch st := st.Step.(type) {
				case step.Remove:
					said = append(said, map[bool]string{false: "rails", true: "off"}[st.Lifted])
				case step.Attach:
					said[len(said)-1] += " " + st.Carriage.String()
				case step.Kit:
					if n := len(said); n == 0 {
						said = append(said, st.Say(p))
					} else {
						said = append(said[:n-1], st.Say(p), said[n-1])
					}
				}
			}
		}
		if got := strings.Join(said, "; "); !strings.HasPrefix(got, c.want) {
			t.Errorf("%s: %s", c.name, got)
		}
	}
	p := piecetest.New(t, "card-preselect", "L12", "R12", rows, append(lace,
		piecetest.Set("/machine", map[string]any{"profile": "card-preselect", "purl_carriage": true}))...)
	pl := plan.Make(p)
	for i := range pl.Passes {
		for j := range pl.Passes[i].Before {
			if off, ok := pl.Passes[i].Before[j].Step.(step.Remove); ok && off.Lifted {
				off.Lifted = false
				pl.Passes[i].Before[j].Step = off
				break
			}
		}
	}
	fab := technique.Prove(pl)
	if !slices.ContainsFunc(fab.Faults, func(f finding.Finding) bool {
		return f.Code == finding.CarriagesClash && strings.HasPrefix(f.Text, "Pass 3: the knit carriage is to be parked")
	}) {
		t.Errorf("the knit carriage is parked on the purl carriage's rails: %v", fab.Faults)
	}
}

// TestKit: what a carriage or the second bed needs is said once, before it is first used, in sections and in recipes.
func TestKit(t *testing.T) {
	recipe := func(text string) []any { return []any{map[string]any{"technique": "recipe", "recipe": text}} }
	for _, c := range []struct {
		name, machine, want string
		sections            []any
	}{
		{"a section", "two-bed-pairs", "1 guide", []any{map[string]any{"technique": "plain", "yarn": "A", "rows": 4}}},
		{"a recipe", "two-bed-pairs", "1 guide", recipe("yarn A\npass 4")},
		{"the second bed later", "two-bed-pairs", "1 guide; 3 comb, Set the two", []any{
			map[string]any{"technique": "plain", "yarn": "A", "rows": 2},
			map[string]any{"technique": "plain", "yarn": "A", "rows": 2, "second": "every"}}},
		{"at once in a recipe", "two-bed-pairs", "1 guide, comb, Set the two", recipe("yarn A\nwork second all\npass 4")},
	} {
		pl := plan.Make(piecetest.New(t, c.machine, "L12", "R12", []string{"#."}, piecetest.Set("/sections", c.sections),
			piecetest.Set("/machine", map[string]any{"profile": c.machine, "kit": []any{
				map[string]any{"carriage": "knit", "text": "guide"}, map[string]any{"carriage": "second", "text": "comb"}}})))
		var got []string
		for i := range pl.Passes {
			var said []string
			for _, st := range pl.Passes[i].Before {
				switch st := st.Step.(type) {
				case step.Kit:
					said = append(said, st.Text)
				case step.Note:
					if strings.HasPrefix(st.Text, "Set the two beds") {
						said = append(said, "Set the two")
					}
				}
			}
			if said != nil {
				got = append(got, fmt.Sprint(i+1, " ", strings.Join(said, ", ")))
			}
		}
		if got := strings.Join(got, "; "); got != c.want {
			t.Errorf("%s: %s", c.name, got)
		}
	}
}

// TestPitchIsSaid: where a recipe leaves the beds at the other pitch, the next section says handle and pitch; at another
// position alone, the handle.
func TestPitchIsSaid(t *testing.T) {
	for rack, want := range map[string]string{"rack 5 full": "Move the handle of the second bed to 5, one position at a " +
		"time; half pitch", "rack 6 half": "Move the handle of the second bed to 5, one position at a time"} {
		pl := plan.Make(piecetest.New(t, "two-bed-pairs", "L6", "R6", []string{"#."}, piecetest.Set("/sections", []any{
			map[string]any{"technique": "plain", "yarn": "A", "rows": 2, "second": "every"},
			map[string]any{"technique": "recipe",
				"recipe": "rack 5 full\nmove second all across\nout second all\npass 1\n" + rack + "\npass 1"},
			map[string]any{"technique": "plain", "yarn": "A", "rows": 2, "second": "every"}})))
		said := ""
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if st.Do() == step.DoRack && pl.Passes[i].Section == 3 {
					said += st.Say(pl.Piece)
				}
			}
		}
		if said != want {
			t.Errorf("%s: %q\n%s", rack, said, pl)
		}
	}
}

// TestOneLeverStoodApart: one lever for both ways, and one word for plain and two-colour, is no change for the way on
// which it stands so; where an empty carriage has stood otherwise the other way, it is said.
func TestOneLeverStoodApart(t *testing.T) {
	lever := map[string]any{"name": "lever", "shape": "lever", "at": []float64{0.5, 0.5}, "acts": "both",
		"positions": []string{"up"}, "sets": map[string]any{"plain": "up", "two-colour": "up"}}
	p := piecetest.New(t, "card-direct", "L6", "R6", []string{"#..", ".#.", "..#"}, piecetest.Before(2, "A"),
		piecetest.Set("/machine/words", map[string]any{"plain": "up", "two-colour": "up"}),
		piecetest.Set("/machine/controls", []any{lever}), piecetest.Set("/sections/1/free", true))
	pl := plan.Make(p)
	var got []string
	for i := range pl.Passes {
		for _, st := range pl.Passes[i].Before {
			if cams, ok := st.Step.(step.Cams); ok && !cams.Silent {
				got = append(got, fmt.Sprint(i+1, " ", st.Short(p)))
			}
		}
	}
	if said := strings.Join(got, "; "); said != "1 cams up; 3 cams ← free pass; 4 cams up" {
		t.Errorf("%s\n%s", said, pl)
	}
}
