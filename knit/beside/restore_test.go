package beside_test

import (
	"fmt"
	"strings"
	"testing"

	"vindel/demo/pieces"
	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// TestParked: how all must stand before a pass says where the other carriage is parked, which is where it stopped,
// and on which side a yarn hangs that is not in the feeder.
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
				if want := fmt.Sprintf("%v carriage parked on the %v", c, side); c != now.Carriage && !strings.Contains(strings.ToLower(list), want) {
					t.Errorf("%s, pass %d: no %q in\n%s", file, i+1, want, list)
				} else if c != now.Carriage {
					said++
				}
			}
			for y, side := range yarns {
				if want := fmt.Sprintf("%s hangs on the %v", y, side); p.Machine.Feeders == 1 && !strings.Contains(strings.ToLower(list), want) && !strings.Contains(list, "Cut") {
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
