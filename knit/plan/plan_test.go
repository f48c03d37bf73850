package plan_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

var area, set, before = piecetest.Area, piecetest.Set, piecetest.Before

// say is what the tests below compare of a pass: carriage way, row, line, counter,
// yarns, needles forward, needles set for the next, needles in full hold.
func say(pl *pass.Plan, p *pass.Pass) string {
	return strings.TrimSpace(fmt.Sprintf("%v r%d l%d c%d %s%s [%v] [%v] %v", p.Dir, p.Row(), p.Line, p.Counter,
		pl.Piece.YarnID(p.Yarn(1)), pl.Piece.YarnID(p.Yarn(2)), p.Main().Select, p.Main().Sets, p.Main().Hold))
}

func compare(t *testing.T, name string, pl *pass.Plan, want ...string) {
	t.Helper()
	for i := range max(len(want), len(pl.Passes)) {
		got, w := "nothing", "nothing"
		if i < len(pl.Passes) {
			got = say(pl, &pl.Passes[i])
		}
		if i < len(want) {
			w = want[i]
		}
		if got != w {
			t.Errorf("%s, pass %d:\n got %s\nwant %s", name, i+1, got, w)
		}
	}
}

// TestByHand: an unsymmetrical figure of 4 × 3, worked out by hand to needle lists for
// both drawn sides, both schools and two anchors, so that planner and simulator cannot
// share one mirroring mistake. On the purl side the figure lies as drawn:
//
//	#...        L4 L3 L2 L1 R1 R2 R3 R4
//	##..        row 3  #  .  .  .  #  .  .  .
//	.#.#        row 2  #  #  .  .  #  #  .  .
//	            row 1  .  #  .  #  .  #  .  #
func TestByHand(t *testing.T) {
	figure := []string{"#...", "##..", ".#.#"}
	compare(t, "purl, direct", plan.Make(piecetest.New(t, "card-direct", "L4", "R4", figure)),
		"left r1 l1 c1 AB [L3,L1,R2,R4] []", "right r2 l2 c2 AB [L4-L3,R1-R2] []", "left r3 l3 c3 AB [L4,R1] []")
	compare(t, "purl, preselect", plan.Make(piecetest.New(t, "card-preselect", "L4", "R4", figure)),
		"left r0 l1 c1 A [] [L3,L1,R2,R4]", "right r1 l2 c2 AB [L3,L1,R2,R4] [L4-L3,R1-R2]",
		"left r2 l3 c3 AB [L4-L3,R1-R2] [L4,R1]", "right r3 l0 c4 AB [L4,R1] []")
	knit := set("/charts/c/side", "knit")
	compare(t, "knit, direct", plan.Make(piecetest.New(t, "card-direct", "L4", "R4", figure, knit)),
		"left r1 l1 c1 AB [L4,L2,R1,R3] []", "right r2 l2 c2 AB [L2-L1,R3-R4] []", "left r3 l3 c3 AB [L1,R4] []")
	compare(t, "knit, preselect, anchored at L3",
		plan.Make(piecetest.New(t, "program-preselect", "L4", "R4", figure, knit, area("first", "L3"))),
		"left r0 l1 c1 A [] [L3,L1,R2,R4]", "right r1 l2 c2 AB [L3,L1,R2,R4] [L4,L1-R1,R4]",
		"left r2 l3 c3 AB [L4,L1-R1,R4] [L4,R1]", "right r3 l0 c4 AB [L4,R1] []")
	// By hand L4 (far) waits in full hold and R4 (near) never comes forward.
	compare(t, "purl, two passes", plan.Make(piecetest.New(t, "hand-mid", "L4", "R4", figure)),
		"left r1 l0 c1 A [L3,L1,R2] [] L4", "right r1 l0 c2 B [L3,L1,R2] [] L4",
		"left r2 l0 c3 B [L2-L1,R3] [] L4", "right r2 l0 c4 A [L2-L1,R3] [] L4",
		"left r3 l0 c5 A [R1] [] L4", "right r3 l0 c6 B [R1] [] L4")
}

