package technique

import (
	"context"
	"maps"
	"slices"

	"vindel/knit/acts"
	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/recipe"
)

// Recipe: passes and hand steps as a text of its own says (package recipe). Its passes come from
// its acts (acts.Plan), and its proof compares loops, not a chart (acts.Prove).
var Recipe = Technique{
	Technique: piece.Technique{
		Name: "recipe", Label: "recipe", OwnRows: true, EitherSide: true, Long: recipeRows,
		Refuses: []string{"rows", "areas", "yarns", "weft", "second", "second_size", "rib", "out", "second_out"},
		Sense: func(p *piece.Piece, s *piece.Section, fault func(path, format string, a ...any)) {
			if s.Recipe == "" {
				fault("recipe", "missing; write the recipe's text")
				return
			}
			g := ground(p, s, len(p.Sections) > 0 || p.Begin != nil)
			rec, errs := recipe.Read(s.Recipe, g)
			for _, err := range errs {
				fault("recipe", "%w", err)
			}
			for _, name := range slices.Sorted(maps.Keys(s.With)) {
				if err := rec.With(g, name, s.With[name]); err != nil {
					fault("with."+name, "%v", err)
				}
			}
		},
	},
	Yarns: func(*piece.Piece, *bed.Placed, int) (loom.Need, *finding.Finding) { return loom.Need{}, nil },
	Knit: func(l *loom.Loom, w loom.Work) {
		s := w.Placed.Section
		g := ground(l.Piece, s, w.Placed.No > 1 || l.Piece.Begin != nil)
		if st := w.Placed.Shaped(1); st != nil {
			g.At[machine.Main] = machine.Range(st.Work.First(), st.Work.Last())
			if l.Machine.HasSecond() {
				g.At[machine.Second] = l.Piece.PlacesBehind(st.Work)
			}
		}
		rec, errs := recipe.Read(s.Recipe, g)
		if len(errs) > 0 {
			l.Plan.Refuse(w.Placed.No, errs[0])
			return
		}
		fed := piece.YarnNo(0)
		if s.OwnYarn {
			fed = s.Yarn
		}
		acts.Plan(context.Background(), l, w.Placed, rec, g, fed)
	},
	Loops:  true,
	Limits: acts.Limits,
}

func ground(p *piece.Piece, s *piece.Section, later bool) recipe.Ground {
	return recipe.Ground{Piece: p, Later: later, With: s.With}
}

// RecipeFaults reads the recipe of a section of the piece (from 0) and gives every fault of its
// text: for the page where it is written.
func RecipeFaults(p *piece.Piece, at int, text string) recipe.Errors {
	s := p.Sections[at]
	_, errs := recipe.Read(text, ground(p, &s, at > 0 || p.Begin != nil))
	return errs
}

// recipeRows is how many rows a recipe knits: its passes with yarn.
func recipeRows(p *piece.Piece, s *piece.Section) (rows int) {
	g := ground(p, s, true)
	rec, errs := recipe.Read(s.Recipe, g)
	if len(errs) > 0 {
		return 1
	}
	start := recipe.Start{Side: p.Start, Feeders: recipe.Pair{s.Yarn}, Rack: p.Second.Rack, Pitch: p.Second.Pitch}
	for n := range p.Work().All() {
		start.Found = append(start.Found, loops.Loop{Needle: int16(n), Yarn: s.Yarn})
	}
	start.Work[machine.Main] = p.Work()
	run := rec.Go(context.Background(), g, 1, start)
	for i := range run.Acts {
		if m := run.Acts[i].Pass; m != nil && !m.Free {
			rows++
		}
	}
	return max(rows, 1)
}
