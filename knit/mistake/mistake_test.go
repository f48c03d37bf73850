package mistake_test

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/demo/pieces"
	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// pile is a recipe in which loops of a second bed are let go and the bed is moved.
const pile = `name tufts = second every 3 from 2
yarn A
size 6
pass 4
raise second
rack 6 half
size second 4
work second tufts
repeat 12 "row of pile"
  yarn [A, A, B]
  pass 1 left: main knit ends, tuck others | second knit tufts
  pass 1 right
  drop second tufts
  rack 6 + [1, 0]
end
out second tufts
lower second
yarn A
pass 4
`

// marks draws rows of two marks; lace draws eyelets beside their decreases.
func marks(rng *rand.Rand, w, h int) []string {
	rows := make([]string, h)
	for y := range rows {
		line := make([]byte, w)
		for x := range line {
			line[x] = ".#"[min(1, rng.IntN(3)/2)]
		}
		line[rng.IntN(w)] = '#'
		rows[y] = string(line)
	}
	return rows
}

func lace(rng *rand.Rand, w, h int) []string {
	rows := make([]string, h)
	for y := range rows {
		line := ""
		for len(line) < w && (h-1-y)%2 == 0 {
			if group := []string{"/o", "o\\", ".", ".."}[rng.IntN(4)]; len(line)+len(group) <= w {
				line += group
			}
		}
		rows[y] = line + strings.Repeat(".", w-len(line))
	}
	return rows
}

// kinds of pieces, each knitted on machines of several schools.
var kinds = []struct {
	name     string
	machines []string
	draw     func(rng *rand.Rand, w, h int) []string
	section  map[string]any
	legend   bool
}{
	{"two-colour", []string{"card-preselect", "card-direct", "hand-mid", "program-preselect"}, marks, nil, false},
	{"slip", []string{"card-preselect", "card-direct", "hand-mid"}, marks, nil, true},
	{"tuck", []string{"card-preselect", "card-direct", "hand-mid", "program-preselect"}, marks, nil, true},
	{"lace", []string{"card-preselect", "card-direct", "program-preselect"}, lace, nil, false},
	{"texture", []string{"card-preselect", "hand-mid"}, marks, nil, true},
	{"separated", []string{"program-preselect", "card-preselect"}, marks, nil, false},
	{"recipe", []string{"card-preselect"}, nil, map[string]any{"recipe": pile}, false},
}

// random plans a piece of a kind: some plain rows, 24 rows or more of pattern over 24 needles or more, and
// plain rows again; policies of the end needles at random.
func random(t *testing.T, rng *rand.Rand, kind int) *pass.Plan {
	t.Helper()
	k := &kinds[kind]
	w, h := []int{6, 8, 12, 24}[rng.IntN(4)], 24+2*rng.IntN(6)
	from := machine.Needle(-12 - rng.IntN(8))
	section := map[string]any{"technique": k.name}
	for key, v := range k.section {
		section[key] = v
	}
	chart := []string{"."}
	if k.draw != nil {
		chart = k.draw(rng, w, h)
		section["rows"] = h
		section["areas"] = []any{map[string]any{"chart": "c"}}
	}
	options := map[string]any{"end_needles": []string{"off", "auto", "auto"}[rng.IntN(3)],
		"selecting": []string{"knit", "free"}[rng.IntN(2)]}
	edits := []edit.Change{piecetest.Set("/sections/0", section), {Op: edit.Remove, Path: "/sections/1"},
		piecetest.Set("/options", options),
		piecetest.Set("/sections/-", map[string]any{"technique": "plain", "rows": 6, "yarn": "A"})}
	if rng.IntN(3) > 0 || k.name == "recipe" {
		edits = append(edits, piecetest.Before(4+2*rng.IntN(2), "A"))
	}
	if k.legend {
		edits = append(edits, piecetest.Set("/charts/c/legend", map[string]any{".": map[string]any{"stitch": "knit"},
			"#": map[string]any{"stitch": map[string]string{"slip": "slip", "tuck": "tuck",
				"texture": "purl"}[k.name]}}))
	}
	if k.name == "lace" {
		edits = append(edits, edit.Change{Op: edit.Remove, Path: "/charts/c/legend"})
	}
	profile := k.machines[rng.IntN(len(k.machines))]
	if k.name == "texture" && profile != "hand-mid" {
		edits = append(edits, piecetest.Set("/machine/purl_carriage", true))
	}
	if k.name == "recipe" {
		edits = append(edits, piecetest.Set("/machine/second_bed", true), piecetest.Set("/second",
			map[string]any{"from": "L14", "to": "R10"}))
	}
	p := piecetest.New(t, profile, from.String(), machine.Needle(12+rng.IntN(8)).String(), chart, edits...)
	pl := plan.Make(p)
	if slices.ContainsFunc(pl.Findings, func(f finding.Finding) bool { return f.Code == finding.CardPatternsAll }) {
		return random(t, rng, kind) // its card brings out more, and no hand is there in time
	}
	if pl.Stopped.Row > 0 || pl.Refused != nil {
		t.Fatalf("%s on %s: stopped %v %v %v", k.name, profile, pl.Stopped, pl.Refused, pl.Findings)
	}
	return pl
}

