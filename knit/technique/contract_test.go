package technique_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/knit/check"
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

// contract is a row for every technique that can be planned: how a chart of its own is
// drawn at random, what its section says besides, and a plan spoilt in a way of its own.
var contract = []struct {
	technique *technique.Technique
	draw      func(rng *rand.Rand, w, h int) []string
	section   map[string]any
	spoil     func(pl *pass.Plan)
}{
	{&technique.Plain, nil, nil, func(pl *pass.Plan) { pl.Passes[0].Main().Yarns = []piece.YarnNo{2} }},
	{&technique.TwoColour, func(rng *rand.Rand, w, h int) []string { return randomTwoColour(rng, w, h, 3) }, nil,
		feederOneEverywhere},
	{&technique.Slip, randomMarks, nil, func(pl *pass.Plan) { setAll(pl, machine.Slipping, machine.Plain) }},
	{&technique.Tuck, randomMarks, nil, func(pl *pass.Plan) {
		setAll(pl, machine.TuckRest, machine.Slipping)
		setAll(pl, machine.TuckForward, machine.Plain)
	}},
	{&technique.Lace, func(rng *rand.Rand, w, h int) []string {
		return randomLace(rng, w, h, rng.IntN(2) == 0,
			true)
	}, nil,
		func(pl *pass.Plan) {
			each(pl, func(p *pass.Pass) {
				p.Before = slices.DeleteFunc(p.Before, func(st pass.Step) bool { return st.Do() == step.DoTransfer })
			})
			setAll(pl, machine.Transfer, machine.FineTransfer)
		}},
	{&technique.Weave, randomMarks, map[string]any{"weft": "C"},
		func(pl *pass.Plan) { each(pl, func(p *pass.Pass) { p.Lays = nil }) }},
	{&technique.Intarsia, randomFields, nil, func(pl *pass.Plan) {
		each(pl, func(p *pass.Pass) {
			for i := range p.Lays {
				p.Lays[i].Yarn = p.Lays[i].Yarn%3 + 1
			}
		})
	}},
	{&technique.Separated, randomColours, nil, func(pl *pass.Plan) {
		each(pl, func(p *pass.Pass) { p.Main().Yarns = []piece.YarnNo{2} })
	}},
	{&technique.Plated, randomPlated, map[string]any{"size": "4.2"}, func(pl *pass.Plan) {
		each(pl, func(p *pass.Pass) {
			if behind := p.Second(); !behind.AtWork.Empty() { // a needle of the second bed left out
				behind.AtWork.Remove(behind.AtWork.First())
			}
		})
	}},
	{&technique.Texture, randomMarks, nil, func(pl *pass.Plan) {
		drop := func(list []pass.Step) []pass.Step {
			return slices.DeleteFunc(list, func(st pass.Step) bool { return st.Do() == step.DoReform })
		}
		each(pl, func(p *pass.Pass) { p.Before, p.Carriage = drop(p.Before), machine.KnitCarriage })
		pl.After = drop(pl.After)
	}},
}

func each(pl *pass.Plan, f func(p *pass.Pass)) {
	for i := range pl.Passes {
		f(&pl.Passes[i])
	}
}

// setAll sets the carriage otherwise wherever it is set so.
func setAll(pl *pass.Plan, from, to machine.Setting) {
	each(pl, func(p *pass.Pass) {
		for k := range p.Before {
			if st, ok := p.Before[k].Step.(step.Cams); ok && st.Setting.Key == from.Key {
				st.Setting = to
				p.Before[k].Step = st
			}
		}
	})
}

func feederOneEverywhere(pl *pass.Plan) {
	setAll(pl, machine.TwoColour, machine.Plain)
	setAll(pl, machine.Back, machine.Free)
}