func TestSelectingPass(t *testing.T) {
	rows := []string{".#.#", "#.#."}
	free := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", rows,
		set("/options", map[string]any{"selecting": "free"}), set("/start", "left")))
	compare(t, "free", free, "right r0 l1 c0  [] [L2,R1]", "left r1 l2 c1 AB [L2,R1] [L1,R2]",
		"right r2 l0 c2 AB [L1,R2] []")
	if p := free.Passes[0]; p.Cams() != machine.Free.Ways[0] || free.Totals.Knitted != 2 || free.Totals.Passes != 3 ||
		free.Totals.Threadings != 2 {
		t.Errorf("free pass: cams %v, totals %+v", p.Cams(), free.Totals)
	}
	// A plain row before the pattern does the selecting, and so does a patterned one.
	after := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", rows, before(2, "A"),
		set("/sections/-", map[string]any{"technique": "two-colour", "areas": []any{map[string]any{"chart": "c"}}})))
	compare(t, "after plain", after, "left r1 l0 c1 A [] []", "right r2 l1 c2 A [] [L2,R1]",
		"left r1 l2 c3 AB [L2,R1] [L1,R2]", "right r2 l1 c4 AB [L1,R2] [L2,R1]",
		"left r1 l2 c5 AB [L2,R1] [L1,R2]", "right r2 l0 c6 AB [L1,R2] []")
	locks := ""
	for i := range after.Passes[:3] {
		for _, st := range after.Passes[i].Before {
			if st.Do() == step.DoCardLock || st.Do() == step.DoCardRelease || st.Do() == step.DoSetCard {
				locks += fmt.Sprintf("%d:%s ", i+1, st.Do())
			}
		}
	}
	if locks != "2:set-card 2:card-lock 3:card-release " {
		t.Errorf("card: %s", locks)
	}
}

// TestCounters: the number at the start of each chart row of hand-selected work is the
// one knitters write beside it, and the counter policies.
func TestCounters(t *testing.T) {
	rows := []string{".##.", "....", "....", ".##.", "#..#", "#.##", ".##.", "####"}
	slices.Reverse(rows)
	rows = []string{".#.#..#.", "........", "........", ".#.##.#.", ".##..##.", "..#.#.#.", "..#.#.#.", "..#.#.#."}
	pl := plan.Make(piecetest.New(t, "hand-mid", "L4", "R4", rows))
	var counters []int
	for _, r := range beside.Sheet(pl, 1) {
		counters = append(counters, r.Counter)
	}
	if want := []int{0, 2, 4, 6, 8, 10, 11, 12}; !slices.Equal(counters, want) {
		t.Errorf("counter at the start of each row: %v, want %v", counters, want)
	}
	two := []string{".#.#", "#.#."}
	for policy, want := range map[string][]int{"run": {1, 2, 3, 4, 5, 6, 7}, "section": {1, 2, 3, 1, 2, 3, 4},
		"repeat": {1, 2, 3, 1, 2, 1, 2}} {
		p := piecetest.New(t, "card-preselect", "L2", "R2", two, before(3, "A"),
			set("/options", map[string]any{"counter": policy}), set("/sections/1/rows", 4))
		var got []int
		for _, made := range plan.Make(p).Passes {
			got = append(got, made.Counter)
			if made.Run != made.N {
				t.Errorf("%s: the running row of pass %d is %d", policy, made.N, made.Run)
			}
		}
		if !slices.Equal(got, want) {
			t.Errorf("counter %s: %v, want %v", policy, got, want)
		}
	}
	// A section that begins at another line has its repeats end elsewhere.
	var later []int
	for _, made := range plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", two, before(3, "A"),
		set("/options", map[string]any{"counter": "repeat"}), set("/sections/1/rows", 4),
		set("/sections/1/from_line", 2))).Passes {
		later = append(later, made.Counter)
	}
	if want := []int{1, 2, 3, 1, 1, 2, 1}; !slices.Equal(later, want) {
		t.Errorf("counter from line 2: %v, want %v", later, want)
	}
}

