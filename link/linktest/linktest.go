// Package linktest is hands for tests: a simulated machine, and what words say done at it.
package linktest

import (
	"context"
	"net"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/link"
)

// Machine is a simulated machine on a port of its own.
func Machine(t testing.TB, faults map[int]link.Fault) (m *link.Machine, addr string) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	m = &link.Machine{Pace: time.Microsecond, Faults: faults}
	if testing.Verbose() {
		m.Log = t.Logf
	}
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan error, 1)
	go func() { done <- m.Serve(ctx, l) }()
	t.Cleanup(func() {
		cancel()
		if err := <-done; err != nil {
			t.Error(err)
		}
	})
	return m, l.Addr().String()
}

// Obey does at the machine what words say, and nothing else.
func Obey(t testing.TB, m *link.Machine, pl *pass.Plan, list []string) {
	t.Helper()
	t.Logf("told: %s", strings.Join(list, " | "))
	for _, text := range list {
		sub := func(re string) []string { return regexp.MustCompile(re).FindStringSubmatch(text) }
		number := func(s string) int { n, _ := strconv.Atoi(s); return n }
		side := func(s string) machine.Side {
			return map[string]machine.Side{"left": machine.Left, "right": machine.Right}[s]
		}
		carriage := map[string]machine.Carriage{"knit": machine.KnitCarriage, "lace": machine.LaceCarriage,
			"purl": machine.PurlCarriage, "second": machine.SecondCarriage}
		switch {
		case sub(`^Ravel the row`) != nil || sub(`^Put the stitches back by hand`) != nil:
			m.Ravel(1)
		case sub(`^Bring the (\w+) carriage back to the (left|right)`) != nil:
			w := sub(`^Bring the (\w+) carriage back to the (left|right)`)
			m.Bring(carriage[w[1]], side(w[2]))
		case sub(`^(\w+) carriage on the (left|right)`) != nil:
			w := sub(`^(\w+) carriage on the (left|right)`)
			m.Bring(carriage[strings.ToLower(w[1])], side(w[2]))
		case sub(`^Counter to (\d+)`) != nil:
			m.Count(number(sub(`^Counter to (\d+)`)[1]))
		case sub(`has taken line (\d+)`) != nil:
			m.Sweep(max(1, pl.Passes[place(list)].Section), number(sub(`taken line (\d+)`)[1]))
		case sub(`line (\d+) is read next`) != nil:
			section, _ := beside.NextLine(pl, place(list))
			m.Turn(section, number(sub(`line (\d+) is read next`)[1]))
		case sub(`^Program of section (\d+) at line (\d+)`) != nil:
			w := sub(`^Program of section (\d+) at line (\d+)`)
			m.Turn(number(w[1]), number(w[2]))
		case sub(`^No needle`) != nil || sub(`^All needles`) != nil:
			m.Put(machine.Set{})
		case sub(`^\d+ needles? (forward|[A-Z]): (.*)`) != nil:
			set, err := machine.ParseSet(unfold(pl, sub(`^\d+ needles? (forward|[A-Z]): (.*)`)[2]),
				pl.Piece.Machine.Bed)
			if err != nil {
				set = pl.Passes[place(list)].Main().Select // said as a pattern, whose labels the page unfolds
			}
			m.Put(set)
		}
	}
}

// place is the pass (index) that a list of how all must stand is about.
func place(list []string) int {
	for _, text := range list {
		if w := regexp.MustCompile(`^Pass (\d+), section`).FindStringSubmatch(text); w != nil {
			n, _ := strconv.Atoi(w[1])
			return n - 1
		}
	}
	return 0
}

func unfold(_ *pass.Plan, s string) string {
	return strings.NewReplacer(" to ", "-", ", ", ",", " and ", ",").Replace(s)
}

// Faults lays every fault once among the passes that read a line, or all where none does.
func Faults(pl *pass.Plan, round int) map[int]link.Fault {
	var at []int
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Line > 0 || pl.Piece.Machine.Program == machine.NoProgram {
			at = append(at, p.N)
		}
	}
	faults := map[int]link.Fault{}
	for k, f := range link.Faults {
		faults[at[min(len(at)-2, 1+k*len(at)/(len(link.Faults)+1)+round)]] = f
	}
	return faults
}
