package link_test

import (
	"bufio"
	"flag"
	"fmt"
	"net"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"vindel/demo/pieces"
	"vindel/knit/beside"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
	"vindel/link"
	"vindel/link/linktest"
)

// some are a lace piece, a hand two-colour piece, a shaped piece and a recipe of Larkmoor.
var some = map[string]string{"lace": "9-screen.json", "tuck": "4-curtain.json", "two beds": "12-mapcase.json",
	"shaped lace": "16-lantern.json", "hand two-colour": "2-cap.json",
	"shaped": "15-mittenback.json", "two-colour on a card": "3-cushion.json"}

func read(t *testing.T, data []byte) *pass.Plan {
	t.Helper()
	p, err := technique.Read(data)
	if err != nil {
		t.Fatal(err)
	}
	return plan.Make(p)
}

// follow knits a piece over the wire to its end, as the page does: hands are done where they are due, and
// what is otherwise is put right by the words alone. It gives what was otherwise, by kind.
func follow(t *testing.T, m *link.Machine, addr string, pl *pass.Plan, data []byte) map[link.Otherwise]int {
	t.Helper()
	seen := map[link.Otherwise]int{}
	hands := func(do []string) {
		if !m.Hands {
			linktest.Obey(t, m, pl, do)
		}
	}
	i, waited := 0, 0
	connect := func(lost bool) *link.Desk {
		k, err := link.Dial(t.Context(), addr, pl.Piece.Machine.Bed, nil)
		if err != nil {
			t.Fatal(err)
		}
		state, has, err := k.State(t.Context(), pl)
		if err == nil && !has {
			err = k.Send(t.Context(), pl, data)
		}
		if err != nil {
			t.Fatal(err)
		}
		v := link.Found(pl, i, state, has, lost)
		if v.What == link.Elsewhere {
			t.Fatalf("it stands at %+v, and pass %d comes next: %+v", state, i+1, pl.Passes[max(i-1, 0)])
		}
		if !v.Right() {
			seen[v.What]++
			hands(v.Do)
			i = v.Next
		}
		if err := k.At(pl, i); err != nil {
			t.Fatal(err)
		}
		return k
	}
	k := connect(false)
	defer func() { k.Close() }()
	for i < len(pl.Passes) {
		upto := i + beside.UpTo(pl, i)
		if err := k.Go(i, upto); err != nil {
			k = connect(true)
			continue
		}
		for i < upto {
			var msg link.Message
			select {
			case msg = <-k.Reports():
			case <-k.Closed():
				k = connect(true)
				upto = i
				continue
			case <-time.After(100 * time.Millisecond): // it may wait for hands, and the last pass was not heard
				state, has, err := k.State(t.Context(), pl)
				select {
				case msg = <-k.Reports(): // it was only slow: what it told before its state is here by now
				default:
					if v := link.Found(pl, i, state, has, true); v.What == link.Elsewhere {
						t.Fatalf("it stands at %+v, and pass %d comes next: line %d", state, i+1, pl.Passes[i].Line)
					} else if err == nil && !v.Right() {
						seen[v.What]++
						hands(v.Do)
						i, upto = v.Next, v.Next
						k.At(pl, i)
					} else if waited++; err == nil && waited > 50 {
						t.Fatalf("no report of pass %d", i+1)
					}
					continue
				}
			}
			r, ok := k.Report(msg)
			if !ok {
				t.Fatalf("%v", msg)
			}
			v := link.Judge(pl, i, r)
			seen[v.What]++
			if !v.Right() {
				k.Halt()
				if v.Words == "" || len(v.Do) == 0 {
					t.Fatalf("%+v says nothing", v)
				}
				hands(v.Do)
				upto = v.Next
				if v.Next < len(pl.Passes) {
					k.At(pl, v.Next)
				}
			}
			i = v.Next
			k.Heard(msg)
		}
	}
	return seen
}

