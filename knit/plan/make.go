package plan

import (
	"context"
	"fmt"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/card"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// planner is a piece on its way to a plan.
type planner struct {
	*pass.Plan
	ctx      context.Context // of whoever waits for the plan
	m        *machine.Profile
	loom     *loom.Loom
	sections []section
	shape    shaped                 // of a piece that grows, narrows or divides
	needs    []loom.Need            // of every row that can be planned, in knitting order
	yarns    [][]piece.YarnNo       // shared out for them
	careful  bool                   // the caution of power and cables has been given
	printed  []card.Held            // what the lines bring forward, by section,
	brought  map[[2]int]machine.Set // as far as it has been asked, by section and line
	tooMuch  *finding.Finding       // a row whose line brings needles forward that it does not want; nil: none is known
}

// section is one of its sections, or the rows of one that a part of a divided piece knits: how it is
// knitted, and how many of its rows can be.
type section struct {
	*bed.Placed
	technique *technique.Technique
	stopped   bool // a row of it cannot be planned
	goesOn    bool // its passes are numbered with those of the next, which is the same section
	divides   bool // it begins where the piece divides
	rows      int
	at        int // of its first row among the needs

	skipped      []loom.Need // where it begins at a later row of its charts: those before, and their yarns
	skippedYarns [][]piece.YarnNo
}

// Make plans a whole piece. What stands in the way is in the plan's findings; the
// passes go as far as the plan could be made. Make never fails otherwise.
func Make(p *piece.Piece) *pass.Plan {
	pl, _ := MakeContext(context.Background(), p) // which never ends
	return pl
}

// MakeContext is Make for as long as somebody waits for it: where the context ends before
// the plan is made, there is none, and the error is the context's.
func MakeContext(ctx context.Context, p *piece.Piece) (*pass.Plan, error) {
	var starts map[rowOf]machine.Side
	var tooMuch *finding.Finding
	for {
		k := &planner{Plan: &pass.Plan{Piece: p}, ctx: ctx, m: &p.Machine, tooMuch: tooMuch}
		k.shape.starts = starts
		pl, err := k.make()
		if f := k.tooMuch; err == nil && f != tooMuch {
			if tooMuch == nil || f.Section < tooMuch.Section || f.Section == tooMuch.Section && f.Rows[0] < tooMuch.Rows[0] {
				tooMuch = f // the plan ends before it, and so what is found next lies lower
				continue
			}
			k.Report(*f)
			k.Stop(f.Section, max(f.Rows[0], 1))
			k.Passes = nil
			return pl, nil
		}
		if again := k.shape.seen; err == nil && len(again) > 0 && len(starts) < mostStarts {
			starts = again // a row starts on another side than was thought
			continue
		}
		return pl, err
	}
}

func (k *planner) make() (*pass.Plan, error) {
	p, ctx := k.Piece, k.ctx
	showing := k.place()
	k.shareOut()
	k.programLines()
	expected := len(k.needs) + len(k.sections)
	for i := range k.needs { // where a colour takes a pass, or two
		if n := &k.needs[i]; n.Twice {
			expected += 2*len(n.Yarns) - 1
		} else if len(n.Yarns) > 2 {
			expected += len(n.Yarns) - 1
		}
	}
	if k.m.Feeders == 1 || k.m.School == machine.Pairs { // rows take two passes
		expected *= 2
	}
	k.Passes = make([]pass.Pass, 0, min(expected, pass.MaxPasses))
	k.loom = loom.New(p, k.Plan, showing)
	k.beginPiece()
	for i := range k.sections {
		if k.Stopped.Row > 0 && k.Stopped.Section == 0 || k.Refused != nil {
			break
		}
		if k.sections[i].divides && k.sections[i].Part == piece.SecondPart && !k.goBack(&k.sections[i]) {
			break
		}
		if !k.knit(&k.sections[i]) || len(k.shape.seen) > 0 {
			break
		}
	}
	if len(k.shape.seen) > 0 {
		return k.Plan, ctx.Err()
	}
	if k.Stopped.Row == 0 && ctx.Err() == nil {
		k.endPiece(piece.Whole)
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	known := k.tooMuch
	if k.link(); k.tooMuch != known {
		return k.Plan, nil
	}
	k.marked()
	k.windows()
	k.lifelines()
	k.switches()
	k.order()
	k.threads()
	k.console()
	k.count()
	if k.m.Feeders == 1 && k.shape.second == 0 {
		k.offerFewerCuts()
	}
	k.Findings = finding.Few(k.Findings)
	return k.Plan, nil
}

// place places every section and lists the yarns of every row that can be planned; showing
// says that a technique asks what needles show.
func (k *planner) place() (showing bool) {
	p := k.Piece
	k.Placed = make([]*bed.Placed, 0, len(p.Sections))
	k.sections = make([]section, 0, len(p.Sections))
	found := make([][]finding.Finding, 0, len(p.Sections))
	for i := range p.Sections {
		if k.ctx.Err() != nil {
			return showing
		}
		s, list := bed.Place(p, i+1)
		t := technique.Of(s.Section)
		showing = showing || t.Showing
		k.Placed, found = append(k.Placed, s), append(found, list)
		if p.Shape == nil {
			s.Starts = true
			k.sections = append(k.sections, section{Placed: s, technique: t})
		}
	}
	if p.Shape != nil {
		k.needShaped(found)
		return showing
	}
	for i := range k.sections {
		s := &k.sections[i]
		k.Findings = append(k.Findings, found[i]...)
		if s.at = len(k.needs); k.mayBe(s, found[i]) {
			k.need(s)
		}
	}
	return showing
}

// mayBe says that the machine can knit a section, and that nothing in how it is placed stops it.
func (k *planner) mayBe(s *section, found []finding.Finding) bool {
	if lack := k.lacks(s.technique, s.Placed); lack != nil {
		k.Report(*lack)
		k.Stop(s.No, 1)
		return false
	}
	if finding.Stops(found) {
		k.Stop(s.No, 1)
		return false
	}
	return true
}

// need lists the yarns of the rows of a section, as far as it can be planned. A row that
// comes again takes what it took before.
func (k *planner) need(s *section) {
	cycle := make([]loom.Need, 0, s.Cycle)
	stopped := 0
	for r := 1; r <= s.Cycle && k.ctx.Err() == nil; r++ {
		need, refused := s.technique.Yarns(k.Piece, s.Placed, r)
		if refused != nil {
			k.Report(*refused)
			if stopped == 0 {
				stopped = r
				k.Stop(s.No, r)
			}
		}
		cycle = append(cycle, need)
	}
	if k.ctx.Err() != nil || k.Stopped.Row > 0 && k.Stopped.Section < s.No {
		return // an earlier section stops the plan
	}
	for r := range s.technique.RowsOf(s.Placed) {
		if stopped > 0 && r >= stopped {
			return
		}
		need := cycle[(r-1)%s.Cycle]
		if s.rows == 0 && s.Section.Free {
			need.Empty = 1
		}
		k.needs = append(k.needs, need)
		s.rows++
	}
}

// shareOut shares the yarns of all rows between two feeders, or lets one lead where there
// is only one.
func (k *planner) shareOut() {
	whole := len(k.needs) // up to where the second part of a divided piece is threaded anew
	if k.shape.second > 0 {
		whole = k.shape.second
	}
	if k.m.Feeders == 1 {
		first := k.firstYarns()
		k.yarns, _ = loom.Leads(k.needs[:whole], k.Piece.Start, first)
		if whole < len(k.needs) {
			again := map[int]piece.YarnNo{}
			for at, y := range first {
				again[at-whole] = y
			}
			more, _ := loom.Leads(k.needs[whole:], k.shape.side, again)
			k.yarns = append(k.yarns, more...)
		}
	} else {
		k.yarns, _ = loom.Feeders(k.needs[:whole], k.m.School == machine.ByHand)
		if whole < len(k.needs) {
			more, _ := loom.Feeders(k.needs[whole:], k.m.School == machine.ByHand)
			k.yarns = append(k.yarns, more...)
		}
	}
	for i := range k.sections {
		s := &k.sections[i]
		if order := s.technique.Order; order != nil && s.rows > 0 {
			if s.FromRow == 1 {
				s.skipped = k.skips(s)
			} else {
				s.After = s.FromRow - 1 + s.Section.Shift()
			}
			var rows [][]piece.YarnNo
			for _, need := range append(s.skipped, k.needs[s.at:s.at+s.rows]...) {
				rows = append(rows, need.Yarns)
			}
			before := piece.YarnNo(0)
			if s.at > 0 && s.at != whole && len(k.yarns[s.at-1]) > 0 {
				last := k.yarns[s.at-1]
				if before = last[0]; k.sections[i-1].technique.Order != nil || k.m.Feeders == 1 {
					before = last[len(last)-1]
				}
			}
			for range s.skipped {
				before = 0 // the card is made from its line 1
			}
			rows = order(s.Placed, rows, before)
			s.skippedYarns = rows[:len(s.skipped)]
			copy(k.yarns[s.at:], rows[len(s.skipped):])
		}
	}
}

// firstYarns gives the lead of the first two-colour row of the piece, if the piece
// names one, and of each section that names one of its own: by row among the needs.
func (k *planner) firstYarns() map[int]piece.YarnNo {
	first := map[int]piece.YarnNo{}
	for i := range k.sections {
		s := &k.sections[i]
		y := s.Section.Options.FirstYarn
		if y == 0 || y == k.Piece.Options.FirstYarn && len(first) > 0 {
			continue
		}
		for j := s.at; j < s.at+s.rows; j++ {
			if k.needs[j].Free {
				first[j] = y
				break
			}
		}
	}
	return first
}

// lacks says what the machine is missing for a section, nil where it can knit it.
func (k *planner) lacks(t *technique.Technique, s *bed.Placed) *finding.Finding {
	f := &finding.Finding{Code: finding.TechniqueMachine, Severity: finding.Stop, Section: s.No,
		Rows: [2]int{1, s.Rows}, Needles: s.InWork(1)}
	if t.Knit == nil {
		f.Text = fmt.Sprintf("Vindel does not plan %s yet.", t.Name)
		return f
	}
	lack := t.Lack(k.m, s.Section)
	if lack == "" {
		return nil
	}
	f.Text = fmt.Sprintf("%s cannot knit %s: it lacks %s.", k.m.Name, t.Name, lack)
	if able := t.Able(s.Section); len(able) > 0 {
		f.Fix = "Use " + strings.Join(able, ", ")
	}
	if t.Else != nil {
		if fix, changes := t.Else(k.m, s.Section, s.No); len(changes) > 0 {
			f.Fix, f.Mend = fix, finding.Always(changes)
		}
	}
	return f
}

// knit makes the passes of a section, as far as it can be planned; false where the plan
// stops in it.
func (k *planner) knit(s *section) bool {
	l, t, from := k.loom, s.technique, len(k.Passes)
	if s.FromRow > 1 && s.Part == piece.FirstPart && s.divides {
		from = k.shape.from // its passes are numbered with those of the rows below
	}
	l.Section(s.Placed)
	done := 0
	if !t.Loops && s.FromRow == 1 { // else it says them itself
		k.notes(s, 0)
	}
	if s.Section.Free && s.rows > 0 && s.FromRow == 1 {
		l.Row()
		l.Empty(l.Knitter())
	}
	for r := range t.RowsOf(s.Placed) {
		if r < s.FromRow {
			continue
		}
		if done == s.rows {
			break
		}
		if k.ctx.Err() != nil {
			return false
		}
		at := s.at + done
		w := loom.Work{Placed: s.Placed, Row: r, Need: &k.needs[at], Yarns: k.yarns[at]}
		l.Row()
		if first := done == 0; first && k.held(s) || !k.freeBefore(s, w) {
			k.Stop(s.No, r)
			break
		}
		if f := k.tooMuch; f != nil && f.Section == s.No && f.Rows[0] == r {
			k.Report(*f)
			k.Stop(s.No, r)
			break
		}
		if !t.Loops {
			k.notes(s, r)
		}
		if k.Piece.Shape != nil && !t.Loops {
			k.shapeRow(s, r)
		}
		t.Knit(l, w)
		if len(k.shape.seen) > 0 || k.Piece.Shape != nil && !k.holdsStay(s, r) {
			break
		}
		l.Shown()
		done++
		if len(k.Passes) > pass.MaxPasses {
			k.tooLong(s, r)
			break
		}
	}
	goesOn := k.Stopped.Row == 0 || k.Stopped.Section != s.No || s.Part == piece.FirstPart && !s.stopped &&
		!k.stopsIn(s)
	switch {
	case t.Loops: // it numbers its own
	case s.goesOn && goesOn && k.indexOf(s)+1 < len(k.sections):
		k.shape.from = from // with those of the part
	default:
		k.number(s, from)
	}
	return goesOn
}

// tooLong ends a plan that would have more passes than anyone knits.
func (k *planner) tooLong(s *section, row int) {
	k.TooLong = true
	k.Stop(s.No, row)
	k.Report(finding.Finding{Code: finding.TooLong, Severity: finding.Stop, Section: s.No, Rows: [2]int{row, s.Rows},
		Text: fmt.Sprintf("The piece has more than %d passes; it is planned up to here.", pass.MaxPasses),
		Fix:  "Plan it as two pieces"})
}

// notes puts in the user's own hand steps before a row, or, for 0, before the section.
func (k *planner) notes(s *section, row int) {
	for _, text := range s.Section.Notes[row] {
		k.loom.Later(step.Note{Text: text})
	}
}

// count sums up the finished plan and adds what follows the last pass.
func (k *planner) count() {
	t := &k.Totals
	for i := range k.Passes {
		p := &k.Passes[i]
		t.Passes++
		if !p.Free && p.Carriage != machine.SecondCarriage {
			t.Knitted++
		}
		if p.Line > 0 {
			t.Lines++
		}
		t.Touches += touches(p.Before)
	}
	for i := range t.Recipe {
		for j := range k.Passes {
			if p := &k.Passes[j]; p.Section == t.Recipe[i].Section {
				for _, st := range p.Before {
					if put, ok := st.Step.(step.SetCard); ok && put.Section == 0 {
						t.Recipe[i].Card.SetBack++
					}
				}
			}
		}
	}
	k.After = k.loom.Due() // what the last row still wants of the fingers, also where the plan stops
	if k.Stopped.Row == 0 {
		k.off()
	}
	t.Touches += touches(k.After)
}

func touches(steps []pass.Step) (n int) {
	for i := range steps {
		n += steps[i].Touches()
	}
	return n
}
