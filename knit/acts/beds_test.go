package acts_test

import (
	"regexp"
	"slices"
	"strings"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
)

// TestWaysAreSaid: a tubular start, obeyed word by word with nothing moved that is not named. How both carriages must
// stand is worked out by hand: over both beds to the left, then one bed each way, the main bed to the right and the
// second to the left.
func TestWaysAreSaid(t *testing.T) {
	p := piecetest.New(t, "program-preselect", "L6", "R6", []string{"#."}, piecetest.Set("/begin",
		map[string]any{"way": "two-bed"}))
	pl := plan.Make(p)
	told := regexp.MustCompile(`^Set (the cams|the second bed)(?: for the way (left|right))?: ([^(]+) \(`)
	stands := map[string]string{} // by carriage and way
	for i, want := range []struct{ way, main, second string }{
		{"left", "plain", "every needle"}, {"right", "plain", "no needle"},
		{"left", "pass over", "every needle"},
	} {
		for _, st := range pl.Passes[i].Before {
			if m := told.FindStringSubmatch(st.Say(p)); m != nil {
				for _, way := range []string{"left", "right"} {
					if m[2] == "" || m[2] == way {
						stands[m[1]+way] = m[3]
					}
				}
			}
		}
		main, second := stands["the cams"+want.way], stands["the second bed"+want.way]
		if got := pl.Passes[i].Dir.String(); got != want.way || main != want.main || second != want.second {
			t.Errorf("pass %d, to the %s: cams %q, second bed %q; want %+v", i+1, got, main, second, want)
		}
	}
	// Who begins at pass 2, after a jump, sets what will be wanted in pass 3 too.
	if list := beside.Restore(pl, 1); !slices.Contains(list, "Second bed for the way left: every needle") {
		t.Errorf("before pass 2: %q", list)
	}
	if list := strings.Join(beside.Restore(pl, 3), "; "); strings.Contains(list, "for the way") {
		t.Errorf("before a pass that both ways are alike for: %s", list)
	}
}
