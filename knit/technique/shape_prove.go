package technique

import (
	"vindel/knit/bed"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// views is a placed section as each part of the piece knits it: the whole, and, where it is divided, two parts.
type views [3]*bed.Placed

// outline works out anew how the needles stand in every row of a shaped piece, from the piece itself and the
// side on which each row was begun: of the plan it takes nothing else. A row that was never begun ends it.
func outline(pl *pass.Plan) []views {
	p := pl.Piece
	type rowOf struct {
		section, row int
		part         string
	}
	starts := map[rowOf]machine.Side{}
	splits := rowOf{} // the first row of a part
	for i := range pl.Passes {
		q := &pl.Passes[i]
		key := rowOf{q.Section, q.Row(), q.ID.Part}
		if q.Carriage == machine.LaceCarriage || q.Row() == 0 || q.Section == 0 || starts[key] != 0 {
			continue
		}
		starts[key] = q.Dir.Other()
		if splits.section == 0 && q.ID.Part != "" {
			splits = key
		}
	}
	all := make([]views, len(pl.Placed))
	rows := func(w *piece.Walk, part piece.Part) bool {
		for i, s := range pl.Placed {
			to := s.Rows
			if part == piece.Whole {
				if splits.section == s.No {
					to = splits.row - 1
				}
				all[i][piece.Whole] = s.Seen(piece.Whole, 1, to)
				if splits.section > 0 && s.No > splits.section {
					continue
				}
			} else if s.No < splits.section {
				continue
			}
			from := 1
			if part != piece.Whole && s.No == splits.section {
				from = splits.row
			}
			v := all[i][piece.Whole]
			if part != piece.Whole {
				v = s.Seen(part, from, s.Rows)
				all[i][part] = v
			}
			if s.Section.Technique.OwnRows {
				for range p.RowsOf(s.Section) {
					if _, t := w.Next(0); t != nil {
						return false
					}
				}
				continue
			}
			for r := from; r <= to; r++ {
				start := starts[rowOf{s.No, r, part.String()}]
				if start == 0 {
					return false
				}
				row, t := w.Next(start)
				if t != nil {
					return false
				}
				v.Stands(p, r, &row)
			}
		}
		return true
	}
	w := p.Walk()
	if !rows(w, piece.Whole) || splits.section == 0 {
		return all
	}
	first := p.Shape.Split.First
	if first == 0 {
		first = starts[splits]
	}
	one, two, _, t := w.Divide(first)
	if t == nil && rows(one, piece.FirstPart) {
		rows(two, piece.SecondPart)
	}
	return all
}

// shapedAsks is what a course of a shaped piece must be: of each part what its technique asks of the
// needles that it has at work, side by side; and what waits in hold goes on standing. doubled is the needles to
// which edges have moved stitches, and which have not knitted since.
func shapedAsks(pl *pass.Plan, f *fabric.Fabric, of views, t *Technique, c *fabric.Course, doubled *machine.Set) (w fabric.Want) {
	var expected, hold machine.Set
	for _, s := range of {
		st := s.Stood(c.Row)
		if st == nil {
			continue
		}
		all := st.Work.Or(st.Hold)
		one := t.Asks(pl.Piece, s, c)
		*doubled = doubled.Or(st.Touched)
		one.Loosen(*doubled, c)
		w.Beside(&one, all)
		expected, hold = expected.Or(all), hold.Or(st.Hold)
	}
	*doubled = doubled.Minus(c.Knitted)
	w.Stand = hold
	f.Outline(c, expected, hold)
	return w
}

// wraps is the needles round which the yarn is to be laid before a row.
func (of views) wraps(row int) (on machine.Set) {
	for _, s := range of {
		if st := s.Stood(row); st != nil {
			on = on.Or(st.Wrap)
		}
	}
	return on
}
