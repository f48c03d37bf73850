package plan

import (
	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// plain: every needle knits the row's one yarn.
var plain = technique{
	name:      "plain",
	need:      oneYarn,
	patterned: never,
	row: func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
		k.course++
		k.pass(Pass{Row: r, Feeders: yarns, Cams: machine.PlainCams}, "plain")
	},
}
