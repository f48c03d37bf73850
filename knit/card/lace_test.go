package card_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/card"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

func laceOn(t *testing.T, id, from, to string, rows []string, edits ...edit.Change) *piece.Piece {
	t.Helper()
	first := []edit.Change{set("/charts/c/legend", map[string]any{}), set("/charts/c/side", "purl"),
		set("/sections/0/technique", "lace")}
	return piecetest.New(t, id, from, to, rows, append(append(first, edits...), piecetest.Before(2, "A"))...)
}

// TestLaceCard: the same chart on both schools: other holes, other marks, and a heading
// that says which; marks stand where the eye is, for every copy of the pattern.
func TestLaceCard(t *testing.T) {
	rows := []string{"......", "./o...", "......"}
	for id, want := range map[string]struct {
		lines   int
		pattern string // line 1 first, the first twelve columns
		marks   string // by card row from 1, those there are
		reading string
	}{
		"card-preselect": {2, "..#.....#... ............", "7 → lace, 8 ← lace, then knit 4, 9 → lace",
			"transfers what it selected on the pass before"},
		"card-direct": {2, "............ ..#.....#...", "6 → lace, 7 ← lace, then knit 4, 8 → lace",
			"selects and transfers in one pass"},
	} {
		pl := plan.Make(laceOn(t, id, "L12", "R12", rows))
		made, found := card.Make(pl, 2)
		var pattern, marks []string
		for l := range made.Lines {
			line := ""
			for _, hole := range made.Holes.Row(l)[:12] {
				line += string(".#"[hole])
			}
			pattern = append(pattern, line)
		}
		for y := 5; y < 9; y++ {
			if made.Marks[y] != "" {
				marks = append(marks, fmt.Sprintf("%d %s", y+1, made.Marks[y]))
			}
		}
		if made.Lines != want.lines || strings.Join(pattern, " ") != want.pattern || len(found) > 0 {
			t.Errorf("%s: %d lines, %q, %v", id, made.Lines, pattern, found)
		}
		if got := strings.Join(marks, ", "); !strings.Contains(got, want.marks) ||
			!strings.Contains(made.Reading, want.reading) {
			t.Errorf("%s: marks %s; %s", id, got, made.Reading)
		}
	}
}

// TestLaceCutCard: where a repeat is cut, the card selects needles that must be pushed back; where a lace carriage moves
// what it selects no hand is in time, and a width of whole repeats is the remedy.
func TestLaceCutCard(t *testing.T) {
	cut := func(id string) *pass.Plan {
		return plan.Make(laceOn(t, id, "L18", "R22", []string{"...../o."}, area("first", "L24")))
	}
	pl := cut("card-preselect")
	_, found := card.Make(pl, 2)
	i := slices.IndexFunc(found, func(f finding.Finding) bool { return f.Code == "card-patterns-all" })
	if i < 0 || found[i].Needles.String() != "L18" || !strings.Contains(found[i].Text, "pushed back, in all 1 touch") {
		t.Errorf("a cut repeat: %v", found)
	}
	pl = cut("card-direct")
	i = slices.IndexFunc(pl.Findings, func(f finding.Finding) bool { return f.Code == "card-patterns-all" })
	if i < 0 || pl.Findings[i].Severity != finding.Stop || pl.Stopped.Section != 2 || pl.Stopped.Row != 1 ||
		!strings.Contains(pl.Findings[i].Fix, "40 needles wide") {
		t.Fatalf("moved as it is selected: %v, %v", pl.Stopped, pl.Findings)
	}
	doc := piecetest.Document(t, "card-direct", "L18", "R22", []string{"...../o."}, set("/charts/c/legend", map[string]any{}),
		set("/charts/c/side", "purl"), set("/sections/0/technique", "lace"), area("first", "L24"), piecetest.Before(2, "A"))
	if _, err := doc.Apply(pl.Findings[i].Remedy()); err != nil {
		t.Fatal(err)
	}
	mended, err := technique.Piece(doc)
	if err != nil {
		t.Fatal(err)
	}
	if pl = plan.Make(mended); pl.Stopped.Row > 0 {
		t.Errorf("mended it stops at %v: %v", pl.Stopped, pl.Findings)
	}
	w := card.MakeProgram(plan.Make(laceOn(t, "program-preselect", "L18", "R22", []string{"...../o."}, area("first",
		"L24"))),
		2)
	if w.Bits.W != 33 { // the first needle's column must not come again before the others have come: 5 × 8 less the cut
		t.Errorf("the program of a cut repeat is over %d columns", w.Bits.W)
	}
	if !strings.Contains(strings.Join(w.KeyIn, "; "), "lines for a lace carriage") ||
		w.Memos[1] != "lace, then knit 2; blank: everything is moved, and the carriage comes off on the left" {
		t.Errorf("key-in %q, memos %q", w.KeyIn, w.Memos)
	}
}

// TestNoOffset: where the line that is read is the one that is seen, marks stand beside it, the first line's too.
func TestNoOffset(t *testing.T) {
	for id, least := range map[string]int{"card-preselect": 3, "card-direct": 1} {
		made, _ := card.Make(plan.Make(laceOn(t, id, "L6", "R6", []string{"......", "./o...", "......"},
			piecetest.Set("/machine/offset", 0))), 2)
		told := 0
		for _, m := range made.Marks {
			if m != "" {
				told++
			}
		}
		if told < least {
			t.Errorf("%s: %d lines are marked: %q", id, told, made.Marks)
		}
	}
}
