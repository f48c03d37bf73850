package fabric

import (
	"encoding/binary"
	"iter"
	"maps"
	"slices"

	"vindel/knit/bed"
	"vindel/knit/finding"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
)

// Fabric is what came off the machine. Courses count from 1 at the bottom.
//
// A stitch is noted when it is knitted, in its wale and in the course that its pass is part
// of, so that it does not matter in which order passes come; what a wale shows in a course
// in which it was not knitted is the stitch below, which stands on.
//
//	course 3   A  .  A        cells        A  B  A
//	course 2   .  B  .   →                 A  B  A      . not knitted: what stood there
//	course 1   A  A  A                     A  A  A
type Fabric struct {
	Plan         *pass.Plan
	From         machine.Needle // the leftmost wale, as the knitter faces the bed
	W            int            // wales
	Courses      []Course
	cells        []piece.YarnNo // Courses × W, bottom first: the yarn of the stitch on show on the knit side
	first        [machine.MaxBed]piece.YarnNo
	Took         []Took // one a pass
	Behind       []Took // the same of the second bed; nil where it never works
	Second       []SecondRow
	second       machine.Set // needles of the second bed that work in any section
	Stands       []Stand     // before each pass; nil where nothing is transferred
	StandsBehind []Stand     // of the second bed, in recipes; nil where there is none
	// by recipe of the plan: the loops that its passes have made; nil: not reached
	Looped   []*loops.Beds
	Loose    []Float                           // of recipes: floats beyond the limit
	ran      map[*loops.Beds]map[loops.ID]bool // loops that have run down
	Faults   []finding.Finding
	Tucks    int // tuck loops
	Eyelets  int // yarn-overs: stitches knitted on an empty needle
	Doubled  int // stitches knitted through two or more loops of which one was transferred
	Longest  Float
	Floating []int // passes (indexes) with floats beyond the limit of the piece
	limit    int   // that limit

	Differences int // stitches that are not what the chart asked for
	Exempt      int // stitches left out of the comparison: seam and end needles
	First       string
	Wrong       Wrong

	other  bool         // this is the second bed's face, as SecondFace gives it
	now    int          // the course at work
	groups []pass.Group // that have knitted in the pass at work
	wraps  machine.Set  // made since the last course was begun
	again  map[int]bool // courses that the second part has begun

	// by course: what shows on needles to which a moved edge brought a stitch before it, and the same of the next one
	edged  map[int]map[machine.Needle]piece.YarnNo
	edge   map[machine.Needle]piece.YarnNo
	wefted machine.Set // needles over which a weft lies in this pass
}

// Course is one row of the fabric: where it comes from, and what its needles did.
type Course struct {
	Section, Row int // of the plan; row 0 is no chart row
	Part         int // of the row, from 1

	AtWork                   machine.Set
	Wrapped                  machine.Set // needles in hold round which the yarn was laid before it
	Exempt                   machine.Set // needles that the plan says do not follow the chart
	Knitted, Tucked, Slipped machine.Set
	Purled                   machine.Set // stitches whose purl bump shows on the knit side
	Weft                     machine.Set // stitches that the woven yarn covers on the purl side
	WeftYarn                 piece.YarnNo
	Strand                   piece.YarnNo // of a recipe: the yarn of its tuck loops; 0: the section's

	drawn bool   // its cells are complete: a recipe's
	shape *Shape // nil: every stitch is knitted through one loop of its own wale
}

// Drawn says that the course is a recipe's: its cells are complete, and it follows no chart.
func (c *Course) Drawn() bool { return c.drawn }

// Look adds to a key all that a picture of the course depends on, besides its yarns.
func (c *Course) Look(key []byte) []byte {
	sets := []machine.Set{c.AtWork, c.Knitted, c.Tucked, c.Slipped, c.Purled, c.Weft}
	if s := c.shape; s != nil {
		sets = append(sets, s.Eyelets, s.Doubled, s.Merged, s.LeanR, s.LeanL, s.OtherLeans, s.Ran)
	}
	for _, set := range sets {
		for _, w := range set {
			key = binary.LittleEndian.AppendUint64(key, w)
		}
	}
	return append(key, c.WeftYarn, c.Strand)
}

