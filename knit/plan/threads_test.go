package plan_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// end is a thread as somebody follows it with a finger.
type end struct {
	needle  machine.Needle
	run     int // knitted passes when it made its last loop; 0: none yet
	side    machine.Side
	bobbin  string
	in, cut bool
	cast    bool // stitches are cast on in it
	real    bool // it has knitted what is no waste
}

// TestThreads: every thread of random pieces is followed by the steps alone: none is in two places, none is dragged by
// a carriage that knits nothing, taken up where it does not hang, or goes on once it is cut; no strand over a rest is
// longer than its limits, across or up; and two ends of each are counted.
func TestThreads(t *testing.T) {
	rests, cuts := 0, 0
	for n := range chance.Cases(900) {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 83)))
		pl := plan.Make(p)
		f := follower{ends: map[string]*end{}, at: p.Start}
		for i := range pl.Passes {
			if fault := f.pass(pl, &pl.Passes[i]); fault != "" {
				t.Fatalf("piece %d, pass %d: %s\n%s", n, i+1, fault, pl)
			}
		}
		ends := 0
		for _, e := range f.ends {
			if e.real {
				ends += 2
			}
		}
		if ends != pl.Totals.Ends {
			t.Errorf("piece %d: %d ends are counted, of %d", n, pl.Totals.Ends, ends)
		}
		rests, cuts = rests+f.rests, cuts+f.cuts
	}
	if rests < chance.Share(300, 900) || cuts < chance.Share(300, 900) {
		t.Errorf("%d rests, %d cuts", rests, cuts)
	}
}

type follower struct {
	ends        map[string]*end
	fed         [2]string
	at          machine.Side
	rests, cuts int
	hands       bool // have knitted with a yarn: where that ends is theirs
}

func (f *follower) of(name string) *end {
	if f.ends[name] == nil {
		f.ends[name] = &end{}
	}
	return f.ends[name]
}

// pass does what is said before a pass, and makes it.
func (f *follower) pass(pl *pass.Plan, p *pass.Pass) string {
	for _, st := range p.Before {
		switch st := st.Step.(type) {
		case step.Thread:
			e := f.of(st.Name)
			there := st.New || st.Over || f.hands || e.side == f.at ||
				e.bobbin != "" && e.bobbin == st.Bobbin
			switch {
			case e.in, e.cut, f.fed[st.Feeder-1] != "", !there, st.New != (e.run == 0 && !e.cast) && !f.hands:
				return fmt.Sprintf("%s: %+v, feeders %q", st.Say(pl.Piece), *e, f.fed)
			}
			e.in, e.side, e.bobbin, f.fed[st.Feeder-1] = true, 0, "", st.Name
		case step.Unthread:
			e := f.of(st.Name)
			if f.fed[st.Feeder-1] != st.Name || !e.in || st.Left == 0 && !st.Cut && st.Bobbin == "" {
				return fmt.Sprintf("%s: %+v, feeders %q", st.Say(pl.Piece), *e, f.fed)
			}
			e.in, e.cut, e.side, e.bobbin, f.fed[st.Feeder-1] = false, st.Cut, st.Left, st.Bobbin, ""
			if st.Cut {
				f.cuts++
			}
		case step.Cut:
			e := f.of(st.Name)
			if e.in && !f.hands || e.cut {
				return fmt.Sprintf("%s: %+v", st.Say(pl.Piece), *e)
			}
			e.cut, f.cuts = true, f.cuts+1
			for k := range f.fed {
				if f.fed[k] == st.Name {
					e.in, f.fed[k] = false, p.Threads[k]
					f.of(p.Threads[k]).in = true
				}
			}
		case step.CastOn:
			for _, name := range f.fed {
				if name != "" && st.Yarn != 0 && name[0] == pl.Piece.YarnID(st.Yarn)[0] {
					e := f.of(name)
					e.cast, e.real = true, e.real || p.Section > 0 || pl.Piece.Begin.Way != "waste"
				}
			}
		case step.KnitByHand:
			f.hands = true
		}
	}
	if p.Carriage == machine.LaceCarriage {
		return ""
	}
	if f.at = p.Dir; p.Free {
		if f.fed != [2]string{} && p.Recipe == 0 {
			return fmt.Sprintf("an empty carriage drags %q", f.fed)
		}
		return ""
	}
	waste := p.Section == 0 && (p.ID.Section == pass.BeginID && pl.Piece.Begin.Way == "waste" ||
		p.ID.Section == pass.EndID && pl.Piece.End != nil && pl.Piece.End.Way == "waste")
	for k, name := range f.fed {
		var on machine.Set
		for g := range p.Groups() {
			if g.Action.Takes() && (g.Feeder == k+1 || g.Under != 0 && g.Under == p.Yarn(k+1)) {
				on = on.Or(g.Needles)
			}
		}
		if on.Empty() {
			continue
		}
		from, to := on.First(), on.Last()
		if p.Dir == machine.Left {
			from, to = to, from
		}
		if fault := f.knit(pl, p, name, from, to, waste); fault != "" {
			return fault
		}
	}
	for k := range p.Lays {
		l := &p.Lays[k]
		from, to := l.From, l.To
		if p.Dir == machine.Left {
			from, to = to, from
		}
		if fault := f.knit(pl, p, l.Thread, from, to, false); fault != "" {
			return fault
		}
		if e := f.of(l.Thread); p.Main().Setting.Lays {
			e.bobbin = l.Bobbin
		}
	}
	return ""
}