// TestPairs: a reader in pairs gives each line a leftward and a rightward pass, reads
// one pass ahead; a card that is not joined is set back before the last pass of a round.
func TestPairs(t *testing.T) {
	rows := []string{"#..#", ".##."}
	pl := plan.Make(piecetest.New(t, "two-bed-pairs", "L2", "R2", rows, set("/sections/0/rows", 4),
		set("/sections/0/joined", false)))
	compare(t, "pairs", pl, "left r1 l0 c1 AB [L1-R1] []", "right r1 l2 c2 AB [L1-R1] []",
		"left r2 l0 c3 AB [L2,R2] []",
		"right r2 l1 c4 AB [L2,R2] []",
		"left r3 l0 c5 AB [L1-R1] []", "right r3 l2 c6 AB [L1-R1] []", "left r4 l0 c7 AB [L2,R2] []",
		"right r4 l0 c8 AB [L2,R2] []")
	if !slices.ContainsFunc(pl.Passes[3].Before, func(st pass.Step) bool {
		card, ok := st.Step.(step.SetCard)
		return ok && card.Line == 1
	}) {
		t.Error("the card is not set back before the last pass of the round")
	}
	if first := pl.Passes[0].Before; !pass.Has[step.Sweep](first) || !slices.ContainsFunc(first, func(st pass.Step) bool {
		card, ok := st.Step.(step.SetCard)
		return ok && card.Section == 1
	}) {
		t.Errorf("before the first pass, which line 1 serves: %v", first)
	}
	left := plan.Make(piecetest.New(t, "two-bed-pairs", "L2", "R2", rows, set("/start", "left")))
	if len(left.Passes) != 0 || !slices.ContainsFunc(left.Findings,
		func(f finding.Finding) bool { return f.Code == "carriage-side" }) {
		t.Errorf("starting on the left: %v", left.Findings)
	}
}

// TestFeedersInHoles: a row whose yarns have changed feeders has its holes inverted,
// and where that differs between repeats the program is longer than the chart.
func TestFeedersInHoles(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "program-preselect", "L2", "R2", []string{"+..+", "#++#", "#..#"},
		set("/sections/0/rows", 6)))
	compare(t, "three yarns in turn", pl, "left r0 l1 c1 A [] [L2,R2]",
		"right r1 l2 c2 AB [L2,R2] [L2,R2]", "left r2 l3 c3 CB [L2,R2] [L1-R1]", "right r3 l4 c4 CA [L1-R1] [L1-R1]",
		"left r4 l5 c5 BA [L1-R1] [L1-R1]", "right r5 l6 c6 BC [L1-R1] [L2,R2]", "left r6 l0 c7 AC [L2,R2] []")
	if pl.Totals.Threadings != 7 || pl.LinesOf(1) != 6 {
		t.Errorf("threadings %d, lines %d; want 7, 6", pl.Totals.Threadings, pl.LinesOf(1))
	}
}

func TestEndNeedles(t *testing.T) {
	rows := []string{"....", ".##.", "...."}
	for policy, want := range map[string]string{"off": "L1-R1", "auto": "L2-R2", "hand": "L2-R2"} {
		pl := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", rows,
			set("/options", map[string]any{"end_needles": policy})))
		if got := pl.Passes[2].Main().Select.String(); got != want {
			t.Errorf("%s: row 2 selects %s, want %s", policy, got, want)
		}
		if got := pl.Passes[3].Main().Select; !got.Empty() {
			t.Errorf("%s: with feeder 2 empty %v would drop", policy, got)
		}
		if wantHand := policy == "hand"; wantHand != !pl.Passes[2].Main().ByHand.Empty() {
			t.Errorf("%s: by hand %v", policy, pl.Passes[2].Main().ByHand)
		}
	}
	// Each change stands before the pass that reads the line of the row, and selecting goes off
	// with the last line; readers of pairs have neither switch, nor hand-selected machines.
	for _, c := range []struct{ id, policy, want string }{
		{"card-preselect", "auto", "1 select true, 2 end-needles true, 3 end-needles false, 4 select false, "},
		{"card-direct", "auto", "1 select true, 2 end-needles true, 3 end-needles false, 4 select false, "},
		{"card-preselect", "off", "1 select true, 4 select false, "},
		{"card-preselect", "hand", "1 select true, 4 select false, "},
		{"two-bed-pairs", "auto", ""}, {"hand-mid", "auto", ""},
	} {
		pl := plan.Make(piecetest.New(t, c.id, "L2", "R2", rows, set("/options",
			map[string]any{"end_needles": c.policy}),
			set("/sections/-", map[string]any{"technique": "plain", "rows": 1})))
		got := ""
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if st, ok := st.Step.(step.Switch); ok {
					got += fmt.Sprint(i+1, " ", st.Control, " ", st.On, ", ")
				}
			}
		}
		if got != c.want {
			t.Errorf("%s, %s: %s, want %s", c.id, c.policy, got, c.want)
		}
	}
	// By hand the same needles are brought forward on every row that has two yarns, whatever
	// the line holds; without a switch "auto" is that too.
	for _, c := range [][]edit.Change{{set("/options", map[string]any{"end_needles": "hand"})},
		{set("/options", map[string]any{"end_needles": "auto"}), set("/machine/end_switch", false)}} {
		got := ""
		for _, p := range plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", []string{"#..#", "....", ".##."},
			c...)).Passes {
			for _, st := range p.Before {
				if st.Do() == step.DoBringForward {
					got += fmt.Sprint(p.N, " ", st.Needles(), " ")
				}
			}
		}
		if got != "2 L2,R2 4 L2,R2 " {
			t.Errorf("ends by hand: %s", got)
		}
	}
	motif := plan.Make(piecetest.New(t, "card-preselect", "L4", "R4", rows,
		set("/options", map[string]any{"end_needles": "auto"}), area("from", "L2"), area("to", "R2"), area("first",
			"L2")))
	if got := motif.Passes[2].Main().Select.String(); got != "L1-R1" {
		t.Errorf("beside a motif the switch is off: row 2 selects %s", got)
	}
}

