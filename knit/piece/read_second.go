package piece

import (
	"vindel/knit/machine"
)

// second reads how the second bed stands. Left out, it has the needles from the first to the
// last but one of the main bed's, at half pitch and in the middle (rules 5.10, Needle rule).
func (r *reader) second(n node) {
	m, s := &r.p.Machine, &r.p.Second
	if !m.HasSecond() {
		if !n.missing() {
			n.fail("%s has no second bed", m.Name)
		}
		return
	}
	from, to := r.p.From, r.p.To
	work := r.p.Work()
	if !work.Empty() {
		from, to = work.First(), work.Last()
		if all := work; all.Len() > 1 {
			all.Remove(to)
			to = all.Last()
		}
	}
	s.Pitch, s.Rack = machine.HalfPitch, m.RackCentre
	out := r.p.Out
	if !n.missing() && n.object("from", "to", "out", "pitch", "rack", "alternate") {
		if at := n.at("from"); !at.missing() {
			from = r.needle(at, m.Bed)
		}
		if at := n.at("to"); !at.missing() {
			to = r.needle(at, m.Bed)
		}
		if to < from {
			n.at("to").fail("%q: lies left of %v; needles run from left to right", to.String(), from)
		}
		var err error
		if out, err = machine.ParseSet(n.at("out").text(), m.Bed); err != nil {
			n.at("out").fail("%v", err)
		}
		if n.at("pitch").word("half", "full") == "full" {
			s.Pitch = machine.FullPitch
		}
		if at := n.at("rack"); !at.missing() {
			s.Rack = at.whole(m.Racks[0], m.Racks[1])
		}
		if at := n.at("alternate"); !at.missing() && at.yes() {
			s.Turns = true
			for x := from + 1; x <= to; x += 2 {
				out.Add(x)
			}
		}
	}
	s.Places = machine.Range(from, to)
	if s.Needles = machine.Range(from, to).Minus(out); s.Needles.Empty() && !n.missing() {
		n.at("out").fail("%q: no needle of the second bed is left in work", out.String())
	}
}