// legendOf explains the characters that the charts of a technique are drawn with.
func legendOf(t *technique.Technique) map[string]any {
	yarn := func(id string) any { return map[string]any{"yarn": id} }
	switch t.Drawn {
	case piece.InYarns:
		return map[string]any{".": yarn("A"), "#": yarn("B"), "+": yarn("C")}
	case piece.InStitches:
		return map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": t.Mark.String()}}
	}
	return map[string]any{}
}

// machineFor alters a shipped machine at random, and gives it what some techniques want.
func machineFor(rng *rand.Rand, id string) []edit.Change {
	pick := func(s ...string) string { return s[rng.IntN(len(s))] }
	return slices.Concat(edit.Set("/machine",
		map[string]any{"profile": id, "weave": true, "intarsia": true, "purl_carriage": rng.IntN(2) == 0,
			"tuck_selected": pick("knit", "tuck"), "weave_selected": pick("hidden", "shown"),
			"reset_each_pass": rng.IntN(2) == 0}))
}

// TestContract: what every technique owes, on every machine that can knit it: a random
// chart is planned, knitted on the simulated bed, and comes out as drawn; and a plan that is
// spoilt, in its own way or in one that spoils any plan, does not.
func TestContract(t *testing.T) {
	for _, planned := range technique.Planned() {
		if !planned.Loops && !slices.ContainsFunc(contract, func(c struct {
			technique *technique.Technique
			draw      func(rng *rand.Rand, w, h int) []string
			section   map[string]any
			spoil     func(pl *pass.Plan)
		}) bool {
			return c.technique == planned
		}) {
			t.Errorf("%s has no row in the contract", planned.Name)
		}
	}
	for _, c := range contract {
		t.Run(c.technique.Name, func(t *testing.T) {
			rng := chance.Rand(t, 61, 62)
			good, noticed := 0, map[string]int{}
			for i := range 160 {
				id := machine.IDs()[i%len(machine.IDs())]
				width := 2 + rng.IntN(24)
				from, to := machine.Centre(width, machine.Right)
				section := map[string]any{"technique": c.technique.Name, "rows": 1 + rng.IntN(8), "yarn": "A"}
				for k, v := range c.section {
					section[k] = v
				}
				changes := append(machineFor(rng, id), edit.Put("/sections/0", section)...)
				rows := []string{"."}
				if c.draw != nil {
					section["areas"] = []any{map[string]any{"chart": "c"}}
					rows = c.draw(rng, 1+rng.IntN(8), 1+rng.IntN(5))
					changes = append(changes,
						append(edit.Set("/charts/c/legend", legendOf(c.technique)),
							edit.Set("/charts/c/side", []string{"knit", "purl"}[rng.IntN(2)])...)...)
					changes = append(changes, piecetest.Before(2, "A"))
				}
				build := func() *pass.Plan {
					return plan.Make(piecetest.New(t, id, from.String(), to.String(), rows, changes...))
				}
				pl := build()
				if finding.Stops(pl.Findings) {
					continue
				}
				f := technique.Prove(pl)
				if !f.Matches() {
					if c.technique == &technique.TwoColour && pl.Piece.Machine.Feeders == 1 && len(f.Faults) == 0 {
						continue // the end needles of a plain row between rows in two passes
					}
					t.Fatalf("case %d on %s: %s %v\n%v\n%s", i, id, f.First, f.Faults, rows, pl)
				}
				good++
				for name, spoil := range map[string]func(pl *pass.Plan){
					"its own": c.spoil,
					"all exempt": func(pl *pass.Plan) {
						each(pl,
							func(p *pass.Pass) { p.Exempt = p.Main().AtWork })
					},
					"the last left out": func(pl *pass.Plan) { pl.Passes = pl.Passes[:len(pl.Passes)-1] },
					"one left out": func(pl *pass.Plan) {
						pl.Passes = slices.Delete(pl.Passes, len(pl.Passes)/2,
							len(pl.Passes)/2+1)
					},
					"the last once more": func(pl *pass.Plan) { again(pl) },
					"the wrong way": func(pl *pass.Plan) {
						p := &pl.Passes[len(pl.Passes)/2]
						p.Dir =
							p.Dir.Other()
					},
				} {
					pl := build()
					spoil(pl)
					if f := technique.Prove(pl); !f.Matches() {
						noticed[name]++
					} else if name != "its own" { // which may change nothing, where a chart marks nothing
						t.Fatalf("case %d on %s: %s, and not noticed\n%v\n%s", i, id, name, rows, pl)
					}
				}
			}
			if good < 40 || noticed["its own"] < good/3 {
				t.Errorf("only %d of 280 could be planned; %d of them spoilt in its own way were noticed", good,
					noticed["its own"])
			}
		})
	}
}

