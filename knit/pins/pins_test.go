package pins_test

import (
	"crypto/sha256"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"runtime/debug"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/demo/pieces"
	"vindel/knit/beside"
	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/lines"
	"vindel/knit/lost"
	"vindel/knit/machine"
	"vindel/knit/measure"
	"vindel/knit/mistake"
	"vindel/knit/outline"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/knit/project"
	"vindel/knit/technique"
)

var update = flag.Bool("update", false, "write the golden files anew")

// aspect is one side of what is said of a piece, a line for each thing.
type aspect struct {
	name  string
	lines []string
}

// sayer gathers aspects.
type sayer struct {
	t    *testing.T
	list []*aspect
}

func (s *sayer) aspect(name string) *aspect {
	a := &aspect{name: name}
	s.list = append(s.list, a)
	return a
}

func (a *aspect) say(format string, args ...any) {
	a.lines = append(a.lines, fmt.Sprintf(format, args...))
}

// value says a value as JSON: what it is, without where it lies in memory.
func (a *aspect) value(t *testing.T, name string, v any) {
	t.Helper()
	b, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	a.say("%s %s", name, b)
}

// said is everything that is said of a piece; most is how many passes are asked about one by one.
func said(t *testing.T, doc *edit.Document, p *piece.Piece, most int) []*aspect {
	t.Helper()
	s := &sayer{t: t}
	r := check.Run(p)
	pl := r.Plan
	var text, data strings.Builder
	if err := pl.WriteText(&text); err != nil {
		t.Fatal(err)
	}
	if err := pl.WriteJSON(&data, r.Findings); err != nil {
		t.Fatal(err)
	}
	s.aspect("plan").lines = strings.Split(strings.TrimSpace(text.String()), "\n")
	s.aspect("json").lines = strings.Split(strings.TrimSpace(data.String()), "\n")
	a := s.aspect("findings")
	for _, f := range r.Findings {
		a.say("%s | %s", f.OneLine(), f.Fix)
		if remedy := f.Remedy(); len(remedy) > 0 && doc != nil {
			a.say("  mended: %s", mended(t, doc, remedy))
		}
	}
	if f := r.Fabric; f != nil {
		a = s.aspect("fabric")
		a.lines = append(f.Draw(chart.KnitSide), f.Draw(chart.PurlSide)...)
		a.lines = append(a.lines, f.DrawSecond()...)
		a.say("%d %s", f.Differences, f.First)
		a.value(t, "summary", f.Summary())
	}
	cards(t, s, r)
	a = s.aspect("measures")
	a.value(t, "measure", measure.Of(pl).JSON(p))
	for _, mm := range []float64{40, 123, 300} {
		a.say("%v %v", measure.Widths(pl, mm), measure.Heights(pl, mm))
	}
	passes, all := beside.Minutes(pl)
	a.say("%d %d minutes, %d uses of hands, %v", passes, all, beside.HandUses(pl), beside.YarnUses(pl))
	for _, e := range outline.Of(pl).Edges {
		a.say("%s", e)
	}
	a.value(t, "edges", project.Edges(pl))
	if doc != nil {
		edits(t, s, doc, p, r)
	}
	if r.Fabric != nil && len(pl.Passes) > 0 {
		besides(t, s, r, most)
		mistakes(t, s, r, most)
	}
	return s.list
}

