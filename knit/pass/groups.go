package pass

import (
	"iter"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Group is needles of one bed that do the same in a pass.
type Group struct {
	Bed     machine.BedNo
	Needles machine.Set
	Action  machine.Action
	Yarn    piece.YarnNo // that they take, or that passes them; 0: none
	Under   piece.YarnNo // that they take besides, and that lies beneath it; 0: none
	Feeder  int          // it comes from, from 1; 0: it is laid by hand, or there is none
}

// Groups yields who takes which yarn in the pass, and how: needles at rest, forward, and in
// hold, each as the setting says for the pass's way; where yarns are laid by hand, the
// needles under each yarn in laying order, and then those under none. Needles out of work
// are in no group. Knit groups without a yarn lose their stitches.
func (p *Pass) Groups() iter.Seq[Group] { return p.GroupsAs(&p.Beds) }

// GroupsAs yields the groups if the beds stood otherwise than the pass says: the simulated
// bed asks so for what stands forward there, and what its feeders hold.
func (p *Pass) GroupsAs(beds *[2]Half) iter.Seq[Group] {
	return func(yield func(Group) bool) {
		for no := range beds {
			half := &beds[no]
			if half.AtWork.Empty() {
				continue
			}
			if half.Setting.Lays {
				if !p.laid(machine.BedNo(no), half, yield) {
					return
				}
				continue
			}
			if half.Both && len(half.Yarns) > 1 && half.Yarns[0] != 0 && half.Yarns[1] != 0 {
				if !p.both(half, &beds[machine.Main], yield) {
					return
				}
				continue
			}
			cams := half.Setting.Cams(p.Dir)
			forward, hold := half.Select.And(half.AtWork), half.Hold.And(half.AtWork)
			second := 1
			if half.Setting.Feeder2 {
				second = 2
			}
			rest := half.AtWork.Minus(forward).Minus(hold)
			if !rest.Empty() && !yield(half.group(machine.BedNo(no), rest, cams.Unselected, 1)) ||
				!forward.Empty() && !yield(half.group(machine.BedNo(no), forward, cams.Selected, second)) ||
				!hold.Empty() && !yield(half.group(machine.BedNo(no), hold, cams.Held, 1)) {
				return
			}
		}
	}
}

// both yields the groups of the second bed where its needles take two yarns at once.
func (p *Pass) both(half, main *Half, yield func(Group) bool) bool {
	cams := half.Setting.Cams(p.Dir)
	knit := half.AtWork.Minus(half.Hold)
	if cams.Unselected != machine.Knit {
		knit = half.Select.And(knit)
	}
	rest, second := half.AtWork.Minus(knit), machine.Set{}
	if half.Plated {
		across := machine.Across{Shift: p.Shift, Pitch: p.Pitch}
		for n := range knit.All() { // on top the yarn that the main needle to its left does not take
			if left, ok := Nearest(main.AtWork, across.Left(n)); ok && !main.Select.Has(left) {
				second.Add(n)
			}
		}
	}
	for _, g := range []Group{
		{Bed: machine.Second, Needles: rest, Action: machine.Slip},
		{Bed: machine.Second, Needles: knit.Minus(second), Action: machine.Knit, Yarn: half.Yarns[0], Under: half.Yarns[1], Feeder: 1},
		{Bed: machine.Second, Needles: second, Action: machine.Knit, Yarn: half.Yarns[1], Under: half.Yarns[0], Feeder: 2},
	} {
		if !g.Needles.Empty() && !yield(g) {
			return false
		}
	}
	return true
}

// Nearest is the needle of a set at n or next to its left; where there is none, the first.
func Nearest(set machine.Set, n machine.Needle) (machine.Needle, bool) {
	if set.Empty() {
		return 0, false
	}
	for m := n; m >= set.First(); m-- {
		if set.Has(m) {
			return m, true
		}
	}
	return set.First(), true
}

func (h *Half) group(bed machine.BedNo, needles machine.Set, action machine.Action, feeder int) Group {
	g := Group{Bed: bed, Needles: needles, Action: action}
	if feeder <= len(h.Yarns) && h.Yarns[feeder-1] != 0 {
		g.Yarn, g.Feeder = h.Yarns[feeder-1], feeder
	}
	return g
}

// laid yields the groups of a bed that knits yarns laid by hand. The empty pass that brings
// the needles to the laying position has none.
func (p *Pass) laid(bed machine.BedNo, half *Half, yield func(Group) bool) bool {
	if p.Free {
		return true
	}
	bare := half.AtWork.Minus(half.Hold)
	for _, l := range p.Lays {
		on := half.AtWork.Minus(half.Hold).And(machine.Range(l.From, l.To))
		bare = bare.Minus(on)
		if !yield(Group{Bed: bed, Needles: on, Action: machine.Knit, Yarn: l.Yarn}) {
			return false
		}
	}
	return bare.Empty() || yield(Group{Bed: bed, Needles: bare, Action: machine.Knit})
}
