package technique_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/plan"
	"vindel/knit/recipe"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// writer writes recipes at random, along the grammar. Counts are even, so that the carriage comes
// back to where it starts, and most of what it writes can be knitted.
type writer struct {
	*rand.Rand
	m      machine.Profile
	w      int
	lines  []string
	indent string
	deep   int
	second bool // the second bed works
}

func (w *writer) line(format string, a ...any) {
	w.lines = append(w.lines, w.indent+fmt.Sprintf(format, a...))
}

func (w *writer) pick(list ...string) string { return list[w.IntN(len(list))] }

// even is a small even number, perhaps by turns or in steps.
func (w *writer) even() string {
	if w.deep > 0 && w.IntN(4) == 0 {
		return w.pick("[2, 4]", "[2 step 2]", "2*round", "[4, 2, 2]")
	}
	return w.pick("2", "2", "4", "6", "1 + 1", "tall")
}

// set is needles of the main bed; those at the ends are left out, so that the edges knit.
func (w *writer) set() string {
	in := 1 + w.IntN(2)
	switch w.IntN(9) {
	case 0:
		return fmt.Sprintf("every %d from %d of inside %d", 2+w.IntN(4), 1+w.IntN(3), in)
	case 1:
		return fmt.Sprintf("every %d from 1 take %d cut of inside %d", 3+w.IntN(3), 1+w.IntN(2), in)
	case 2:
		return "posts"
	case 3:
		return "fields but ends"
	case 4:
		return fmt.Sprintf("(first 1 and last 2) of inside %d", in)
	case 5:
		return fmt.Sprintf("every 2 runs from %d of fields but ends and place 2", 1+w.IntN(2))
	case 6:
		return fmt.Sprintf("numbered %d but ends", 2+w.IntN(4))
	case 7:
		if w.deep > 0 {
			return "[posts, fields but ends, place 3]"
		}
		return "place 3 and place 5"
	}
	return "first 1 of each run of inside 2 but posts"
}

// part is one thing that a knitter does, and puts right again.
func (w *writer) part() {
	n := w.IntN(15)
	switch {
	case n == 0:
		w.line("pass %s", w.even())
	case n == 1:
		w.line("pass %s: %s %s", w.even(), w.pick("tuck", "slip"), w.set())
		w.line("pass 2")
	case n == 2:
		w.line("hold %s", w.set())
		w.line("pass %s", w.even())
		w.line("pass 2: knit held")
	case n == 3:
		w.line("hold first %s", w.pick("1", "2", "3"))
		w.line("pass 1 left")
		w.line("wrap last 1 of held")
		w.line("pass 1 right")
		w.line("pass 2: knit held")
	case n == 4:
		s := w.pick("posts", "every 5 from 2 of inside 2")
		w.line("move %s %s", s, w.pick("left", "right", "left 1"))
		if w.IntN(2) == 0 {
			w.line("out %s", s)
			w.line("pass 2")
			w.line("work %s", s)
		}
		w.line("pass 2")
	case n == 5:
		w.line("cross first 2 of inside 1 with last 2 of first 5 of all")
		w.line("pass 2")
	case n == 6:
		w.line("knit by hand in %s: %s %s, %s others_", w.pick("C", "D"), w.pick("short", "long"), w.set(),
			w.pick("short", "long"))
		w.lines[len(w.lines)-1] = strings.Replace(w.lines[len(w.lines)-1], "others_", w.set(), 1)
	case n == 7:
		w.line("yarn %s", w.pick("A", "B", "C"))
	case n == 8:
		w.line("size %s", w.pick("5", "6", "4.2", "5.5 + 1"))
	case n == 9 && w.m.Program != machine.NoProgram:
		w.line("choose by %s", w.pick("card", "program"))
		for range 1 + w.IntN(2) {
			w.line("pass %s: %s every %d from %d of inside 1", w.pick("2", "4"), w.pick("slip", "tuck"),
				max(2, w.m.Columns/w.pickInt(4, 6, 8)), 1+w.IntN(2))
		}
		w.line("choose by hand")
		w.line("pass 2")
	case n == 10 && w.m.Feeders > 1 && !w.second:
		w.line("yarn A and %s", w.pick("B", "C"))
		w.line("yarn A and B")
		w.line("pass %s: knit %s in B, knit others in A", w.even(), w.set())
		w.line("yarn A")
	case n == 11 && w.m.HasSecond():
		w.line("rack %s half", w.pick("5", "4", "6"))
		w.line("work second pins")
		w.line("pass 2: main knit all | second knit %s", w.pick("all", "pins", "first 2 of pins"))
		switch w.IntN(3) {
		case 0:
			w.line("drop second pins")
		case 1:
			w.line("pass 2: %s | second %s", w.pick("tuck posts", "knit all", "slip posts"), w.pick("slip all",
				"tuck all", "knit all"))
			w.line("pass 2: second knit all")
			w.line("drop second pins")
		default:
			w.line("rack 5 full")
			w.line("move second pins across")
			w.line("rack 5 half")
		}
		w.line("out second pins")
		w.line("pass 2")
	case n == 12:
		w.line("pass 1 left free")
		w.line("pass 1 right free")
	case n == 13:
		w.line("counter %d", w.IntN(9))
		w.line("weights %s", w.pick("up", "up every 3", "on"))
		w.line("note \"look at the edge\"")
		w.line("check carriage right")
	case n == 14 && w.IntN(3) == 0:
		w.line("drop place 3")
		w.line("pass 2")
	default:
		w.line("pass 2: tuck %s", w.set())
		w.line("pass 2")
	}
}

