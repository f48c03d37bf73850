package fabric

import (
	"context"
	"fmt"

	"vindel/knit/card"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// carriage is the machine at work: what every needle of both beds holds, where the
// carriages stand, what the feeders hold and where yarns hang. It takes nothing of the plan
// on trust that a machine would not: needles stand where carriage, card and fingers put
// them. What goes wrong is a fault; what is knitted goes into the record.
type carriage struct {
	plan *pass.Plan
	m    *machine.Profile
	rec  *Fabric

	beds   [2]needles
	reader *reader

	on       machine.Carriage                  // the carriage on the bed; noCarriage: none
	rails    map[machine.Carriage]machine.Side // where others stand beside it
	at       machine.Side                      // of the carriage that knits: knit and purl hand the yarn over
	laceAt   machine.Side                      // the lace carriage lives on the left
	feeders  [2]piece.YarnNo
	hangs    [64]machine.Side // one feeder: where each yarn hangs that has been taken out of it
	standing [2]pass.Half     // the beds as they stand for the pass at work
	rack     int              // position of the second bed's handle
	pitch    machine.Pitch
	set      [machine.SecondCarriage + 1][2]machine.Setting // of each carriage, for the way left and right
	sizes    [2]string
	tails    [64]machine.Side // where the end of each yarn hangs, in a feeder or not; 0: not known
	anew     [64]bool         // by yarn: it has been begun with a new end
	loose    [64]bool         // and no needle has taken it since
	strands  strands
	limit    int // of floats
	looped   looped
	waiting  waiting
	took     int // the line that was read in the pass at work; 0: none

	now    *pass.Pass // before which the hands are at work
	source int        // the recipe's line that they follow, from 1
}

const noCarriage machine.Carriage = 255

// unknown is what needles in full hold do while nobody has moved holding.
const unknown machine.Action = 255

// Knit runs the plan pass by pass, as far as it goes. What only the simulation can see is
// in Faults, each a reason to stop. Compare says whether the fabric is what was asked for.
// Where the context ends first there is no fabric, and the error is the context's.
func Knit(ctx context.Context, pl *pass.Plan) (*Fabric, error) {
	r := Begin(pl)
	for r.next < len(pl.Passes) {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		r.Next()
	}
	return r.End(), nil
}

// Run is a plan at work on the simulated machine, pass by pass.
type Run struct {
	c    *carriage
	next int          // index of the pass that comes next
	put  *machine.Set // needles that fingers leave forward once all else is done before it
}

// Begin sets the machine up for a plan.
func Begin(pl *pass.Plan) *Run {
	c := &carriage{plan: pl, m: &pl.Piece.Machine, rec: newFabric(pl), reader: newReader(pl),
		at: pl.Piece.Start, laceAt: machine.Left, rack: pl.Piece.Second.Rack, pitch: pl.Piece.Second.Pitch}
	c.limit, c.rails = pl.Piece.FloatLimit(), map[machine.Carriage]machine.Side{}
	for _, of := range [...]machine.Carriage{machine.LaceCarriage, machine.PurlCarriage} {
		if at := c.m.Home(of); at != 0 && (of == machine.PurlCarriage && c.m.PurlCarriage ||
			of == machine.LaceCarriage && c.m.Lace == "separate") {
			c.rails[of] = at
		}
	}
	idle := machine.Cams{Selected: machine.Slip, Unselected: machine.Slip, Held: unknown}
	for of := range c.set {
		for way := range c.set[of] {
			c.set[of][way].Ways = [2]machine.Cams{idle, idle}
		}
	}
	return &Run{c: c}
}

// Next does what hands do before the next pass of the plan, and makes it.
func (r *Run) Next() {
	c, i := r.c, r.next
	p := &c.plan.Passes[i]
	c.took = 0
	for j := range p.Before {
		c.step(p, &p.Before[j])
	}
	if r.put != nil {
		c.beds[machine.Main].forward, r.put = *r.put, nil
	}
	c.enter(p.Recipe)
	c.stands_(i)
	c.pass(i, p)
	r.next++
}

// End does what hands do once the last pass is made, and gives the fabric. Nothing comes after it.
func (r *Run) End() *Fabric {
	c := r.c
	last := &pass.Pass{}
	if r.next > 0 {
		last = &c.plan.Passes[r.next-1]
	}
	for j := range c.plan.After {
		if c.plan.After[j].Recipe == 0 {
			c.enter(0) // what takes the last stitches off is no recipe's
		}
		c.step(last, &c.plan.After[j])
	}
	c.ids()
	c.rec.finish()
	return c.rec
}

// Stands is the side on which a carriage stands.
func (r *Run) Stands(which machine.Carriage) machine.Side { return r.c.stands(which) }

// Forward is the main bed's needles that stand forward now.
func (r *Run) Forward() machine.Set { return r.c.beds[machine.Main].forward }

// Bed is how the main bed stands now: the needles in work, those of them in hold, and what hangs on them.
func (r *Run) Bed() (work, hold machine.Set, hangs Stand) {
	b := &r.c.beds[machine.Main]
	return b.work, b.hold, r.c.hangs_(machine.Main)
}

// Feeders is the yarns in the main carriage's feeders; 0: none.
func (r *Run) Feeders() [2]piece.YarnNo { return r.c.feeders }

// Line is the line of the card or program that is read next, and whose section's it is; 0: none is in.
func (r *Run) Line() (section, line int) {
	if !r.c.reader.has() {
		return 0, 0
	}
	return r.c.reader.section, r.c.reader.next
}

// Took is the line that was read in the last pass; 0: none was.
func (r *Run) Took() int { return r.c.took }

// Bring carries a carriage to a side without a pass: it is lifted off, or goes with everything slipped.
func (r *Run) Bring(which machine.Carriage, to machine.Side) {
	if which == machine.LaceCarriage {
		r.c.laceAt = to
	} else {
		r.c.at = to
	}
}

// Put lets the fingers bring needles of the main bed forward, these and no others, when all else is done before
// the next pass.
func (r *Run) Put(forward machine.Set) { r.put = &forward }

// Turn puts the card or program of a section (from 1) in at a line.
func (r *Run) Turn(section, line int) { r.c.reader.set(section, line) }

// Reads puts other lines in, by section, where the reader is, as they came over a wire; its line stays.
func (r *Run) Reads(programs [][]machine.Set) {
	r.c.reader.reads(append(make([][]machine.Set, 0, len(programs)), programs...)) // none at all is none
}

// Holds puts another card or program in for a section (from 1), where the reader is; its line stays.
func (r *Run) Holds(section int, held card.Held) { r.c.reader.held[section-1] = held }

// Sweep sweeps a reader of pairs across by hand: it takes the line that is next.
func (r *Run) Sweep() { _, r.c.reader.taken = r.c.reader.take() }

func (c *carriage) fault(code finding.Code, p *pass.Pass, on machine.Set, format string, a ...any) {
	if len(c.rec.Faults) == finding.MostAlike {
		return // one is enough to stop, and a plan can have one in every pass
	}
	c.rec.Faults = append(c.rec.Faults, finding.Finding{Code: code, Severity: finding.Stop, Section: p.Section,
		Rows: [2]int{p.Row(), p.Row()}, Needles: on,
		Text: fmt.Sprintf("Pass %d: ", p.N) + fmt.Sprintf(format, a...)})
}

// stands is the side on which a carriage is.
func (c *carriage) stands(which machine.Carriage) machine.Side {
	if which == machine.LaceCarriage {
		return c.laceAt
	}
	return c.at
}

// pass moves a carriage across.
func (c *carriage) pass(i int, p *pass.Pass) {
	b, half := &c.beds[machine.Main], p.Main()
	if at := c.stands(p.Carriage); p.Dir.Other() != at {
		c.fault(finding.CarriageSide, p, machine.Set{},
			"the %v carriage should start on the %v but stands on the %v.", p.Carriage, p.Dir.Other(), at)
	}
	if p.Carriage == machine.SecondCarriage {
		if c.looped.no > 0 {
			c.loopPass(i, p)
			c.at = p.Dir
			return
		}
		c.letGo(p)
		return
	}
	if p.Carriage != c.on {
		c.fault(finding.CarriagesClash, p, machine.Set{},
			"the %v carriage is to go, but the %v carriage is on the bed.", p.Carriage, c.on)
	}
	if !p.Free && [2]piece.YarnNo{p.Yarn(1), p.Yarn(2)} != c.feeders {
		c.fault(finding.YarnNotThreaded, p, machine.Set{}, "the feeders hold %s, not %s.", c.holding(c.feeders[:]),
			c.holding(half.Yarns))
	}
	c.selectNow(p)
	if b.forward != half.Select {
		c.fault(finding.SelectionLost, p, b.forward.Minus(half.Select).Or(half.Select.Minus(b.forward)),
			"other needles stand forward than the row needs.")
	}
	if b.hold != half.Hold {
		c.fault(finding.SelectionLost, p, b.hold.Minus(half.Hold).Or(half.Hold.Minus(b.hold)),
			"other needles are in full hold than the row needs.")
	}
	for no := range c.beds {
		if bed := machine.BedNo(no); !c.beds[no].hold.Empty() && c.cams(bed, p).Held == unknown &&
			!p.Beds[no].AtWork.Empty() && !half.Setting.Moves {
			c.fault(finding.SelectionLost, p, c.beds[no].hold,
				"needles are in full hold, and nobody has said whether the carriage passes them by.")
		}
	}
	if c.looped.no > 0 {
		c.loopPass(i, p)
		c.settle(p)
		return
	}
	if c.rec.Behind != nil {
		c.secondStands(p)
	}
	if half.Setting.Moves {
		c.transfer(p, b.forward.And(b.work), p.Dir, c.setting(machine.LaceCarriage, p.Dir).Fine)
		c.laceAt, b.forward = p.Dir, machine.Set{}
		c.selectNext(p)
		return
	}
	c.rec.begin(p, b.work)
	c.waits(p)
	c.knit(i, p)
	c.settle(p)
}

// knit lets every group of needles do what its cams make it do, with what the feeders hold.
func (c *carriage) knit(i int, p *pass.Pass) {
	b := &c.beds[machine.Main]
	half := &c.standing[machine.Main]
	half.AtWork, half.Select, half.Hold, half.Setting = b.work, b.forward, b.hold, p.Main().Setting
	set := c.setting(p.Carriage, p.Dir)
	half.Setting.Ways, half.Setting.Feeder2 = set.Ways, set.Feeder2
	if half.Yarns = nil; !p.Free {
		half.Yarns = c.feeders[:]
	}
	if half.Setting.Lays {
		c.laidInOrder(p)
	}
	second := &c.beds[machine.Second]
	if c.rec.Behind != nil {
		s, behind := &c.standing[machine.Second], p.Second()
		if s.AtWork = (machine.Set{}); !behind.AtWork.Empty() && p.Carriage == machine.KnitCarriage {
			s.Hold = second.hold
			s.AtWork, s.Setting, s.Yarns = second.work, *c.setting(machine.SecondCarriage, p.Dir), half.Yarns
			s.Both, s.Plated = behind.Both, behind.Plated
			s.Select = behind.Select
		}
	}
	took, laid := &c.rec.Took[i], &c.strands.laid
	*laid = [2]machine.Set{}
	if !p.Free {
		c.strands.run++
	}
	held, feeder1 := machine.Set{}, piece.YarnNo(0)
	if !p.Free {
		feeder1 = c.feeders[0]
	}
	for g := range p.GroupsAs(&c.standing) {
		if g.Action.Takes() && g.Feeder > 0 {
			laid[g.Feeder-1] = laid[g.Feeder-1].Or(g.Needles)
			if g.Under != 0 {
				laid[2-g.Feeder] = laid[2-g.Feeder].Or(g.Needles)
			}
		}
		if g.Bed == machine.Second {
			if g.Action == machine.Knit {
				c.loose[g.Yarn], c.loose[g.Under] = false, false
				if g.Yarn == 0 {
					c.fault(finding.NeedleNoYarn, p, g.Needles,
						"these needles of the second bed knit with no yarn, and their stitches fall.")
				}
				second.knit(g.Needles, g.Yarn)
				c.rec.behind(i, g, p)
			}
			continue
		}
		switch {
		case g.Action.Knits():
			if g.Yarn == 0 {
				c.fault(finding.NeedleNoYarn, p, g.Needles,
					"these needles knit with no yarn, and their stitches fall.")
			}
			c.rec.knitted(p, b, g)
			b.knit(g.Needles, g.Yarn)
		case g.Action == machine.Tuck && g.Yarn != 0:
			c.rec.tucked(p, g.Needles)
			b.tuck(g.Needles, g.Yarn)
		case g.Action == machine.Hold:
			held = held.Or(g.Needles)
		}
		if g.Action.Takes() {
			c.loose[g.Yarn], c.loose[g.Under] = false, false
		}
		if g.Action.Takes() && g.Feeder > 0 {
			took[g.Feeder-1] = took[g.Feeder-1].Or(g.Needles)
		}
	}
	// A needle in full hold between two that take the yarn catches a strand of it.
	if held = held.And(b.hold); !held.Empty() && !c.m.HeldPasses && feeder1 != 0 && !took[0].Empty() {
		caught := held.And(machine.Range(took[0].First(), took[0].Last()))
		c.rec.tucked(p, caught)
		b.tuck(caught, feeder1)
		took[0] = took[0].Or(caught)
	}
	c.follow(p)
	if p.Carriage == machine.PurlCarriage {
		c.rec.purled(b.forward.And(c.atWork()))
	}
	c.rec.passed(i, p, b)
	c.rec.showBehind(i, second)
}

// letGo is the second bed's carriage alone: without yarn it lets the loops of its needles go, on
// purpose (rules 5.10).
func (c *carriage) letGo(p *pass.Pass) {
	b := &c.beds[machine.Second]
	for g := range p.GroupsAs(&[2]pass.Half{machine.Second: {AtWork: b.work, Select: p.Second().Select,
		Setting: *c.setting(machine.SecondCarriage, p.Dir), Yarns: p.Second().Yarns}}) {
		if g.Bed == machine.Second && g.Action == machine.Knit {
			b.knit(g.Needles, g.Yarn)
			if g.Yarn == 0 {
				b.empty = b.empty.Or(g.Needles)
			}
		}
	}
	c.at = p.Dir
}

// secondStands holds the second bed as it stands to what the pass says of it.
func (c *carriage) secondStands(p *pass.Pass) {
	half, b := p.Second(), &c.beds[machine.Second]
	if half.AtWork.Empty() {
		if !b.work.Empty() && p.Carriage == machine.KnitCarriage {
			c.fault(finding.SecondStands, p, b.work,
				"the second bed holds stitches, and the plan says nothing of them.")
		}
		return
	}
	if half.AtWork != b.work {
		c.fault(finding.SecondStands, p, half.AtWork.Minus(b.work).Or(b.work.Minus(half.AtWork)),
			"other needles of the second bed hold stitches than the plan says.")
	}
	if p.Rack != c.rack {
		c.fault(finding.SecondStands, p, machine.Set{}, "the handle of the second bed stands at %d, not at %d.",
			c.rack, p.Rack)
	}
	if set := c.setting(machine.SecondCarriage, p.Dir); half.Setting.Pattern() != set.Pattern() && !p.Free {
		c.fault(finding.SecondStands, p, machine.Set{}, "the second bed is set to %s, not to %s.", set.Word(),
			half.Setting.Word())
	}
	if main := &c.beds[machine.Main]; main.work != p.Main().AtWork {
		c.fault(finding.SecondStands, p, main.work.Minus(p.Main().AtWork).Or(p.Main().AtWork.Minus(main.work)),
			"other needles of the main bed hold stitches than the plan says.")
	}
	if half.Hold != b.hold {
		c.fault(finding.SecondStands, p, half.Hold.Minus(b.hold).Or(b.hold.Minus(half.Hold)),
			"other needles of the second bed are in hold than the plan says.")
	}
	turns := machine.Set{}
	if c.setting(machine.SecondCarriage, p.Dir).Key == machine.SecondTurns.Key {
		odd := true
		for n := range b.work.Minus(b.hold).All() {
			if odd == (p.Dir == machine.Right) {
				turns.Add(n)
			}
			odd = !odd
		}
	}
	if half.Select != turns {
		c.fault(finding.SecondStands, p, half.Select.Minus(turns).Or(turns.Minus(half.Select)),
			"other needles of the second bed have their turn than the plan says.")
	}
}

// across moves whole stacks from one bed to the needles of the other that they face, or to whose
// right they stand.
func (c *carriage) across(p *pass.Pass, from machine.BedNo, needles machine.Set) {
	lie := machine.Across{Shift: c.rack - c.m.RackCentre, Pitch: c.pitch}
	a, b := &c.beds[from], &c.beds[1-from]
	for n := range needles.All() {
		to := lie.Left(n)
		if from == machine.Main {
			to = n - machine.Needle(lie.Shift)
		}
		if p.Beds[1-from].AtWork.Has(to) && !b.work.Has(to) {
			b.work.Add(to) // it comes into work with its stitch
		}
		to, ok := pass.Nearest(b.work, to)
		if !ok {
			c.fault(finding.TransferOff, p, machine.SetOf(n),
				"a stitch is to go to the other bed, where no needle is in work, and falls.")
			return
		}
		b.put(to, append(b.stack(to), a.stack(n)...))
		a.put(n, nil)
		a.hold.Remove(n)
		a.empty.Remove(n)
	}
}

// laidInOrder finds bobbins that are laid against the carriage's way.
func (c *carriage) laidInOrder(p *pass.Pass) {
	for i, l := range p.Lays {
		if i > 0 && (p.Dir == machine.Left) != (l.To < p.Lays[i-1].From) {
			c.fault(finding.LaidOutOfOrder, p, machine.Range(l.From, l.To),
				"bobbin %s is laid after %s, against the carriage's way.", l.Bobbin, p.Lays[i-1].Bobbin)
		}
	}
}

// atWork is the main bed's needles that are at work: neither out nor in hold.
func (c *carriage) atWork() machine.Set {
	return c.beds[machine.Main].work.Minus(c.beds[machine.Main].hold)
}

// stands_ notes how the beds stand before a pass (index).
func (c *carriage) stands_(i int) {
	if c.rec.Stands == nil {
		return
	}
	c.rec.Stands[i] = c.hangs_(machine.Main)
	if c.looped.no > 0 {
		c.rec.StandsBehind[i] = c.hangs_(machine.Second)
	}
}

// hangs_ is what hangs on the needles of a bed.
func (c *carriage) hangs_(bed machine.BedNo) Stand {
	if w := &c.looped; w.no > 0 {
		return Stand{c.beds[bed].work.Minus(w.beds.Holds[bed]), w.beds.Over[bed]}
	}
	return Stand{c.beds[bed].empty, c.beds[bed].stacked}
}

// selectNow is what the program selects as the carriage passes.
func (c *carriage) selectNow(p *pass.Pass) {
	b, half := &c.beds[machine.Main], p.Main()
	switch {
	case p.Lace.Now:
		forward, line := c.reader.lace(p.Carriage, c.atWork())
		c.line(p, line)
		b.forward = b.forward.Or(forward)
	case !p.Lace.InProgram && c.m.School == machine.Pairs:
		c.selectPair(p)
	case !p.Lace.InProgram && c.m.Selects() && p.Carriage == machine.PurlCarriage && p.Line > 0 &&
		(c.m.School == machine.Direct || !c.m.PurlAhead):
		forward, line := c.reader.take()
		c.line(p, line)
		b.forward = b.forward.Or(forward.And(c.atWork()))
	case !p.Lace.InProgram && c.m.School == machine.Direct && p.Carriage == machine.KnitCarriage:
		forward, line := c.reader.read(c.atWork())
		c.line(p, line)
		b.forward = b.forward.Or(forward.Minus(half.PushedBack))
	}
}

// selectPair: on the way left the needles are set as the line says that the reader has taken,
// and stay so on the way right, on which it takes the next.
func (c *carriage) selectPair(p *pass.Pass) {
	r, b := c.reader, &c.beds[machine.Main]
	if p.Own == 0 {
		return
	}
	if p.Dir == machine.Left {
		if r.taken != p.Own {
			c.fault(finding.SelectionLost, p, machine.Set{}, "the needles are set by line %d, not by line %d.",
				r.taken, p.Own)
		}
		if r.pair = (machine.Set{}); r.taken > 0 {
			r.pair = r.brings(r.taken)
		}
	}
	b.forward = b.forward.Or(r.pair.And(c.atWork()).Minus(p.Main().PushedBack))
	if p.Line > 0 {
		_, r.taken = r.take()
		c.line(p, r.taken)
	}
}

// selectNext is what a carriage that selects a row ahead brings forward for the next pass.
func (c *carriage) selectNext(p *pass.Pass) {
	b := &c.beds[machine.Main]
	switch {
	case p.Lace.InProgram && !p.Lace.Now:
		var line int
		b.forward, line = c.reader.lace(p.Carriage, c.atWork())
		c.line(p, line)
		c.asPlanned(p)
	case p.Lace.InProgram, c.m.School == machine.Preselect && p.Carriage == machine.PurlCarriage && !c.m.PurlAhead:
		b.forward = machine.Set{}
	case c.m.School == machine.Preselect && p.Carriage == machine.PurlCarriage:
		if b.forward = (machine.Set{}); p.Line > 0 { // it reads without the switches of the knit carriage
			forward, line := c.reader.take()
			b.forward = forward.And(c.atWork())
			c.line(p, line)
		}
		c.asPlanned(p)
	case c.m.School == machine.Preselect && p.Carriage == machine.KnitCarriage:
		var line int
		b.forward, line = c.reader.read(c.atWork())
		c.line(p, line)
		c.asPlanned(p)
	}
}

// asPlanned holds the needles that the carriage has brought forward to those of the plan.
func (c *carriage) asPlanned(p *pass.Pass) {
	if got, sets := c.beds[machine.Main].forward, p.Main().Sets; got != sets {
		c.fault(finding.SelectionLost, p, got.Minus(sets).Or(sets.Minus(got)),
			"other needles come forward for the next pass than the plan says.")
	}
}

// line holds the line that is read to the one that the plan says.
func (c *carriage) line(p *pass.Pass, read int) {
	c.took = read
	if read != p.Line {
		c.fault(finding.SelectionLost, p, machine.Set{}, "line %d is read, not line %d.", read, p.Line)
	}
}

// settle leaves things as they are once the carriage is across: what was knitted is back at
// rest, what was held waits for the next pass, and a bobbin lies at the other side.
func (c *carriage) settle(p *pass.Pass) {
	b, cams := &c.beds[machine.Main], c.cams(machine.Main, p)
	if c.looped.no > 0 {
		second := c.cams(machine.Second, p)
		if !(second.Selected == machine.Tuck && c.m.School == machine.ByHand && !c.m.ResetEach) && p.Second().Named {
			c.beds[machine.Second].forward = machine.Set{}
		}
	}
	stay := cams.Selected == machine.Hold || cams.Selected == machine.Tuck && c.m.School == machine.ByHand &&
		!c.m.ResetEach
	if !stay && (c.looped.no == 0 || p.Main().Named) { // a bed that is passed over stays as it is
		b.forward = machine.Set{}
	}
	if cams.Held == machine.Knit && c.looped.no == 0 {
		b.hold = machine.Set{}
	}
	c.selectNext(p)
	c.at = p.Dir
	for _, y := range c.feeders {
		c.tails[y] = p.Dir
	}
}

// transfer moves stitches, by the lace carriage or by hand. The needle that receives must
// be at rest, and in work.
func (c *carriage) transfer(p *pass.Pass, from machine.Set, dir machine.Side, fine bool) {
	b := &c.beds[machine.Main]
	to := from.Right(1)
	if dir == machine.Left {
		to = from.Left(1)
	}
	if off := to.Minus(b.work); !off.Empty() || !from.Minus(b.work).Empty() {
		c.fault(finding.TransferOff, p, off, "a stitch is to go to a needle that is not in work, and falls.")
	}
	if both := to.And(from); p.Main().Setting.Moves && !both.Empty() {
		c.fault(finding.StitchDropped, p, both,
			"neighbouring needles are selected together; the one that is to receive is not at rest, and the "+
				"stitch falls.")
	}
	b.transfer(from, dir, fine)
}

// holding says what feeders hold, in words.
func (c *carriage) holding(f []piece.YarnNo) string {
	words := ""
	for i := range c.m.Feeders {
		if i > 0 {
			words += " and "
		}
		if i >= len(f) || f[i] == 0 {
			words += "nothing"
		} else {
			words += c.plan.Piece.YarnName(f[i])
		}
	}
	return words
}