// edits are what some edits would change, and what a page offers before them.
func edits(t *testing.T, s *sayer, doc *edit.Document, p *piece.Piece, r *check.Result) {
	pl := r.Plan
	a := s.aspect("edits")
	for _, w := range slices.Concat(plan.BeginWays(p), plan.EndWays(p)) {
		a.value(t, "way", w)
	}
	for no := 1; no <= len(p.Sections); no++ {
		if placed := pl.Section(no); placed != nil {
			for k := range placed.Section.Areas {
				a.value(t, "widths", placed.Widths(p, k+1, placed.Covered.Len()))
			}
		}
		for _, x := range technique.All {
			a.value(t, x.Name, edit.KnitIn(p, no, &x.Technique))
		}
		marks, err := lines.ToMarks(doc, no)
		a.value(t, fmt.Sprint("marks ", err), marks)
		as, err := lines.ToLines(doc, no)
		a.value(t, fmt.Sprint("lines ", err), as)
		a.value(t, "later", edit.MoveSection(p, doc, no, true))
		if sampler, err := edit.Sampler(p, doc, no, []edit.Band{{Name: "a", Size: "6"}, {Name: "b", Size: "7"}},
			piece.YarnNo(len(p.Yarns))); err != nil {
			a.say("no sampler: %v", err)
		} else {
			a.say("%s", sampler.JSON())
		}
	}
	a.value(t, "centred", edit.Centred(p, 17, 1))
	inside, ok := edit.InsideSeam(p)
	a.value(t, fmt.Sprint("inside ", ok), inside)
	mirrored, err := edit.Mirrored(p, "the other")
	a.value(t, fmt.Sprint("mirrored ", err), mirrored)
	o, ok := edit.OutlineOf(p)
	a.value(t, fmt.Sprint("outline ", ok), o)
	a.value(t, "steps", edit.ShapeAsSteps(p))
	a.value(t, "kept", edit.Keep(p, 5))
	a.value(t, "plain", edit.InsertPlain(p, 1, 4, "A"))
	for _, part := range []piece.Part{piece.Whole, piece.FirstPart, piece.SecondPart} {
		a.value(t, "polygon", outline.Of(pl).Polygon(part, 0))
	}
	var csv strings.Builder
	if err := pl.WriteCSV(&csv); err != nil {
		t.Fatal(err)
	}
	a.say("%s", csv.String())
}

// mended is what a remedy makes of the findings.
func mended(t *testing.T, doc *edit.Document, remedy []edit.Change) string {
	again, err := edit.Parse(doc.JSON())
	if err != nil {
		t.Fatal(err)
	}
	if _, err := again.Apply(remedy); err != nil {
		return err.Error()
	}
	p, err := technique.Piece(again)
	if err != nil {
		return err.Error()
	}
	var codes []string
	for _, f := range check.Run(p).Findings {
		codes = append(codes, string(f.Code))
	}
	return strings.Join(codes, " ")
}

func cards(t *testing.T, s *sayer, r *check.Result) {
	pl := r.Plan
	m := &pl.Piece.Machine
	a := s.aspect("cards")
	for _, no := range card.Sections(pl) {
		if pl.LinesOf(no) == 0 {
			continue
		}
		if m.HasCard() {
			made, _ := card.Make(pl, no)
			a.lines = append(a.lines, strings.Split(made.Text(), "\n")...)
			a.say("%q %s", made.Marks, made.Reading)
		} else {
			w := card.MakeProgram(pl, no)
			a.lines = append(a.lines, strings.Split(w.Text(), "\n")...)
			a.value(t, "program", w.JSON())
			for k := range w.Bits.H {
				a.say("%s", w.Typed(k+1))
			}
		}
		a.value(t, "reads", card.LaceReads(pl, no))
	}
	for no := 1; no <= len(pl.Piece.Sections); no++ {
		if pl.Section(no) == nil {
			continue
		}
		passes, changes := beside.SectionWords(pl, no)
		a.say("section %d: %s; %s; %s; %v", no, passes, changes, beside.Stands(pl, no), beside.BackRows(pl, no))
		for k := range pl.Section(no).Section.Areas {
			a.value(t, "rail", beside.RailOf(pl, no, &pl.Section(no).Section.Areas[k]))
			first, all := beside.Columns(pl.Section(no), &pl.Section(no).Section.Areas[k])
			a.say("%v %v", first, all)
		}
		rows := beside.Sheet(pl, no)
		for k := range rows {
			rows[k].Passes = slices.Clone(rows[k].Passes)
			for n, p := range rows[k].Passes {
				bare := *p
				bare.Before = nil // said above
				rows[k].Passes[n] = &bare
			}
		}
		a.value(t, "sheet", rows)
		if !pl.Piece.Sections[no-1].Technique.OwnRows {
			continue
		}
		rec, repeats := beside.Recipe(pl, no, nil)
		a.value(t, "recipe", rec)
		a.value(t, "repeats", repeats)
		a.value(t, "yarn", beside.RecipeYarn(pl, no))
	}
	for _, row := range beside.ShapeRows(pl) {
		a.value(t, "shape", row)
	}
	for no := 1; no <= len(pl.Piece.Sections); no++ {
		if list, first, err := lines.Read(pl.Piece, no); err == nil {
			a.say("lines from %v: %s", first, lines.Text(list))
		}
	}
}

