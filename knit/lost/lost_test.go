package lost_test

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vindel/chance"
	"vindel/demo/pieces"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/lost"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piecetest"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// mostQuestions are those after which the pass is known.
const mostQuestions = 5

// seen is what she sees after each number of passes of a plan, read off the simulated bed and counted with her, and
// nothing of it taken from the plan's own halves: a value for every fact but the window's number.
func seen(pl *pass.Plan) []lost.Standing {
	r, counter := fabric.Begin(pl), 0
	all := []lost.Standing{{lost.Counter: "0"}}
	if len(pl.Passes) > 0 {
		all[0][lost.Side] = r.Stands(pl.Passes[0].Carriage).String()
	}
	label := func(on machine.Set) string {
		if on.Empty() {
			return "none"
		}
		return on.First().String()
	}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		for _, st := range p.Before {
			if st, ok := st.Step.(step.Counter); ok {
				counter = st.To
			}
		}
		purl := p.Carriage == machine.PurlCarriage
		if r.Next(); !p.Free && !p.Main().Setting.Moves && (p.Carriage == machine.KnitCarriage || purl) {
			counter++
		}
		work, hold, hangs := r.Bed()
		var yarns []string
		for k, y := range r.Feeders() {
			if y != 0 {
				yarns = append(yarns, pl.Piece.YarnName(y))
			} else if k < pl.Piece.Machine.Feeders {
				yarns = append(yarns, "none")
			}
		}
		all = append(all, lost.Standing{lost.Side: r.Stands(p.Carriage).String(), lost.Carriage: p.Carriage.String(),
			lost.Counter: strconv.Itoa(counter), lost.Yarn: strings.Join(yarns, " + "),
			lost.Forward: strconv.Itoa(r.Forward().Len()), lost.First: label(r.Forward()),
			lost.Held: strconv.Itoa(hold.Len()), lost.AtWork: strconv.Itoa(work.Len()),
			lost.Edges: label(work) + " to " + work.Last().String(),
			lost.Empty: strconv.Itoa(hangs.Empty.Len()), lost.Hole: label(hangs.Empty),
			lost.Doubled: strconv.Itoa(hangs.Doubled.Len())})
	}
	return all
}

// TestStandings: whatever is said to be seen after a pass is what the simulated bed shows then; and the window's
// number is not asked for where hands put a card in before the next pass.
func TestStandings(t *testing.T) {
	told := map[lost.Fact]int{}
	made := pieces.All()
	made["tucked by hand"] = piecetest.Document(t, "hand-chunky", "L6", "R6", []string{"t.t.t.", "t.t.t.", "......"},
		piecetest.Set(edit.Chart("c").To("legend"), map[string]any{".": map[string]any{"stitch": "knit"},
			"t": map[string]any{"stitch": "tuck"}}), piecetest.Set(edit.Section(1).To("technique"), "tuck"),
		piecetest.Before(3, "A")).JSON()
	for name, data := range made {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		r := check.Run(p)
		all, bed := lost.Standings(r.Fabric), seen(r.Plan)
		for n := range all {
			for _, f := range lost.Facts {
				if all[n][f] == "" || bed[n][f] == "" {
					continue
				}
				if told[f]++; all[n][f] != bed[n][f] {
					t.Errorf("%s, %d knitted: %s is said to be %s, and is %s", name, n, f, all[n][f], bed[n][f])
				}
			}
			if n < len(r.Plan.Passes) && all[n][lost.Window] != "" &&
				slices.ContainsFunc(r.Plan.Passes[n].Before, func(st pass.Step) bool { return st.Do() == step.DoSetCard }) {
				t.Errorf("%s, %d knitted: number %s is asked for, and the card goes in only then", name, n,
					all[n][lost.Window])
			}
		}
	}
	for _, f := range lost.Facts {
		if f != lost.Window && told[f] < 100 {
			t.Errorf("%s is told %d times", f, told[f])
		}
	}
}

// goes answers questions as the bed shows it after n passes, but for what is slipped, until nothing more is asked.
func goes(all []lost.Standing, truth, slip lost.Standing) (p lost.Found, told []lost.Answer) {
	var unknown []lost.Fact
	for p = lost.Find(all, nil, nil); p.Ask != nil; p = lost.Find(all, told, unknown) {
		is, sees := slip[p.Ask.Fact]
		if !sees {
			is = truth[p.Ask.Fact]
		}
		if is == "" {
			unknown = append(unknown, p.Ask.Fact)
		} else {
			told = append(told, lost.Answer{Fact: p.Ask.Fact, Value: is})
		}
	}
	return p, told
}

