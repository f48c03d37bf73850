package plan_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// marked is a piece whose chart marks '#' as a stitch of a technique.
func marked(t *testing.T, id, technique, stitch string, rows []string, edits ...edit.Change) *pass.Plan {
	t.Helper()
	edits = append([]edit.Change{set("/charts/c/legend",
		map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": stitch}}),
		set("/sections/0/technique", technique), set("/sections/0/weft", "D")}, edits...)
	return plan.Make(piecetest.New(t, id, "L2", "R2", rows, edits...))
}

// TestConventions: what stands forward and what the cams do with it, by the machine's
// convention, worked out by hand for the marks ".##.".
func TestConventions(t *testing.T) {
	for _, c := range []struct {
		id, technique, stitch string
		edits                 []edit.Change
		want                  string
		note                  string
	}{
		{"card-direct", "tuck", "tuck", nil, "L2,R2 knit tuck", "card-inverted"},
		{"card-direct", "tuck", "tuck", []edit.Change{set("/machine/tuck_selected", "tuck")}, "L1-R1 tuck knit", ""},
		{"hand-mid", "tuck", "tuck", nil, "L1-R1 tuck knit", ""},
		{"card-direct", "slip", "slip", nil, "L2,R2 knit slip", ""},
		{"card-preselect", "weave", "weave", nil, "L2,R2 knit weave", "card-inverted"},
		{"card-preselect", "weave", "weave", []edit.Change{set("/machine/weave_selected", "shown")},
			"L1-R1 weave knit", ""},
		{"card-direct", "texture", "purl", nil, " knit knit", ""},
		{"card-direct", "texture", "purl", []edit.Change{set("/machine/purl_carriage", true)}, "L1-R1 knit knit", ""},
		{"card-direct", "tuck", "tuck", []edit.Change{set("/charts/c/rows", []string{"#..#"}),
			set("/options", map[string]any{"end_needles": "auto"})}, "L2-R2 knit tuck", "card-inverted"},
		{"card-direct", "tuck", "tuck", []edit.Change{set("/charts/c/rows", []string{"#..#"}),
			set("/options", map[string]any{"end_needles": "auto"}), set("/machine/tuck_selected", "tuck")},
			" tuck knit", ""},
	} {
		pl := marked(t, c.id, c.technique, c.stitch, []string{".##."}, c.edits...)
		p := pl.Passes[len(pl.Passes)-1]
		if got := fmt.Sprintf("%v %v %v", p.Main().Select, p.Cams().Selected, p.Cams().Unselected); got != c.want {
			t.Errorf("%s on %s %v: got %s, want %s", c.technique, c.id, c.edits, got, c.want)
		}
		if has := slices.ContainsFunc(pl.Findings,
			func(f finding.Finding) bool { return f.Code == "card-inverted" }); has != (c.note != "") {
			t.Errorf("%s on %s: inverted is said: %v", c.technique, c.id, has)
		}
	}
}

// TestTuckByHand: needles left in the tucking position are not brought there again,
// unless the machine wants them set each pass.
func TestTuckByHand(t *testing.T) {
	for reset, want := range map[bool]string{false: "[bring L1-R1] [] [work L1 bring L2]",
		true: "[bring L1-R1] [bring L1-R1] [bring L2,R1]"} {
		pl := marked(t, "hand-mid", "tuck", "tuck", []string{"#.#.", ".##.", ".##."}, set("/machine/reset_each_pass",
			reset))
		var steps []string
		for i := range pl.Passes {
			var words []string
			for _, st := range pl.Passes[i].Before {
				switch st.Do() {
				case step.DoBringForward:
					words = append(words, "bring "+st.Needles().String())
				case step.DoToWork:
					words = append(words, "work "+st.Needles().String())
				}
			}
			steps = append(steps, fmt.Sprint(words))
		}
		if got := strings.Join(steps, " "); got != want {
			t.Errorf("set each pass %v: %s, want %s", reset, got, want)
		}
	}
}

// TestPurlCarriage: knit and purl carriage change places on the right.
func TestPurlCarriage(t *testing.T) {
	purl := set("/machine/purl_carriage", true)
	for rows, stops := range map[int]bool{1: true, 2: false} {
		pl := marked(t, "card-direct", "texture", "purl", []string{".##."}, purl, before(rows, "A"))
		if got := finding.Stops(pl.Findings); got != stops {
			t.Errorf("after %d rows: %v", rows, pl.Findings)
		}
		if stops && (pl.Findings[0].Code != "carriage-side" || pl.Findings[0].Remedy()[0].Value != true) {
			t.Errorf("after %d rows: %v, remedy %v", rows, pl.Findings, pl.Findings[0].Remedy())
		}
	}
	// Reformed by hand on a preselecting machine: what the carriage had selected is undone there.
	after := marked(t, "card-preselect", "texture", "purl", []string{".##."},
		set("/charts/two", map[string]any{"side": "purl",
			"legend": map[string]any{".": map[string]any{"yarn": "A"}, "#": map[string]any{"yarn": "B"}},
			"rows":   []string{"##.."}}),
		set("/sections/-", map[string]any{"technique": "two-colour", "areas": []any{map[string]any{"chart": "two"}}}))
	steps := after.Passes[1].Before
	if last := steps[len(steps)-1]; last.Do() != step.DoBringForward || last.Needles() != machine.SetOf(machine.L(1)) ||
		after.Passes[0].Main().Sets.String() != "L2-L1" {
		t.Errorf("selected %v, then reformed: the last step is %s", after.Passes[0].Main().Sets, last.Say(after.Piece))
	}
	byHand := marked(t, "card-direct", "texture", "purl", []string{".##."})
	if len(byHand.After) == 0 || byHand.After[0].Do() != step.DoReform ||
		byHand.After[0].Needles() != machine.Range(machine.L(1), machine.R(1)) || byHand.LinesOf(1) != 0 {
		t.Errorf("by hand: after the last pass %v", byHand.After)
	}
}

// TestPurlCarriageAlone: it reads the line of the row that it knits, so nothing selects for
// it; plain rows may be its own; it has levers of its own, and the yarn goes with it only
// where knit and purl carriage change places.
func TestPurlCarriageAlone(t *testing.T) {
	byPurl := func(at edit.Path) edit.Change {
		return set(at, map[string]any{"technique": "plain", "rows": 2, "yarn": "A", "carriage": "purl"})
	}
	pl := marked(t, "card-preselect", "texture", "purl", []string{"....", ".##."}, set("/machine/purl_carriage", true),
		byPurl(edit.Section(1)), before(2, "A"), byPurl("/sections/-"))
	var got []string
	for i := range pl.Passes {
		p := &pl.Passes[i]
		said := ""
		for j := range p.Before {
			if st := p.Before[j]; st.Do() == step.DoAttach || step.Is[step.Cams](st.Step) {
				said += "; " + st.Say(pl.Piece)
			}
		}
		got = append(got, fmt.Sprintf("%v %d %v%s", p.Carriage, p.Line, p.Main().Select, said))
	}
	want := []string{"knit 0 ; Set the cams: plain (every needle knits)", "knit 0 ",
		"purl 0 ; Bring the purl carriage on from the right; Set the purl carriage: plain " +
			"(every needle knits)",
		"purl 0 ", "purl 1 L1-R1; Set the purl carriage: purl (needles forward are purled, those at rest knit)",
		"purl 2 ",
		"purl 0 ; Set the purl carriage: plain (every needle knits)", "purl 0 "}
	if f := technique.Prove(pl); !slices.Equal(got, want) || !f.Matches() {
		t.Errorf("%q\nwant %q\n%s %v", got, want, f.First, f.Faults)
	}
	first := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", []string{"...."}, set("/machine/purl_carriage",
		true),
		byPurl(edit.Section(1))))
	if text := first.String(); !strings.Contains(text, "Bring the purl carriage on from the right\n") {
		t.Errorf("there is no yarn yet that could go with it\n%s", text)
	}
	none := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", []string{"...."}, byPurl(edit.Section(1))))
	if len(none.Findings) == 0 || none.Findings[0].Code != finding.TechniqueMachine {
		t.Errorf("without a purl carriage: %v", none.Findings)
	}
}

