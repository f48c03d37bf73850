package beside_test

import (
	"fmt"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

// TestWindow: the card's window shows how many rows have been read, counted round the card:
// a row ahead of the knitting where the carriage selects ahead, and none before the first.
func TestWindow(t *testing.T) {
	for _, c := range []struct {
		machine string
		rows    int
		want    string
	}{
		{"card-preselect", 4, "[0 1 2 3 4]"}, {"card-direct", 4, "[0 1 2 3]"}, {"hand-mid", 2, "[0 0 0 0]"},
		{"card-direct", 38, "[0 1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16 17 18 19 20 21 22 23 24 25 26 27 28 29 30 31 32 33 34 35 36 1]"},
	} {
		pl := plan.Make(piecetest.New(t, c.machine, "L6", "R6", []string{"#..", ".#.", "..#"},
			edit.Set("/sections/0/rows", c.rows)...))
		var got []int
		for i := range pl.Passes {
			got = append(got, beside.Window(pl, i))
		}
		if fmt.Sprint(got) != c.want {
			t.Errorf("%s, %d rows: %v, want %s", c.machine, c.rows, got, c.want)
		}
	}
}
