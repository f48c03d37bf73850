package plan_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

func TestSpread(t *testing.T) {
	for _, c := range []struct {
		a, b, n int
		words   string
	}{{7, 48, 9, "every 5 rows 6 times, then every 4 rows 3 times"},
		{1, 39, 7, "every 6 rows 4 times, then every 5 rows 3 times"},
		{15, 28, 3, "every 5 rows 2 times, then after 4 rows once"}, {3, 5, 3, "every row 3 times"},
		{4, 4, 1, "after 1 rows once"}} {
		rows := piece.Spread(c.a, c.b, c.n)
		if got := piece.ShapeWords(c.a-1, rows); got != c.words && c.n > 1 {
			t.Errorf("%d steps over rows %d to %d: %q, want %q", c.n, c.a, c.b, got, c.words)
		}
		if len(rows) != c.n || rows[len(rows)-1] != c.b {
			t.Errorf("%v: %d steps, the last at row %d", rows, c.n, c.b)
		}
	}
	for a := 1; a < 9; a++ { // gaps differ by at most one row, the first counted from row a-1
		for b := a; b < a+20; b++ {
			for n := 1; n <= b-a+1; n++ {
				least, most, before := b, 0, a-1
				for _, r := range piece.Spread(a, b, n) {
					least, most, before = min(least, r-before), max(most, r-before), r
				}
				if most-least > 1 || least < 1 || before != b {
					t.Fatalf("%d steps over rows %d to %d: gaps of %d to %d, the last at %d", n, a, b, least, most,
						before)
				}
			}
		}
	}
}

// shapePiece is L6 to R6 (12 stitches), ten rows in a technique, with a shape.
func shapePiece(t *testing.T, profile, tech string, rows []string, shape []any, more ...edit.Change) *pass.Plan {
	t.Helper()
	changes := append([]edit.Change{piecetest.Set("/sections/0/technique", tech), piecetest.Set("/sections/0/rows",
		10), piecetest.Set("/shape", shape)}, more...)
	return plan.Make(piecetest.New(t, profile, "L6", "R6", rows, changes...))
}

func stepsBefore(pl *pass.Plan, row int, part string) (said []string) {
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Row() != row || p.ID.Part != part {
			continue
		}
		for _, st := range p.Before {
			if of := st.Event(); of == step.OfEdge || of == step.OfPart || st.Do() == step.DoBringForward {
				tool := ""
				if e, ok := st.Step.(step.Edged); ok && e.Edging().Tool > 0 {
					tool = fmt.Sprint("/", e.Edging().Tool)
				}
				said = append(said, fmt.Sprintf("%s%s %v", st.Do(), tool, st.Needles()))
			}
		}
		return said
	}
	return nil
}

func shapeStep(side string, row, n int, more ...any) map[string]any {
	e := map[string]any{"side": side, "row": row, "stitches": n}
	for i := 0; i < len(more); i += 2 {
		e[more[i].(string)] = more[i+1]
	}
	return e
}

