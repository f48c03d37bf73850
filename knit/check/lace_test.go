package check_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/card"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

func laceDocument(t *testing.T, id, from, to string, rows []string, edits ...edit.Change) *edit.Document {
	first := []edit.Change{set("/charts/c/legend", map[string]any{}), set("/charts/c/side", "knit"),
		set("/sections/0/technique", "lace")}
	return piecetest.Document(t, id, from, to, rows, append(first, edits...)...)
}

var area = piecetest.Area

// TestLaceFindings: each refusal and each remark, by its reason; and what a remedy mends.
func TestLaceFindings(t *testing.T) {
	before, purl := piecetest.Before(2, "A"), set("/machine/purl_carriage", true)
	for _, c := range []struct {
		name, id string
		rows     []string
		edits    []edit.Change
		want     []string // code, rows, needles
		text     string   // in the first
		mended   bool     // the first is gone once its remedy is applied
	}{
		{"all is well", "card-preselect", []string{"/o..o\\"}, []edit.Change{before}, nil, "", false},
		{"a row grows", "card-preselect", []string{"......", ".o.../", "......"},
			[]edit.Change{before, set("/charts/c/rows", []string{"......", ".o....", "......"})},
			[]string{"lace-count 2-2 L6-R6"}, "uses 5 stitches and makes 6", true},
		{"a row shrinks", "hand-mid", []string{"..^o.."}, []edit.Change{before}, []string{"lace-count 1-1 L6-R6"},
			"uses 7 stitches and makes 6", true},
		{"yarn-overs left over", "hand-mid", []string{"oo/.oo"}, []edit.Change{before},
			[]string{"lace-count 1-1 L6-R6"},
			"uses 3 stitches and makes 6", true},
		{"padding that closes up", "hand-mid", []string{".x/o..", "...x..", "x.../o"}, []edit.Change{before},
			[]string{"lace-bias 1-3 L6-R6"}, "", false},
		{"padding that does not", "hand-mid", []string{".x/o.x", "......"}, []edit.Change{before},
			[]string{"lace-no-stitch 2-2 L6-R6"}, "row 2 of c has 4 stitches where the others have 6", false},
		{"transfers in a second row", "card-preselect", []string{"/o..o\\", "......"},
			[]edit.Change{before, set("/charts/c/shows", "all")}, []string{"lace-second-row 2-2 L5,L2,R2,R5"},
			"the second of a pair", false},
		{"an odd row", "card-direct", []string{"......", "......", "/o..o\\"},
			[]edit.Change{before, set("/charts/c/shows", "all")}, []string{"lace-second-row 3-3 L6-R6"},
			"an odd number",
			true},
		{"a chart of odd height, repeated", "card-direct", []string{"......", "......", "/o..o\\"},
			[]edit.Change{set("/charts/c/shows", "all"), set("/sections/0/rows", 6), before},
			[]string{"lace-second-row 4-4 L5,L2,R2,R5"}, "the second of a pair", false},
		{"an odd number of rows, in a later repeat", "card-direct", []string{"......", "/o..o\\"},
			[]edit.Change{set("/charts/c/shows", "all"), set("/sections/0/rows", 5), before},
			[]string{"lace-second-row 5-5 L6-R6"}, "an odd number", true},
		{"every row by hand", "hand-mid", []string{"o\\../o", "/o..o\\", "......"},
			[]edit.Change{before, set("/charts/c/shows", "all")}, []string{"lace-edge 3-3 L6,R6"}, "", true},
		{"no lace", "two-bed-pairs", []string{"/o..o\\"}, []edit.Change{before},
			[]string{"technique-machine 1-1 L6-R6"},
			"lacks a lace carriage", false},
		{"fine by hand", "hand-mid", []string{"/o..o\\"},
			[]edit.Change{before, set("/options", map[string]any{"transfer": "fine"})},
			[]string{"technique-machine 1-1 L6-R6"}, "fine transfer", false},
		{"the knit carriage on the left", "card-direct", []string{"/o..o\\"}, []edit.Change{piecetest.Before(3, "A")},
			[]string{"carriage-side 1-1 L6-R6"}, "stands on the left", true},
		{"right after the cast-on", "card-direct", []string{"/o..o\\"}, nil, []string{"lace-cast-on 1-1 L5,L2,R2,R5"},
			"right after the cast-on", true},
		{"by hand, right after the cast-on", "hand-mid", []string{"/o..o\\"}, nil,
			[]string{"lace-cast-on 1-1 L5,L2,R2,R5"}, "right after the cast-on", true},
		{"by hand, after one row", "hand-mid", []string{"/o..o\\"}, []edit.Change{piecetest.Before(1, "A")}, nil, "",
			false},
		{"a wide hole", "card-direct", []string{"./oo\\."}, []edit.Change{before},
			[]string{"lace-wide-hole 1-1 L4-L3,R3-R4"},
			"one wide hole", false},
		{"all one way", "card-direct", []string{"./o..."}, []edit.Change{before}, []string{"lace-bias 1-1 L6-R6"},
			"Every move goes to the right on the bed", false},
		{"the other way round", "card-direct", []string{".\\oo/."},
			[]edit.Change{before, set("/charts/c/rows", []string{"\\o..o/"})}, []string{"lace-lean 1-1 L6,L1-R1,R6"},
			"lie the other way round", true},
		{"a centre that moves", "card-direct", []string{"^oo..."}, []edit.Change{before},
			[]string{"lace-bias 1-1 L6-R6", "lace-lean 1-1 L1,R6"}, "", false},
		{"a cut repeat", "card-direct", []string{"..o^o."}, []edit.Change{area("first", "L3"), before},
			[]string{"lace-cut 1-1 L6,R5-R6"}, "would lose their partners", false},
		{"two carriages knit", "card-preselect", []string{"/o.-o\\"}, []edit.Change{before, purl}, nil, "", false},
		{"an edge with its switch on", "card-direct", []string{"o\\../o"},
			[]edit.Change{before, set("/options", map[string]any{"end_needles": "auto"})},
			[]string{"lace-cut 1-1 L6-L5,R5-R6"}, "", false},
	} {
		doc := laceDocument(t, c.id, "L6", "R6", c.rows, c.edits...)
		run := func() (list []string, first *finding.Finding) {
			p, err := technique.Piece(doc)
			if err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
			r := check.Run(p)
			for i, f := range r.Findings {
				if !strings.HasPrefix(string(f.Code), "lace") && f.Severity == finding.Note {
					continue
				}
				list = append(list, fmt.Sprintf("%s %d-%d %v", f.Code, f.Rows[0], f.Rows[1], f.Needles))
				if first == nil {
					first = &r.Findings[i]
				}
			}
			return list, first
		}
		got, first := run()
		for _, w := range c.want {
			if !slices.Contains(got, w) {
				t.Errorf("%s: got %q, want %q", c.name, got, c.want)
			}
		}
		if len(c.want) == 0 && len(got) > 0 {
			t.Errorf("%s: got %q, want nothing", c.name, got)
		}
		if len(c.want) > 0 && first != nil && !strings.Contains(first.Text, c.text) {
			t.Errorf("%s: said %q", c.name, first.Text)
		}
		if c.mended && first != nil {
			code := string(first.Code)
			if _, err := doc.Apply(first.Remedy()); err != nil || len(first.Remedy()) == 0 {
				t.Errorf("%s: remedy %v: %v", c.name, first.Remedy(), err)
			} else if again, _ := run(); slices.ContainsFunc(again,
				func(s string) bool { return strings.HasPrefix(s, code) }) {
				t.Errorf("%s: mended, and still %q", c.name, again)
			}
		}
	}
}

