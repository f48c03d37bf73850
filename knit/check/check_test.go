package check_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

func find(r *check.Result, code string) (list []finding.Finding) {
	for _, f := range r.Findings {
		if string(f.Code) == code {
			list = append(list, f)
		}
	}
	return list
}

// TestFloats: both yarns, over the turns too, one finding for one cause, at the limit of the
// pitch or the piece's own; and one click mends them.
func TestFloats(t *testing.T) {
	rows := []string{"#...........", "######......", "#.#.#.#.#.#."}
	doc := piecetest.Document(t, "card-preselect", "L12", "R12", rows, piecetest.Set("/sections/0/rows", 9))
	p, err := technique.Piece(doc)
	if err != nil {
		t.Fatal(err)
	}
	r := check.Run(p)
	var at []string
	for _, f := range find(r, "float-long") {
		at = append(at, f.Needles.String())
		if f.Severity != finding.Warn || !strings.Contains(f.Text, "The limit is 5") {
			t.Errorf("said: %s", f.Text)
		}
	}
	if want := []string{"R1-R6", "L11-L1", "R2-R10"}; !slices.Equal(at, want) {
		t.Errorf("long floats at %v, want %v", at, want)
	}
	for range 5 {
		long := find(check.Run(p), "float-long")
		if len(long) == 0 {
			break
		}
		if _, err := doc.Apply(long[0].Remedy()); err != nil || len(long[0].Remedy()) == 0 {
			t.Fatalf("%s: %v", long[0].Fix, err)
		}
		if p, err = technique.Piece(doc); err != nil {
			t.Fatal(err)
		}
	}
	if long := find(check.Run(p), "float-long"); len(long) != 0 {
		t.Errorf("after the remedies: %v", long[0].Text)
	}
	own := check.Run(piecetest.New(t, "card-preselect", "L12", "R12", rows,
		piecetest.Set("/limits", map[string]any{"float": 11})))
	if n := len(find(own, "float-long")); n != 0 {
		t.Errorf("with a limit of 11: %d long floats", n)
	}
	chunky := check.Run(piecetest.New(t, "hand-chunky", "L12", "R12", []string{"##.##.##.##."}))
	if n := len(find(chunky, "float-long")); n != 0 {
		t.Errorf("2 stitches of 9 mm are within 25 mm: %v", find(chunky, "float-long"))
	}
}

// TestColoursRemedy: the third colour is knitted in the commonest, by one click.
func TestColoursRemedy(t *testing.T) {
	doc := piecetest.Document(t, "program-preselect", "L6", "R6", []string{"..#+.#..#..#"},
		piecetest.Set("/charts/c/side", "knit"))
	p, _ := technique.Piece(doc)
	stops := find(check.Run(p), "colours-in-row")
	if len(stops) != 1 || stops[0].Rows != [2]int{1, 1} || !strings.Contains(stops[0].Text, "column 4 ") {
		t.Fatalf("found %v", stops)
	}
	if _, err := doc.Apply(stops[0].Remedy()); err != nil {
		t.Fatal(err)
	}
	p, _ = technique.Piece(doc)
	if r := check.Run(p); r.Stops() || !r.Fabric.Matches() || p.Charts["c"].Rows()[0] != "..#..#..#..#" {
		t.Errorf("after the remedy: %v, %v", p.Charts["c"].Rows(), r.Findings)
	}
}

// TestSafeTogether: the core is deterministic and safe to call from many goroutines.
func TestSafeTogether(t *testing.T) {
	p := fullSize(40)
	want := check.Run(p).Plan.String()
	done := make(chan string)
	for range 4 {
		go func() { done <- check.Run(p).Plan.String() }()
	}
	for range 4 {
		if got := <-done; got != want {
			t.Error("two runs differ")
		}
	}
}