// TestShapeSteps: what is done before which row, for every kind of step (rules 5.11). The carriage starts on the
// right, so row 1 does too, row 2 on the left, where every row is one pass.
func TestShapeSteps(t *testing.T) {
	plain := edit.Put("/sections/0", map[string]any{"technique": "plain", "rows": 10, "yarn": "A"})
	figure := []string{"#.#.#.#.#.#.", ".#.#.#.#.#.#"}
	for _, c := range []struct {
		name, profile, tech string
		shape               []any
		more                []edit.Change
		want                map[int]string // by row: what is done before it
		codes               string
	}{
		{"one out, both", "card-direct", "plain", []any{shapeStep("both", 3, 1)}, plain,
			map[int]string{3: "increase L7,R7", 4: ""}, ""},
		{"one in, both, fashioned", "card-direct", "plain", []any{map[string]any{"side": "both", "rows": []int{4, 4},
			"stitches": -1, "fashion": 2}}, plain,
			map[int]string{4: "decrease/2 L6,R6"}, ""},
		{"different tools are two steps", "card-direct", "plain", []any{shapeStep("left", 4, -1), shapeStep("right", 4, -1,
			"fashion", 3)}, plain,
			map[int]string{4: "decrease L6; decrease/3 R6"}, ""},
		{"bound off at the yarn's side", "card-direct", "plain", []any{shapeStep("right", 3, -3)}, plain,
			map[int]string{3: "bind-off R4-R6", 4: ""}, ""},
		{"bound off a row later", "card-direct", "plain", []any{shapeStep("left", 3, -3)}, plain, map[int]string{3: "",
			4: "bind-off L6-L4"}, "shape-later"},
		{"two stitches need the yarn, one does not", "card-direct", "plain", []any{shapeStep("left", 3, -1), shapeStep("left",
			5, -2)}, plain,
			map[int]string{3: "decrease L6", 5: "", 6: "bind-off L5-L4"}, "shape-later"},
		{"cast on at the yarn's side", "card-direct", "plain", []any{shapeStep("left", 2, 3)}, plain,
			map[int]string{2: "cast-on L9-L7"}, ""},
		{"into hold before a row from the other side, wrapped before the next", "card-direct", "plain",
			[]any{shapeStep("left", 3, -2, "by", "hold")}, plain,
			map[int]string{3: "to-hold L6-L5", 4: "wrap L5"}, ""},
		{"into hold a row later", "card-direct", "plain", []any{shapeStep("right", 3, -2, "by", "hold")}, plain,
			map[int]string{3: "", 4: "to-hold R5-R6", 5: "wrap R5"}, "shape-later"},
		{"one stitch into hold needs the other side too", "card-direct", "plain", []any{shapeStep("right", 3, -1, "by",
			"hold", "wrap", false)}, plain,
			map[int]string{3: "", 4: "to-hold R6", 5: ""}, "shape-later,turn-hole"},
		{"released", "card-direct", "plain", []any{shapeStep("left", 3, -2, "by", "hold"), map[string]any{"side": "left",
			"row": 6, "release": true}}, plain,
			map[int]string{6: "to-work L6-L5"}, ""},
		{"newly at work, selected ahead: set by hand", "card-preselect", "two-colour", []any{shapeStep("both", 4, 1)},
			[]edit.Change{piecetest.Set("/sections/0/areas/0/from", "L7"), piecetest.Set("/sections/0/areas/0/first",
				"L7"), piecetest.Set("/sections/0/areas/0/to", "R7")},
			map[int]string{4: "increase L7,R7; bring-forward L7"}, ""},
		{"fingers undo what is selected ahead", "card-preselect", "two-colour", []any{shapeStep("right", 4, -1)}, nil,
			map[int]string{4: "decrease R6; bring-forward R5"}, ""},
		{"selected as it knits: nothing by hand", "card-direct", "two-colour", []any{shapeStep("right", 4, -1)}, nil,
			map[int]string{4: "decrease R6"}, ""},
		{"readers of pairs start every row on the right", "two-bed-pairs", "tuck", []any{shapeStep("left", 4, -2)},
			[]edit.Change{piecetest.Set("/charts/c/legend", map[string]any{".": map[string]any{},
				"#": map[string]any{"stitch": "tuck"}})},
			map[int]string{4: ""}, "shape-side"},
		{"there on the right they may", "two-bed-pairs", "tuck", []any{shapeStep("right", 4, -2)},
			[]edit.Change{piecetest.Set("/charts/c/legend", map[string]any{".": map[string]any{},
				"#": map[string]any{"stitch": "tuck"}})},
			map[int]string{4: "bind-off R5-R6"}, ""},
	} {
		pl := shapePiece(t, c.profile, c.tech, figure, c.shape, c.more...)
		for row, want := range c.want {
			if got := strings.Join(stepsBefore(pl, row, ""), "; "); got != want {
				t.Errorf("%s, before row %d: %q, want %q", c.name, row, got, want)
			}
		}
		var codes []string
		for _, f := range check.Of(pl).Findings {
			if slices.Contains([]finding.Code{finding.ShapeLater, finding.ShapeSide, finding.TurnHole,
				finding.FabricDiffers, finding.SelectionLost}, f.Code) {
				codes = append(codes, string(f.Code))
			}
		}
		slices.Sort(codes)
		if got := strings.Join(slices.Compact(codes), ","); got != c.codes {
			t.Errorf("%s: %q is said, want %q", c.name, got, c.codes)
		}
	}
}

