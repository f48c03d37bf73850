package technique_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// TestTwoBeds: random charts with repeats cut and needles outside the area, in every way and
// backing, with a second bed behind other techniques, plated, and with plain rows before, between
// and after: what nothing stops comes out as drawn, and few are stopped.
func TestTwoBeds(t *testing.T) {
	rng := chance.Rand(t, 5, 10)
	pick := func(s ...string) string { return s[rng.IntN(len(s))] }
	stopped, all := 0, 0
	for i := range chance.Cases(1500) {
		id := pick("card-preselect", "program-preselect", "two-bed-pairs", "card-preselect", "hand-mid",
			"card-direct", "hand-chunky", "program-small")
		w, h := 12+rng.IntN(9), 8+rng.IntN(5)
		tech := pick("separated", "separated", "plated", "two-colour", "slip", "tuck")
		one := false // bed only
		if m, _ := machine.Shipped(id); !m.HasSecond() {
			tech, one = "separated", true
		}
		var rows []string
		section := map[string]any{"technique": tech, "yarn": "A", "size": "5.2", "rows": 1 + rng.IntN(2*h)}
		switch tech {
		case "separated":
			rows = randomColours(rng, w, h)
			section["separation"] = "twice"
			if id != "two-bed-pairs" {
				section["separation"] = pick("twice", "single", "interleaved")
			}
			if section["separation"] == "interleaved" {
				rows = randomTwoColour(rng, w, h, 2)
			}
			section["backing"], section["colours"] = pick("every", "birdseye", "stripes", "none"), pick("file",
				"fewest")
			if one {
				section["backing"] = "none"
			}
		case "plated":
			rows = randomPlated(rng, w, h)
		case "two-colour":
			rows = randomTwoColour(rng, w, h, 3)
			section["second"] = pick("every", "birdseye", "stripes")
		default:
			rows = randomMarks(rng, w, h)
			section["second"] = pick("every", "birdseye", "stripes")
		}
		from, to := machine.Centre(w+rng.IntN(9), machine.Right)
		area := map[string]any{"chart": "c", "first": from.String()}
		if tech != "plated" && rng.IntN(2) == 0 {
			area["from"], area["to"] = (from + 1).String(), (to - 1).String()
		}
		section["areas"] = []any{area}
		if m, _ := machine.Shipped(id); rng.IntN(3) == 0 && m.Program != machine.NoProgram {
			section["from_line"] = 1 + rng.IntN(h)
		}
		if rng.IntN(3) == 0 {
			section["end_needles"] = pick("auto", "hand")
		}
		sections := []any{section}
		if rng.IntN(2) == 0 && !one {
			plain := map[string]any{"technique": "plain", "yarn": "B", "rows": 2}
			switch rng.IntN(4) {
			case 0:
				plain["second"] = pick("every", "birdseye")
			case 1:
				plain["rib"] = pick("1x1", "2x1", "2x2")
			case 2:
				plain["out"] = (from + 2).String()
			}
			sections = append([]any{plain}, sections...)
		}
		if rng.IntN(2) == 0 {
			plain := map[string]any{"technique": "plain", "yarn": "C", "rows": 2}
			if rng.IntN(2) == 0 && !one {
				plain["rib"] = pick("1x1", "3x1")
			}
			sections = append(sections, plain)
		}
		second := map[string]any{"rack": 3 + rng.IntN(5)}
		if rng.IntN(3) == 0 {
			second["alternate"] = true
		}
		changes := slices.Concat(edit.Set("/machine", map[string]any{"profile": id}), edit.Set("/sections", sections),
			edit.Set("/charts/c/legend", legendOf(technique.Find(tech))))
		if !one {
			changes = append(changes, edit.Set("/second", second)...)
		}
		p := piecetest.New(t, id, from.String(), to.String(), rows, changes...)
		r := check.Run(p)
		all++
		if r.Stops() {
			for _, f := range r.Findings {
				if f.Code == "fabric-differs" || len(r.Fabric.Faults) > 0 {
					t.Fatalf("case %d, %s on %s: %s %v\n%v\n%v\n%s", i, tech, id, f.Text, r.Fabric.Faults, section,
						rows, r.Plan)
				}
			}
			stopped++
			continue
		}
		if !r.Fabric.Matches() {
			t.Fatalf("case %d, %s on %s: %s", i, tech, id, r.Fabric.First)
		}
		if p.TwoBeds(&p.Sections[len(p.Sections)-1]) && len(r.Fabric.Second) == 0 && section["backing"] != "stripes" {
			t.Fatalf("case %d, %s on %s: the second bed never knits", i, tech, id)
		}
	}
	if stopped > all/5 {
		t.Errorf("%d of %d are stopped", stopped, all)
	}
}

