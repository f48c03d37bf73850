package beside_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/demo/pieces"
	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// TestPartsOff: a part that is taken off the machine is no carriage that waits at a side.
func TestPartsOff(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "hand-mid", "L6", "R6", []string{"."}, piecetest.Set("/sections", []any{
		map[string]any{"technique": "recipe", "recipe": "yarn A\npass 2\nremove \"the row guide\"\npass 2"}})))
	if len(pl.Passes) != 4 || len(pl.Passes[2].Before) == 0 {
		t.Fatalf("%s", pl)
	}
	if list := strings.Join(beside.Restore(pl, 3), "; "); strings.Contains(list, "parked") {
		t.Errorf("after a part was taken off: %s", list)
	}
}

// TestParked: how all must stand before a pass says where the other carriage is parked, which is where it stopped,
// and on which side a yarn hangs that is not in the feeder.
// comes says that a yarn is threaded again after pass i.
func comes(pl *pass.Plan, i int, yarn string) bool {
	return slices.ContainsFunc(pl.Passes[i:], func(p pass.Pass) bool { return pl.Piece.YarnName(p.Yarn(1)) == yarn })
}

func TestParked(t *testing.T) {
	for file, least := range map[string]int{"9-screen.json": 40, "2-cap.json": 20} {
		data, err := pieces.Files.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(p)
		sides, yarns, in, said := map[machine.Carriage]machine.Side{}, map[string]machine.Side{}, "", 0
		for i := range pl.Passes {
			now := &pl.Passes[i]
			if y := p.YarnName(now.Yarn(1)); now.Carriage == machine.KnitCarriage && len(p.Yarns) > 1 {
				if in != y && in != "" {
					yarns[in] = now.Dir.Other() // where the carriage stood when it was taken out
				}
				in = y
				delete(yarns, y)
			}
			list := strings.Join(beside.Restore(pl, i), "\n")
			for c, side := range sides {
				if want := fmt.Sprintf("%v carriage parked on the %v", c, side); c != now.Carriage &&
					!strings.Contains(strings.ToLower(list), want) {
					t.Errorf("%s, pass %d: no %q in\n%s", file, i+1, want, list)
				} else if c != now.Carriage {
					said++
				}
			}
			for y, side := range yarns {
				if want := fmt.Sprintf("%s hangs on the %v", y, side); p.Machine.Feeders == 1 &&
					!strings.Contains(strings.ToLower(list), want) && comes(pl, i, y) {
					t.Errorf("%s, pass %d: no %q in\n%s", file, i+1, want, list)
				} else {
					said++
				}
			}
			sides[now.Carriage] = now.Dir
		}
		if said < least {
			t.Errorf("%s: said %d times", file, said)
		}
	}
}
