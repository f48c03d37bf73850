package check_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// leaves is somebody who asks for a result, and is gone once she has been asked n times
// whether she still waits.
type leaves struct {
	context.Context
	n int
}

func (l *leaves) Err() error {
	if l.n--; l.n < 0 {
		return context.Canceled
	}
	return nil
}
func (l *leaves) Done() <-chan struct{}            { return nil }
func (l *leaves) Deadline() (t time.Time, ok bool) { return }

// TestNobodyWaits: whenever she leaves, planning, knitting and checking end there, with no
// result; they ask at every row, every pass and before every check.
func TestNobodyWaits(t *testing.T) {
	p := piecetest.New(t, "card-preselect", "L8", "R8", []string{"..##", "#..#", ".##."}, piecetest.Before(3, "A"))
	for n := 0; ; n++ {
		r, err := check.RunContext(&leaves{t.Context(), n}, p)
		if err == nil {
			if n < 27 || !r.Fabric.Matches() { // of 6 rows and as many passes
				t.Errorf("she was asked %d times; %s", n, r.Fabric.First)
			}
			return
		}
		if r != nil || !errors.Is(err, context.Canceled) {
			t.Fatalf("gone after %d: %v, %v", n, r, err)
		}
	}
}

// TestFew: of findings that are alike so many are told, and the last counts the rest; others
// are not crowded out.
func TestFew(t *testing.T) {
	for _, n := range []int{finding.MostAlike - 1, finding.MostAlike, finding.MostAlike + 1, 3 * finding.MostAlike} {
		fs := make([]finding.Finding, n, n+1)
		for i := range fs {
			fs[i] = finding.Finding{Code: finding.FloatLong, Text: "Long."}
		}
		few := finding.Few(append(fs, finding.Finding{Code: finding.TuckWide, Text: "Wide."}))
		if want := min(n, finding.MostAlike) + 1; len(few) != want || few[want-1].Text != "Wide." {
			t.Fatalf("%d: %d are told", n, len(few))
		}
		last, more := few[len(few)-2].Text, n-finding.MostAlike
		if more > 0 && !strings.HasSuffix(last, "more like this, which are not listed.") || more <= 0 &&
			last != "Long." {
			t.Errorf("%d: the last says %q", n, last)
		}
	}
}

// TestWideLace: lace on every needle of the widest bed is checked as a narrow piece is.
func TestWideLace(t *testing.T) {
	mesh := func(to string) *check.Result {
		doc := laceDocument(t, "card-preselect", "L"+to, "R"+to, []string{"....", "/o/o"}, piecetest.Before(2, "A"))
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		return check.Run(p)
	}
	narrow, wide := find(mesh("20"), "lace-mirror"), find(mesh("100"), "lace-mirror")
	if len(narrow) != 1 || len(wide) != 1 || narrow[0].Text != wide[0].Text {
		t.Errorf("%v\n%v", narrow, wide)
	}
}

// TestTooLong: a piece of so many passes is planned to its end, of one more up to there, and a
// finding stops it.
func TestTooLong(t *testing.T) {
	// Two colours on one feeder take two passes a row.
	for _, c := range []struct{ plain, stops int }{{0, 0}, {1, 1}} {
		sections := []any{map[string]any{"technique": "plain", "yarn": "A", "rows": 19998 + c.plain}}
		for range 4 {
			sections = append(sections, map[string]any{"technique": "plain", "yarn": "A", "rows": 20000})
		}
		sections = append(sections, map[string]any{"technique": "two-colour",
			"areas": []any{map[string]any{"chart": "c"}}})
		p, err := technique.Piece(piecetest.Document(t, "hand-mid", "L2", "R2", []string{"#.#."},
			piecetest.Set("/sections", sections)))
		if err != nil {
			t.Fatal(err)
		}
		r := check.Run(p)
		if len(find(r, "too-long")) != c.stops || r.Plan.TooLong != (c.stops == 1) || len(r.Plan.Passes) > 100_002 ||
			r.Stops() != (c.stops == 1) {
			t.Errorf("%d plain rows more: %d passes, %v", c.plain, len(r.Plan.Passes), r.Findings)
		}
	}
}