// TestProof: the plan is not taken at its word. A fabric that differs stops it, so do the
// faults that the simulated bed finds, and what may be left out of the comparison follows
// from piece and policy, whatever the plan says.
func TestProof(t *testing.T) {
	rows := []string{"#..#.#", "......", ".##.#."}
	policy := piecetest.Set("/options", map[string]any{"end_needles": "auto"})
	for _, c := range []struct {
		name, id string
		edits    []edit.Change
		spoil    func(pl *pass.Plan)
		want     string // code, first difference
	}{
		{"as planned", "card-direct", nil, func(*pass.Plan) {}, ""},
		{"as planned, with a policy", "card-direct", []edit.Change{policy}, func(*pass.Plan) {}, ""},
		{"as planned, by hand", "hand-mid", nil, func(*pass.Plan) {}, ""},
		{"every needle said to be exempt", "card-direct", nil, func(pl *pass.Plan) {
			for i := range pl.Passes {
				pl.Passes[i].Exempt = pl.Piece.Work()
			}
		}, "fabric-differs: section 1, row 1, L3: is to follow the chart here, and the plan says that it does not"},
		{"and the yarns exchanged", "card-direct", nil, func(pl *pass.Plan) {
			for i := range pl.Passes {
				pl.Passes[i].Exempt, pl.Passes[i].Main().Select = pl.Piece.Work(), machine.Set{}
			}
		}, "fabric-differs: section 1, row 1, L3: is to follow"},
		{"no needle said to be, with a policy", "card-direct", []edit.Change{policy}, func(pl *pass.Plan) {
			for i := range pl.Passes {
				pl.Passes[i].Exempt = machine.Set{}
			}
		}, "fabric-differs: section 1, row 1, L3: does not follow the chart here, and the plan does not say so"},
		{"seams of a plain row", "hand-mid", nil,
			func(pl *pass.Plan) { pl.Passes[2].Exempt = machine.SetOf(machine.L(3), machine.R(3)) },
			"fabric-differs: section 1, row 2, L3: is to follow"},
		{"a plain row drawn otherwise at its end", "hand-mid",
			[]edit.Change{{Op: "replace", Path: "/charts/c/rows/1", Value: ".....#"}}, func(*pass.Plan) {}, ""},
		{"the same, and the plan does not say so", "hand-mid",
			[]edit.Change{{Op: "replace", Path: "/charts/c/rows/1", Value: ".....#"}},
			func(pl *pass.Plan) { pl.Passes[2].Exempt = machine.Set{} },
			"fabric-differs: section 1, row 2, R3: does not follow the chart here, and the plan does not say so"},
		{"a fault of the bed", "card-preselect", nil, func(pl *pass.Plan) { pl.Passes[2].Dir = pl.Passes[1].Dir },
			"carriage-side: Pass 3"},
	} {
		doc := piecetest.Document(t, c.id, "L3", "R3", rows, c.edits...)
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(p)
		c.spoil(pl)
		r := check.Of(pl)
		code, says, _ := strings.Cut(c.want, ": ")
		said := find(r, code)
		if r.Stops() != (c.want != "") || r.Fabric.Matches() != (c.want == "") || c.want != "" &&
			(len(said) == 0 || !strings.Contains(said[0].Text, says)) {
			t.Errorf("%s: want %q, found %v", c.name, c.want, r.Findings)
		}
		if len(said) > 0 && said[0].Mend != nil { // drawn as it is knitted, it matches
			if _, err := doc.Apply(said[0].Remedy()); err != nil {
				t.Fatal(err)
			}
			if p, err = technique.Piece(doc); err != nil || check.Run(p).Stops() {
				t.Errorf("%s: after %q: %v", c.name, said[0].Fix, err)
			}
		}
	}
}

// TestFloatsFromTheEdge: the yarn that binds stitches off stands beside them, and floats from there to where it is
// taken next, not from where it was taken in the row before.
func TestFloatsFromTheEdge(t *testing.T) {
	floats := func(first int, edits ...edit.Change) (of string) {
		row := strings.Repeat("#", 24-first) + strings.Repeat(".", first)
		p := piecetest.New(t, "card-direct", "L12", "R12", []string{row, strings.Repeat(".",
			12) + strings.Repeat("#", 12)},
			append(edits, piecetest.Set("/limits", map[string]any{"float": 5}), piecetest.Set("/start", "left"))...)
		for _, f := range check.Run(p).Findings {
			if f.Code == finding.FloatLong && f.Rows[0] == 2 && strings.Contains(f.Text, "yarn A") {
				of += f.Needles.String()
			}
		}
		return of
	}
	shape := piecetest.Set("/shape", []any{map[string]any{"side": "right", "row": 2, "stitches": -2}})
	// Row 1 goes to the right and ends with A on L1. Row 2 takes A first at the edge, or at R5, with B outside it.
	for _, c := range []struct {
		first int
		edits []edit.Change
		want  string
	}{{12, nil, "R1-R11"}, {12, []edit.Change{shape}, ""}} {
		if got := floats(c.first, c.edits...); got != c.want {
			t.Errorf("%d stitches of A, %d edits: %q, not %q", c.first, len(c.edits), got, c.want)
		}
	}
	middle := piecetest.Set("/charts/c/rows", []string{strings.Repeat("#", 12) + "..." + strings.Repeat("#", 9),
		strings.Repeat(".", 12) + strings.Repeat("#", 12)})
	if got := floats(12, shape, middle); got != "R4-R9" {
		t.Errorf("B outside A at the edge: %q", got)
	}
}

// TestMotifs: of pieces whose patterns do not fill the card either nothing stops, and the fabric is what was drawn, from
// the card as it is printed; or what stops them is told by the plan, and never first seen in the fabric.
func TestMotifs(t *testing.T) {
	knitted, righted := map[string]int{}, 0
	for n := range chance.Cases(3000) {
		doc, p := chance.Motif(t, rand.New(rand.NewPCG(uint64(n), 91)))
		r := check.Run(p)
		if r.Fabric == nil || r.Plan.Refused != nil {
			continue
		}
		if !r.Stops() {
			knitted[p.Machine.ID]++
			for i := range r.Plan.Passes {
				for _, st := range r.Plan.Passes[i].Before {
					if st.Do() == step.DoPushBack {
						righted++
					}
				}
			}
		}
		for _, f := range r.Findings {
			if f.Code == finding.SelectionLost || f.Code == finding.FabricDiffers && r.Plan.Stopped.Row == 0 {
				t.Fatalf("%d: %s\n%s\n%s", n, f.OneLine(), doc.JSON(), r.Plan)
			}
		}
	}
	t.Logf("knitted %v, %d push-backs", knitted, righted)
	if len(knitted) < 3 || righted < chance.Share(1500, 3000) {
		t.Errorf("knitted %v, %d push-backs", knitted, righted)
	}
}
