package recipe_test

import (
	"encoding/json"
	"fmt"
	"regexp"
	"strings"
	"testing"

	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/technique"
)

// on is a small piece for recipes: yarns A to D, a chart "ripple" of two rows.
func on(t testing.TB, profile, from, to, text string) (*piece.Piece, error) {
	t.Helper()
	data, err := json.Marshal(map[string]any{"vindel": 1, "name": "t", "machine": map[string]any{"profile": profile},
		"yarns":    []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}},
		"charts":   map[string]any{"ripple": map[string]any{"side": "knit", "rows": []string{"#..", "..#"}}},
		"needles":  map[string]any{"from": from, "to": to},
		"sections": []any{map[string]any{"technique": "recipe", "recipe": text}}})
	if err != nil {
		t.Fatal(err)
	}
	return technique.Read(data)
}

// TestSets: the table of the rules, on L8 to R9: each set is held, and the needles in hold are its.
func TestSets(t *testing.T) {
	for set, want := range map[string]string{
		"all": "L8-R9", "ends": "L8,R9", "first 3": "L8-L6", "last 0": "", "inside 2": "L6-R7", "place 4": "L5",
		"every 6 from 6": "L3,R4", "every 5 from 2 take 2": "L7-L6,L2-L1,R4-R5", "every 7 from 1 take 4": "L8-L5,L1-R3",
		"every 7 from 1 take 4 cut": "L8-L5,L1-R3,R7-R9", "numbered 3": "L6,L3,R3,R6,R9", "L2-R1,R4": "L2-R1,R4",
		"all but every 6 from 6": "L8-L4,L2-R3,R5-R9", "middle of each run of all but every 6 from 6": "L6,R1,R7",
		"every 2 runs from 2 of all but every 6 from 6": "L2-R3",
		"first 1 of each run of all but every 6 from 6": "L8,L2,R5",
		"every 3 from 1 of inside 2":                    "L6,L3,R1,R4,R7", "first 2 of last 5 of all": "R5-R6",
		"ends and place 5":         "L8,L4,R9",
		"all but ends and place 5": "L7-L5,L3-R8", "(all but ends) and place 1": "L8-R8",
		"first 1 and last 1 of inside 3":   "L8,R6",
		"(first 1 and last 1) of inside 3": "L5,R6", "ends of each run of L7-L5,R1-R4": "L7,L5,R1,R4",
		"middle": "R1", "none": "",
	} {
		p, err := on(t, "hand-mid", "L8", "R9", "hold "+set)
		if err != nil {
			t.Errorf("%s: %v", set, err)
			continue
		}
		rec, _ := recipe.Read(p.Sections[0].Recipe, recipe.Ground{Piece: p})
		run := rec.Go(t.Context(), recipe.Ground{Piece: p}, 1, recipe.Start{Side: machine.Right,
			Work: [2]machine.Set{p.Work()}})
		if got := run.Held()[machine.Main].String(); got != want {
			t.Errorf("%s: %q, want %q", set, got, want)
		}
	}
}

// lines are examples of every line of the grammar, and of what cannot stand there: ^ marks where the
// fault is told. A line of its own before it is parted by a slash.
var lines = []struct{ good, bad string }{
	{`param wide = 4 from 2 to 6 "stitches"`, `param wide =^`},
	{`param wide = 4`, `param ^in = 3`},
	{`param wide = 2*width + 1`, `param wide = ^9 from 2 to 6`},
	{`fits 2 plus 1`, `fits 2 plus^`},
	{`starts bare`, `starts^`},
	{`name posts = every 3 from 2`, `name ^x = all`},
	{`name posts = second all`, `name posts ^all`},
	{`repeat 2 "word" / end`, `^repeat 2`},
	{`pass`, `pass ^0`},
	{`pass 2 left`, `pass 2 left ^right`},
	{`pass 2 right free`, `pass ^1.5`},
	{`pass: tuck ends, slip place 3, knit others in A`, `pass: ^work all`},
	{`pass: main knit all | second knit all in A+B`, `pass: main knit all | ^main tuck ends`},
	{`pass: knit held in B, knit others`, `pass: tuck ^held`},
	{`work all`, `work^`},
	{`hold second all`, `hold ^posts`},
	{`out none`, `out ^L99`},
	{`drop L3-L2`, `drop ^L2-L3`},
	{`wrap ends`, `wrap ends ^1`},
	{`move place 3 left 2`, `move place 3 ^up`},
	{`move second all across`, `move place 3 left ^0`},
	{`cross first 2 with last 2`, `cross first 2 ^last 2`},
	{`knit by hand in A: short ends, long place 3`, `knit by hand in A: ^ends`},
	{`cast on all`, `cast ^all`},
	{`bind off all`, `bind off^`},
	{`take off second all`, `take off^`},
	{`yarn none`, `yarn ^Q`},
	{`yarn A and B`, `yarn A and ^A`},
	{`size main 4.2`, `size ^4.25`},
	{`rack 6 half`, `rack ^11`},
	{`choose by card`, `choose by ^foot`},
	{`follow ripple at L3 row 2 each 2`, `follow ^ribbon at L3`},
	{`follow "ripple" at L3`, `follow ripple at ^L3-L2`},
	{`counter 0`, `counter^`},
	{`weights up every 3`, `weights ^down`},
	{`lower main`, `lower ^all`},
	{`raise second`, `raise^`},
	{`attach "a part"`, `attach ^part`},
	{`remove "a part" ; and why`, `remove ^"a part`},
	{`note "word"`, `note^`},
	{`look "word"`, `look "a" ^"b"`},
	{`check carriage left`, `check carriage ^up`},
	{`check single second all`, `check ^double all`},
	{`hold (all but ends) of each run of every 4 from 1 take 3`, `hold (all but ends^`},
	{`repeat 3 / hold [ends, place 3] / end`, `hold ^[ends, place 3]`},
	{`repeat 3 / pass [2 step 1] / end`, `pass ^round`},
	{`repeat 3 / yarn [A, B] / end`, `repeat 2 / yarn [A, ^[A, B]] / end`},
	{`hold working and held and empty`, `hold ^others`},
	{`hold numbered 4`, `hold every 3 from 1 take ^4`},
	{`hold every 2 runs from 1 of all`, `hold every 2 runs ^2`},
	{`hold inside 4`, `hold inside ^13`},
	{`hold last 24`, `hold first ^25`},
	{`hold middle of first 3`, `hold ^middle`},
}