// TestSplit: at the mark and at the way back everything is as it was: row, line, counter, side, way, selection.
func TestSplit(t *testing.T) {
	figure := []string{"#.#.#.#.#.#.", ".#.##.#.##.#", "..##..##..##"}
	lace := []edit.Change{piecetest.Set("/charts/c/legend", map[string]any{}), piecetest.Set("/charts/c/side",
		"knit"), piecetest.Before(2, "A")}
	purls := []string{"....--....--", "--....--...."}
	purl := func(selects, start string) []edit.Change {
		return []edit.Change{piecetest.Set("/charts/c/legend", map[string]any{".": map[string]any{},
			"-": map[string]any{"stitch": "purl"}}), piecetest.Set("/start", start),
			piecetest.Set("/machine/purl_carriage", true), piecetest.Set("/machine/purl_selects", selects)}
	}
	for _, c := range []struct {
		name, profile, tech string
		rows                []string
		split               int
		more                []edit.Change
		row, line           int // of the mark
		free                int // passes on the way back
		first               string
		waits               step.Do
	}{
		{"selects ahead, ends away", "card-preselect", "two-colour", figure, 5, nil, 5, 2, 2, "left", step.DoToHold},
		{"selects ahead, ends there", "card-preselect", "two-colour", figure, 6, nil, 6, 3, 1, "right", step.DoToHold},
		{"selects as it knits", "card-direct", "two-colour", figure, 5, nil, 5, 2, 0, "right", step.DoToHold},
		{"a purl carriage, selected for ahead", "card-preselect", "texture", purls, 5, purl("ahead", "left"), 5, 1, 2, "right",
			step.DoToHold},
		{"a purl carriage that selects itself", "card-preselect", "texture", purls, 5, purl("now", "right"), 5, 1, 0, "right",
			step.DoToHold},
		{"a free pass to the other side", "card-direct", "two-colour", figure, 6, nil, 6, 3, 1, "left", step.DoToHold},
		{"held needles disturb", "card-direct", "two-colour", figure, 5, []edit.Change{piecetest.Set("/machine",
			map[string]any{"profile": "card-direct", "hold_disturbs": true})}, 5, 2, 0, "right", step.DoTakeOff},
		{"in two passes a row", "hand-mid", "two-colour", figure, 5, nil, 5, 0, 0, "right", step.DoTakeOff},
		{"lace, on waste yarn", "program-preselect", "lace", []string{"...", "/.o"}, 5, lace, 3, 7, 0, "right",
			step.DoTakeOff},
	} {
		pl := shapePiece(t, c.profile, c.tech, c.rows, []any{map[string]any{"split": c.split, "left": "L2",
			"right": "R2"}}, c.more...)
		if r := check.Of(pl); r.Stops() {
			t.Errorf("%s: %v", c.name, r.Findings[:1])
			continue
		}
		var mark step.Mark
		var back step.Return
		var at, again *pass.Pass
		free, middle := 0, 0
		waits := step.Do("")
		for i := range pl.Passes {
			p := &pl.Passes[i]
			for j := range p.Before {
				switch st := p.Before[j].Step.(type) {
				case step.Mark:
					mark, at = st, p
				case step.Return:
					back = st
				case step.Wait:
					waits = st.Do()
				case step.BindOffMiddle:
					middle = st.On.Len()
				}
			}
			if p.ID.Part == "second" && p.Row() == 0 && p.Free {
				free++
			}
			if p.ID.Part == "second" && p.Row() > 0 && again == nil {
				again = p
			}
		}
		if mark.Marked == nil || back.Marked == nil || again == nil {
			t.Errorf("%s: no mark, or no way back", c.name)
			continue
		}
		if mark.Marked.Row != c.row || mark.Marked.Line != c.line && c.line > 0 || *back.Marked != *mark.Marked ||
			mark.Side != at.Dir.Other() && at.Carriage == machine.KnitCarriage || mark.Side != back.Side {
			t.Errorf("%s: marked %+v on the %v, back to %+v on the %v; want row %d, line %d", c.name, *mark.Marked,
				mark.Side, *back.Marked, back.Side, c.row, c.line)
		}
		if at.Row() != again.Row() || at.Dir != again.Dir || at.Counter != again.Counter || at.Own != again.Own {
			t.Errorf("%s: row %d %v counter %d line %d, and again row %d %v counter %d line %d", c.name, at.Row(),
				at.Dir, at.Counter, at.Own,
				again.Row(), again.Dir, again.Counter, again.Own)
		}
		if free != c.free || waits != c.waits || middle != 2 || mark.Side.String() != c.first {
			t.Errorf("%s: %d free passes, waits by %s, %d bound off in the middle, on the %v; want %d, %s, 2, %s",
				c.name, free, waits, middle, mark.Side, c.free, c.waits, c.first)
		}
	}
}