func (w *writer) repeats() string {
	if w.deep > 0 && w.IntN(3) == 0 {
		return w.pick("[1, 2]", "[1 step 1]", "[0, 2]")
	}
	if w.deep == 0 {
		return w.pick("2", "3", "width - 8", "4")
	}
	return w.pick("2", "3")
}

func (w *writer) pickInt(list ...int) int { return list[w.IntN(len(list))] }

// block is a repeat of parts, perhaps with another in it.
func (w *writer) block() {
	w.line("repeat %s \"%s\"", w.repeats(), w.pick("band", "row", ""))
	w.indent += "  "
	w.deep++
	for range 1 + w.IntN(3) {
		if w.deep < 3 && w.IntN(4) == 0 {
			w.block()
		} else {
			w.part()
		}
	}
	w.deep--
	w.indent = w.indent[2:]
	w.line("end")
}

// randomRecipe is a piece file with a recipe of its own.
func randomRecipe(rng *rand.Rand) (file map[string]any, m machine.Profile) {
	ids := machine.IDs()
	m, _ = machine.Shipped(ids[rng.IntN(len(ids))])
	w := &writer{Rand: rng, m: m, w: 9 + rng.IntN(16)}
	from, to := machine.Centre(w.w, machine.Right)
	w.line("param tall = 4 from 2 to 8 \"rows\"")
	w.line("name posts = every %d from 3 of inside 1", 3+rng.IntN(3))
	w.line("name fields = all but posts")
	if m.HasSecond() {
		w.line("name pins = second every 3 from 2 of inside 1")
	}
	w.line("yarn A")
	w.line("size 6")
	w.line("pass 2")
	for range 1 + rng.IntN(3) {
		if rng.IntN(2) == 0 {
			w.block()
		} else {
			w.part()
		}
	}
	yarns := []any{}
	for _, id := range []string{"A", "B", "C", "D"} {
		yarns = append(yarns, map[string]any{"id": id})
	}
	profile := map[string]any{"profile": m.ID, "tuck_selected": w.pick("knit", "tuck"),
		"reset_each_pass": rng.IntN(2) == 0}
	section := map[string]any{"technique": "recipe", "recipe": strings.Join(w.lines, "\n")}
	if m.HasCard() {
		section["joined"] = rng.IntN(2) == 0
	}
	return map[string]any{"vindel": 1, "name": "random", "machine": profile, "yarns": yarns,
		"needles":  map[string]any{"from": from.String(), "to": to.String()},
		"sections": []any{section}}, m
}

func runFile(t *testing.T, file map[string]any) *check.Result {
	t.Helper()
	data, err := json.Marshal(file)
	if err != nil {
		t.Fatal(err)
	}
	p, err := technique.Read(data)
	if err != nil {
		t.Fatalf("%v\n%s", err, data)
	}
	return check.Run(p)
}