// TestKnittedOverTheWire: pieces of Larkmoor are knitted to the end over the wire with every fault once, at
// places that change; what the desk says leads back each time, and the fabric is what was planned.
func TestKnittedOverTheWire(t *testing.T) {
	all := map[string][]byte{"recipe on a card": pieces.All()["wind-streamer"]}
	for name, file := range some {
		data, err := pieces.Files.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		all[name] = data
	}
	for name, data := range all {
		for round := range 3 {
			t.Run(fmt.Sprint(name, " ", round), func(t *testing.T) {
				pl := read(t, data)
				if len(pl.Passes) > 1000 { // of long ones the beginning
					pl = mistake.Until(pl, 400)
				}
				faults := linktest.Faults(pl, round)
				m, addr := linktest.Machine(t, faults)
				m.Hands = round == 2 // its own, which do by themselves what the words say
				seen := follow(t, m, addr, pl, data)
				if len(m.Faults) > 0 {
					t.Errorf("%v did not happen", m.Faults)
				}
				want := map[link.Otherwise]int{link.Unheard: 2, link.WrongWay: 1, link.NoProgram: 1, link.LineOff: 1}
				if pl.Piece.Machine.Program == machine.NoProgram {
					want = map[link.Otherwise]int{link.Unheard: 2, link.WrongWay: 1, link.Again: 1}
				}
				delete(seen, link.AsPlanned)
				for what, n := range want {
					if seen[what] != n || len(seen) != len(want) {
						t.Errorf("%v were seen, not %v", seen, want)
						break
					}
				}
				f, err := fabric.Knit(t.Context(), mistake.Until(pl, len(pl.Passes)))
				if err != nil {
					t.Fatal(err)
				}
				if d := mistake.Compare(mistake.See(f), mistake.See(m.Fabric())); !d.None() {
					t.Errorf("the fabric is otherwise than planned: %+v", d)
				}
			})
		}
	}
}

var update = flag.Bool("update", false, "write the recorded session anew")

// small is the piece of the recorded session: four plain rows and six of two colours on a card machine.
const small = `{"vindel":1,"name":"Feather strip","machine":{"profile":"card-preselect"},"yarns":[{"id":"A",
	"name":"oat"},{"id":"B","name":"spruce"}],
"charts":{"feather":{"side":"purl","legend":{".":{"yarn":"A"},"#":{"yarn":"B"}},"rows":["..##..",".####.","##..##"]}},
"needles":{"from":"L6","to":"R6"},"sections":[{"technique":"plain","rows":4,"yarn":"A"},{"technique":"two-colour",
	"rows":6,"areas":[{"chart":"feather"}]}]}`

// TestRecordedSession: what the desk said in the session that docs/protocol.md shows makes the machine say what
// it said there, word for word.
func TestRecordedSession(t *testing.T) {
	const file = "testdata/session.txt"
	if *update {
		pl := read(t, []byte(small))
		_, addr := linktest.Machine(t, nil)
		f, err := os.Create(file)
		if err != nil {
			t.Fatal(err)
		}
		defer f.Close()
		k, err := link.Dial(t.Context(), addr, pl.Piece.Machine.Bed, f)
		if err != nil {
			t.Fatal(err)
		}
		_, _, err = k.State(t.Context(), pl)
		if err == nil {
			err = k.Send(t.Context(), pl, []byte(small))
		}
		for i := 0; err == nil && i < len(pl.Passes); {
			k.At(pl, i)
			upto := i + beside.UpTo(pl, i)
			for k.Go(i, upto); i < upto; i++ {
				k.Heard(<-k.Reports())
			}
		}
		if err != nil {
			t.Fatal(err)
		}
		k.Close()
		<-k.Closed()
	}
	data, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	_, addr := linktest.Machine(t, nil)
	conn, err := net.Dial("tcp", addr)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	conn.SetDeadline(time.Now().Add(20 * time.Second))
	answers := bufio.NewScanner(conn)
	moved := 0
	for _, line := range strings.Split(strings.TrimSpace(string(data)), "\n") {
		text, desk := strings.CutPrefix(line, "> ")
		if _, err := link.Read(line[2:]); err != nil {
			t.Errorf("%s: %v", line, err)
		}
		if desk {
			fmt.Fprintln(conn, text)
		} else if text = line[2:]; !answers.Scan() || answers.Text() != text {
			t.Fatalf("the machine says %q, in the session it said %q", answers.Text(), text)
		} else if strings.HasPrefix(text, "moved") {
			moved++
		}
	}
	if moved != 10 {
		t.Errorf("%d passes in the session", moved)
	}
}