// TestSplitOfLace: with every row shown a split before an even row comes one row later, and says so.
func TestSplitOfLace(t *testing.T) {
	for row, want := range map[int]int{5: 5, 6: 7} {
		pl := shapePiece(t, "program-preselect", "lace", []string{"...", "/.o"},
			[]any{map[string]any{"split": row + 2, "left": "L2", "right": "R2"}},
			piecetest.Set("/charts/c/legend", map[string]any{}), piecetest.Set("/charts/c/side", "knit"),
			piecetest.Set("/charts/c/shows", "all"), piecetest.Before(2, "A"))
		f := technique.Prove(pl)
		i := slices.IndexFunc(pl.Passes, func(p pass.Pass) bool { return p.ID.Part == "first" })
		if i < 0 || pl.Passes[i].Row() != want || !f.Matches() {
			t.Errorf("a split before row %d: first part at pass %d, %s", row, i, f.First)
		}
		if said := slices.ContainsFunc(pl.Findings, func(
			f finding.Finding) bool {
			return f.Code == finding.SplitLace
		}); said != (row != want) {
			t.Errorf("a split before row %d: it is said %v", row, said)
		}
	}
}

// TestShapeSpoilt: a plan whose edges, holds, wraps or parts are not the shape's is noticed.
func TestShapeSpoilt(t *testing.T) {
	shape := []any{shapeStep("both", 1, 1), shapeStep("left", 2, -2, "by", "hold"), map[string]any{"side": "left", "row": 5,
		"release": true},
		map[string]any{"side": "right", "rows": []int{4, 5}, "stitches": -2, "fashion": 2},
		map[string]any{"split": 6, "left": "L3", "right": "L1"}}
	build := func() *pass.Plan {
		return shapePiece(t, "card-preselect", "two-colour", []string{"#.#.#.#.#.#.", ".#.#.#.#.#.#"}, shape)
	}
	if f := technique.Prove(build()); !f.Matches() {
		t.Fatalf("not good to begin with: %s %v", f.First, f.Faults)
	}
	drop := func(do step.Do) func(pl *pass.Plan) {
		return func(pl *pass.Plan) {
			for i := range pl.Passes {
				pl.Passes[i].Before = slices.DeleteFunc(slices.Clone(pl.Passes[i].Before),
					func(st pass.Step) bool {
						return st.Do() == do && (st.Event() == step.OfEdge || st.Event() == step.OfPart)
					})
			}
		}
	}
	for name, spoil := range map[string]func(pl *pass.Plan){
		"no increase": drop(step.DoIncrease), "no decrease": drop(step.DoDecrease), "not into hold": drop(step.DoToHold),
		"not back": drop(step.DoToWork),
		"no wrap":  drop(step.DoWrap), "no mark": drop(step.DoMark), "no return": drop(step.DoReturn),
		"another needle": func(pl *pass.Plan) {
			for i := range pl.Passes {
				for j := range pl.Passes[i].Before {
					if st, ok := pl.Passes[i].Before[j].Step.(step.Widen); ok {
						st.On = machine.SetOf(machine.L(7), machine.R(8))
						pl.Passes[i].Before[j].Step = st
					}
				}
			}
		},
		"a row late": func(pl *pass.Plan) {
			for i := range pl.Passes {
				if at := slices.IndexFunc(pl.Passes[i].Before,
					func(st pass.Step) bool { return st.Do() == step.DoDecrease }); at >= 0 {
					st := pl.Passes[i].Before[at]
					pl.Passes[i].Before = slices.Delete(slices.Clone(pl.Passes[i].Before), at, at+1)
					pl.Passes[i+1].Before = append(slices.Clone(pl.Passes[i+1].Before), st)
					return
				}
			}
		},
		"the second part left out": func(pl *pass.Plan) {
			pl.Passes = slices.DeleteFunc(pl.Passes, func(p pass.Pass) bool { return p.ID.Part == "second" })
		},
	} {
		pl := build()
		spoil(pl)
		if f := technique.Prove(pl); f.Matches() {
			t.Errorf("%s, and it is not noticed", name)
		}
	}
}

