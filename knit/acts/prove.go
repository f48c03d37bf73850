package acts

import (
	"fmt"

	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/words"
)

// Prove compares the loops that the plan's passes have made with those that each recipe means:
// two roads to the same (recipes 8). The first that differs is told with its line, round, pass and
// needle. Where the plan stops, what comes before is compared.
func Prove(pl *pass.Plan, f *fabric.Fabric) {
	for i := range pl.Recipes {
		r := &pl.Recipes[i]
		meant, made := r.Run.Beds, f.Looped[i]
		if made == nil {
			if made = (&loops.Beds{}); len(meant.Loops) == len(meant.Standing()) && len(meant.Gone) == 0 {
				continue // it makes no loop, and moves none
			}
		}
		if r.Acts < len(r.Run.Acts) {
			continue // the plan stops in it: the passes before are compared by their loops only when it goes on
		}
		at, what, differ := loops.Differ(meant, made)
		if !differ {
			continue
		}
		where, needle := fmt.Sprintf("section %d", r.Section), machine.Needle(0)
		act := len(r.Run.Acts) - 1
		if at >= 0 {
			for act > 0 && r.Run.Marks[act].Loops > int(at) {
				act--
			}
			if int(at) < len(meant.Loops) {
				needle = machine.Needle(meant.Loops[at].Needle)
				where += fmt.Sprintf(", pass %d", passOf(pl, i, int(meant.Loops[at].Pass)))
			}
		}
		if act >= 0 && act < len(r.Run.Acts) {
			a := &r.Run.Acts[act]
			where += fmt.Sprintf(", line %d%s", a.Step.Line, finding.Said(a.Rounds))
		}
		if at >= 0 {
			where += fmt.Sprintf(", %v", needle)
		}
		f.Differ("%s: %s", where, what)
	}
}

// passOf is the number in the plan of a recipe's (index) nth pass with yarn.
func passOf(pl *pass.Plan, recipe, nth int) int {
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Recipe == recipe+1 && !p.Free && p.Carriage == machine.KnitCarriage {
			if nth--; nth <= 0 {
				return p.N
			}
		}
	}
	return 0
}

// Limits reports the floats of a recipe section that are too long: one finding a line.
func Limits(pl *pass.Plan, f *fabric.Fabric, section int) (out []finding.Finding) {
	type of struct{ line int }
	at := map[of]int{}
	more := map[int]int{}
	for i := range f.Loose {
		l := &f.Loose[i]
		if len(pl.Passes) == 0 {
			continue
		}
		p := &pl.Passes[min(l.Pass, len(pl.Passes)-1)]
		if p.Section != section {
			continue
		}
		if k, again := at[of{l.Source}]; again {
			more[k]++
			out[k].Needles = out[k].Needles.Or(machine.Range(l.First, l.Last))
			continue
		}
		at[of{l.Source}] = len(out)
		turn := ""
		if l.Turn {
			turn = ", from where it was taken last"
		}
		out = append(out, finding.Finding{Code: finding.FloatLong, Severity: finding.Warn, Section: section,
			Rows:    [2]int{p.Row(), p.Row()},
			Needles: machine.Range(l.First, l.Last), Source: l.Source, Round: l.Round,
			Text: fmt.Sprintf("%s floats past %s, %.0f mm%s, %v to %v; the limit is %d. (Line %d%s.)",
				pl.Piece.YarnName(l.Yarn),
				words.Count(l.Stitches(), "needle", "needles"), float64(l.Stitches())*pl.Piece.ApartMM(), turn,
				l.First, l.Last,
				pl.Piece.FloatLimit(), l.Source, finding.Said(l.Round)),
			Fix: "Let a needle between take the yarn"})
	}
	for k, n := range more {
		out[k].Text += fmt.Sprintf(" It comes again, %d more %s.", n, words.Plural(n, "time", "times"))
	}
	return out
}
