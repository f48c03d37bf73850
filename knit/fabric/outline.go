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
	for d := Merged; d <= LeanLeft; d++ {
		w.Deeds[d] = w.Deeds[d].Minus(touched).Or(c.did(d).And(touched))
	}
}

// Outline holds the needles of a course to those that the shape has there, those that wait in hold to stand
// still, and the wraps round them to those asked for.
func (f *Fabric) Outline(c *Course, all, hold, wraps machine.Set) {
	f.each(c, c.AtWork.Minus(all), "is at work, and the shape has no stitch there")
	f.each(c, all.Minus(c.AtWork), "is not at work, and the shape has a stitch there")
	f.each(c, c.Knitted.Or(c.Tucked).And(hold), "waits in hold, and takes the yarn")
	f.each(c, c.Wrapped.Minus(wraps), "is wrapped, and is not to be")
	f.each(c, wraps.Minus(c.Wrapped), "is to be wrapped, and is not")
}