// TestBadShapes: what no needles can do is bad input at its entry; one more or one less is none.
func TestBadShapes(t *testing.T) {
	split := map[string]any{"split": 6, "left": "L3", "right": "R3", "first": "right"}
	for _, c := range []struct {
		name  string
		shape []any
		want  string // "": it can be read and planned
	}{
		{"to the last row", []any{shapeStep("left", 10, -1)}, ""},
		{"beyond the last row", []any{shapeStep("left", 11, -1)}, "shape[0].row: 11: the piece has 10 rows"},
		{"spread beyond it", []any{map[string]any{"side": "left", "rows": []int{2, 11}, "stitches": -1}},
			"shape[0].rows: 11: the piece has 10 rows"},
		{"as many steps as rows", []any{map[string]any{"side": "left", "rows": []int{2, 5}, "stitches": 4}}, ""},
		{"one step more", []any{map[string]any{"side": "left", "rows": []int{2, 5}, "stitches": 5}},
			"shape[0].stitches: 5: single steps over 4 rows, and a side has one step a row"},
		{"down to one stitch", []any{shapeStep("right", 3, -11)}, ""},
		{"to none", []any{shapeStep("right", 3, -12)},
			"shape[0]: the work has 12 in row 3; taking 12 away would leave none"},
		{"all but one wait", []any{shapeStep("left", 3, -11, "by", "hold")}, ""},
		{"all wait", []any{shapeStep("left", 3, -12, "by", "hold")},
			"shape[0]: 12 of 12 stitches cannot wait in row 3: one at least knits"},
		{"both sides in one row", []any{shapeStep("left", 4, -1), shapeStep("right", 4, -1)}, ""},
		{"two steps on one", []any{shapeStep("left", 4, -1), shapeStep("both", 4, -1)},
			"shape[1]: row 4 has another step on the left; a side has one step a row"},
		{"a tool needs a stitch beside it", []any{shapeStep("right", 3, -7), map[string]any{"side": "left",
			"rows": []int{4, 4}, "stitches": -1, "fashion": 4}}, ""},
		{"and has none", []any{shapeStep("right", 3, -7), map[string]any{"side": "left", "rows": []int{4, 4},
			"stitches": -1, "fashion": 5}},
			"shape[1]: a tool of 5 prongs needs 5 stitches and one beside them; row 4 has 5"},
		{"nothing waits", []any{map[string]any{"side": "left", "row": 4, "release": true}},
			"shape[0]: no needle waits in hold on the left before row 4"},
		{"what waits is not bound off", []any{shapeStep("left", 3, -2, "by", "hold"), shapeStep("left", 6, -1)},
			"shape[1]: needles wait in hold on the left, L6-L5; release them before the edge moves in row 6"},
		{"an inner edge that narrows and comes back", []any{split, shapeStep("left", 7, -1, "part", "first"),
			shapeStep("left", 9, 1, "part", "first")}, ""},
		{"and goes over what waits", []any{split, shapeStep("left", 7, 1, "part", "first")},
			"shape[1]: row 7 would bring R2 to work, and a stitch waits there"},
		{"the second may, up to the first", []any{split, shapeStep("right", 7, 1, "part", "second")}, ""},
		{"and not in the same row as the first", []any{split, map[string]any{"part": "second", "side": "right",
			"row": 7, "stitches": 5}}, "shape[1]: in row 7 both parts would have R3"},
		{"a part before the split", []any{split, shapeStep("left", 5, -1, "part", "first")},
			"shape[1].part: \"first\": the piece divides before row 6, and this is row 5"},
		{"divided twice", []any{split, split}, "shape[1]: a piece divides once; the split stands in shape[0]"},
		{"no stitch on the left", []any{map[string]any{"split": 6, "left": "L7", "right": "R3"}},
			"shape[0]: no stitch is at work on the left, up to L7, when the piece divides"},
	} {
		said := ""
		changes := append(edit.Put("/sections/0", map[string]any{"technique": "plain", "rows": 10, "yarn": "A"}),
			piecetest.Set("/shape", c.shape))
		p, err := technique.Piece(piecetest.Document(t, "card-direct", "L6", "R6", []string{"."}, changes...))
		if err != nil {
			said = err.Error()
		} else if pl := plan.Make(p); pl.Refused != nil {
			said = pl.Refused.Error()
		}
		if said != c.want {
			t.Errorf("%s: %q, want %q", c.name, said, c.want)
		}
	}
	recipe := append(edit.Put("/sections/0", map[string]any{"technique": "plain", "rows": 4, "yarn": "A"}),
		piecetest.Set("/sections/-", map[string]any{"technique": "recipe", "recipe": []string{"yarn A", "pass 6"}}),
		piecetest.Set("/sections/-", map[string]any{"technique": "plain", "rows": 4, "yarn": "A"}))
	for row, bad := range map[int]bool{4: false, 5: true, 10: true, 11: false} {
		_, err := technique.Piece(piecetest.Document(t, "card-direct", "L6", "R6", []string{"."},
			append(slices.Clone(recipe), piecetest.Set("/shape", []any{shapeStep("left", row, -1)}))...))
		if (err != nil) != bad {
			t.Errorf("a step before row %d, where rows 5 to 10 are a recipe's: %v", row, err)
		}
	}
	for n, stops := range map[int]bool{4: false, 5: true} { // L96 with 4 needles to the left, L100 the last
		pl := plan.Make(piecetest.New(t, "card-direct", "L96", "L90", []string{"."}, append(edit.Put("/sections/0",
			map[string]any{"technique": "plain", "rows": 10, "yarn": "A"}),
			piecetest.Set("/shape", []any{map[string]any{"side": "left", "rows": []int{2, 9}, "stitches": n}}))...))
		if finding.Stops(pl.Findings) != stops || stops && pl.Findings[0].Code != finding.OffBed {
			t.Errorf("%d more from L96: %v", n, pl.Findings)
		}
	}
}