// TestSeparated: the passes, colours, lines and courses of two rows in every way, written out.
func TestSeparated(t *testing.T) {
	for _, c := range []struct {
		way, backing, colours string
		want                  string // by pass: way, row, yarn, the needles of either bed that knit, and the course
	}{
		{"twice", "every", "file", "<1A/3+3@1 >1A/3+3@2 <1B/1+3@1 >1B/1+3@2 <1C/0+3@1 >1C/0+3@2 <2A/1+3@3 >2A/1+3@4 " +
			"<2B/2+3@3 >2B/2+3@4 <2C/1+3@3 >2C/1+3@4"},
		{"twice", "birdseye", "fewest",
			"<1A/3+1@1 >1A/3+2@2 <1B/1+1@1 >1B/1+2@2 <1C/0+1@1 >1C/0+2@2 <2C/1+1@3 >2C/1+2@4 <2A/1+1@3 >2A/1+2@4 " +
				"<2B/2+1@3 >2B/2+2@4"},
		{"single", "stripes", "file", "<1A/3+3@1 >1B/1+0@1 <1C/0+3@1 >2A/1+0@2 <2B/2+3@2 >2C/1+0@2"},
		{"single", "none", "fewest", "<1A/3+0@1 >1B/1+0@1 <2B/2+0@2 >2A/1+0@2 <2C/1+0@2"},
	} {
		p := piecetest.New(t, "program-preselect", "L2", "R2", []string{"#.+#", ".#.."}, piecetest.Set("/sections",
			[]any{map[string]any{
				"technique": "separated", "separation": c.way, "backing": c.backing, "colours": c.colours,
				"areas": []any{map[string]any{"chart": "c"}}}}),
			piecetest.Set("/options", map[string]any{"selecting": "free"}), piecetest.Set("/start", "left"))
		pl := plan.Make(p)
		got := ""
		for i := range pl.Passes {
			q := &pl.Passes[i]
			if q.Row() == 0 {
				continue
			}
			behind := 0
			for g := range q.Groups() {
				if g.Bed == machine.Second && g.Action == machine.Knit {
					behind += g.Needles.Len()
				}
			}
			got += fmt.Sprintf("%s%d%s/%d+%d@%d ", map[machine.Side]string{machine.Left: "<",
				machine.Right: ">"}[q.Dir], q.Row(), p.YarnID(q.Yarn(1)),
				q.Main().Select.Len(), behind, q.Course)
		}
		if got != c.want+" " {
			t.Errorf("%s, %s, %s:\n%s\nwant\n%s", c.way, c.backing, c.colours, got, c.want)
		}
		if n := pl.LinesOf(1); n != len(pl.Passes)-1 {
			t.Errorf("%s: %d lines for %d passes", c.way, n, len(pl.Passes)-1)
		}
	}
}