// TestRandomRecipes: of recipes written at random, fewer than one in five is stopped by a finding;
// of all others the plan's loops are those that the recipe means.
func TestRandomRecipes(t *testing.T) {
	n := chance.Cases(500)
	stopped, passes := 0, 0
	why := map[finding.Code]int{}
	for i := range n {
		file, _ := randomRecipe(chance.Rand(t, 12, uint64(i)))
		text := file["sections"].([]any)[0].(map[string]any)["recipe"]
		r := runFile(t, file)
		for _, f := range r.Findings {
			switch f.Code {
			case finding.FabricDiffers, finding.SelectionLost, finding.YarnWrongSide, finding.CarriagesClash,
				finding.SecondStands:
				t.Fatalf("recipe %d on %v: %s\n%s", i, file["machine"], f.Text, text)
			}
		}
		if len(r.Fabric.Faults) > 0 && r.Plan.Stopped.Row == 0 {
			t.Fatalf("recipe %d on %v: %s\n%s", i, file["machine"], r.Fabric.Faults[0].Text, text)
		}
		if r.Plan.Refused != nil {
			t.Fatalf("recipe %d on %v: %v\n%s", i, file["machine"], r.Plan.Refused, text)
		}
		passes += len(r.Plan.Passes)
		if r.Stops() {
			stopped++
			for _, f := range r.Findings {
				if f.Severity == finding.Stop {
					why[f.Code]++
				}
			}
			continue
		}
		if !r.Fabric.Matches() {
			t.Fatalf("recipe %d on %v: %s\n%s", i, file["machine"], r.Fabric.First, text)
		}
	}
	if t.Logf("%d of %d stopped, %d passes: %v", stopped, n, passes, why); stopped*5 >= n {
		t.Errorf("%d of %d are stopped: %v", stopped, n, why)
	}
}

// without takes the nth step of a kind out of a plan; false where there are not so many.
func without(pl *pass.Plan, n int, is func(st *pass.Step) bool) bool {
	for i := range pl.Passes {
		p := &pl.Passes[i]
		for j := range p.Before {
			if is(&p.Before[j]) {
				if n--; n < 0 {
					p.Before = slices.Delete(slices.Clone(p.Before), j, j+1)
					return true
				}
			}
		}
	}
	return false
}

func does(do step.Do) func(st *pass.Step) bool {
	return func(st *pass.Step) bool { return st.Do() == do && st.Recipe > 0 }
}

// change alters the nth step of a verb.
func change[T step.Step](pl *pass.Plan, n int, f func(st *T)) bool {
	for i := range pl.Passes {
		p := &pl.Passes[i]
		for j := range p.Before {
			if st, ok := p.Before[j].Step.(T); ok {
				if n--; n < 0 {
					f(&st)
					p.Before = slices.Clone(p.Before)
					p.Before[j].Step = st
					return true
				}
			}
		}
	}
	return false
}