// truths is what the simulated bed shows after each number of passes, and of the card's window what is said of it.
func truths(pl *pass.Plan, all []lost.Standing) []lost.Standing {
	bed := seen(pl)
	for n := range bed {
		bed[n][lost.Window] = all[n][lost.Window]
	}
	return bed
}

// TestFound: from answers that are true of the simulated bed every pass of Larkmoor and of random pieces is found, in
// three questions on average: one is left, or those that are left look the same in everything that can be seen. With
// one answer that is off by one or two, or another word, a wrong pass is hardly ever told for certain where anything
// besides that answer is otherwise there; where nothing is, it is said that this answer alone knows.
func TestFound(t *testing.T) {
	rng := chance.Rand(t, 31, 15)
	asked, passes, slips, noticed, certain := 0, 0, 0, 0, 0
	try := func(name string, pl *pass.Plan, all []lost.Standing) {
		bed := truths(pl, all)
		for n := rng.IntN(4); n < len(bed); n += 1 + len(bed)/40 {
			p, told := goes(all, bed[n], nil)
			asked, passes = asked+len(told), passes+1
			if !slices.Contains(p.Fits, n) || p.Slip || len(told) > mostQuestions {
				t.Fatalf("%s, %d knitted: %+v after %v", name, n, p, told)
			}
			for _, at := range p.Fits {
				if !lost.Same(all[at], all[n]) {
					t.Fatalf("%s: %d knitted looks otherwise than %d", name, at, n)
				}
			}
			for _, a := range told {
				for _, wrong := range wrongly(all, a) {
					p, said := goes(all, bed[n], lost.Standing{a.Fact: wrong})
					if len(said) == 0 || p.Slip || p.Fits == nil || slices.Contains(p.Fits, n) {
						slips, noticed = slips+1, noticed+1
						continue
					}
					apart := false // anything but that answer shows that it is not there
					for _, f := range lost.Facts {
						v, is := all[p.Fits[0]][f], bed[n][f]
						apart = apart || f != a.Fact && v != "" && is != "" && v != is
					}
					if apart {
						slips++
					} else if certain++; a.Fact == lost.Counter && len(p.Beside) == 0 {
						t.Fatalf("%s, %d knitted, %s said to be %s: told for certain that it is %d", name, n, a.Fact, wrong,
							p.Fits)
					}
				}
			}
		}
	}
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		r := check.Run(p)
		if all := lost.Standings(r.Fabric); len(all) < 600 || chance.Soaks() {
			try(name, r.Plan, all)
		}
	}
	for i := range chance.Cases(400) {
		_, p := chance.Piece(t, rng)
		if r := check.Run(p); !r.Stops() { // else the bed may stand otherwise than planned
			try(fmt.Sprint("random ", i), r.Plan, lost.Standings(r.Fabric))
		}
	}
	t.Logf("%d passes, %.2f questions each; %d of %d slips noticed, %d that nothing else would show", passes,
		float64(asked)/float64(passes), noticed, slips, certain)
	if asked > 3*passes || noticed*100 < slips*95 {
		t.Error("too many questions, or too few slips that are noticed")
	}
}

// wrongly is what may be said instead of a true answer: numbers one or two off, or another word that is there.
func wrongly(all []lost.Standing, a lost.Answer) (list []string) {
	if n, err := strconv.Atoi(a.Value); err == nil {
		for _, by := range []int{-2, -1, 1, 2} {
			list = append(list, strconv.Itoa(n+by))
		}
		return list
	}
	for _, s := range all {
		if v := s[a.Fact]; v != "" && v != a.Value && !slices.Contains(list, v) && len(list) < 4 {
			list = append(list, v)
		}
	}
	return list
}