// TestSecondSpoilt: what is done otherwise on the second bed than the plan says is found, with its
// pass.
func TestSecondSpoilt(t *testing.T) {
	for name, spoil := range map[string]func(pl *pass.Plan){
		"a needle left out": func(pl *pass.Plan) { pl.Passes[3].Second().AtWork.Remove(-2) },
		"the handle is moved": func(pl *pass.Plan) {
			pl.Passes[4].Add(step.Rack{To: 7, Pitch: machine.HalfPitch})
		},
		"it should be moved": func(pl *pass.Plan) { pl.Passes[5].Rack, pl.Passes[5].Shift = 7, 2 },
		"colours in the wrong order": func(pl *pass.Plan) {
			a, b := pl.Passes[1].Main(), pl.Passes[3].Main()
			a.Select, b.Select = b.Select, a.Select
		},
		"the lock not set": func(pl *pass.Plan) {
			each(pl, func(p *pass.Pass) {
				p.Before = slices.DeleteFunc(p.Before, func(st pass.Step) bool {
					cams, ok := st.Step.(step.Cams)
					return ok && cams.Bed() == machine.Second && cams.Setting.Key == machine.SecondTurns.Key
				})
			})
		},
		"not cast on": func(pl *pass.Plan) {
			pl.Passes[0].Before = slices.DeleteFunc(pl.Passes[0].Before,
				func(st pass.Step) bool { return st.Do() == step.DoCastOn && st.Bed() == machine.Second })
		},
	} {
		p := piecetest.New(t, "program-preselect", "L4", "R4", []string{"#.+#", ".#.."}, piecetest.Set("/sections",
			[]any{map[string]any{
				"technique": "separated", "backing": "birdseye", "areas": []any{map[string]any{"chart": "c"}}}}),
			piecetest.Set("/second", map[string]any{"rack": 6}))
		pl := plan.Make(p)
		if f := technique.Prove(pl); !f.Matches() {
			t.Fatal(f.First, f.Faults)
		}
		spoil(pl)
		if f := technique.Prove(pl); f.Matches() {
			t.Errorf("%s: not noticed", name)
		}
	}
}

// TestPlated: the second bed shows what the main needle to its left did not take, at every position
// of the handle; where its two neighbours differ it is counted as mixed.
func TestPlated(t *testing.T) {
	for _, c := range []struct {
		rack  int
		main  string // by main needle L3 to R3
		back  string // of the second bed L3 to R2
		mixed int
	}{
		{5, "AABBAB", "BBAAB", 3}, // each stands right of the needle of its name
		{6, "AABBAB", "BAABA", 3}, // of the next
		{4, "AABBAB", "BBBAA", 2}, // of the one before, the first of none: of the first
	} {
		p := piecetest.New(t, "program-preselect", "L3", "R3", []string{"..##.#"}, piecetest.Set("/sections",
			[]any{map[string]any{
				"technique": "plated", "size": "4.2", "areas": []any{map[string]any{"chart": "c"}}}}),
			piecetest.Set("/second", map[string]any{"rack": c.rack}))
		r := check.Run(p)
		if f := r.Fabric; !f.Matches() || f.Draw(1)[0] != c.main || f.DrawSecond()[0] != c.back {
			t.Errorf("at %d: %v, %v: %s", c.rack, f.Draw(1), f.DrawSecond(), f.First)
		}
		last := r.Plan.Passes[len(r.Plan.Passes)-1]
		if n := last.Mixed().Len(); n != c.mixed {
			t.Errorf("at %d: %d mixed, want %d", c.rack, n, c.mixed)
		}
		if last.Second().Size != "7.2" || last.Main().Size != "4.2" {
			t.Errorf("sizes %s and %s", last.Main().Size, last.Second().Size)
		}
	}
}

// TestLarger: sizes are numbers with ticks, so that sums can be made on them.
func TestLarger(t *testing.T) {
	for size, want := range map[string]string{"4.2": "7.2", "4": "7", "9.9": "12.9", "": "", "loose": ""} {
		if got := technique.Larger(size, 3); got != want {
			t.Errorf("%q: %q, want %q", size, got, want)
		}
	}
}

