package lines_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/card"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/lines"
	"vindel/knit/machine"
	"vindel/knit/technique"
)

// document is a piece of 24 needles with a lace section of a chart, between two plain rows and two more.
func document(t *testing.T, profile string, drawing map[string]any, section map[string]any) *edit.Document {
	t.Helper()
	sec := map[string]any{"technique": "lace", "yarn": "A", "areas": []any{map[string]any{"chart": "c"}}}
	for k, v := range section {
		sec[k] = v
	}
	plain := map[string]any{"technique": "plain", "rows": 2, "yarn": "A"}
	data, err := json.Marshal(map[string]any{"vindel": 1, "name": "lines",
		"machine": map[string]any{"profile": profile},
		"yarns":   []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}}, "charts": map[string]any{"c": drawing},
		"needles": map[string]any{"from": "L12", "to": "R12"}, "sections": []any{plain, sec, plain}})
	if err != nil {
		t.Fatal(err)
	}
	d, err := edit.Parse(data)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func run(t *testing.T, d *edit.Document) *check.Result {
	t.Helper()
	p, err := technique.Piece(d)
	if err != nil {
		t.Fatalf("%v\n%s", err, d.JSON())
	}
	return check.Run(p)
}

// typed is a chart of lines as they are typed.
func typed(t *testing.T, text string) map[string]any {
	t.Helper()
	list, err := lines.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	return map[string]any{"lines": lines.Doc(list)}
}