// seenBy marks the lowest stretch of what differs as somebody would who holds the fabric: a row and a few
// needles about right, in one of the words that are true.
func seenBy(rng *rand.Rand, d *mistake.Difference) mistake.Sight {
	m := mistake.Sight{First: d.First + rng.IntN(3) - 1, Last: d.Last + rng.IntN(3) - 1,
		Left: d.Left + machine.Needle(rng.IntN(5)-2), Right: d.Right + machine.Needle(rng.IntN(5)-2)}
	for _, i := range rng.Perm(len(d.Signs))[:min(2, len(d.Signs))] {
		m.Signs = append(m.Signs, d.Signs[i])
	}
	m.Last, m.Right = max(m.Last, m.First), max(m.Right, m.Left)
	return m
}

// TestNamed: each kind of mistake, made at a random pass of random pieces of several techniques, is among
// the first three that are named in nine of ten cases in which it changes the fabric at all.
func TestNamed(t *testing.T) {
	rng := chance.Rand(t, 71, 74)
	tried, named, first, placed := map[mistake.Kind]int{}, map[mistake.Kind]int{}, map[mistake.Kind]int{},
		map[mistake.Kind]int{}
	total, all := 0, 0
	each, times := 3, 1 // pieces of each kind, mistakes of each kind in each
	if chance.Soaks() {
		each, times = 40, 2
	}
	for i := range each * len(kinds) {
		pl := random(t, rng, i%len(kinds))
		by := map[mistake.Kind][]mistake.Mistake{}
		for _, m := range mistake.All(pl, 0, len(pl.Passes)) {
			by[m.Kind] = append(by[m.Kind], m)
		}
		planned := play(t, nil, pl)
		for _, kind := range mistake.Kinds {
			for range times {
				if len(by[kind]) == 0 {
					continue
				}
				m := by[kind][rng.IntN(len(by[kind]))]
				d := mistake.Compare(planned, play(t, &m, pl))
				if d.Cells == 0 {
					continue
				}
				guesses, err := mistake.Find(t.Context(), pl, []mistake.Sight{seenBy(rng, d)})
				if err != nil {
					t.Fatal(err)
				}
				tried[kind]++
				all++
				at := slices.IndexFunc(guesses, func(g mistake.Guess) bool { return g.Kind == kind })
				if at >= 0 && at < 3 {
					named[kind]++
					total++
					if slices.ContainsFunc(append(guesses[at].Near, guesses[at].Mistake),
						func(n mistake.Mistake) bool { return n.Pass >= m.Pass-1 && n.Pass <= m.Pass+1 }) {
						placed[kind]++
					}
				} else if testing.Verbose() {
					t.Logf("%s on %s: %s %+v %+v", kinds[i%len(kinds)].name, pl.Piece.Machine.Name, m.Say(pl),
						d.Signs, *d)
					for _, g := range guesses {
						t.Logf("      %.2f %s %v", g.Score, g.Say(pl), g.Seen.Signs)
					}
				}
				if at == 0 {
					first[kind]++
				}
			}
		}
	}
	for _, kind := range mistake.Kinds {
		t.Logf("%-15s %3d tried, %3d first, %3d among three, %3d with the pass", kind, tried[kind], first[kind],
			named[kind], placed[kind])
		if tried[kind] == 0 {
			t.Errorf("%s was never tried where it changes the fabric", kind)
		}
		if 10*(named[kind]+1) < 9*tried[kind] {
			t.Errorf("%s: named in %d of %d cases", kind, named[kind], tried[kind])
		}
	}
	t.Logf("all: %d of %d", total, all)
}

