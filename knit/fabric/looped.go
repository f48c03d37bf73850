package fabric

import (
	"cmp"
	"iter"
	"slices"

	"vindel/knit/finding"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// Recipes are knitted loop by loop: what their needles hold has a past that is compared with what
// the recipe means. While one is at work the stacks stand here; places, feeders, cams and reader are
// the carriage's own.
type looped struct {
	no    int         // of the recipe at work, from 1; 0: none
	beds  *loops.Beds // of it
	pass  int32       // its passes with yarn so far
	fresh [2]machine.Set
	ends  map[piece.YarnNo]*strand // by yarn, and for stitches by hand by yarn + 100
	ids   []shownIDs               // what the courses show, where loops are let go
	list  []taking                 // of the pass at work
	row   []machine.Needle         // likewise
	size  [2]knownSize
	after int                       // passes with yarn, for yarns that rest
	top   map[loops.ID]piece.YarnNo // of loops of two yarns on the second bed: which shows; 0: neither
}

// sizeNo is a stitch size's number in the log of the recipe at work.
func (w *looped) sizeNo(bed machine.BedNo, size string) uint16 {
	if k := &w.size[bed]; !k.known || k.size != size {
		*k = knownSize{true, size, w.beds.SizeNo(size)}
	}
	return w.size[bed].no
}

type knownSize struct {
	known bool
	size  string
	no    uint16
}

// strand is where a yarn was taken last.
type strand struct {
	bed    machine.BedNo
	needle machine.Needle
	pass   int // with yarn, counted by looped.after
}

// shownIDs is the loops that a course shows, by place.
type shownIDs struct {
	course int // of the main bed, from 1; 0: of the second
	second int // index of its row
	ids    []loops.ID
}

// enter begins to knit recipe no (0: none) loop by loop, from what the needles hold.
func (c *carriage) enter(no int) {
	w := &c.looped
	if w.no == no {
		return
	}
	var found []loops.Loop
	if w.no > 0 {
		found = w.beds.Standing()
		c.leave()
	} else {
		for bed := range c.beds {
			b := &c.beds[bed]
			for n := range b.work.All() {
				for _, l := range b.stack(n) {
					found = append(found, loops.Loop{Yarn: l.yarn, Bed: machine.BedNo(bed), Needle: int16(n)})
				}
			}
		}
	}
	fresh := w.fresh
	*w = looped{no: no, after: w.after + 2}
	if no == 0 {
		return
	}
	w.beds, w.fresh, w.ends = &loops.Beds{}, fresh, map[piece.YarnNo]*strand{}
	if run := c.plan.Recipes[no-1].Run; run != nil {
		w.beds.Expect(len(run.Beds.Loops))
	}
	for _, l := range found {
		w.beds.Lay(l.Bed, machine.Needle(l.Needle), l)
	}
	c.rec.Looped[no-1] = w.beds
}

// leave puts the loops back where the other sections find them.
func (c *carriage) leave() {
	w := &c.looped
	for bed := range c.beds {
		b, no := &c.beds[bed], machine.BedNo(bed)
		for n := range b.work.All() {
			var stack []loop
			for _, id := range w.beds.Stack(no, n) {
				l := &w.beds.Loops[id]
				stack = append(stack, loop{yarn: l.Yarn, home: machine.Needle(l.Needle), moved: w.beds.Moved(id)})
			}
			b.put(n, stack)
		}
		for n := machine.Needle(-machine.MaxBed / 2); n < machine.MaxBed/2; n++ {
			if !b.work.Has(n) && b.base[n+machine.MaxBed/2] != 0 {
				b.put(n, nil)
			}
		}
		b.empty, b.hold = b.empty.And(b.work), b.hold.And(b.work)
		if bed == int(machine.Main) && c.rec.now == 0 {
			copy(c.rec.first[:], b.base[:])
		}
	}
	c.ids()
}

// lie is how the second bed lies to the main one now.
func (c *carriage) lie() machine.Across {
	return machine.Across{Shift: c.rack - c.m.RackCentre, Pitch: c.pitch}
}

func (c *carriage) newLoop(bed machine.BedNo, kind loops.Kind, y, under piece.YarnNo) loops.Loop {
	return loops.Loop{Yarn: y, Under: under, Kind: kind, Size: c.looped.sizeNo(bed, c.sizes[bed]), Pass: c.looped.pass}
}

func (c *carriage) out(bed machine.BedNo, on machine.Set) {
	b := &c.beds[bed]
	b.work, b.hold, b.forward = b.work.Minus(on), b.hold.Minus(on), b.forward.Minus(on)
}

// let lets the loops of needles go.
func (c *carriage) let(bed machine.BedNo, on machine.Set) {
	w := &c.looped
	var gone []loops.ID
	for n := range on.All() {
		gone = append(gone, w.beds.Let(bed, n)...)
	}
	w.beds.Runs(gone, func(id loops.ID) {
		if c.rec.ran == nil {
			c.rec.ran = map[*loops.Beds]map[loops.ID]bool{}
		}
		if c.rec.ran[w.beds] == nil {
			c.rec.ran[w.beds] = map[loops.ID]bool{}
		}
		c.rec.ran[w.beds][id] = true
	})
}

// stepping yields needles in the order in which a way comes to them.
func stepping(on machine.Set, way machine.Side) iter.Seq[machine.Needle] {
	if way == machine.Left {
		return on.Back()
	}
	return on.All()
}

// draw draws a loop and notes what it makes.
func (c *carriage) draw(bed machine.BedNo, n machine.Needle, l loops.Loop, course *Course) {
	w := &c.looped
	held := w.beds.Len(bed, n)
	if held == 0 && bed == machine.Main && course != nil && !w.fresh[bed].Has(n) {
		course.shaping().Eyelets.Add(n)
		c.rec.Eyelets++
	}
	if held > 1 {
		for _, id := range w.beds.Stack(bed, n) {
			if w.beds.Moved(id) {
				c.rec.Doubled++
				if course != nil && bed == machine.Main {
					course.shaping().Doubled.Add(n)
				}
				break
			}
		}
	}
	w.beds.Draw(bed, n, l)
	w.fresh[bed].Remove(n)
}

// taking is one needle that takes yarn, or catches it, in a pass.
type taking struct {
	bed    machine.BedNo
	needle machine.Needle
	place  int // along the bed, in half needles
	knit   bool
	y, un  piece.YarnNo
	feeder uint8
}

// loopPass lets the needles of a recipe do what its cams, and what stands forward, make them do.
func (c *carriage) loopPass(i int, p *pass.Pass) {
	w := &c.looped
	alone := p.Carriage == machine.SecondCarriage
	if !p.Free && !alone {
		w.pass++
		w.after++
	}
	list := w.list[:0]
	defer func() { w.list = list }()
	var took, strands [2]machine.Set
	lie := c.lie()
	for bed := range c.beds {
		if alone && machine.BedNo(bed) == machine.Main {
			continue
		}
		b, no := &c.beds[bed], machine.BedNo(bed)
		if b.work.Empty() {
			continue
		}
		cams := c.cams(machine.BedNo(bed), p)
		forward := b.forward.And(b.work).Minus(b.hold)
		half := &p.Beds[bed]
		groups := [3]machine.Set{b.work.Minus(forward).Minus(b.hold), forward, b.hold}
		does := [3]machine.Action{cams.Unselected, cams.Selected, cams.Held}
		takes := [3]uint8{half.Takes.Unselected, half.Takes.Selected, half.Takes.Held}
		var knits machine.Set
		for g, on := range groups {
			if does[g] == machine.Knit {
				knits = knits.Or(on)
			}
			if does[g].Takes() {
				took[bed] = took[bed].Or(on)
			}
		}
		if alone {
			c.let(no, knits)
			continue
		}
		if p.Free || c.feeders[0] == 0 {
			if lost := knits.And(w.beds.Holds[bed]); !lost.Empty() {
				c.fault(finding.NeedleNoYarn, p, lost, "these needles knit with no yarn, and their loops fall.")
				c.let(no, lost)
			}
			took[bed] = machine.Set{}
			continue
		}
		if waits := groups[2]; does[2] == machine.Hold && !waits.Empty() && !took[bed].Empty() && !c.m.HeldPasses {
			strands[bed] = waits.And(machine.Range(took[bed].First(), took[bed].Last()))
		}
		w.row = took[bed].Or(strands[bed]).AppendTo(w.row[:0])
		for _, n := range w.row {
			t := taking{bed: no, needle: n, place: 2 * int(n), y: c.feeders[0], feeder: 1}
			if no == machine.Second {
				t.place = lie.Apart(n, 0)
			}
			if !strands[bed].Has(n) {
				g := 0
				for !groups[g].Has(n) {
					g++
				}
				t.knit, t.feeder = does[g] == machine.Knit, max(takes[g], 1)
				switch t.feeder {
				case 2:
					t.y = c.feeders[1]
				case 3:
					t.un = c.feeders[1]
				}
				if t.y == 0 {
					c.fault(finding.NeedleNoYarn, p, machine.SetOf(n), "it takes the yarn of an empty feeder.")
				}
			}
			list = append(list, t)
		}
	}
	switch {
	case p.Dir == machine.Left && !took[1].Empty():
		slices.SortStableFunc(list, func(a, b taking) int { return cmp.Or(b.place-a.place, int(a.bed)-int(b.bed)) })
	case p.Dir == machine.Left:
		slices.Reverse(list)
	case !took[1].Empty():
		slices.SortStableFunc(list, func(a, b taking) int { return cmp.Or(a.place-b.place, int(a.bed)-int(b.bed)) })
	}
	var course *Course
	if !took[0].Empty() {
		course = c.rec.course(p.Course, p, c.beds[machine.Main].work)
	}
	c.along(i, p, list)
	for k := range list {
		t := &list[k]
		c.loose[t.y], c.loose[t.un] = false, false
		if t.knit {
			c.draw(t.bed, t.needle, c.newLoop(t.bed, loops.Knit, t.y, t.un), course)
			continue
		}
		w.beds.Lay(t.bed, t.needle, c.newLoop(t.bed, loops.Strand, t.y, t.un))
		w.fresh[t.bed].Remove(t.needle)
		c.rec.Tucks++
	}
	if course != nil {
		for k := range list {
			if t := &list[k]; t.bed == machine.Main && t.knit {
				course.Knitted.Add(t.needle)
			} else if t.bed == machine.Main {
				course.Tucked.Add(t.needle)
			}
		}
		course.Strand = c.feeders[0]
		c.shows(p.Course, took[0])
	}
	if !took[1].Empty() {
		c.showsBehind(i, p, list, took[1])
	}
	for bed := range c.beds {
		if c.cams(machine.BedNo(bed), p).Held == machine.Knit && !(alone && bed == 0) {
			c.beds[bed].hold = machine.Set{}
		}
	}
}

// along follows each yarn over the needles that take it, and measures what floats (recipes 5, Floats).
func (c *carriage) along(i int, p *pass.Pass, list []taking) {
	w := &c.looped
	for f, y := range c.feeders {
		if y == 0 {
			continue
		}
		var last *taking
		for k := range list {
			t := &list[k]
			if t.feeder>>f&1 == 0 {
				continue
			}
			b := &c.beds[t.bed]
			if last == nil {
				if was := w.ends[y]; was != nil && was.pass == w.after-1 && was.bed == t.bed &&
					was.needle != t.needle && !c.anew[y] {
					between := machine.Range(min(was.needle, t.needle)+1, max(was.needle, t.needle)-1)
					c.floats(p, p.Source, y, t.bed, between.And(b.work), true)
				}
			} else if apart := t.needle - last.needle; last.bed == t.bed && apart != 1 && apart != -1 {
				if between := machine.Range(min(last.needle, t.needle)+1, max(last.needle,
					t.needle)-1); between != (machine.Set{}) {
					c.floats(p, p.Source, y, t.bed, between.And(b.work.Minus(b.hold)), false)
				}
			}
			last = t
		}
		if last != nil {
			if was := w.ends[y]; was != nil {
				*was = strand{last.bed, last.needle, w.after}
			} else {
				w.ends[y] = &strand{last.bed, last.needle, w.after}
			}
		}
		c.anew[y] = false
	}
}

// floats notes that a yarn runs past needles.
func (c *carriage) floats(p *pass.Pass, source int, y piece.YarnNo, bed machine.BedNo, past machine.Set, turn bool) {
	n := past.Len()
	if n == 0 {
		return
	}
	f := Float{Pass: max(p.N, 1) - 1, Yarn: y, First: past.First(), Last: past.Last(), Turn: turn, N: n,
		Source: source, Round: p.Round, Bed: bed}
	if n > c.rec.Longest.Stitches() {
		c.rec.Longest = f
	}
	if n > c.limit {
		c.rec.Loose = append(c.rec.Loose, f)
	}
}

// course begins a course of the main bed.
func (f *Fabric) course(no int, p *pass.Pass, work machine.Set) *Course {
	if no == 0 || no > len(f.Courses) {
		return nil
	}
	c := &f.Courses[no-1]
	c.Section, c.Row, c.AtWork, c.drawn = p.Section, p.Row(), work, true
	return c
}

// shows writes what the needles of the main bed hold after a course: the yarn of the oldest loop;
// nothing beyond its first and last taker.
func (c *carriage) shows(no int, took machine.Set) {
	if no == 0 || no > len(c.rec.Courses) || took.Empty() {
		return
	}
	w, row := &c.looped, c.rec.Row(no)
	var ids []loops.ID
	if c.drops() {
		ids = make([]loops.ID, len(row))
	}
	for n := range w.beds.Holds[machine.Main].And(machine.Range(took.First(), took.Last())).All() {
		x := int(n - c.rec.From)
		if x < 0 || x >= len(row) {
			continue
		}
		id := w.beds.Oldest(machine.Main, n)
		if row[x] = w.beds.Loops[id].Yarn; ids != nil {
			ids[x] = id + 1
		}
	}
	course := &c.rec.Courses[no-1]
	course.Slipped = w.beds.Holds[machine.Main].And(machine.Range(took.First(), took.Last())).Minus(course.Knitted)
	course.Knitted = course.Knitted.Or(took.Minus(course.Tucked)) // by hand too
	if ids != nil {
		w.ids = append(w.ids, shownIDs{course: no, ids: ids})
	}
}

// drops says that the recipe at work lets loops go.
func (c *carriage) drops() bool { return c.plan.Recipes[c.looped.no-1].Run.Totals.Drops }

// showsBehind notes what the second bed shows after a pass (index) in which it took yarn. Of a loop
// of two yarns it shows the one that the main needle to its left did not take in that pass.
func (c *carriage) showsBehind(i int, p *pass.Pass, list []taking, took machine.Set) {
	w, all := &c.looped, c.rec.second
	if all.Empty() {
		return
	}
	row := SecondRow{Pass: i, Row: make([]piece.YarnNo, int(all.Last()-all.First())+1), Knitted: took}
	var ids []loops.ID
	if c.drops() {
		ids = make([]loops.ID, len(row.Row))
	}
	main := map[machine.Needle]*taking{}
	for k := range list {
		if t := &list[k]; t.bed == machine.Main && t.knit {
			main[t.needle] = t
		}
	}
	if w.top == nil {
		w.top = map[loops.ID]piece.YarnNo{}
	}
	for n := range w.beds.Holds[machine.Second].And(all).All() {
		id := w.beds.Oldest(machine.Second, n)
		l := &w.beds.Loops[id]
		x := int(n - all.First())
		row.Row[x] = l.Yarn
		if ids != nil {
			ids[x] = id + 1
		}
		if l.Under == 0 {
			continue
		}
		if top, known := w.top[id]; known {
			if row.Row[x] = top; top == 0 {
				row.Row[x] = l.Yarn
				row.Mixed.Add(n)
			}
			continue
		}
		left := main[c.lie().Left(n)]
		switch {
		case left != nil && left.un == 0 && left.y == l.Yarn:
			row.Row[x] = l.Under
			w.top[id] = l.Under
		case left != nil && left.un == 0 && left.y == l.Under:
			w.top[id] = l.Yarn
		default:
			w.top[id] = 0
			row.Mixed.Add(n)
		}
	}
	c.rec.Second = append(c.rec.Second, row)
	if ids != nil {
		w.ids = append(w.ids, shownIDs{second: len(c.rec.Second), ids: ids})
	}
}

// ids marks the stitches that have run down in all the courses that show them.
func (c *carriage) ids() {
	w := &c.looped
	ran := c.rec.ran[w.beds]
	if len(ran) == 0 {
		return
	}
	for _, s := range w.ids {
		for x, id := range s.ids {
			if id == 0 || !ran[id-1] {
				continue
			}
			if s.course > 0 {
				c.rec.Courses[s.course-1].shaping().Ran.Add(c.rec.From + machine.Needle(x))
			} else {
				c.rec.Second[s.second-1].Ran.Add(c.rec.second.First() + machine.Needle(x))
			}
		}
	}
}
