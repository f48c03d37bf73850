package plan

import (
	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// plain: every needle knits the row's one yarn.
var plain = technique{
	name: "plain",
	need: func(p *piece.Piece, s *bed.Placed, r int) (Need, *finding.Finding) {
		return Need{Yarns: [2]piece.YarnNo{s.Section.RowYarn(r), 0}}, nil
	},
	row: func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
		k.course++
		k.pass(Pass{Row: r, Feeders: yarns, Cams: machine.PlainCams}, "plain")
	},
}