// TestCannot: what stops a plan says why and keeps the passes below it.
func TestCannot(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "program-preselect", "L2", "R2", []string{"#.#.", "#.+.", "#.#."}))
	if len(pl.Passes) != 2 || pl.Stopped.Row != 2 || len(pl.Findings) != 1 || pl.Findings[0].Code != "colours-in-row" ||
		!strings.Contains(pl.Findings[0].Text, "column 1") && !strings.Contains(pl.Findings[0].Text, "column 3") {
		t.Errorf("three colours in row 2: %d passes, stopped at %d, %v", len(pl.Passes), pl.Stopped.Row, pl.Findings)
	}
	one := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", []string{"#.#."}, set("/machine/feeders", 1)))
	if len(one.Passes) != 0 || one.Findings[0].Code != "technique-machine" ||
		!strings.Contains(one.Findings[0].Text, "second feeder") || !strings.Contains(one.Findings[0].Fix, "hand-mid") {
		t.Errorf("one feeder, no fingers: %v", one.Findings)
	}
}

// TestFarSide: a plain row in the yarn that hangs on the far side costs a cut, and says so.
func TestFarSide(t *testing.T) {
	rows := []string{"......", ".#..#."}
	forced := piecetest.Document(t, "hand-mid", "L3", "R3", rows, set("/options", map[string]any{"first_yarn": "A"}))
	p, err := technique.Piece(forced)
	if err != nil {
		t.Fatal(err)
	}
	pl := plan.Make(p)
	cut := ""
	for i := range pl.Passes {
		for _, st := range pl.Passes[i].Before {
			if st, ok := st.Step.(step.Cut); ok {
				cut += fmt.Sprintf("pass %d %s %v ", i+1, pl.Piece.YarnID(st.Yarn), st.Hangs)
			}
		}
	}
	if pl.Totals.Cuts != 1 || pl.Totals.Threadings != 3 || cut != "pass 3 A left " || len(pl.Findings) != 1 ||
		pl.Findings[0].Code != "yarn-far-side" {
		t.Fatalf("%d cuts (%s), %d threadings, %v", pl.Totals.Cuts, cut, pl.Totals.Threadings, pl.Findings)
	}
	// The remedy it offers is another start colour, and it works.
	if _, err := forced.Apply(pl.Findings[0].Remedy()); err != nil {
		t.Fatal(err)
	}
	if p, err = technique.Piece(forced); err != nil || plan.Make(p).Totals.Cuts != 0 {
		t.Errorf("%s: still %d cuts, %v", pl.Findings[0].Fix, plan.Make(p).Totals.Cuts, err)
	}
	// With one row more below, the same.
	odd := plan.Make(piecetest.New(t, "hand-mid", "L3", "R3", []string{".#..#.", "......"}, before(1, "B"),
		set("/sections/1/yarn", "A")))
	if odd.Totals.Cuts > 0 && odd.Findings[0].Remedy() == nil {
		t.Errorf("%d cuts and no remedy: %v", odd.Totals.Cuts, odd.Findings)
	}
	hem := plan.Make(piecetest.New(t, "hand-mid", "L3", "R3", []string{".#.##."}, before(1, "B"), before(2, "A")))
	if hem.Totals.Cuts != 0 {
		t.Errorf("A, A, B and then a row of both, led by B: %d cuts", hem.Totals.Cuts)
	}
}