// TestTamperedRecipes: whatever of a plan is left out or done otherwise, the fabric is not what the
// recipe means, and that is said with line, pass and needle.
func TestTamperedRecipes(t *testing.T) {
	for _, c := range []struct {
		name, what string
		tamper     func(pl *pass.Plan) bool
	}{
		{"hail-cushion", "a pass left out", func(pl *pass.Plan) bool {
			pl.Passes = slices.Delete(pl.Passes, 40,
				41)
			return true
		}},
		{"hail-cushion", "yarns exchanged", func(pl *pass.Plan) bool {
			return change(pl, 3, func(st *step.Thread) { st.Yarn = st.Yarn%3 + 1 })
		}},
		{"rain-curtain", "a hold forgotten", func(pl *pass.Plan) bool { return without(pl, 2, does(step.DoToHold)) }},
		{"the-streamer-by-hand", "a wrap forgotten", func(pl *pass.Plan) bool {
			return without(pl, 30,
				does(step.DoWrap))
		}},
		{"lichen-kneeler", "a drop forgotten", func(pl *pass.Plan) bool {
			i := slices.IndexFunc(pl.Passes, func(p pass.Pass) bool { return p.Carriage == machine.SecondCarriage })
			pl.Passes = slices.Delete(pl.Passes, i, i+2)
			return true
		}},
		{"frost-square", "a racking forgotten", func(pl *pass.Plan) bool { return without(pl, 0, does(step.DoRack)) }},
		{"rain-curtain", "a move one needle off", func(pl *pass.Plan) bool {
			return change(pl, 1, func(st *step.Move) { st.On = st.On.Right(1) })
		}},
		{"rain-curtain", "long for short", func(pl *pass.Plan) bool {
			return change(pl, 1, func(st *step.KnitByHand) { st.On, st.Long = st.Long, st.On })
		}},
		{"rain-curtain", "a crossing forgotten", func(pl *pass.Plan) bool { return without(pl, 1, does(step.DoCross)) }},
		{"rain-curtain", "a cam left", func(pl *pass.Plan) bool {
			return without(pl, 1, func(st *pass.Step) bool { return step.Is[step.Cams](st.Step) })
		}},
		{"lichen-kneeler", "a cam of the second bed left", func(pl *pass.Plan) bool {
			return without(pl, 0, func(st *pass.Step) bool {
				return step.Is[step.Cams](st.Step) && st.Bed() == machine.Second
			})
		}},
		{"wind-streamer", "a card a line off", func(pl *pass.Plan) bool {
			lines := slices.Clone(pl.Programs[0])
			pl.Programs[0] = append(lines[1:], lines[0])
			return true
		}},
		{"wind-streamer", "a card not set back", func(pl *pass.Plan) bool {
			return without(pl, 0, func(st *pass.Step) bool {
				card, ok := st.Step.(step.SetCard)
				return ok && card.Section == 0
			})
		}},
		{"lichen-kneeler", "a stitch size forgotten", func(pl *pass.Plan) bool {
			return without(pl, 0, func(st *pass.Step) bool { return step.Is[step.Size](st.Step) })
		}},
		{"lichen-kneeler", "a needle out of work", func(pl *pass.Plan) bool {
			return change(pl, 0, func(st *step.ToWork) { st.On.Remove(st.On.First()) })
		}},
		{"pole-flag", "a second yarn forgotten", func(pl *pass.Plan) bool {
			return without(pl, 0, func(st *pass.Step) bool {
				thread, ok := st.Step.(step.Thread)
				return ok && thread.Feeder == 2
			})
		}},
	} {
		p, err := technique.Read(recipe.Shipped(c.name).File)
		if err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(p)
		if f := technique.Prove(pl); !f.Matches() {
			t.Fatalf("%s: %s", c.name, f.First)
		}
		if !c.tamper(pl) {
			t.Errorf("%s, %s: nothing was altered", c.name, c.what)
			continue
		}
		f := technique.Prove(pl)
		if f.Differences == 0 {
			t.Errorf("%s, %s: the loops are said to be as they were meant; faults %v", c.name, c.what, f.Faults)
		} else if !strings.Contains(f.First, "line ") || !strings.Contains(f.First, "section 1") {
			t.Errorf("%s, %s: %s", c.name, c.what, f.First)
		}
	}
}