// besides is what stands beside the machine before some of the passes, evenly apart, and what is seen after them.
func besides(t *testing.T, s *sayer, r *check.Result, most int) {
	pl := r.Plan
	a, b := s.aspect("beside"), s.aspect("restore")
	standings := lost.Standings(r.Fabric)
	for i := 0; i < len(pl.Passes); i += max(1, len(pl.Passes)/most) {
		band := beside.Before(r.Fabric, i)
		steps := []string{}
		for _, st := range band.Steps {
			steps = append(steps, st.Say(pl.Piece)+" / "+st.Short(pl.Piece))
		}
		for _, st := range band.Care {
			steps = append(steps, "care: "+st.Say(pl.Piece))
		}
		band.Pass, band.Steps, band.Care = nil, nil, nil
		a.value(t, fmt.Sprint("before pass ", i+1), band)
		a.lines = append(a.lines, steps...)
		a.value(t, "row", beside.RowOf(pl, &pl.Passes[i]))
		a.value(t, "face", beside.Controls(pl, i))
		stop, more := beside.RowsToRepeat(pl, i)
		done, exact := beside.Done(pl, pl.Passes[i].ID, i)
		a.say("%d %v; %d knitted; %v; %v", done, exact, beside.Knitted(pl, i/2, i), beside.PlannedAnew(pl, i),
			beside.Behind(&pl.Passes[i]))
		a.value(t, "quiet", beside.Quiet(pl, &pl.Passes[i]))
		a.say("%s; %d; %g left; last lifeline %d; %d %d to the repeat", beside.Where(pl, i), beside.Courses(pl, i),
			beside.Left(pl, i, 0), beside.LastLifeline(pl, i), stop, more)
		b.lines = append(b.lines, beside.Restore(pl, i)...)
		a.value(t, "seen", standings[i])
		work, forward, hold, empty := lost.Look(r.Fabric, i)
		a.say("%v | %v | %v | %v", work, forward, hold, empty)
	}
	if q := lost.Next(standings, lost.Fits(standings, nil), nil, nil); q != nil {
		a.value(t, "first asked", q)
	}
	for _, st := range pl.After {
		a.say("after: %s", st.Say(pl.Piece))
	}
}

// mistakes are what some mistakes are called, make of the fabric, and how she comes right again.
func mistakes(t *testing.T, s *sayer, r *check.Result, most int) {
	pl := r.Plan
	a := s.aspect("mistakes")
	if finding.Stops(pl.Findings) {
		return
	}
	planned := mistake.See(r.Fabric)
	all := mistake.All(pl, 0, len(pl.Passes))
	for i := 0; i < len(all); i += max(1, len(all)/max(1, most/3)) {
		m := all[i]
		f, err := m.Play(t.Context(), pl)
		if err != nil {
			t.Fatal(err)
		}
		d := mistake.Compare(planned, mistake.See(f))
		to, back := m.Ravel(pl, len(pl.Passes))
		a.say("%s %s %d %d %v %s", m.Kind, m.Say(pl), to, back, m.GoOn(pl, len(pl.Passes)), m.Mind(pl))
		a.value(t, "differs", d)
	}
}

// hashed is a line for all of it: a letter or two for each aspect that changes with it.
func hashed(list []*aspect) string {
	var out []string
	for _, a := range list {
		sum := sha256.Sum256([]byte(strings.Join(a.lines, "\n")))
		out = append(out, fmt.Sprintf("%s:%x", a.name, sum[:4]))
	}
	return strings.Join(out, " ")
}

// drawn is how many random pieces are held: all of them in `make soak`, and where a rule is broken on purpose; else the
// first.
const drawn, first = 900, 90

var figure = regexp.MustCompile(`\b[LR]\d+(-[LR]\d+)?(,[LR]\d+(-[LR]\d+)?)*|\d+(\.\d+)?`)