// TestSplitYarns: the part on the carriage's side is first where nothing else is said; the second is threaded
// anew, as if nothing had been in the feeders, and nothing is cut for it.
func TestSplitYarns(t *testing.T) {
	rows := []string{".#.#.#.#.#.#", "#.#.#.#.#.#.", ".#.#.#.#.#.#", "#.#.#.#.#.#.", ".#.#.#.#.#.#", "############"}
	for split, side := range map[int]machine.Side{4: machine.Left, 5: machine.Right} {
		pl := shapePiece(t, "card-direct", "two-colour", rows, []any{map[string]any{"split": split, "left": "L1",
			"right": "R1"}}, piecetest.Set("/sections/0/rows", 6))
		var feeders []string
		part := ""
		for i := range pl.Passes {
			p := &pl.Passes[i]
			if p.ID.Part != part && p.Row() == split {
				part = p.ID.Part
				feeders = append(feeders, pl.Piece.YarnID(p.Yarn(1))+pl.Piece.YarnID(p.Yarn(2)))
				if on := p.Main().AtWork; part == "first" && (on.First() < 0) != (side == machine.Left) {
					t.Errorf("split before row %d: first %v at work, the carriage on the %v", split, on, side)
				}
			}
		}
		if fmt.Sprint(feeders) != "[BA AB]" || pl.Totals.Cuts != 0 || pl.Totals.Threadings != 4 {
			t.Errorf("split before row %d: feeders %v, %d threadings, %d cuts", split, feeders, pl.Totals.Threadings,
				pl.Totals.Cuts)
		}
		// The second part's yarns are threaded anew: nothing hangs from what the first part took last.
		f := technique.Prove(pl)
		began := slices.IndexFunc(pl.Passes, func(p pass.Pass) bool { return p.ID.Part == "second" && !p.Free })
		for _, l := range f.LongFloats(began, 0) {
			if l.Turn {
				t.Errorf("split before row %d: pass %d, the second part's first: %+v", split, began+1, l)
			}
		}
	}
	one := shapePiece(t, "hand-mid", "two-colour", rows, []any{map[string]any{"split": 4, "left": "L1",
		"right": "R1"}}, piecetest.Set("/sections/0/rows", 6))
	if one.Totals.Cuts != 0 {
		t.Errorf("one feeder: %d cuts", one.Totals.Cuts)
	}
}