// TestBehindIsNoFloat: where the second bed takes the yarn there is no float behind the needles of
// the main bed that the yarn passes; where none of its needles lies between, there is.
func TestBehindIsNoFloat(t *testing.T) {
	for backing, want := range map[string]int{"every": 0, "birdseye": 1, "none": 10} {
		p := piecetest.New(t, "program-preselect", "L6", "R6", []string{"#..........#"}, piecetest.Set("/sections",
			[]any{map[string]any{
				"technique": "separated", "backing": backing, "areas": []any{map[string]any{"chart": "c"}}}}))
		if got := check.Run(p).Fabric.Longest.Stitches(); got != want {
			t.Errorf("%s: the longest float is over %d stitches, want %d", backing, got, want)
		}
	}
}

// TestSeparatedMemory: memory is counted in lines after separation, and said in rows of the drawing.
func TestSeparatedMemory(t *testing.T) {
	for rows, stops := range map[int]bool{166: false, 167: true} {
		drawing := make([]string, rows)
		for y := range drawing {
			drawing[y] = "#.++"
			if y%7 == 3 || y == rows-1 {
				drawing[y] = "++.#"
			}
		}
		drawing[0] = ".#.+"
		p := piecetest.New(t, "program-preselect", "L2", "R2", drawing, piecetest.Set("/sections", []any{map[string]any{
			"technique": "separated", "areas": []any{map[string]any{"chart": "c"}}}}))
		found := ""
		for _, f := range check.Run(p).Findings {
			if f.Code == "memory-rows" {
				found = f.Text
			}
		}
		if (found != "") != stops || stops &&
			found != "The program has 1002 lines; the machine keeps 1000. With 3 colours it holds at most 166 rows, "+
				"each worked twice." {
			t.Errorf("%d rows: %q", rows, found)
		}
	}
}

// TestRibs: a rib has one stitch at every place; where the next section needs a needle of the other
// bed its stitch moves across, both ways, and what was never selected comes forward by hand.
func TestRibs(t *testing.T) {
	p := piecetest.New(t, "card-preselect", "L6", "R6", []string{"..#.", "#.##", "##.."}, piecetest.Set("/second",
		map[string]any{"pitch": "full"}),
		piecetest.Set("/sections", []any{map[string]any{"technique": "plain", "rib": "2x1", "rows": 2, "yarn": "A"},
			map[string]any{"technique": "two-colour", "areas": []any{map[string]any{"chart": "c"}}},
			map[string]any{"technique": "plain", "rib": "1x1", "rows": 1, "yarn": "B"}}))
	r := check.Run(p)
	if !r.Fabric.Matches() {
		t.Fatal(r.Fabric.First, r.Findings)
	}
	var said []string
	for i := range r.Plan.Passes {
		q := &r.Plan.Passes[i]
		for j := range q.Before {
			if st := &q.Before[j]; step.Is[step.Across](st.Step) || st.Do() == step.DoCastOn || st.Do() == step.DoBringForward {
				said = append(said, fmt.Sprintf("%d %s %v %v", q.N, st.Do(), st.Bed(), st.Needles()))
			}
		}
	}
	if want := []string{"1 cast-on main L6-L5,L3-L2,R1-R2,R4-R5", "1 cast-on second L4,L1,R3,R6",
		"3 transfer second L4,L1,R3,R6",
		"3 bring-forward main L1,R3", "6 transfer main L5,L3,L1,R2,R4,R6"}; !slices.Equal(said, want) {
		t.Errorf("%q\nwant %q", said, want)
	}
	if rows := r.Fabric.DrawSecond(); len(rows) != 3 || rows[0] != ".B.B.B.B.B.B"[1:] && rows[0] != ".B.B.B.B.B.B" {
		t.Errorf("the second bed: %q", rows)
	}
	for text, want := range map[string]string{`{"technique":"plain","rows":2,"rib":"0x1"}`: "sections[0].rib",
		`{"technique":"plain","rows":2,"rib":"1x1","second":"every"}`: "sections[0].rib",
		`{"technique":"plain","rows":2,"out":"L6-R6"}`:                "sections[0].out"} {
		var section any
		json.Unmarshal([]byte(text), &section)
		_, err := technique.Piece(piecetest.Document(t, "card-preselect", "L6", "R6", []string{"..#."},
			piecetest.Set("/sections", []any{section})))
		if err == nil || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("%s: %v", text, err)
		}
	}
}

