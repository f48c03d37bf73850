package bed_test

import (
	"testing"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// TestArrange: areas moved about, told by the needles they lie on afterwards.
func TestArrange(t *testing.T) {
	figure := []string{"#....", ".####"}
	edges := []edit.Change{area("from", "edge"), area("to", "edge"), area("first", "L8")}
	motif := func(from, to string) edit.Change {
		return set("/sections/0/areas/-", map[string]any{"chart": "m", "from": from, "to": to, "first": from})
	}
	chart := set("/charts/m", map[string]any{"side": "purl", "legend": map[string]any{"#": map[string]any{"yarn": "B"}},
		"rows": []string{"###"}})
	for _, c := range []struct {
		name  string
		edits []edit.Change
		do    func(s *bed.Placed, p *piece.Piece) []edit.Change
		want  string
	}{
		{"move", nil, func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Move(p, 1, 3) }, "c L5:L5-R14"},
		{"move beyond the bed", nil, func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Move(p, 1, 500) },
			"c R82:R82-R100"},
		{"phase", nil, func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Phase(p, 1, 2) }, "c L6:L8-R11"},
		{"stretch", nil, func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Stretch(p, 1, -10, 20) },
			"c L8:L10-R21"},
		{"three repeats", nil, func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Repeat(p, 1, 3) },
			"c L6:L6-R9"},
		{"two repeats, the odd stitch of the room right of them", nil,
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Repeat(p, 1, 2) }, "c L4:L4-R6"},
		{"or left, where the piece says so", []edit.Change{set("/options", map[string]any{"odd": "left"})},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Repeat(p, 1, 2) }, "c L3:L3-R7"},
		{"fit", nil, func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Fit(p, 1) }, "c L6:L6-R9"},
		{"fill", nil, func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Fill(p, 1) }, "c L6:edge-edge"},
		{"centre", []edit.Change{area("from", "L8"), area("to", "L4"), area("first", "L8")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Centre(p, 1) }, "c L1:L1-R4"},
		{"spread", []edit.Change{chart, motif("L8", "L6"), motif("L5", "L3")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return must(s.Spread(p, -1)) },
			"c L8:L8-R11, m L4:L4-L2, m R4:R4-R6"},
		{"two stitches between", []edit.Change{chart, motif("L8", "L6"), motif("L5", "L3")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return must(s.Spread(p, 2)) },
			"c L8:L8-R11, m L3:L3-L1, m R3:R3-R5"},
		{"too narrow", []edit.Change{chart, motif("L8", "L6"), motif("L5", "L3")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return must(s.Spread(p, 20)) },
			"c L8:L8-R11, m L8:L8-L6, m L5:L5-L3"},
		{"odd on even needles", []edit.Change{set("/needles", map[string]any{"from": "L20", "to": "R20"})},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Repeat(p, 1, 5) }, "c L12:L12-R13"},
		{"a motif", []edit.Change{chart, motif("L8", "L6")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.AddMotif(p, p.Charts["m"]) },
			"c L8:L8-R11, m L8:L8-L6, m R3:R3-R5"},
		{"a ground", []edit.Change{chart, area("from", "L2"), area("to", "R3"), area("first", "L2")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return edit.AddGround(s.No, p.Charts["m"], p.From) },
			"m L8:edge-edge, c L2:L2-R3"},
		{"filled, from edge to edge", []edit.Change{area("from", "L2"), area("to", "R3")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Fill(p, 1) }, "c L6:edge-edge"},
		{"what follows the edge moves under it", edges,
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Move(p, 1, 3) }, "c L5:edge-edge"},
		{"one end drawn in", edges,
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Stretch(p, 1, -6, 10) }, "c L8:L6-edge"},
		{"of one that follows one edge the other end moves", []edit.Change{area("to", "edge"), area("from", "L6")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Move(p, 1, 2) }, "c L4:L4-edge"},
		{"the needles in the middle, by 24", []edit.Change{area("to", "edge"), area("first", "L8"), area("from", "L8")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return edit.Centred(p, 24, 0) }, "c L12:L12-edge"},
		{"what is cut moves whole", []edit.Change{area("from", "L12"), area("to", "L1"), area("first", "L12")},
			func(s *bed.Placed, p *piece.Piece) []edit.Change { return s.Move(p, 1, 2) }, "c L10:L10-R2"},
	} {
		doc := piecetest.Document(t, "program-preselect", "L8", "R11", figure, c.edits...)
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		s, _ := bed.Place(p, 1)
		if _, err := doc.Apply(c.do(s, p)); err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		if p, err = technique.Piece(doc); err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		got := ""
		for i, a := range p.Sections[0].Areas {
			if i > 0 {
				got += ", "
			}
			ends := [2]string{a.Asked[0].String(), a.Asked[1].String()}
			for i, edge := range a.Edge {
				if edge {
					ends[i] = "edge"
				}
			}
			got += a.Chart.Name + " " + a.First.String() + ":" + ends[0] + "-" + ends[1]
		}
		if got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

func must(changes []edit.Change, _ error) []edit.Change { return changes }

// TestFarPhase: a repeat moved by any number shows the phase that it must, at once.
func TestFarPhase(t *testing.T) {
	p := piecetest.New(t, "program-preselect", "L8", "R11", []string{"#....", ".####"})
	s, _ := bed.Place(p, 1)
	for _, by := range []int{5, -5, 100, 100000, -100000, 1<<62 - 1, -1 << 63} {
		changes := s.Phase(p, 1, by)
		first, err := machine.ParseNeedle(changes[0].Value.(string))
		if err != nil || p.Machine.Bed.Check(first) != nil {
			t.Errorf("by %d: %v, %v", by, first, err)
		}
		if by > -1<<62 && by < 1<<61 && (int(first-p.Sections[0].Areas[0].First)-by)%5 != 0 {
			t.Errorf("by %d: the repeat begins at %v", by, first)
		}
	}
}

// TestStillUnplanned: a section whose rows are not planned, since the plan stopped before it, is
// not said to stand still.
func TestStillUnplanned(t *testing.T) {
	p := piecetest.New(t, "card-preselect", "L8", "R8", []string{"..##", "#..#"},
		piecetest.Set("/shape", []any{map[string]any{"side": "left", "row": 2, "stitches": 2}}))
	if s, _ := bed.Place(p, 1); s.Still() {
		t.Error("nothing is known of its rows")
	}
}

// TestToTheEdge: an area from edge to edge covers every needle that a shape ever brings in; what a needle shows hangs
// on the anchor alone, however wide the work is; ends written beyond it are cut, and come back when it is wider.
func TestToTheEdge(t *testing.T) {
	shape := func(stitches int) edit.Change {
		return set("/shape", []any{map[string]any{"side": "both", "rows": []int{2, 8}, "stitches": stitches}})
	}
	shown := func(from, to string, stitches int, ends [2]string) (map[machine.Needle]int, *bed.Placed, string) {
		p := piecetest.New(t, "program-preselect", from, to, []string{"#....", ".####"}, set("/sections/0/rows", 10),
			shape(stitches), area("first", "L3"), area("from", ends[0]), area("to", ends[1]))
		s, found := bed.Place(p, 1)
		columns := map[machine.Needle]int{}
		for n := range p.Ever().All() {
			if _, column, _ := s.Source(n, 1); column > 0 {
				columns[n] = column
			}
		}
		codes := ""
		for _, f := range found {
			codes += string(f.Code) + " " + f.Needles.String() + "; "
		}
		if p.Ever().Len() == len(columns) && s.Covered != p.Ever() {
			t.Errorf("%s to %s: %v covered of %v", from, to, s.Covered, p.Ever())
		}
		return columns, s, codes
	}
	edges := [2]string{"edge", "edge"}
	wide, _, _ := shown("L20", "R20", 5, edges)
	if len(wide) != 50 {
		t.Errorf("%d needles show the pattern", len(wide))
	}
	for _, by := range []int{-3, 2, 5} {
		for n, column := range first(shown("L8", "R11", by, edges)) {
			if wide[n] != column {
				t.Errorf("grown by %d: needle %v shows column %d, not %d", by, n, column, wide[n])
			}
		}
	}
	for _, c := range []struct {
		by      int
		needles int
		codes   string
	}{{3, 24, "area-cut L12,R15; area-cut L11-R14; "}, {4, 26, "area-cut L12-R15; "}, {5, 26, "area-cut L12-R15; "}} {
		if got, _, codes := shown("L8", "R11", c.by, [2]string{"L12", "R15"}); len(got) < c.needles || codes != c.codes {
			t.Errorf("grown by %d: %d needles, %s", c.by, len(got), codes)
		}
	}
}

func first[A, B, C any](a A, _ B, _ C) A { return a }

// TestMirroredEdge: what follows one edge of the work follows the other one in its mirror image.
func TestMirroredEdge(t *testing.T) {
	edits := []edit.Change{area("first", "L3"), area("from", "L3"), area("to", "edge")}
	p := piecetest.New(t, "program-preselect", "L8", "R11", []string{"#...", ".#.."}, edits...)
	doc := piecetest.Document(t, "program-preselect", "L8", "R11", []string{"#...", ".#.."}, edits...)
	changes, err := edit.Mirrored(p, "the other")
	if err == nil {
		_, err = doc.Apply(changes)
	}
	if err != nil {
		t.Fatal(err)
	}
	if p, err = technique.Piece(doc); err != nil {
		t.Fatal(err)
	}
	if a := p.Sections[0].Areas[0]; a.Edge != [2]bool{true, false} || a.To != machine.R(3) || a.From != machine.L(11) {
		t.Errorf("%v to %v, %v", a.From, a.To, a.Edge)
	}
}