// TestPhysical: what the machine reports is what it does, and not what the plan says: a carriage goes from where it
// stands, a card reads on from where it is; hands can be typed, and put it right.
func TestPhysical(t *testing.T) {
	pl := read(t, []byte(small))
	m, addr := linktest.Machine(t, nil)
	k, err := link.Dial(t.Context(), addr, pl.Piece.Machine.Bed, nil)
	if err == nil {
		err = k.Send(t.Context(), pl, []byte(small))
	}
	if err != nil {
		t.Fatal(err)
	}
	defer k.Close()
	typed := func(list ...string) {
		t.Helper()
		if _, _, err := k.State(t.Context(), pl); err != nil { // what was said before has come through
			t.Fatal(err)
		}
		for _, text := range list {
			if err := m.Type(text); err != nil {
				t.Error(err)
			}
		}
	}
	made := func(i int, want link.Otherwise) {
		t.Helper()
		k.Go(i, i+1)
		msg := <-k.Reports()
		k.Heard(msg)
		if r, _ := k.Report(msg); link.Judge(pl, i, r).What != want {
			t.Errorf("pass %d: %v is %+v, not %s", i+1, msg, link.Judge(pl, i, r), want)
		}
	}
	k.At(pl, 0)
	made(0, link.AsPlanned)
	typed("bring knit " + pl.Passes[1].Dir.String())
	made(1, link.WrongWay)
	typed("ravel 1", "bring knit "+pl.Passes[1].Dir.Other().String(), "counter 1")
	for i := 1; i < 5; i++ {
		made(i, link.AsPlanned)
	}
	typed(fmt.Sprintf("line 2 %d", pl.Passes[5].Line%3+1))
	made(5, link.LineOff)
	made(6, link.LineOff) // the card is off still
	typed("ravel 2", "bring knit "+pl.Passes[5].Dir.Other().String(), "counter 5", fmt.Sprintf("line 2 %d",
		pl.Passes[5].Line), "forward "+pl.Passes[5].Main().Select.String())
	for i := 5; i < len(pl.Passes); i++ {
		made(i, link.AsPlanned)
	}
	f, err := fabric.Knit(t.Context(), pl)
	if err != nil {
		t.Fatal(err)
	}
	if d := mistake.Compare(mistake.See(f), mistake.See(m.Fabric())); !d.None() {
		t.Errorf("put right by what was typed, the fabric differs: %+v", d)
	}
	for _, text := range []string{"ravel", "bring knit up", "forward L3-", "fly 3", "line 2"} {
		if err := m.Type(text); err == nil {
			t.Errorf("%q is done", text)
		}
	}
}

