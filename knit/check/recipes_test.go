package check_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/recipe"
	"vindel/knit/technique"
)

// changed is one of the shipped recipes with words of its text replaced, and members of its section
// set (a JSON object, "" for none).
func changed(t *testing.T, name, section string, replace ...string) *check.Result {
	t.Helper()
	var file map[string]any
	if err := json.Unmarshal(recipe.Shipped(name).File, &file); err != nil {
		t.Fatal(err)
	}
	sec := file["sections"].([]any)[0].(map[string]any)
	var lines []string
	for _, l := range sec["recipe"].([]any) {
		lines = append(lines, l.(string))
	}
	text := strings.Join(lines, "\n")
	now := strings.NewReplacer(replace...).Replace(text)
	if len(replace) > 0 && now == text {
		t.Fatalf("%s: %v changes nothing", name, replace)
	}
	sec["recipe"] = now
	if section != "" {
		if err := json.Unmarshal([]byte(section), &sec); err != nil {
			t.Fatal(err)
		}
	}
	data, err := json.Marshal(file)
	if err != nil {
		t.Fatal(err)
	}
	p, err := technique.Read(data)
	if err != nil {
		t.Fatal(err)
	}
	return check.Run(p)
}

// sum is what a recipe came to, in the words of the table of the rules.
func sum(r *check.Result) string {
	t := r.Plan.Totals
	of := t.Recipe[0]
	var yarns []string
	for _, y := range r.Plan.Piece.Yarns {
		for _, kind := range strings.Fields("knit second strand wrap short long cast") {
			if n := of.Loops[string(y.ID)][kind]; n > 0 {
				yarns = append(yarns, fmt.Sprintf("%c %s %d", y.ID, kind, n))
			}
		}
	}
	most := r.Plan.Recipes[0].Run.Totals.Passes
	last := r.Plan.Passes[len(r.Plan.Passes)-1]
	return fmt.Sprintf("%d passes, %d knitted, %d free; %d threadings, %d cuts; %v; %s; let go %d %d; hands %v; most "+
		"%d; passes %v; card %v, %d read; %v",
		t.Passes, t.Knitted, of.Free, t.Threadings, t.Cuts, of.Rounds, strings.Join(yarns, ", "), of.LetGo.Pile,
		of.LetGo.Run, of.Hands,
		of.Most, most, of.Card, t.Lines, last.Dir)
}

// TestShippedRecipes: the eight recipes of the rules come to their totals, and the fabric of their
// plans is, loop by loop, what they mean.
func TestShippedRecipes(t *testing.T) {
	for name, want := range map[string]string{
		"lichen-kneeler": "236 passes, 124 knitted, 0 free; 37 threadings, 0 cuts; map[row of pile:56]; A knit " +
			"2376, A second 494, A strand 1672, B knit 864, B second 234, B strand 792; let go 728 0; hands {26 0 0 " +
			"0 0}; most 2; passes [124 68]; card {0 0}, 0 read; right",
		"hail-cushion": "124 passes, 124 knitted, 0 free; 29 threadings, 0 cuts; map[band of hail:14]; A " +
			"knit 2080, B knit 1440, B strand 1056, C knit 1080, C strand 792; let go 0 0; hands {0 0 0 0 0}; most " +
			"7; passes [124 82]; card {0 0}, 0 read; right",
		"rain-curtain": "112 passes, 112 knitted, 0 free; 31 threadings, 0 cuts; map[panel:5]; A knit 2381, " +
			"A strand 255, B knit 900, B strand 160, C short 225, C long 225, D knit 1745, D strand 255; let go 0 0; " +
			"hands {250 80 50 450 0}; most 5; passes [112 32]; card {0 0}, 0 read; right",
		"wind-streamer": "4345 passes, 4344 knitted, 1 free; 3 threadings, 0 cuts; map[wedge:72]; A knit " +
			"66960, W knit 705; let go 0 0; hands {30 0 0 0 0}; most 1; passes [4343 168]; card {30 71}, 2159 " +
			"read; left",
		"the-streamer-by-hand": "182 passes, 182 knitted, 0 free; 1 threadings, 0 cuts; map[wedge:3]; A knit 2850, A " +
			"wrap 87; let go 0 0; hands {87 0 0 0 87}; most 2; passes [182 8]; card {0 0}, 0 read; right",
		"gale-curtain": "536 passes, 536 knitted, 0 free; 3 threadings, 0 cuts; map[band:85]; A knit 72536, " +
			"A strand 8160, W knit 1848, W cast 154; let go 0 0; hands {2194 0 0 0 0}; most 5; passes [536 196]; " +
			"card {0 0}, 0 read; right",
		"pole-flag": "78 passes, 78 knitted, 0 free; 2 threadings, 0 cuts; map[]; A knit 2625, A second " +
			"3388, B knit 840, B second 2112; let go 0 0; hands {89 0 0 0 0}; most 1; passes [77 77]; card {6 0}, 48 " +
			"read; right",
		"frost-square": "121 passes, 121 knitted, 0 free; 1 threadings, 0 cuts; map[]; A knit 5985, A second " +
			"7021, A strand 1215; let go 0 0; hands {178 59 0 0 0}; most 3; passes [110 83]; card {54 1}, 57 " +
			"read; left",
	} {
		r := changed(t, name, "")
		if got := sum(r); got != want {
			t.Errorf("%s:\n got %s\nwant %s", name, got, want)
		}
		found := strings.Join(list(r), "; ")
		if !r.Fabric.Matches() || found != map[string]string{"wind-streamer": "note turn-hole"}[name] {
			t.Errorf("%s: matches %t, %s; %s", name, r.Fabric.Matches(), found, r.Fabric.First)
		}
	}
}

