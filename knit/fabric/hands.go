package fabric

import (
	"slices"

	"vindel/knit/finding"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// step lets the hands do a step before a pass, or after the last. Where a recipe is at work every loop has a past of
// its own, and so each of the verbs below has two halves.
func (c *carriage) step(p *pass.Pass, st *pass.Step) {
	if st.Recipe > 0 || p.Recipe == 0 {
		c.enter(st.Recipe)
	}
	c.now, c.source = p, st.Source
	st.Act(c)
}

func (c *carriage) isLooped() bool { return c.looped.no > 0 }

// --- needles ----------------------------------------------------------------------------------------------------

// comeIn notes needles that come into work with nothing on them.
func (c *carriage) comeIn(bed machine.BedNo, on machine.Set) {
	c.looped.fresh[bed] = c.looped.fresh[bed].Or(on.Minus(c.beds[bed].work))
}

func (c *carriage) Forward(bed machine.BedNo, on machine.Set) {
	b := &c.beds[bed]
	b.forward = b.forward.Or(on)
}

func (c *carriage) Hold(bed machine.BedNo, on machine.Set) {
	b := &c.beds[bed]
	if c.isLooped() {
		c.comeIn(bed, on)
		b.work = b.work.Or(on)
	}
	b.hold, b.forward = b.hold.Or(on), b.forward.Minus(on)
}

func (c *carriage) Work(bed machine.BedNo, on machine.Set) {
	b := &c.beds[bed]
	if c.isLooped() {
		c.comeIn(bed, on)
		b.work = b.work.Or(on)
	}
	b.hold, b.forward = b.hold.Minus(on), b.forward.Minus(on)
}

// Enter brings needles into work with nothing on them.
func (c *carriage) Enter(bed machine.BedNo, on machine.Set) {
	b := &c.beds[bed]
	c.comeIn(bed, on)
	b.empty = b.empty.Or(on.Minus(b.work))
	b.work = b.work.Or(on)
}

// Out is of recipes alone.
func (c *carriage) Out(bed machine.BedNo, on machine.Set) {
	if !c.isLooped() {
		b := &c.beds[bed]
		for n := range on.And(b.work).All() {
			if len(b.stack(n)) > 0 {
				c.fault(finding.StitchDropped, c.now, machine.SetOf(n), "%v goes out of work with a stitch on it.", n)
			}
		}
		b.leave(on)
		return
	}
	if lost := on.And(c.looped.beds.Holds[bed]); !lost.Empty() {
		c.fault(finding.StitchDropped, c.now, lost, "these needles go out of work with loops on them, which fall.")
	}
	c.out(bed, on)
}

// HoldEdge and WorkEdge are of the shape: what is not in work stays out of it.
func (c *carriage) HoldEdge(bed machine.BedNo, on machine.Set) {
	if !c.isLooped() {
		on = on.And(c.beds[bed].work)
	}
	c.Hold(bed, on)
}

func (c *carriage) WorkEdge(bed machine.BedNo, on machine.Set) {
	if !c.isLooped() {
		on = on.And(c.beds[bed].work)
	}
	c.Work(bed, on)
}

// --- stitches ---------------------------------------------------------------------------------------------------

func (c *carriage) CastOn(bed machine.BedNo, on machine.Set, y piece.YarnNo) {
	c.loose[y] = false
	if c.isLooped() {
		c.castLoops(bed, on)
		return
	}
	if c.beds[bed].castOn(on, y); bed == machine.Main {
		c.rec.castOn(on, y)
	}
}

func (c *carriage) CastOnEdge(bed machine.BedNo, on machine.Set, y piece.YarnNo) {
	if c.isLooped() {
		c.castLoops(bed, on)
		return
	}
	c.beds[bed].castOn(on, y)
}

// castLoops casts on in the yarn of feeder 1.
func (c *carriage) castLoops(bed machine.BedNo, on machine.Set) {
	w, b := &c.looped, &c.beds[bed]
	c.comeIn(bed, on)
	b.work, b.hold = b.work.Or(on), b.hold.Minus(on)
	for n := range on.All() {
		w.beds.Lay(bed, n, c.newLoop(bed, loops.Cast, c.feeders[0], 0))
	}
	b.forward, w.fresh[bed] = b.forward.Minus(on), w.fresh[bed].Minus(on)
}

// Wrap is of recipes alone.
func (c *carriage) Wrap(bed machine.BedNo, on machine.Set) {
	if !c.isLooped() {
		return
	}
	w := &c.looped
	for n := range on.All() {
		w.beds.Lay(bed, n, c.newLoop(bed, loops.Wrap, c.feeders[0], 0))
	}
	w.fresh[bed] = w.fresh[bed].Minus(on)
}

func (c *carriage) WrapEdge(on machine.Set, y piece.YarnNo) {
	if c.isLooped() {
		c.Wrap(machine.Main, on)
		return
	}
	b := &c.beds[machine.Main]
	on = on.And(b.hold)
	b.tuck(on, y)
	c.rec.wrapped(on)
}

func (c *carriage) Transfer(bed machine.BedNo, on machine.Set, way machine.Side, by int) {
	if c.isLooped() {
		to := machine.Needle(by)
		if way == machine.Left {
			to = -to
		}
		c.lift(bed, on, bed, to)
		return
	}
	b := &c.beds[machine.Main]
	// the fingers leave the needles that they touch at rest
	b.forward = b.forward.Minus(on.Or(on.Left(1)).Or(on.Right(1)))
	c.transfer(c.now, on, way, false)
}

func (c *carriage) Across(from machine.BedNo, on machine.Set) {
	if !c.isLooped() {
		c.across(c.now, from, on)
		return
	}
	by := machine.Needle(c.lie().Shift)
	if from == machine.Main {
		by = -by
	}
	if c.pitch != machine.FullPitch {
		c.fault(finding.TransferOff, c.now, on,
			"stitches are to go to the other bed, whose needles do not face theirs.")
		return
	}
	c.lift(from, on, 1-from, by)
}

// lift moves stacks: all are lifted, then each is put down.
func (c *carriage) lift(bed machine.BedNo, on machine.Set, to machine.BedNo, by machine.Needle) {
	w := &c.looped
	var lifted [machine.MaxBed][]loops.ID
	for n := range on.All() {
		lifted[n+machine.MaxBed/2] = w.beds.Lift(bed, n)
		c.beds[bed].forward.Remove(n)
	}
	for n := range on.All() {
		if !c.beds[to].work.Has(n + by) {
			c.fault(finding.TransferOff, c.now, machine.SetOf(n),
				"a stitch is to go to a needle that is not in work, and falls.")
			continue
		}
		w.beds.Put(to, n+by, lifted[n+machine.MaxBed/2])
		w.fresh[to].Remove(n + by)
		c.beds[to].forward.Remove(n + by)
	}
}

// Cross is of recipes alone, and so is KnitByHand.
func (c *carriage) Cross(on, with machine.Set) {
	if !c.isLooped() {
		return
	}
	w := &c.looped
	other := slices.Collect(with.All())
	i := 0
	for n := range on.All() {
		if i < len(other) {
			a, z := w.beds.Lift(machine.Main, n), w.beds.Lift(machine.Main, other[i])
			w.beds.Put(machine.Main, n, z)
			w.beds.Put(machine.Main, other[i], a)
		}
		i++
	}
	b := &c.beds[machine.Main]
	b.forward = b.forward.Minus(on).Minus(with)
}

// KnitByHand knits stitches with the end of a yarn, from the side where it hangs.
func (c *carriage) KnitByHand(st step.KnitByHand) {
	if !c.isLooped() {
		return
	}
	w, b, y := &c.looped, &c.beds[machine.Main], st.Yarn
	if from := c.tails[y]; from != 0 && from != st.From {
		c.fault(finding.YarnWrongSide, c.now, machine.Set{},
			"%s is to be knitted by hand from the %v but hangs on the %v.", c.plan.Piece.YarnName(y), st.From, from)
	}
	on := st.On.Or(st.Long)
	course := c.rec.course(st.Course, c.now, c.beds[machine.Main].work)
	last := c.looped.ends[100+y]
	for n := range stepping(on, st.From.Other()) {
		kind := loops.Short
		if st.Long.Has(n) {
			kind = loops.Long
		}
		c.draw(machine.Main, n, c.newLoop(machine.Main, kind, y, 0), course)
		now := &strand{machine.Main, n, 0}
		if last != nil {
			between := machine.Range(min(n, last.needle)+1, max(n, last.needle)-1)
			c.floats(c.now, c.source, y, machine.Main, between.And(b.work.Minus(b.hold)), last.pass < 0)
		}
		now.pass = 1
		last = now
	}
	if last != nil {
		last.pass = -1 // the next stitch comes another time
		w.ends[100+y] = last
	}
	b.hold, b.forward = b.hold.Minus(on), b.forward.Minus(on)
	c.tails[y], c.hangs[y] = st.From.Other(), st.From.Other()
	c.shows(st.Course, on)
}

// Reform turns a stitch of the main bed round. Of a recipe the loops stay as they are.
func (c *carriage) Reform(on machine.Set) {
	if c.isLooped() {
		return
	}
	b := &c.beds[machine.Main]
	b.forward = b.forward.Minus(on) // the fingers leave the needle at rest
	c.rec.purled(on.And(b.work))
}

// Drop is of recipes alone, and so is TakeOff.
func (c *carriage) Drop(bed machine.BedNo, on machine.Set) {
	if c.isLooped() {
		c.let(bed, on)
		c.beds[bed].forward = c.beds[bed].forward.Minus(on)
	}
}

func (c *carriage) TakeOff(bed machine.BedNo, on machine.Set) {
	if c.isLooped() {
		c.liftOff(bed, on)
	}
}

func (c *carriage) BindOff(bed machine.BedNo, on machine.Set) {
	if c.isLooped() {
		c.liftOff(bed, on)
		return
	}
	c.beds[bed].leave(on)
}

// liftOff takes the loops of needles off, and the needles out of work.
func (c *carriage) liftOff(bed machine.BedNo, on machine.Set) {
	for n := range on.All() {
		c.looped.beds.Lift(bed, n)
	}
	c.out(bed, on)
}

// --- threads ----------------------------------------------------------------------------------------------------

// Thread puts a yarn in a feeder. Where its end is no new one it must hang here, unless it is carried over.
func (c *carriage) Thread(s step.Thread) {
	at, name := c.hangs[s.Yarn], c.plan.Piece.YarnName(s.Yarn)
	switch {
	case s.New && at != 0:
		c.fault(finding.YarnWrongSide, c.now, machine.Set{}, "%s is to be begun with a new end, but hangs on the %v and "+
			"has not been cut.", name, at)
	case at != 0 && at != c.at && !s.Carried && s.Bobbin == "":
		c.fault(finding.YarnWrongSide, c.now, machine.Set{}, "%s is wanted on the %v but hangs on the %v.", name, c.at,
			at)
	}
	if s.New {
		c.anew[s.Yarn], c.loose[s.Yarn] = true, true
	}
	c.feeders[s.Feeder-1], c.tails[s.Yarn], c.hangs[s.Yarn] = s.Yarn, c.at, 0
	c.strands.fed[s.Feeder-1] = s.Name
}

func (c *carriage) Unthread(s step.Unthread) {
	c.feeders[s.Feeder-1], c.hangs[s.Yarn] = 0, c.endOf(s.Yarn)
	c.strands.fed[s.Feeder-1] = ""
	if s.Cut || s.Bobbin != "" || c.loose[s.Yarn] { // a bobbin hangs at its field
		c.hangs[s.Yarn], c.tails[s.Yarn], c.anew[s.Yarn] = 0, 0, true
	}
}

func (c *carriage) Cut(s step.Cut) {
	if s.Bobbin == "" && !s.Laid {
		c.hangs[s.Yarn], c.tails[s.Yarn], c.anew[s.Yarn] = 0, c.at, true
	}
}

// endOf is where the end of a yarn hangs that comes out of a feeder: at the carriage, unless hands
// have knitted with it.
func (c *carriage) endOf(y piece.YarnNo) machine.Side {
	if at := c.tails[y]; c.isLooped() && at != 0 {
		return at
	}
	return c.at
}

// --- carriages, controls, card ----------------------------------------------------------------------------------

func (c *carriage) PutOff(s step.Remove) {
	which, at := s.Carriage, s.Parked
	delete(c.rails, which)
	if c.on != which {
		return
	}
	if !s.Lifted {
		for other, side := range c.rails {
			if side == at {
				c.fault(finding.CarriagesClash, c.now, machine.Set{},
					"the %v carriage is to be parked on the %v, where the %v carriage stands on the rails.", which, at,
					other)
			}
		}
		c.rails[which] = at
	}
	if stands := c.stands(which); at != stands {
		c.fault(finding.CarriageSide, c.now, machine.Set{},
			"the %v carriage is to be parked on the %v, but it stands on the %v.", which, at, stands)
	}
	c.on = noCarriage
}

func (c *carriage) PutOn(which machine.Carriage, from machine.Side) {
	if c.on != noCarriage {
		c.fault(finding.CarriagesClash, c.now, machine.Set{},
			"the %v carriage comes on while the %v carriage is on the bed.", which, c.on)
	}
	if stands := c.stands(which); from != stands {
		c.fault(finding.CarriageSide, c.now, machine.Set{},
			"the %v carriage is to come on from the %v, but it is on the %v.", which, from, stands)
	}
	delete(c.rails, which)
	for other, side := range c.rails {
		if side == from {
			c.fault(finding.CarriagesClash, c.now, machine.Set{},
				"the %v carriage is to come on from the %v, where the %v carriage stands on the rails.", which, from, other)
		}
	}
	c.on = which
}

func (c *carriage) Cams(s step.Cams) {
	for _, way := range [...]machine.Side{machine.Left, machine.Right} {
		if s.Sets(s.Setting.Of, way, step.Whole) {
			at := &c.set[s.Setting.Of][way-machine.Left]
			*at = s.Take(*at)
		}
	}
}

// setting is how a carriage is set for a way.
func (c *carriage) setting(of machine.Carriage, way machine.Side) *machine.Setting {
	return &c.set[of][way-machine.Left]
}

// cams is what a bed's needles do in a pass, as its carriage is set.
func (c *carriage) cams(bed machine.BedNo, p *pass.Pass) machine.Cams {
	of := machine.SecondCarriage
	if bed == machine.Main {
		of = p.Carriage
	}
	return c.setting(of, p.Dir).Cams(p.Dir)
}

func (c *carriage) Size(bed machine.BedNo, size string) { c.sizes[bed] = size }

func (c *carriage) Rack(to int, pitch machine.Pitch) { c.rack, c.pitch = to, pitch }

func (c *carriage) Card(section, line int) { c.reader.set(section, line) }

func (c *carriage) Sweep(int) { _, c.reader.taken = c.reader.take() }

func (c *carriage) Counter(int) {}
