package plan

import (
	"cmp"
	"slices"

	"vindel/knit/pass"
)

// order puts what hands do before each pass in an order in which it can be done.
func (k *planner) order() {
	for i := range k.Passes {
		p := &k.Passes[i]
		if p.Recipe > 0 {
			continue // as it is written
		}
		// A recipe's steps that no pass of its own has taken come first, as they are written; and where they end
		// the first part of a divided piece, what was due before them.
		if p.ID.Part == "" {
			slices.SortStableFunc(p.Before, func(a, b pass.Step) int { return min(b.Recipe, 1) - min(a.Recipe, 1) })
		}
		own := len(p.Before)
		for own > 0 && p.Before[own-1].Recipe == 0 {
			own--
		}
		first := p.N == 1 && own == 0
		slices.SortStableFunc(p.Before[own:], func(a, b pass.Step) int {
			return cmp.Compare(a.Rank(first), b.Rank(first))
		})
	}
}