// TestPadding: padding that closes up changes nothing.
func TestPadding(t *testing.T) {
	padded, err := technique.Piece(laceDocument(t, "card-preselect", "L8", "R8", []string{"x./o.x", "xo^o.x",
		"..x..x"}))
	if err != nil {
		t.Fatal(err)
	}
	closed, _ := technique.Piece(laceDocument(t, "card-preselect", "L8", "R8", []string{"./o.", "o^o.", "...."}))
	if a, b := plan.Make(padded), plan.Make(closed); a.String() != b.String() || len(a.Passes) == 0 {
		t.Errorf("padded:\n%s\nclosed:\n%s", a, b)
	}
	// A needle shows the cell of the padded drawing that it is made from.
	name, column, row := plan.Make(padded).Placed[0].Source(machine.L(8), 3)
	if name != "c" || column != 5 || row != 3 { // the drawing's rightmost stitch lies leftmost on the bed
		t.Errorf("L8 in row 3 shows %s %d/%d", name, column, row)
	}
}

// TestLaceLines: which carriage reads which line. The purl carriage's two rows take two
// lines more where it advances the program, and are set by hand where it does not.
func TestLaceLines(t *testing.T) {
	for _, c := range []struct {
		advances []string
		selects  string
		want     string // carriage, way, line read, needles forward when it starts, needles brought by hand
		lines    int
		purls    int    // the line that holds the purls
		memo     string // of line 5
	}{
		{[]string{"lace"}, "now",
			"lace right 1  ; lace left 2  ; lace right 3 L2,R3 ; lace left 4  ; purl left 0 L4,R1 L4,R1; purl " +
				"right 0  ", 4, 0, ""},
		{[]string{"lace", "purl"}, "ahead",
			"lace right 1  ; lace left 2  ; lace right 3 L2,R3 ; lace left 4  ; purl left 5 L4,R1 ; purl right 6  ",
			6, 4,
			"purl, knit 2; blank: no purl stitch follows"},
		{nil, "now",
			"lace right 1  ; lace left 2  ; lace right 3 L2,R3 ; lace left 4  ; purl left 5 L4,R1 ; purl right 6  ",
			6, 5,
			"purl, knit 2"},
	} {
		p, err := technique.Piece(laceDocument(t, "program-preselect", "L4", "R4", []string{"-.o\\"},
			area("transform", []string{"mirror"}),
			set("/machine/purl_carriage", true), set("/machine/purl_selects", c.selects), piecetest.Before(2, "A")))
		if err != nil {
			t.Fatal(err)
		}
		if c.advances != nil { // left out, the purl carriage reads its lines
			p.Machine.Advances = c.advances
		}
		r := check.Run(p)
		var got []string
		for line, selected := range r.Plan.Programs[1] {
			if purls := selected == machine.SetOf(machine.L(4), machine.R(1)); purls != (line+1 == c.purls) {
				t.Errorf("%v, %s: line %d selects %v", c.advances, c.selects, line+1, selected)
			}
		}
		if w := card.MakeProgram(r.Plan, 2); c.memo != "" && w.Memos[4] != c.memo {
			t.Errorf("%v, %s: memo of line 5: %s", c.advances, c.selects, w.Memos[4])
		}
		for _, made := range r.Plan.Passes {
			if made.Section == 2 {
				got = append(got, fmt.Sprintf("%v %v %d %v %v", made.Carriage, made.Dir, made.Line, made.Main().Select,
					made.Main().ByHand))
			}
		}
		if !r.Fabric.Matches() || strings.Join(got, "; ") != c.want || r.Plan.LinesOf(2) != c.lines ||
			r.Plan.Totals.Threadings != 1 {
			t.Errorf("advances %v: %s, %d lines, %s\n%q", c.advances, r.Fabric.First, r.Plan.LinesOf(2), r.Plan, got)
		}
	}
}

