package plan_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"vindel/knit/beside"
	"vindel/knit/card"
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

// cardWork is, pass by pass, the line that it reads and the number in the card's window
// before it, with a > where hands put the card to a line or sweep the reader.
func cardWork(pl *pass.Plan) string {
	var got []string
	for i := range pl.Passes {
		p, by := &pl.Passes[i], ""
		for _, st := range p.Before {
			switch st := st.Step.(type) {
			case step.SetCard:
				by += fmt.Sprintf("%d>", st.Line)
			case step.Sweep:
				by += fmt.Sprintf("%d>", st.Line)
			}
		}
		got = append(got, fmt.Sprintf("%s%d/%d", by, p.Line, p.Window))
	}
	return strings.Join(got, " ")
}

// TestCardGoesRound: which pass reads which line, what stands in the window before it, and
// where a card that is not joined is set back (rules 1, Selection and Program).
func TestCardGoesRound(t *testing.T) {
	joined, window := func(v bool) edit.Change { return piecetest.Set("/sections/0/joined", v) },
		piecetest.Set("/machine/window", "read")
	rows := func(n int) edit.Change { return piecetest.Set("/sections/0/rows", n) }
	from := func(n int) edit.Change { return piecetest.Set("/sections/0/from_line", n) }
	loop := piecetest.Set("/machine/loop", 6)
	for _, c := range []struct {
		machine string
		edits   []edit.Change
		want    string
	}{
		{"card-preselect", []edit.Change{rows(4)}, "1>1/1 2/1 3/2 1/3 0/4"},
		{"card-preselect", []edit.Change{rows(4), joined(false)}, "1>1/1 2/1 3/2 1>1/1 0/1"},
		{"card-preselect", []edit.Change{rows(4), from(3)}, "3>3/3 1/3 2/4 3/5 0/6"},
		{"card-preselect", []edit.Change{rows(4), from(3), joined(false)}, "3>3/3 1>1/1 2/1 3/2 0/3"},
		{"card-direct", []edit.Change{rows(4)}, "1>1/1 2/1 3/2 1/3"},
		{"card-direct", []edit.Change{rows(8), loop}, "1>1/1 2/1 3/2 1/3 2/4 3/5 1/6 2/1"},
		{"card-direct", []edit.Change{rows(4), joined(false)}, "1>1/1 2/1 3/2 1>1/1"},
		{"card-direct", []edit.Change{rows(4), piecetest.Set("/machine/window", "next")}, "1>1/1 2/2 3/3 1/4"},
		{"card-direct", []edit.Change{rows(8), loop, piecetest.Set("/machine/window", "next")},
			"1>1/1 2/2 3/3 1/4 2/5 3/6 1/1 2/2"},
		{"card-direct", []edit.Change{rows(2), from(2)}, "2>2/2 3/2"},
		{"two-bed-pairs", []edit.Change{rows(4)}, "1>1>0/2 2/2 0/3 3/3 0/4 1/4 0/5 0/5"},
		{"two-bed-pairs", []edit.Change{rows(4), window}, "1>1>0/1 2/1 0/2 3/2 0/3 1/3 0/4 0/4"},
		{"two-bed-pairs", []edit.Change{rows(4), joined(false)}, "1>1>0/2 2/2 0/3 3/3 0/0 1>1/1 0/2 0/2"},
		{"two-bed-pairs", []edit.Change{rows(3), from(3), piecetest.Set("/sections/0/passes", 5)},
			"3>3>0/4 1/4 0/5 2/5 0/6"},
		{"two-bed-pairs", []edit.Change{piecetest.Set("/sections/0/passes", 3)}, "1>1>0/2 2/2 0/3"},
		{"program-preselect", []edit.Change{rows(4), from(2)}, "2>2/0 3/0 1/0 2/0 0/0"},
		{"hand-mid", []edit.Change{rows(2)}, "0/0 0/0 0/0 0/0"},
	} {
		pl := plan.Make(piecetest.New(t, c.machine, "L6", "R6", []string{"#..", ".#.", "..#"}, c.edits...))
		f := technique.Prove(pl)
		if got := cardWork(pl); got != c.want {
			t.Errorf("%s, %v: %s, want %s", c.machine, c.edits, got, c.want)
		}
		if f.Differences > 0 || len(f.Faults) > 0 {
			t.Errorf("%s, %v: %d differences, %v", c.machine, c.edits, f.Differences, f.Faults)
		}
	}
}

