package stranger_test

import (
	"fmt"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/demo/pieces"
	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/stranger"
	"vindel/knit/technique"
)

// obeyed lets the stranger knit a plan by its words, and holds every pass to what the plan means.
func obeyed(t *testing.T, name string, f *fabric.Fabric) {
	t.Helper()
	if said := differs(f, f.Plan.String(), 0); said != "" {
		t.Errorf("%s: %s\n%s", name, said, f.Plan)
	}
}

// unlike is how a pass came out otherwise than the plan means pass i, "" where it did not.
func unlike(pl *pass.Plan, i int, made stranger.Pass) string {
	p := &pl.Passes[i]
	want, got := map[string][]int{}, map[string][]int{}
	for g := range p.Groups() {
		if !g.Action.Takes() || p.Free && !p.Main().Setting.Lays || p.Carriage == machine.LaceCarriage || g.Yarn == 0 {
			continue
		}
		yarns := []string{pl.Piece.YarnName(g.Yarn)}
		if g.Under != 0 {
			yarns = append(yarns, pl.Piece.YarnName(g.Under))
			slices.Sort(yarns)
		}
		key := fmt.Sprintf("%v %s tucks %v", g.Bed, strings.Join(yarns, "+"), g.Action == machine.Tuck)
		for n := range g.Needles.All() {
			want[key] = append(want[key], int(n))
		}
	}
	for k, on := range made.Takes {
		yarns := strings.Split(k.Yarn, "+")
		slices.Sort(yarns)
		key := fmt.Sprintf("%v %s tucks %v", machine.BedNo(k.Bed), strings.Join(yarns, "+"), k.Tuck)
		got[key] = append(got[key], on...)
	}
	for _, list := range []map[string][]int{got, want} {
		for key := range list {
			slices.Sort(list[key])
		}
	}
	if fmt.Sprint(got) != fmt.Sprint(want) || made.Right != (p.Dir == machine.Right) {
		return fmt.Sprintf("pass %d: by the words %v\nas meant %v", i+1, got, want)
	}
	return ""
}

// TestObeyed: the stranger knits what the plan means, by its words alone.
func TestObeyed(t *testing.T) {
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(p)
		obeyed(t, name, technique.Prove(pl))
	}
	knitted, byPrint := 0, 0
	for n := range chance.Cases(6000) {
		draw := chance.Piece
		if n%3 == 2 {
			draw = chance.Motif
		}
		doc, p := draw(t, rand.New(rand.NewPCG(uint64(n), 87)))
		if n%4 == 0 {
			p = owned(t, doc, n%8 == 4)
		}
		for i := range p.Yarns {
			p.Yarns[i].Name = "yarn " + string(p.Yarns[i].ID)
		}
		r := check.Run(p)
		pl := r.Plan
		if finding.Stops(r.Findings) {
			continue
		}
		if obeyed(t, fmt.Sprint("piece ", n), r.Fabric); t.Failed() && n > 150 {
			return
		}
		if knitted += len(pl.Passes); len(prints(pl)) > 0 {
			byPrint += len(pl.Passes)
		}
	}
	if knitted < chance.Share(45000, 6000) || byPrint < chance.Share(15000, 6000) {
		t.Errorf("only %d passes, %d of them by a print", knitted, byPrint)
	}
}

