package beside

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/words"
)

// RecipeLine is what a line of a recipe comes to, in the rounds that are looked at.
type RecipeLine struct {
	Line     int
	Reached  bool
	Passes   [2]int         // of the plan, from first to last; 0: it makes none
	Counter  [2]int         // before the first and after the last
	Says     string         // what it comes to, in a few words
	Needles  [2]machine.Set // that it is about, by bed
	After    recipe.State
	Feeders  [2]piece.YarnNo
	Dir      machine.Side
	Repeated int // of a repeat: how many rounds
}

// RecipeRepeat is a repeat of a recipe with the round that is looked at.
type RecipeRepeat struct {
	Line  int
	Word  string
	N, Of int
	Deep  int // repeats around it
}

// recipeOf is the recipe of a section (from 1), nil where the plan has not come to it.
func recipeOf(pl *pass.Plan, section int) (*pass.Recipe, int) {
	for i := range pl.Recipes {
		if pl.Recipes[i].Section == section && section > 0 {
			return &pl.Recipes[i], i + 1
		}
	}
	return nil, 0
}

// Recipe is the recipe of a section (from 1) line by line, as it comes to be in the chosen rounds
// (by the line of their repeat; 1 where none is chosen).
func Recipe(pl *pass.Plan, section int, chosen map[int]int) (lines map[int]*RecipeLine, repeats []RecipeRepeat) {
	r, no := recipeOf(pl, section)
	lines = map[int]*RecipeLine{}
	if r == nil {
		return lines, nil
	}
	around := r.Run.Recipe.Around()
	of := map[int]RecipeRepeat{}
	asked := map[int]*recipe.Act{}
	at := r.First
	for i := range r.Run.Acts[:r.Acts] {
		a := &r.Run.Acts[i]
		in := around[a.Step.Line]
		here := true
		for k, line := range in {
			want := cmp.Or(chosen[line], 1)
			if of[line].Of == 0 || here {
				of[line] = RecipeRepeat{Line: line, Word: a.Rounds[k].Word, N: min(want, a.Rounds[k].Of),
					Of: a.Rounds[k].Of, Deep: k}
			}
			here = here && a.Rounds[k].N == min(want, a.Rounds[k].Of)
		}
		passes := 0
		switch {
		case a.Pass != nil:
			passes = 1
		case a.Pile:
			passes = 2
		}
		if here {
			l := lines[a.Step.Line]
			if l == nil {
				l = &RecipeLine{Line: a.Step.Line, Reached: true}
				lines[a.Step.Line] = l
			}
			asked[i] = a
			l.note(pl, a, at, passes)
		}
		at += passes
	}
	_ = no
	r.Run.Again(r.Start, func(i int) bool { return asked[i] != nil }, func(i int, s recipe.State) {
		lines[r.Run.Acts[i].Step.Line].After = s
	})
	for _, rep := range of {
		repeats = append(repeats, rep)
	}
	slices.SortFunc(repeats, func(a, b RecipeRepeat) int { return a.Line - b.Line })
	return lines, repeats
}

// note adds an act to its line; its passes begin at an index of the plan's.
func (l *RecipeLine) note(pl *pass.Plan, a *recipe.Act, at, passes int) {
	if passes > 0 && at+passes <= len(pl.Passes) {
		if l.Passes[0] == 0 {
			l.Passes[0], l.Counter[0] = at+1, Reading(pl, at)
		}
		p := &pl.Passes[at+passes-1]
		l.Passes[1], l.Counter[1], l.Dir = at+passes, p.Counter, p.Dir
		l.Feeders = [2]piece.YarnNo{p.Yarn(1), p.Yarn(2)}
		for bed := range p.Beds {
			if half := &p.Beds[bed]; half.Named && p.Carriage == machine.KnitCarriage {
				l.Needles[bed] = half.Select.Or(half.Hold)
			}
		}
	}
	switch a.Do {
	case recipe.Pass, recipe.Note, recipe.Look, recipe.Attach, recipe.Remove:
	case recipe.Yarn:
		l.Feeders = a.Yarns
	default:
		l.Needles[a.Bed] = l.Needles[a.Bed].Or(a.Set)
		if a.Do == recipe.Cross || a.Do == recipe.KnitByHand {
			l.Needles[machine.Main] = l.Needles[machine.Main].Or(a.With)
		}
	}
	l.Says = actWords(pl.Piece, a)
}

