package acts_test

import (
	"strings"
	"testing"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
)

// TestWaysAreSaid: obeyed word by word, with nothing moved that is not named, the second bed's carriage stands in every
// pass of a tubular start as the pass wants it: which way a setting is for is said of it too.
func TestWaysAreSaid(t *testing.T) {
	p := piecetest.New(t, "program-preselect", "L6", "R6", []string{"#."}, piecetest.Set("/begin",
		map[string]any{"way": "two-bed"}))
	pl := plan.Make(p)
	stands, ways := [2]string{}, 0
	for i := range pl.Passes {
		now := &pl.Passes[i]
		for _, st := range now.Before {
			said, ok := strings.CutPrefix(st.Say(p), "Set the second bed")
			if !ok {
				continue
			}
			what, _, _ := strings.Cut(said[strings.Index(said, ": ")+2:], " (")
			left, right := strings.HasPrefix(said, " for the way left"), strings.HasPrefix(said, " for the way right")
			if !right {
				stands[0] = what
			}
			if !left {
				stands[1] = what
			}
			if left || right {
				ways++
			}
		}
		behind := now.Second()
		if !behind.Named {
			continue
		}
		if want := p.Machine.Word(behind.Setting.Key); stands[now.Dir-machine.Left] != want {
			t.Errorf("pass %d, to the %v: the second bed stands at %q, and %q is wanted", i+1, now.Dir,
				stands[now.Dir-machine.Left], want)
		}
	}
	if ways == 0 || !pass.Has[step.Cams](pl.Passes[0].Before) {
		t.Errorf("%d settings are for one way", ways)
	}
}