// again knits the last course once more, from the side where the carriage stands.
func again(pl *pass.Plan) {
	last := pl.Passes[len(pl.Passes)-1]
	last.N, last.Dir, last.Before, last.Course = last.N+1, last.Dir.Other(), nil, last.Course+1
	pl.Passes = append(pl.Passes, last)
}

// colours is a section of the chart in two colours.
var colours = map[string]any{"technique": "two-colour", "rows": 2, "areas": []any{map[string]any{"chart": "c"}}}

// rest is a yarn that rests while another knits so many rows, under limits of hers.
func rest(limits map[string]any, rows int) []edit.Change {
	plain := func(yarn string, rows int) any {
		return map[string]any{"technique": "plain", "yarn": yarn, "rows": rows}
	}
	return []edit.Change{set("/limits", limits), set("/sections", []any{plain("A", 2), plain("B", rows), plain("A", 2)})}
}

// uncut takes every yarn up again as it hangs, at whichever side.
func uncut(pl *pass.Plan) {
	for i := range pl.Passes {
		for j := range pl.Passes[i].Before {
			switch st := pl.Passes[i].Before[j].Step.(type) {
			case step.Unthread:
				st.Cut, st.Left = false, machine.Right
				pl.Passes[i].Before[j].Step = st
			case step.Thread:
				st.Name, st.Carried, st.New = pl.Piece.YarnID(st.Yarn), true, false
				pl.Passes[i].Before[j].Step = st
			}
		}
	}
}