// TestLines: every line of the grammar reads, and prints itself so that it reads the same again; and
// what cannot stand there is told at its place.
func TestLines(t *testing.T) {
	text := func(s string) string { return strings.ReplaceAll(s, " / ", "\n") }
	for _, c := range lines {
		p, err := on(t, "two-bed-pairs", "L12", "R12", text(c.good))
		if err != nil {
			t.Errorf("%s: %v", c.good, err)
			continue
		}
		rec, _ := recipe.Parse(p.Sections[0].Recipe)
		again, errs := recipe.Parse(rec.String())
		if len(errs) > 0 || again.String() != rec.String() {
			t.Errorf("%s: printed as %q: %v", c.good, rec, errs)
		}
		bad := text(c.bad)
		at := strings.IndexByte(bad, '^')
		line := 1 + strings.Count(bad[:at], "\n")
		column := at - strings.LastIndexByte(bad[:at], '\n')
		_, err = on(t, "two-bed-pairs", "L12", "R12", strings.Replace(bad, "^", "", 1))
		want := fmt.Sprintf("sections[0].recipe: line %d, column %d: ", line, column)
		if err == nil || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("%s: %v, want %s", c.bad, err, want)
		}
	}
}

// TestAllFaults: every fault of a text is told, in its order; a name whose own line has a fault is
// not told again where it is used.
func TestAllFaults(t *testing.T) {
	p, err := on(t, "hand-mid", "L12", "R12", "yarn A")
	if err != nil {
		t.Fatal(err)
	}
	_, errs := recipe.Read("name posts = evry 6\nyarn Q\nhold posts\npass 0\nrepeat 2\nparam x1 = 3\n",
		recipe.Ground{Piece: p})
	var got []string
	for _, e := range errs {
		got = append(got, fmt.Sprintf("%d:%d", e.Line, e.Col))
	}
	if s := strings.Join(got, " "); s != "1:14 1:19 2:6 4:6 5:1 6:1" {
		t.Errorf("%s: %v", s, errs)
	}
	if s := errs.Error(); !strings.HasPrefix(s, errs[0].Error()) || !strings.HasSuffix(s, "(and 5 more)") {
		t.Errorf("all of them: %s", s)
	}
}

// TestFaultsOfRunning: what only shows when the recipe runs is bad input too, at its place; a stop
// before it comes first.
func TestFaultsOfRunning(t *testing.T) {
	for text, want := range map[string]string{
		"yarn A\nrepeat 2\npass [1, 0]\nend":                                                    "3:6",
		"yarn A\nrepeat 2\nhold first [1 step 30]\nend":                                         "3:12",
		"yarn A\npass: tuck marks ripple":                                                       "2:18",
		"repeat 0\nname posts = all\nend\nhold posts":                                           "4:6",
		"repeat 1000\nrepeat 1000\nend\nend":                                                    "2:1",
		"yarn A\nrepeat 2\nyarn [A, B] and B\nend":                                              "",
		"check carriage left\nrepeat 1\npass [0]\nend":                                          "",
		"param wide = 1.5\npass wide":                                                           "2:6",
		"yarn A\npass\nhold middle of all but first 1 and last 1":                               "3:6",
		"yarn A\nrepeat 1\nhold inside [12]\nend":                                               "",
		"yarn A\nrepeat 1\nhold inside [13]\nend":                                               "3:13",
		"yarn A\nhold every 4 from 1\npass\nhold inside 4 of working but held and ends of held": "",
	} {
		p, err := on(t, "hand-mid", "L12", "R12", text)
		if err != nil {
			t.Errorf("%q: %v", text, err)
			continue
		}
		rec, _ := recipe.Read(text, recipe.Ground{Piece: p})
		run := rec.Go(t.Context(), recipe.Ground{Piece: p}, 1, recipe.Start{Side: machine.Right,
			Work: [2]machine.Set{p.Work()}})
		got := ""
		if run.Err != nil {
			got = fmt.Sprintf("%d:%d", run.Err.Line, run.Err.Col)
		}
		if got != want {
			t.Errorf("%q: fault at %q, want %q: %v", text, got, want, run.Err)
		}
	}
}