// TestLinesAsTheyStand: the example of the rules, and what lines do that no chart draws: fine and open by turns, more
// rows than two, a yarn of their own, and an end in transfers, which the next section knits off.
func TestLinesAsTheyStand(t *testing.T) {
	for _, c := range []struct{ name, profile, text, passes, stops string }{
		{"the rules' example", "program-preselect", ".....  knit 2\n.#...",
			"K< K> L> L<:L11,L6,L1,R5,R10 K< K> K< K>", ""},
		{"selected and moved at once", "card-direct", "...... knit 2\n.#....",
			"K< K> L>:L11,L5,R2,R8 L< K< K> K< K>", ""},
		{"fine, then open", "program-preselect", "...... knit 2\n.#.... open\n...... knit 4\n...#.. fine",
			"K< K> L> L<:L9!,L3!,R4!,R10! K< K> K< K> L> L<:L11,L5,R2,R8 K< K> K< K>", ""},
		{"to the right: the first line is blank", "program-preselect", "..... knit 2\n.....\n.#...\n.....",
			"K< K> L> L< L>:L11,L6,L1,R5,R10 L< K< K> K< K>", ""},
		{"rows without a memo: two", "program-preselect", ".....\n.#...", "K< K> L> L<:L11,L6,L1,R5,R10 K< K> K< K>",
			""},
		{"it ends in transfers", "program-preselect", ".....\n.#...\n..... knit 2\n.....",
			"K< K> L> L< K< K> L> L<:L11,L6,L1,R5,R10 K< K>", ""},
		{"an odd number", "program-preselect", "..... knit 2\n.....\n.#...", "", "carriage-side"},
		{"neighbours", "program-preselect", "..... knit 2\n.##..", "", "stitch-dropped"},
		{"off the end", "program-preselect", "..... knit 2\n#....", "", "transfer-off"},
		{"no lace carriage", "hand-mid", "..... knit 2\n.#...", "", "technique-machine"},
	} {
		r := run(t, document(t, c.profile, typed(t, c.text), nil))
		var got []string
		for i := range r.Plan.Passes {
			p := &r.Plan.Passes[i]
			word := map[machine.Carriage]string{machine.KnitCarriage: "K", machine.LaceCarriage: "L"}[p.Carriage] +
				map[machine.Side]string{machine.Left: "<", machine.Right: ">"}[p.Dir]
			if on := p.Main().Select; p.Carriage == machine.LaceCarriage && !on.Empty() {
				mark := ""
				if p.Main().Setting.Fine {
					mark = "!"
				}
				word += ":" + strings.ReplaceAll(on.String(), ",", mark+",") + mark
			}
			got = append(got, word)
		}
		stops := ""
		for _, f := range r.Findings {
			if f.Severity == finding.Stop {
				stops = string(f.Code)
				break
			}
		}
		if stops != c.stops || c.stops == "" && (strings.Join(got, " ") != c.passes || !r.Fabric.Matches()) {
			t.Errorf("%s: %s, stops %q, %s %v", c.name, strings.Join(got, " "), stops, r.Fabric.First, r.Fabric.Faults)
		}
	}
	fabric := run(t, document(t, "program-preselect", typed(t, ".....\n.#...\n..... knit 2\n....."), nil)).Fabric
	if fabric.Eyelets != 5 || fabric.Doubled != 5 {
		t.Errorf("transfers at the end: %d eyelets, %d doubled", fabric.Eyelets, fabric.Doubled)
	}
	odd := document(t, "program-preselect", typed(t, "..... knit 2 yarn B\n.....\n.#..."), nil)
	for _, f := range run(t, odd).Findings {
		if f.Code == "carriage-side" {
			if _, err := odd.Apply(f.Remedy()); err != nil {
				t.Fatal(err)
			}
		}
	}
	if r := run(t, odd); r.Stops() || !r.Fabric.Matches() || r.Plan.Piece.Charts["c"].Lines[3].Knit != 2 ||
		r.Plan.Piece.Charts["c"].Lines[2].Knit != 0 {
		t.Errorf("a blank line after an odd number: %v", r.Findings)
	}
	// What the last line selects is moved where the lace carriage goes on at once, and is in the program in any case.
	on := run(t, document(t, "program-preselect", typed(t, ".#...\n.....\n..... knit 2\n.#..."),
		map[string]any{"rows": 4}))
	if got := passes(on); !strings.Contains(got, "lrL11,L6,L1,R5,R10 llL11,L6,L1,R5,R10 kl") ||
		!on.Fabric.Matches() || card.MakeProgram(on.Plan, 2).Line(4) != ".#..." {
		t.Errorf("the lace carriage goes on: %s, %s", got, on.Fabric.First)
	}
	idle := run(t, document(t, "program-preselect", typed(t, ".#... knit 2\n....."), nil))
	if !idle.Fabric.Matches() || idle.Fabric.Eyelets != 0 || card.MakeProgram(idle.Plan, 2).Line(2) != ".#..." {
		t.Errorf("a last line that nothing moves: %s", idle.Fabric.First)
	}
	yarns := run(t, document(t, "program-preselect", typed(t, "..... knit 2 yarn B\n.#...\n..... knit 2\n.#..."),
		nil)).Plan
	var order string
	for i := range yarns.Passes {
		if p := &yarns.Passes[i]; p.Carriage == machine.KnitCarriage {
			order += yarns.Piece.YarnID(p.Yarn(1))
		}
	}
	if order != "AAAABBAA" {
		t.Errorf("yarns by the memo: %s", order)
	}
}

// TestRandomLines: whatever lines are given, what they are said to make is what the simulated carriage makes, or a
// finding says what stands in the way.
func TestRandomLines(t *testing.T) {
	rng := chance.Rand(t, 5, 5)
	done := 0
	for range chance.Cases(2500) {
		w := 3 + rng.IntN(5)
		var list []lines.Line
		for range 2 + rng.IntN(6) {
			row := []byte(strings.Repeat(".", w))
			if rng.IntN(3) > 0 {
				row[rng.IntN(w)] = '#'
			}
			list = append(list, lines.Line{Row: string(row), Knit: []int{0, 0, 1, 2, 2, 4}[rng.IntN(6)],
				Lever: []string{"", "", "open", "fine"}[rng.IntN(4)]})
		}
		section := map[string]any{}
		if rng.IntN(2) == 0 {
			section["rows"] = 1 + rng.IntN(12)
		}
		section["areas"] = []any{map[string]any{"chart": "c", "first": "L10", "from": "L11", "to": "R11"}}
		d := document(t, []string{"program-preselect", "card-direct"}[rng.IntN(2)],
			map[string]any{"lines": lines.Doc(list)}, section)
		r := run(t, d)
		if r.Stops() {
			continue
		}
		if done++; !r.Fabric.Matches() {
			t.Fatalf("%s %v\n%s", r.Fabric.First, r.Fabric.Faults, lines.Text(list))
		}
		if again, err := lines.Parse(lines.Text(list)); err != nil || lines.Text(again) != lines.Text(list) {
			t.Fatalf("%v: %s\nread again %s", err, lines.Text(list), lines.Text(again))
		}
	}
	if done < chance.Share(100, 2500) {
		t.Errorf("only %d were knitted", done)
	}
}

