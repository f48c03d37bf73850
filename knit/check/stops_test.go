package check_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// stops is what stops a piece: code, section and row.
func stops(r *check.Result) string {
	var list []string
	for i := range r.Findings {
		if f := &r.Findings[i]; f.Severity == finding.Stop {
			list = append(list, fmt.Sprintf("%s %d:%d", f.Code, f.Section, f.Rows[0]))
		}
	}
	return strings.Join(list, ", ")
}

// TestOnlyTheStop: of a divided piece whose first part stops, the second is not there: that is not told beside the stop.
func TestOnlyTheStop(t *testing.T) {
	rng, divided := chance.Rand(t, 16, 31), 0
	for range chance.Cases(4000) {
		_, p := chance.Piece(t, rng)
		if r := check.Run(p); r.Plan.Stopped.Row > 0 && p.Shape != nil && p.Shape.Split != nil {
			if divided++; strings.Contains(stops(r), "fabric-differs 0:0") {
				t.Errorf("%v: %s", r.Plan.Stopped, stops(r))
			}
		}
	}
	if divided < 10 {
		t.Errorf("only %d divided pieces stop", divided)
	}
}

// TestAllStops: all that stops a piece is told at once, the passes end at the first; a row that stops is taken as if
// it took as many passes as the others, a carriage as if it stood right, and what only follows is not told.
func TestAllStops(t *testing.T) {
	three := []string{"..##..", "#.+..#", ".##.#."}
	step := func(side string, row, n int) any { return map[string]any{"side": side, "row": row, "stitches": n} }
	plain := func(n int) any { return map[string]any{"technique": "plain", "rows": n, "yarn": "A"} }
	lace := func(chart string) any {
		return map[string]any{"technique": "lace", "yarn": "A", "areas": []any{map[string]any{"chart": chart}}}
	}
	marks := map[string]any{"side": "knit", "rows": []string{"......", "..o/.."}}
	colours := func(rows int) any {
		return map[string]any{"technique": "two-colour", "rows": rows, "areas": []any{map[string]any{"chart": "c"}}}
	}
	for _, c := range []struct {
		sections, shape []any
		want            string
	}{
		{[]any{plain(2), lace("l"), plain(1), lace("l")}, []any{step("left", 3, -2)}, "shape-side 2:1, carriage-side 4:1"},
		{[]any{plain(2), lace("l"), plain(4)}, []any{step("left", 3, -2), step("right", 7, 200)},
			"shape-side 2:1, off-bed 3:3"},
		{[]any{plain(2), lace("l"), plain(4)}, []any{step("left", 3, 2), step("left", 6, -1)}, "shape-side 2:1"},
		{[]any{plain(2), colours(3), plain(2), lace("l")}, nil, "colours-in-row 2:2, carriage-side 4:1"},
		{[]any{plain(2), colours(3), plain(1), lace("l")}, nil, "colours-in-row 2:2"},
		{[]any{plain(1), lace("l"), plain(1), lace("l")}, nil, "carriage-side 2:1, carriage-side 4:1"},
		{[]any{plain(1), lace("l"), plain(2), lace("l")}, nil, "carriage-side 2:1"},
		{[]any{plain(2), colours(3), plain(1), colours(3), plain(2), lace("l")}, nil,
			"colours-in-row 2:2, colours-in-row 4:2, carriage-side 6:1"},
	} {
		p := piecetest.New(t, "card-preselect", "L6", "R6", three, piecetest.Set(edit.Member("sections"), c.sections),
			piecetest.Set(edit.Member("charts").To("l"), marks), piecetest.Set(edit.Member("shape"), c.shape),
			piecetest.Set(edit.Member("begin"), map[string]any{"way": "comb"}))
		r := check.Run(p)
		if got := stops(r); got != c.want {
			t.Errorf("%v:\n got %s\nwant %s", c.sections, got, c.want)
		}
		if n := len(r.Plan.Passes); n > 0 && r.Plan.Passes[n-1].Section > r.Plan.Stopped.Section {
			t.Errorf("%v: pass %d is of section %d", c.sections, n, r.Plan.Passes[n-1].Section)
		}
	}
}

