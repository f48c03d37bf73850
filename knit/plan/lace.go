package plan

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Lace by transfer (rules: 5.5). Before the first knitted row of a chart row its stitches
// are transferred, by the lace carriage or by hand (transfers.go), and then the knit or
// the purl carriage knits. A lace carriage lives on the left and ends there; the other
// carriage lives on the right and knits two rows, there and back.
var lace = technique{
	name:      "lace",
	patterned: never, // its program is the lace carriage's; lines are numbered in laceLines
	lacks: func(m *machine.Profile) string {
		if m.Lace == "" {
			return "a lace carriage, or needles whose stitches are moved by hand"
		}
		return ""
	},
	also: func(m *machine.Profile, s *piece.Section) string {
		if s.Options.Transfer == "fine" && m.Lace == "hand" {
			return "a lace carriage with a setting for fine transfer"
		}
		return ""
	},
	need:  laceNeed,
	may:   laceMay,
	row:   laceRow,
	lines: laceLines,
}

func laceNeed(p *piece.Piece, s *bed.Placed, r int) (Need, *finding.Finding) {
	n := Need{Yarns: [2]piece.YarnNo{s.Section.RowYarn(r), 0}}
	if f := s.Refused[r]; f != nil {
		return n, f
	}
	if !showsAll(s) {
		n.Twice = true
	}
	return n, nil
}

// showsAll says that the section's charts show every knitted row, not only right-side rows.
func showsAll(s *bed.Placed) bool {
	return len(s.Section.Areas) > 0 && s.Section.Areas[0].Chart.All
}

func moves(row []chart.Stitch) bool {
	return slices.ContainsFunc(row, func(m chart.Stitch) bool { return m.Uses() != 1 })
}

// purls says that some row of the section asks for purl stitches.
func purls(s *bed.Placed) bool { return slices.Contains(s.Stitch, chart.Purl) }

// laceMay: the lace carriage needs the left end of the bed to itself, so the knit carriage
// must stand on the right, and knits there and back between transfers. Rows are asked one
// by one, since a chart of odd height falls otherwise in its second repeat.
func laceMay(k *planner, s *bed.Placed, r int) *finding.Finding {
	if k.m.Lace == "hand" {
		return nil
	}
	transfers := moves(s.StitchRow(r))
	f := &finding.Finding{Code: "lace-second-row", Severity: finding.Stop, Section: s.Index + 1, Rows: [2]int{r, r}}
	switch {
	case showsAll(s) && r%2 == 0 && transfers:
		f.Needles = s.Wants(r, chart.YarnOver)
		f.Text = fmt.Sprintf("Row %d has transfers, but it is the second of a pair: this machine knits two rows between transfers.", r)
		f.Fix = "Move the transfers a row, or insert a row without any before them"
		return f
	case showsAll(s) && r == s.Rows && s.Rows%2 == 1:
		f.Needles = k.p.Work()
		f.Text = fmt.Sprintf("%d rows are shown, an odd number: this machine knits them in pairs.", s.Rows)
		f.Fix, f.Mend = evenRows(s)
		return f
	case transfers && k.carriage != machine.Right:
		side := k.otherSide(machine.Right, "The lace carriage works from the left, so the knit carriage must wait on the right; here it stands on the left.")
		side.Rows = [2]int{r, r}
		return &side
	}
	return nil
}

// evenRows offers one row more: the next of the pattern where that is plain, or else a
// plain row on top of a chart that is placed whole.
func evenRows(s *bed.Placed) (fix string, mend func() []edit.Change) {
	a := &s.Section.Areas[0]
	switch {
	case !moves(s.StitchRow(s.Rows + 1)):
		return fmt.Sprintf("Knit %d rows", s.Rows+1), finding.Always(edit.SectionRows(s.Index, s.Rows+1))
	case len(s.Section.Areas) == 1 && s.Rows == a.Chart.H && a.Rows == [2]int{1, a.Chart.H}:
		return "Add a plain row on top of the chart", finding.Always(edit.PlainRowOnTop(s.Index, 0, a.Chart, bed.Lie(a).W, s.Rows+1))
	}
	return fmt.Sprintf("Knit %d rows", s.Rows-1), nil
}