// TestToLinesAndBack: marks become the lines that their plan reads, with the same passes; and lines the marks from
// which the same fabric is knitted.
func TestToLinesAndBack(t *testing.T) {
	rng := chance.Rand(t, 5, 6)
	units := []string{"o/", "\\o", "o^o", "/o", "o\\", "o./", "\\.o", ".", "..."}
	back := 0
	for i := range chance.Cases(600) {
		w := 4 + rng.IntN(8)
		rows := make([]string, 1+rng.IntN(3))
		for y := range rows {
			for len(rows[y]) < w {
				if u := units[rng.IntN(len(units))]; len(rows[y])+len(u) <= w {
					rows[y] += u
				}
			}
		}
		profile := []string{"program-preselect", "card-direct"}[rng.IntN(2)]
		options := map[string]any{}
		if rng.IntN(4) == 0 {
			options["lean"] = "exact"
		}
		d := document(t, profile, map[string]any{"rows": rows, "side": []string{"knit", "purl"}[rng.IntN(2)]},
			map[string]any{"options": options})
		was := run(t, d)
		if was.Stops() || !was.Fabric.Matches() {
			continue
		}
		changes, err := lines.ToLines(d, 2)
		if err != nil {
			if err.Error() == "nothing is moved in the section" {
				continue
			}
			t.Fatal(err)
		}
		if _, err := d.Apply(changes); err != nil {
			t.Fatal(err)
		}
		now := run(t, d)
		a, b := passes(was), passes(now)
		if a != b && strings.Trim(rows[len(rows)-1], ".") != "" || !now.Fabric.Matches() ||
			now.Fabric.Eyelets != was.Fabric.Eyelets || now.Fabric.Doubled != was.Fabric.Doubled {
			t.Fatalf("case %d %v: %s\n%s\n%s\n%s", i, rows, now.Fabric.First, a, b, d.JSON())
		}
		if changes, err = lines.ToMarks(d, 2); err != nil {
			continue // leans that no mark draws in this order
		}
		if _, err := d.Apply(changes); err != nil {
			t.Fatal(err)
		}
		again := run(t, d)
		if !again.Fabric.Matches() || again.Fabric.Eyelets != was.Fabric.Eyelets ||
			again.Fabric.Doubled != was.Fabric.Doubled {
			t.Fatalf("case %d %v, as marks again: %s\n%s", i, rows, again.Fabric.First, d.JSON())
		}
		back++
	}
	if back < chance.Share(200, 600) {
		t.Errorf("%d came back", back)
	}
}

func passes(r *check.Result) string {
	var b strings.Builder
	for i := range r.Plan.Passes {
		p := &r.Plan.Passes[i]
		b.WriteString(p.Carriage.String()[:1] + p.Dir.String()[:1] + p.Main().Select.String() + " ")
	}
	return b.String()
}

