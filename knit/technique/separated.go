package technique

import (
	"fmt"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Separated: more colours than two in a row, or none that floats behind (rules 5.10,
// Separation). One colour makes a pass: the needles that show it knit, the others slip, and
// behind them the second bed knits the backing.
//
//	twice        A → A ← B → B ← C → C ←         a row stands two courses high
//	interleaved  A1 | B1 B2 | A2 A3 | B3 B4 | …  two colours, a course a row
//	single       A B C A B C …                   a course a row
var Separated = Technique{
	Technique: piece.Technique{Name: "separated", Label: "separated colours", Drawn: piece.InYarns,
		Patterned: always, ColourLines: true, Separates: true,
		TwoBeds: func(s *piece.Section) bool { return s.Options.Backing != "none" },
		Options: []string{"separation", "backing", "colours"},
		Sense: func(p *piece.Piece, s *piece.Section, fault func(path, format string, a ...any)) {
			if s.Passes > 0 {
				fault("passes", "%d: each colour of a separated row is knitted there and back", s.Passes)
			}
		},
	},
	Lacks: func(m *machine.Profile, s *piece.Section) string {
		switch {
		case m.School == machine.Pairs && s.Options.Separation != "twice":
			return "a reader that gives a line one pass (separation twice needs none)"
		case s.Options.Backing != "none" && !m.HasSecond():
			return "a second bed (with backing none the other colours float behind, and it needs none)"
		}
		return ""
	},
	Else: func(m *machine.Profile, s *piece.Section, no int) (string, []edit.Change) {
		if m.School == machine.Pairs {
			return "Work each colour there and back", edit.SectionOption(no, "separation", "twice")
		}
		return "Knit it on one bed, the other colours floating behind", edit.SectionOption(no, "backing", "none")
	},
	Courses: func(_ *machine.Profile, s *piece.Section) int {
		if s.Options.Separation == "twice" {
			return 2
		}
		return 1
	},
	Yarns:     separatedNeed,
	Order:     separatedOrder,
	PassLines: true,
	Passes: func(s *bed.Placed, row int) int {
		n := len(s.AllColours())
		if s.Second.Empty() && !s.Divided(row) {
			n = len(s.Colours(nil, row, s.InWork(row)))
		}
		if s.Section.Options.Separation == "twice" {
			n *= 2
		}
		return n
	},
	Knit: separatedRow,
	Asks: func(p *piece.Piece, s *bed.Placed, c *fabric.Course) fabric.Want {
		w := fabric.Want{Yarns: s.YarnRow(c.Row)}
		w.Exempt = heldEnds(s, c.Row)
		return w
	},
	Limits: func(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
		return slices.Concat(backingLines(pl, section), behindEdge(pl, f, section))
	},
}

// separatedNeed is the colours of a row in the order of the file: all of the section's, or, with
// nothing behind, those that the row shows.
func separatedNeed(p *piece.Piece, s *bed.Placed, row int) (loom.Need, *finding.Finding) {
	all := s.AllColours()
	if s.Section.Options.Separation == "interleaved" && len(all) != 2 {
		return loom.Need{}, &finding.Finding{Code: finding.SeparationOrder, Severity: finding.Stop, Section: s.No,
			Rows: [2]int{1, s.Rows}, Needles: s.InWork(row),
			Text: fmt.Sprintf("The section has %s; only two can be interleaved, since of more some needle's rows "+
				"would be knitted out of turn.",
				words.Count(len(all), "colour", "colours")),
			Fix:  "Work each colour there and back",
			Mend: finding.Always(edit.SectionOption(s.No, "separation", "twice"))}
	}
	need := loom.Need{Twice: s.Section.Options.Separation == "twice"}
	work := s.InWork(row)
	colours := s.Colours(nil, row, work)
	for _, y := range all {
		i := slices.IndexFunc(colours, func(c bed.Colour) bool { return c.Yarn == y })
		if i < 0 && s.Second.Empty() && !s.Divided(row) { // both parts take the same lines of card or program
			continue
		}
		var shows machine.Set
		if i >= 0 {
			shows = colours[i].Needles
		}
		need.Yarns, need.Shows = append(need.Yarns, y), append(need.Shows, shows)
	}
	return need, nil
}

// separatedOrder is the order of the colours of every row: as the file has them, with the fewest
// changes of yarn, or by turns where two are interleaved, so that each goes there and back.
func separatedOrder(s *bed.Placed, rows [][]piece.YarnNo, before piece.YarnNo) [][]piece.YarnNo {
	o := &s.Section.Options
	if o.Separation != "interleaved" && o.Colours == "fewest" {
		return loom.Fewest(rows, before)
	}
	if o.Separation != "interleaved" {
		return rows
	}
	out := make([][]piece.YarnNo, len(rows))
	for i, row := range rows {
		out[i] = row
		if (i+s.After)%2 == 1 {
			out[i] = slices.Clone(row)
			slices.Reverse(out[i])
		}
	}
	return out
}

func separatedRow(l *loom.Loom, w loom.Work) {
	o := &w.Placed.Section.Options
	times := 1
	if o.Separation == "twice" {
		times = 2
	}
	course := l.Course()
	for k, y := range w.Yarns {
		l.ToCourse(course + 1)
		p := l.New(w, machine.Slipping)
		p.Works = l.Part(w, k+1)
		half := p.Main()
		half.Yarns, half.Select, p.Patterned = w.Yarns[k:k+1], w.Need.ShowsOf(y), true
		p.Second().Setting, _ = machine.BehindBy(o.Backing)
		l.EndNeedles(p, true, true)
		by := half.ByHand
		l.Go(p)
		if times == 2 {
			l.ToCourse(course + 2)
			p = l.Again()
			p.Main().ByHand = by
			l.Go(p)
		}
	}
	l.ToCourse(course + times)
}

// backingLines notes that a colour always meets the same needles of the second bed: one pass a
// colour, and an even number of them, so that each always goes the same way.
func backingLines(pl *pass.Plan, section int) []finding.Finding {
	s := pl.Section(section)
	o, n := &s.Section.Options, len(s.AllColours())
	if o.Separation != "single" || o.Backing != "birdseye" && o.Backing != "stripes" || n%2 == 1 {
		return nil
	}
	return []finding.Finding{{Code: finding.BackingLines, Severity: finding.Note, Section: section, Rows: [2]int{1,
		s.Rows},
		Needles: s.InWork(1),
		Text: fmt.Sprintf("With %s of one pass each every colour goes the same way each time, so it always meets the "+
			"same needles of the second bed: the backing shows lines.",
			words.Count(n, "colour", "colours")),
		Fix:  "Let every needle of the second bed knit",
		Mend: finding.Always(edit.SectionOption(section, "backing", "every"))}}
}

// behindEdge notes needles of the second bed that take yarn outside the first and the last of the
// main bed: their strand has nothing to hold to.
func behindEdge(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
	if f.Behind == nil {
		return nil
	}
	var outside machine.Set
	rows := [2]int{}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != section || f.Behind[i] == (fabric.Took{}) {
			continue
		}
		lie := machine.Across{Shift: p.Shift, Pitch: p.Pitch}
		work := p.Main().AtWork
		found := machine.Set{}
		took := f.Behind[i][0].Or(f.Behind[i][1])
		if lie.Apart(took.First(), work.First()) >= 0 && lie.Apart(took.Last(), work.Last()) <= 0 {
			continue
		}
		for n := range took.All() {
			if lie.Apart(n, work.First()) < 0 || lie.Apart(n, work.Last()) > 0 {
				found.Add(n)
			}
		}
		if !found.Empty() {
			if rows[1] = max(p.Row(), 1); rows[0] == 0 {
				rows[0] = rows[1]
			}
			outside = outside.Or(found)
		}
	}
	if outside.Empty() {
		return nil
	}
	return []finding.Finding{{Code: finding.SecondEdge, Severity: finding.Note, Section: section, Rows: rows,
		Needles: outside,
		Text: fmt.Sprintf("Needles of the second bed stand outside the main bed's: %v. The edge there hangs on the "+
			"second bed alone.", outside),
		Fix: "Take them out of work"}}
}