// owned is a piece on a machine of somebody's own: words of hers, one lever of the knit carriage for both ways, and rows
// of one colour whose yarn the empty carriage fetches; same: one word for plain and two-colour.
func owned(t *testing.T, doc *edit.Document, same bool) *piece.Piece {
	t.Helper()
	words, sets, positions := map[string]any{}, map[string]any{}, []string{}
	for i, key := range []string{"plain", "slip", "tuck-rest", "tuck-fwd", "two-colour", "free", "weave"} {
		positions = append(positions, string(rune('p'+i)))
		words[key], sets[key] = "at "+positions[i], positions[i]
	}
	if same {
		words["two-colour"], sets["two-colour"] = words["plain"], sets["plain"]
	}
	lever := map[string]any{"name": "the lever", "shape": "lever", "at": []float64{0.5, 0.5}, "acts": "both",
		"positions": positions, "sets": sets}
	changes := []edit.Change{piecetest.Set("/machine/words", words), piecetest.Set("/machine/controls", []any{lever}),
		piecetest.Set(edit.Option("far_yarn"), []string{"slip", "hold"}[len(doc.JSON())%2])}
	if _, ok := doc.Get(edit.Member("options")); !ok {
		changes = append([]edit.Change{piecetest.Set(edit.Member("options"), map[string]any{})}, changes...)
	}
	if _, err := doc.Apply(changes); err != nil {
		t.Fatal(err)
	}
	p, err := technique.Piece(doc)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// TestEveryMachine: she knits every technique on every shipped machine that can, from every start to every finish.
func TestEveryMachine(t *testing.T) {
	area := func(chart string) []any { return []any{map[string]any{"chart": chart}} }
	sections := []map[string]any{
		{"technique": "two-colour", "rows": 4, "size": "6", "areas": area("c")},
		{"technique": "plain", "rows": 3, "second": "every"}, {"technique": "plain", "rows": 3, "rib": "1x1"},
		{"technique": "lace", "rows": 2, "areas": area("l")}, {"technique": "slip", "rows": 3, "areas": area("s")},
		{"technique": "tuck", "rows": 3, "areas": area("t")}, {"technique": "texture", "rows": 3, "areas": area("p")},
		{"technique": "separated", "rows": 2, "areas": area("c")}, {"technique": "plated", "rows": 3, "areas": area("c")},
		{"technique": "weave", "rows": 3, "weft": "C", "areas": area("w")},
		{"technique": "intarsia", "rows": 3, "areas": area("c")},
		{"technique": "recipe", "recipe": "yarn A\npass 2\npass 2: tuck place 4\npass 2"},
	}
	stitch := func(name string, rows ...string) map[string]any {
		return map[string]any{"side": "purl", "rows": rows,
			"legend": map[string]any{".": map[string]any{}, "#": map[string]any{"stitch": name}}}
	}
	charts := map[string]any{"s": stitch("slip", "#...", ".#.."), "t": stitch("tuck", "#...", "...."),
		"p": stitch("purl", "##..", ".##."), "w": stitch("weave", "#.#.", ".#.#"),
		"l": map[string]any{"side": "knit", "rows": []string{"./o.", "...."}, "legend": map[string]any{}}}
	knitted := map[string]int{}
	for _, id := range machine.IDs() {
		for b, begin := range piece.BeginWays {
			for e, end := range piece.EndWays {
				for s, section := range sections {
					if s%2 != (b+e)%2 && chance.Cases(1000) < 1000 {
						continue
					}
					edits := []edit.Change{piecetest.Set("/begin", map[string]any{"way": begin}),
						piecetest.Set("/end", map[string]any{"way": end}), piecetest.Set("/sections", []any{section,
							map[string]any{"technique": "plain", "rows": 3, "yarn": "B"}}),
						piecetest.Set("/start", []string{"left", "right"}[(e+s)%2])}
					if begin == "waste" {
						edits[0] = piecetest.Set("/begin", map[string]any{"way": begin, "yarn": "D"})
					}
					if end == "waste" {
						edits[1] = piecetest.Set("/end", map[string]any{"way": end, "yarn": "D"})
					}
					for name, c := range charts {
						edits = append(edits, piecetest.Set(edit.Chart(name), c))
					}
					doc := piecetest.Document(t, id, "L6", "R6", []string{"#..#", ".##."}, edits...)
					p, err := technique.Piece(doc)
					if err != nil { // on two beds alone
						continue
					}
					if r := check.Run(p); !finding.Stops(r.Findings) {
						knitted[fmt.Sprint(section["technique"])]++
						obeyed(t, fmt.Sprintf("%s, %s, %s, %v", id, begin, end, section["technique"]), r.Fabric)
					}
				}
			}
		}
	}
	for _, s := range sections {
		if n := knitted[fmt.Sprint(s["technique"])]; n < 16 {
			t.Errorf("%v: only %d", s["technique"], n)
		}
	}
}

// wrongly are how a step is not done as it is said.
var wrongly = []struct {
	name string
	do   func(lines []string, i int) (text string, forgets int)
}{
	{"left out", func(lines []string, i int) (string, int) {
		return strings.Join(slices.Delete(slices.Clone(lines), i, i+1), "\n"), 0
	}},
	{"a pass later", func(lines []string, i int) (string, int) {
		late := slices.Delete(slices.Clone(lines), i, i+1)
		for j := i; j < len(late); j++ {
			if aPass.MatchString(late[j]) {
				return strings.Join(slices.Insert(late, j+1, lines[i]), "\n"), 0
			}
		}
		return "", 0
	}},
	{"short by a needle", func(lines []string, i int) (string, int) {
		if !needles.MatchString(lines[i]) {
			return "", 0
		}
		return strings.Join(lines, "\n"), i + 1
	}},
}

var (
	aPass   = regexp.MustCompile(`^ *\d+  [←→]  row`)
	needles = regexp.MustCompile(`^ *- (Bring|Put|Cast on|Move \d|Push)\b.*[LR]\d`)
	kinds   = regexp.MustCompile(`^(Set the (cams|second bed|purl carriage|lace carriage|row counter|two beds)|Bring back|` +
		`Thread|Take yarn|Park the|Lift the|Bring the|Bring|Put [LR\d].* in full hold|Put .* at rest|Put .* out of work|` +
		`Cast on|Move \d|Move the outer|Move the stitch|Move the handle|Stitch size|Second bed: stitch size|` +
		`Turn the selecting|Turn the end-needle|Turn the lace carriage's|Turn the console's|Put in the card|Set the card back|` +
		`Set the program|Sweep|Push|Hang \d|Lay yarn|Cut yarn)`)
)

// TestNotAsSaid: a step that is left out, done a pass later, or short by a needle, is noticed: of needles, stitches,
// levers, dials, threads, carriages, the counter and the handle. So many in a hundred of each are not, and why.
func TestNotAsSaid(t *testing.T) {
	all, missed := map[string]int{}, map[string]int{}
	for n := range chance.Cases(600) {
		draw := chance.Piece
		if n%3 == 2 {
			draw = chance.Motif
		}
		_, p := draw(t, rand.New(rand.NewPCG(uint64(n), 89)))
		for i := range p.Yarns {
			p.Yarns[i].Name = "yarn " + string(p.Yarns[i].ID)
		}
		r := check.Run(p)
		if finding.Stops(r.Findings) {
			continue
		}
		lines := strings.Split(r.Plan.String(), "\n")
		for i, line := range lines {
			told, is := strings.CutPrefix(strings.TrimSpace(line), "- ")
			kind := kinds.FindString(told)
			if !is || kind == "" || !strings.Contains(strings.Join(lines[i:], "\n"), " row ") {
				continue
			}
			if kind = digits.ReplaceAllString(kind, "#"); kind == "Bring" && p.Machine.School == machine.ByHand {
				kind = "Bring by hand"
			}
			for _, w := range wrongly {
				text, forgets := w.do(lines, i)
				if text == "" {
					continue
				}
				key := w.name + ": " + kind
				all[key]++
				if differs(r.Fabric, text, forgets) == "" {
					missed[key]++
				}
			}
		}
	}
	for key, n := range all {
		_, kind, _ := strings.Cut(key, ": ")
		if most := unmissed[kind]; 100*missed[key] > most.percent*n && (n >= 25 || most.percent == 0) {
			t.Errorf("%d of %d are not missed: %s", missed[key], n, key)
		}
	}
	for _, kind := range []string{"Set the cams", "Set the row counter", "Thread", "Take yarn", "Park the", "Bring the",
		"Bring by hand", "Cast on", "Stitch size"} {
		if n := all["left out: "+kind]; n < chance.Share(40, 600) {
			t.Errorf("%s: only %d", kind, n)
		}
	}
}

// unmissed is how many in a hundred steps of a kind nobody need miss, and why.
var unmissed = map[string]struct {
	percent int
	why     string
}{
	"Bring back":               {80, "before an empty carriage, or the last stitches come off"},
	"Bring":                    {20, "in recipes, of whose loops she does not know"},
	"Bring by hand":            {2, "likewise"},
	"Cast on":                  {30, "before an empty carriage, a pass later is as good; a needle that a recipe then holds"},
	"Hang #":                   {100, "before an empty carriage, a pass later is as good"},
	"Lay yarn":                 {100, "of loops in recipes she does not know"},
	"Move #":                   {20, "likewise; and what takes the second bed's stitches before the end"},
	"Move the handle":          {100, "before stitches go across: where the needles face each other is named"},
	"Put # full hold":          {10, "a needle that the card leaves at rest under slipping cams"},
	"Put # of work":            {100, "of the second bed, whose carriage knits no needle then"},
	"Put # rest":               {10, "what was in hold, under cams that slip it"},
	"Second bed: stitch size":  {40, "before an empty carriage, or a row in which that bed is passed over"},
	"Set the cams":             {6, "weaving knits every needle as plain does; rows in which all needles stand alike"},
	"Set the lace carriage":    {100, "before a pass that only selects, a pass later is as good"},
	"Set the row counter":      {5, "before an empty carriage, a pass later is as good"},
	"Set the second bed":       {40, "to no needle, before rows in which none is in work there"},
	"Stitch size":              {18, "before an empty carriage; of the cast-on alone"},
	"Take yarn":                {10, "before an empty carriage; of a bobbin that nobody lays again"},
	"Thread":                   {20, "in recipes, of whose loops she does not know"},
	"Turn the selecting":       {40, "before a line without holes, or the last pass"},
	"Turn the end-needle":      {65, "where the line brings both ends itself"},
	"Turn the lace carriage's": {100, "where the line leaves both ends at rest"},
	"Turn the console's":       {40, "of a drawing that is its own mirror image; before the last pass"},
	"Sweep":                    {25, "of a line without holes"},
	"Push":                     {1, "of a needle that goes into hold, or before an empty carriage"},
	"Put in the card":          {1, "in front of a free pass"},
}

var digits = regexp.MustCompile(`[LR]?\d.*? (at|in|out)|\d+`)

// differs is what the stranger finds by a text, "" where she knits what the plan means.
func differs(f *fabric.Fabric, text string, forgets int) string {
	return by(f, text, forgets, prints(f.Plan))
}

// by is differs with these cards and sheets.
func by(f *fabric.Fabric, text string, forgets int, sheets map[int]string) string {
	pl := f.Plan
	m := &pl.Piece.Machine
	k := stranger.Knitter{Hand: m.School == machine.ByHand, TucksAgain: m.ResetEach, Passed: m.HeldPasses,
		Counts: m.EmptyCounts, Switched: m.Selects(), Ahead: m.School == machine.Preselect, Forgets: forgets,
		Stand: map[string]bool{}}
	if m.Lace == "separate" {
		k.Stand["lace"] = false
	}
	if len(m.Controls) > 0 {
		k.OneLever, k.OneWord = "at ", m.Words["two-colour"] == m.Words["plain"]
	}
	if m.PurlCarriage {
		k.Stand["purl"] = true
	}
	k.Prints, k.Origin, k.Offset = sheets, int(m.CardOrigin), m.Offset
	k.Pairs, k.LaceAhead, k.PurlAhead = m.School == machine.Pairs, m.Lace == "separate", m.PurlAhead
	made, err := k.Knit(text)
	if err != nil {
		return err.Error()
	}
	bed, plain := fabric.Begin(pl), true
	for i := range made {
		if said := unlike(pl, i, made[i]); said != "" {
			return said
		}
		bed.Next()
		p := &pl.Passes[i]
		said := stands(p, &made[i])
		if plain = plain && p.Recipe == 0; plain && said == "" { // what a recipe does to loops she does not know
			work, _, after := bed.Bed()
			if said = hangs(made[i].After, work, after); said == "" && f.Stands != nil {
				said = hangs(made[i].Before, p.Main().AtWork, f.Stands[i])
			}
		}
		if said != "" {
			return fmt.Sprintf("pass %d: %s", i+1, said)
		}
	}
	return ""
}

// prints is what is printed of a plan's cards, or its key-in sheets; nil: nothing can be.
func prints(pl *pass.Plan) map[int]string {
	list := map[int]string{}
	for _, section := range card.Sections(pl) {
		if pl.Piece.Machine.HasCard() {
			c, found := card.Make(pl, section)
			if finding.Stops(found) {
				return nil // no card can hold it
			}
			list[section] = c.Text()
		} else {
			list[section] = card.MakeProgram(pl, section).Text()
		}
	}
	return list
}

// hangs is how loops hang otherwise than on the simulated bed, where those needles are at work.
func hangs(got stranger.Hangs, work machine.Set, want fabric.Stand) string {
	for _, c := range []struct {
		what string
		got  []int
		want machine.Set
	}{{"empty", got.Empty, want.Empty}, {"doubled", got.Doubled, want.Doubled}} {
		got := slices.DeleteFunc(c.got, func(n int) bool { return !work.Has(machine.Needle(n)) })
		var want []int
		for n := range c.want.And(work).All() {
			want = append(want, int(n))
		}
		if !slices.Equal(got, want) {
			return fmt.Sprintf("%s are %v, and should be %v", c.what, got, want)
		}
	}
	return ""
}

// stands is how dials and handle stand otherwise in a pass than the plan has them.
func stands(p *pass.Pass, made *stranger.Pass) string {
	if p.Carriage == machine.LaceCarriage {
		return ""
	}
	for bed, half := range p.Beds {
		if !half.AtWork.Empty() && half.Size != "" && half.Size != made.Sizes[bed] && !p.Free {
			return fmt.Sprintf("the stitch size of bed %d is %q, and should be %q", bed, made.Sizes[bed], half.Size)
		}
	}
	if want := fmt.Sprintf("%d %v", p.Rack, p.Pitch); !p.Second().AtWork.Empty() && made.Rack != want {
		return fmt.Sprintf("the handle is at %q, and should be at %q", made.Rack, want)
	}
	return ""
}

// TestHoles: a hole that is left out of a card, or one too many, is noticed wherever it changes the fabric.
func TestHoles(t *testing.T) {
	rng := chance.Rand(t, 93, 94)
	tried, changed := 0, 0
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(p)
		if !p.Machine.HasCard() || pl.Stopped.Row > 0 || len(pl.Passes) > 600 || prints(pl) == nil {
			continue
		}
		f := technique.Prove(pl)
		for _, section := range card.Sections(pl) {
			made, _ := card.Make(pl, section)
			for range chance.Cases(40) {
				line, x := rng.IntN(made.Lines), rng.IntN(made.Holes.W)
				held := card.ReadBack(pl, section)
				run := fabric.Begin(pl)
				run.Holds(section, func(l int, on card.Turned) machine.Set {
					brought := held(l, on)
					for n := machine.Needle(-machine.MaxBed / 2); l == line+1 && n < machine.MaxBed/2; n++ {
						if (int(n-p.Machine.CardOrigin)%made.Holes.W+made.Holes.W)%made.Holes.W == x {
							if brought.Has(n) {
								brought.Remove(n)
							} else {
								brought.Add(n)
							}
						}
					}
					return brought
				})
				for range pl.Passes {
					run.Next()
				}
				other := run.End()
				tried++
				if fmt.Sprint(other.Draw(chart.KnitSide), other.Draw(chart.PurlSide)) == fmt.Sprint(f.Draw(chart.KnitSide),
					f.Draw(chart.PurlSide)) {
					continue
				}
				changed++
				wrong, _ := card.Make(pl, section)
				for y := line; y < wrong.Holes.H-wrong.Blank; y += wrong.Lines {
					wrong.Holes.Set(x, y, 1-wrong.Holes.At(x, y))
				}
				sheets := prints(pl)
				sheets[section] = wrong.Text()
				if by(f, pl.String(), 0, sheets) == "" {
					t.Errorf("%s, section %d: line %d, column %d is wrong, and nobody notices", name, section, line+1, x+1)
				}
			}
		}
	}
	t.Logf("%d tried, %d change the fabric", tried, changed)
	if changed < tried/4 || changed == 0 {
		t.Errorf("%d of %d change the fabric", changed, tried)
	}
}
