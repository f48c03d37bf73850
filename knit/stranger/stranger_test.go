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
	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/knit/stranger"
	"vindel/knit/technique"
)

// obeyed lets the stranger knit a plan by its words, and holds every pass to what the plan means.
func obeyed(t *testing.T, name string, pl *pass.Plan) {
	t.Helper()
	if said := differs(pl, pl.String()); said != "" {
		t.Errorf("%s: %s\n%s", name, said, pl)
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
		key := fmt.Sprintf("%v %s tucks %v", g.Bed, pl.Piece.YarnName(g.Yarn), g.Action == machine.Tuck)
		for n := range g.Needles.All() {
			want[key] = append(want[key], int(n))
		}
	}
	for k, on := range made.Takes {
		key := fmt.Sprintf("%v %s tucks %v", machine.BedNo(k.Bed), k.Yarn, k.Tuck)
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
		if hasPlated(p) {
			continue
		}
		obeyed(t, name, pl)
	}
	knitted := 0
	for n := range chance.Cases(2000) {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 87)))
		for i := range p.Yarns {
			p.Yarns[i].Name = "yarn " + string(p.Yarns[i].ID)
		}
		r := check.Run(p)
		pl := r.Plan
		if finding.Stops(r.Findings) || hasPlated(p) {
			continue
		}
		if obeyed(t, fmt.Sprint("piece ", n), pl); t.Failed() {
			return
		}
		knitted += len(pl.Passes)
	}
	if knitted < chance.Share(15000, 2000) {
		t.Errorf("only %d passes", knitted)
	}
}

func hasPlated(p *piece.Piece) bool {
	return slices.ContainsFunc(p.Sections, func(s piece.Section) bool { return s.Technique.Name == "plated" })
}

// TestLeftOut: a step that is left out is noticed, of levers, threads and carriages; but for those few of a pattern
// lever before rows in which all needles stand so that it does what stood before, and of a feeder that nothing takes
// from. What is cut because nobody wants it again nobody misses; of stitches that are moved, and of what a card brings
// forward, she does not know enough.
func TestLeftOut(t *testing.T) {
	all, missed := map[string]int{}, map[string]int{}
	for n := range chance.Cases(600) {
		_, p := chance.Piece(t, rand.New(rand.NewPCG(uint64(n), 89)))
		for i := range p.Yarns {
			p.Yarns[i].Name = "yarn " + string(p.Yarns[i].ID)
		}
		r := check.Run(p)
		if finding.Stops(r.Findings) || hasPlated(p) {
			continue
		}
		lines := strings.Split(r.Plan.String(), "\n")
		for i, line := range lines {
			told, is := strings.CutPrefix(strings.TrimSpace(line), "- ")
			kind := moves.FindStringSubmatch(told)
			if !is || kind == nil || same.MatchString(told) || !strings.Contains(strings.Join(lines[i:], "\n"), " row ") {
				continue
			}
			all[kind[1]]++
			if differs(r.Plan, strings.Join(slices.Delete(slices.Clone(lines), i, i+1), "\n")) == "" {
				if missed[kind[1]]++; !few[kind[1]] || strings.Contains(told, "holding") {
					t.Errorf("piece %d: nobody misses %q\n%s", n, told, r.Plan)
				}
			}
		}
	}
	for _, kind := range []string{"Set the cams", "Set the second bed", "Thread", "Take", "Park the", "Bring the"} {
		if all[kind] < chance.Share(50, 600) {
			t.Errorf("%s: only %d", kind, all[kind])
		}
		if 20*missed[kind] > all[kind] {
			t.Errorf("%s: %d of %d are not missed", kind, missed[kind], all[kind])
		}
	}
}

var (
	few   = map[string]bool{"Set the cams": true, "Take": true}
	moves = regexp.MustCompile(`^(Set the cams|Set the second bed|Set the purl carriage|Thread|Take|Park the|Bring the)\b`)
	same  = regexp.MustCompile(`: (plain|no needle|purl) \(|and cut it$|^Take (the|\d)|in the (knit|purl) carriage$|of the (knit|purl) carriage$`)
)

// differs is what the stranger finds by a text, "" where she knits what the plan means.
func differs(pl *pass.Plan, text string) string {
	m := &pl.Piece.Machine
	k := stranger.Knitter{Hand: m.School == machine.ByHand, TucksAgain: m.ResetEach}
	made, err := k.Knit(text)
	if err != nil {
		return err.Error()
	}
	for i := range made {
		if said := unlike(pl, i, made[i]); said != "" {
			return said
		}
	}
	return ""
}