// TestJudge: what a report means, of a machine that sees all, and of one with a switch alone.
func TestJudge(t *testing.T) {
	pl := read(t, []byte(small))
	all := link.Sees{Carriage: true, Counter: true, Line: true, Forward: true}
	made := func(i int, sees link.Sees) link.Report {
		p := &pl.Passes[i]
		return link.Report{Carriage: p.Carriage, Dir: p.Dir, Counter: p.Counter, Line: p.Line,
			Forward: p.Main().Sets, Sees: sees}
	}
	wrong := func(i int, change func(r *link.Report)) link.Report {
		r := made(i, all)
		change(&r)
		return r
	}
	for _, c := range []struct {
		what string
		r    link.Report
		want link.Otherwise
		next int // pass 6 (index 5) comes next
	}{
		{"as planned", made(5, all), link.AsPlanned, 6},
		{"seen by a switch alone", made(5, link.Sees{}), link.AsPlanned, 6},
		{"the pass before, once more", made(4, all), link.Again, 5},
		{"the next one", made(6, all), link.Unheard, 7},
		{"four on", made(9, all), link.Unheard, 10},
		{"the next one, by a switch alone: the way", made(6, link.Sees{}), link.WrongWay, 5},
		{"the wrong way", wrong(5, func(r *link.Report) { r.Dir = r.Dir.Other() }), link.WrongWay, 5},
		{"another carriage", wrong(5, func(r *link.Report) { r.Carriage = machine.LaceCarriage }), link.WrongOne, 5},
		{"another line: what is read is for the next row", wrong(5, func(r *link.Report) { r.Line++ }), link.LineOff,
			6},
		{"other needles", wrong(5, func(r *link.Report) { r.Forward = machine.SetOf(0) }), link.Needles, 6},
		{"another counter", wrong(5, func(r *link.Report) { r.Counter = 90 }), link.Counter, 6},
	} {
		v := link.Judge(pl, 5, c.r)
		if v.What != c.want || v.Next != c.next || !v.Right() && (v.Words == "" || len(v.Do) == 0) {
			t.Errorf("%s: %+v", c.what, v)
		}
	}
	worked := *pl // hands have something to do before the pass that was not heard of
	worked.Passes = slices.Clone(pl.Passes)
	worked.Passes[6].Add(step.WeightsUp{})
	if v := link.Judge(&worked, 5, made(6, all)); len(v.Do) == 0 || !strings.Contains(v.Do[0], "Move the weights up") {
		t.Errorf("an unheard pass before which hands were at work: %v", v.Do)
	}
	// Connected again: what hands do before the pass that comes next they have not done yet, and after the last none
	// comes.
	for k, told := range map[int]bool{6: false, 7: true} {
		stands := link.State{Knit: pl.Passes[k-1].Dir, Counter: pl.Passes[k-1].Counter, Sees: link.Sees{Counter: true}}
		if v := link.Found(&worked, 5, stands, true, true); v.Next != k || strings.Contains(v.Words, "hands") != told {
			t.Errorf("found before pass %d: %+v", k+1, v)
		}
	}
	end := len(pl.Passes)
	stands := link.State{Sees: link.Sees{Counter: true}, Counter: pl.Passes[end-1].Counter}
	if v := link.Found(pl, end-1, stands, true, true); v.Next != end || v.What != link.Unheard {
		t.Errorf("found when all is knitted: %+v", v)
	}
	other := read(t, []byte(strings.Replace(small, "##..##\"]", "#....#\"]", 1))) // its first row is drawn anew
	if v := link.Remade(pl, other, 4); v.What != link.Edited || v.Next != 4 || !strings.HasPrefix(v.Do[0], "Ravel") {
		t.Errorf("made while its row was drawn anew: %+v", v)
	}
	if v := link.Remade(pl, other, 5); v.What != link.AsPlanned || v.Next != 6 {
		t.Errorf("made while another row was: %+v", v)
	}
	for what, change := range map[string]func(p *pass.Pass){
		"racking": func(p *pass.Pass) { p.Rack++ }, "carriage": func(p *pass.Pass) {
			p.Carriage =
				machine.LaceCarriage
		},
		"line": func(p *pass.Pass) { p.Line++ }, "counter": func(p *pass.Pass) { p.Counter++ },
		"way":             func(p *pass.Pass) { p.Dir = p.Dir.Other() },
		"yarns":           func(p *pass.Pass) { p.Main().Yarns = []piece.YarnNo{2, 1} },
		"needles in hold": func(p *pass.Pass) { p.Main().Hold.Add(0) },
		"cams":            func(p *pass.Pass) { p.Main().Setting = machine.Slipping },
		"lays":            func(p *pass.Pass) { p.Lays = []pass.Lay{{Yarn: 1}} },
	} {
		now := *pl
		now.Passes = slices.Clone(pl.Passes)
		change(&now.Passes[4])
		if v := link.Remade(pl, &now, 4); v.What != link.Edited {
			t.Errorf("made with another %s than is planned now: %+v", what, v)
		}
	}
	if v := link.Judge(pl, len(pl.Passes), made(5, all)); v.What != link.Again {
		t.Errorf("when all is knitted: %+v", v)
	}
}