// TestEdgeIsTheEnd: an area that lies on all needles there ever are is planned alike whether the file says so by labels
// or as "edge", in every technique, shape and machine.
func TestEdgeIsTheEnd(t *testing.T) {
	rng, tried := chance.Rand(t, 33, 2), 0
	for range chance.Cases(3000) {
		doc, p := chance.Piece(t, rng)
		low, high := p.Ends()
		var named, edges []edit.Change
		for i := range p.Sections {
			for k, a := range p.Sections[i].Areas {
				if a.From == low && a.To == high {
					named = append(named, edit.PlaceArea(i+1, k+1, a.First, low, high)...)
					edges = append(edges, edit.AreaToEdge(i+1, k+1, a.First)...)
				}
			}
		}
		if named == nil {
			continue
		}
		tried++
		var got [2]string
		for j, changes := range [][]edit.Change{named, edges} {
			if _, err := doc.Apply(changes); err != nil {
				t.Fatal(err)
			}
			q, err := technique.Piece(doc)
			if err != nil {
				t.Fatal(err)
			}
			r := check.Run(q)
			for i := range r.Findings { // what mends it leaves an edge alone
				r.Findings[i].Mend, r.Findings[i].Ways = nil, nil
			}
			var b strings.Builder
			if err := r.Plan.WriteJSON(&b, r.Findings); err != nil {
				t.Fatal(err)
			}
			got[j] = b.String()
		}
		if got[0] != got[1] {
			t.Fatalf("%s", doc.JSON())
		}
	}
	if tried < chance.Cases(3000)/4 {
		t.Errorf("only %d pieces", tried)
	}
}

// TestWaitsAgain: what waited in hold when the piece was taken off waits again when it is hung again, before an edge
// of the same row takes it back.
func TestWaitsAgain(t *testing.T) {
	step := func(kind string, v ...any) map[string]any {
		m := map[string]any{"side": "right", kind: v[0]}
		for i := 1; i < len(v); i += 2 {
			m[v[i].(string)] = v[i+1]
		}
		return m
	}
	for _, back := range []int{17, 18, 19} {
		p := piecetest.New(t, "card-preselect", "L8", "R8", []string{"..##", "##.."}, piecetest.Set(edit.Member("sections"),
			[]any{map[string]any{"technique": "plain", "rows": 16}, map[string]any{"technique": "lace", "rows": 6,
				"areas": []any{map[string]any{"chart": "l"}}}}),
			piecetest.Set(edit.Member("charts").To("l"), map[string]any{"side": "purl", "rows": []string{"....", ".o/."}}),
			piecetest.Set(edit.Member("shape"), []any{
				map[string]any{"split": 17, "left": "L1", "right": "R4", "first": "left"},
				step("row", 12, "by", "hold", "stitches", -3), step("row", back, "release", true)}))
		if r := check.Run(p); stops(r) != "" || !r.Fabric.Matches() {
			t.Errorf("taken back in row %d: %s; %s", back, stops(r), r.Fabric.First)
		}
	}
}

// TestShapedPattern: an all-over pattern goes on over what a shape widens; taken by one press it needs no second one.
func TestShapedPattern(t *testing.T) {
	p := piecetest.New(t, "program-preselect", "L12", "R12", []string{"#...", "..#."})
	doc := piecetest.Document(t, "program-preselect", "L12", "R12", []string{"#...", "..#."})
	i := slices.IndexFunc(piece.ShapesToBegin, func(s piece.ShapeToBegin) bool { return len(s.Measures) == 3 && !s.Neck })
	changes, err := edit.BeginShape(p, &piece.ShapesToBegin[i], []float64{90, 140, 120})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := doc.Apply(changes); err != nil {
		t.Fatal(err)
	}
	if p, err = technique.Piece(doc); err != nil {
		t.Fatal(err)
	}
	r := check.Run(p)
	placed := r.Plan.Placed[0]
	if ever := p.Ever(); placed.Covered != ever || ever.Len() <= p.Work().Len() || !r.Fabric.Matches() {
		t.Errorf("%d needles ever, %d at the cast-on, %d in pattern; %s", ever.Len(), p.Work().Len(), placed.Covered.Len(),
			stops(r))
	}
}