// TestRackFar: moved two positions between two passes is well, three are too far.
func TestRackFar(t *testing.T) {
	for moves, want := range map[int]int{2: 0, 3: 1} {
		pl := plan.Make(piecetest.New(t, "program-preselect", "L4", "R4", []string{"#.+#", ".#.."},
			piecetest.Set("/sections", []any{map[string]any{
				"technique": "separated", "areas": []any{map[string]any{"chart": "c"}}}})))
		for i := range moves {
			pl.Passes[5].Add(step.Rack{To: 6 + i, Pitch: machine.HalfPitch})
		}
		n := 0
		for _, f := range check.Of(pl).Findings {
			if f.Code == finding.RackFar {
				n++
			}
		}
		if n != want {
			t.Errorf("%d positions: %d findings", moves, n)
		}
		// With no stitch left on the second bed it may be moved as far as it goes.
		behind := pl.Passes[5].Second().AtWork
		across := step.Across{At: step.On(machine.Second, behind)}
		pl.Passes[5].Before = append(pass.Steps(across), pl.Passes[5].Before...)
		if behind.Empty() || slices.ContainsFunc(check.Of(pl).Findings,
			func(f finding.Finding) bool { return f.Code == finding.RackFar }) {
			t.Errorf("%d positions with the stitches of %v moved across: too far", moves, behind)
		}
	}
}

// TestLetGo: the second bed's carriage alone and without yarn lets its loops go, and there it is
// meant; in a pass of both beds it is a fault.
func TestLetGo(t *testing.T) {
	build := func() *pass.Plan {
		return plan.Make(piecetest.New(t, "program-preselect", "L4", "R4", []string{"#.+#", ".#.."},
			piecetest.Set("/sections", []any{map[string]any{
				"technique": "separated", "areas": []any{map[string]any{"chart": "c"}}}})))
	}
	pl := build()
	last := pl.Passes[len(pl.Passes)-1]
	for range 2 { // across and back
		last = pass.Pass{N: last.N + 1, Section: 1, Carriage: machine.SecondCarriage, Dir: last.Dir.Other(),
			Pitch: last.Pitch, Rack: last.Rack}
		pl.Passes = append(pl.Passes, last)
	}
	if f := technique.Prove(pl); len(f.Faults) > 0 {
		t.Errorf("let go on purpose: %v", f.Faults)
	}
	pl = build()
	pl.Passes[4].Add(step.Unthread{Feeder: 1, Yarn: pl.Passes[4].Yarn(1)})
	if f := technique.Prove(pl); !slices.ContainsFunc(f.Faults,
		func(f finding.Finding) bool { return f.Code == finding.NeedleNoYarn }) {
		t.Errorf("without yarn: %v", f.Faults)
	}
}

// TestGuide: the second yarn's guide goes on before a plated section and comes off after it.
func TestGuide(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "program-preselect", "L2", "R2", []string{"..##", "#..#"},
		piecetest.Set("/sections", []any{
			map[string]any{"technique": "plated", "areas": []any{map[string]any{"chart": "c"}}},
			map[string]any{"technique": "plain", "rows": 1, "yarn": "A"}})))
	var said []string
	for i := range pl.Passes {
		for j := range pl.Passes[i].Before {
			if text := pl.Passes[i].Before[j].Say(pl.Piece); strings.Contains(text, " guide ") {
				said = append(said, fmt.Sprint(pl.Passes[i].N, " ", strings.Fields(text)[0]))
			}
		}
	}
	if !slices.Equal(said, []string{"2 Put", "4 Take"}) {
		t.Errorf("%q", said)
	}
}

