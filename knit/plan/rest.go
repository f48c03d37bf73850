package plan

import (
	"cmp"
	"context"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// mostRest is how often a piece is planned again for what stops it further up.
const mostRest = 16

// Rest are the stops of a piece above the one at which its plan ends: the section that stops is taken as plain rows,
// which leave the carriage where its own would, a carriage on the wrong side as if it stood on the right one, and of a
// shape the step that cannot be made as single ones or none; and so on up to the last section. What only follows from a
// stop is not among them. Nil where the plan goes to its end.
func Rest(ctx context.Context, pl *pass.Plan) (list []finding.Finding) {
	type spot struct {
		code finding.Code
		no   int
		rows [2]int
		text string
	}
	told := map[spot]bool{}
	key := func(f *finding.Finding) spot { return spot{f.Code, f.Section, f.Rows, f.Text} }
	for i := range pl.Findings {
		told[key(&pl.Findings[i])] = true
	}
	for range mostRest {
		if pl.Stopped.Row == 0 || pl.Stopped.Section == 0 || pl.Refused != nil || pl.TooLong {
			break
		}
		at := pl.Stopped
		next, err := MakeContext(ctx, past(pl))
		if err != nil || next.Stopped == at {
			break
		}
		for i := range next.Findings {
			f := &next.Findings[i]
			if above := f.Section > at.Section || f.Section == at.Section && f.Rows[0] > at.Row; above &&
				f.Severity == finding.Stop && !told[key(f)] {
				told[key(f)] = true
				list = append(list, *f)
			}
		}
		pl = next
	}
	return list
}

// past is the piece of a plan as if what stops it did not.
func past(pl *pass.Plan) *piece.Piece {
	p, no := *pl.Piece, pl.Stopped.Section
	p.Sections = slices.Clone(p.Sections)
	s := p.Section(no)
	if shape := shapePast(pl); shape != nil {
		p.Shape = shape
		return &p
	}
	if aside := func(f finding.Finding) bool {
		return f.Code == finding.CarriageSide && f.Section == no && f.Rows[0] <= 1
	}; pl.Stopped.Row == 1 && slices.ContainsFunc(pl.Findings, aside) {
		s.Free = !s.Free
		return &p
	}
	rows := p.RowsOf(s)
	odd := oddly(pl, s, no)
	s.Technique, s.Areas, s.Recipe, s.Stripes = &technique.Plain.Technique, nil, "", nil
	s.Rows, s.Passes, s.FromLine, s.ByPurl = rows, 0, 1, false
	s.Free = odd != (rows%2 == 1)
	return &p
}

// shapePast is the shape of a plan that its own step stops, without that step: what narrows comes off one a row, which
// needs no yarn, what grows or waits is left out. Nil where something else stops the plan.
func shapePast(pl *pass.Plan) *piece.Shape {
	shaped := func(f finding.Finding) bool {
		return (f.Code == finding.ShapeSide || f.Code == finding.OffBed) && f.Severity == finding.Stop &&
			f.Section == pl.Stopped.Section && f.Rows[0] == pl.Stopped.Row
	}
	if pl.Piece.Shape == nil || !slices.ContainsFunc(pl.Findings, shaped) {
		return nil
	}
	row := pl.Piece.FirstRow(pl.Stopped.Section) + pl.Stopped.Row - 1
	shape, left := *pl.Piece.Shape, false
	shape.Steps = nil
	for _, step := range pl.Piece.Shape.Steps {
		sure := step.Stitches == -1 && !step.Hold || step.Release
		if sure || step.Row < row-1 || step.Row > row {
			shape.Steps = append(shape.Steps, step)
			continue
		}
		left = true
		for step.Stitches < 0 && !step.Hold {
			one := step
			one.Stitches = -1
			shape.Steps = append(shape.Steps, one)
			step.Stitches++
			step.Row++
		}
	}
	if !left {
		return nil
	}
	slices.SortStableFunc(shape.Steps, func(a, b piece.ShapeStep) int { return cmp.Compare(a.Row, b.Row) })
	return &shape
}

// oddly says that a section, once it is mended, takes an odd number of passes: its rows that cannot be knitted take as
// many as the first that can.
func oddly(pl *pass.Plan, s *piece.Section, no int) bool {
	t := technique.Of(s)
	k := &planner{Plan: pl, m: &pl.Piece.Machine}
	placed, found := bed.Place(pl.Piece, no)
	one := &section{Placed: placed, technique: t}
	if s.Lace() || t.OwnRows || finding.Stops(found) || k.lacks(t, placed) != nil {
		return s.Free // two passes a row, as far as anyone can tell
	}
	needs := make([]*loom.Need, placed.Cycle)
	var usual *loom.Need
	for r := range needs {
		if need, refused := t.Yarns(pl.Piece, placed, r+1); refused == nil {
			if needs[r] = &need; usual == nil {
				usual = &need
			}
		}
	}
	passes := 0
	if k.leads(one, no == 1) {
		passes++
	}
	for r := 1; r <= placed.Rows; r++ {
		need := needs[(r-1)%placed.Cycle]
		if need == nil {
			need = usual
		}
		if need == nil {
			passes++
		} else {
			passes += k.passesOf(one, need, r, r == 1)
		}
	}
	return passes%2 == 1
}