// TestSpoilt: each fault that only the simulation can see is found when a plan is spoilt so,
// and stops it.
func TestSpoilt(t *testing.T) {
	figure, lace := []string{".##.#..#", "#..##.#.", ".#.#..##"}, []string{"o^o.../o"}
	laid := []edit.Change{edit.Set("/sections/0/technique", "intarsia")[0]}
	moved := []edit.Change{edit.Set("/charts/c/legend", map[string]any{})[0], edit.Set("/charts/c/side", "knit")[0],
		edit.Set("/sections/0/technique", "lace")[0], piecetest.Before(2, "A")}
	held := []edit.Change{edit.Set("/options", map[string]any{"end_needles": "auto"})[0]}
	back := []edit.Change{piecetest.Before(1, "A"), piecetest.Before(1, "B"), piecetest.Before(2, "A")}
	remove := func(p *pass.Pass, do step.Do) {
		p.Before = slices.DeleteFunc(slices.Clone(p.Before), func(st pass.Step) bool { return st.Do() == do })
	}
	for _, c := range []struct {
		code    finding.Code
		machine string
		rows    []string
		changes []edit.Change
		spoil   func(pl *pass.Plan)
	}{
		{finding.YarnNotThreaded, "card-preselect", figure, nil, func(pl *pass.Plan) {
			remove(&pl.Passes[1],
				step.DoThread)
		}},
		{finding.CarriageSide, "card-preselect", figure, nil,
			func(pl *pass.Plan) { pl.Passes[2].Dir = pl.Passes[1].Dir }},
		{finding.SelectionLost, "card-preselect", figure, nil,
			func(pl *pass.Plan) { pl.Passes[0].Main().Sets.Add(machine.L(2)) }},
		{finding.SelectionLost, "hand-mid", figure, nil, func(pl *pass.Plan) {
			remove(&pl.Passes[0],
				step.DoBringForward)
		}},
		{finding.NeedleNoYarn, "hand-chunky", figure, laid,
			func(pl *pass.Plan) { pl.Passes[1].Lays = pl.Passes[1].Lays[:2] }},
		{finding.LaidOutOfOrder, "hand-chunky", figure, laid,
			func(pl *pass.Plan) { slices.Reverse(pl.Passes[1].Lays) }},
		{finding.YarnWrongSide, "hand-mid", figure, nil,
			func(pl *pass.Plan) { pl.Passes[2].Add(step.Thread{Feeder: 1, Yarn: 1}) }},
		// a yarn that hangs on the right, not cut before it is threaded on the left, however it came out of the feeder
		{finding.YarnWrongSide, "hand-mid", figure, back, func(pl *pass.Plan) {
			for i := range pl.Passes {
				remove(&pl.Passes[i], step.DoCut)
			}
		}},
		{finding.YarnWrongSide, "hand-mid", figure, back, func(pl *pass.Plan) {
			for i := range pl.Passes {
				remove(&pl.Passes[i], step.DoCut)
				for j := range pl.Passes[i].Before {
					if st, ok := pl.Passes[i].Before[j].Step.(step.Unthread); ok {
						pl.Passes[i].Before[j].Step = step.Unthread{Feeder: 1, Yarn: st.Yarn}
					}
				}
			}
		}},
		{finding.StitchDropped, "card-preselect", lace, moved, func(pl *pass.Plan) {
			both := machine.Range(machine.L(2), machine.L(1))
			pl.Passes[2].Main().Sets, pl.Passes[3].Main().Select, pl.Programs[1][0] = both, both, both
		}},
		{finding.TransferOff, "card-preselect", lace, moved, func(pl *pass.Plan) {
			pl.Passes[2].Main().Sets.Add(machine.L(4))
			pl.Programs[1][0].Add(machine.L(4))
			pl.Passes[3].Main().Select.Add(machine.L(4))
		}},
		{finding.FabricDiffers, "card-preselect", lace, moved, func(pl *pass.Plan) { // the card a line too far
			pl.Programs[1] = append(pl.Programs[1][1:], pl.Programs[1][0])
			for i := 2; i < 5; i++ {
				pl.Passes[i].Main().Sets = pl.Passes[i+1].Main().Sets
				pl.Passes[i+1].Main().Select = pl.Passes[i].Main().Sets
			}
		}},
		// a stitch dragged along that was to stay behind
		{finding.FabricDiffers, "hand-mid", []string{"/....o.."}, moved, func(pl *pass.Plan) {
			slices.Reverse(pl.Passes[2].Before)
		}},
		{finding.CarriageSide, "card-preselect", lace, moved,
			func(pl *pass.Plan) { pl.Passes = slices.Delete(pl.Passes, 6, 7) }},
		{finding.SelectionLost, "card-preselect", lace, moved, func(pl *pass.Plan) {
			pl.Passes[2].Main().Sets.Remove(pl.Passes[2].Main().Sets.First())
		}},
		{finding.SelectionLost, "card-preselect", figure, held, func(pl *pass.Plan) { // the switch a pass late
			late := slices.IndexFunc(pl.Passes[0].Before,
				func(st pass.Step) bool { return st.Step == step.Step(step.Switch{Control: step.EndNeedles, On: true}) })
			pl.Passes[1].Before = append(pl.Passes[1].Before, pl.Passes[0].Before[late])
			pl.Passes[0].Before = slices.Delete(pl.Passes[0].Before, late, late+1)
		}},
		{finding.SelectionLost, "card-direct", figure, held, func(pl *pass.Plan) { // selecting never turned on
			pl.Passes[0].Before = slices.DeleteFunc(pl.Passes[0].Before,
				func(st pass.Step) bool { return st.Step == step.Step(step.Switch{Control: step.Selecting, On: true}) })
		}},
		{finding.SelectionLost, "program-small", figure, nil, func(pl *pass.Plan) { // the program a line too far
			for i := range pl.Passes[0].Before {
				if st, ok := pl.Passes[0].Before[i].Step.(step.SetCard); ok {
					st.Line = 2
					pl.Passes[0].Before[i].Step = st
				}
			}
		}},
		{finding.NeedleNoYarn, "card-preselect", figure, nil, func(pl *pass.Plan) {
			for i := range pl.Passes {
				remove(&pl.Passes[i], step.DoThread)
				pl.Passes[i].Main().Yarns = []piece.YarnNo{pl.Passes[i].Yarn(1), 0}
			}
			pl.Passes[0].Add(step.Thread{Feeder: 1, Yarn: 1})
		}},
		{finding.StrandFar, "card-preselect", figure, rest(map[string]any{"strand": 3}, 3), uncut},
		{finding.StrandFar, "card-preselect", figure, rest(map[string]any{"carried": 3}, 4), uncut},
		{finding.YarnNotThreaded, "card-preselect", figure, []edit.Change{set("/sections", []any{colours,
			map[string]any{"technique": "plain", "yarn": "A", "rows": 2}, colours})}, func(pl *pass.Plan) {
			last := &pl.Passes[len(pl.Passes)-1] // a yarn is in feeder 2 that the plan does not know of
			for i := range pl.Passes {
				if p := &pl.Passes[i]; p.Section == last.Section {
					p.Main().Yarns = []piece.YarnNo{p.Yarn(1), 0}
				}
			}
		}},
		{finding.CarriagesClash, "card-preselect", lace, moved, func(pl *pass.Plan) {
			remove(&pl.Passes[6],
				step.DoRemove)
		}},
	} {
		pl := plan.Make(piecetest.New(t, c.machine, "L4", "R4", c.rows, c.changes...))
		if r := check.Of(pl); r.Stops() {
			t.Fatalf("%s: not good to begin with: %v", c.code, r.Findings)
		}
		c.spoil(pl)
		r := check.Of(pl)
		if !r.Stops() || !slices.ContainsFunc(r.Findings,
			func(f finding.Finding) bool { return f.Code == c.code && f.Severity == finding.Stop }) {
			t.Errorf("%s is not found: %v", c.code, r.Findings)
		}
	}
	wrong := plan.Make(piecetest.New(t, "card-direct", "L4", "R4", figure[:1]))
	wrong.Programs[0][0].Add(machine.L(4))
	wrong.Passes[0].Main().Select.Add(machine.L(4))
	if f := technique.Prove(wrong); f.Differences != 1 || !strings.HasPrefix(f.First, "section 1, row 1, L4:") {
		t.Errorf("one hole too many: %d differences, first %s", f.Differences, f.First)
	}
}

// randomColours is a drawing of three colours, any number of them in a row.
func randomColours(rng *rand.Rand, w, h int) []string {
	rows := make([]string, h)
	for y := range rows {
		line := make([]byte, w)
		for x := range line {
			line[x] = ".#+"[rng.IntN(3)]
		}
		rows[y] = string(line)
	}
	return rows
}

// randomPlated is a drawing whose rows have two colours each.
func randomPlated(rng *rand.Rand, w, h int) []string {
	rows := make([]string, h)
	for y := range rows {
		a := rng.IntN(3)
		b := (a + 1 + rng.IntN(2)) % 3
		line := make([]byte, w)
		for x := range line {
			line[x] = ".#+"[[2]int{a, b}[(x+rng.IntN(3)/2)%2]]
		}
		line[0], line[w-1] = ".#+"[a], ".#+"[b]
		rows[y] = string(line)
	}
	return rows
}
