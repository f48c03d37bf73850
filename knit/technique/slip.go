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
	"vindel/knit/words"
)

// Slip, and slipped colour work (rules 5.3). One yarn makes a row; a stitch that is to
// show another yarn is passed over, and so goes on showing what it showed before.
var Slip = Technique{
	Technique: piece.Technique{Name: "slip", Label: "slip", Drawn: piece.InStitches, Mark: chart.Slip,
		EitherSide: true, OneYarn: true, Patterned: always, Behind: true},
	Showing: true,
	Yarns:   sectionYarn,
	May:     slipMay,
	Knit: func(l *loom.Loom, w loom.Work) {
		p := l.New(w, machine.Slipping)
		p.Main().Select, p.Patterned = w.InWork().Minus(w.Placed.Slips(w.Row)), true
		l.EndNeedles(p, true, w.Placed.Waiting(w.Row).Empty())
		l.Sent(p)
	},
	Asks: func(p *piece.Piece, s *bed.Placed, c *fabric.Course) fabric.Want {
		w := asksStitches(p, s, c)
		w.Exempt = slipEnds(s, c.Row)
		w.Ask(fabric.Slipped, s.Slips(c.Row))
		return w
	},
	Limits: func(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
		r, limit := NewRemarks(pl), piece.Limit(pl.Piece.Limits.Slip, piece.SlipLimit)
		var slipped fabric.Streak
		for c := range f.Section(section) {
			waiting := waitingIn(pl, c)
			over := slipped.Next(c.Slipped.Minus(waiting), c.AtWork, limit)
			r.Row(c, finding.SlipTall, over, over, "Let them knit a row in between",
				"%v are slipped for the %dth row running, while %s passes behind them; the limit is %d, and the "+
					"stitches are drawn too tall.",
				over, limit+1, pl.Piece.YarnName(pl.Section(c.Section).Section.RowYarn(max(c.Row, 1))), limit)
			r.edge(c, waiting)
		}
		return append(r.Found, shortRows(pl, f, section)...)
	},
}

// slipEnds is the end needles that a policy keeps where they knit; none where needles wait
// at an end, in a short row.
func slipEnds(s *bed.Placed, row int) machine.Set {
	if !s.Waiting(row).Empty() {
		return machine.Set{}
	}
	return heldEnds(s, row)
}

// waitingIn is the needles of a course that wait in a short row.
func waitingIn(pl *pass.Plan, c *fabric.Course) machine.Set {
	if c.Row == 0 {
		return machine.Set{}
	}
	return pl.Section(c.Section).Waiting(c.Row)
}

// shortRows notes where needles wait one after another at an end: each turn before them
// leaves a hole unless the yarn is wrapped round the first of them.
func shortRows(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
	s := pl.Section(section)
	var needles machine.Set
	rows, turns, below := [2]int{}, 0, machine.Set{}
	for r := 1; r <= s.Rows; r++ {
		w := s.Waiting(r)
		if !w.Empty() {
			if rows[1] = r; rows[0] == 0 {
				rows[0] = r
			}
		}
		for _, end := range []machine.Needle{s.InWork(r).First(), s.InWork(r).Last()} {
			now, was := runFrom(w, end), runFrom(below, end)
			if !now.Minus(was).Empty() {
				turns++
			}
		}
		needles, below = needles.Or(w), w
	}
	if turns == 0 {
		return nil
	}
	knitted := map[machine.Needle]int{}
	for c := range f.Section(section) {
		for n := range c.Knitted.All() {
			knitted[n]++
		}
	}
	longest, shortest := 0, s.Rows*2
	for n := range s.InWork(1).All() {
		longest, shortest = max(longest, knitted[n]), min(shortest, knitted[n])
	}
	return []finding.Finding{{Code: finding.TurnHole, Severity: finding.Note, Section: section, Rows: rows,
		Needles: needles,
		Text: fmt.Sprintf("Short rows: %v wait one after another. %s a hole where the yarn is not wrapped; the "+
			"longest wale has %s, the shortest %d.",
			needles, words.Count(turns, "turn leaves", "turns leave each"), words.Count(longest, "row", "rows"),
			shortest),
		Fix: "Wrap the yarn round the first waiting needle at each turn"}}
}

// runFrom is the part of a set that hangs together with an end of the work.
func runFrom(set machine.Set, end machine.Needle) (run machine.Set) {
	for from, to := range set.Runs() {
		if from <= end && end <= to {
			return machine.Range(from, to)
		}
	}
	return run
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
	wrong = wrong.Minus(slipEnds(s, w.Row))
	if wrong.Empty() {
		return nil
	}
	p, own, n := l.Piece, s.Section.RowYarn(w.Row), wrong.First()
	shows := "nothing yet"
	if y := l.Showing(n); y != 0 {
		shows = p.YarnName(y)
	}
	f := &finding.Finding{Code: finding.SlipColour, Severity: finding.Stop, Section: s.No, Rows: [2]int{w.Row, w.Row},
		Needles: wrong,
		Text: fmt.Sprintf("Row %d is knitted in %s, so %v must be passed over; but %v is to show %s, and shows %s.",
			w.Row, p.YarnName(own), wrong, n, p.YarnName(row[n-s.From]), shows),
		Fix: "Let them show " + p.YarnName(own)}
	if !wrong.And(s.Covered).Empty() {
		f.Mend = func() []edit.Change { return s.Repaint(own, p, bed.Spot{Needles: wrong, Row: w.Row}) }
	}
	return f
}