// Shape is the stitches of a course that are more than plain.
type Shape struct {
	Eyelets      machine.Set // knitted on an empty needle
	Doubled      machine.Set // knitted through a transferred loop and another
	Merged       machine.Set // of those: through loops of more than one wale, as a decrease is
	Deep         machine.Set // of those: through more than Deepest
	LeanR, LeanL machine.Set // of those: whose left, or right, loop on the bed shows on the knit side
	OtherLeans   machine.Set // leans that the plan says will differ from the chart's
	Ran          machine.Set // that a later drop let run down
}

// Shape is the course's stitches that are more than plain; it is not to be changed.
func (c *Course) Shape() *Shape {
	if c.shape == nil {
		return &plainShape
	}
	return c.shape
}

var plainShape Shape

func (c *Course) shaping() *Shape {
	if c.shape == nil {
		c.shape = &Shape{}
	}
	return c.shape
}

// Deepest is the most loops that a needle can knit off at once without trouble (rules 5.5).
const Deepest = 3

// Took is the needles that took the yarn of each feeder in one pass.
type Took [2]machine.Set

// SecondRow is what the second bed shows after a pass (index) in which it took yarn: by needle
// from its first, the yarn on top; 0 where a needle holds nothing.
type SecondRow struct {
	Pass    int
	Row     []piece.YarnNo
	Knitted machine.Set // that took the yarn
	Mixed   machine.Set // of two yarns, and neither is known to show
	Ran     machine.Set // that a later drop let run down
}

// Stand is how the bed stands before a pass, hands' work done: needles in work without a
// loop, and those with more than one.
type Stand struct{ Empty, Doubled machine.Set }

func newFabric(pl *pass.Plan) *Fabric {
	p := pl.Piece
	low, high := p.Ends()
	f := &Fabric{Plan: pl, From: low, W: int(high-low) + 1, limit: p.FloatLimit(), Took: make([]Took, len(pl.Passes))}
	if slices.ContainsFunc(pl.Placed, func(s *bed.Placed) bool { return !s.Second.Empty() }) {
		f.Behind = make([]Took, len(pl.Passes))
		for _, s := range pl.Placed {
			f.second = f.second.Or(s.Second)
		}
	}
	courses := 0
	byHand := func(list []pass.Step) {
		for j := range list {
			if st, ok := list[j].Step.(step.KnitByHand); ok {
				courses = max(courses, st.Course)
			}
		}
	}
	for i := range pl.Passes {
		courses = max(courses, pl.Passes[i].Course)
		if pl.Passes[i].Recipe > 0 {
			byHand(pl.Passes[i].Before)
		}
	}
	byHand(pl.After)
	f.Courses = make([]Course, courses)
	f.cells = make([]piece.YarnNo, courses*f.W)
	if slices.ContainsFunc(p.Sections, func(s piece.Section) bool { return s.Lace() }) {
		f.Stands = make([]Stand, len(pl.Passes))
	}
	if len(pl.Recipes) > 0 {
		f.Looped, f.Stands, f.StandsBehind = make([]*loops.Beds, len(pl.Recipes)), make([]Stand, len(pl.Passes)),
			make([]Stand, len(pl.Passes))
		for i := range pl.Passes {
			if pl.Passes[i].Section > 0 && pl.Passes[i].Second().Named {
				f.second = f.second.Or(p.Second.Places)
				break
			}
		}
	}
	return f
}

// Row is course c (from 1) of the knit side's yarns in bed order, left to right as
// the knitter faces the bed; 0 where a wale runs free.
func (f *Fabric) Row(c int) []piece.YarnNo { return f.cells[(c-1)*f.W : c*f.W] }

// Matches says that the fabric is what the charts asked for, to the last row.
func (f *Fabric) Matches() bool {
	return f.Differences == 0 && len(f.Faults) == 0 && f.Plan.Stopped.Row == 0
}

// Stitch is one stitch of a wale: from the course (from 1) in which it was knitted to the
// last in which it shows.
type Stitch struct {
	First, Last int
	Yarn        piece.YarnNo
}

// Tall is how many courses the stitch stands.
func (s Stitch) Tall() int { return s.Last - s.First + 1 }

// Wale yields the stitches of needle n from course c (from 1) to course d, bottom first.
// The first of them may have been knitted below c, and shows from there.
func (f *Fabric) Wale(n machine.Needle, c, d int) iter.Seq[Stitch] {
	return func(yield func(Stitch) bool) {
		x := int(n - f.From)
		for c <= d {
			s := Stitch{c, c, f.Row(c)[x]}
			for s.Last < d && !f.Courses[s.Last].Knitted.Has(n) && !f.ends(n, c, s.Last+1) {
				s.Last++
			}
			if !yield(s) {
				return
			}
			c = s.Last + 1
		}
	}
}

