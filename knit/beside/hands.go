package beside

import "vindel/knit/pass"

// HandUses counts what the fingers do between passes: each use of a tool, each run of
// needles brought forward or reformed, each yarn laid.
func HandUses(pl *pass.Plan) (n int) { return handUses(pl.Passes) }

func handUses(passes []pass.Pass) (n int) {
	for i := range passes {
		p := &passes[i]
		n += len(p.Lays)
		for j := range p.Before {
			n += p.Before[j].Uses()
		}
	}
	return n
}