// TestFits: where a machine stands that was connected again: by the counter, both carriages' sides and the line that
// is read next, as far as it tells them.
func TestFits(t *testing.T) {
	data, err := pieces.Files.ReadFile("9-screen.json")
	if err != nil {
		t.Fatal(err)
	}
	pl := read(t, data)
	all := link.Sees{Carriage: true, Counter: true, Line: true}
	stands := func(k int) link.State { // when k passes are made
		s := link.State{Counter: pl.Passes[k-1].Counter, Sees: all}
		for i := range k {
			if p := &pl.Passes[i]; p.Carriage == machine.LaceCarriage {
				s.Lace = p.Dir
			} else {
				s.Knit = p.Dir
			}
		}
		_, s.Line = beside.NextLine(pl, k)
		return s
	}
	lace := 0
	for lace = 40; pl.Passes[lace].Carriage != machine.LaceCarriage ||
		pl.Passes[lace+1].Carriage != machine.LaceCarriage; lace++ {
	}
	for k := lace - 3; k < lace+6; k++ {
		if got := stands(k).Fits(pl, k); got != k {
			t.Errorf("%d made: it fits %d", k, got)
		}
		if got := stands(k+2).Fits(pl, k); got != k+2 {
			t.Errorf("two were not heard after %d: it fits %d", k, got)
		}
	}
	other := stands(lace + 1)
	other.Lace = other.Lace.Other()
	if got := other.Fits(pl, lace+1); got == lace+1 {
		t.Error("the lace carriage on the other side, and it fits")
	}
	other = stands(lace)
	other.Knit, other.Sees.Line = other.Knit.Other(), false
	if got := other.Fits(pl, lace); got == lace {
		t.Error("the knit carriage on the other side, and it fits")
	}
	if got := (link.State{Counter: 9999, Sees: all}).Fits(pl, lace); got != -1 {
		t.Errorf("nowhere near: %d", got)
	}
	// Of a carriage that uses a line in the pass that reads it, a wrong line has spoilt that pass.
	r := link.Report{Carriage: pl.Passes[lace].Carriage, Dir: pl.Passes[lace].Dir, Counter: pl.Passes[lace].Counter,
		Line: pl.Passes[lace].Line + 40, Sees: all}
	if v := link.Judge(pl, lace, r); v.What != link.LineOff || v.Next != lace+1 {
		t.Errorf("%+v", v)
	}
	pl.Passes[lace].Lace.Now = true
	if v := link.Judge(pl, lace, r); v.What != link.LineOff || v.Next != lace {
		t.Errorf("%+v", v)
	}
}

// FuzzMessage: any line is read or refused, and what is read is written so that it reads the same.
func FuzzMessage(f *testing.F) {
	for _, s := range []string{"hello vindel=1", "moved n=1 carriage=knit dir=left forward=-", "error text=a b = c",
		"piece json={\"a\": 1}", "x y", " ", "go =3"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, line string) {
		m, err := link.Read(line)
		if err != nil {
			return
		}
		again, err := link.Read(m.String())
		if err != nil || again.String() != m.String() {
			t.Errorf("%q is written as %q, and that reads as %q %v", line, m, again, err)
		}
	})
}