// ends says that the edge of a shaped piece passes over a wale between two courses (from 1): a stitch that is
// bound off stands no further.
func (f *Fabric) ends(n machine.Needle, c, d int) bool {
	return f.Plan.Piece.Shape != nil && f.Courses[c-1].AtWork.Has(n) != f.Courses[d-1].AtWork.Has(n)
}

// --- what the carriage tells ---------------------------------------------------

func (f *Fabric) castOn(on machine.Set, y piece.YarnNo) { paint(f.first[:], on, y) }

// begin notes the course that a pass is part of, and the weft laid over its needles.
func (f *Fabric) begin(p *pass.Pass, work machine.Set) {
	if p.Course == 0 {
		return
	}
	c := &f.Courses[p.Course-1]
	if p.Course != f.now {
		f.now = p.Course
		c.Section, c.Row = p.Section, p.Row()
		c.Wrapped, f.wraps = c.Wrapped.Or(f.wraps), machine.Set{}
		f.atEdge(p.Course)
		if leans := p.Lace.OtherLeans; !leans.Empty() {
			c.shaping().OtherLeans = c.shaping().OtherLeans.Or(leans)
		}
		if len(p.Works) > 0 {
			c.Part = p.Works[0].Part
		}
	}
	if p.ID.Part == piece.SecondPart.String() { // side by side with the first
		if _, begun := f.again[p.Course]; !begun {
			if both := c.AtWork.And(work); !both.Empty() {
				f.differ(c, both.First(), "is knitted in both parts")
			}
			if f.again == nil {
				f.again = map[int]bool{}
			}
			f.again[p.Course] = true
		}
		c.AtWork = c.AtWork.Or(work)
	} else {
		c.AtWork = work
	}
	f.wefted = machine.Set{}
	if !p.Main().Setting.Lays {
		for _, l := range p.Lays {
			f.wefted = f.wefted.Or(machine.Range(l.From, l.To))
			c.WeftYarn = l.Yarn
		}
	}
}

// shifted notes what shows on a needle to which a moved edge has brought a stitch.
func (f *Fabric) shifted(n machine.Needle, y piece.YarnNo) {
	if f.edge == nil {
		f.edge = map[machine.Needle]piece.YarnNo{}
	}
	f.edge[n] = y
}

// atEdge notes with a course what the edges moved before it have brought.
func (f *Fabric) atEdge(course int) {
	if f.edge == nil {
		return
	}
	if f.edged == nil {
		f.edged = map[int]map[machine.Needle]piece.YarnNo{}
	}
	if f.edged[course] == nil {
		f.edged[course] = f.edge
	} else {
		maps.Copy(f.edged[course], f.edge) // of the other part
	}
	f.edge = nil
}

// knitted notes the stitches of a group, which are about to be knitted.
func (f *Fabric) knitted(p *pass.Pass, b *needles, g pass.Group) {
	if p.Course == 0 {
		return
	}
	c := &f.Courses[p.Course-1]
	c.Knitted = c.Knitted.Or(g.Needles)
	if g.Action == machine.Weave {
		c.Weft = c.Weft.Or(g.Needles.And(f.wefted))
	}
	if !b.empty.Empty() || !b.moved.Empty() || !b.stacked.Empty() {
		f.shaped(c, b, g.Needles)
	}
	f.groups = append(f.groups, g)
}

// settle writes the stitches of a pass into the cells of its course. Where every needle has
// knitted, the course is what the bed shows, and is taken from it in one go.
func (f *Fabric) settle(p *pass.Pass, b *needles) {
	var knitted machine.Set
	for i := range f.groups {
		knitted = knitted.Or(f.groups[i].Needles)
	}
	if knitted == b.work && p.ID.Part == "" {
		copy(f.Row(p.Course), b.base[machine.MaxBed/2+int(f.From):])
	} else {
		for i := range f.groups {
			f.stitches(p.Course, f.groups[i].Needles, f.groups[i].Yarn)
		}
	}
	f.groups = f.groups[:0]
}

