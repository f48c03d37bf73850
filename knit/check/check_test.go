package check_test

import (
	"slices"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/piece/piecetest"
)

func find(r *check.Result, code string) (list []finding.Finding) {
	for _, f := range r.Findings {
		if f.Code == code {
			list = append(list, f)
		}
	}
	return list
}

// TestFloats: both yarns, edges included, once for each chart row, at the limit of
// the pitch or the piece's own; and one click mends them.
func TestFloats(t *testing.T) {
	rows := []string{"#...........", "######......", "#.#.#.#.#.#."}
	doc := piecetest.Document(t, "card-preselect", "L12", "R12", rows, piecetest.Set("/sections/0/rows", 9))
	p, err := doc.Piece()
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
	if want := []string{"L12-L7,R1-R6", "L6-L1,R7-R12", "L11-L1,R2-R12"}; !slices.Equal(at, want) {
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
		if p, err = doc.Piece(); err != nil {
			t.Fatal(err)
		}
	}
	if long := find(check.Run(p), "float-long"); len(long) != 0 {
		t.Errorf("after the remedies: %v", long[0].Text)
	}
	own := check.Run(piecetest.New(t, "card-preselect", "L12", "R12", rows, piecetest.Set("/limits", map[string]any{"float": 11})))
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
	doc := piecetest.Document(t, "program-preselect", "L6", "R6", []string{"..#+.#..#..#"}, piecetest.Set("/charts/c/side", "knit"))
	p, _ := doc.Piece()
	stops := find(check.Run(p), "colours-in-row")
	if len(stops) != 1 || stops[0].Rows != [2]int{1, 1} || !strings.Contains(stops[0].Text, "column 4 ") {
		t.Fatalf("found %v", stops)
	}
	if _, err := doc.Apply(stops[0].Remedy()); err != nil {
		t.Fatal(err)
	}
	p, _ = doc.Piece()
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
