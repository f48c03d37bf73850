package step_test

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"

	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/step"
)

// filled is a verb with something in every field.
func filled(st step.Step) step.Step {
	v := reflect.New(reflect.TypeOf(st)).Elem()
	var fill func(v reflect.Value)
	fill = func(v reflect.Value) {
		for i := range v.NumField() {
			f := v.Field(i)
			if !f.CanSet() {
				continue
			}
			switch x := f.Addr().Interface().(type) {
			case *machine.Set:
				*x = machine.Range(machine.L(2), machine.R(3))
			case *machine.Setting:
				*x = machine.Slipping
			case *machine.Side:
				*x = machine.Left
			case **step.Marked:
				*x = &step.Marked{Row: 4, Line: 2, Counter: 3}
			case *step.Control:
				*x = step.Selecting
			case *string:
				*x = "what is said"
			case *int:
				*x = 1
			case *piece.YarnNo:
				*x = 1
			default:
				if f.Kind() == reflect.Struct {
					fill(f)
				}
			}
		}
	}
	fill(v)
	return v.Interface().(step.Step)
}

// asked notes which methods of a Standing a step calls.
type asked struct {
	step.Idle
	what []string
}

func (a *asked) Thread(s step.Thread) {
	a.what = append(a.what, fmt.Sprint("thread ", s.Feeder, s.Yarn, s.Bobbin))
}

func (a *asked) Hold(bed machine.BedNo, on machine.Set) {
	a.what = append(a.what, fmt.Sprint("hold ", bed, on))
}

// TestEveryVerb: every verb answers all that is asked of a step, in every school: it is said, in the machine's own
// words and with its needles; the JSON has a known word; it has a rank; and what it says of itself fits together.
func TestEveryVerb(t *testing.T) {
	words := map[step.Do]bool{}
	for _, empty := range step.All {
		name := strings.TrimPrefix(reflect.TypeOf(empty).String(), "step.")
		for _, id := range machine.IDs() {
			m, err := machine.Shipped(id)
			if err != nil {
				t.Fatal(err)
			}
			p := &piece.Piece{Machine: m, Yarns: []piece.Yarn{{ID: 'A', Name: "oat"}},
				Sections: []piece.Section{{Name: "band"}}}
			st := filled(empty)
			said, short := st.Say(p), st.Short(p)
			if said == "" || strings.Contains(said, "%!") || strings.Contains(short, "%!") {
				t.Errorf("%s on %s: said %q, short %q", name, id, said, short)
			}
			if len(short) > 60 {
				t.Errorf("%s: %q is not short", name, short)
			}
			if st.Event() != step.Everyday && short == "" {
				t.Errorf("%s is an event, and the rail says nothing of it", name)
			}
			var j step.JSON
			st.JSON(p, &j)
			if on := st.Needles(); !on.Empty() && j.Needles+j.Short+j.Long == "" {
				t.Errorf("%s: its needles are not in the JSON", name)
			}
			if uses := st.Uses(); uses > 0 && st.Needles().Empty() {
				t.Errorf("%s: %d uses of no needles", name, uses)
			}
			if n := st.Touches(); n > 0 != strings.Contains("bring-forward to-hold to-work to-out transfer cross wrap "+
				"knit-by-hand cams push-back", string(st.Do())) {
				t.Errorf("%s: %d touches", name, n)
			}
			if rests := st.Rests(machine.Across{}); !rests.Minus(st.Needles().Or(st.Needles().Left(1))).Empty() {
				t.Errorf("%s: %v are left at rest, and it is about %v", name, rests, st.Needles())
			}
			if !st.Hands() && (st.Slip() != step.NoSlip || st.Uses() > 0) {
				t.Errorf("%s wants no hands, and hands go wrong", name)
			}
			st.Act(step.Idle{})
			words[st.Do()] = true
			if e, ok := st.(step.Edged); ok && e.As(step.Edge{Tool: 7}).Do() != st.Do() {
				t.Errorf("%s with another edge is %s", name, e.As(step.Edge{}).Do())
			}
			if y, ok := st.(step.Threaded); ok {
				var j step.JSON
				y.Swap(func(piece.YarnNo) piece.YarnNo { return 0 }).JSON(p, &j)
				if j.Yarn != "" {
					t.Errorf("%s with another yarn is in %q", name, j.Yarn)
				}
			}
		}
	}
	if len(words) < 35 {
		t.Errorf("only %d words", len(words))
	}
	a := &asked{}
	step.Thread{Feeder: 2, Yarn: 3, Bobbin: "A2"}.Act(a)
	step.ToHold{At: step.On(machine.Second, machine.SetOf(machine.L(1)))}.Act(a)
	if got := strings.Join(a.what, "; "); got != "thread 2 3A2; hold second L1" {
		t.Errorf("acted: %s", got)
	}
}

// TestAll: every type of this package that has a Do is in All.
func TestAll(t *testing.T) {
	var have, want []string
	for _, st := range step.All {
		have = append(have, strings.TrimPrefix(reflect.TypeOf(st).String(), "step."))
	}
	files, _ := filepath.Glob("*.go")
	for _, name := range files {
		text, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		f, err := parser.ParseFile(token.NewFileSet(), name, text, 0)
		if err != nil {
			t.Fatal(err)
		}
		for _, d := range f.Decls {
			if fn, ok := d.(*ast.FuncDecl); ok && fn.Name.Name == "Do" && fn.Recv != nil {
				want = append(want, fn.Recv.List[0].Type.(*ast.Ident).Name)
			}
		}
	}
	slices.Sort(have)
	slices.Sort(want)
	if !slices.Equal(have, want) {
		t.Errorf("in All: %v\nin files: %v", have, want)
	}
}

// TestAlong: stitches by hand are told as the hand comes to them; where nothing comes again, by kind.
func TestAlong(t *testing.T) {
	p := piecetest.New(t, "hand-mid", "L12", "R12", []string{"#."})
	p.Yarns[0].Name = "oat"
	for _, c := range []struct {
		short, long string
		from        machine.Side
		want        string
	}{
		{"L12-L10,L4-L2,R5-R7", "L9-L7,L1-R2,R8-R10", machine.Left,
			"3 short, 3 long, 2 left alone, again and again, from L12 to R10 (9 short, 9 long)"},
		{"L12-L10,L4-L2,R5-R7", "L9-L7,L1-R2,R8-R10", machine.Right,
			"3 long, 3 short, 2 left alone, again and again, from R10 to L12 (9 short, 9 long)"},
		{"L3-L1", "R1", machine.Left, "3 short, 1 long, from L3 to R1 (3 short, 1 long)"},
		{"L12,L9-L8,L3,R4-R6", "L11,L6-L5,R1", machine.Left, "short on L12,L9-L8,L3,R4-R6, long on L11,L6-L5,R1"},
		{"L12-R12", "", machine.Left, "short on L12-R12"},
	} {
		short, err := machine.ParseSet(c.short, p.Machine.Bed)
		long, err2 := machine.ParseSet(c.long, p.Machine.Bed)
		if err != nil || err2 != nil {
			t.Fatal(err, err2)
		}
		st := step.KnitByHand{At: step.Main(short), Long: long, Yarn: 1, From: c.from}
		if got := st.Say(p); got != fmt.Sprintf("Knit by hand with the end of oat, from the %v: %s", c.from, c.want) {
			t.Error(got)
		}
	}
}