// stitches writes stitches into the cells of a course, eight needles at a time where they
// all lie within the wales.
func (f *Fabric) stitches(course int, on machine.Set, y piece.YarnNo) {
	row := f.Row(course)
	for w, bits := range on {
		for i := 64*w - machine.MaxBed/2 - int(f.From); bits != 0; i, bits = i+8, bits>>8 {
			m := spread[bits&0xff]
			switch {
			case m == 0:
			case i >= 0 && i+8 <= len(row):
				mask(row[i:i+8], m, y)
			default:
				for k := range 8 {
					if bits>>k&1 == 1 && i+k >= 0 && i+k < len(row) {
						row[i+k] = y
					}
				}
			}
		}
	}
}

// shaped notes the stitches about to be knitted that are more than plain: yarn-overs on
// empty needles, and stacks that hold a transferred loop, with the loop that shows on the
// knit side of each.
func (f *Fabric) shaped(c *Course, b *needles, on machine.Set) {
	if over := on.And(b.empty); !over.Empty() {
		c.shaping().Eyelets = c.shaping().Eyelets.Or(over)
		f.Eyelets += over.Len()
	}
	for n := range on.And(b.stacked).All() {
		loops := b.stack(n)
		if !slices.ContainsFunc(loops, func(l loop) bool { return l.moved }) {
			continue
		}
		shape := c.shaping()
		if !shape.Doubled.Has(n) {
			f.Doubled++
		}
		shape.Doubled.Add(n)
		if len(loops) > Deepest {
			shape.Deep.Add(n)
		}
		lo, hi := loops[0].home, loops[0].home
		for _, l := range loops[1:] {
			lo, hi = min(lo, l.home), max(hi, l.home)
		}
		if lo == hi {
			continue // a stitch that moved with the tuck loops on it
		}
		shape.Merged.Add(n)
		switch loops[0].home { // the oldest shows on the knit side, and leans towards the others
		case lo:
			shape.LeanR.Add(n)
		case hi:
			shape.LeanL.Add(n)
		}
	}
}

func (f *Fabric) tucked(p *pass.Pass, on machine.Set) {
	f.Tucks += on.Len()
	if p.Course > 0 {
		c := &f.Courses[p.Course-1]
		c.Tucked = c.Tucked.Or(on)
	}
}

// purled notes stitches of the course at work that are purl.
func (f *Fabric) purled(on machine.Set) {
	if f.now > 0 {
		c := &f.Courses[f.now-1]
		c.Purled = c.Purled.Or(on)
	}
}

// behind notes needles of the second bed that knit in a pass (index).
func (f *Fabric) behind(i int, g pass.Group, p *pass.Pass) {
	if f.Behind == nil || g.Yarn == 0 {
		return
	}
	for feeder := range f.Behind[i] {
		if y := p.Yarn(feeder + 1); y != 0 && (y == g.Yarn || y == g.Under) {
			f.Behind[i][feeder] = f.Behind[i][feeder].Or(g.Needles)
		}
	}
}

// showBehind notes how the second bed looks after a pass (index) in which it took yarn.
func (f *Fabric) showBehind(i int, b *needles) {
	if f.Behind == nil || f.Behind[i] == (Took{}) {
		return
	}
	all := f.second
	row := make([]piece.YarnNo, int(all.Last()-all.First())+1)
	copy(row, b.base[machine.MaxBed/2+int(all.First()):])
	f.Second = append(f.Second, SecondRow{Pass: i, Row: row, Knitted: f.Behind[i][0].Or(f.Behind[i][1])})
}

// passed notes what is known once the carriage is across.
func (f *Fabric) passed(i int, p *pass.Pass, b *needles) {
	f.measure(i)
	if p.Course > 0 {
		f.settle(p, b)
		c := &f.Courses[p.Course-1]
		c.Exempt = c.Exempt.Or(p.Exempt)
	}
}

// finish notes which stitches stood in each course, and what they show there.
func (f *Fabric) finish() {
	below := f.first[machine.MaxBed/2+int(f.From):][:f.W]
	for i := range f.Courses {
		c, row := &f.Courses[i], f.Row(i+1)
		if c.drawn {
			below = row
			continue
		}
		if stood := c.AtWork.Minus(c.Knitted); !stood.Empty() {
			c.Slipped = stood.Minus(c.Tucked)
			for n := range stood.All() {
				if row[n-f.From] = below[n-f.From]; f.edged[i+1][n] != 0 {
					row[n-f.From] = f.edged[i+1][n] // it stood on another needle
				}
			}
		}
		below = row
	}
}
