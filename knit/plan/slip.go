package plan

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// slipCams knit what is forward and pass over the rest.
var slipCams = machine.Cams{Selected: machine.Knit, Unselected: machine.Slip, Held: machine.Hold}

// Slip, and slipped colour work (rules: 5.3). One yarn makes a row; a stitch that is to
// show another yarn is passed over, and so goes on showing what it showed before.
var slip = technique{
	name:      "slip",
	patterned: always,
	need:      oneYarn,
	may:       slipMay,
	row: func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
		p := Pass{Row: r, Feeders: yarns, Cams: slipCams, Select: k.p.Work().Minus(s.Slips(r)), Patterned: true}
		k.endNeedles(s, &p, true, true)
		k.patternRow(p, "slip")
	},
}

// slipMay: a stitch that row r passes over must be showing the yarn that the chart
// asks for. Where it does not, the stitches are named.
func slipMay(k *planner, s *bed.Placed, r int) *finding.Finding {
	var wrong machine.Set
	row := s.YarnRow(r)
	for n := range s.Slips(r).And(k.p.Work()).All() {
		if want := row[n-s.From]; want != 0 && want != k.showing[n+machine.MaxBed/2] {
			wrong.Add(n)
		}
	}
	if s.Section.Options.EndsHeld() {
		wrong = wrong.Minus(machine.SetOf(k.p.Work().First(), k.p.Work().Last()))
	}
	if wrong.Empty() {
		return nil
	}
	own := s.Section.RowYarn(r)
	n := wrong.First()
	f := &finding.Finding{Code: "slip-colour", Severity: finding.Stop, Section: s.Index + 1, Rows: [2]int{r, r}, Needles: wrong,
		Text: fmt.Sprintf("Row %d is knitted in %s, so %v must be passed over; but %v is to show %s, and shows %s.", r, k.p.YarnName(own), wrong, n, k.p.YarnName(row[n-s.From]), k.p.YarnName(k.showing[n+machine.MaxBed/2])),
		Fix:  "Let them show " + k.p.YarnName(own)}
	if !wrong.And(s.Covered).Empty() {
		f.Mend = func() []edit.Change { return s.Repaint(wrong, r, own, k.p) }
	}
	return f
}

// show notes the yarn that needles now show.
func (k *planner) show(needles machine.Set, y piece.YarnNo) {
	for n := range needles.All() {
		k.showing[n+machine.MaxBed/2] = y
	}
}