// TestFreePass: where a section needs the carriage on the other side, an empty pass brings it
// there and costs no row; her own notes stand before the section, and before their rows.
func TestFreePass(t *testing.T) {
	for _, id := range []string{"two-bed-pairs", "card-preselect"} {
		doc := piecetest.Document(t, id, "L6", "R6", []string{".#.", "#.."}, piecetest.Before(3, "A"),
			piecetest.Set("/sections/1/notes", []any{map[string]any{"before": 0, "text": "open the window"},
				map[string]any{"before": 2, "text": "pull it down"}}))
		if id == "card-preselect" { // lace needs it on the right
			doc = piecetest.Document(t, id, "L6", "R6", []string{"./o."}, piecetest.Set("/charts/c/legend",
				map[string]any{}),
				piecetest.Set("/sections/0/technique", "lace"), piecetest.Before(3, "A"))
		}
		stopped := plan.Make(read(t, doc))
		side := slices.IndexFunc(stopped.Findings, func(
			f finding.Finding) bool {
			return f.Code == finding.CarriageSide
		})
		if len(stopped.Passes) != 3 || side < 0 {
			t.Fatalf("%s: %v", id, stopped.Findings)
		}
		if _, err := doc.Apply(stopped.Findings[side].Remedy()); err != nil {
			t.Fatal(err)
		}
		pl := plan.Make(read(t, doc))
		f, free := technique.Prove(pl), &pl.Passes[3]
		if !f.Matches() || !free.Free || free.Section != 2 || free.Row() != 0 || free.Counter != 3 ||
			pl.Totals.Knitted != map[string]int{"two-bed-pairs": 7, "card-preselect": 5}[id] {
			t.Errorf("%s: %s %v %+v\n%s", id, f.First, f.Faults, pl.Totals, pl)
		}
		if text := pl.String(); id == "two-bed-pairs" &&
			(strings.Index(text, "open the window") > strings.Index(text, "    4  ") ||
				strings.Index(text, "pull it down") < strings.Index(text, "    6  ")) {
			t.Error(text)
		}
	}
}

