package technique

import (
	"fmt"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Lace by transfer (rules 5.5). Before the first knitted row of a chart row its stitches
// are transferred, by the lace carriage (lace_carriage.go) or by hand, in the fewest shifts
// (transfers.go), and then the knit or the purl carriage knits. A lace carriage lives on the
// left and ends there; the other carriage lives on the right and knits two rows, there and
// back. Its program is the lace carriage's (lace_lines.go).
var Lace = Technique{
	Technique: piece.Technique{
		Name: "lace", Label: "lace", Drawn: piece.InLace, OneYarn: true,
		Transforms: []string{"mirror"}, Changed: "mirrored and repeated", Options: []string{"lean", "transfer", "look"},
		Sense: laceSense,
	},
	Lacks: func(m *machine.Profile, s *piece.Section) string {
		switch {
		case m.Lace == "":
			return "a lace carriage, or needles whose stitches are moved by hand"
		case s.IsLines() && m.Lace == "hand":
			return "a lace carriage, whose lines these are"
		case s.Options.Transfer == "fine" && m.Lace == "hand":
			return "a lace carriage with a setting for fine transfer"
		}
		return ""
	},
	Knitter: laceKnitter,
	Courses: func(_ *machine.Profile, s *piece.Section) int {
		if s.IsLines() || len(s.Areas) > 0 && s.Areas[0].Chart.All {
			return 1
		}
		return 2
	},
	Yarns: func(_ *piece.Piece, s *bed.Placed, row int) (loom.Need, *finding.Finding) {
		n := loom.Only(s.Section.RowYarn(row))
		if s.Section.IsLines() {
			return loom.Only(s.YarnRow(row)[0]), nil
		}
		n.Twice = s.Refused[row] == nil && !showsAll(s)
		return n, s.Refused[row]
	},
	May:    laceMay,
	Knit:   laceRow,
	Lines:  laceLines,
	Asks:   laceAsks,
	Limits: laceLimits,
}

// laceSense checks what lace needs of its charts: that they show rows alike, and that
// none names a yarn, since one yarn makes a row.
func laceSense(p *piece.Piece, s *piece.Section, fault func(path, format string, a ...any)) {
	for i, a := range s.Areas {
		at := fmt.Sprintf("areas[%d].chart", i)
		if a.Chart.All != s.Areas[0].Chart.All {
			fault(at,
				"%q: it shows other rows than %q; the charts of one lace section show all rows, or right-side "+
					"rows only", a.Chart.Name, s.Areas[0].Chart.Name)
		}
		for k, m := range a.Chart.Means {
			key := string(a.Chart.Keys[k])
			if m.Yarn != 0 && string(m.Yarn) != p.YarnID(s.Yarn) {
				fault(at, "%q: %q names yarn %c; the yarn of a lace row is the section's", a.Chart.Name, key, m.Yarn)
			}
			if m.Stitch == chart.Tuck || m.Stitch == chart.Slip || m.Stitch == chart.Weave {
				fault(at, "%q: %q means %v; lace knits, purls and transfers", a.Chart.Name, key, m.Stitch)
			}
		}
	}
}

// showsAll says that the section's charts show every knitted row, not only right-side rows.
func showsAll(s *bed.Placed) bool {
	return s.Section.IsLines() || len(s.Section.Areas) > 0 && s.Section.Areas[0].Chart.All
}

// laceKnitter: a purl carriage knits where any row holds purl stitches.
func laceKnitter(m *machine.Profile, s *bed.Placed) machine.Carriage {
	if m.PurlCarriage && slices.Contains(s.Stitch, chart.Purl) {
		return machine.PurlCarriage
	}
	return machine.KnitCarriage
}

func moves(row []chart.Stitch) bool {
	return slices.ContainsFunc(row, func(m chart.Stitch) bool { return m.Uses() != 1 })
}

// The parts of a right-side row: the one that is drawn, and the plain row after it.
const (
	drawnRow = 1
	plainRow = 2
)

// laceMay: the lace carriage needs the left end of the bed to itself, so the knit carriage
// must stand on the right, and knits there and back between transfers. Rows are asked one
// by one, since a chart of odd height falls otherwise in its second repeat.
func laceMay(l *loom.Loom, w loom.Work) *finding.Finding {
	if l.Machine.Lace == "hand" {
		return nil
	}
	s, row := w.Placed, w.Row
	if other := laceSchool(l, w); other != nil {
		return other
	}
	transfers := moves(s.StitchRow(row))
	if s.Section.IsLines() {
		transfers = len(s.LaceRows[row-1].Lines) > 0
	}
	f := &finding.Finding{Code: finding.LaceSecondRow, Severity: finding.Stop, Section: s.No, Rows: [2]int{row, row}}
	switch {
	case s.Section.IsLines() && !transfers:
		return nil
	case !s.Section.IsLines() && showsAll(s) && row%2 == 0 && transfers:
		f.Needles = s.Wants(row, chart.YarnOver)
		f.Text = fmt.Sprintf("Row %d has transfers, but it is the second of a pair: this machine knits two rows "+
			"between transfers.", row)
		f.Fix = "Move the transfers a row, or insert a row without any before them"
		return f
	case !s.Section.IsLines() && showsAll(s) && row == s.Rows && s.Rows%2 == 1:
		f.Needles = w.InWork()
		f.Text = fmt.Sprintf("%d rows are shown, an odd number: this machine knits them in pairs.", s.Rows)
		f.Fix, f.Mend = evenRows(s)
		return f
	case transfers && l.Stands(machine.KnitCarriage) != machine.Right:
		side := l.OtherSide(machine.Right,
			"The lace carriage works from the left, so the knit carriage must wait on the right; here it stands on "+
				"the left.")
		side.Rows = [2]int{row, row}
		return &side
	}
	return nil
}

// laceSchool refuses lines that are made for a lace carriage of the other school: each would be moved on another pass,
// and so the other way.
func laceSchool(l *loom.Loom, w loom.Work) *finding.Finding {
	s := w.Placed
	if !s.Section.IsLines() {
		return nil
	}
	here, alone := l.Machine.LaceSchool(), true
	at := -1
	for i := range s.Section.Areas {
		c := s.Section.Areas[i].Chart
		if alone = alone && c == s.Section.Areas[0].Chart; at < 0 && c.School != "" && c.School != here {
			at = i
		}
	}
	if at < 0 {
		return nil
	}
	c := s.Section.Areas[at].Chart
	moves := map[string]string{"direct": "on the pass that selects them", "preselect": "on the pass after"}
	f := &finding.Finding{Code: finding.CardSchool, Severity: finding.Stop, Section: s.No, Rows: [2]int{1, s.Rows},
		Needles: w.InWork(), Fix: "Take lines made for this machine, or put the piece on one of the other school",
		Text: fmt.Sprintf("The lines of %q are made for a lace carriage that moves stitches %s; this one moves them %s, "+
			"and so the other way.", c.Name, moves[c.School], moves[here])}
	if turned := edit.TurnedLines(l.Piece, c); alone && turned != nil { // else they would no longer read alike
		f.Fix, f.Mend = "Turn the lines for this machine", finding.Always(turned)
	}
	return f
}

// evenRows offers one row more: the next of the pattern where that is plain, or else a
// plain row on top of a chart that is placed whole.
func evenRows(s *bed.Placed) (fix string, mend func() []edit.Change) {
	a := &s.Section.Areas[0]
	switch {
	case !moves(s.StitchRow(s.Rows + 1)):
		return fmt.Sprintf("Knit %d rows", s.Rows+1), finding.Always(edit.SectionRows(s.No, s.Rows+1))
	case len(s.Section.Areas) == 1 && s.Rows == a.Chart.H && a.Rows == [2]int{1, a.Chart.H}:
		return "Add a plain row on top of the chart",
			finding.Always(edit.PlainRowOnTop(s.No, 1, a.Chart, s.Wide[0], s.Rows+1))
	}
	return fmt.Sprintf("Knit %d rows", s.Rows-1), nil
}

// laceRow transfers, and knits the row or the two that a right-side row is.
func laceRow(l *loom.Loom, w loom.Work) {
	s, m := w.Placed, l.Machine
	marks := s.StitchRow(w.Row)
	var leans machine.Set
	var byHand []step.Step
	if s.Section.IsLines() {
		lineRow(l, w)
		return
	}
	if moves(marks) {
		t := newTransfers(marks, s.From, exactLeans(s))
		if !t.exact {
			leans = othersShow(marks, s.From)
		}
		lifeline(l)
		switch m.Lace {
		case "separate":
			laceCarriage(l, w, set(t.separate(), s), true)
		case "combined":
			laceCarriage(l, w, set(t.combined(), s), false)
		default:
			t = newTransfers(masked(s, w), s.From, exactLeans(s))
			shifts, tools := t.byHand()
			for i, st := range shifts {
				byHand = append(byHand, step.Transfer{At: step.Main(st.needles), Way: st.dir, Tool: tools[i]})
			}
		}
	}
	knitLace(l, w, drawnRow, s.Wants(w.Row, chart.Purl).And(w.InWork()), func(p *pass.Pass) {
		p.Lace.OtherLeans, p.Before = leans, pass.Steps(byHand...)
	})
	if !showsAll(s) {
		knitLace(l, w, plainRow, machine.Set{}, func(*pass.Pass) {})
	}
}

// set gives shifts the section's setting of the lace carriage.
func set(shifts []shift, s *bed.Placed) []shift {
	for i := range shifts {
		shifts[i].fine = s.Section.Options.Transfer == "fine"
	}
	return shifts
}

// lineRow reads the lines that come before a row as they stand, and knits it; after the last, those that are left.
func lineRow(l *loom.Loom, w loom.Work) {
	s := w.Placed
	row := &s.LaceRows[w.Row-1]
	if len(row.Lines) > 0 {
		lifeline(l)
	}
	readLines(l, w, row.Lines)
	knitLace(l, w, drawnRow, machine.Set{}, func(*pass.Pass) {})
	if w.Row%s.Height == 0 {
		readLines(l, w, s.LaceRest.Lines)
	}
}

// readLines runs the lace carriage over lines. One that transfers what it selected on the pass before moves a line
// on the pass after it; what the last of them selects it does not move, unless it goes on at once.
func readLines(l *loom.Loom, w loom.Work, lines []bed.LaceLine) {
	if len(lines) == 0 {
		return
	}
	dirs := [2]machine.Side{machine.Right, machine.Left}
	if l.Machine.Lace == "combined" {
		shifts := make([]shift, len(lines))
		for i, line := range lines {
			shifts[i] = shift{line.Needles, dirs[i%2], line.Fine}
		}
		laceCarriage(l, w, shifts, false)
		return
	}
	var shifts []shift
	for i, line := range lines[:len(lines)-1] {
		shifts = append(shifts, shift{line.Needles, dirs[(i+1)%2], line.Fine})
	}
	first := machine.Set{} // selected at the end of the lines before, where the lace carriage goes on
	if last := l.Last(); last != nil && last.Carriage == machine.LaceCarriage && last.Section == w.Placed.No {
		first = last.Lace.Left
	}
	from := len(l.Plan.Passes)
	laceCarriage(l, w, shifts, true)
	p := &l.Plan.Passes[from]
	p.Main().Select, p.Lace.Drawn = first, first
	l.Last().Lace.Left = lines[len(lines)-1].Needles
}

// masked is a row's marks on the needles of its part alone; hands leave the others be.
func masked(s *bed.Placed, w loom.Work) []chart.Stitch {
	row := s.StitchRow(w.Row)
	if !s.Divided(w.Row) {
		return row
	}
	own, on := make([]chart.Stitch, len(row)), w.InWork()
	for x := range row {
		if on.Has(s.From + machine.Needle(x)) {
			own[x] = row[x]
		}
	}
	return own
}

// exactLeans says that decreases are stacked as drawn, whatever that costs; fine transfers
// do not fold.
func exactLeans(s *bed.Placed) bool {
	return s.Section.Options.Lean == "exact" && s.Section.Options.Transfer != "fine"
}

// knitLace knits one row of lace: the purl carriage purls what is selected; without it
// purl stitches are reformed by hand.
func knitLace(l *loom.Loom, w loom.Work, part int, purl machine.Set, more func(p *pass.Pass)) {
	l.NewCourse()
	p := l.New(w, machine.Plain)
	p.Works = l.Part(w, part)
	p.Carriage = laceKnitter(l.Machine, w.Placed)
	more(p)
	if p.Carriage == machine.PurlCarriage {
		p.Main().Setting = machine.Purling.As("lace")
		if p.Main().Select = purl; !l.Machine.Reads(p.Carriage) {
			p.Main().ByHand = purl
		}
		l.Go(p)
		return
	}
	l.Go(p)
	if !purl.Empty() {
		l.Later(step.Reform{At: step.Main(purl)})
	}
}

// laceAsks: eyelets, doubled stitches, which of their loops shows, and purls. The second
// row of a right-side row is plain. A fine transfer leaves no eyelet, and doubles also the
// needles that it takes from.
func laceAsks(_ *piece.Piece, s *bed.Placed, c *fabric.Course) (w fabric.Want) {
	w.Yarns = s.YarnRow(c.Row)
	if s.Section.IsLines() {
		asLines(&w, &s.LaceRows[c.Row-1])
		return w
	}
	var eyelets, right, left, doubled, purl machine.Set
	if c.Part != plainRow {
		eyelets, right, left = s.Wants(c.Row, chart.YarnOver), s.Wants(c.Row, chart.LeanRight),
			s.Wants(c.Row, chart.LeanLeft)
		doubled = right.Or(left).Or(s.Wants(c.Row, chart.Centre))
		purl = s.Wants(c.Row, chart.Purl)
	}
	if s.Section.Options.Transfer == "fine" {
		eyelets, w.Only = machine.Set{}, doubled
	}
	w.Ask(fabric.Eyelet, eyelets)
	w.Ask(fabric.Merged, doubled)
	w.Ask(fabric.LeanRight, right)
	w.Ask(fabric.LeanLeft, left)
	w.Ask(fabric.Purled, purl)
	w.Said = c.Shape().OtherLeans
	return w
}

// asLines asks a course for what the lines before it have made of its stitches.
func asLines(w *fabric.Want, row *bed.LaceRow) {
	w.Ask(fabric.Eyelet, row.Eyelets)
	w.Ask(fabric.Merged, row.Merged)
	w.Ask(fabric.LeanRight, row.LeanR)
	w.Ask(fabric.LeanLeft, row.LeanL)
	w.Ask(fabric.Purled, machine.Set{})
}

// afterLines asks the course after a section that ends in transfers for what they have left on its needles.
func afterLines(f *fabric.Fabric, c *fabric.Course, w *fabric.Want) {
	if c.Section < 2 {
		return
	}
	rest := &f.Plan.Section(c.Section - 1).LaceRest
	if len(rest.Lines) == 0 {
		return
	}
	for first := range f.Section(c.Section) {
		if first != c {
			return
		}
		break
	}
	for d, on := range map[fabric.Deed]machine.Set{fabric.Eyelet: rest.Eyelets, fabric.Merged: rest.Merged,
		fabric.LeanRight: rest.LeanR,
		fabric.LeanLeft:  rest.LeanL} {
		if w.Asks[d] { // more lace: both together are not worked out
			w.Asks[d] = false
		} else {
			w.Ask(d, on.And(c.Knitted))
		}
	}
}