// TestSaid: what is said of every piece of Larkmoor and of every shipped recipe, its hashes one by one, and every
// sentence once with # for its figures; and the hashes of what is said of random pieces.
func TestSaid(t *testing.T) {
	sentences := map[string]bool{}
	hear := func(list []*aspect) {
		for _, a := range list {
			if slices.Contains([]string{"plan", "findings", "restore"}, a.name) {
				for _, l := range a.lines {
					sentences[figure.ReplaceAllString(l, "#")] = true
				}
			}
		}
	}
	var hashes []string
	names := []string{}
	all := pieces.All()
	for name := range all {
		names = append(names, name)
	}
	slices.Sort(names)
	for _, name := range names {
		doc, err := edit.Parse(all[name])
		if err != nil {
			t.Fatal(err)
		}
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		list := said(t, doc, p, 20)
		hear(list)
		hashes = append(hashes, name+" "+hashed(list))
	}
	random := first
	if chance.Soaks() || *update {
		random = drawn
	}
	for n := range random {
		doc, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 77)))
		list := said(t, doc, p, 8)
		hear(list)
		hashes = append(hashes, fmt.Sprintf("random %d %s %s", n, p.Machine.ID, hashed(list)))
	}
	held(t, "hashes.txt", hashes, random == drawn)
	var heard []string
	for l := range sentences {
		heard = append(heard, l)
	}
	slices.Sort(heard)
	held(t, "sentences.txt", heard, random == drawn)
}

// held holds lines to a golden file; to some of it, where not all is asked for.
func held(t *testing.T, name string, got []string, all bool) {
	t.Helper()
	file := filepath.Join("testdata", name)
	if *update {
		if err := os.WriteFile(file, []byte(strings.Join(got, "\n")+"\n"), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	text, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	want := strings.Split(strings.TrimSuffix(string(text), "\n"), "\n")
	told := 0
	for _, l := range got {
		if !slices.Contains(want, l) && told < 8 {
			told++
			t.Errorf("%s: new: %.300s", name, l)
		}
	}
	if !all {
		return
	}
	for _, l := range want {
		if !slices.Contains(got, l) && told < 16 {
			told++
			t.Errorf("%s: gone: %.300s", name, l)
		}
	}
	if len(got) != len(want) {
		t.Errorf("%s: %d lines, not %d", name, len(got), len(want))
	}
}

// TestDrawn: the random pieces are of every technique, machine, start and finish, and what only some have.
func TestDrawn(t *testing.T) {
	seen := map[string]int{}
	for n := range 2 * first {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 77)))
		seen[p.Machine.ID]++
		for i := range p.Sections {
			seen[p.Sections[i].Technique.Name]++
		}
		if p.Shape != nil {
			seen["shape"]++
		}
	}
	for _, id := range machine.IDs() {
		if seen[id] < 5 {
			t.Errorf("%s is drawn %d times", id, seen[id])
		}
	}
	for _, x := range technique.All {
		if seen[x.Name] < 5 {
			t.Errorf("%s is drawn %d times", x.Name, seen[x.Name])
		}
	}
	if seen["shape"] < 20 {
		t.Errorf("%d have a shape", seen["shape"])
	}
}

// TestManyDrawn: whatever may be asked for is planned, knitted and told without breaking down, the same when asked
// again, and a plan without a stop is a fabric as drawn.
func TestManyDrawn(t *testing.T) {
	rng := chance.Rand(t, 26, 1)
	stopped := 0
	n := 150
	if chance.Soaks() {
		n = 5000
	}
	for range n {
		doc, p := chance.Piece(t, rng)
		func() {
			defer func() {
				if v := recover(); v != nil {
					t.Errorf("%v\n%s\n%s", v, debug.Stack(), doc.JSON())
				}
			}()
			r := check.Run(p)
			if r.Stops() {
				stopped++
				return
			}
			if !r.Fabric.Matches() {
				t.Errorf("not as drawn: %s\n%s", r.Fabric.First, doc.JSON())
			}
			once, twice := hashed(said(t, doc, p, 4)), hashed(said(t, doc, p, 4))
			if once != twice {
				t.Errorf("told otherwise the second time\n%s", doc.JSON())
			}
		}()
		if t.Failed() {
			break
		}
	}
	t.Logf("%d of %d stop", stopped, n)
	if stopped > n/2 {
		t.Errorf("%d of %d stop", stopped, n)
	}
}