// TestContradiction: where answers cannot all be true no pass fits, and it is said which may be wrong.
func TestContradiction(t *testing.T) {
	p := piecetest.New(t, "card-preselect", "L8", "R8", []string{"..##", "#..#", ".##."}, piecetest.Before(3, "A"))
	all := lost.Standings(check.Run(p).Fabric)
	told := []lost.Answer{{Fact: lost.Counter, Value: all[4][lost.Counter]}, {Fact: lost.Side,
		Value: all[3][lost.Side]}, {Fact: lost.Yarn, Value: all[4][lost.Yarn]}}
	if fits := lost.Fits(all, told); len(fits) != 0 {
		t.Fatalf("%v fit", fits)
	}
	if p := lost.Find(all, told, nil); !p.Slip || !slices.Contains(p.Fits, 4) {
		t.Errorf("one of them is a slip: %+v", p)
	}
	if p := lost.Find(all, append(told, lost.Answer{Fact: lost.Edges, Value: "L3 to R5"}), nil); p.Fits != nil {
		t.Errorf("two are otherwise: %+v", p)
	}
	// A number three off is no slip while one two off would explain it, and else is.
	near := []lost.Standing{{lost.Side: "left", lost.Counter: "3"}, {lost.Side: "left", lost.Counter: "4"},
		{lost.Side: "right", lost.Counter: "5"}}
	for counter, fits := range map[string][]int{"6": {2}, "1": {0}, "0": {0, 1}} {
		p := lost.Find(near, []lost.Answer{{Fact: lost.Side, Value: "left"}, {Fact: lost.Counter, Value: counter}}, nil)
		if !p.Slip || !slices.Equal(p.Fits, fits) && counter != "6" {
			t.Errorf("%s on the counter: %+v", counter, p)
		}
	}
	// Of questions that tell as much the quicker look is asked.
	even := []lost.Standing{{lost.Side: "left", lost.Counter: "1", lost.Forward: "4"}, {lost.Side: "right",
		lost.Counter: "2", lost.Forward: "5"}}
	if q := lost.Next(even, []int{0, 1}, nil, nil); q == nil || q.Fact != lost.Side {
		t.Errorf("side, counter and needles tell as much; asked first: %v", q)
	}
	// The most telling question comes first: no other leaves fewer.
	first := lost.Next(all, lost.Fits(all, nil), nil, nil)
	for _, fact := range lost.Facts {
		var others []lost.Fact
		for _, f := range lost.Facts {
			if f != fact {
				others = append(others, f)
			}
		}
		if q := lost.Next(all, lost.Fits(all, nil), nil, others); q != nil && q.Left < first.Left {
			t.Errorf("%s is asked and leaves %d; %s leaves %d", first.Fact, first.Left, fact, q.Left)
		}
	}
	// What cannot be told of a standing agrees with anything.
	two := []lost.Standing{{lost.Counter: "1"}, {lost.Counter: "1", lost.Window: "3"}, {lost.Counter: "1",
		lost.Window: "4"}}
	if fits := lost.Fits(two, []lost.Answer{{Fact: lost.Window, Value: "3"}}); len(fits) != 2 {
		t.Errorf("number 3 in the window: %v fit", fits)
	}
	for _, fact := range lost.Facts {
		if fact.Words() == "" || (lost.Answer{Fact: fact, Value: "x"}).String() == "x" {
			t.Errorf("%s has no words", fact)
		}
	}
}

// TestCountFrom: there are as many rows to be counted as some needle takes yarn on the simulated bed, from the pass that
// is named up to the needles, of a divided piece in the part that hangs there; at most twice as many where needles are
// slipped by turns.
func TestCountFrom(t *testing.T) {
	said := regexp.MustCompile(`before pass (\d+), and from there up to the needles there must be (\d+) row`)
	from, divided := 0, 0
	for name, data := range pieces.All() {
		p, err := technique.Read(data)
		if err != nil {
			t.Fatal(err)
		}
		r := check.Run(p)
		pl := r.Plan
		for n := 1; n <= len(pl.Passes) && n < 600; n++ {
			m := said.FindStringSubmatch(lost.CountFrom(pl, n))
			if m == nil {
				continue
			}
			at, _ := strconv.Atoi(m[1])
			took := map[machine.Needle]int{} // by needle: how often it takes yarn on the simulated bed
			for i := at - 1; i < n; i++ {
				for needle := range r.Fabric.Took[i][0].Or(r.Fabric.Took[i][1]).All() {
					took[needle]++
				}
			}
			most := 0
			for _, times := range took {
				most = max(most, times)
			}
			if most == 0 {
				continue // bobbins laid by hand
			}
			if from++; pl.Parts != nil {
				divided++
			}
			if told, _ := strconv.Atoi(m[2]); told < most || told > most && told > 2*most {
				t.Errorf("%s, %d knitted: %s rows from pass %d on, and a needle took yarn %d times", name, n, m[2], at,
					most)
			}
		}
	}
	if from < 500 || divided < 20 {
		t.Errorf("%d places, %d of divided pieces", from, divided)
	}
}