// TestPlayedAnywhere: any mistake can be played at any pass of every piece of Larkmoor, and is said with how
// to come right again; the plan itself stays as it is.
func TestPlayedAnywhere(t *testing.T) {
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(p)
		before := play(t, nil, pl)
		all := mistake.All(pl, 0, len(pl.Passes))
		for i := 0; i < len(all); i += max(1, len(all)/25) {
			m := all[i]
			play(t, &m, pl)
			to, passes := m.Ravel(pl, len(pl.Passes))
			knitted := 0 // passes of a lace carriage are not ravelled
			for k := m.Pass; k < len(pl.Passes); k++ {
				if pl.Passes[k].Course > 0 {
					knitted++
				}
			}
			if m.Say(pl) == "" || m.Kind.Words() == "" || m.Mind(pl) == "" || len(m.GoOn(pl, len(pl.Passes))) == 0 ||
				to != m.Pass+1 || passes != knitted {
				t.Errorf("%s: %+v: %q %q %d %d", name, m, m.Say(pl), m.Mind(pl), to, passes)
			}
		}
		if d := mistake.Compare(before, play(t, nil, pl)); !d.None() {
			t.Errorf("%s: playing mistakes has changed the plan: %+v", name, d)
		}
	}
}

// TestLifelines: a lifeline is offered where it lies below the fault, and not where it was laid after it.
func TestLifelines(t *testing.T) {
	pl := plan.Make(piecetest.New(t, "card-preselect", "L6", "R6", []string{"/o..o\\", "......"}, piecetest.Before(2,
		"A"),
		piecetest.Set("/charts/c/legend", map[string]any{}), piecetest.Set("/charts/c/side", "knit"),
		piecetest.Set("/sections/1/technique", "lace"), piecetest.Set("/sections/1/rows", 24),
		piecetest.Set("/limits", map[string]any{"lifeline": 8})))
	line := beside.LastLifeline(pl, len(pl.Passes)/2)
	if line < 4 || line > len(pl.Passes)/2 {
		t.Fatalf("the last lifeline before the middle is laid before pass %d of %d", line, len(pl.Passes))
	}
	done := line + 1
	for done < len(pl.Passes) && beside.Knitted(pl, line, done) == 0 {
		done++
	}
	if again := beside.LastLifeline(pl, done); again != line {
		t.Fatalf("another lifeline lies before pass %d", again)
	}
	// index of the pass with the fault
	for at, want := range map[int]bool{line - 2: false, line - 1: true, line: true} {
		said := strings.Join(mistake.Mistake{Kind: mistake.Less, Pass: at, Step: -1}.GoOn(pl, done), " ")
		if strings.Contains(said, "lifeline") != want {
			t.Errorf("a lifeline before pass %d, the fault in pass %d: %s", line, at+1, said)
		}
	}
}

