package plan

import (
	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Weaving (rules: 5.6). The main yarn knits every needle; before each pass the weft is
// laid by hand, under needles at rest and over forward ones. A marked stitch shows it
// on the purl side, which is the right side, so marked stitches are the unselected
// needles, unless the profile says the reverse.
var weave = technique{
	name:      "weave",
	patterned: always,
	lacks: func(m *machine.Profile) string {
		if !m.Weave {
			return "weaving guides that hold a laid yarn down"
		}
		return ""
	},
	need: oneYarn,
	row: func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
		work := k.p.Work()
		marked := s.Wants(r, chart.Weave).And(work)
		p := Pass{Row: r, Feeders: yarns, Patterned: true}
		if k.m.WeaveSel == "shown" {
			p.Select = marked
			p.Cams = machine.Cams{Selected: machine.Weave, Unselected: machine.Knit, Held: machine.Hold}
		} else {
			p.Select = work.Minus(marked)
			p.Cams = machine.Cams{Selected: machine.Knit, Unselected: machine.Weave, Held: machine.Hold}
			if r == 1 && k.m.School != machine.ByHand {
				k.plan.Findings = append(k.plan.Findings, inverted(s, "stitches that show the woven yarn", "it shows on the needles that are not selected"))
			}
		}
		if !marked.Empty() {
			p.Lays = []Lay{{Bobbin: k.p.YarnID(s.Section.Weft), Yarn: s.Section.Weft, From: work.First(), To: work.Last()}}
		}
		k.patternRow(p, "weave")
	},
}