// TestFromTheFeeder: at an intarsia section the yarn in the feeder becomes the bobbin of the
// field of its colour that is nearest to where it hangs, uncut; afterwards it goes back, and
// is where the last row left it. Whether the empty pass counts is the machine's.
func TestFromTheFeeder(t *testing.T) {
	after := map[string]any{"technique": "plain", "rows": 1, "yarn": "A"}
	for _, c := range []struct {
		machine string
		plain   int // rows before
		said    string
	}{
		{"hand-chunky", 2, "Take yarn A out of the feeder without cutting it: it is bobbin A2 now; Put yarn A, which " +
			"was bobbin A2, back in the feeder"},
		{"hand-chunky", 1, "Take yarn A out of the feeder without cutting it: it is bobbin A1 now; Put yarn A, which " +
			"was bobbin A1, back in the feeder"},
		{"card-direct", 2, "Take yarn A out of feeder 1 without cutting it: it is bobbin A2 now; Put yarn A, which " +
			"was bobbin A2, back in feeder 1"},
	} {
		for _, counts := range []bool{false, true} {
			pl := plan.Make(piecetest.New(t, c.machine, "L4", "R4", []string{"..##....", "..##....", "..##...."},
				set("/sections/0/technique", "intarsia"), set("/machine/intarsia", true),
				set("/machine/empty_counts", counts),
				set("/sections/-", after), before(c.plain, "A")))
			var said []string
			for i := range pl.Passes {
				for j := range pl.Passes[i].Before {
					text := pl.Passes[i].Before[j].Say(pl.Piece)
					if strings.Contains(text, " bobbin ") && !strings.HasPrefix(text, "Cut") {
						said = append(said, text)
					}
				}
			}
			last := pl.Passes[len(pl.Passes)-1]
			f := technique.Prove(pl)
			if strings.Join(said, "; ") != c.said || pl.Totals.Cuts != 0 || pl.Totals.Threadings != 2 || !f.Matches() {
				t.Errorf("%s, %d rows: %q, %+v, %s %v", c.machine, c.plain, said, pl.Totals, f.First, f.Faults)
			}
			if want := map[bool]int{false: c.plain + 4, true: c.plain + 5}[counts]; last.Counter != want ||
				last.Run != c.plain+4 {
				t.Errorf("%s: the counter reads %d after the last pass", c.machine, last.Counter)
			}
		}
	}
	// A yarn that no field of the first row has hangs where it was, and is cut from the far side.
	pl := plan.Make(piecetest.New(t, "hand-chunky", "L4", "R4", []string{"..##...."}, set("/sections/0/technique",
		"intarsia"),
		set("/sections/0/rows", 2), set("/sections/-", map[string]any{"technique": "plain", "rows": 1, "yarn": "C"}),
		before(2, "C")))
	if pl.Totals.Cuts != 1 || !technique.Prove(pl).Matches() || !strings.Contains(pl.String(),
		"lay 2 yarn B B1, from beneath A2, L1 to L2") {
		t.Errorf("cuts %d\n%s", pl.Totals.Cuts, pl)
	}
}

