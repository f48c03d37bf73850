package mistake

import (
	"context"
	"slices"

	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Play knits the plan on the simulated bed with the mistake made in it: from there on every carriage goes the
// way that it can go, and the card goes on as it does. What the bed says of it stands among the fabric's
// faults, and nobody is stopped by it.
func (m Mistake) Play(ctx context.Context, pl *pass.Plan) (*fabric.Fabric, error) {
	return fabric.Knit(ctx, m.Made(pl))
}

// Made is the plan as hands carry it out with the mistake. The plan itself stays as it is.
func (m Mistake) Made(pl *pass.Plan) *pass.Plan {
	made := *pl
	made.Printed = pl
	made.Passes = slices.Clone(pl.Passes)
	h := &hands{&made, m.Pass}
	switch m.Kind {
	case Needle, EndNeedle:
		h.pushBack(m.Needle)
	case More:
		h.again()
	case Less, Selecting:
		h.leaveOut()
	case CardOff:
		h.cardOff(m.By)
	case CardBack:
		h.cardBack(m.Step, m.By == 2)
	case Carriage:
		h.otherCarriage()
	case Yarns:
		h.exchange()
	case Lever:
		h.without(m.Step)
	case DropMissed:
		if m.Step < 0 {
			h.leaveOut()
		} else {
			h.without(m.Step)
		}
	case RackMissed:
		h.leaveRack(m.Step)
	}
	return &made
}

// hands change a plan that is theirs, at the pass with index at.
type hands struct {
	*pass.Plan
	at int
}

func (h *hands) now() *pass.Pass { return &h.Passes[h.at] }

// before puts steps in the place of what is done before the pass.
func (h *hands) before(steps ...pass.Step) { h.now().Before = steps }

func (h *hands) without(k int) {
	h.before(slices.Delete(slices.Clone(h.now().Before), k, k+1)...)
}

func (h *hands) besides(steps ...pass.Step) {
	h.before(append(slices.Clone(h.now().Before), steps...)...)
}

// pushBack puts a needle that stands forward back to rest before the pass; where the carriage brings it
// forward as it passes, the finger is in its way.
func (h *hands) pushBack(n machine.Needle) {
	p := h.now()
	p.Main().PushedBack.Add(n)
	p.Main().Select.Remove(n)
	h.besides(pass.Steps(step.ToWork{At: step.Main(machine.SetOf(n))})...)
}

// again makes the pass a second time, the other way, as far as the machine lets it be the same: what fingers
// choose they choose again, a card reads on.
func (h *hands) again() {
	p := *h.now()
	var by []pass.Step
	for _, st := range p.Before {
		if do := st.Do(); do == step.DoBringForward || do == step.DoToHold {
			by = append(by, st)
		}
	}
	p.Before = by
	h.Passes = slices.Insert(h.Passes, h.at+1, p)
	h.turn(h.at+1, p.Carriage)
	if p.Course > 0 {
		h.courses(h.at+1, p.ID.Part, 1)
	}
}

// leaveOut leaves the pass out; what hands do before it they have done.
func (h *hands) leaveOut() {
	p := *h.now()
	h.Passes = slices.Delete(h.Passes, h.at, h.at+1)
	if h.at == len(h.Passes) {
		h.After = append(slices.Clone(p.Before), h.After...)
	} else {
		next := &h.Passes[h.at]
		next.Before = append(slices.Clone(p.Before), next.Before...)
	}
	h.turn(h.at, p.Carriage)
	alone := func(q pass.Pass) bool { return q.Course == p.Course && q.ID.Part == p.ID.Part }
	if p.Course > 0 && !slices.ContainsFunc(h.Passes, alone) {
		h.courses(h.at, p.ID.Part, -1)
	}
}

// turn lets every pass from index i on of the carriages that hand a yarn over go the other way.
func (h *hands) turn(i int, c machine.Carriage) {
	for ; i < len(h.Passes); i++ {
		if q := &h.Passes[i]; (q.Carriage == machine.LaceCarriage) == (c == machine.LaceCarriage) {
			q.Dir = q.Dir.Other()
		}
	}
}

// courses moves the fabric's rows of the passes from index i on by some; a part of a divided piece moves no
// other part's.
func (h *hands) courses(i int, part string, by int) {
	for ; i < len(h.Passes); i++ {
		q := &h.Passes[i]
		if part != "" && q.ID.Part != part {
			continue
		}
		if q.Course > 0 {
			q.Course += by
		}
		for k := range q.Before {
			if st, ok := q.Before[k].Step.(step.KnitByHand); ok && st.Course > 0 {
				st.Course += by
				q.Before = slices.Clone(q.Before)
				q.Before[k].Step = st
			}
		}
	}
}

// cardOff moves the card or program by some lines before the pass reads.
func (h *hands) cardOff(by int) {
	p := h.now()
	n := h.LinesOf(programOf(h.Plan, h.at))
	h.besides(pass.Steps(step.SetCard{Line: (p.Line-1+by+n)%n + 1})...)
}

// cardBack lays the card of a section the wrong way round: back to front, or turned in its plane, so that its
// last line is read first.
func (h *hands) cardBack(k int, upsideDown bool) {
	section := h.now().Before[k].Step.(step.SetCard).Section
	turned := *h.Printed
	turned.Programs = slices.Clone(turned.Programs)
	h.Printed = &turned
	lines := slices.Clone(turned.Programs[section-1])
	wide := h.Piece.Machine.Columns
	at := h.Piece.Machine.CardOrigin
	var all machine.Set
	for i := range lines {
		all = all.Or(h.LineWork(section, i))
	}
	if all.Empty() {
		return
	}
	if !h.Piece.Machine.HasCard() || wide == 0 { // a drawing as wide as the work
		wide, at = int(all.Last()-all.First())+1, all.First()
	}
	for i, line := range lines {
		var turned machine.Set
		for n := range all.All() {
			k := ((int(n-at) % wide) + wide) % wide
			from := n + machine.Needle(wide-1-2*k)
			for _, m := range []machine.Needle{from, from - machine.Needle(wide), from + machine.Needle(wide)} {
				if line.Has(m) {
					turned.Add(n)
					break
				}
			}
		}
		lines[i] = turned
	}
	if upsideDown {
		slices.Reverse(lines)
	}
	turned.Programs[section-1] = lines
}

// otherCarriage lets another carriage go than should: the knit carriage for lace or purl, and one of these
// for it.
func (h *hands) otherCarriage() {
	p := h.now()
	was := p.Carriage
	other, found := (*pass.Pass)(nil), 0
	for j := range h.Passes { // the nearest pass of another carriage, of its own section where there is one
		q := &h.Passes[j]
		near := -abs(j - h.at)
		if q.Section != p.Section {
			near -= len(h.Passes)
		}
		if q.Carriage != was && q.Carriage != machine.SecondCarriage && (other == nil || near > found) {
			other, found = q, near
		}
	}
	if other == nil {
		return
	}
	now := *p
	now.Carriage, now.Lace, now.Free = other.Carriage, other.Lace, false
	now.Beds[0].Setting, now.Beds[0].Yarns = other.Main().Setting, other.Main().Yarns
	now.Lace.InProgram = other.Lace.InProgram && other.Carriage == machine.LaceCarriage
	now.Dir = h.stands(other.Carriage).Other()
	h.Passes[h.at] = now
	h.turn(h.at+1, was)
	h.turn(h.at+1, other.Carriage)
	if (was == machine.LaceCarriage) == (other.Carriage == machine.LaceCarriage) {
		return // knit and purl carriage: the row is knitted all the same
	}
	if was == machine.LaceCarriage { // a row is knitted that should not be
		course := 1
		for j := h.at - 1; j >= 0; j-- {
			if c := h.Passes[j].Course; c > 0 {
				course = c + 1
				break
			}
		}
		h.courses(h.at+1, p.ID.Part, 1)
		h.Passes[h.at].Course = course
		return
	}
	h.Passes[h.at].Course = 0
	if was := p.Course; was > 0 && !slices.ContainsFunc(h.Passes, func(q pass.Pass) bool { return q.Course == was }) {
		h.courses(h.at+1, p.ID.Part, -1)
	}
}

func abs(n int) int { return max(n, -n) }

// stands is the side on which a carriage stands before the pass.
func (h *hands) stands(c machine.Carriage) machine.Side {
	for j := h.at - 1; j >= 0; j-- {
		if q := &h.Passes[j]; (q.Carriage == machine.LaceCarriage) == (c == machine.LaceCarriage) &&
			q.Carriage != machine.SecondCarriage {
			return q.Dir
		}
	}
	if c == machine.LaceCarriage {
		return machine.Left
	}
	return h.Piece.Start
}

// exchanged is the two yarns that change places where a yarn is threaded before pass i: those of both
// feeders, or the one that is threaded and the one that was there, or comes next.
func exchanged(pl *pass.Plan, i int) (a, b piece.YarnNo, ok bool) {
	p := &pl.Passes[i]
	if x, y := p.Yarn(1), p.Yarn(2); x != 0 && y != 0 && x != y {
		return x, y, true
	}
	at := pass.Find[step.Thread](p.Before)
	if at < 0 {
		return 0, 0, false
	}
	a = p.Before[at].Step.(step.Thread).Yarn
	for _, way := range []int{-1, 1} {
		for j := i + way; j >= 0 && j < len(pl.Passes); j += way {
			if y := pl.Passes[j].Yarn(1); y != 0 && y != a && pl.Passes[j].Section == p.Section {
				return a, y, true
			}
		}
	}
	return 0, 0, false
}

// exchange lets two yarns change places from the pass to the end of its section.
func (h *hands) exchange() {
	a, b, ok := exchanged(h.Plan, h.at)
	if !ok {
		return
	}
	swap := func(y piece.YarnNo) piece.YarnNo {
		switch y {
		case a:
			return b
		case b:
			return a
		}
		return y
	}
	section, first := h.now().Section, h.at
	for i := h.at; i < len(h.Passes); i++ {
		p := &h.Passes[i]
		if p.Section != section {
			// the feeders hold the wrong ones until they are threaded anew: as planned from here on
			for f := range h.Passes[i-1].Main().Yarns {
				if y := p.Yarn(f + 1); y != 0 && !slices.ContainsFunc(p.Before, func(st pass.Step) bool {
					thread, ok := st.Step.(step.Thread)
					return ok && thread.Feeder == f+1
				}) {
					p.Before = append(pass.Steps(step.Thread{Feeder: f + 1, Yarn: y}), p.Before...)
				}
			}
			return
		}
		p.Before = slices.Clone(p.Before)
		for k := range p.Before {
			if st, ok := p.Before[k].Step.(step.Threaded); ok {
				p.Before[k].Step = st.Swap(swap)
			}
		}
		if i == first { // what was in a feeder before is taken out of it
			for f := range p.Main().Yarns {
				if y := p.Yarn(f + 1); y == a || y == b {
					p.Add(step.Thread{Feeder: f + 1, Yarn: swap(y)})
				}
			}
		}
		half := p.Main()
		half.Yarns = slices.Clone(half.Yarns)
		for f := range half.Yarns {
			half.Yarns[f] = swap(half.Yarns[f])
		}
	}
}

// leaveRack leaves the second bed where it stood, until it is moved again.
func (h *hands) leaveRack(k int) {
	was := &h.Passes[h.at-1]
	rack, pitch, shift := was.Rack, was.Pitch, was.Shift
	h.without(k)
	for i := h.at; i < len(h.Passes); i++ {
		p := &h.Passes[i]
		if i > h.at && pass.Has[step.Rack](p.Before) {
			return
		}
		p.Rack, p.Pitch, p.Shift = rack, pitch, shift
	}
}