// TestFetched: rows of one colour in the yarn that hangs on the far side: cut, or fetched by the empty carriage under
// slipping cams, or with every needle held, which moves no lever; the second in that yarn goes straight on.
func TestFetched(t *testing.T) {
	rows := []string{"......", "......", "##..##"}
	for _, c := range []struct {
		way                     string
		cuts, ends, passes, set int
	}{{"cut", 2, 8, 12, 7}, {"slip", 0, 4, 14, 10}, {"hold", 0, 4, 14, 6}} {
		doc := piecetest.Document(t, "hand-mid", "L4", "R4", rows, piecetest.Area("from", "L3"), piecetest.Area("to", "R3"),
			set("/sections/0/rows", 9), set("/options", map[string]any{"far_yarn": c.way}))
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		pl, cams := plan.Make(p), 0
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if st.Do() == step.DoSetCams {
					cams++
				}
			}
			if out := &pl.Passes[i]; out.Free && (len(pl.Passes[i+1].Threads[0]) == 0 || pl.Passes[i+1].Row() != out.Row()) {
				t.Errorf("%s: pass %d goes empty for pass %+v", c.way, i+1, pl.Passes[i+1])
			}
		}
		if f := technique.Prove(pl); !f.Matches() || pl.Totals.Cuts != c.cuts || pl.Totals.Ends != c.ends ||
			len(pl.Passes) != c.passes || cams != c.set {
			t.Errorf("%s: %+v, the cams set %d times; %s\n%s", c.way, pl.Totals, cams, f.First, pl)
		}
		if c.way == "cut" { // and the finding does it
			_, err := doc.Apply(pl.Findings[0].Remedy())
			p, err2 := technique.Piece(doc)
			if err != nil || err2 != nil || p.Sections[0].Options.FarYarn != "slip" || plan.Make(p).Totals.Cuts > 0 {
				t.Errorf("%s: %v, %v", pl.Findings[0].Fix, err, err2)
			}
		}
	}
	// Two sections: before the second a free pass is slipped, by a press.
	doc := piecetest.Document(t, "hand-mid", "L4", "R4", rows, set("/sections", []any{
		map[string]any{"technique": "plain", "rows": 2, "yarns": []string{"A", "B"}},
		map[string]any{"technique": "plain", "rows": 2, "yarn": "A"}}))
	p, _ := technique.Piece(doc)
	pl := plan.Make(p)
	if pl.Totals.Cuts != 1 || len(pl.Findings) != 1 || pl.Findings[0].Remedy() == nil {
		t.Fatalf("A, B, then A again: %v\n%s", pl.Findings, pl)
	}
	if _, err := doc.Apply(pl.Findings[0].Remedy()); err != nil {
		t.Fatal(err)
	}
	if p, _ := technique.Piece(doc); plan.Make(p).Totals.Cuts != 0 {
		t.Errorf("%s: %s", pl.Findings[0].Fix, plan.Make(p))
	}
}