// TestLaceStack: loops that tucks have left on a needle count with those transferred to it.
func TestLaceStack(t *testing.T) {
	tucks := map[string]any{"technique": "tuck", "rows": 3,
		"areas": []any{map[string]any{"chart": "t", "from": "L2", "to": "L2", "first": "L2"}}}
	p, err := technique.Piece(laceDocument(t, "hand-mid", "L6", "R6", []string{"...o\\......."},
		set("/charts/c/side", "purl"), set("/charts/t",
			map[string]any{"legend": map[string]any{"t": map[string]any{"stitch": "tuck"}}, "rows": []string{"t"}}),
		piecetest.Set("/sections/0", tucks), piecetest.Before(2, "A")))
	if err != nil {
		t.Fatal(err)
	}
	found := check.Run(p).Findings
	i := slices.IndexFunc(found, func(f finding.Finding) bool { return f.Code == "lace-stack" })
	if i < 0 || found[i].Needles.String() != "L2" || found[i].Severity != finding.Warn {
		t.Errorf("three tucks, a stitch and one more moved there: %v", found)
	}
}

// TestGauge: with a swatch, floats and slants are measured by it.
func TestGauge(t *testing.T) {
	for stitches, want := range map[float64]int{0: 5, 40: 10, 20: 5, 16: 4} {
		p, err := technique.Piece(laceDocument(t, "card-direct", "L6", "R6", []string{"./o..."},
			set("/gauge", map[string]any{"stitches": stitches, "rows": 30}), piecetest.Before(2, "A")))
		if stitches == 0 {
			p, err = technique.Piece(laceDocument(t, "card-direct", "L6", "R6", []string{"./o..."},
				piecetest.Before(2, "A")))
		}
		if err != nil {
			t.Fatal(err)
		}
		if got := p.FloatLimit(); got != want {
			t.Errorf("%g stitches in 10 cm: floats of %d, want %d", stitches, got, want)
		}
		for _, f := range check.Run(p).Findings {
			if f.Code == "lace-bias" && strings.Contains(f.Text, "by the swatch") != (stitches > 0) {
				t.Errorf("%g: %s", stitches, f.Text)
			}
		}
	}
}