// TestFollowed: a chart for the knit side is mirrored on a far bed and not on a near one, one for the purl side the
// other way about; its rows come in turn, from the one that is named.
func TestFollowed(t *testing.T) {
	for _, c := range []struct{ machine, side, want string }{
		{"card-preselect", "knit", "L4,L1,R3,R6 L6,L3,R1,R4 L4,L1,R3,R6"}, // ripple, row 2: #.. lies as ..#
		{"card-preselect", "purl", "L6,L3,R1,R4 L4,L1,R3,R6 L6,L3,R1,R4"},
		{"two-bed-pairs", "knit", "L6,L3,R1,R4 L4,L1,R3,R6 L6,L3,R1,R4"}, // the near bed
		{"two-bed-pairs", "purl", "L4,L1,R3,R6 L6,L3,R1,R4 L4,L1,R3,R6"},
	} {
		text := "yarn A\nfollow ripple at L6 row 2\nrepeat 3\npass: slip marks ripple\nend"
		p, err := on(t, c.machine, "L6", "R6", text)
		if err != nil {
			t.Fatal(err)
		}
		if c.side == "purl" {
			p.Charts["ripple"].Face = chart.PurlSide
		}
		rec, _ := recipe.Read(text, recipe.Ground{Piece: p})
		run := rec.Go(t.Context(), recipe.Ground{Piece: p}, 1,
			recipe.Start{Side: machine.Right, Work: [2]machine.Set{p.Work()}})
		var got []string
		for _, a := range run.Acts {
			if a.Pass == nil {
				continue
			}
			for _, g := range a.Pass.Beds[machine.Main].Groups {
				if g.Do == machine.Slip {
					got = append(got, g.Needles.String())
				}
			}
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s, %s side: %v, want %s; %v", c.machine, c.side, got, c.want, run.Found)
		}
	}
}

// TestShippedTexts: the recipes that ship read, print themselves, and read the same again; the small
// ones run on a plain machine.
func TestShippedTexts(t *testing.T) {
	for name, text := range recipe.Small {
		p, err := on(t, "hand-mid", "L12", "R12", "yarn A\n"+strings.ReplaceAll(text, "starts bare\n", ""))
		if strings.Contains(text, "param") {
			p, err = on(t, "hand-mid", "L12", "R12", text)
		}
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		rec, errs := recipe.Parse(text)
		again, errs2 := recipe.Parse(rec.String())
		if len(errs)+len(errs2) > 0 || again.String() != rec.String() || p == nil {
			t.Errorf("%s: %v %v", name, errs, errs2)
		}
	}
	if len(recipe.Examples) != 8 || len(recipe.Small) < 3 {
		t.Errorf("%d and %d ship", len(recipe.Examples), len(recipe.Small))
	}
}

var place = regexp.MustCompile(`^line \d+, column \d+: `)

// FuzzRead: whatever is typed is read or refused with places inside it; what reads prints itself and
// reads the same again.
func FuzzRead(f *testing.F) {
	for _, c := range lines {
		f.Add(c.good)
		f.Add(c.bad)
	}
	for _, e := range recipe.Examples {
		var file struct {
			Sections []struct{ Recipe []string }
		}
		if err := json.Unmarshal(e.File, &file); err != nil {
			f.Fatal(err)
		}
		f.Add(strings.Join(file.Sections[0].Recipe, "\n"))
	}
	p, err := on(f, "two-bed-pairs", "L12", "R12", "yarn A")
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(t *testing.T, text string) {
		if len(text) > 2000 {
			return
		}
		g := recipe.Ground{Piece: p}
		rec, errs := recipe.Read(text, g)
		for _, e := range errs {
			if e.Line < 1 || e.Line > 1+strings.Count(text, "\n") || e.Col < 1 || !place.MatchString(e.Error()) {
				t.Errorf("%q: a fault at %d, %d", text, e.Line, e.Col)
			}
		}
		if len(errs) > 0 {
			return
		}
		again, errs := recipe.Read(rec.String(), g)
		if len(errs) > 0 || again.String() != rec.String() {
			t.Fatalf("%q prints as %q, which gives %v", text, rec, errs)
		}
		if run := rec.Go(t.Context(), g, 1, recipe.Start{Side: machine.Right, Work: [2]machine.Set{p.Work()},
			Rack: 5}); run.Err != nil && run.Err.Line < 1 {
			t.Errorf("%q: %v", text, run.Err)
		}
	})
}