// TestMistakesLook: what a mistake does to a small fabric that can be followed by eye.
func TestMistakesLook(t *testing.T) {
	rows := []string{"##.#....", ".##.#...", "..##.#..", "...##.#.", "....##.#", "#....##.", ".#....##", "#.#....#"}
	pl := plan.Make(piecetest.New(t, "card-preselect", "L8", "R8", rows, piecetest.Before(4, "A"),
		piecetest.Set("/sections/-", map[string]any{"technique": "plain", "rows": 4, "yarn": "A"})))
	planned := play(t, nil, pl)
	pass := func(row int) int { // index of the pass that knits a row of the pattern
		return slices.IndexFunc(pl.Passes, func(p pass.Pass) bool { return p.Section == 2 && p.Row() == row })
	}
	for _, c := range []struct {
		what        string
		m           mistake.Mistake
		first, last int
		sign        mistake.Sign
	}{
		{"a needle pushed back in row 3: one stitch of course 7", mistake.Mistake{Kind: mistake.Needle,
			Pass: pass(3), Needle: pl.Passes[pass(3)].Main().Select.First()}, 7, 7, mistake.Single},
		{"the card a line on before row 4 is read: from course 8", mistake.Mistake{Kind: mistake.CardOff,
			Pass: pass(3), By: 1}, 8, 12, mistake.Missing},
		{"the card a line back", mistake.Mistake{Kind: mistake.CardOff, Pass: pass(3), By: -1}, 8, 12, mistake.Twice},
		{"the card back to front: all of the pattern", mistake.Mistake{Kind: mistake.CardBack, Pass: 3,
			Step: slices.IndexFunc(pl.Passes[3].Before, isCard), By: 1}, 5, 12, mistake.Mirrored},
		{"a plain pass too many: the pattern comes a row late", mistake.Mistake{Kind: mistake.More, Pass: 0}, 5, 13,
			mistake.Twice},
	} {
		if c.m.Step < 0 {
			t.Fatalf("%s: no such step in %v", c.what, pl.Passes[3].Before)
		}
		d := mistake.Compare(planned, play(t, &c.m, pl))
		if d.First != c.first || d.Last != c.last || !slices.Contains(d.Signs, c.sign) {
			t.Errorf("%s: courses %d to %d, %v", c.what, d.First, d.Last, d.Signs)
		}
	}
}