func read(t *testing.T, doc *edit.Document) *piece.Piece {
	t.Helper()
	p, err := technique.Piece(doc)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// TestFromLine: the card of a section that begins at another line has all its lines, those
// too that the section never reads; and a card that is not joined is as tall as the pattern, and seven unpunched rows.
func TestFromLine(t *testing.T) {
	rows := []string{"#..", ".##", "##.", "..#"}
	for _, c := range []struct {
		edits []edit.Change
		tall  int
	}{
		{nil, 38}, {[]edit.Change{piecetest.Set("/sections/0/from_line", 4), piecetest.Set("/sections/0/rows", 1)}, 38},
		{[]edit.Change{piecetest.Set("/sections/0/from_line", 3)}, 38},
		{[]edit.Change{piecetest.Set("/sections/0/joined", false)}, 11},
	} {
		pl := plan.Make(piecetest.New(t, "card-preselect", "L6", "R6", rows, c.edits...))
		made, _ := card.Make(pl, 1)
		lines := strings.Split(strings.TrimSpace(made.Text()), "\n")
		if len(lines) != c.tall {
			t.Errorf("%v: %d rows", c.edits, len(lines))
		}
		for y, row := range rows { // the top row first; column 1 is L12, column 7 L6
			if got := lines[len(lines)-len(rows)+y][6:9]; got != row {
				t.Errorf("%v: line %d is %s, want %s", c.edits, len(rows)-y, got, row)
			}
		}
	}
	// The marks of a yarn change stand where it falls due, whichever line the section begins at.
	changes := []string{"#..", "+..", "+..", "+.."} // the other colour gives way before row 4
	marked := func(from int) (y int) {
		pl := plan.Make(piecetest.New(t, "card-direct", "L6", "R6", changes, piecetest.Set("/sections/0/from_line",
			from),
			piecetest.Set("/sections/0/rows", 3)))
		made, _ := card.Make(pl, 1)
		return slices.IndexFunc(made.Marks, func(m string) bool { return strings.Contains(m, "thread yarn B") })
	}
	if a, b := marked(1+1), marked(1+2); a != b || a < 0 {
		t.Errorf("line 4 is marked at %d, and at %d if the section begins a line later", a, b)
	}
	for key, bad := range map[string][]any{"from_line": {0, 5}, "passes": {2, 8, 9}, "joined": {"no"}} {
		for _, v := range bad {
			doc := piecetest.Document(t, "two-bed-pairs", "L6", "R6", rows, piecetest.Set("/sections/0/rows", 4),
				piecetest.Set(edit.Section(1).To(key), v))
			if _, err := technique.Piece(doc); err == nil || !strings.Contains(err.Error(), "sections[0]."+key) {
				t.Errorf("%s %v: %v", key, v, err)
			}
		}
	}
	_, err := technique.Piece(piecetest.Document(t, "two-bed-pairs", "L6", "R6", rows,
		piecetest.Set("/sections/0/rows", 4), piecetest.Set("/sections/0/passes", 6)))
	if err == nil || !strings.Contains(err.Error(), "4 rows end after pass 7 of the section, or after 8 where") {
		t.Errorf("passes 6: %v", err)
	}
	for id, e := range map[string]edit.Change{"hand-mid": piecetest.Set("/sections/0/from_line", 2),
		"program-preselect": piecetest.Set("/sections/0/joined", true),
		"card-direct":       piecetest.Set("/sections/0/passes", 7)} {
		if _, err := technique.Piece(piecetest.Document(t, id, "L6", "R6", rows, e)); err == nil {
			t.Errorf("%s: %v is taken", id, e)
		}
	}
}

// TestPunched: a card goes on beside a motif, with the holes that the motif needs: what it brings forward beyond it is
// pushed back, what it does not bring is brought, and where hands cannot push back in time the plan stops.
func TestPunched(t *testing.T) {
	motif := func(machine, from, to string) *pass.Plan {
		return plan.Make(piecetest.New(t, machine, from, to, []string{"#..#", ".##."}, piecetest.Area("from", "L2"),
			piecetest.Area("to", "R2"), piecetest.Area("first", "L2"), piecetest.Before(2, "A")))
	}
	pl := motif("card-preselect", "L20", "R20") // its columns come again 24 needles on, beyond the work
	for i := range pl.Passes {
		for _, st := range pl.Passes[i].Before {
			if st.Do() == step.DoPushBack {
				t.Errorf("pass %d: %s", i+1, st.Say(pl.Piece))
			}
		}
	}
	pl = motif("card-preselect", "L30", "R30")
	var said []string
	for i := range pl.Passes {
		for _, st := range pl.Passes[i].Before {
			if st.Do() == step.DoPushBack {
				said = append(said, fmt.Sprintf("%d: %s", i+1, st.Say(pl.Piece)))
			}
		}
	}
	if got := strings.Join(said, "; "); got != "3: Push 4 needles back: L25-L24,R24-R25; 4: Push 4 needles back: L26,L23"+
		",R23,R26" {
		t.Error(got)
	}
	if f := technique.Prove(pl); !f.Matches() {
		t.Errorf("%s %v", f.First, f.Faults)
	}
	for i := range pl.Passes { // left out, it is noticed
		pl.Passes[i].Before = slices.DeleteFunc(pl.Passes[i].Before, func(st pass.Step) bool {
			return st.Do() == step.DoPushBack
		})
	}
	if f := technique.Prove(pl); f.Matches() {
		t.Error("nobody has pushed them back, and the fabric comes out")
	}
	for id, ends := range map[string][2]string{"card-direct": {"L30", "R30"}, "two-bed-pairs": {"L44", "R44"}} {
		pl := motif(id, ends[0], ends[1])
		if !slices.ContainsFunc(pl.Findings, func(f finding.Finding) bool {
			return f.Code == finding.CardPatternsAll && f.Severity == finding.Stop
		}) || pl.Stopped.Section != 2 || pl.Stopped.Row != 1 {
			t.Errorf("%s: stopped at %v, %v", id, pl.Stopped, pl.Findings)
		}
	}
}

// TestLaceEnds: a card that selects an end needle of lace, of a repeat that the edge cuts, carries its stitch off: the
// lace carriage's own switch keeps it back while the line is read, or else the fingers do.
func TestLaceEnds(t *testing.T) {
	lace := func(more ...edit.Change) *pass.Plan {
		return plan.Make(piecetest.New(t, "card-preselect", "L18", "R18", []string{"......", "....o\\"},
			append([]edit.Change{piecetest.Set("/charts/c/legend", map[string]any{}), piecetest.Set("/charts/c/side", "purl"),
				piecetest.Set("/sections/0/technique", "lace"), piecetest.Area("first", "R14")}, more...)...))
	}
	said := func(pl *pass.Plan) (list []string) {
		for i := range pl.Passes {
			for _, st := range pl.Passes[i].Before {
				if text := st.Say(pl.Piece); st.Do() == step.DoPushBack || strings.Contains(text, "end") {
					list = append(list, fmt.Sprintf("%d: %s", i+1, text))
				}
			}
		}
		return list
	}
	for _, c := range []struct {
		ends, want string
		has        bool
	}{
		{"auto", "1: Turn the lace carriage's end-needle switch on on both sides", true},
		{"auto", "3: Push 1 needle back: R18", false},
		{"hand", "3: Push 1 needle back: R18", true},
		{"off", "3: Push 1 needle back: R18", true},
	} {
		pl := lace(piecetest.Set("/machine/end_switch", c.has),
			piecetest.Set("/options", map[string]any{"end_needles": c.ends}))
		if got := strings.Join(said(pl), "; "); got != c.want {
			t.Errorf("%s: %s", c.ends, got)
		}
		if f := technique.Prove(pl); !f.Matches() {
			t.Errorf("%s: %s %v", c.ends, f.First, f.Faults)
		}
		if said := strings.Join(beside.Restore(pl, 3), "; "); strings.Contains(said, "lace carriage: end-needle switch on") !=
			(c.ends == "auto" && c.has) {
			t.Errorf("%s: after a pause %s", c.ends, said)
		}
		for i := range pl.Passes {
			pl.Passes[i].Before = slices.DeleteFunc(pl.Passes[i].Before, func(st pass.Step) bool {
				turned, ok := st.Step.(step.Switch)
				return st.Do() == step.DoPushBack || ok && turned.Of == machine.LaceCarriage
			})
		}
		if f := technique.Prove(pl); len(f.Faults) == 0 {
			t.Errorf("%s: nobody keeps the end back, and nothing is wrong", c.ends)
		}
	}
}

// TestLineEnds: lace that is given as lines moves its end needles only where no policy holds them.
func TestLineEnds(t *testing.T) {
	for _, ends := range []string{"off", "auto", "hand"} {
		lines := []any{map[string]any{"row": "......", "memo": map[string]any{"knit": 2}}, map[string]any{"row": "#....."}}
		pl := plan.Make(piecetest.New(t, "card-preselect", "L6", "R6", []string{"......"},
			piecetest.Set("/charts/c", map[string]any{"side": "purl", "legend": map[string]any{}, "lines": lines}),
			piecetest.Set("/sections/0/technique", "lace"), piecetest.Set("/options", map[string]any{"end_needles": ends})))
		moved := machine.Set{}
		for i := range pl.Passes {
			if p := &pl.Passes[i]; p.Main().Setting.Moves {
				moved = moved.Or(p.Main().Select)
			}
		}
		want := machine.SetOf(-6, 0)
		if ends != "off" {
			want = machine.SetOf(0)
		}
		if f := technique.Prove(pl); moved != want || f.Matches() != (ends != "off") { // else it is carried off
			t.Errorf("%s: %v are moved, %s %v %v", ends, moved, f.First, f.Faults, pl.Findings)
		}
	}
}