// TestLinesRead: bad lines name their place, typed and in a file.
func TestLinesRead(t *testing.T) {
	for text, want := range map[string]string{"": "no line", "#..\n##": "line 2 from the top: it has 2",
		"#x.":      "line 1 from the top: \"#x.\"",
		"#.. knit": "knit : a number", "#.. knit 2 knit 2": `"knit"`, "#.. loose": `"loose"`} {
		if _, err := lines.Parse(text); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", text, err)
		}
	}
	one := func(v any) map[string]any { return map[string]any{"lines": []any{v}} }
	for want, c := range map[string]struct{ drawing, section map[string]any }{
		"charts.c.lines: a chart has rows or lines": {map[string]any{"rows": []string{"#"}, "lines": []any{}}, nil},
		"charts.c.lines: a chart has at least":      {map[string]any{"lines": []any{}}, nil},
		"charts.c.lines[0].row: \"#o\"":             {one(map[string]any{"row": "#o"}), nil},
		"charts.c.lines[1].row: \"#\" is 1 wide": {map[string]any{"lines": []any{map[string]any{"row": "#."},
			map[string]any{"row": "#"}}}, nil},
		"charts.c.lines[0].memo.lever": {one(map[string]any{"row": "#.",
			"memo": map[string]any{"lever": "half"}}), nil},
		"charts.c.lines[0].memo.yarn": {one(map[string]any{"row": "#.",
			"memo": map[string]any{"yarn": "Z"}}), nil},
		"charts.c.lines[0].memo: unknown key \"note\"": {one(map[string]any{"row": "#.",
			"memo": map[string]any{"note": "Z"}}), nil},
		"sections[1].areas[0].transform": {one(map[string]any{"row": "#."}),
			map[string]any{"areas": []any{map[string]any{"chart": "c", "transform": []string{"mirror"}}}}},
		"sections[1].areas[0].chart: \"c\": its lines": {one(map[string]any{"row": "#."}),
			map[string]any{"technique": "two-colour"}},
	} {
		_, err := technique.Piece(document(t, "program-preselect", c.drawing, c.section))
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%v, want %s", err, want)
		}
	}
}

func FuzzLines(f *testing.F) {
	f.Add("#.... fine\n..... knit 2 yarn A\n; remark")
	f.Fuzz(func(t *testing.T, text string) {
		list, err := lines.Parse(text)
		if err != nil {
			return
		}
		if again, err := lines.Parse(lines.Text(list)); err != nil || lines.Text(again) != lines.Text(list) {
			t.Errorf("%q: read again %v", text, err)
		}
	})
}

