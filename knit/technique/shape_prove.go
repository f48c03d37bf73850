package technique

import (
	"vindel/knit/bed"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// views is a placed section as each part of the piece knits it: the whole, and, where it is divided, two parts.
type views = [3]*bed.Placed

// starts holds the rows whose edges hang on the side on which they start to the passes that begin them: how the
// needles stand in every row follows from that, and from the piece.
func starts(pl *pass.Plan, f *fabric.Fabric) {
	section, row, part := 0, 0, ""
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Carriage == machine.LaceCarriage || p.Section == 0 || p.Row() == 0 || p.Section == section &&
			p.Row() == row && p.ID.Part == part {
			continue
		}
		section, row, part = p.Section, p.Row(), p.ID.Part
		v := pl.Parts[section-1][piece.PartOf(part)]
		st := v.Stood(row)
		if v == nil || st == nil {
			f.Differ("section %d, row %d: knitted %s, where the shape has no such part", section, row, part)
		} else if st.Starts != 0 && st.Starts != p.Dir.Other() {
			f.Differ("section %d, row %d: starts on the %v, and what is done before it needs the %v", section, row,
				p.Dir.Other(), st.Starts)
		}
	}
}

// shapedAsks is what a course of a shaped piece must be: of each part what its technique asks of the
// needles that it has at work, side by side; and what waits in hold goes on standing. doubled is the needles to
// which edges have moved stitches, and which have not knitted since.
func shapedAsks(pl *pass.Plan, f *fabric.Fabric, of views, t *Technique, c *fabric.Course,
	doubled *machine.Set) (w fabric.Want) {
	var expected, hold machine.Set
	for part, s := range of {
		st := s.Stood(c.Row)
		if st == nil {
			continue
		}
		all := st.Work.Or(st.Hold)
		if part == int(piece.Whole) {
			w = t.Asks(pl.Piece, s, c)
			if st.Moved() {
				*doubled = doubled.Or(st.Touched).Or(st.Fresh)
			}
			if !doubled.Empty() {
				w.Loosen(*doubled, c)
			}
			expected, hold = all, st.Hold
			break
		}
		one := t.Asks(pl.Piece, s, c)
		*doubled = doubled.Or(st.Touched).Or(st.Fresh)
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
func wraps(of views, row int) (on machine.Set) {
	for _, s := range of {
		if st := s.Stood(row); st != nil {
			on = on.Or(st.Wrap)
		}
	}
	return on
}