// TestHandSteps: what hands do before which pass: threading before casting on, weights
// moved up every twelve rows of fabric, however many passes those took, and taken off
// before the last stitches.
func TestHandSteps(t *testing.T) {
	moved := func(pl *pass.Plan) (at []int) {
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if st.Do() == step.DoWeights {
					at = append(at, pl.Passes[i].N)
				}
			}
		}
		return at
	}
	rows := set("/sections/0/rows", 30)
	if got := moved(plan.Make(piecetest.New(t, "card-direct", "L2", "R2", []string{"#.#."}, rows))); !slices.Equal(got,
		[]int{13, 25}) {
		t.Errorf("weights moved before passes %v, want 13 and 25", got)
	}
	if got := moved(plan.Make(piecetest.New(t, "hand-mid", "L2", "R2", []string{".#.."}, rows,
		set("/limits", map[string]any{"weights": 10})))); !slices.Equal(got, []int{21, 41}) {
		t.Errorf("every ten rows of two passes: before passes %v, want 21 and 41", got)
	}
	for text, want := range map[string][]int{"yarn A\npass 30": {13, 25},
		"yarn A\nweights up every 8\npass 20": {9, 17}, "yarn A\npass 14\nweights off\npass 20": {13, 15},
		"starts bare\nyarn A\nwork all\npass 15": nil, "starts bare\nyarn A\nwork all\npass 1\nweights on\npass 13": {2, 13}} {
		got := moved(plan.Make(piecetest.New(t, "hand-mid", "L2", "R2", []string{"#."}, set("/sections/0",
			map[string]any{"technique": "recipe", "recipe": text}))))
		if !slices.Equal(got, want) {
			t.Errorf("weights of %q: before passes %v, want %v", text, got, want)
		}
	}
	var pl *pass.Plan
	for id, want := range map[string]string{"card-direct": "care thread cast-on counter set-card cams cams thread ",
		// mains power: off before a program goes in
		"program-small": "care thread cams cast-on counter care set-card cams "} {
		pl = plan.Make(piecetest.New(t, id, "L2", "R2", []string{"#.#."}))
		order := ""
		for _, st := range pl.Passes[0].Before {
			order += string(st.Do()) + " "
		}
		if order != want {
			t.Errorf("%s, before the first pass: %s, want %s", id, order, want)
		}
	}
	// Weights first, while the hands are at the work; then the counter, as the last thing before the carriage.
	p := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", []string{"#.#."}, before(12, "A"),
		set("/options", map[string]any{"counter": "section"}))).Passes[12]
	at := func(do step.Do) int {
		return slices.IndexFunc(p.Before, func(st pass.Step) bool { return st.Do() == do })
	}
	if w, c := at(step.DoWeights), at(step.DoSetCounter); w < 0 || c < w {
		t.Errorf("before pass 13 weights are step %d, the counter step %d", w, c)
	}
	order := ""
	for _, st := range pl.After {
		order += string(st.Do()) + " "
	}
	if order != "care weights bind-off " {
		t.Errorf("after the last: %s", order)
	}
}

// TestRibFromTheStart: a rib after a zigzag over two beds is set up before it, on its own needles, so that nothing is
// moved; where one bed goes on, the other's stitches go across and its needles out of work.
func TestRibFromTheStart(t *testing.T) {
	p := piecetest.New(t, "two-bed-pairs", "L6", "R6", []string{"#."}, set("/begin", map[string]any{"way": "two-bed"}),
		set("/sections", []any{map[string]any{"technique": "plain", "rows": 4, "yarn": "A", "rib": "2x1"},
			map[string]any{"technique": "plain", "rows": 2, "yarn": "A"}}))
	pl := plan.Make(p)
	if f := technique.Prove(pl); !f.Matches() {
		t.Fatalf("%v %s\n%s", f.Faults, f.First, pl)
	}
	var said []string
	for i := range pl.Passes {
		for _, st := range pl.Passes[i].Before {
			switch st.Do() {
			case step.DoToWork, step.DoToOut, step.DoTransfer, step.DoCastOn:
				said = append(said, fmt.Sprintf("%d: %s", i+1, st.Say(p)))
			}
		}
	}
	want := "1: Put 2 of every 3 needles from L6 to R5 (8) at rest; 1: Put every 3rd needle from L4 to R6 (4) of the second bed at rest; " +
		"8: Move 4 stitches of the second bed across to the other: every 3rd needle from L4 to R6 (4), onto every 3rd " +
		"needle from L4 to R6 (4); 8: Put every 3rd needle from L4 to R6 (4) of the second bed out of work"
	if got := strings.Join(said, "; "); got != want {
		t.Errorf("%s\n%s", got, pl)
	}
}
