package technique

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// TwoColour (rules 5.1; in two passes: rules 5.2). With two feeders a row is one pass: feeder 1 knits the
// needles at rest, feeder 2 those forward. With one it is two, out and back.
var TwoColour = Technique{
	Technique: piece.Technique{Name: "two-colour", Label: "two-colour", Drawn: piece.InYarns, TwoPasses: true,
		Patterned: always, Behind: true},
	Lacks: func(m *machine.Profile, _ *piece.Section) string {
		if m.Feeders < 2 && m.School != machine.ByHand {
			return "a second feeder (or needles selected by hand, for rows in two passes)"
		}
		return ""
	},
	Yarns: twoColourNeed,
	Knit: func(l *loom.Loom, w loom.Work) {
		if l.Machine.Feeders == 1 {
			twoPassRow(l, w)
			return
		}
		p := l.New(w, machine.TwoColour)
		p.Main().Select, p.Patterned = w.Shows(w.Yarn(2)), true
		p.Second().Both = true // feeder 1's on top
		l.EndNeedles(p, true, w.Yarn(2) != 0)
		l.Sent(p)
	},
	Asks: func(p *piece.Piece, s *bed.Placed, c *fabric.Course) fabric.Want {
		w := asksStitches(p, s, c)
		if p.Machine.Feeders > 1 {
			if w.Exempt = heldEnds(s, c.Row); !w.Exempt.Empty() && !twoYarns(s, c.Row, s.InWork(c.Row)) {
				w.Exempt = machine.Set{} // with feeder 2 empty nothing is held
			}
			return w
		}
		if inner := followed(p, s, c.Row); twoYarns(s, c.Row, inner) {
			w.Exempt = s.InWork(c.Row).Minus(inner)
		} else {
			w.Exempt = oddSeam(p, s, c.Row)
		}
		return w
	},
	Limits: func(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
		return slices.Concat(motifsAlone(pl, f, section), seamColumns(pl, section), combWidth(pl, section))
	},
}

// seamColumns names the columns of a chart that lie under the two seam needles, where they
// do not show, and offers two needles more outside them.
func seamColumns(pl *pass.Plan, section int) []finding.Finding {
	p, s := pl.Piece, pl.Section(section)
	if edit.Seam(p, s.Section) == 0 {
		return nil
	}
	work := s.InWork(1)
	var under machine.Set
	var lost []string
	for _, n := range []machine.Needle{work.First(), work.Last()} {
		if name, column, _ := s.Source(n, 1); name != "" && !followed(p, s, 1).Has(n) {
			under.Add(n)
			lost = append(lost, fmt.Sprintf("column %d of %s at %v", column, name, n))
		}
	}
	two, rows, differ := false, [2]int{}, machine.Set{}
	last := s.Cycle
	if p.Shape != nil { // the seam goes with the edge
		last = s.Rows
	}
	for r := 1; r <= last; r++ {
		two = two || twoYarns(s, r, followed(p, s, r))
		if odd := oddSeam(p, s, r); !odd.Empty() {
			if differ = differ.Or(odd); rows[0] == 0 {
				rows[0] = r
			}
			rows[1] = r
		}
	}
	if differ.Empty() && (under.Empty() || !two) {
		return nil
	}
	f := finding.Finding{Code: finding.SeamColumns, Severity: finding.Note, Section: section, Rows: [2]int{1, s.Rows},
		Needles: under,
		Text: fmt.Sprintf("The end needles catch both yarns and do not follow the chart: %s %s not show.",
			strings.Join(lost, " and "), words.Plural(len(lost), "does", "do"))}
	if !differ.Empty() {
		f.Severity, f.Rows, f.Needles = finding.Warn, rows, differ
		f.Text = fmt.Sprintf("Row %d is of one colour, and at the seam %v %s drawn in another: %s in the row's yarn, and the "+
			"seam takes %s up.", rows[0], differ, words.Plural(differ.Len(), "is", "are"),
			words.Plural(differ.Len(), "it knits", "they knit"), words.Plural(differ.Len(), "it", "them"))
	}
	if changes, ok := edit.InsideSeam(p); ok {
		f.Fix, f.Mend = "Put a seam stitch outside the chart at each end", finding.Always(changes)
	}
	return []finding.Finding{f}
}