// knitterOf is the carriage that knits a section's rows. In lace a purl carriage does where
// any of its rows holds purl stitches.
func (k *planner) knitterOf(s *bed.Placed) machine.Carriage {
	if t := s.Section.Technique; k.m.PurlCarriage && (t.Mark == chart.Purl || t.Drawn == piece.InLace && purls(s)) {
		return machine.PurlCarriage
	}
	return machine.KnitCarriage
}

func laceRow(k *planner, s *bed.Placed, r int, yarns [2]piece.YarnNo) {
	all := showsAll(s)
	marks := s.StitchRow(r)
	first := Pass{Row: r, Feeders: yarns, Cams: machine.PlainCams, Carriage: k.knitterOf(s)}
	if moves(marks) {
		exact := s.Section.Options.Lean == "exact" && s.Section.Options.Transfer != "fine" // fine transfers do not fold
		if !exact {
			first.OtherLeans = othersShow(marks, s.From)
		}
		k.lifeline()
		t := newTransfers(marks, s.From, exact)
		switch k.m.Lace {
		case "separate":
			k.laceCarriage(s, r, t.separate(), true)
		case "combined":
			k.laceCarriage(s, r, t.combined(), false)
		default:
			steps, tools := t.byHand()
			for i, st := range steps {
				first.Before = append(first.Before, Step{Do: Transfer, Needles: st.needles, Dir: st.dir, Tool: tools[i]})
			}
		}
	}
	wanted := s.Wants(r, chart.Purl).And(k.p.Work())
	k.laceKnit(first, wanted)
	if !all {
		k.laceKnit(Pass{Row: r, Feeders: yarns, Cams: machine.PlainCams, Carriage: first.Carriage, PlainRow: true}, machine.Set{})
	}
}

// laceKnit knits one row of lace: the purl carriage purls what is selected; without it
// purl stitches are reformed by hand.
func (k *planner) laceKnit(p Pass, purl machine.Set) {
	k.course++
	if p.Carriage == machine.PurlCarriage {
		if p.Select = purl; !k.m.reads(p.Carriage) {
			p.ByHand = purl
		}
		k.pass(p, "plain")
		return
	}
	k.pass(p, "plain")
	if !purl.Empty() {
		k.due = append(k.due, Step{Do: Reform, Needles: purl})
	}
}

// reads says that the carriage advances the program by a line in lace.
func (m profile) reads(c machine.Carriage) bool {
	return m.Program != machine.NoProgram && slices.Contains(m.Advances, c.String())
}

// lifeline reminds of one at a plain row, as often as the weights are moved: before the
// first transfers of a section, and then again once so many rows have been knitted.
func (k *planner) lifeline() {
	every := k.p.Limits.Weights
	if every == 0 {
		every = weightsEvery
	}
	n := len(k.plan.Passes)
	if n == 0 || k.course == 0 || k.lined > 0 && k.course-k.lined < every {
		return
	}
	last := &k.plan.Passes[n-1]
	if below := k.plan.Placed[last.Section-1]; last.Row > 0 && !last.PlainRow && moves(below.StitchRow(last.Row)) {
		return // its loops are still as the transfers left them
	}
	k.lined = k.course
	k.due = append(k.due, Step{Do: Lifeline, Value: k.counter})
}

