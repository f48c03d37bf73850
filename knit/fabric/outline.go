package fabric

import "vindel/knit/machine"

// Beside adds what is wanted of one part of a course, whose needles are given, to what is wanted of others.
func (w *Want) Beside(one *Want, on machine.Set) {
	w.Yarns = one.Yarns // of the whole row
	w.Exempt = w.Exempt.Or(one.Exempt.And(on))
	w.Only, w.Said = w.Only.Or(one.Only.And(on)), w.Said.Or(one.Said.And(on))
	for d := range w.Deeds {
		w.Asks[d] = w.Asks[d] || one.Asks[d]
		w.Deeds[d] = w.Deeds[d].Or(one.Deeds[d].And(on))
	}
}

// Loosen leaves it to the edge which of the needles that the fingers had in hand are knitted through two loops.
func (w *Want) Loosen(touched machine.Set, c *Course) {
	if touched.Empty() {
		return
	}
	w.Said = w.Said.Minus(touched)
	for d := Merged; d <= LeanLeft; d++ {
		w.Deeds[d] = w.Deeds[d].Minus(touched).Or(c.did(d).And(touched))
	}
}

// Outline holds the needles of a course to those that the shape has there, and those that wait in hold to stand
// still.
func (f *Fabric) Outline(c *Course, all, hold machine.Set) {
	if c.AtWork == all && hold.Empty() {
		return
	}
	f.each(c, c.AtWork.Minus(all), "is at work, and the shape has no stitch there")
	f.each(c, all.Minus(c.AtWork), "is not at work, and the shape has a stitch there")
	f.each(c, c.Knitted.Or(c.Tucked).And(hold), "waits in hold, and takes the yarn")
}

// Wraps holds the wraps that are laid before each row, which may be several courses tall, to those asked for.
func (f *Fabric) Wraps(asked func(section, row int) machine.Set) {
	for i := 0; i < len(f.Courses); {
		c, got := &f.Courses[i], machine.Set{}
		for ; i < len(f.Courses) && f.Courses[i].Row == c.Row && f.Courses[i].Section == c.Section; i++ {
			got = got.Or(f.Courses[i].Wrapped)
		}
		if c.Row == 0 || c.Section == 0 {
			continue
		}
		want := asked(c.Section, c.Row)
		if got == want {
			continue
		}
		f.each(c, got.Minus(want), "is wrapped, and is not to be")
		f.each(c, want.Minus(got), "is to be wrapped, and is not")
	}
}