// knit takes a thread along from one needle to another.
func (f *follower) knit(pl *pass.Plan, p *pass.Pass, name string, from, to machine.Needle, waste bool) string {
	e := f.of(name)
	if e.cut || name == "" {
		return fmt.Sprintf("%q knits, and is %+v", name, *e)
	}
	if up := p.Run - e.run - 1; e.run > 0 && up > 0 && !f.hands {
		f.rests++
		between := machine.Range(min(e.needle, from)+1, max(e.needle, from)-1).And(p.Main().AtWork)
		strand, carried := 2*pl.Piece.FloatLimit(), 20
		if l := pl.Piece.Limits.Strand; l > 0 {
			strand = l
		}
		if l := pl.Piece.Limits.Carried; l > 0 {
			carried = l
		}
		if between.Len() > strand || up > carried {
			return fmt.Sprintf("%s runs from %v to %v, %d stitches across and %d up", name, e.needle, from,
				between.Len(), up)
		}
	}
	e.needle, e.run, e.real = to, p.Run, e.real || !waste
	return ""
}

// TestThreadsByHand: what becomes of a thread, worked out with a pencil: at, below and above its limits.
func TestThreadsByHand(t *testing.T) {
	plain := func(yarn string, rows int, more ...any) map[string]any {
		s := map[string]any{"technique": "plain", "yarn": yarn, "rows": rows}
		for i := 0; i < len(more); i += 2 {
			s[more[i].(string)] = more[i+1]
		}
		return s
	}
	for _, c := range []struct {
		name, machine, want string
		sections            []any
		limits              map[string]any
		ends                int
	}{
		{name: "carried up to its limit", machine: "card-preselect", ends: 4,
			sections: []any{plain("A", 2), plain("B", 20), plain("A", 2)},
			want: "Thread yarn A in feeder 1; Take yarn A out of feeder 1 and leave it hanging on the right; Thread yarn B in " +
				"feeder 1; Take yarn B out of feeder 1 and cut it; Thread yarn A in feeder 1"},
		{name: "and above it", machine: "card-preselect", ends: 6,
			sections: []any{plain("A", 2), plain("B", 22), plain("A", 2)},
			want: "Thread yarn A in feeder 1; Take yarn A out of feeder 1 and cut it; Thread yarn B in feeder 1; " +
				"Take yarn B out of feeder 1 and cut it; Thread a new end of yarn A in feeder 1"},
		{name: "an odd number of rows", machine: "card-preselect", ends: 6,
			sections: []any{plain("A", 2), plain("B", 3), plain("A", 2)},
			want: "Thread yarn A in feeder 1; Take yarn A out of feeder 1 and cut it; Thread yarn B in feeder 1; " +
				"Take yarn B out of feeder 1 and cut it; Thread a new end of yarn A in feeder 1"},
		{name: "an odd number of rows, and carried", machine: "card-preselect", ends: 4,
			sections: []any{plain("A", 2), plain("B", 3), plain("A", 2, "strand", "carry")},
			want: "Thread yarn A in feeder 1; Take yarn A out of feeder 1 and leave it hanging on the right; Thread yarn B in " +
				"feeder 1; Take yarn B out of feeder 1 and cut it; Thread yarn A in feeder 1 from the other side"},
		{name: "a limit of hers", machine: "card-preselect", ends: 6, limits: map[string]any{"carried": 3},
			sections: []any{plain("A", 2), plain("B", 4), plain("A", 2)},
			want: "Thread yarn A in feeder 1; Take yarn A out of feeder 1 and cut it; Thread yarn B in feeder 1; " +
				"Take yarn B out of feeder 1 and cut it; Thread a new end of yarn A in feeder 1"},
		{name: "an empty carriage", machine: "card-preselect", ends: 4,
			sections: []any{plain("A", 2), plain("A", 2, "free", true)},
			want:     "Thread yarn A in feeder 1; Take yarn A out of feeder 1 and cut it; Thread a new end of yarn A in feeder 1"},
		{name: "hands have knitted with it", machine: "hand-mid", ends: 4,
			sections: []any{map[string]any{"technique": "recipe", "recipe": "yarn A\npass 2\nyarn C\npass 2\n" +
				"knit by hand in A: short every 2\npass 2"}},
			want: "Thread yarn A; Take yarn A out and leave it hanging on the right; Thread yarn C; Knit by hand with the " +
				"end of yarn A, from the right: short on every 2nd needle from L12 to R11 (12)"},
	} {
		edits := []edit.Change{piecetest.Set("/sections", c.sections)}
		if c.limits != nil {
			edits = append(edits, piecetest.Set("/limits", c.limits))
		}
		p := piecetest.New(t, c.machine, "L12", "R12", []string{"#."}, edits...)
		for i, id := range "ABCD" {
			p.Yarns[i].Name = "yarn " + string(id)
		}
		pl := plan.Make(p)
		var said []string
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				switch st.Do() {
				case step.DoThread, step.DoUnthread, step.DoCut, step.DoKnitByHand:
					said = append(said, st.Say(p))
				}
			}
		}
		if got := strings.Join(said, "; "); got != c.want || pl.Totals.Ends != c.ends {
			t.Errorf("%s: %d ends; %s", c.name, pl.Totals.Ends, got)
		}
		if f := technique.Prove(pl); len(f.Faults) > 0 {
			t.Errorf("%s: %v", c.name, f.Faults)
		}
	}
}