// actWords is an act in a few words, beside its line.
func actWords(p *piece.Piece, a *recipe.Act) string {
	n := words.Count(a.Set.Len(), "needle", "needles")
	switch a.Do {
	case recipe.Work, recipe.Hold, recipe.Out, recipe.Wrap, recipe.Drop, recipe.BindOff, recipe.TakeOff, recipe.CastOn:
		if a.Set.Empty() {
			return "nothing to do"
		}
		return n + ": " + a.Set.Words()
	case recipe.Move:
		return words.Stitches(a.Set.Len()) + ": " + a.Set.Words()
	case recipe.Cross:
		return fmt.Sprintf("%s with %s", a.Set.Words(), a.With.Words())
	case recipe.KnitByHand:
		return fmt.Sprintf("from the %v: %d short, %d long", a.Side, a.Set.Len(), a.With.Len())
	case recipe.Yarn:
		var list []string
		for _, y := range a.Yarns {
			if y != 0 {
				list = append(list, p.YarnName(y))
			}
		}
		return strings.Join(list, " and ")
	case recipe.Size:
		return "size " + a.Size
	case recipe.Rack:
		return fmt.Sprintf("handle at %d, %v pitch", a.Rack, a.Pitch)
	case recipe.Check:
		return "it is so"
	}
	return ""
}

// BedWords is how a bed stands, in words: "44 at rest, 8 in hold, 2 out; 3 empty, 1 doubled".
func BedWords(m *machine.Profile, s *recipe.State, bed machine.BedNo) string {
	out := s.Places[bed].Minus(s.Work[bed]).Minus(s.Hold[bed])
	in := s.Work[bed].Or(s.Hold[bed])
	var parts []string
	for _, of := range []struct {
		on   machine.Set
		word string
	}{{s.Work[bed], m.Word("work")}, {s.Hold[bed], m.Word("hold")}, {out, m.Word("out")}, {in.Minus(s.Holds[bed]),
		"empty"},
		{s.Over[bed], "with more than one loop"}} {
		if n := of.on.Len(); n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", n, of.word))
		}
	}
	return strings.Join(parts, ", ")
}

// roundWords says where in a recipe's rounds a pass is: "wedge 37 of 72, row 12 of 60". The row is
// that of the innermost round which has a word.
func roundWords(pl *pass.Plan, p *pass.Pass) string {
	deep := -1
	var parts []string
	for k, r := range p.Round {
		if r.Word != "" {
			deep = k
			parts = append(parts, fmt.Sprintf("%s %d of %d", r.Word, r.N, r.Of))
		}
	}
	if deep < 0 && len(p.Round) > 0 {
		deep = len(p.Round) - 1
		parts = append(parts, fmt.Sprintf("round %d of %d", p.Round[deep].N, p.Round[deep].Of))
	}
	if deep < 0 {
		return ""
	}
	n, of := roundRow(pl, p, p.Round[:deep+1])
	return strings.Join(append(parts, fmt.Sprintf("row %d of %d", n, of)), ", ")
}

// roundRow is which of the passes with yarn of its round a pass is, and how many there are.
func roundRow(pl *pass.Plan, p *pass.Pass, round []finding.Round) (n, of int) {
	same := func(q *pass.Pass) bool {
		return q.Recipe == p.Recipe && len(q.Round) >= len(round) && slices.Equal(q.Round[:len(round)], round)
	}
	for i := p.N - 1; i >= 0 && same(&pl.Passes[i]); i-- {
		if pl.Passes[i].Row() > 0 {
			n++
		}
	}
	of = n
	for i := p.N; i < len(pl.Passes) && same(&pl.Passes[i]); i++ {
		if pl.Passes[i].Row() > 0 {
			of++
		}
	}
	return n, of
}

// recipeSee says what of both beds one sees before a pass of a recipe.
func recipeSee(pl *pass.Plan, i int, empty, doubled [2]machine.Set) (list []Word) {
	p, m := &pl.Passes[i], &pl.Piece.Machine
	say := func(strong bool, format string, a ...any) {
		list = append(list, Word{fmt.Sprintf(format, a...), strong})
	}
	for bed := range p.Beds {
		half := &p.Beds[bed]
		if half.AtWork.Empty() {
			continue
		}
		if bed == 1 {
			say(false, "; of the second bed ")
		}
		forward := half.Select
		if bed == 0 && selectsNow(m, p) {
			forward = half.ByHand
		}
		first := true
		part := func(format string, a ...any) {
			if !first {
				say(false, ", ")
			}
			first = false
			say(true, format, a...)
		}
		if !forward.Empty() {
			part("%s %s", forward.Brief(), m.Word("forward"))
		}
		if !half.Hold.Empty() {
			part("%s %s", half.Hold.Brief(), m.Word("hold"))
		}
		if rest := half.AtWork.Minus(forward).Minus(half.Hold); !rest.Empty() {
			n := fmt.Sprint(rest.Len())
			if first {
				n = "all " + n
			}
			part("%s %s", n, m.Word("work"))
		}
		places := recipe.Bases(pl.Piece)[bed]
		if out := places.Minus(half.AtWork); !out.Empty() {
			part("%d %s", out.Len(), m.Word("out"))
		}
		if e := empty[bed].And(half.AtWork); !e.Empty() {
			part("%s empty", e.Brief())
		}
		if d := doubled[bed]; !d.Empty() {
			part("%s with more than one loop", d.Brief())
		}
	}
	if !p.Second().AtWork.Empty() {
		say(false, "; its handle at %d, %v pitch", p.Rack, p.Pitch)
	}
	return list
}
