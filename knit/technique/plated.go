package technique

import (
	"fmt"
	"slices"
	"strconv"
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

// Plated: reversible two-colour (rules 5.10, Plated). One pass a row with both yarns: selected
// needles of the main bed take feeder 2, the others feeder 1, and every needle of the second bed
// takes both, on top the yarn that the main needle to its left does not take.
var Plated = Technique{
	Technique: piece.Technique{Name: "plated", Label: "plated", Drawn: piece.InYarns, Patterned: always,
		EitherSide: true, Larger: true,
		TwoBeds: func(*piece.Section) bool { return true }},
	Lacks: func(m *machine.Profile, _ *piece.Section) string {
		switch {
		case !m.HasSecond():
			return "a second bed"
		case m.Feeders < 2:
			return "a second feeder"
		}
		return ""
	},
	Yarns: func(p *piece.Piece, s *bed.Placed, row int) (loom.Need, *finding.Finding) {
		colours := s.Colours(nil, row, s.InWork(row))
		if len(colours) != 2 {
			return loom.Need{}, platedColours(p, s, row, colours)
		}
		a, b := colours[0], colours[1]
		if b.Yarn < a.Yarn {
			a, b = b, a
		}
		return loom.Need{Yarns: []piece.YarnNo{a.Yarn, b.Yarn}, Free: true, Shows: []machine.Set{a.Needles,
			b.Needles}}, nil
	},
	Knit: func(l *loom.Loom, w loom.Work) {
		p := l.New(w, machine.TwoColour)
		p.Main().Select, p.Patterned = w.Shows(w.Yarn(2)), true
		behind := p.Second()
		behind.Setting, behind.Both, behind.Plated = machine.SecondEvery, true, true
		if s := w.Placed.Section; s.BehindSize == "" {
			behind.Size = Larger(s.Size, l.Machine.PlatedStep)
		}
		if w.Row == 1 {
			p.Add(step.Note{Text: "Put the guide of the second yarn on the carriage: it lays that yarn behind the first"})
		}
		l.EndNeedles(p, true, true)
		l.Sent(p)
		if w.Row == w.Placed.Rows {
			l.Later(step.Note{Text: "Take the guide of the second yarn off"})
		}
	},
	Asks: func(p *piece.Piece, s *bed.Placed, c *fabric.Course) fabric.Want {
		w := fabric.Want{Yarns: s.YarnRow(c.Row)}
		w.Exempt = heldEnds(s, c.Row)
		return w
	},
	Limits: func(pl *pass.Plan, f *fabric.Fabric, section int) []finding.Finding {
		s := pl.Section(section)
		found := []finding.Finding{{Code: finding.PlatedYarn, Severity: finding.Note, Section: section,
			Rows:    [2]int{1, s.Rows},
			Needles: s.InWork(1),
			Text: "Plated fabric is two yarns thick: take fine yarn, two of the same thickness. It is stiff, and " +
				"not for what is to drape."}}
		return slices.Concat(found, platedMixed(pl, section), behindEdge(pl, f, section))
	},
}

// platedColours refuses a row that has not two colours, and offers one that has.
func platedColours(p *piece.Piece, s *bed.Placed, row int, colours []bed.Colour) *finding.Finding {
	if len(colours) > 2 {
		f := tooManyColours(p, s, row, colours)
		f.Code = finding.PlatedColours
		f.Text = strings.Replace(f.Text, "a two-colour row takes two", "a plated row takes two", 1)
		return f
	}
	work := s.InWork(row)
	f := &finding.Finding{Code: finding.PlatedColours, Severity: finding.Stop, Section: s.No, Rows: [2]int{row, row},
		Needles: work,
		Text: fmt.Sprintf("Row %d is all in %s; a plated row takes two yarns, or the second bed has but one.", row,
			p.YarnName(colours[0].Yarn))}
	other := piece.YarnNo(0)
	for _, y := range s.AllColours() {
		if y != colours[0].Yarn && other == 0 {
			other = y
		}
	}
	for i := range p.Yarns {
		if y := piece.YarnNo(i + 1); y != colours[0].Yarn && other == 0 {
			other = y
		}
	}
	edge := machine.SetOf(work.Last())
	if other != 0 && !edge.And(s.Covered).Empty() {
		f.Fix = fmt.Sprintf("Knit a single stitch of %s at the right edge", p.YarnName(other))
		f.Mend = func() []edit.Change { return s.Repaint(other, p, bed.Spot{Needles: edge, Row: row}) }
	}
	return f
}

// platedMixed counts the stitches of the second bed whose two neighbours take different yarns: there
// the picture of the one face is not quite the other's reversed.
func platedMixed(pl *pass.Plan, section int) []finding.Finding {
	var where machine.Set
	count, rows := 0, [2]int{}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Section != section {
			continue
		}
		if mixed := p.Mixed(); !mixed.Empty() {
			count += mixed.Len()
			where = where.Or(mixed)
			if rows[1] = p.Row(); rows[0] == 0 {
				rows[0] = rows[1]
			}
		}
	}
	if count == 0 {
		return nil
	}
	return []finding.Finding{{Code: finding.PlatedMixed, Severity: finding.Note, Section: section, Rows: rows,
		Needles: where,
		Text: fmt.Sprintf("The other face is the picture reversed, nearly: %s of the second bed stand between two of "+
			"the main bed in different yarns, and the picture is mixed there.",
			words.Count(count, "stitch", "stitches"))}}
}

// Larger is a stitch size so many whole sizes larger: 4.2 and 3 are 7.2. A size that is no number
// has none.
func Larger(size string, by int) string {
	whole, ticks, dotted := strings.Cut(size, ".")
	n, err := strconv.Atoi(whole)
	if err != nil {
		return ""
	}
	if out := strconv.Itoa(n + by); dotted {
		return out + "." + ticks
	} else {
		return out
	}
}