// TestOddBeds: beds shifted as far as the handle goes, at the ends of the bed, of one needle, or with
// hardly any behind: all can be planned, or are refused at the place.
func TestOddBeds(t *testing.T) {
	for _, c := range []struct {
		machine, from, to string
		second            map[string]any
		section           map[string]any
		refused           string
	}{
		{"program-preselect", "L100", "R100", map[string]any{"rack": 0}, map[string]any{"technique": "plain",
			"rib": "1x1", "rows": 2}, ""},
		{"program-preselect", "L100", "R100", map[string]any{"rack": 10}, map[string]any{"technique": "plated",
			"areas": []any{map[string]any{"chart": "c"}}}, ""},
		{"program-preselect", "R1", "R1", map[string]any{}, map[string]any{"technique": "separated",
			"areas": []any{map[string]any{"chart": "c"}}}, ""},
		{"program-preselect", "L4", "R4", map[string]any{"from": "R4", "to": "R4"},
			map[string]any{"technique": "separated", "backing": "birdseye",
				"areas": []any{map[string]any{"chart": "c"}}}, ""},
		{"program-preselect", "L4", "R4", map[string]any{"from": "L90", "to": "L80"},
			map[string]any{"technique": "plain", "second": "every", "rows": 3}, ""},
		{"program-preselect", "L4", "R4", map[string]any{"from": "L4", "to": "L4", "out": "L4"},
			map[string]any{"technique": "plain", "rows": 3}, "second.out"},
		{"program-preselect", "L4", "R4", map[string]any{"rack": 11}, map[string]any{"technique": "plain",
			"rows": 3}, "second.rack"},
		{"card-direct", "L4", "R4", map[string]any{}, map[string]any{"technique": "plain", "rows": 3}, "second"},
		{"program-preselect", "L4", "R4", map[string]any{}, map[string]any{"technique": "lace", "second": "every",
			"rows": 2}, "sections[0].second"},
		{"program-preselect", "L4", "R4", map[string]any{}, map[string]any{"technique": "separated",
			"second_out": "L4-R4", "areas": []any{map[string]any{"chart": "c"}}}, ""},
	} {
		p, err := technique.Piece(piecetest.Document(t, c.machine, c.from, c.to, []string{".#", "#."},
			piecetest.Set("/second", c.second),
			piecetest.Set("/sections", []any{c.section})))
		if c.refused != "" {
			if err == nil || !strings.HasPrefix(err.Error(), c.refused) {
				t.Errorf("%v, %v: %v, want %s", c.second, c.section, err, c.refused)
			}
			continue
		}
		if err != nil {
			t.Errorf("%v, %v: %v", c.second, c.section, err)
			continue
		}
		r := check.Run(p)
		if len(r.Fabric.Faults) > 0 || r.Fabric.Differences > 0 {
			t.Errorf("%v, %v: %s %v", c.second, c.section, r.Fabric.First, r.Fabric.Faults)
		}
	}
}