// TestBobbins: laid in the direction the carriage goes, no twist on a bobbin's first
// row, both ends to darn, and a bobbin left far from where it is wanted.
func TestBobbins(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "hand-chunky", "L4", "R4", []string{"######..", "..##....", "..##...."},
		set("/sections/0/technique", "intarsia")))
	var got []string
	for i := range pl.Passes {
		var lays []string
		for _, l := range pl.Passes[i].Lays {
			lays = append(lays, fmt.Sprintf("%s %v-%v %v", l.Bobbin, l.From, l.To, l.First))
		}
		got = append(got, fmt.Sprintf("%v c%d %s", pl.Passes[i].Dir, pl.Passes[i].Counter, strings.Join(lays, ", ")))
	}
	want := []string{"left c0 ", "right c1 A1 L4-L3 true, B1 L2-L1 true, A2 R1-R4 true",
		"left c2 A2 R1-R4 false, B1 L2-L1 false, A1 L4-L3 false", "right c3 B1 L4-R2 false, A2 R3-R4 false"}
	if !slices.Equal(got, want) {
		t.Errorf("laid:\n%s\nwant\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	var out strings.Builder
	if err := pl.WriteJSON(&out, nil); err != nil || strings.Count(out.String(), `"twist": true`) != 5 {
		t.Errorf("%d twists, want one at every bobbin but on its first row; %v",
			strings.Count(out.String(), `"twist": true`), err)
	}
	if tot := pl.Totals; tot.Bobbins != 3 || tot.BobbinsAtOnce != 3 || tot.Threadings != 0 || tot.Knitted != 3 {
		t.Errorf("totals %+v", tot)
	}
	if b := pl.Bobbins[1]; b.Name != "B1" || b.FirstRow != 1 || b.LastRow != 3 || b.Stitches != 10 || b.Metres < 0.9 ||
		b.Metres > 1 {
		t.Errorf("bobbin %+v", b)
	}
	farAway := plan.Make(piecetest.New(t, "hand-chunky", "L8", "R8", []string{"#########.......", ".......##......."},
		set("/sections/0/technique", "intarsia")))
	if i := slices.IndexFunc(farAway.Findings, func(f finding.Finding) bool { return f.Code == "bobbin-far" }); i >= 0 {
		t.Errorf("B1 ends on the right of its field and goes on from there: %v", farAway.Findings)
	}
	farAway = plan.Make(piecetest.New(t, "hand-chunky", "L8", "R8", []string{".......#########", ".......##......."},
		set("/sections/0/technique", "intarsia")))
	if i := slices.IndexFunc(farAway.Findings, func(f finding.Finding) bool { return f.Code == "bobbin-far" }); i < 0 ||
		farAway.Findings[i].Needles != machine.SetOf(machine.R(1), machine.R(8)) {
		t.Errorf("B1 hangs at R1 and is wanted at R8: %v", farAway.Findings)
	}
}

// TestAble: a machine that lacks something is told what, and which machines have it.
func TestAble(t *testing.T) {
	for name, want := range map[string]string{"two-colour": "hand-mid hand-chunky card-preselect card-direct " +
		"program-preselect program-small two-bed-pairs", "weave": "card-preselect", "intarsia": "hand-chunky"} {
		if got := strings.Join(technique.Find(name).Able(&piece.Section{}), " "); got != want {
			t.Errorf("%s: %s, want %s", name, got, want)
		}
	}
	pl := plan.Make(piecetest.New(t, "program-small", "L2", "R2", []string{".##."}, set("/sections/0/technique",
		"intarsia")))
	if len(pl.Findings) != 1 || pl.Findings[0].Code != "technique-machine" ||
		!strings.Contains(pl.Findings[0].Text, "intarsia setting") || pl.Findings[0].Fix != "Use hand-chunky" {
		t.Errorf("intarsia on a machine without: %v", pl.Findings)
	}
}

// TestSelectedAgain: after yarns laid by hand no row has selected, so a selecting pass is added.
func TestSelectedAgain(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "card-preselect", "L2", "R2", []string{".##."}, set("/machine/intarsia", true),
		set("/sections/0/technique", "intarsia"),
		set("/sections/-", map[string]any{"technique": "two-colour", "areas": []any{map[string]any{"chart": "c"}}})))
	compare(t, "after intarsia", pl, "left r0 l0 c0  [] []", "right r1 l0 c1  [] []", "left r0 l1 c2 A [] [L1-R1]",
		"right r1 l0 c3 AB [L1-R1] []")
}