// TestSecondEdges: the second bed's edges move with the main bed's, one needle further in on the right.
func TestSecondEdges(t *testing.T) {
	pl := shapePiece(t, "program-preselect", "plain", []string{"."}, []any{shapeStep("both", 3, 1),
		map[string]any{"side": "right", "rows": []int{6, 7}, "stitches": -2}},
		edit.Put("/sections/0", map[string]any{"technique": "plain", "rows": 10, "yarn": "A", "second": "every"})...)
	for row, want := range map[int]string{1: "L6-R5", 3: "L7-R6", 6: "L7-R5", 7: "L7-R4"} {
		if got := pl.Passes[row-1].Second().AtWork.String(); got != want {
			t.Errorf("row %d: the second bed has %s at work, want %s", row, got, want)
		}
	}
	if f := technique.Prove(pl); !f.Matches() {
		t.Error(f.First, f.Faults)
	}
}

// TestOutline: stitches to the nearest, even where the edges are alike; rows to the nearest even; steps between
// the corners; and the rows that are knitted already as they are.
func TestOutline(t *testing.T) {
	alike := &piece.Outline{Left: [][2]float64{{-50, 0}, {-60, 49}, {-60, 70}, {-30, 70}}, Right: [][2]float64{{50,
		0}, {60, 49}, {60, 70}, {30, 70}}}
	askew := &piece.Outline{Left: [][2]float64{{0, 0}, {0, 70}}, Right: [][2]float64{{103, 0}, {80, 70}}}
	if a, b := alike.Width(3.9), askew.Width(3.9); a != 26 || b != 26 {
		t.Errorf("100 mm alike and 103 mm askew at 3.9 mm a stitch: %d and %d", a, b)
	}
	if a, b := alike.Width(4), askew.Width(4.1); a != 26 || b != 25 { // 25 stitches are made even
		t.Errorf("100 mm alike at 4 mm a stitch, 103 mm askew at 4.1: %d and %d", a, b)
	}
	// 20.4 rows, 29.2 rows
	if got := fmt.Sprint(alike.Corners(machine.Right, 4, 2.4, 0)); got != "[{0 0} {2 20} {2 30} {-5 30}]" {
		t.Errorf("corners: %s", got)
	}
	said := func(rules []piece.ShapeRule) (list []string) {
		for _, r := range rules {
			if r.Side == machine.Left || r.Both {
				list = append(list, fmt.Sprint(r.Rows, r.Stitches))
			}
		}
		return list
	}
	if got := fmt.Sprint(said(alike.Rules(4, 2.4, nil))); got != "[[1 20] 2 [31 31] -7]" {
		t.Errorf("steps: %s", got)
	}
	kept := &piece.Kept{Rows: 7, Cast: 26, Rules: []piece.ShapeRule{{Both: true, Rows: [2]int{3, 3}, Stitches: 1}}}
	if got := fmt.Sprint(said(alike.Rules(4, 2.4, kept))); got != "[[3 3] 1 [8 20] 1 [31 31] -7]" {
		t.Errorf("with 7 rows knitted: %s", got)
	}
	steep := &piece.Outline{Left: [][2]float64{{-50, 0}, {-10, 10}}, Right: [][2]float64{{50, 0}, {50, 10}}}
	if got := fmt.Sprint(said(steep.Rules(4, 2.4, nil))); got != "[[1 1] -5 [3 3] -5]" { // flatter than a stitch a row
		t.Errorf("flat: %s", got)
	}
	for _, m := range alike.Measures(4, 2.4, 26, nil) {
		if m.Side == machine.Right && m.No == 2 && (m.Off()[0] != 0 || m.Off()[1] != -1) {
			t.Errorf("asked %v, got %v", m.Asked, m.Got)
		}
	}
}