// TestMade: what hands do with each mistake, pass by pass: carriages go the way that they can, a card lies the other
// way, what was turned or threaded wrongly stays so until it is turned or threaded again.
func TestMade(t *testing.T) {
	rows := []string{"##.#....#.......####....", "#...............#.#.....", "....##.......#.........."}
	pl := plan.Make(piecetest.New(t, "card-preselect", "L12", "R12", rows, piecetest.Before(4, "A"),
		piecetest.Set("/sections/1/rows", 12),
		piecetest.Set("/sections/-", map[string]any{"technique": "plain", "rows": 4, "yarn": "C"})))
	alternate := func(what string, made *pass.Plan) {
		t.Helper()
		for i := 1; i < len(made.Passes); i++ {
			if made.Passes[i].Dir == made.Passes[i-1].Dir {
				t.Errorf("%s: passes %d and %d go the same way", what, i, i+1)
			}
		}
	}
	more := mistake.Mistake{Kind: mistake.More, Pass: 7}.Made(pl)
	alternate("a pass more", more)
	if len(more.Passes) != len(pl.Passes)+1 || more.Passes[20].Course != pl.Passes[19].Course+1 {
		t.Errorf("a pass more: %d passes, the last courses %d", len(more.Passes), more.Passes[20].Course)
	}
	less := mistake.Mistake{Kind: mistake.Less, Pass: 7}.Made(pl)
	alternate("a pass less", less)
	if len(less.Passes) != len(pl.Passes)-1 || less.Passes[15].Course != pl.Passes[16].Course-1 {
		t.Errorf("a pass less: %d passes", len(less.Passes))
	}
	card := slices.IndexFunc(pl.Passes[3].Before, isCard)
	for by := 1; by <= 2; by++ {
		made := mistake.Mistake{Kind: mistake.CardBack, Pass: 3, Step: card, By: by}.Made(pl)
		lines := pl.Programs[1]
		for i, line := range lines {
			want := machine.Set{}
			if by == 2 {
				line = lines[len(lines)-1-i]
			}
			for n := range line.All() {
				want.Add(-1 - n) // L12 to R12 is the card once: its first column lies where its last should
			}
			if made.Printed.Programs[1][i] != want {
				t.Errorf("card %d, line %d: %v, not %v", by, i+1, made.Printed.Programs[1][i], want)
			}
		}
	}
	back := mistake.Mistake{Kind: mistake.Needle, Pass: 8, Needle: pl.Passes[8].Main().Select.First()}
	if half := back.Made(pl).Passes[8].Main(); half.Select.Has(back.Needle) || !half.PushedBack.Has(back.Needle) ||
		!pl.Passes[8].Main().Select.Has(back.Needle) {
		t.Errorf("pushed back: %v", half.Select)
	}
	for _, m := range mistake.All(pl, 0, len(pl.Passes)) {
		made := m.Made(pl)
		p, in := made.Passes[min(m.Pass, len(made.Passes)-1)], pl.Passes[m.Pass]
		switch last := made.Passes[len(made.Passes)-1]; m.Kind {
		case mistake.Yarns:
			if p.Yarn(1) != in.Yarn(2) && in.Yarn(2) != 0 || last.Yarn(1) != pl.Passes[len(pl.Passes)-1].Yarn(1) &&
				m.Pass < 16 {
				t.Errorf("%s: %d, and %d at the end", m.Say(pl), p.Yarn(1), last.Yarn(1))
			}
		case mistake.Lever:
			if len(p.Before) != len(in.Before)-1 || len(last.Before) != len(pl.Passes[len(pl.Passes)-1].Before) {
				t.Errorf("%s: %d steps, of %d", m.Say(pl), len(p.Before), len(in.Before))
			}
		}
	}
	// What waits is put in hold again for a pass that is made again.
	holds := plan.Make(piecetest.New(t, "hand-mid", "L6", "R6", []string{"............", "..#...#...#.",
		"............"},
		piecetest.Set("/charts/c/legend", map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": "tuck"}}),
		piecetest.Set("/sections/0/technique", "tuck"), piecetest.Before(2, "A")))
	isHold := func(st pass.Step) bool { return st.Do() == step.DoToHold }
	in := slices.IndexFunc(holds.Passes, func(p pass.Pass) bool { return slices.ContainsFunc(p.Before, isHold) })
	if in < 0 {
		t.Fatalf("nothing is put in hold\n%s", holds)
	}
	if twice := (mistake.Mistake{Kind: mistake.More, Pass: in}).Made(holds); !slices.ContainsFunc(
		twice.Passes[in+1].Before, isHold) {
		t.Errorf("made again, pass %d forgets what waits: %v", in+1, twice.Passes[in+1].Before)
	}
	pile := random(t, chance.Rand(t, 1, 1), len(kinds)-1)
	moved := 0
	for _, m := range mistake.All(pile, 1, len(pile.Passes)) {
		if m.Kind == mistake.RackMissed {
			moved++
			made, was := m.Made(pile), pile.Passes[m.Pass-1]
			if p := made.Passes[m.Pass]; p.Rack != was.Rack || p.Shift != was.Shift || p.Pitch != was.Pitch {
				t.Errorf("%s: the handle at %d, shifted by %d", m.Say(pile), p.Rack, p.Shift)
			}
		}
	}
	if moved < 5 {
		t.Errorf("the second bed is moved %d times", moved)
	}
}

func isCard(st pass.Step) bool { return st.Do() == step.DoSetCard }

func play(t *testing.T, m *mistake.Mistake, pl *pass.Plan) *mistake.Seen {
	t.Helper()
	return mistake.See(knit(t, m, pl))
}