// list is the findings as severity and code.
func list(r *check.Result) (out []string) {
	for _, f := range r.Findings {
		out = append(out, fmt.Sprintf("%v %s", f.Severity, f.Code))
	}
	return out
}

// TestChangedRecipes: what the rules say that each of these changes gives.
func TestChangedRecipes(t *testing.T) {
	for _, c := range []struct {
		name, section string
		replace       []string
		codes         string // of what is found, the gravest first
		text          string // in the first of them
		passes        int    // -1: not asked
		loops         string // "yarn kind n", where it is asked
	}{
		{"lichen-kneeler", "", []string{"  drop second tufts\n", ""}, "stop recipe-check",
			"L21,L18,L15,L12,L9,L6,L3,R1,R4,R7,R10,R13,R16", 8, ""},
		{"lichen-kneeler", "", []string{"rack 6 half", "rack 6 full"}, "stop beds-collide",
			"L20,L17,L14,L11,L8,L5,L2,R2,R5,R8,R11,R14,R17", 6, ""},
		{"lichen-kneeler", "", []string{"rack 6", "rack 1"}, "warn second-edge", "L21", 236, "A strand 1672"},
		{"lichen-kneeler", "", []string{"pass 1 right ", "pass 1 right: main knit all | second knit tufts ;"},
			"warn drop-runs", "1 row", 236, "run 728"},
		{"hail-cushion", `{"with": {"wide": 5}}`, nil, "stop recipe-width", "45 or 55", 0, ""},
		{"hail-cushion", `{"with": {"tall": 5}}`, nil, "stop recipe-check; warn yarn-far-side", "2 of 14", -1,
			"cuts 1"},
		{"rain-curtain", "", []string{"pass 2: knit held", "pass 2"}, "stop recipe-check",
			"L21,L15,L9,L3,R4,R10,R16,R22", -1, ""},
		{"wind-streamer", "", []string{"pass 2: slip", "pass 3: slip"}, "stop recipe-reader", "", 19, ""},
		{"wind-streamer", "", []string{"slip first", "slip last"}, "warn float-long; note turn-hole", "28 needles",
			4345, "A knit 66960"},
		{"wind-streamer", `{"joined": true}`, nil, "note turn-hole", "", 4345, "back 0"},
		{"the-streamer-by-hand", `{"with": {"wrapped": 0}}`, nil, "note turn-hole", "87 holes", 182, "A wrap 0"},
		{"gale-curtain", "", []string{" but ends", ""}, "warn edge-not-knit; note turn-hole", "L78", 536,
			"A knit 72196"},
		{"pole-flag", "", []string{"knit others in A", "tuck ends, knit others in A"}, "stop recipe-ways", "", 18, ""},
		{"frost-square", "", []string{"pass 7:", "pass 8:"}, "stop recipe-check", "carriage stands on the right", -1,
			""},
		{"frost-square", "", []string{"rack 5 full\n", ""}, "stop transfer-off", "L31", -1, ""},
	} {
		r := changed(t, c.name, c.section, c.replace...)
		at := fmt.Sprintf("%s %s %q", c.name, c.section, c.replace)
		if got := strings.Join(list(r), "; "); got != c.codes {
			t.Errorf("%s: found %s, want %s", at, got, c.codes)
			continue
		}
		if f := r.Findings[0]; !strings.Contains(f.Text+" "+finding.Said(f.Round), c.text) {
			t.Errorf("%s: %q does not say %q", at, f.Text, c.text)
		}
		if n := len(r.Plan.Passes); c.passes >= 0 && n != c.passes {
			t.Errorf("%s: %d passes, want %d", at, n, c.passes)
		}
		if c.loops == "" {
			continue
		}
		of, have := r.Plan.Totals.Recipe[0], ""
		switch words := strings.Fields(c.loops); words[0] {
		case "run":
			have = fmt.Sprintf("run %d", of.LetGo.Run-of.LetGo.Pile)
		case "cuts":
			have = fmt.Sprintf("cuts %d", r.Plan.Totals.Cuts)
		case "back":
			have = fmt.Sprintf("back %d", of.Card.SetBack)
		default:
			have = fmt.Sprintf("%s %s %d", words[0], words[1], of.Loops[words[0]][words[1]])
		}
		if have != c.loops {
			t.Errorf("%s: %s, want %s", at, have, c.loops)
		}
	}
}

