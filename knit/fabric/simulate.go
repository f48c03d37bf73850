package fabric

import (
	"encoding/binary"
	"fmt"
	"slices"

	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// model is the bed: what every needle holds and where everything stands.
type model struct {
	f    *Fabric
	plan *plan.Plan
	m    *machine.Profile

	base    [machine.MaxBed]piece.YarnNo   // yarn of the oldest loop; 0: no loop
	above   [machine.MaxBed][]loop         // the loops over it
	home    [machine.MaxBed]machine.Needle // where the oldest loop was formed, if it has moved
	moved   machine.Set                    // needles whose oldest loop has been transferred
	empty   machine.Set                    // needles in work without a loop
	stacked machine.Set                    // needles with loops above
	work    machine.Set
	forward machine.Set
	hold    machine.Set

	on       machine.Carriage // the carriage on the bed; noCarriage: none
	carriage machine.Side     // of the carriage that knits: knit and purl hand the yarn over
	laceAt   machine.Side     // the lace carriage lives on the left
	feeders  [2]piece.YarnNo
	side     [64]machine.Side // one feeder: where each yarn hangs
	course   int
	ended    int         // the course whose stitches have been noted: before its loops are transferred
	weftOn   machine.Set // needles over which the weft lies in this pass
}

const noCarriage machine.Carriage = 255

// Knit runs the plan pass by pass, as far as it goes, and compares the fabric with
// the charts. What only the simulation can see is in Faults, each a reason to stop.
func Knit(pl *plan.Plan) *Fabric {
	p := pl.Piece
	f := &Fabric{Plan: pl, From: p.From, W: int(p.To-p.From) + 1, Took: make([]Took, len(pl.Passes))}
	courses := 0
	for i := range pl.Passes {
		courses = max(courses, pl.Passes[i].Course)
	}
	f.Courses = make([]Course, courses)
	f.Face = make([]piece.YarnNo, courses*f.W)
	b := &model{f: f, plan: pl, m: &p.Machine, carriage: p.Start, laceAt: machine.Left}
	if transfers(pl) {
		f.Stands = make([]Stand, len(pl.Passes))
	}
	for i := range pl.Passes {
		pass := &pl.Passes[i]
		for j := range pass.Before {
			b.step(pass, &pass.Before[j])
		}
		if f.Stands != nil {
			f.Stands[i] = Stand{b.empty, b.stacked}
		}
		b.pass(i, pass)
	}
	if n := len(pl.Passes); n > 0 {
		for j := range pl.After {
			b.step(&pl.Passes[n-1], &pl.After[j])
		}
	}
	b.endCourse()
	f.compare()
	return f
}

// transfers says that a plan moves stitches from needle to needle.
func transfers(pl *plan.Plan) bool {
	return slices.ContainsFunc(pl.Piece.Sections, func(s piece.Section) bool { return s.Lace() })
}

func (b *model) fault(code string, p *plan.Pass, needles machine.Set, format string, a ...any) {
	b.f.Faults = append(b.f.Faults, finding.Finding{Code: code, Severity: finding.Stop, Section: p.Section, Rows: [2]int{p.Row, p.Row}, Needles: needles,
		Text: fmt.Sprintf("Pass %d: ", p.N) + fmt.Sprintf(format, a...)})
}

// step does what the hands do. Steps that change nothing on the bed are passed over.
func (b *model) step(p *plan.Pass, st *plan.Step) {
	switch st.Do {
	case plan.CastOn:
		b.work = b.work.Or(st.Needles)
		b.lay(st.Needles, st.Yarn)
	case plan.BringForward:
		b.forward = b.forward.Or(st.Needles)
	case plan.ToHold:
		b.hold, b.forward = b.hold.Or(st.Needles), b.forward.Minus(st.Needles)
	case plan.ToWork:
		b.hold, b.forward = b.hold.Minus(st.Needles), b.forward.Minus(st.Needles)
	case plan.Remove:
		if b.on == st.Carriage {
			b.on = noCarriage
		}
	case plan.Attach:
		if b.on != noCarriage {
			b.fault("carriages-clash", p, machine.Set{}, "the %v carriage comes on while the %v carriage is on the bed.", st.Carriage, b.on)
		}
		if st.Side != b.stands(st.Carriage) {
			b.fault("carriage-side", p, machine.Set{}, "the %v carriage is to come on from the %v, but it is on the %v.", st.Carriage, st.Side, b.stands(st.Carriage))
		}
		b.on = st.Carriage
	case plan.Transfer: // the fingers leave the needles that they touch at rest
		b.forward = b.forward.Minus(st.Needles.Or(st.Needles.Left(1)).Or(st.Needles.Right(1)))
		b.transfer(p, st.Needles, st.Dir, false)
	case plan.Reform:
		b.forward = b.forward.Minus(st.Needles) // the fingers leave the needle at rest
		if b.course > 0 {
			c := &b.f.Courses[b.course-1]
			c.Purled = c.Purled.Or(st.Needles.And(b.work))
		}
	case plan.Cut:
		b.side[st.Yarn] = 0
	case plan.Unthread:
		b.feeders[st.Feeder-1] = 0
	case plan.Park:
		b.side[st.Yarn] = b.carriage
		if b.feeders[0] == st.Yarn {
			b.feeders[0] = 0
		}
	case plan.Thread:
		if at := b.side[st.Yarn]; b.m.Feeders == 1 && at != 0 && at != b.carriage {
			b.fault("yarn-wrong-side", p, machine.Set{}, "%s is wanted on the %v but hangs on the %v.", b.plan.Piece.YarnName(st.Yarn), b.carriage, at)
		}
		b.feeders[st.Feeder-1] = st.Yarn
	}
}

// stands is the side on which a carriage is.
func (b *model) stands(c machine.Carriage) machine.Side {
	if c == machine.LaceCarriage {
		return b.laceAt
	}
	return b.carriage
}

// pass moves the carriage across.
func (b *model) pass(i int, p *plan.Pass) {
	if at := b.stands(p.Carriage); p.Dir.Other() != at {
		b.fault("carriage-side", p, machine.Set{}, "the %v carriage should start on the %v but stands on the %v.", p.Carriage, p.Dir.Other(), at)
	}
	if p.Carriage != b.on {
		b.fault("carriages-clash", p, machine.Set{}, "the %v carriage is to go, but the %v carriage is on the bed.", p.Carriage, b.on)
	}
	if !p.Free && p.Feeders != b.feeders {
		b.fault("yarn-not-threaded", p, machine.Set{}, "the feeders hold %s, not %s.", b.yarns(b.feeders), b.yarns(p.Feeders))
	}
	if p.SelectsNow || !p.InLace && (b.m.School == machine.Direct || b.m.School == machine.Pairs) {
		b.forward = b.forward.Or(p.Select.Minus(p.ByHand)) // the program selects as the carriage passes
	}
	if b.forward != p.Select {
		b.fault("selection-lost", p, b.forward.Minus(p.Select).Or(p.Select.Minus(b.forward)), "other needles stand forward than the row needs.")
	}
	if p.Carriage == machine.LaceCarriage {
		b.transfer(p, b.forward.And(b.work), p.Dir, p.Fine)
		b.laceAt, b.forward = p.Dir, p.Sets
		return
	}
	if p.Course > 0 && p.Course != b.course {
		b.endCourse()
		b.course = p.Course
		b.f.Courses[p.Course-1] = Course{Section: p.Section, Row: p.Row, PlainRow: p.PlainRow, OtherLeans: p.OtherLeans}
	}
	var feeders [2]piece.YarnNo
	if !p.Free {
		feeders = b.feeders
	}
	second := feeders[0]
	if p.TwoYarns {
		second = feeders[1]
	}
	forward, hold := b.forward.And(b.work), b.hold.And(b.work)
	rest := b.work.Minus(forward).Minus(hold)
	b.weft(p)
	took := &b.f.Took[i]
	took[0] = b.act(p, rest, p.Cams.Unselected, feeders[0])
	t := b.act(p, forward, p.Cams.Selected, second)
	if p.TwoYarns {
		took[1] = t
	} else {
		took[0] = took[0].Or(t)
	}
	took[0] = took[0].Or(b.act(p, hold, p.Cams.Held, feeders[0]))
	if p.Cams.Held == machine.Hold && !hold.Empty() && !took[0].Empty() {
		b.tuck(p, hold.And(machine.Range(took[0].First(), took[0].Last())), feeders[0])
	}
	if p.Carriage == machine.PurlCarriage && p.Course > 0 {
		c := &b.f.Courses[p.Course-1]
		c.Purled = c.Purled.Or(forward)
	}
	b.measure(i, p, feeders, took)
	if p.Course > 0 {
		b.f.Courses[p.Course-1].Exempt = b.f.Courses[p.Course-1].Exempt.Or(p.Exempt)
	}

	// What was knitted is back at rest; what was held waits for the next pass.
	stay := p.Cams.Selected == machine.Hold || p.Cams.Selected == machine.Tuck && b.m.School == machine.ByHand && !b.m.ResetEach
	if !stay {
		b.forward = machine.Set{}
	}
	if p.Cams.Held != machine.Hold {
		b.hold = machine.Set{}
	}
	if b.m.School == machine.Preselect || p.InLace {
		b.forward = p.Sets
	}
	b.carriage = p.Dir
	for _, y := range feeders {
		if y != 0 {
			b.side[y] = p.Dir
		}
	}
}

// act lets a group of needles do what the cam makes them do, and gives those that took the yarn.
func (b *model) act(p *plan.Pass, needles machine.Set, action machine.Action, y piece.YarnNo) (took machine.Set) {
	if needles.Empty() {
		return needles
	}
	switch action {
	case machine.Knit:
		if y == 0 {
			b.fault("needle-no-yarn", p, needles, "these needles knit with no yarn, and their stitches fall.")
		}
		c := &b.f.Courses[max(p.Course, 1)-1]
		c.Knitted = c.Knitted.Or(needles)
		if !b.empty.Empty() || !b.moved.Empty() || !b.stacked.Empty() {
			b.shape(c, needles)
		}
		b.lay(needles, y)
		return needles
	case machine.Weave: // knits, and the weft that was laid shows on the purl side
		c := &b.f.Courses[max(p.Course, 1)-1]
		if c.WeftYarn != 0 {
			c.Weft = c.Weft.Or(needles.And(b.weftOn))
		}
		return b.act(p, needles, machine.Knit, y)
	case machine.Lay:
		if !p.Free {
			b.knitLaid(p, needles)
		}
	case machine.Tuck:
		b.tuck(p, needles, y)
		return needles
	}
	return machine.Set{}
}

// weft notes the yarn that was laid over the needles before a weaving pass.
func (b *model) weft(p *plan.Pass) {
	b.weftOn = machine.Set{}
	if p.Cams.Selected == machine.Lay || len(p.Lays) == 0 || p.Course == 0 {
		return
	}
	for _, l := range p.Lays {
		b.weftOn = b.weftOn.Or(machine.Range(l.From, l.To))
		b.f.Courses[p.Course-1].WeftYarn = l.Yarn
	}
}

// knitLaid knits every needle with the bobbin laid over it. The bobbins must lie in the
// order of the carriage's travel, side by side.
func (b *model) knitLaid(p *plan.Pass, needles machine.Set) {
	bare := needles
	for i, l := range p.Lays {
		on := needles.And(machine.Range(l.From, l.To))
		if i > 0 && (p.Dir == machine.Left) != (l.To < p.Lays[i-1].From) {
			b.fault("laid-out-of-order", p, on, "bobbin %s is laid after %s, against the carriage's way.", l.Bobbin, p.Lays[i-1].Bobbin)
		}
		bare = bare.Minus(on)
		b.act(p, on, machine.Knit, l.Yarn)
	}
	if !bare.Empty() {
		b.act(p, bare, machine.Knit, 0)
	}
}

// lay casts off every needle's stack through one new loop of y.
func (b *model) lay(needles machine.Set, y piece.YarnNo) {
	if over := needles.And(b.stacked); !over.Empty() {
		for n := range over.All() {
			b.above[n+machine.MaxBed/2] = nil
		}
		b.stacked = b.stacked.Minus(needles)
	}
	b.moved, b.empty = b.moved.Minus(needles), b.empty.Minus(needles)
	for w, bits := range needles {
		for i := 64 * w; bits != 0; i, bits = i+8, bits>>8 {
			if m := spread[bits&0xff]; m != 0 {
				at := b.base[i : i+8]
				binary.LittleEndian.PutUint64(at, binary.LittleEndian.Uint64(at)&^m|m&(0x0101010101010101*uint64(y)))
			}
		}
	}
}

// spread[b] has byte i full where bit i of b is set.
var spread = func() (t [256]uint64) {
	for b := range t {
		for i := range 8 {
			if b>>i&1 == 1 {
				t[b] |= 0xff << (8 * i)
			}
		}
	}
	return t
}()

// tuck adds a loop of y to each needle's stack.
func (b *model) tuck(p *plan.Pass, needles machine.Set, y piece.YarnNo) {
	if needles.Empty() || y == 0 {
		return
	}
	for n := range needles.All() {
		i := n + machine.MaxBed/2
		if b.f.Tucks++; b.base[i] == 0 {
			b.base[i] = y
			b.empty.Remove(n)
			continue
		}
		b.above[i] = append(b.above[i], loop{yarn: y, home: n})
		b.stacked.Add(n)
	}
	if p.Course > 0 {
		c := &b.f.Courses[p.Course-1]
		c.Tucked = c.Tucked.Or(needles)
	}
}

// endCourse notes what shows on every needle once its row is complete.
func (b *model) endCourse() {
	if b.course == 0 || b.ended == b.course {
		return
	}
	b.ended = b.course
	copy(b.f.Row(b.course), b.base[int(b.f.From)+machine.MaxBed/2:])
	c := &b.f.Courses[b.course-1]
	c.Slipped = b.work.Minus(c.Knitted).Minus(c.Tucked)
}

func (b *model) yarns(f [2]piece.YarnNo) string {
	words := ""
	for _, y := range f[:b.m.Feeders] {
		if words != "" {
			words += " and "
		}
		if y == 0 {
			words += "nothing"
		} else {
			words += b.plan.Piece.YarnName(y)
		}
	}
	return words
}
