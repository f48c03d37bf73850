package check_test

import (
	"testing"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
)

// TestTurnsNoted: turns without a wrap are one note, of all their needles and from the first row of its section to the
// last.
func TestTurnsNoted(t *testing.T) {
	hold := func(side string, row int) map[string]any {
		return map[string]any{"side": side, "row": row, "stitches": -2, "by": "hold", "wrap": false}
	}
	p := piecetest.New(t, "card-direct", "L6", "R6", []string{"."}, append(edit.Put("/sections/0",
		map[string]any{"technique": "plain", "rows": 10, "yarn": "A"}),
		piecetest.Set("/shape", []any{hold("left", 4), hold("right", 7)}))...)
	var notes []finding.Finding
	for _, f := range check.Run(p).Findings {
		if f.Code == finding.TurnHole {
			notes = append(notes, f)
		}
	}
	want := machine.Range(machine.L(6), machine.L(5)).Or(machine.Range(machine.R(5), machine.R(6)))
	if len(notes) != 1 || notes[0].Section != 1 || notes[0].Rows != [2]int{5, 8} || notes[0].Needles != want {
		t.Errorf("%+v", notes)
	}
}
