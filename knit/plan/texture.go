package plan

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Knit and purl (rules: 5.8). A purl carriage, where the machine has one, makes the
// selected needles purl; it lives on the right, so its rows come in pairs. Without
// one every row is knitted plain, and its purl stitches are dropped and latched back
// by hand before the next.
var texture = technique{
	name:      "texture",
	patterned: func(m *machine.Profile) bool { return m.PurlCarriage },
	need:      oneYarn,
	row: func(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
		purls := s.Wants(r, chart.Purl).And(k.p.Work())
		p := Pass{Row: r, Feeders: yarns, Cams: machine.PlainCams}
		if k.m.PurlCarriage {
			p.Carriage, p.Select, p.Patterned = machine.PurlCarriage, purls, true
			k.patternRow(p, "plain")
			return
		}
		k.course++
		k.pass(p, "plain")
		if !purls.Empty() {
			k.due = append(k.due, Step{Do: Reform, Needles: purls})
		}
	},
}

// purlOnTheRight: knit and purl carriage change places on the right, with the yarn
// there; an odd number of rows before it leaves the yarn on the left.
func (k *planner) purlOnTheRight(side machine.Side) finding.Finding {
	return k.otherSide(side, "Knit and purl carriage change places on the right, where the purl carriage lives; here they would meet on the left.")
}

// otherSide stops a section that needs the carriage on the other side, and offers what
// brings it there: the other side to start from, or one row more in the section before.
func (k *planner) otherSide(side machine.Side, text string) finding.Finding {
	f := finding.Finding{Code: "carriage-side", Severity: finding.Stop, Section: k.section + 1, Rows: [2]int{1, 1}, Needles: k.p.Work(), Text: text}
	if k.section == 0 {
		f.Fix, f.Mend = fmt.Sprintf("Start with the carriage on the %v", side), finding.Always(edit.StartOn(side))
		return f
	}
	rows := k.plan.Placed[k.section-1].Rows + 1
	f.Fix, f.Mend = fmt.Sprintf("Knit one more row before it: %d", rows), finding.Always(edit.SectionRows(k.section-1, rows))
	return f
}