// TestSettingsOf: what a plan sets a carriage to is among what the page of her own controls lists for that carriage.
func TestSettingsOf(t *testing.T) {
	used := map[string]bool{}
	for n := range 2 * first {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 77)))
		for _, pass := range check.Run(p).Plan.Passes {
			key := pass.Main().Setting.Pattern()
			used[key] = true
			if !slices.Contains(p.Machine.SettingsOf(pass.Carriage), key) {
				t.Errorf("%s: the %v carriage is set to %q, which is not listed", p.Machine.ID, pass.Carriage, key)
			}
		}
	}
	if len(used) < 12 {
		t.Errorf("only %d settings are used", len(used))
	}
}

// TestRefused: what is said of a piece file that is spoilt somewhere: a member taken out, another put in its place, one
// too many. Every refusal names its place; all of them once, with # for figures and the place left out, are held.
func TestRefused(t *testing.T) {
	heard := map[string]bool{}
	for n := range 3000 {
		rng := rand.New(rand.NewPCG(uint64(n), 78))
		doc, _ := chance.Piece(t, rng)
		tree := treeOf(t, doc.JSON())
		spoil(rng, tree)
		b, err := json.Marshal(tree)
		if err != nil {
			t.Fatal(err)
		}
		_, err = technique.Read(b)
		var list piece.ErrorList
		if err != nil && !errors.As(err, &list) {
			t.Fatalf("%v\n%s", err, b)
		}
		for _, e := range list {
			if e.Path == "" && !strings.HasPrefix(e.Error(), "unknown key") {
				t.Errorf("%v names no place\n%s", e, b)
			}
			heard[place.ReplaceAllString(figure.ReplaceAllString(e.Error(), "#"), "$1: ")] = true
		}
	}
	held(t, "refusals.txt", slices.Sorted(maps.Keys(heard)), true)
}

// place is where a fault is, of which the last name is kept.
var place = regexp.MustCompile(`^[^ ]*?(\w+)(?:\[#\])*: `)

// leaf is a member of an object somewhere in a tree.
type leaf struct {
	in  map[string]any
	key string
}

func treeOf(t *testing.T, text []byte) (top map[string]any) {
	t.Helper()
	if err := json.Unmarshal(text, &top); err != nil {
		t.Fatal(err)
	}
	return top
}

// leaves lists the members of all objects in a tree.
func leaves(v any) (all []leaf) {
	switch v := v.(type) {
	case map[string]any:
		for _, key := range slices.Sorted(maps.Keys(v)) {
			all = append(append(all, leaf{v, key}), leaves(v[key])...)
		}
	case []any:
		for _, e := range v {
			all = append(all, leaves(e)...)
		}
	}
	return all
}

// spoil changes something in a tree, somewhere.
func spoil(rng *rand.Rand, tree map[string]any) {
	all := leaves(tree)
	one, other := all[rng.IntN(len(all))], all[rng.IntN(len(all))]
	switch was := one.in[one.key]; rng.IntN(6) {
	case 0:
		delete(one.in, one.key)
	case 1:
		b, _ := json.Marshal(other.in[other.key]) // a copy: it may hold what it is put into
		var copied any
		json.Unmarshal(b, &copied)
		one.in[other.key] = copied
	case 2:
		one.in[one.key] = []any{-1, 0, 1, 3, 99, 201, 40000, 0.5}[rng.IntN(8)]
	case 3:
		one.in[one.key] = []any{"", "R3", "L101", "B", "plain", "purl", "x", "hold", "every"}[rng.IntN(9)]
	case 4:
		if list, ok := was.([]any); ok && len(list) > 0 {
			one.in[one.key] = append(list, list[0])
		} else {
			one.in[one.key] = []any{was}
		}
	default:
		if number, ok := was.(float64); ok {
			one.in[one.key] = -number
		} else {
			one.in[one.key] = map[string]any{one.key: was}
		}
	}
}