// laceCarriage runs the lace carriage: one pass a step, and before them the pass that
// only selects, where the carriage transfers what it selected on the way before.
func (k *planner) laceCarriage(s *bed.Placed, r int, steps []step, ahead bool) {
	if ahead {
		steps = append([]step{{dir: machine.Right}}, steps...)
	}
	want := "transfer"
	if s.Section.Options.Transfer == "fine" {
		want = "fine"
	}
	if want != k.transfer && (k.transfer != "" || want == "fine") {
		k.due = append(k.due, Step{Do: SetCams, Cams: want})
	}
	k.transfer = want
	for i, st := range steps {
		p := Pass{Row: r, Carriage: machine.LaceCarriage, Free: true, Cams: machine.FreeCams, Select: st.needles, Fine: s.Section.Options.Transfer == "fine"}
		p.Why = why(steps, i, ahead)
		if !k.m.reads(machine.LaceCarriage) { // nothing selects for it but the fingers
			p.ByHand = p.Select
		}
		k.pass(p, "")
	}
}

// why says what the line that is read in pass i is for, or why it is blank.
func why(steps []step, i int, ahead bool) string {
	worked := i // the step that the line read now selects for
	if ahead {
		worked++
	}
	switch {
	case worked == len(steps):
		return "blank: everything is moved, and the carriage comes off on the left"
	case !steps[worked].needles.Empty():
		return fmt.Sprintf("moves %s to the %v", count(steps[worked].needles.Len(), "stitch", "stitches"), steps[worked].dir)
	}
	for _, later := range steps[worked:] {
		if !later.needles.Empty() {
			return fmt.Sprintf("blank: what is left to move goes to the %v", later.dir)
		}
	}
	return "blank: everything is moved, and the carriage must end on the left"
}

// reason is why a line is there, once it is known what it selects.
func (p *Pass) reason() string {
	switch {
	case p.Carriage == machine.LaceCarriage && (p.reads.Empty() || !strings.HasPrefix(p.Why, "blank")):
		return p.Why
	case !p.reads.Empty():
		return fmt.Sprintf("selects %s", count(p.reads.Len(), "purl stitch", "purl stitches"))
	case p.Carriage == machine.PurlCarriage:
		return "blank: no purl stitch follows"
	}
	return "blank: this carriage moves the program on, and selects nothing"
}

// laceLines numbers the lines that the carriages read in a lace section, from the pass
// with index `from` on: one a pass of every carriage that advances the program, starting
// again with the pattern. A preselecting carriage reads the line of the pass after it.
func laceLines(k *planner, from int, s *bed.Placed) (lines int) {
	if k.m.Program == machine.NoProgram {
		return 0
	}
	ahead := k.m.Lace == "separate" || k.m.Lace == "hand" && k.m.School == machine.Preselect
	line, cycle := 0, -1
	passes := k.plan.Passes[from:]
	for i := range passes {
		p := &passes[i]
		if c := (p.Row - 1) / s.Cycle; c != cycle {
			cycle, line = c, 0
		}
		if !k.m.reads(p.Carriage) {
			continue
		}
		line++
		lines = max(lines, line)
		p.Line, p.own, p.InLace, p.SelectsNow = line, line, true, !ahead
		p.reads = p.Select
		if ahead {
			p.reads = machine.Set{}
			if i+1 < len(passes) && k.m.reads(passes[i+1].Carriage) {
				p.reads = passes[i+1].Select
			}
			p.Sets = p.reads
			// Where no reading pass comes before it, fingers set what it needs.
			if !p.Select.Empty() && (i == 0 || !k.m.reads(passes[i-1].Carriage)) {
				p.ByHand = p.Select
				p.Before = append(p.Before, Step{Do: BringForward, Needles: p.Select})
			}
		}
		// Fingers that have moved stitches undo what was selected there.
		var moved machine.Set
		for _, st := range p.Before {
			if st.Do == Transfer {
				moved = moved.Or(st.Needles).Or(st.Needles.Left(1)).Or(st.Needles.Right(1))
			}
		}
		if moved = moved.And(p.Select).Minus(p.ByHand); !moved.Empty() && ahead {
			p.Before = append(p.Before, Step{Do: BringForward, Needles: moved})
		}
		p.Why = p.reason()
		if line == 1 && cycle == 0 {
			k.setProgram(p, p.Section)
		}
	}
	return lines
}
