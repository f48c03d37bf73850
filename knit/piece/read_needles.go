package piece

import (
	"vindel/knit/machine"
)

func (r *reader) needle(n node, bed machine.Bed) machine.Needle {
	s := n.text()
	if n.missing() || bed == 0 {
		return 0
	}
	x, err := machine.ParseNeedle(s)
	if err == nil {
		err = bed.Check(x)
	}
	if err != nil {
		n.fail("%v", err)
	}
	return x
}

func (r *reader) needles(n node) {
	bed := r.p.Machine.Bed
	if n.missing() {
		n.fail("missing; say which needles work, such as { \"from\": \"L36\", \"to\": \"R36\" }")
		return
	}
	if !n.object("from", "to", "out", "width") || bed == 0 {
		return
	}
	if w := n.at("width"); !w.missing() {
		r.p.From, r.p.To = machine.Centre(w.whole(1, int(bed)), r.p.Options.OddSide())
	} else {
		for _, end := range []string{"from", "to"} {
			if n.at(end).missing() {
				n.at(end).fail("missing; a needle such as L36")
			}
		}
		r.p.From, r.p.To = r.needle(n.at("from"), bed), r.needle(n.at("to"), bed)
	}
	if r.p.To < r.p.From {
		n.at("to").fail("%q: lies left of %v; needles run from left to right", r.p.To.String(), r.p.From)
	}
	out, err := machine.ParseSet(n.at("out").text(), bed)
	if err != nil {
		n.at("out").fail("%v", err)
	}
	r.p.Out = out
	if r.p.To >= r.p.From && r.p.Work().Empty() {
		n.at("out").fail("%q: no needle is left in work", out.String())
	}
}