// TestColoursOfASection: the yarns that its needles show, and the one that it names, though that shows
// nowhere; interleaved colours go by turns, each there and back; lines in the backing are noted where a
// colour always goes the same way.
func TestColoursOfASection(t *testing.T) {
	made := func(rows []string, section map[string]any) (string, bool) {
		section["technique"], section["areas"] = "separated", []any{map[string]any{"chart": "c"}}
		p := piecetest.New(t, "program-preselect", "L2", "R2", rows, piecetest.Set("/sections", []any{section}),
			piecetest.Set("/options", map[string]any{"selecting": "free"}))
		r := check.Run(p)
		order := ""
		for i := range r.Plan.Passes {
			if q := &r.Plan.Passes[i]; q.Row() > 0 {
				order += fmt.Sprint(p.YarnID(q.Yarn(1)), q.Row(), " ")
			}
		}
		return order, slices.ContainsFunc(r.Findings,
			func(f finding.Finding) bool { return f.Code == finding.BackingLines })
	}
	two, three := []string{"#.#.", ".#.#", "#..#"}, []string{"#+#.", ".#.+"}
	for _, c := range []struct {
		rows                     []string
		separation, backing, own string
		order                    string
		lines                    bool
	}{
		{two, "interleaved", "every", "", "A1 B1 B2 A2 A3 B3 ", false},
		{two, "single", "every", "", "A1 B1 A2 B2 A3 B3 ", false},
		{two, "single", "birdseye", "", "A1 B1 A2 B2 A3 B3 ", true},
		{two, "single", "stripes", "", "A1 B1 A2 B2 A3 B3 ", true},
		{two, "single", "birdseye", "D", "A1 B1 D1 A2 B2 D2 A3 B3 D3 ", false},
		{three, "single", "birdseye", "", "A1 B1 C1 A2 B2 C2 ", false},
		{three, "single", "birdseye", "D", "A1 B1 C1 D1 A2 B2 C2 D2 ", true},
		{two[:1], "twice", "birdseye", "", "A1 A1 B1 B1 ", false},
	} {
		section := map[string]any{"separation": c.separation, "backing": c.backing}
		if c.own != "" {
			section["yarn"] = c.own
		}
		if order, lines := made(c.rows, section); order != c.order || lines != c.lines {
			t.Errorf("%s, %s, yarn %q: %s %v, want %s %v", c.separation, c.backing, c.own, order, lines, c.order,
				c.lines)
		}
	}
}

// TestDrawnColours: a colour of a placed part of the chart is one of the section though its row is
// not knitted; one in a column that lies on no needle is none.
func TestDrawnColours(t *testing.T) {
	for _, c := range []struct {
		rows         []string
		from, to     string
		knitted, all int // rows; colours of a row
	}{
		{[]string{"..+.", "#.#.", ".#.#"}, "L2", "R2", 2, 3},
		{[]string{"....", "#.#.", ".#.#"}, "L2", "R2", 2, 2},
		{[]string{"...+", "#.#.", ".#.#"}, "L2", "R1", 2, 2},
	} {
		p := piecetest.New(t, "program-preselect", c.from, c.to, c.rows, piecetest.Set("/sections",
			[]any{map[string]any{"technique": "separated",
				"separation": "single", "rows": c.knitted, "areas": []any{map[string]any{"chart": "c",
					"first": "L2"}}}}), piecetest.Set("/start", "left"))
		n := 0
		pl := plan.Make(p)
		for i := range pl.Passes {
			if pl.Passes[i].Row() == 1 {
				n++
			}
		}
		if n != c.all {
			t.Errorf("%v on %s to %s: %d colours, want %d", c.rows, c.from, c.to, n, c.all)
		}
	}
}

// TestElse: on a machine that lacks what a separated section wants, one click makes it one that can
// be knitted there.
func TestElse(t *testing.T) {
	for id, section := range map[string]map[string]any{"card-direct": {"backing": "every"},
		"two-bed-pairs": {"separation": "single"}} {
		section["technique"], section["areas"] = "separated", []any{map[string]any{"chart": "c"}}
		doc := piecetest.Document(t, id, "L2", "R2", []string{"#.+#", ".#.."}, piecetest.Set("/sections",
			[]any{section}))
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		found := check.Run(p).Findings
		if len(found) == 0 || found[0].Code != finding.TechniqueMachine {
			t.Fatalf("%s: %v", id, found)
		}
		if _, err := doc.Apply(found[0].Remedy()); err != nil {
			t.Fatal(err)
		}
		if p, err = technique.Piece(doc); err != nil {
			t.Fatal(err)
		}
		if r := check.Run(p); r.Stops() || !r.Fabric.Matches() {
			t.Errorf("%s, mended: %v", id, r.Findings)
		}
	}
}

