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
	if p.Recipe > 0 {
		return p.recipeGroups(beds)
	}
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
		{Bed: machine.Second, Needles: knit.Minus(second), Action: machine.Knit, Yarn: half.Yarns[0],
			Under: half.Yarns[1], Feeder: 1},
		{Bed: machine.Second, Needles: second, Action: machine.Knit, Yarn: half.Yarns[1], Under: half.Yarns[0],
			Feeder: 2},
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

// recipeGroups yields the groups of a recipe's pass: of each bed that is not passed over, needles at
// rest, forward and in hold, each with the yarns of its feeders. A second yarn in a loop is Under.
func (p *Pass) recipeGroups(beds *[2]Half) iter.Seq[Group] {
	return func(yield func(Group) bool) {
		for no := range beds {
			half := &beds[no]
			if !half.Named || half.AtWork.Empty() {
				continue
			}
			cams := half.Setting.Cams(p.Dir)
			forward, hold := half.Select.And(half.AtWork), half.Hold.And(half.AtWork)
			for _, part := range [...]struct {
				on    machine.Set
				does  machine.Action
				takes uint8
			}{{half.AtWork.Minus(forward).Minus(hold), cams.Unselected, half.Takes.Unselected},
				{forward.Minus(hold), cams.Selected, half.Takes.Selected}, {hold, cams.Held, half.Takes.Held}} {
				if part.on.Empty() {
					continue
				}
				g := Group{Bed: machine.BedNo(no), Needles: part.on, Action: part.does}
				if part.does.Takes() {
					pair := half.From(part.takes)
					if g.Yarn, g.Under = pair[0], pair[1]; g.Yarn != 0 {
						g.Feeder = 1
						if part.takes == 2 {
							g.Feeder = 2
						}
					}
				}
				if !yield(g) {
					return
				}
			}
		}
	}
}

// From is the yarns of feeders: 1, 2 or both, 3; 0 is feeder 1.
func (h *Half) From(feeders uint8) (y [2]piece.YarnNo) {
	yarn := func(f int) piece.YarnNo {
		if f <= len(h.Yarns) {
			return h.Yarns[f-1]
		}
		return 0
	}
	switch feeders {
	case 2:
		y[0] = yarn(2)
	case 3:
		y = [2]piece.YarnNo{yarn(1), yarn(2)}
	default:
		y[0] = yarn(1)
	}
	return y
}