// motifsAlone notes a second yarn that turns away from the edge of the work, farther than a
// float may be: the motif stands alone, and its edge may gape.
func motifsAlone(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
	limit := pl.Piece.FloatLimit()
	var turns machine.Set
	rows, yarn := [2]int{}, piece.YarnNo(0)
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != section || p.Yarn(2) == 0 {
			continue
		}
		work := p.Main().AtWork.Minus(p.Main().Hold)
		for feeder, took := range f.Took[i] {
			if took.Empty() || work.Empty() {
				continue
			}
			left, right := int(took.First()-work.First()), int(work.Last()-took.Last())
			if max(left, right) <= limit {
				continue
			}
			if left > limit {
				turns.Add(took.First())
			}
			if right > limit {
				turns.Add(took.Last())
			}
			if rows[0] == 0 {
				rows[0], yarn = p.Row(), p.Yarn(feeder+1)
			}
			rows[1] = p.Row()
		}
	}
	if turns.Empty() {
		return nil
	}
	return []finding.Finding{{Code: finding.MotifAlone, Severity: finding.Note, Section: section, Rows: rows,
		Needles: turns,
		Text: fmt.Sprintf("%s turns at %v, away from the edge of the work: a motif that stands alone.",
			words.Capital(pl.Piece.YarnName(yarn)), turns),
		Fix: "Catch it there by hand where the edge gapes"}}
}

// twoYarns says that the needles show more than one yarn in a row.
func twoYarns(s *bed.Placed, row int, on machine.Set) bool {
	var buf [4]bed.Colour
	return len(s.Colours(buf[:0], row, on)) > 1
}

// followed is the needles whose colours a two-colour row is counted by: all at work, but
// for the two seam needles where rows take two passes.
func followed(p *piece.Piece, s *bed.Placed, row int) machine.Set {
	work := s.InWork(row)
	if p.Machine.Feeders == 1 && work.Len() > 2 {
		work.Remove(work.First())
		work.Remove(work.Last())
	}
	return work
}

// oddSeam is the seam needles of a row of one colour that the chart shows in another: they knit in the row's all the
// same, since a yarn for them alone would take two passes and be caught nowhere else.
func oddSeam(p *piece.Piece, s *bed.Placed, row int) (odd machine.Set) {
	inner := followed(p, s, row)
	seam := s.InWork(row).Minus(inner)
	if seam.Empty() || inner.Empty() || twoYarns(s, row, inner) {
		return odd
	}
	yarns := s.YarnRow(row)
	for n := range seam.All() {
		if yarns[n-s.From] != yarns[inner.First()-s.From] {
			odd.Add(n)
		}
	}
	return odd
}

// twoPassRow knits one row of a machine with one feeder. Two colours are worked out
// and back: with the first yarn in the feeder, the needles of the other stand forward and
// are held; at the far side the yarns change, and the way back knits what stood forward.
//
//	seam needle (full hold)          seam needle (never forward)
//	      ↓                                ↓
//	      B  A A B B A  …  A B B A         A      ← out knits A, → back knits B
//
// The two seam needles do not follow the chart, so that both yarns are caught where
// they change and the outward yarn reaches the edge it starts from. In the plain rows
// between, every needle knits and follows it.
func twoPassRow(l *loom.Loom, w loom.Work) {
	l.NewCourse()
	way := l.Stands(machine.KnitCarriage).Other()
	if w.Yarn(2) == 0 && l.Fetches(w) {
		fetch(l, w)
		return
	}
	if w.Yarn(2) == 0 {
		if v := l.Levers(machine.KnitCarriage); v.Stands(way).Key == machine.Outward.Key { // with no needle forward it knits plain: nothing to change
			p := l.New(w, machine.Outward)
			p.Patterned, p.Exempt = true, oddSeam(l.Piece, w.Placed, w.Row)
			l.Go(p)
			return
		}
		p := l.New(w, machine.Plain)
		p.Patterned, p.Exempt = true, oddSeam(l.Piece, w.Placed, w.Row)
		l.Go(p)
		return
	}
	work := w.InWork()
	far := machine.SetOf(work.First())
	if way == machine.Right {
		far = machine.SetOf(work.Last())
	}
	p := l.New(w, machine.Outward)
	p.Patterned = true
	p.Exempt = work.Minus(followed(l.Piece, w.Placed, w.Row))
	half := p.Main()
	half.Yarns = w.Yarns[:1]
	half.Select, half.Hold = w.Shows(w.Yarn(2)), far.And(p.Exempt)
	if !half.Hold.Empty() {
		p.Before = pass.Steps(step.ToHold{At: step.Main(half.Hold), Quiet: true})
	}
	p.Comb = comb(l.Machine, w.Placed, half.Select, followed(l.Piece, w.Placed, w.Row))
	l.Go(p)

	p = l.Again()
	p.Works, p.Comb = l.Part(w, 2), pass.Comb{}
	p.Main().Setting, p.Main().Yarns = machine.Back, w.Yarns[1:2]
	l.Go(p)
}

// fetch knits a row in a yarn that hangs on the far side while the other is in: that comes out, the empty carriage goes
// over, and the row is its way back. Every needle is slipped, or all stand forward, held on the way out and knitted on
// the way back as in a row of two colours: then no lever is moved.
func fetch(l *loom.Loom, w loom.Work) {
	by := machine.Free
	held := w.Placed.Section.Options.FarYarn == "hold"
	if held {
		by = machine.Outward
	}
	p := l.New(w, by)
	p.Free, p.Main().Yarns = true, nil
	if held {
		p.Main().Select = w.InWork()
	}
	l.Go(p)
	p = l.Again()
	p.Free, p.Patterned, p.Works, p.Main().Yarns = false, true, l.Part(w, 2), w.Yarns
	p.Exempt = oddSeam(l.Piece, w.Placed, w.Row)
	p.Main().Setting = machine.Plain
	if held {
		p.Main().Setting = machine.Back
	}
	l.Go(p)
}

