package fabric

import (
	"bytes"
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// compare counts the stitches that are not what the charts asked for. Rows that
// belong to no chart row are not compared, nor are the needles a policy holds: which
// those are is worked out here, and what the plan says of them must be the same.
func (f *Fabric) compare() {
	p := f.Plan.Piece
	work := p.Work()
	all := work.Len() == f.W
	for i := range f.Courses {
		c := &f.Courses[i]
		if c.Row == 0 {
			continue
		}
		s := f.Plan.Placed[c.Section-1]
		want, got := s.YarnRow(c.Row), f.Row(i+1)
		exempt := exempt(p, s, c.Row)
		f.Exempt += exempt.Len()
		for n := range exempt.Minus(c.Exempt).All() {
			f.differ(c, n, "does not follow the chart here, and the plan does not say so")
		}
		for n := range c.Exempt.Minus(exempt).All() {
			f.differ(c, n, "is to follow the chart here, and the plan says that it does not")
		}
		if s.Section.Lace() {
			f.compareLace(c, s, work)
		}
		stitches := s.Stitch != nil && !s.Section.Lace() || s.Section.Technique.Mark == chart.Slip
		if !stitches && all && bytes.Equal(want, got) {
			continue
		}
		followed := work.Minus(exempt)
		for n := range followed.All() {
			x := int(n - f.From)
			if want[x] != got[x] && want[x] != 0 { // 0: whatever it showed before
				f.differ(c, n, "shows %s, the chart asks for %s", name(p, got[x]), name(p, want[x]))
				f.Wrong.shows(c, n, got[x])
			}
		}
		if stitches {
			f.compareStitches(c, s, followed)
		}
	}
	if at := f.Plan.Stopped; at.Row > 0 && f.First == "" {
		f.First = fmt.Sprintf("section %d, row %d: not planned", at.Section+1, at.Row)
	}
}

// exempt is the needles that do not follow the chart in section row r (from 1), by the
// piece and its policies alone: the two seam needles of rows worked in two passes, and
// end needles that are held to where they knit (rules: 5.2, End needles).
func exempt(p *piece.Piece, s *bed.Placed, r int) machine.Set {
	work := p.Work()
	ends := machine.SetOf(work.First(), work.Last())
	two := false // the row takes two yarns
	if s.Section.Technique.TwoPasses {
		inner := work
		if p.Machine.Feeders == 1 && work.Len() > 2 {
			inner = work.Minus(ends)
		}
		var buf [4]bed.Colour
		two = len(s.Colours(buf[:0], r, inner)) > 1
		if p.Machine.Feeders == 1 {
			if two {
				return work.Minus(inner)
			}
			return machine.Set{}
		}
	}
	switch mark := s.Section.Technique.Mark; {
	case !s.Section.Options.EndsHeld() || s.Covered != work:
		return machine.Set{}
	case two, mark == chart.Slip, mark == chart.Tuck:
		return ends
	}
	return machine.Set{}
}

// Wrong is the first row in which stitches show another yarn than the chart asks for:
// those of its needles that show the same one.
type Wrong struct {
	Section, Row int // both from 1; 0: no such row
	Needles      machine.Set
	Yarn         piece.YarnNo // that they show
}

func (w *Wrong) shows(c *Course, n machine.Needle, y piece.YarnNo) {
	if w.Row == 0 {
		w.Section, w.Row, w.Yarn = c.Section, c.Row, y
	}
	if w.Section == c.Section && w.Row == c.Row && w.Yarn == y {
		w.Needles.Add(n)
	}
}

// compareStitches compares what the needles did with what the chart's stitches ask for:
// which were passed over (and so how many rows each stitch stands), which tucked, which
// are purl, and which the weft covers.
func (f *Fabric) compareStitches(c *Course, s *bed.Placed, followed machine.Set) {
	slips := s.Wants(c.Row, chart.Slip)
	if s.Section.Technique.Mark == chart.Slip {
		slips = s.Slips(c.Row)
	}
	for _, w := range []struct {
		is, not   string
		got, want machine.Set
	}{
		{"was passed over", "was not passed over", c.Slipped, slips},
		{"tucked", "did not tuck", c.Tucked, s.Wants(c.Row, chart.Tuck)},
		{"is purl", "is not purl", c.Purled, s.Wants(c.Row, chart.Purl)},
		{"is covered by the weft", "is not covered by the weft", c.Weft, s.Wants(c.Row, chart.Weave)},
	} {
		for n := range w.got.Minus(w.want).And(followed).All() {
			f.differ(c, n, "%s, against the chart", w.is)
		}
		for n := range w.want.Minus(w.got).And(followed).All() {
			f.differ(c, n, "%s, against the chart", w.not)
		}
	}
}

// compareLace compares a course of lace with its row's marks: eyelets, doubled stitches,
// which of their loops shows, and purls. The second row of a right-side row is plain. A
// fine transfer leaves no eyelet, and doubles also the needles that it takes from.
func (f *Fabric) compareLace(c *Course, s *bed.Placed, work machine.Set) {
	fine := s.Section.Options.Transfer == "fine"
	eyelets, right, left, centre := s.Wants(c.Row, chart.YarnOver), s.Wants(c.Row, chart.LeanRight), s.Wants(c.Row, chart.LeanLeft), s.Wants(c.Row, chart.Centre)
	purl := s.Wants(c.Row, chart.Purl)
	if c.PlainRow {
		eyelets, right, left, centre, purl = machine.Set{}, machine.Set{}, machine.Set{}, machine.Set{}, machine.Set{}
	}
	doubled := right.Or(left).Or(centre)
	got := c.Merged
	if fine {
		eyelets = machine.Set{}
		got = got.And(doubled)
	}
	other := c.OtherLeans // the plan has said that these come out the other way
	for _, w := range []struct {
		is, not   string
		got, want machine.Set
	}{
		{"is an eyelet", "is no eyelet", c.Eyelets, eyelets},
		{"is doubled", "is not doubled", got, doubled},
		{"leans as its left loop does", "does not lean as its left loop", c.LeanR.And(doubled).Minus(other), right.Minus(other)},
		{"leans as its right loop does", "does not lean as its right loop", c.LeanL.And(doubled).Minus(other), left.Minus(other)},
		{"leans as the plan says, but is said to lean otherwise", "leans as drawn, but is said not to", c.LeanR.And(right).Or(c.LeanL.And(left)).And(other), machine.Set{}},
		{"is purl", "is not purl", c.Purled, purl},
	} {
		for n := range w.got.Minus(w.want).And(work).All() {
			f.differ(c, n, "%s, against the chart", w.is)
		}
		for n := range w.want.Minus(w.got).And(work).All() {
			f.differ(c, n, "%s, against the chart", w.not)
		}
	}
}

func (f *Fabric) differ(c *Course, n machine.Needle, format string, a ...any) {
	if f.Differences++; f.Differences == 1 {
		f.First = fmt.Sprintf("section %d, row %d, %v: ", c.Section, c.Row, n) + fmt.Sprintf(format, a...)
	}
}

func name(p *piece.Piece, y piece.YarnNo) string {
	if y == 0 {
		return "nothing"
	}
	return p.YarnName(y)
}