// TestPileRow: the first row of pile is, to the word, that of the rules.
func TestPileRow(t *testing.T) {
	r := changed(t, "lichen-kneeler", "")
	var out strings.Builder
	if err := r.Plan.WriteJSON(&out, nil); err != nil {
		t.Fatal(err)
	}
	var plan struct {
		Passes []map[string]any `json:"passes"`
	}
	if err := json.Unmarshal([]byte(out.String()), &plan); err != nil {
		t.Fatal(err)
	}
	var want map[string]any
	json.Unmarshal([]byte(`{ "n": 7, "section": 1, "carriage": "knit", "dir": "left", "row": 7, "line": 0,
		"counter": 7, "select": "L24,R22", "sets": "", "hold": "", "feeders": ["A", ""],
  "cams": { "selected": "knit", "unselected": "tuck", "held": "hold" }, "size": "6", "rack": 6, "pitch": "half",
  "second": { "needles": "L21,L18,L15,L12,L9,L6,L3,R1,R4,R7,R10,R13,R16", "select": "", "hold": "", "cams": {
	"selected": "knit", "unselected": "knit", "held": "hold" }, "setting": "second-every", "size": "4" },
  "round": [{ "word": "row of pile", "n": 1, "of": 56 }], "source": 16, "lays": [] }`), &want)
	for key, v := range want {
		if got, w := fmt.Sprint(plan.Passes[6][key]), fmt.Sprint(v); got != w {
			t.Errorf("%s: %s, want %s", key, got, w)
		}
	}
}

