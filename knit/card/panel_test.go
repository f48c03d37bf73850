package card_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/card"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// sheet is what a knitter reads from a key-in sheet, and nothing else.
type sheet struct {
	Panel, First, Mirrored string
	Width                  int
	Lines                  []string
	Drawings               []struct{ Lines []string }
	Areas                  []struct {
		Drawing          int
		Columns, Rows    [2]int
		Anchor, From, To string
		Above            string
		Switches         []string
	}
	All []string
}

func read(t *testing.T, w *card.Program) (s sheet) {
	t.Helper()
	data, err := json.Marshal(w.JSON())
	if err == nil {
		err = json.Unmarshal(data, &s)
	}
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func reversed(s string) string {
	b := []byte(s)
	slices.Reverse(b)
	return string(b)
}

// each makes lines of others, one by one.
func each(lines []string, f func(string) []string) (out []string) {
	for _, l := range lines {
		out = append(out, f(l)...)
	}
	return out
}

// switched is a drawing, its top line first, as a panel shows it when a switch is on.
func switched(lines []string, by string) []string {
	column := func(x int) string {
		return strings.Join(each(lines, func(l string) []string { return []string{l[x : x+1]} }), "")
	}
	var out []string
	switch by {
	case "turn": // the right edge becomes the top
		for x := len(lines[0]) - 1; x >= 0; x-- {
			out = append(out, column(x))
		}
	case "turn-right":
		for x := range lines[0] {
			out = append(out, reversed(column(x)))
		}
	case "mirror":
		return each(lines, func(l string) []string { return []string{reversed(l)} })
	case "upside-down":
		out = slices.Clone(lines)
		slices.Reverse(out)
	case "bounce":
		for i := 1; i < len(lines)-1; i++ { // above the top, the way back: the second from the bottom ends up on top
			out = append(out, lines[len(lines)-1-i])
		}
		out = append(out, lines...)
	case "double-width":
		return each(lines, func(l string) []string {
			return []string{strings.NewReplacer("#", "##", ".", "..").Replace(l)}
		})
	case "double-length":
		return each(lines, func(l string) []string { return []string{l, l} })
	case "invert":
		return each(lines, func(l string) []string {
			return []string{strings.NewReplacer("#", ".", ".",
				"#").Replace(l)}
		})
	}
	return out
}

var switchOrder = []string{"turn", "turn-right", "mirror", "upside-down", "bounce", "double-width", "double-length",
	"invert"}

// panel is a small model of a console: it knows what is keyed, and says which needles it brings forward the k-th time
// (from 1) that it reads.
func (s *sheet) panel(t *testing.T, bed machine.Bed, k int) (on machine.Set) {
	label := func(text string) machine.Needle {
		n, err := machine.ParseNeedle(text)
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	phase := func(a, n int) int { return ((a % n) + n) % n }
	if s.Panel == "flat" {
		line := s.Lines[len(s.Lines)-1-(k-1)%len(s.Lines)]
		if s.Mirrored == "switch" {
			line = reversed(line)
		}
		for n := -bed / 2; n < bed/2; n++ {
			if line[phase(int(machine.Needle(n)-label(s.First)), s.Width)] == '#' {
				on.Add(machine.Needle(n))
			}
		}
		return on
	}
	var lies [][]string
	tall := 0
	for _, a := range s.Areas {
		d := s.Drawings[a.Drawing-1].Lines
		var cut []string
		for r := a.Rows[1]; r >= a.Rows[0]; r-- {
			cut = append(cut, d[len(d)-r][a.Columns[0]-1:a.Columns[1]])
		}
		for _, by := range switchOrder {
			if slices.Contains(a.Switches, by) || slices.Contains(s.All, by) {
				cut = switched(cut, by)
			}
		}
		lies = append(lies, cut)
		tall = max(tall, len(cut))
	}
	for i, a := range s.Areas {
		r := (k - 1) % tall
		h := len(lies[i])
		if a.Above == "repeat" {
			r %= h
		}
		if r >= h {
			continue
		}
		line := lies[i][h-1-r]
		for n := label(a.From); n <= label(a.To); n++ {
			on.Remove(n)
			if line[phase(int(n-label(a.Anchor)), len(line))] == '#' {
				on.Add(n)
			}
		}
	}
	return on
}

// TestPanelModel: whoever follows only the key-in sheet on a console, of either kind, gets the plan's selections,
// whatever is placed and whatever the console does itself; each drawing is keyed once.
func TestPanelModel(t *testing.T) {
	rng := chance.Rand(t, 14, 1)
	some := func(from []string, most int) []any {
		list := []any{}
		for _, w := range from {
			if rng.IntN(len(from)) < most {
				list = append(list, w)
			}
		}
		return list
	}
	placed, whole, flat := 0, 0, 0
	for range chance.Cases(2000) {
		w, h := 1+rng.IntN(7), 1+rng.IntN(6)
		rows := make([]string, h)
		keys := ".#"
		if rng.IntN(4) == 0 {
			keys = ".#+"
		}
		for y := range rows {
			two := []byte(keys)
			rng.Shuffle(len(two), func(i, j int) { two[i], two[j] = two[j], two[i] })
			for range w {
				rows[y] += string(two[rng.IntN(2)])
			}
		}
		part := func(n int) (int, int) { a := 1 + rng.IntN(n); return a, a + rng.IntN(n-a+1) }
		needle := func(from, to machine.Needle) machine.Needle {
			return from + machine.Needle(
				rng.IntN(int(to-from)+1))
		}
		var areas []any
		for range 1 + rng.IntN(3) {
			a := map[string]any{"chart": "c"}
			if rng.IntN(2) == 0 {
				c1, c2 := part(w)
				r1, r2 := part(h)
				a["columns"], a["rows"] = []int{c1, c2}, []int{r1, r2}
			}
			if rng.IntN(3) > 0 {
				from := needle(machine.L(12), machine.R(6))
				a["from"], a["to"] = from.String(), needle(from, machine.R(12)).String()
			}
			a["first"] = needle(machine.L(12), machine.R(12)).String()
			turns := some(switchOrder, 2)
			if keys != ".#" {
				turns = slices.DeleteFunc(turns, func(t any) bool { return t == "invert" })
			}
			if len(turns) > 0 {
				a["transform"] = turns
			}
			if rng.IntN(3) == 0 {
				a["above"] = "blank"
			}
			if rng.IntN(12) == 0 {
				a["drop"] = 1 + rng.IntN(2)
			}
			areas = append(areas, a)
		}
		section := map[string]any{"technique": "two-colour", "areas": areas, "rows": 1 + rng.IntN(16)}
		if rng.IntN(4) == 0 {
			section["technique"], section["yarn"] = []string{"separated", "weave", "tuck", "slip"}[rng.IntN(4)], "A"
		}
		doc := piecetest.Document(t, "program-preselect", "L12", "R12", rows, piecetest.Set("/sections",
			[]any{section}),
			piecetest.Set("/charts/c/side", []string{"knit", "purl"}[rng.IntN(2)]),
			piecetest.Set("/machine/panel", []string{"places", "places", "flat"}[rng.IntN(3)]),
			piecetest.Set("/machine/panel_does", some(switchOrder, 5)),
			piecetest.Set("/machine/panel_each", rng.IntN(3) > 0), piecetest.Set("/machine/mirror_switch",
				rng.IntN(3) == 0))
		p, err := technique.Piece(doc)
		if err != nil {
			continue
		}
		pl := plan.Make(p)
		if finding.Stops(pl.Findings) || pl.LinesOf(1) == 0 {
			continue
		}
		prog := card.MakeProgram(pl, 1)
		s := read(t, prog)
		switch {
		case s.Panel == "flat":
			flat++
		case prog.Whole != "":
			whole++
		default:
			placed++
			seen := map[string]bool{}
			for _, d := range prog.Panel.Drawings {
				key := d.Chart + strings.Join(d.Turned, " ")
				if len(d.Turned) == 0 && seen[key] && d.At == [2]int{1, 1} && d.Bits.W == w && d.Bits.H == h {
					t.Fatalf("a drawing is keyed twice: %s\n%s", key, doc.JSON())
				}
				seen[key] = true
			}
		}
		k := 0
		for i := range pl.Passes {
			p := &pl.Passes[i]
			if !p.Patterned {
				continue
			}
			k++
			if want, got := p.Main().Line.And(p.Main().AtWork), s.panel(t, pl.Piece.Machine.Bed,
				k).And(p.Main().AtWork); got != want {
				t.Fatalf("reading %d: the panel brings %v forward, the plan %v\n%s\n%s", k, got, want, prog.Text(),
					doc.JSON())
			}
		}
	}
	t.Logf("%d placed, %d told as a whole, %d flat", placed, whole, flat)
	if few := chance.Share(300, 2000); placed < few || whole < few/2 || flat < few {
		t.Errorf("%d placed, %d told as a whole, %d flat", placed, whole, flat)
	}
}

// TestTurnedDrawing: a drawing that is said to be turned already is the chart so turned, and what the panel does
// itself comes after it: a turn and a mirror do not change places, a turn and an exchange of filled and empty do.
func TestTurnedDrawing(t *testing.T) {
	rows := []string{"#..", ".#."}
	for _, c := range []struct{ transform, does, turned, switches string }{
		{"turn-right mirror", "turn-right", "turn-right mirror", ""},
		{"turn-right mirror", "mirror", "turn-right", "mirror"},
		{"turn mirror", "turn", "turn mirror", ""},
		{"turn-right invert", "turn-right", "invert", "turn-right"},
		{"turn-right double-length", "turn-right", "turn-right double-length", ""},
		{"mirror upside-down", "mirror", "upside-down", "mirror"},
		{"upside-down bounce", "upside-down", "upside-down bounce", ""},
		{"double-width double-length", "double-width", "double-length", "double-width"},
		{"bounce double-length", "bounce", "bounce double-length", ""},
	} {
		pl := plan.Make(piecetest.New(t, "program-preselect", "L12", "R12", rows,
			piecetest.Area("transform", strings.Fields(c.transform)), piecetest.Set("/sections/0/rows", 12),
			piecetest.Set("/machine/panel_does", strings.Fields(c.does)), piecetest.Set("/machine/panel_each", true)))
		prog := card.MakeProgram(pl, 1)
		s := read(t, prog)
		if prog.Whole != "" || len(s.Areas) != 1 {
			t.Errorf("%s, the panel has %s: told as a whole", c.transform, c.does)
			continue
		}
		d := prog.Panel.Drawings[0]
		want := rows
		for _, by := range d.Turned {
			want = switched(want, by)
		}
		if got := strings.Join(d.Turned, " "); got != c.turned || strings.Join(s.Areas[0].Switches, " ") != c.switches {
			t.Errorf("%s, the panel has %s: turned %s, switches %v; want %s, %s", c.transform, c.does, got,
				s.Areas[0].Switches, c.turned, c.switches)
		}
		filled := c.turned != "invert" // which yarn is told as filled is the plan's own choice
		if d.Once == [2]int{} && filled && !slices.Equal(s.Drawings[0].Lines, want) {
			t.Errorf("%s, the panel has %s: the drawing is %q, said to be %s, which is %q", c.transform, c.does,
				s.Drawings[0].Lines, c.turned, want)
		}
	}
}

// TestPanelWords: an area is told in the order and words of the owner's panel; ours follow by the alphabet. What a
// panel is said to have is read strictly.
func TestPanelWords(t *testing.T) {
	p := piecetest.New(t, "program-small", "L6", "R6", []string{"#.."}, piecetest.Area("transform", []string{"mirror"}),
		piecetest.Set("/machine/panel_order", []string{"to", "drawing"}), piecetest.Set("/machine/panel_does",
			[]string{"mirror"}),
		piecetest.Set("/machine/panel_words", map[string]any{"to": "end", "mirror": "flip", "repeat": "again",
			"area": "place"}))
	w := card.MakeProgram(plan.Make(p), 1)
	if got, want := strings.Join(w.KeyIn, "; "), "drawing 1: c, 3 columns, 1 line; numbered as the chart is; "+
		"place 1: end R6, drawing 1, above again, anchor L6, columns 1 to 3, from L6, rows 1 to 1, "+
		"switches flip"; got != want {
		t.Errorf("%s\nnot %s", got, want)
	}
	// a turn is switched on only where it comes last
	for _, c := range []struct{ turns, does, drawing, switched string }{
		{"turn mirror", "turn", "turn mirror", ""}, {"turn mirror", "mirror", "turn", "mirror"},
		{"upside-down bounce", "upside-down", "upside-down bounce", ""},
		{"bounce double-length", "bounce", "bounce double-length", ""}, {"mirror invert", "mirror", "invert",
			"mirror"}, {"mirror double-width", "mirror", "double-width", "mirror"},
	} {
		p := card.MakeProgram(plan.Make(piecetest.New(t, "program-preselect", "L6", "R6", []string{"#..", "##."},
			piecetest.Area("transform", strings.Fields(c.turns)),
			piecetest.Set("/machine/panel_does", strings.Fields(c.does)))), 1).Panel
		if got, on := strings.Join(p.Drawings[0].Turned, " "), strings.Join(p.Areas[0].Switches,
			" "); got != c.drawing || on != c.switched {
			t.Errorf("%s on a panel that does %s: drawn %s, switched on %s", c.turns, c.does, got, on)
		}
	}
	two := piecetest.New(t, "program-preselect", "L6", "R6", []string{"#..", "##.", ".##"},
		piecetest.Set("/sections/0/areas", []any{
			map[string]any{"chart": "c", "rows": []int{1, 1}, "to": "L4", "above": "blank"},
			map[string]any{"chart": "c",
				"from": "L3"}}))
	if p := card.MakeProgram(plan.Make(two), 1).Panel; len(p.Areas) != 2 || p.Areas[0].Area != 2 {
		t.Errorf("the tallest is not told first: %+v", p.Areas)
	}
	lace := piecetest.New(t, "program-preselect", "L10", "R10", []string{"..o/."},
		piecetest.Set("/sections/0/technique", "lace"), piecetest.Set("/sections/0/yarn", "A"),
		piecetest.Before(2, "A"), piecetest.Set("/machine/panel_words", map[string]any{"memo knit 2": "5",
			"memo lace": "1"}))
	if got := card.MakeProgram(plan.Make(lace), 2).Memos; len(got) != 4 || got[1] != "1" ||
		!strings.HasPrefix(got[len(got)-1], "1, 5; blank") {
		t.Errorf("memos as her numbers: %q", got)
	}
	for path, v := range map[string]any{"panel_order": []string{"to", "to"}, "panel_does": []string{"sideways"},
		"panel_words": map[string]any{"needle": "x"},
		"panel_each":  "some"} {
		_, err := technique.Piece(piecetest.Document(t, "program-small", "L6", "R6", []string{"#.."},
			piecetest.Set(edit.Path("/machine/"+path), v)))
		if err == nil || !strings.HasPrefix(err.Error(), "machine."+path) {
			t.Errorf("%s %v: %v", path, v, err)
		}
	}
}

// TestSmallestInWhole: where a section is told as one drawing, or as every line of the bed, that is as high as the
// lines come again, of separated colours too.
func TestSmallestInWhole(t *testing.T) {
	rows := []string{"#.+#.+#.+#.+", "+#.+#.+#.+#.", "#.+#.+#.+#.+", "+#.+#.+#.+#."}
	for panel, want := range map[string]int{"places": 12, "flat": 12} { // two rows of three colours, each twice
		pl := plan.Make(piecetest.New(t, "program-preselect", "L12", "R12", rows, piecetest.Set("/machine/panel",
			panel),
			piecetest.Set("/sections/0/technique", "separated"), piecetest.Set("/sections/0/rows", 8)))
		w := card.MakeProgram(pl, 1)
		d := w.Keyed()[0]
		if finding.Stops(pl.Findings) || d.Bits.W != 3 || d.Bits.H != want {
			t.Errorf("%s: %d × %d are keyed, %v", panel, d.Bits.W, d.Bits.H, pl.Findings)
		}
	}
}

// TestSmallest: a console that wants every line of the bed is told the fewest columns and lines that come again, and
// where none come again all of them.
func TestSmallest(t *testing.T) {
	twice := []string{"#..#..#..#..", ".#..#..#..#.", "#..#..#..#..", ".#..#..#..#."}
	mesh := plan.Make(piecetest.New(t, "program-preselect", "L12", "R12", []string{"../o..../o..", "../o..../o.."},
		piecetest.Set("/sections/0/technique", "lace"),
		piecetest.Set("/sections/0/yarn", "A"), piecetest.Set("/sections/0/rows", 5), piecetest.Before(2, "A")))
	if w := card.MakeProgram(mesh, 2); w.Bits.W != 6 || mesh.LinesOf(2) != w.Bits.H || w.Bits.H != 2 {
		t.Errorf("lace of one row and six columns that come again: %d × %d", w.Bits.W, w.Bits.H)
	}
	// The lines come again, and the yarn does not: the second time has a line of its own to say so.
	yarns := card.MakeProgram(plan.Make(piecetest.New(t, "program-preselect", "L12", "R12", []string{".+", "+.",
		".#", "#."})), 1)
	if d := yarns.Panel.Drawings[0]; d.Bits.H != 4 || yarns.Memos[2] == "" {
		t.Errorf("%d lines are keyed, memos %q", d.Bits.H, yarns.Memos)
	}
	for _, c := range []struct {
		panel string
		edits []edit.Change
		w, h  int
	}{
		{"flat", nil, 3, 2},
		{"places", nil, 12, 4}, // the lines as they stand; keyed are fewer
		{"flat", []edit.Change{piecetest.Area("to", "R4")}, 24, 2},          // the last two stay at rest
		{"flat", []edit.Change{piecetest.Set("/sections/0/rows", 3)}, 3, 3}, // it ends before it comes again
		// A needle out of work between two that differ does not make them alike.
		{"flat", []edit.Change{piecetest.Set("/needles", map[string]any{"from": "L3", "to": "R2", "out": "L1"}),
			piecetest.Set("/charts/c/rows", []string{"#...."})}, 5, 1},
	} {
		w := card.MakeProgram(plan.Make(piecetest.New(t, "program-preselect", "L12", "R12", twice,
			append(c.edits, piecetest.Set("/machine/panel", c.panel))...)), 1)
		if c.panel == "places" && (w.Panel.Drawings[0].Bits.W != 3 || w.Panel.Drawings[0].Bits.H != 2) {
			t.Errorf("keyed are %d × %d", w.Panel.Drawings[0].Bits.W, w.Panel.Drawings[0].Bits.H)
		}
		if w.Bits.W != c.w || w.Bits.H != c.h {
			t.Errorf("%s %v: %d × %d, not %d × %d", c.panel, c.edits, w.Bits.W, w.Bits.H, c.w, c.h)
		}
	}
}