// comb is the choice of the machine's comb that brings needles forward across the bed: its
// first needle on the one under the chart's leftmost column. It serves where the needles that
// follow the chart stand alike every comb's width.
func comb(m *machine.Profile, s *bed.Placed, forward, follow machine.Set) (c pass.Comb) {
	if m.Comb == 0 || len(s.Section.Areas) != 1 || m.Comb%s.Wide[0] != 0 || forward.Empty() {
		return pass.Comb{}
	}
	c.At = s.Section.Areas[0].First
	var picked, resting [64]bool
	for n := range follow.All() {
		i := (int(n-c.At)%m.Comb + m.Comb) % m.Comb
		if forward.Has(n) {
			picked[i] = true
		} else {
			resting[i] = true
		}
		if picked[i] && resting[i] {
			return pass.Comb{}
		}
	}
	for i := range m.Comb {
		if picked[i] {
			c.Picks = append(c.Picks, i+1)
		}
	}
	return c
}

// combWidth notes a repeat that the comb cannot bring forward.
func combWidth(pl *pass.Plan, section int) []finding.Finding {
	m, s := &pl.Piece.Machine, pl.Section(section)
	if m.Comb == 0 || m.School != machine.ByHand || len(s.Section.Areas) != 1 || m.Comb%s.Wide[0] == 0 {
		return nil
	}
	w := s.Wide[0]
	var suit []string
	for n := 2; n <= m.Comb; n++ {
		if m.Comb%n == 0 {
			suit = append(suit, fmt.Sprint(n))
		}
	}
	return []finding.Finding{{Code: finding.CombWidth, Severity: finding.Note, Section: section, Rows: [2]int{1,
		s.Rows},
		Needles: s.Covered,
		Text: fmt.Sprintf("The repeat is %d wide and the comb has %d needles, so the comb does not serve: each row "+
			"is brought forward by fingers.",
			w, m.Comb),
		Fix: fmt.Sprintf("A repeat of %s suits the comb", words.List(suit, "or"))}}
}

func twoColourNeed(p *piece.Piece, s *bed.Placed, row int) (loom.Need, *finding.Finding) {
	var buf [4]bed.Colour
	colours := s.Colours(buf[:0], row, followed(p, s, row))
	switch len(colours) {
	case 1:
		n := loom.Only(colours[0].Yarn)
		n.Fetch = p.Machine.Feeders == 1 && s.Section.Options.FarYarn != "cut"
		return n, nil
	case 2:
		a, b := &colours[0], &colours[1]
		if b.Yarn < a.Yarn {
			a, b = b, a
		}
		n := &struct { // in one piece: there is one a row
			yarns [2]piece.YarnNo
			shows [2]machine.Set
		}{[2]piece.YarnNo{a.Yarn, b.Yarn}, [2]machine.Set{a.Needles, b.Needles}}
		return loom.Need{Yarns: n.yarns[:], Free: true, Shows: n.shows[:]}, nil
	}
	return loom.Need{}, tooManyColours(p, s, row, colours)
}

// tooManyColours names the rarest colours of the row and where they stand, and
// offers to knit them in the commonest.
func tooManyColours(p *piece.Piece, s *bed.Placed, row int, colours []bed.Colour) *finding.Finding {
	var names []string
	for _, c := range colours {
		names = append(names, p.YarnName(c.Yarn))
	}
	byNumber := slices.Clone(colours)
	slices.SortStableFunc(byNumber, func(a, b bed.Colour) int { return b.Needles.Len() - a.Needles.Len() })
	var extra machine.Set
	for _, c := range byNumber[2:] {
		extra = extra.Or(c.Needles)
	}
	var columns []string
	for n := range extra.All() {
		if name, column, _ := s.Source(n, row); name != "" && !slices.Contains(columns, fmt.Sprint(column)) {
			columns = append(columns, fmt.Sprint(column))
		}
	}
	where := ""
	if len(columns) > 0 {
		where = ", in column " + strings.Join(columns, ", ") + " of the chart"
	}
	paint := byNumber[0].Yarn
	return &finding.Finding{Code: finding.ColoursInRow, Severity: finding.Stop, Section: s.No, Rows: [2]int{row, row},
		Needles: extra,
		Text: fmt.Sprintf("Row %d has %d colours (%s); a two-colour row takes two. The rarest stand at %v%s.", row,
			len(colours), strings.Join(names, ", "), extra, where),
		Fix:  "Knit them in " + p.YarnName(paint),
		Mend: func() []edit.Change { return s.Repaint(paint, p, bed.Spot{Needles: extra, Row: row}) }}
}
