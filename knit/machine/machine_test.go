package machine_test

import (
	"fmt"
	"testing"

	"vindel/chance"
	"vindel/knit/machine"
)

func ExampleParseSet() {
	s, _ := machine.ParseSet("R7,L12-L9,L1-R2", 200)
	fmt.Println(s, s.Len())
	_, err := machine.ParseSet("L140", 200)
	fmt.Println(err)
	// Output:
	// L12-L9,L1-R2,R7 8
	// "L140": the bed ends at L100
}

func TestNeedleLabels(t *testing.T) {
	for _, c := range []struct {
		label string
		along int
	}{{"L100", -100}, {"L1", -1}, {"R1", 0}, {"R2", 1}, {"R100", 99}} {
		n, err := machine.ParseNeedle(c.label)
		if err != nil || int(n) != c.along || n.String() != c.label {
			t.Errorf("ParseNeedle(%s) = %d (%v), %v; want %d", c.label, n, n, err, c.along)
		}
	}
	for _, bad := range []string{"", "L", "L0", "R0", "l5", "X3", "L-1", "R+1", "L01", "12", "R1 ",
		"R9999999999999999999"} {
		if n, err := machine.ParseNeedle(bad); err == nil {
			t.Errorf("ParseNeedle(%q) = %v, want an error", bad, n)
		}
	}
}

func TestCentre(t *testing.T) {
	for _, c := range []struct {
		w        int
		odd      machine.Side
		from, to string
	}{{33, machine.Right, "L16", "R17"}, {33, machine.Left, "L17", "R16"}, {10, machine.Right, "L5", "R5"},
		{10, machine.Left, "L5", "R5"}, {1, machine.Right, "R1", "R1"}, {1, machine.Left, "L1", "L1"}} {
		if from, to := machine.Centre(c.w, c.odd); from.String() != c.from || to.String() != c.to {
			t.Errorf("Centre(%d, %v) = %v to %v, want %s to %s", c.w, c.odd, from, to, c.from, c.to)
		}
	}
}

// slowSet is a set as one would write it without thinking of bits.
type slowSet map[machine.Needle]bool

func (s slowSet) set() (out machine.Set) {
	for n := range s {
		out.Add(n)
	}
	return out
}

func (s slowSet) hasRun(n int) bool {
	for x := range s {
		run := 0
		for s[x+machine.Needle(run)] {
			run++
		}
		if run >= n {
			return true
		}
	}
	return false
}

func TestSetAgainstSlowTwin(t *testing.T) {
	rng := chance.Rand(t, 1, 2)
	for range 300 {
		slow := slowSet{}
		for range rng.IntN(120) {
			slow[machine.Needle(rng.IntN(200)-100)] = true
		}
		fast := slow.set()
		shift := rng.IntN(28)
		left, right := slowSet{}, slowSet{}
		for n := range slow {
			left[n-machine.Needle(shift)], right[n+machine.Needle(shift)] = true, true
		}
		if fast.Left(shift) != left.set() || fast.Right(shift) != right.set() {
			t.Fatalf("%v moved by %d: got %v and %v", fast, shift, fast.Left(shift), fast.Right(shift))
		}
		for n := 1; n < 12; n++ {
			if got, want := fast.HasRun(n), slow.hasRun(n); got != want {
				t.Fatalf("%v.HasRun(%d) = %v, want %v", fast, n, got, want)
			}
		}
		if fast.Len() != len(slow) {
			t.Fatalf("%v.Len() = %d, want %d", fast, fast.Len(), len(slow))
		}
		if back, err := machine.ParseSet(fast.String(), 200); err != nil || back != fast {
			t.Fatalf("ParseSet(%q) = %v, %v", fast, back, err)
		}
	}
	if r := machine.Range(machine.L(3), machine.R(2)); r.String() != "L3-R2" || r.Len() != 5 {
		t.Errorf("Range(L3, R2) = %v of %d", r, r.Len())
	}
	if r := machine.Range(machine.R(2), machine.L(3)); !r.Empty() {
		t.Errorf("Range(R2, L3) = %v, want none", r)
	}
}

func FuzzParseSet(f *testing.F) {
	f.Add("L12-L9,L1-R2,R7")
	f.Add("R2-L2")
	f.Fuzz(func(t *testing.T, text string) {
		s, err := machine.ParseSet(text, 200)
		if err != nil {
			return
		}
		if again, err := machine.ParseSet(s.String(), 200); err != nil || again != s {
			t.Errorf("ParseSet(%q) = %v, but read again: %v, %v", text, s, again, err)
		}
	})
}

func TestFloatLimit(t *testing.T) {
	for pitch, want := range map[float64]int{4.5: 5, 5: 5, 6.5: 3, 9: 2, 40: 1} {
		if got := machine.FloatLimit(pitch); got != want {
			t.Errorf("FloatLimit(%g mm) = %d, want %d", pitch, got, want)
		}
	}
}

// TestWords: a set is said as the pattern that it is, and else by its labels.
func TestWords(t *testing.T) {
	for labels, want := range map[string]string{
		"L12,L6,R1,R7,R13":          "every 6th needle from L12 to R13 (5)",
		"L12-L11,L6-L5,R1-R2,R7-R8": "2 of every 6 needles from L12 to R8 (8)",
		"L4,L2,R1,R3":               "every 2nd needle from L4 to R3 (4)",
		"L12,L6,R1":                 "L12,L6,R1",
		"L12,L6,R1,R8,R13":          "L12,L6,R1,R8,R13",
		"L12-L11,L6,R1-R2,R7-R8":    "L12-L11,L6,R1-R2,R7-R8",
		"L20,L1,R19,R39":            "L20,L1,R19,R39",
		"L22,L1,R21,R42":            "every 21st needle from L22 to R42 (4)",
		"L42,L21,R1,R22":            "every 21st needle from L42 to R22 (4)",
		"L20-R20":                   "L20-R20",
		"":                          "",
		"L33,L22,L11,R1":            "every 11th needle from L33 to R1 (4)",
	} {
		set, err := machine.ParseSet(labels, 200)
		if err != nil {
			t.Fatal(err)
		}
		if got := set.Words(); got != want {
			t.Errorf("%s: %s, want %s", labels, got, want)
		}
	}
}

// TestBrief: what is told of what one should see stays within its characters, at the limit and above it.
func TestBrief(t *testing.T) {
	for labels, want := range map[string]string{
		"L99,L97,L94,L90,L88,L86,L83,L81,L79,L77,L75,L73,L70,L67,R100": "L99,L97,L94,L90,L88,L86,L83,L81,L79,L77,L75," +
			"L73,L70,L67,R100",
		"L100,L97,L94,L90,L88,L86,L83,L81,L79,L77,L75,L73,L70,L67,R100": "15 needles, L100 to R100",
		"L72,L66,L60,L54,L48,L42,L36,L30,L24,L18,L12,L6,R6,R12,R18,R24,R30,R36": "every 6th needle from L72 to L6 and " +
			"from R6 to R36 (18)",
		"L72,L66,L60,L54,L48,L42,L36,L30,L24,L18,L12,L6,R6,R12,R18,R24,R30,R37": "18 needles, L72 to R37",
		"L6,R6": "L6,R6",
	} {
		set, err := machine.ParseSet(labels, 200)
		if err != nil {
			t.Fatal(err)
		}
		if got := set.Brief(); got != want {
			t.Errorf("%s: %s, want %s", labels, got, want)
		}
	}
}
