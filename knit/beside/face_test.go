package beside_test

import (
	"cmp"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
)

// TestFace: in every pass each of her controls stands as the setting of its carriage wants it, what
// the setting does not name stays as it was, and what is not as before is said to be changed.
func TestFace(t *testing.T) {
	lever := map[string]any{"name": "left lever", "shape": "lever", "at": []float64{0.1, 0.5},
		"positions": []string{"up", "down"},
		"sets":      map[string]string{"plain": "up", "two-colour": "down"}}
	dial := map[string]any{"name": "dial", "shape": "dial", "at": []float64{0.5, 0.5}}
	button := map[string]any{"name": "button", "shape": "button", "at": []float64{0.8, 0.5},
		"positions": []string{"out", "in"},
		"sets":      map[string]string{"select": "in", "select-off": "out"}}
	lace := map[string]any{"name": "lace lever", "shape": "lever", "on": "lace", "at": []float64{0.8, 0.5},
		"positions": []string{"a", "b"},
		"sets":      map[string]string{"transfer": "a", "plain": "b"}} // which no pass of the knit carriage moves
	slide := map[string]any{"name": "slide", "shape": "slide", "at": []float64{0.2, 0.2},
		"positions": []string{"wait", "knit"}, "sets": map[string]string{"holding": "wait", "holding-off": "knit"}}
	knob := map[string]any{"name": "knob", "shape": "dial", "at": []float64{0.3, 0.3},
		"positions": []string{"rest", "selecting", "with ends"}, "sets": map[string]string{"select-off": "rest",
			"select": "selecting", "end-needles": "with ends", "end-needles-off": "selecting"}}
	wrong := map[string]any{"name": "", "shape": "lever", "at": []float64{0.1, 0.5}} // of another Vindel: left out
	p := piecetest.New(t, "card-preselect", "L8", "R8", []string{"..##", "#..#", ".##."}, piecetest.Before(3, "A"),
		piecetest.Set("/machine/controls", []any{lever, dial, button, lace, slide, knob, wrong}),
		piecetest.Set("/options", map[string]any{"end_needles": "auto"}),
		piecetest.Set("/sections/1/size", "5"))
	if n := len(p.Machine.Controls); n != 6 {
		t.Fatalf("%d controls are read", n)
	}
	pl := plan.Make(p)
	holds := step.Cams{Setting: machine.Plain, Lever: step.Holding} // said of one pass, and taken back two later
	holds.Setting.Ways = [2]machine.Cams{{Held: machine.Hold}, {Held: machine.Hold}}
	pl.Passes[2].Add(holds)
	holds.Setting.Ways = [2]machine.Cams{{Held: machine.Knit}, {Held: machine.Knit}}
	pl.Passes[4].Add(holds)
	pl.Passes[5].Add(step.Switch{Control: step.EndNeedles, On: true}) // while nothing is selected
	waits := map[int]string{2: "wait", 3: "wait"}
	ends := false
	on, before := false, map[string]string{}
	reads := 0
	for i := range pl.Passes {
		now := &pl.Passes[i]
		for _, st := range now.Before {
			if st, ok := st.Step.(step.Switch); ok && st.Control == step.Selecting {
				on = st.On
			} else if ok {
				ends = st.On
			}
		}
		want := map[string]string{"button": map[bool]string{false: "out", true: "in"}[on]}
		if want["slide"] = before["slide"]; i >= 2 {
			want["slide"] = cmp.Or(waits[i], "knit")
		}
		switch want["knob"] = "rest"; {
		case on && ends:
			want["knob"] = "with ends"
		case on:
			want["knob"] = "selecting"
		}
		switch now.Main().Setting.Key {
		case "plain":
			want["left lever"] = "up"
		case "two-colour":
			want["left lever"] = "down"
		}
		if want["dial"] = now.Main().Size; want["dial"] == "" {
			want["dial"] = before["dial"]
		}
		for _, c := range beside.Controls(pl, i) {
			name := c.Control.Name
			if c.Position != want[name] || c.Changed != (c.Known && before[name] != want[name]) {
				t.Errorf("pass %d, %s: %q, changed %v; wanted %q, before %q", i+1, name, c.Position, c.Changed,
					want[name], before[name])
			}
			if before[name] = c.Position; name == "button" && c.Changed && c.Position == "in" {
				reads++
			}
		}
	}
	if reads != 1 {
		t.Errorf("selecting is switched on %d times", reads)
	}
	if beside.Controls(plan.Make(piecetest.New(t, "hand-mid", "L8", "R8", []string{"..##"})), 0) != nil {
		t.Error("a machine without controls of hers has a face")
	}
}

// TestLeft: what is left takes the shipped pace with what hands do in it, or her own pace, in which that is.
func TestLeft(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "hand-mid", "L8", "R8", []string{"..##", "#..#", ".##."}, piecetest.Before(3,
		"A")))
	if beside.SecondsAPass != 12 || beside.SecondsAMove != 4 {
		t.Errorf("the shipped pace is %d s a pass, %d s a move", beside.SecondsAPass, beside.SecondsAMove)
	}
	n := len(pl.Passes)
	all := beside.Left(pl, 0, 0)
	if hands := beside.HandUses(pl); hands == 0 || all != float64(n*beside.SecondsAPass+hands*beside.SecondsAMove) {
		t.Errorf("%g seconds, %d passes, %d uses of hands", all, n, hands)
	}
	if half := beside.Left(pl, n/2, 0); half >= all || half <= float64((n-n/2)*beside.SecondsAPass) {
		t.Errorf("%g of %g seconds from the middle", half, all)
	}
	if own := beside.Left(pl, n-3, 20); own != 60 || beside.Left(pl, n, 20) != 0 {
		t.Errorf("three passes at her pace of 20 seconds: %g", own)
	}
}

// TestControls: what a control cannot be is said, at, below and above each limit.
func TestControls(t *testing.T) {
	many := func(n int) (list []string) {
		for i := range n {
			list = append(list, string(rune('a'+i)))
		}
		return list
	}
	for _, c := range []struct {
		control machine.Control
		ok      bool
	}{
		{machine.Control{Name: "a", Shape: "dial"}, true},
		{machine.Control{Name: "", Shape: "dial"}, false},
		{machine.Control{Name: "a", Shape: "wheel"}, false},
		{machine.Control{Name: "a", Shape: "dial", At: [2]float64{1, 0}}, true},
		{machine.Control{Name: "a", Shape: "dial", At: [2]float64{1.01, 0}}, false},
		{machine.Control{Name: "a", Shape: "dial", At: [2]float64{0, -0.01}}, false},
		{machine.Control{Name: "a", Shape: "lever", Positions: many(machine.MaxPositions)}, true},
		{machine.Control{Name: "a", Shape: "lever", Positions: many(machine.MaxPositions + 1)}, false},
		{machine.Control{Name: "a", Shape: "lever", Positions: []string{"up", "up"}}, false},
		{machine.Control{Name: "a", Shape: "lever", Positions: []string{"up"},
			Sets: map[string]string{"plain": "up"}}, true},
		{machine.Control{Name: "a", Shape: "lever", Positions: []string{"up"},
			Sets: map[string]string{"plain": "down"}}, false},
	} {
		if err := c.control.Check(); (err == nil) != c.ok {
			t.Errorf("%+v: %v", c.control, err)
		}
	}
}