// TestSeamDiffers: a seam needle that is drawn otherwise on a row of one colour is told as a warning that names the row,
// columns under the seam of two-colour rows alone as a note.
func TestSeamDiffers(t *testing.T) {
	for _, c := range []struct {
		rows []string
		want string
	}{
		{[]string{".....#", "..##.."}, "warn R3 2-2"},
		{[]string{"......", "#.##.#"}, "note L3,R3 1-2"},
		{[]string{"#....#", "#####.", "..##.."}, "warn L3,R3 2-3"},
		{[]string{".#...."}, "warn L2 2-4"}, // where the edge has come in, above the chart's own rows
	} {
		shape, rows := []any{}, len(c.rows)
		if strings.Contains(c.want, "L2") {
			shape, rows = []any{map[string]any{"side": "left", "row": 2, "stitches": -1}}, 4
		}
		r := check.Run(piecetest.New(t, "hand-mid", "L3", "R3", c.rows, piecetest.Set("/charts/c/side", "purl"),
			piecetest.Set("/shape", shape), piecetest.Set("/sections/0/rows", rows)))
		got := ""
		for _, f := range r.Findings {
			if f.Code == finding.SeamColumns {
				got += fmt.Sprintf("%v %v %d-%d", f.Severity, f.Needles, f.Rows[0], f.Rows[1])
			}
		}
		if got != c.want || stops(r) != "" {
			t.Errorf("%v: %s, want %s; %s", c.rows, got, c.want, stops(r))
		}
	}
}

// TestRefit: whatever swatches a shaped piece gets one after another, cast-on, rows and every corner's width are what a
// fresh piece with the last one would have, each width the nearest there is.
func TestRefit(t *testing.T) {
	rng := chance.Rand(t, 33, 1)
	for range chance.Cases(400) {
		p := piecetest.New(t, "program-preselect", "L12", "R12", []string{"#...", "..#."},
			piecetest.Set(edit.Member("sections").End(), map[string]any{"technique": "plain", "rows": 10}),
			piecetest.Set("/sections/0/rows", 60))
		doc := piecetest.Document(t, "program-preselect", "L12", "R12", []string{"#...", "..#."},
			piecetest.Set(edit.Member("sections").End(), map[string]any{"technique": "plain", "rows": 10}),
			piecetest.Set("/sections/0/rows", 60)) // which leaves the last section few, or one
		half := func() float64 { return float64(60 + rng.IntN(150)) }
		a, b, c, tall := half(), half(), half(), 240+360*float64(rng.IntN(2))
		o := &piece.Outline{Left: [][2]float64{{-a, 0}, {-b, 240}, {-c, tall}}, Right: [][2]float64{{a, 0}, {b, 240},
			{c, tall}}}
		apply := func(changes []edit.Change) {
			t.Helper()
			if _, err := doc.Apply(changes); err != nil {
				t.Fatal(err)
			}
			var err error
			if p, err = technique.Piece(doc); err != nil {
				t.Fatal(err)
			}
		}
		apply(edit.Outline(p, o, 0))
		for range 3 {
			was := p
			gauge := edit.Set(edit.Member("gauge"), map[string]any{"stitches": 18 + rng.IntN(16), "rows": 24 + rng.IntN(20)})
			back, err := doc.Apply(append(gauge, edit.NoShape(p)...))
			if err != nil {
				t.Fatal(err)
			}
			bare, err := technique.Piece(doc)
			if err != nil {
				t.Fatal(err)
			}
			doc.Apply(back)
			changes, what := edit.Refit(was, bare, 0)
			apply(append(gauge, changes...))
			n, before := p.FirstRow(len(p.Sections))-1, was.FirstRow(len(was.Sections))-1
			if says := fmt.Sprintf("%d for %d row", n, before); strings.Contains(what, says) != (n != before) {
				t.Fatalf("%d rows for %d: %s", n, before, what)
			}
			if again, what := edit.Refit(p, p, 0); again != nil || what != "" {
				t.Fatalf("the same gauge again: %v, %s", again, what)
			}
		}
		st, n := p.StitchMM(), p.FirstRow(len(p.Sections))-1
		if p.Work().Len() != min(o.Width(st), 200) || n != max(o.Rows(p.RowMM()), p.RowsOf(&p.Sections[0])+1) {
			t.Fatalf("%d stitches, %d rows: %s", p.Work().Len(), n, doc.JSON())
		}
		for _, m := range o.Measures(st, p.RowMM(), p.Work().Len(), nil) {
			if off := m.Off()[0]; off > st/2+0.01 || off < -st/2-0.01 {
				t.Fatalf("corner %d is off by %g mm, a stitch is %g: %s", m.No, off, st, doc.JSON())
			}
		}
	}
}