// wild writes a line of the grammar without care for what it does.
func (w *writer) wild() {
	var set func(deep int) string
	num := func() string {
		return w.pick("1", "2", "3", "1", "2", "tall", "width - 6", "2*1", "(3 - 1)", w.byTurns("[1, 2]", "2"),
			w.byTurns("round", "1"), w.byTurns("[1 step 1]", "3"))
	}
	set = func(deep int) string {
		if deep > 2 {
			return w.pick("all", "posts", "ends", "working", "none")
		}
		switch w.IntN(16) {
		case 0:
			return set(deep+1) + " and " + set(deep+1)
		case 1:
			return set(deep+1) + " but " + set(deep+1)
		case 2:
			return "(" + set(deep+1) + ")"
		case 3:
			return w.byTurns("["+set(deep+1)+", "+set(deep+1)+"]", "all")
		case 4:
			return "first 1 of each run of " + set(deep+1)
		case 5:
			return w.pick("first ", "last ", "place ") + num()
		case 6:
			return "every 3 from " + num() + w.pick("", " take 2", " take 2 cut")
		case 7:
			return "every 2 runs from 1 of " + set(deep+1)
		case 8:
			return "numbered " + num()
		case 9:
			return "inside " + num()
		case 10:
			return w.pick("working", "empty")
		case 11:
			return "(first 1 and last 1) of " + set(deep+1)
		}
		return w.pick("all", "ends", "posts", "fields", "L1", "L2-R2", "all but ends")
	}
	bed := func() string {
		if w.m.HasSecond() {
			return w.pick("", "", "main ", "second ", "second ")
		}
		return w.pick("", "", "main ")
	}
	yarn := func() string { return w.pick("A", "B", w.byTurns("[A, B]", "C"), "C") }
	deed := func() string {
		if w.IntN(6) == 0 {
			return "knit held"
		}
		return w.pick("knit ", "tuck ", "slip ", "knit ") + w.pick(set(0), "others") + w.pick("", "", "", " in A",
			" in A+B")
	}
	clause := func() string {
		s := deed()
		for w.IntN(3) == 0 {
			s += ", " + deed()
		}
		return s
	}
	switch w.IntN(26) {
	case 0, 1, 2, 3, 4:
		w.line("pass %s", num())
	case 5, 6, 7:
		w.line("pass %s: %s", num(), clause())
	case 8:
		if w.m.HasSecond() {
			w.line("pass %s: main %s | second %s", num(), clause(), clause())
		}
	case 9:
		if w.m.HasSecond() {
			w.line("pass 2: second %s", clause())
		}
	case 10:
		w.line("pass 1 free")
	case 11:
		w.line("work %s%s", bed(), set(0))
	case 12:
		w.line("hold %s%s", bed(), set(0))
	case 13:
		w.line("move %s%s %s", bed(), set(0), w.pick("left", "right", "left 2", "right 1"))
	case 14:
		w.line("cross %s with %s", set(0), set(0))
	case 15:
		w.line("knit by hand in %s: short %s, long %s", yarn(), set(0), set(0))
	case 16:
		w.line("wrap %sheld", bed())
	case 17:
		w.line("drop %s%s", bed(), set(0))
	case 18:
		w.line("%s %s%s", w.pick("cast on", "bind off", "take off"), bed(), set(0))
	case 19, 20:
		w.line("yarn %s", w.pick("A", yarn(), yarn(), "A and B"))
	case 21:
		w.line("size %s%s", w.pick("", "main "), w.pick("5", "4.2", "6 + 0.5"))
	case 22:
		if w.m.HasSecond() {
			w.line("rack %s %s", w.pick("4", "5", "6", "5 + 1"), w.pick("half", "full", "half"))
		}
	case 23:
		w.line("choose by %s", w.pick("hand", "card", "hand"))
	case 24:
		if w.m.HasSecond() {
			w.line("%s %s", w.pick("raise", "raise", "raise", "lower"), w.pick("main", "second"))
		}
	case 25:
		if w.m.HasSecond() {
			w.line("move second %s across", set(0))
		}
	}
}

func (w *writer) byTurns(in, out string) string {
	if w.deep > 0 {
		return in
	}
	return out
}

// TestWildRecipes: of recipes written without care more than half are stopped; where one is not, both roads
// agree, and up to where one stops the simulated machine finds no fault in the plan.
func TestWildRecipes(t *testing.T) {
	n, through := chance.Cases(1500), 0
	for i := range n {
		rng := chance.Rand(t, 77, uint64(i))
		file, m := randomRecipe(rng)
		w := &writer{Rand: rng, m: m}
		w.lines = []string{"param tall = 4", "name posts = every 4 from 3 of inside 1",
			"name fields = all but posts", "yarn A", "pass 2"}
		for range 2 + rng.IntN(7) {
			if rng.IntN(5) == 0 {
				w.line("repeat %s", w.pick("2", "3"))
				w.deep++
				w.wild()
				w.wild()
				w.deep--
				w.line("end")
			} else {
				w.wild()
			}
		}
		section := file["sections"].([]any)[0].(map[string]any)
		section["recipe"] = strings.Join(w.lines, "\n")
		if rng.IntN(2) == 0 {
			file["sections"] = append(file["sections"].([]any), map[string]any{"technique": "recipe",
				"recipe": "yarn B\npass 2: tuck place 3\npass"})
		}
		if rng.IntN(3) == 0 {
			file["end"] = map[string]any{"way": w.pick("latch", "chain", "drop")}
		}
		data, err := json.Marshal(file)
		if err != nil {
			t.Fatal(err)
		}
		p, err := technique.Read(data)
		if err != nil {
			continue // a number that cannot stand there
		}
		r := check.Run(p)
		if len(r.Fabric.Faults) > 0 || r.Fabric.Differences > 0 {
			t.Fatalf("recipe %d on %v: faults %v; %s\n%s", i, file["machine"], r.Fabric.Faults, r.Fabric.First,
				section["recipe"])
		}
		if !r.Stops() && r.Plan.Refused == nil {
			if through++; !r.Fabric.Matches() {
				t.Fatalf("recipe %d on %v: %s\n%s", i, file["machine"], r.Fabric.First, section["recipe"])
			}
		}
	}
	if t.Logf("%d of %d went through", through, n); through*20 < n {
		t.Errorf("only %d of %d went through", through, n)
	}
}