// TestOtherSchool: lines that say they are made for the other school stop on this machine, where each would be moved
// the other way; turned as offered they knit the fabric that they knit on their own. There is no offer where the last
// line before knitted rows selects what is moved after them. Put on another machine, lines say where they come from.
func TestOtherSchool(t *testing.T) {
	rng := chance.Rand(t, 5, 31)
	machines := map[string]string{"direct": "card-direct", "preselect": "program-preselect"}
	other := map[string]string{"direct": "preselect", "preselect": "direct"}
	turned, refused := map[string]int{}, 0
	for range chance.Cases(3000) {
		school := []string{"direct", "preselect"}[rng.IntN(2)]
		wide := []int{4, 6, 8, 12}[rng.IntN(4)]
		var list []lines.Line // line 1 first
		for range 1 + rng.IntN(2) {
			n := 2 * (1 + rng.IntN(3))
			for i := range n {
				row := []byte(strings.Repeat(".", wide))
				if ends := i == n-1 && school == "preselect" && rng.IntN(8) > 0; !ends && rng.IntN(3) > 0 {
					row[1+rng.IntN(wide-2)] = '#'
				}
				one := lines.Line{Row: string(row), Lever: []string{"", "", "fine", "open"}[rng.IntN(4)]}
				if i == n-1 {
					one.Knit = 2 * (1 + rng.IntN(2))
				}
				list = append(list, one)
			}
		}
		slices.Reverse(list)
		drawing := map[string]any{"lines": lines.Doc(list)}
		own := run(t, document(t, machines[school], drawing, nil))
		if own.Stops() {
			continue
		}
		drawing["school"] = school
		if again := run(t, document(t, machines[school], drawing, nil)); again.Stops() {
			t.Fatalf("%s on its own machine: %v", school, again.Findings)
		}
		d := document(t, machines[other[school]], drawing, nil)
		r := run(t, d)
		at := slices.IndexFunc(r.Findings, func(f finding.Finding) bool { return f.Code == finding.CardSchool })
		if at < 0 || r.Findings[at].Severity != finding.Stop {
			t.Fatalf("%s lines on %s: %v\n%s", school, machines[other[school]], r.Findings, lines.Text(list))
		}
		mend := r.Findings[at].Remedy()
		idle := slices.ContainsFunc(list, func(l lines.Line) bool { return l.Knit > 0 && strings.Contains(l.Row, "#") })
		if left := school == "preselect" && idle; left != (mend == nil) {
			t.Fatalf("offered %v\n%s", mend != nil, lines.Text(list))
		} else if left {
			refused++
			continue
		}
		if _, err := d.Apply(mend); err != nil {
			t.Fatal(err)
		}
		now := run(t, d)
		if now.Stops() || !now.Fabric.Matches() || len(now.Fabric.Courses) != len(own.Fabric.Courses) {
			t.Fatalf("turned: %v\n%s\n%s", now.Findings, lines.Text(list), d.JSON())
		}
		for i := range now.Fabric.Courses {
			a, b := own.Fabric.Courses[i].Shape(), now.Fabric.Courses[i].Shape()
			if a.Eyelets != b.Eyelets || a.Merged != b.Merged || a.LeanR.Minus(b.OtherLeans) != b.LeanR.Minus(b.OtherLeans) {
				t.Fatalf("course %d is another\n%s\n%s", i+1, lines.Text(list), d.JSON())
			}
		}
		turned[school]++
	}
	if turned["direct"] < chance.Share(300, 3000) || turned["preselect"] < chance.Share(300, 3000) || refused == 0 {
		t.Errorf("%v turned, %d refused", turned, refused)
	}
	// lines of which a part is knitted, and such as end in transfers that another round goes on with, are not turned
	for text, section := range map[string]map[string]any{
		"...... knit 2\n.#....\n...... knit 2\n.#....": {"areas": []any{map[string]any{"chart": "c", "rows": []any{1, 2}}}},
		".#....\n......\n...... knit 2\n.#....":        nil,
		"......\n......\n...... knit 2\n.#....":        {"rows": 2},
	} {
		drawing := typed(t, text)
		drawing["school"] = "preselect"
		for _, f := range run(t, document(t, "card-direct", drawing, section)).Findings {
			if f.Code == finding.CardSchool && (f.Remedy() != nil) != (strings.HasPrefix(text, "......\n......")) {
				t.Errorf("turned %v:\n%s", f.Remedy() != nil, text)
			}
		}
	}
	ends := typed(t, "......\n.#....\n...... knit 2\n.#....")
	ends["school"] = "direct"
	for _, f := range run(t, document(t, "program-preselect", ends, nil)).Findings {
		if f.Code == finding.CardSchool && f.Remedy() != nil {
			t.Error("transfers at the end are turned")
		}
	}
	// of two charts side by side each says its own; turned alone they would not read alike
	two := document(t, "card-direct", typed(t, "......\n.#...."), map[string]any{"areas": []any{
		map[string]any{"chart": "c", "first": "L12", "from": "L12", "to": "L1"}}})
	beside := typed(t, "......\n..#...")
	beside["school"] = "preselect"
	if _, err := two.Apply(append(edit.Set(edit.Chart("d"), beside), edit.Put(edit.Section(2).To("areas"), []any{
		map[string]any{"chart": "c", "first": "L12", "from": "L12", "to": "L1"},
		map[string]any{"chart": "d", "first": "R1", "from": "R1", "to": "R12"}})...)); err != nil {
		t.Fatal(err)
	}
	found := false
	for _, f := range run(t, two).Findings {
		if f.Code == finding.CardSchool {
			if found = strings.Contains(f.Text, `"d"`); f.Remedy() != nil {
				t.Error("one of two charts is turned")
			}
		}
	}
	if !found {
		t.Error("the second chart's school is not looked at")
	}
	// one that is put on another machine, and back
	d := document(t, "program-preselect", typed(t, "..... knit 2\n.#..."), nil)
	for i, on := range []string{"card-direct", "program-preselect"} {
		p, err := technique.Piece(d)
		if err == nil {
			_, err = d.Apply(edit.ToMachine(p, map[string]any{"profile": on}))
		}
		if err != nil {
			t.Fatal(err)
		}
		if r := run(t, d); r.Plan.Piece.Charts["c"].School != "preselect" || r.Stops() != (i == 0) {
			t.Errorf("on %s: %q, %v", on, r.Plan.Piece.Charts["c"].School, r.Findings)
		}
	}
}
