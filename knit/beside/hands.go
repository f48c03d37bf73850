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
			st := &p.Before[j]
			for a, z := range st.Needles.Runs() {
				switch st.Do {
				case pass.Transfer:
					n += (int(z-a) + st.Tool) / max(st.Tool, 1)
				case pass.BringForward, pass.ToHold, pass.ToWork:
					n++
				case pass.Reform:
					n += int(z-a) + 1
				}
			}
		}
	}
	return n
}