// TestSeparatedFromLine: a section that begins at a later row of its chart has the same program as one
// that begins at the first, and is begun at the line of that row's first colour.
func TestSeparatedFromLine(t *testing.T) {
	made := func(from int) *pass.Plan {
		return plan.Make(piecetest.New(t, "program-preselect", "L2", "R2", []string{"#.+.", "+.#.", "..#+"},
			piecetest.Set("/sections", []any{map[string]any{
				"technique": "separated", "rows": 6, "from_line": from,
				"areas": []any{map[string]any{"chart": "c"}}}})))
	}
	whole := made(1)
	for from, line := range map[int]int{1: 1, 2: 7, 3: 13} {
		pl := made(from)
		at, set := 0, 0
		for i := range pl.Passes {
			if at == 0 {
				at = pl.Passes[i].Own
			}
			for j := range pl.Passes[i].Before {
				if st, ok := pl.Passes[i].Before[j].Step.(step.SetCard); ok && set == 0 {
					set = st.Line
				}
			}
		}
		if at != line || set != line || !slices.Equal(pl.Programs[0], whole.Programs[0]) || len(pl.Programs[0]) != 18 {
			t.Errorf("from row %d: line %d, set to %d, of %d; want %d of 18, the same", from, at, set,
				len(pl.Programs[0]), line)
		}
	}
}

// TestEdgeBehind: an end needle that does not knit is told of, but for where the second bed knits beyond both ends.
func TestEdgeBehind(t *testing.T) {
	for from, want := range map[string]int{"L7 R6": 0, "L7 R5": 1, "L6 R6": 1, "L6 R5": 1} {
		second := strings.Fields(from)
		p := piecetest.New(t, "card-preselect", "L6", "R6", []string{"#...#..#...#", "............"},
			piecetest.Set("/machine/second_bed", true), piecetest.Set("/charts/c/legend", legendOf(&technique.Slip)),
			piecetest.Set("/second", map[string]any{"from": second[0], "to": second[1]}),
			piecetest.Set("/sections/0/technique", "slip"), piecetest.Set("/sections/0/second", "every"),
			piecetest.Set("/limits", map[string]any{"slip": 9}))
		n := 0
		for _, f := range check.Run(p).Findings {
			if f.Code == finding.EdgeNotKnit {
				n++
			}
		}
		if n != want {
			t.Errorf("second bed from %s: %d warnings", from, n)
		}
	}
}

// TestFinishOnTwoBeds: dropped, nothing is moved across first; chained, each bed is told once.
func TestFinishOnTwoBeds(t *testing.T) {
	for way, want := range map[string]string{
		"drop": "Take 12 stitches off the needles, open: L6-R6; Take 11 stitches of the second bed off the needles, open: L6-R5",
		"chain": "Chain off 12 stitches, in a zigzag, by turns with the second bed's: L6-R6; Chain off 11 stitches of the " +
			"second bed with them: L6-R5"} {
		p := piecetest.New(t, "two-bed-pairs", "L6", "R6", []string{"#."}, piecetest.Set("/end", map[string]any{"way": way}),
			piecetest.Set("/sections", []any{map[string]any{"technique": "plain", "rows": 4, "second": "every"}}))
		r := check.Run(p)
		var said []string
		for _, st := range r.Plan.After {
			switch st.Do() {
			case step.DoBindOff, step.DoTakeOff, step.DoTransfer, step.DoRack:
				said = append(said, st.Say(p))
			}
		}
		if got := strings.Join(said, "; "); got != want || r.Stops() {
			t.Errorf("%s: %s; %v", way, got, r.Findings)
		}
	}
}
