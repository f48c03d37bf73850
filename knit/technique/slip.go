package technique

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// slipLimit is the default of the most rows running that a needle is slipped (rules 5.3).
const slipLimit = 6

// Slip, and slipped colour work (rules 5.3). One yarn makes a row; a stitch that is to
// show another yarn is passed over, and so goes on showing what it showed before.
var Slip = Technique{
	Technique: piece.Technique{Name: "slip", Label: "slip", Drawn: piece.InStitches, Mark: chart.Slip,
		EitherSide: true, OneYarn: true},
	Patterned: always,
	Showing:   true,
	Yarns:     sectionYarn,
	May:       slipMay,
	Knit: func(l *loom.Loom, w loom.Work) {
		p := l.New(w, machine.Slipping)
		p.Main().Select, p.Patterned = w.InWork().Minus(w.Placed.Slips(w.Row)), true
		l.EndNeedles(p, true, true)
		l.Sent(p)
	},
	Asks: func(p *piece.Piece, s *bed.Placed, c *fabric.Course) fabric.Want {
		w := asksStitches(p, s, c)
		w.Exempt = heldEnds(s, c.Row)
		w.Ask(fabric.Slipped, s.Slips(c.Row))
		return w
	},
	Limits: func(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
		r, limit := NewRemarks(pl), piece.Limit(pl.Piece.Limits.Slip, slipLimit)
		var slipped fabric.Streak
		for c := range f.Section(section) {
			over := slipped.Next(c.Slipped, c.AtWork, limit)
			r.Row(c, finding.SlipTall, over, over, "Let them knit a row in between",
				"%v are slipped for the %dth row running; the limit is %d, and the stitches are drawn too tall.",
				over, limit+1, limit)
			r.edge(c)
		}
		return r.Found
	},
}

// slipMay: a stitch that the row passes over must be showing the yarn that the chart
// asks for. Where it does not, the stitches are named.
func slipMay(l *loom.Loom, w loom.Work) *finding.Finding {
	s, row := w.Placed, w.Placed.YarnRow(w.Row)
	var wrong machine.Set
	for n := range s.Slips(w.Row).And(w.InWork()).All() {
		if want := row[n-s.From]; want != 0 && want != l.Showing(n) {
			wrong.Add(n)
		}
	}
	if s.Section.Options.EndsHeld() {
		wrong = wrong.Minus(machine.SetOf(w.InWork().First(), w.InWork().Last()))
	}
	if wrong.Empty() {
		return nil
	}
	p, own, n := l.Piece, s.Section.RowYarn(w.Row), wrong.First()
	f := &finding.Finding{Code: finding.SlipColour, Severity: finding.Stop, Section: s.No, Rows: [2]int{w.Row, w.Row},
		Needles: wrong,
		Text: fmt.Sprintf("Row %d is knitted in %s, so %v must be passed over; but %v is to show %s, and shows %s.",
			w.Row, p.YarnName(own), wrong, n, p.YarnName(row[n-s.From]), p.YarnName(l.Showing(n))),
		Fix: "Let them show " + p.YarnName(own)}
	if !wrong.And(s.Covered).Empty() {
		f.Mend = func() []edit.Change { return s.Repaint(own, p, bed.Spot{Needles: wrong, Row: w.Row}) }
	}
	return f
}
