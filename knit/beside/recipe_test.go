package beside_test

import (
	"math"
	"strings"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/check"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/technique"
)

func shipped(t *testing.T, name string) *check.Result {
	t.Helper()
	p, err := technique.Read(recipe.Shipped(name).File)
	if err != nil {
		t.Fatal(err)
	}
	return check.Run(p)
}

// TestRecipeBeside: beside each line stand its passes and counter in the round that is asked for, the
// needles that it is about, and both beds after it.
func TestRecipeBeside(t *testing.T) {
	r := shipped(t, "lichen-kneeler")
	lines, repeats := beside.Recipe(r.Plan, 1, nil)
	if l := lines[16]; l.Passes != [2]int{7, 7} || l.Counter != [2]int{6, 7} || l.Needles[0].String() != "L24,R22" ||
		l.Dir != machine.Left {
		t.Errorf("line 16: %+v", l)
	}
	if l := lines[18]; l.Passes != [2]int{9, 10} || l.Counter != [2]int{8, 8} ||
		!l.After.Holds[machine.Second].Empty() {
		t.Errorf("the drop: %+v", l)
	}
	if l := lines[16]; l.After.Over[0].Len() != 44 || l.After.Holds[1].Len() != 13 {
		t.Errorf("after line 16: %v over, %v behind", l.After.Over[0], l.After.Holds[1])
	}
	if len(repeats) != 1 || repeats[0].Of != 56 || repeats[0].Line != 13 {
		t.Errorf("repeats: %+v", repeats)
	}
	lines, _ = beside.Recipe(r.Plan, 1, map[int]int{13: 3})
	if l := lines[16]; l.Passes != [2]int{15, 15} || l.Feeders[0] != 2 {
		t.Errorf("line 16 in round 3: %+v", l)
	}
}

// TestRecipeYarn: loops count by their length; a swatch counted in rounds tells the grams, one without
// rounds, or of another technique, tells nothing.
func TestRecipeYarn(t *testing.T) {
	p, err := technique.Read(recipe.Shipped("lichen-kneeler").File)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		swatch piece.Swatch
		grams  float64 // of both yarns; 46 stitches, 56 rounds
	}{
		{piece.Swatch{}, 0},
		{piece.Swatch{Stitches: 23, Rows: 16, Grams: 10}, 0},
		{piece.Swatch{Stitches: 23, Rounds: 8, Grams: 10, Technique: "tuck"}, 0},
		{piece.Swatch{Stitches: 23, Rounds: 8, Grams: 10, Technique: "recipe"}, 140},
	} {
		p.Swatch = c.swatch
		use := beside.RecipeYarn(check.Run(p).Plan, 1)
		if len(use) != 2 || use[0].Loops != 2376+494+1672/2 || use[1].Loops != 864+234+792/2 {
			t.Fatalf("%+v", use)
		}
		if got := use[0].Grams + use[1].Grams; math.Abs(got-c.grams) > .01 ||
			math.Abs(use[0].Grams-c.grams*3706/5200) > .01 {
			t.Errorf("%+v: %+v", c.swatch, use)
		}
	}
	curtain := shipped(t, "rain-curtain").Plan // with long stitches by hand
	for _, u := range beside.RecipeYarn(curtain, 1) {
		k := curtain.Totals.Recipe[0].Loops[curtain.Piece.YarnID(u.Yarn)]
		if want := float64(k["knit"]+k["second"]+k["short"]+k["cast"]+3*k["long"]) + float64(
			k["strand"]+k["wrap"])/2; u.Loops != want {
			t.Errorf("yarn %d: %v, not %v of %v", u.Yarn, u.Loops, want, k)
		}
	}
}

// TestRoundsBeside: beside the machine the round is said, and of both beds what is out, held, empty and
// carries more than one loop.
func TestRoundsBeside(t *testing.T) {
	words := func(r *check.Result, i int) string {
		b := beside.Before(r.Fabric, i)
		var see strings.Builder
		for _, w := range b.See {
			see.WriteString(w.Text)
		}
		return b.Row + "; " + see.String()
	}
	for _, c := range []struct {
		name string
		pass int // from 1
		want []string
	}{
		{"wind-streamer", 2172, []string{"wedge 36 of 72, row 56 of 60, to the right",
			"number 29 in the card's window"}},
		{"lichen-kneeler", 9, []string{"the second bed's carriage alone, without yarn, to the left",
			"of the second bed all 13 at rest, 27 out of work", "handle at 6, half pitch",
			"second bed's carriage on the right"}},
		{"rain-curtain", 7, []string{"panel 1 of 5, row 1 of 20", "in full hold", "8 out of work",
			"with more than one loop"}},
		{"rain-curtain", 10, []string{"row 4 of 20", "every 6th needle from L21 to R22 (8) in full hold",
			"every 6th needle from L21 to R22 (8) empty"}},
	} {
		got := words(shipped(t, c.name), c.pass-1)
		for _, want := range c.want {
			if !strings.Contains(got, want) {
				t.Errorf("%s, pass %d: %q does not say %q", c.name, c.pass, got, want)
			}
		}
	}
}