// TestLaceCounter: the counter goes back at each repeat of lace as of any pattern, and a
// lifeline falls due at plain rows only, as often as the weights are moved.
func TestLaceCounter(t *testing.T) {
	p, err := technique.Piece(laceDocument(t, "hand-mid", "L6", "R6", []string{"......", "/o..o\\"},
		set("/sections/0/rows", 6), set("/options", map[string]any{"counter": "repeat"}),
		set("/limits", map[string]any{"lifeline": 4}), piecetest.Before(2, "A")))
	if err != nil {
		t.Fatal(err)
	}
	counters, lifelines := "", ""
	for _, made := range plan.Make(p).Passes {
		counters += fmt.Sprint(made.Counter, " ")
		for _, st := range made.Before {
			if st.Do() == step.DoLifeline {
				lifelines += fmt.Sprint(made.Run, " ")
			}
		}
	}
	if counters != "1 2 1 2 3 4 1 2 3 4 1 2 3 4 " || lifelines != "3 7 11 " {
		t.Errorf("counters %s, lifelines before rows %s", counters, lifelines)
	}
}

// TestLaceByCard: everything that hands do for lace from a card, in the order in which it can
// be done; what each pass does now; lifelines as often as the piece says, with what brings
// her back to them; and a look after each moving pass, where she wants one.
func TestLaceByCard(t *testing.T) {
	for limit, lines := range map[int]string{1: "3 7 11", 4: "3 7 11", 5: "3 11", 12: "3", 0: ""} {
		p, err := technique.Piece(laceDocument(t, "card-preselect", "L6", "R6", []string{"......", "/o..o\\"},
			set("/sections/0/rows", 6), set("/limits", map[string]any{"lifeline": limit}), set("/options",
				map[string]any{"look": "on"}),
			piecetest.Before(2, "A")))
		if err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(p)
		var steps, lifelines, looks []string
		for i := range pl.Passes {
			for j := range pl.Passes[i].Before {
				st := &pl.Passes[i].Before[j]
				if i == 2 || i == 3 {
					steps = append(steps, fmt.Sprintf("%d %s", i+1, strings.Fields(st.Say(p))[0]))
				}
				switch st := st.Step.(type) {
				case step.Lifeline:
					lifelines = append(lifelines, fmt.Sprint(pl.Passes[i].Run+1))
					if st.Pass != i+1 || st.Reading != pl.Passes[i-1].Counter || st.Window != pl.Passes[i].Window {
						t.Errorf("lifeline %+v before pass %d", st, i+1)
					}
				case step.Inspect:
					looks = append(looks, fmt.Sprintf("%d %v/%v", i+1, st.On, st.Doubled))
				}
			}
		}
		if limit == 12 && (strings.Join(steps, ", ") !=
			"3 Lay, 3 Put, 3 Lock, 3 Park, 3 Bring, 3 Set, 4 Release" || !strings.HasPrefix(strings.Join(looks, ", "),
			"5 L5,R2/L6,R1, 6 L5,L2,R2,R5/L6,L1-R1,R6")) {
			t.Errorf("steps %q, looks %q\n%s", steps, looks, pl)
		}
		if strings.Join(lifelines, " ") != lines {
			t.Errorf("every %d rows: lifelines before rows %v, want %s", limit, lifelines, lines)
		}
		p.Sections[1].Options.Look = "off"
		if strings.Contains(plan.Make(p).String(), "Look: ") {
			t.Error("looks where none are wanted")
		}
		if text := pl.String(); limit == 12 && (!strings.Contains(text, "reads line 1; selects 2 for the next") ||
			!strings.Contains(text, "moves L5,R2 one needle to the left")) {
			t.Error(text)
		}
	}
}