// TestHungAgain: what waits on waste yarn is hung again, what is held for the shape too, which then goes back in hold;
// a stitch that no step hangs is missed.
func TestHungAgain(t *testing.T) {
	p := piecetest.New(t, "two-bed-pairs", "L4", "R2", []string{"..#"}, piecetest.Set("/machine/hold_disturbs", true),
		piecetest.Set("/charts/p", map[string]any{"side": "knit", "rows": []string{"...", ".##"},
			"legend": map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": "purl"}}}),
		piecetest.Set("/sections", []any{map[string]any{"technique": "plain", "rows": 5, "yarn": "A"},
			map[string]any{"technique": "texture", "rows": 6, "yarn": "A", "areas": []any{map[string]any{"chart": "p"}}}}),
		piecetest.Set("/shape", []any{map[string]any{"by": "hold", "row": 5, "side": "left", "stitches": -1},
			map[string]any{"left": "L2", "right": "L1", "split": 7}}))
	pl := plan.Make(p)
	if f := technique.Prove(pl); !f.Matches() {
		t.Fatalf("%v %s\n%s", f.Faults, f.First, pl)
	}
	text := pl.String()
	_, back, ok := strings.Cut(text, "- Hang 3 stitches again from the waste yarn, on L4-L2")
	before, _, _ := strings.Cut(back, "row 2 ")
	if !ok || !strings.Contains(before, "- Put L4 in full hold") {
		t.Errorf("L4 is not hung again, or not held\n%s", text)
	}
	for i := range pl.Passes {
		for j := range pl.Passes[i].Before {
			if up, ok := pl.Passes[i].Before[j].Step.(step.TakeUp); ok {
				up.On.Remove(machine.L(4))
				pl.Passes[i].Before[j].Step = up
			}
		}
	}
	if f := technique.Prove(pl); !slices.ContainsFunc(f.Faults, func(f finding.Finding) bool {
		return f.Code == finding.StitchDropped && strings.Contains(f.Text, "L4 is left on the waste yarn")
	}) {
		t.Errorf("nobody misses the stitch of L4: %v", f.Faults)
	}
}

// TestSecondWaits: where stitches of the second bed wait for the other part, its carriage is set to pass them by before
// the first pass over them, whether the part works the second bed or not; nobody told, it is found wrong.
func TestSecondWaits(t *testing.T) {
	for _, second := range []bool{true, false} {
		part := map[string]any{"technique": "plain", "rows": 6}
		if second {
			part["second"] = "every"
		}
		p := piecetest.New(t, "two-bed-pairs", "L10", "R10", []string{"#."},
			piecetest.Set("/sections", []any{map[string]any{"technique": "plain", "rows": 4, "second": "every"}, part}),
			piecetest.Set("/shape", []any{map[string]any{"split": 5, "left": "L1", "right": "R1"}}))
		pl := plan.Make(p)
		if f := technique.Prove(pl); !f.Matches() {
			t.Fatalf("%v: %s %v", second, f.First, f.Faults)
		}
		at := slices.IndexFunc(pl.Passes, func(q pass.Pass) bool {
			return slices.ContainsFunc(q.Before, func(st pass.Step) bool { return step.Is[step.Wait](st.Step) })
		})
		told := func(st pass.Step) bool {
			set, ok := st.Step.(step.Cams)
			return ok && set.Bed() == machine.Second && set.Lever&step.Holding != 0
		}
		if at < 0 || !slices.ContainsFunc(pl.Passes[at].Before, told) {
			t.Fatalf("%v: nobody is told\n%s", second, pl)
		}
		pl.Passes[at].Before = slices.DeleteFunc(pl.Passes[at].Before, told)
		if f := technique.Prove(pl); len(f.Faults) == 0 {
			t.Errorf("%v: not set, and nothing is wrong", second)
		}
	}
}
