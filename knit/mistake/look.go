package mistake

import (
	"slices"

	"vindel/knit/fabric"
	"vindel/knit/loops"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Seen is what can be seen of a fabric: courses × needles, the bottom course first, the needles as they lie
// on the bed from From; of two-bed fabric both faces in one.
type Seen struct {
	From machine.Needle
	Rows [][]Stitch
}

// Stitch is what one stitch looks like: the yarn of either face, and what it is besides; the zero Stitch is
// none.
type Stitch struct {
	Yarn   piece.YarnNo
	Is     Trait
	Behind uint32 // of the second bed, in all passes of the course
}

// Trait is what a stitch is besides its yarn, a bit each.
type Trait uint16

// The traits.
const (
	There Trait = 1 << iota // the needle is at work
	Slipped
	Tucked
	Purl
	Covered // by a weft
	Eyelet
	Leaning // right, or
	LeaningLeft
	Doubled
	Ran
)

// See looks at a fabric.
func See(f *fabric.Fabric) *Seen {
	low, high := f.From, f.From+machine.Needle(f.W-1)
	second := f.SecondFace()
	if second != nil {
		low, high = min(low, second.From), max(high, second.From+machine.Needle(second.W-1))
	}
	s := &Seen{From: low, Rows: make([][]Stitch, len(f.Courses))}
	w := int(high-low) + 1
	cells := make([]Stitch, w*len(f.Courses))
	for i := range f.Courses {
		c, sh := &f.Courses[i], f.Courses[i].Shape()
		row := cells[i*w : (i+1)*w]
		s.Rows[i] = row
		for x, y := range f.Row(i + 1) {
			row[int(f.From-low)+x].Yarn = y
		}
		for _, t := range []struct {
			on machine.Set
			is Trait
		}{{c.AtWork, There}, {c.Slipped, Slipped}, {c.Tucked.Or(c.Wrapped), Tucked}, {c.Purled, Purl},
			{c.Weft, Covered}, {sh.Eyelets, Eyelet},
			{sh.LeanR, Leaning}, {sh.LeanL, LeaningLeft}, {sh.Doubled, Doubled}, {sh.Ran, Ran}} {
			for n := range t.on.All() {
				if x := int(n - low); x >= 0 && x < w {
					row[x].Is |= t.is
				}
			}
		}
	}
	if second != nil {
		s.behind(f)
	}
	return s
}

// behind notes what the second bed has done in each course: its loops stand where they face the main bed's.
func (s *Seen) behind(f *fabric.Fabric) {
	note := func(course int, n machine.Needle, code uint32) {
		if x := int(n - s.From); course > 0 && course <= len(s.Rows) && x >= 0 && x < len(s.Rows[course-1]) {
			at := &s.Rows[course-1][x].Behind
			*at = *at*31 + code
		}
	}
	course := make([]int, len(f.Plan.Passes)) // that each pass belongs to
	for i := range f.Plan.Passes {
		if course[i] = f.Plan.Passes[i].Course; course[i] == 0 && i > 0 {
			course[i] = course[i-1]
		}
	}
	low := f.SecondFace().From
	for i := range f.Second {
		row := &f.Second[i]
		p := &f.Plan.Passes[row.Pass]
		if p.Recipe > 0 {
			continue // told loop by loop
		}
		for x, y := range row.Row {
			n := low + machine.Needle(x)
			code := uint32(y) << 2
			if row.Ran.Has(n) {
				code++
			}
			if row.Mixed.Has(n) {
				code += 2
			}
			note(course[row.Pass], n+machine.Needle(p.Shift), code)
		}
	}
	for no, log := range f.Looped {
		if log == nil {
			continue
		}
		var made []int // indexes of its passes with yarn
		for i := range f.Plan.Passes {
			if p := &f.Plan.Passes[i]; p.Recipe == no+1 && !p.Free && p.Carriage != machine.SecondCarriage {
				made = append(made, i)
			}
		}
		gone := make([]bool, len(log.Loops))
		for _, id := range log.Gone {
			gone[id] = true
		}
		for id := range log.Loops {
			l := &log.Loops[id]
			if l.Bed != machine.Second || l.Pass < 1 || int(l.Pass) > len(made) {
				continue
			}
			i := made[l.Pass-1]
			code := uint32(l.Yarn)<<3 | 1
			if gone[id] {
				code |= 2
			}
			if len(log.Through(loops.ID(id))) > 0 {
				code |= 4
			}
			note(course[i], machine.Needle(l.Needle)+machine.Needle(f.Plan.Passes[i].Shift), code)
		}
	}
}

// Sign is how a fabric looks otherwise than it should.
type Sign string

// The signs, the most telling first.
const (
	Ladder    Sign = "ladder"    // a stitch has run, or a needle holds none
	Hole      Sign = "hole"      // a hole that should not be
	Lacks     Sign = "lacks"     // a hole, a tuck or a lean that should be is not there
	Exchanged Sign = "exchanged" // colours have changed places
	Mirrored  Sign = "mirrored"  // left to right
	Turned    Sign = "turned"    // upside down
	Sideways  Sign = "sideways"  // shifted by a stitch or two
	Twice     Sign = "twice"     // a row stands twice, what is above comes late
	Missing   Sign = "missing"   // a row is missing, what is above comes early
	Plain     Sign = "plain"     // without its pattern
	Single    Sign = "single"    // a single stitch is otherwise
	Row       Sign = "row"       // a row or two are otherwise
	FromHere  Sign = "from-here" // from here up all is otherwise
)

// Signs lists them in that order.
var Signs = []Sign{Ladder, Hole, Lacks, Exchanged, Mirrored, Turned, Sideways, Twice, Missing, Plain, Single, Row,
	FromHere}

// Words is how a sign is said.
func (s Sign) Words() string {
	return map[Sign]string{Ladder: "a ladder, or a stitch that fell", Hole: "a hole that should not be",
		Lacks: "a hole, tuck or lean is not there", Exchanged: "colours exchanged",
		Mirrored: "mirrored left to right", Turned: "upside down",
		Sideways: "shifted sideways", Twice: "a row stands twice", Missing: "a row is missing",
		Plain:  "the pattern is not there",
		Single: "a single stitch is otherwise", Row: "a row or two are otherwise",
		FromHere: "from here up all wrong"}[s]
}

// Difference is where and how a fabric looks otherwise than it should.
type Difference struct {
	First, Last int // courses, from 1; 0: nothing differs in those that both have
	Left, Right machine.Needle
	Top         int // courses that were compared
	Cells       int
	Signs       []Sign // that are true of it, the most telling first
	More        int    // courses that the made fabric has beyond the planned one; negative: that it lacks

	rows []int // courses from 1 that differ
}

// None says that nothing looks otherwise.
func (d *Difference) None() bool { return d.Cells == 0 && d.More == 0 }

// Compare looks where the made fabric is otherwise than the planned one, both from the bottom.
func Compare(planned, made *Seen) *Difference {
	d := &Difference{Top: min(len(planned.Rows), len(made.Rows)), More: len(made.Rows) - len(planned.Rows)}
	var is [8]int
	for i := range d.Top {
		want, got := planned.Rows[i], made.Rows[i]
		if slices.Equal(want, got) {
			continue
		}
		d.rows = append(d.rows, i+1)
		if d.Last = i + 1; d.First == 0 {
			d.First = i + 1
			d.Left, d.Right = machine.MaxBed, -machine.MaxBed
		}
		for x := range want {
			a, b := want[x], got[x]
			if a == b {
				continue
			}
			n := planned.From + machine.Needle(x)
			d.Cells++
			d.Left, d.Right = min(d.Left, n), max(d.Right, n)
			count(&is, a, b)
		}
	}
	if d.Cells == 0 {
		if d.More > 0 {
			d.Signs = []Sign{Twice}
		} else if d.More < 0 {
			d.Signs = []Sign{Missing}
		}
		return d
	}
	d.signs(planned, made, &is)
	return d
}

const (
	fell = iota
	hole
	lack
	lost
)

// count notes what one stitch that differs has of the signs.
func count(is *[8]int, want, got Stitch) {
	const pattern = Slipped | Tucked | Purl | Eyelet | Leaning | LeaningLeft | Covered
	if got.Is&Ran != 0 && want.Is&Ran == 0 || got.Yarn == 0 && want.Yarn != 0 {
		is[fell]++
	}
	if got.Is&Eyelet != 0 && want.Is&Eyelet == 0 {
		is[hole]++
	}
	if want.Is&^got.Is&(Eyelet|Tucked|Leaning|LeaningLeft|Doubled|Ran|Covered|Slipped) != 0 {
		is[lack]++
	}
	if want.Is&pattern != 0 && got.Is&pattern == 0 {
		is[lost]++
	}
}

// signs finds out what is true of the difference.
func (d *Difference) signs(planned, made *Seen, is *[8]int) {
	say := func(s Sign, yes bool) {
		if yes {
			d.Signs = append(d.Signs, s)
		}
	}
	most := func(n int) bool { return n*10 >= d.Cells*7 }
	say(Ladder, is[fell] > 0)
	say(Hole, is[hole] > 0)
	say(Lacks, is[lack] > 0)
	say(Exchanged, d.alike(func(i int) bool { return exchanges(planned.Rows[i], made.Rows[i]) }))
	say(Mirrored, d.alike(func(i int) bool { return mirrored(planned.Rows[i], made.Rows[i]) }))
	say(Turned, d.turned(planned, made))
	side := false
	for _, by := range []int{1, -1, 2, -2} {
		side = side || d.alike(func(i int) bool { return shifted(planned.Rows[i], made.Rows[i], by) })
	}
	say(Sideways, side)
	late := func(by int) func(i int) bool {
		return func(i int) bool {
			return i >= by && i-by < len(planned.Rows) && slices.Equal(planned.Rows[i-by], made.Rows[i])
		}
	}
	early := func(by int) func(i int) bool {
		return func(i int) bool { return i+by < len(planned.Rows) && slices.Equal(planned.Rows[i+by], made.Rows[i]) }
	}
	say(Twice, d.alike(late(1)) || d.alike(late(2)))
	say(Missing, d.alike(early(1)) || d.alike(early(2)))
	say(Plain, most(is[lost]) || d.alike(func(i int) bool {
		return uniform(made.Rows[i]) &&
			!uniform(planned.Rows[i])
	}))
	wide, tall := int(d.Right-d.Left)+1, d.Last-d.First+1
	say(Single, wide <= 3 && tall <= 4)
	say(Row, tall <= 3 && wide > 3)
	say(FromHere, len(d.rows) >= 5 && (d.Top-d.First+1)*6 <= len(d.rows)*10 && d.Last >= d.Top-4)
	if len(d.Signs) == 0 {
		d.Signs = []Sign{FromHere}
		if tall <= 3 {
			d.Signs = []Sign{Row}
		}
	}
}

// mostAsked is how many of the rows that differ are looked at for a sign, evenly.
const mostAsked = 20

// alike says that most of the rows that differ are as a test says.
func (d *Difference) alike(is func(i int) bool) bool {
	n, every := 0, max(1, len(d.rows)/mostAsked)
	asked := 0
	for i := 0; i < len(d.rows); i += every {
		if asked++; is(d.rows[i] - 1) {
			n++
		}
	}
	return n*10 >= asked*7
}

// work is the part of a row between its outermost stitches.
func work(row []Stitch) (a, b int) {
	for a < len(row) && row[a].Yarn == 0 {
		a++
	}
	for b = len(row); b > a && row[b-1].Yarn == 0; b-- {
	}
	return a, b
}

// exchanges says that nearly every stitch of a row has another colour than it should.
func exchanges(want, got []Stitch) bool {
	a, b := work(want)
	n := 0
	for x := a; x < b; x++ {
		if got[x].Yarn != 0 && got[x].Yarn != want[x].Yarn {
			n++
		}
	}
	return n > 2 && n*10 >= (b-a)*8
}

// mirrored says that a row is the other's mirror, wherever the glass stands; a row that is its own is not.
func mirrored(want, got []Stitch) bool { return mirror(want, got) && !mirror(want, want) }

func mirror(want, got []Stitch) bool {
	const way = Leaning | LeaningLeft
	a, b := work(want)
	for sum := a + b - 1 - cardWide; sum <= a+b-1+cardWide; sum++ {
		from, to := max(a, sum-b+1), min(b, sum-a+1)
		if (to-from)*2 < b-a {
			continue
		}
		miss := 0
		for x := from; x < to && miss*20 <= to-from; x++ {
			if w, g := want[sum-x], got[x]; w.Yarn != g.Yarn || w.Is&^way != g.Is&^way {
				miss++
			}
		}
		if miss*20 <= to-from {
			return true
		}
	}
	return false
}

// cardWide is how far a glass is looked for to either side of the middle: a card's columns.
const cardWide = 24

// turned says that what differs is the planned fabric upside down, as a card is that is read from its other
// end.
func (d *Difference) turned(planned, made *Seen) bool {
	if d.Last-d.First < 4 {
		return false
	}
	for sum := d.First + d.Last - 8; sum <= d.First+d.Last+8; sum++ {
		if d.alike(func(i int) bool {
			j := sum - 2 - i
			return j >= 0 && j < len(planned.Rows) && mirror(planned.Rows[j], made.Rows[i])
		}) {
			return true
		}
	}
	return false
}

func shifted(want, got []Stitch, by int) bool {
	a, b := work(want)
	same, of := 0, 0
	for x := a; x < b; x++ {
		if x-by < a || x-by >= b {
			continue
		}
		of++
		if want[x-by] == got[x] {
			same++
		}
	}
	return of > 0 && same*10 >= of*9
}

func uniform(row []Stitch) bool {
	a, b := work(row)
	for x := a + 1; x < b; x++ {
		if row[x].Yarn != row[a].Yarn || row[x].Is != row[a].Is {
			return false
		}
	}
	return true
}