// TestFineAndOpen: fine and open lace in one piece; each change of the lace carriage's
// switch is announced before its first pass, and only then; fine lace has no eyelets.
func TestFineAndOpen(t *testing.T) {
	section := func(transfer string) any {
		return map[string]any{"technique": "lace", "transfer": transfer, "areas": []any{map[string]any{"chart": "c"}}}
	}
	p, err := technique.Piece(laceDocument(t, "card-direct", "L6", "R6", []string{"......", "/o..o\\"},
		piecetest.Before(2, "A"), set("/sections/1/transfer", "open"),
		set("/sections/-", section("fine")), set("/sections/-", section("fine")), set("/sections/-", section("open"))))
	if err != nil {
		t.Fatal(err)
	}
	r := check.Run(p)
	said := ""
	for _, made := range r.Plan.Passes {
		for _, st := range made.Before {
			if st, ok := st.Step.(step.Cams); ok && st.Setting.Moves {
				said += fmt.Sprintf("section %d %v: %s; ", made.Section, made.Carriage, st.Setting.Key)
			}
		}
	}
	if said != "section 2 lace: transfer; section 3 lace: fine; section 5 lace: transfer; " || !r.Fabric.Matches() ||
		r.Fabric.Eyelets != 8 ||
		r.Fabric.Doubled <= 8 {
		t.Errorf("announced: %s; %d eyelets, %d doubled, %s", said, r.Fabric.Eyelets, r.Fabric.Doubled, r.Fabric.First)
	}
}

// TestWhichRows: a lace chart with purls in even rows asks which rows it shows, until it says.
func TestWhichRows(t *testing.T) {
	for shows, asks := range map[string]bool{"": true, "right-side": false, "all": false} {
		edits := []edit.Change{piecetest.Before(2, "A")}
		if shows != "" {
			edits = append(edits, set("/charts/c/shows", shows))
		}
		doc := laceDocument(t, "card-preselect", "L6", "R6", []string{"-...", ".o/."}, edits...)
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		found := find(check.Run(p), "rows-shown")
		if (len(found) > 0) != asks {
			t.Errorf("shows %q: %v", shows, found)
		}
		if asks {
			if _, err := doc.Apply(found[0].Remedy()); err != nil {
				t.Fatal(err)
			}
			if p, _ = technique.Piece(doc); !p.Charts["c"].All {
				t.Error("the remedy does not say that every row is shown")
			}
		}
	}
}