// TestRemarks: what is found while a recipe runs, at its limits, below and above.
func TestRemarks(t *testing.T) {
	begin := "yarn A\npass 1\n" // to the left, on L6 to R6
	for _, c := range []struct{ text, want string }{
		{begin + "pass 5: tuck R3\npass", ""},
		{begin + "pass 6: tuck R3\npass", "tuck-stack 3 R3"},
		{begin + "hold R3\npass 5\nwork R3\npass", ""},
		{begin + "hold R3\npass 6\nwork R3\npass", "tuck-stack 4 R3"},

		{begin + "hold last 4\npass\npass", "turn-hole 4 R3"},
		{begin + "hold last 4\npass\nyarn B\npass", ""},
		{begin + "hold last 4\npass\nwork last 4\npass", ""},
		{begin + "hold last 4\npass\nwrap R3\npass", ""},
		{begin + "hold last 4\npass\nwrap R4\npass", "turn-hole 4 R3, wrap-far 5 R4"},
		{begin + "drop R3\nhold last 4\npass\npass", "drop-runs 3 R3"},
		{begin + "hold last 4\npass\npass free\npass", ""},

		{begin + "work second R5\npass: main knit all | second knit all", ""},
		{begin + "work second R6\npass: main knit all | second knit all", "second-edge 4 R6"},
		{begin + "rack 4\nwork second R6,L5\npass: main knit all | second knit all", ""},
		{begin + "rack 4\nwork second R6,L6\npass: main knit all | second knit all", "second-edge 5 L6"},

		{begin + "work second R2\npass: main knit all | second knit all\nrack 7\npass", ""},
		{begin + "work second R2\npass: main knit all | second knit all\nrack 8\npass", "rack-far 5 R2"},
		{begin + "work second R2\npass: main knit all | second knit all\nrack 3\npass", ""},
		{begin + "work second R2\npass: main knit all | second knit all\nrack 2\npass", "rack-far 5 R2"},
		{begin + "work second R2\npass: main knit all | second knit all\nrack 7\nrack 9\npass", "rack-far 6 R2"},
		{begin + "work second R2\nrack 8\npass: main knit all | second knit all", ""},

		{begin + "cross L6 with L2\npass", ""},
		{begin + "cross L6 with L1\npass", "cross-far 3 L6,L1"},

		{begin + "pass: slip L6\npass", "edge-not-knit 3 L6"},
		{begin + "pass: slip L6-L5\npass", ""},
		{begin + "pass: slip L6", ""},

		{begin + "repeat 4\nrack [5, 6]\npass\nend", ""},
		{begin + "repeat 2\nmove L3 right\nout L3\nend", "recipe-empty 4 L3"},
		{begin + "repeat 4\npass 2: slip L3 but L3\nend", "recipe-idle 4"},
		{begin + "repeat 2\nhold first round - 1\npass\nend\nwork all", ""},
	} {
		file := map[string]any{"vindel": 1, "machine": map[string]any{"profile": "two-bed-pairs"}, "start": "right",
			"yarns":   []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}},
			"needles": map[string]any{"from": "L6", "to": "R6"},
			"second":  map[string]any{"from": "L6", "to": "R6"}, "limits": map[string]any{"tuck": 5},
			"sections": []any{map[string]any{"technique": "recipe", "recipe": c.text}}}
		data, _ := json.Marshal(file)
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, f := range check.Run(p).Findings {
			got = append(got, strings.TrimSpace(fmt.Sprintf("%s %d %v", f.Code, f.Source, f.Needles)))
		}
		slices.Sort(got)
		if said := strings.Join(got, ", "); said != c.want {
			t.Errorf("%q: %q, not %q", c.text, said, c.want)
		}
	}
}

// TestRecipeOnMachines: needles that share a column of the card do the same; held needles catch the yarn
// where the machine lets them.
func TestRecipeOnMachines(t *testing.T) {
	run := func(machine map[string]any, text string) *check.Result {
		file := map[string]any{"vindel": 1, "machine": machine, "start": "right",
			"yarns":    []any{map[string]any{"id": "A"}},
			"needles":  map[string]any{"from": "L15", "to": "R15"},
			"sections": []any{map[string]any{"technique": "recipe", "recipe": text}}}
		data, _ := json.Marshal(file)
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		return check.Run(p)
	}
	// 24 columns: L15 and R10 share one; the right one of the two is named
	card := map[string]any{"profile": "card-preselect"}
	for text, want := range map[string]string{
		"tuck L14": "width-tile R11", "tuck L14,R11": "", "tuck L8": "", "slip R15": "width-tile R15",
	} {
		r := run(card, "yarn A\npass 2\nchoose by card\npass 2: "+text+"\npass 2\nchoose by hand\npass 2")
		got := ""
		for _, f := range r.Findings {
			if f.Code == finding.WidthTile {
				got = fmt.Sprintf("%s %v", f.Code, f.Needles)
			}
		}
		if got != want || want == "" && !r.Fabric.Matches() {
			t.Errorf("%s: %q, not %q; %s", text, got, want, r.Fabric.First)
		}
	}
	for catch, strands := range map[string]int{"catches": 3, "passes": 0} {
		r := run(map[string]any{"profile": "hand-mid", "held_catch": catch},
			"yarn A\npass 2\nhold L3\npass 3\nwork L3\npass")
		if got := r.Plan.Totals.Recipe[0].Loops["A"]["strand"]; got != strands || r.Fabric.Tucks != strands ||
			!r.Fabric.Matches() {
			t.Errorf("%s: %d strands meant, %d made; %s", catch, got, r.Fabric.Tucks, r.Fabric.First)
		}
	}
}
