package beside

import (
	"vindel/knit/finding"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// RecipeUse is what a recipe takes of a yarn.
type RecipeUse struct {
	Yarn  piece.YarnNo
	Loops float64 // weighted by their length: a plain stitch is one
	Share float64 // of all yarns, 0 to 1
	Grams float64 // by the swatch; 0 where it does not say
}

// lengths is how much yarn a kind of loop takes against a stitch (recipes 8, Yarn).
var lengths = map[string]float64{"knit": 1, "second": 1, "short": 1, "cast": 1, "long": 3, "strand": .5, "wrap": .5}

// RecipeYarn is what the recipe of a section (from 1) takes, by yarns in the order of the piece. A
// swatch counted in rounds of the outermost repeat says how much a stitch takes in a round.
func RecipeYarn(pl *pass.Plan, section int) (list []RecipeUse) {
	p := pl.Piece
	all := 0.
	for i := range pl.Totals.Recipe {
		t := &pl.Totals.Recipe[i]
		if t.Section != section {
			continue
		}
		for y := range p.Yarns {
			u := RecipeUse{Yarn: piece.YarnNo(y + 1)}
			for kind, n := range t.Loops[p.YarnID(u.Yarn)] {
				u.Loops += lengths[kind] * float64(n)
			}
			if u.Loops > 0 {
				list = append(list, u)
				all += u.Loops
			}
		}
	}
	each := 0.
	if r, _ := recipeOf(pl, section); r != nil {
		s := &p.Section(section).Swatch
		if !s.Known() && (p.Swatch.Technique == "" || p.Swatch.Technique == p.Section(section).Technique.Name) {
			s = &p.Swatch
		}
		if grams, round := s.StitchGrams(); round {
			each = grams * float64(p.Work().Len()*outermost(r))
		}
	}
	for i := range list {
		u := &list[i]
		u.Share = u.Loops / all
		u.Grams = each * u.Share
	}
	return list
}

// Rounds is how many rounds the outermost repeat of the recipe of a section (from 1) has; 0: it has none.
func Rounds(pl *pass.Plan, section int) int {
	if r, _ := recipeOf(pl, section); r != nil {
		return outermost(r)
	}
	return 0
}

// outermost is how many rounds the outermost repeat has that most of a recipe's acts are in.
func outermost(r *pass.Recipe) (rounds int) {
	acts, most := map[finding.Round]int{}, 0
	for i := range r.Run.Acts {
		if around := r.Run.Acts[i].Rounds; len(around) > 0 {
			key := finding.Round{Word: around[0].Word, Of: around[0].Of}
			if acts[key]++; acts[key] > most {
				most, rounds = acts[key], key.Of
			}
		}
	}
	return rounds
}
