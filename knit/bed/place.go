package bed

import (
	"slices"
	"sync"

	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Placed is a section placed on the needles. Yarn and Stitch are Cycle rows × W
// needles, row 1 first, from the needle From (the leftmost in work) rightwards, as
// the knitter faces the bed; Stitch is nil where every stitch is plain knit.
type Placed struct {
	Section *piece.Section
	No      int // of the section, from 1
	From    machine.Needle
	W       int
	Rows    int // to be knitted
	Height  int // of the tallest area
	Whole   int // rows after which the placing begins again
	Cycle   int // of those, the rows that are knitted: at most Rows
	Yarn    []piece.YarnNo
	Stitch  []chart.Stitch
	Covered machine.Set // needles that lie in an area
	Wide    []int       // by area: its width as it lies on the bed
	Second  machine.Set // needles of the second bed, where the section works it
	work    machine.Set

	// Of a shaped piece: which part it is of, its rows From to To, how the needles stand in each row, and the
	// whole section, of which a part is a view.
	Part     piece.Part
	FromRow  int
	ToRow    int
	standing []Standing
	whole    *Placed
	After    int  // rows of its charts that come before its first
	Starts   bool // its first row follows neither a row of the section nor one of its part

	// Of the lines of a lace carriage: by row to be knitted (from 1, at index 0), and after the last.
	LaceRows []LaceRow
	LaceRest LaceRow

	// Of lace: Cut is the needles that knit plain in some row because their repeat is
	// cut, and Refused what stops the plan at a row (from 1), by row of the cycle.
	Cut     machine.Set
	Refused map[int]*finding.Finding
	once    sync.Once
	drawn   [256]bool // by yarn: it is drawn in a placed part of a chart
	colours struct {
		once sync.Once
		list []piece.YarnNo
	}
	waiting []machine.Set // by row: see Waiting
	padded  []chart.Grid  // the areas before their padding closed up; empty where there is none
}

// YarnRow is the yarns of section row r (from 1), left to right.
func (s *Placed) YarnRow(r int) []piece.YarnNo {
	y := (r - 1) % s.Cycle
	return s.Yarn[y*s.W : (y+1)*s.W]
}

// Again is the rows after which all that is asked of the needles comes again: at most Whole, and fewer where the
// drawings are their own repeats.
func (s *Placed) Again() int {
	if s.Cycle < s.Whole {
		return s.Whole
	}
	for n := 1; n < s.Whole; n++ {
		again := s.Whole%n == 0
		for r := n + 1; again && r <= s.Whole; r++ {
			again = slices.Equal(s.YarnRow(r), s.YarnRow(r-n)) && slices.Equal(s.StitchRow(r), s.StitchRow(r-n)) &&
				s.Section.RowYarn(r) == s.Section.RowYarn(r-n)
		}
		if again {
			return n
		}
	}
	return s.Whole
}

// InWork is the needles at work in section row r (from 1), without those that wait in hold.
func (s *Placed) InWork(r int) machine.Set {
	if s.standing == nil {
		return s.work
	}
	return s.rowStanding(r).Work
}

// Wants is the needles that section row r asks to make the given stitch.
func (s *Placed) Wants(r int, stitch chart.Stitch) (set machine.Set) {
	for x, st := range s.StitchRow(r) {
		if st == stitch {
			set.Add(s.From + machine.Needle(x))
		}
	}
	return set
}

// Slips is the needles that a row of slipped colour work must pass over: those marked
// as slipped, and those that are to show another yarn than the row's.
func (s *Placed) Slips(r int) (set machine.Set) {
	own := s.Section.RowYarn(r)
	for x, y := range s.YarnRow(r) {
		if y != own {
			set.Add(s.From + machine.Needle(x))
		}
	}
	return set.Or(s.Wants(r, chart.Slip))
}

// StitchRow is the stitches of section row r (from 1), or nil where all are plain knit.
func (s *Placed) StitchRow(r int) []chart.Stitch {
	if s.Stitch == nil {
		return nil
	}
	y := (r - 1) % s.Cycle
	return s.Stitch[y*s.W : (y+1)*s.W]
}

// Outside is what stands before the first section of a piece, or after the last: section 0, whose
// passes work no row.
func Outside(p *piece.Piece, sec *piece.Section) *Placed {
	low, high := p.Ends()
	return &Placed{Section: sec, From: low, W: int(high-low) + 1, Rows: 1, Height: 1, Whole: 1, Cycle: 1,
		work:    p.Work(),
		Covered: p.Work(), FromRow: 1, ToRow: 1}
}

// Place lays a section of the piece (from 1) on its needles and reports what is placed badly.
// A section without areas is all of its own yarn.
func Place(p *piece.Piece, no int) (*Placed, []finding.Finding) {
	sec := p.Section(no)
	low, high := p.Ends()
	s := &Placed{Section: sec, No: no, From: low, W: int(high-low) + 1, Rows: sec.Rows,
		Height: 1, Whole: 1}
	s.work, s.Second = p.Beds(sec)
	grids := make([]chart.Grid, len(sec.Areas))
	heights := make([]int, len(sec.Areas))
	s.Wide = make([]int, len(sec.Areas))
	for k := range sec.Areas {
		a := &sec.Areas[k]
		grids[k] = Lie(a)
		s.Wide[k] = grids[k].W
		_, heights[k] = a.Size()
		s.Height = max(s.Height, heights[k])
		s.Covered = s.Covered.Or(machine.Range(a.From, a.To))
	}
	s.Covered = s.Covered.And(s.work)
	if s.Rows == 0 {
		s.Rows = s.Height
	}
	for k, h := range heights {
		if sec.Areas[k].Blank {
			h = s.Height
		}
		s.Whole = lcm(s.Whole, h, piece.MaxRows)
	}
	if n := len(sec.Stripes); n > 0 {
		s.Whole = lcm(s.Whole, n, piece.MaxRows)
	}
	s.Cycle = min(s.Whole, s.Rows)
	s.FromRow, s.ToRow = 1, s.Rows
	if p.Shape != nil {
		s.standing = make([]Standing, s.Rows)
		if sec.Lace() { // where a group is cut hangs on the row
			s.Whole, s.Cycle = s.Rows, s.Rows
		}
	}
	s.fill(p, grids)
	found := s.findings(p, grids)
	if sec.IsLines() {
		return s, append(found, s.readLines(p)...)
	}
	if sec.Lace() && p.Shape == nil {
		found = append(found, s.lace(grids)...)
	}
	return s, found
}

// lcm is the least common multiple of a and b, or most if that is less.
func lcm(a, b, most int) int {
	x, y := a, b
	for y > 0 {
		x, y = y, x%y
	}
	return min(a/x*b, most)
}

// Lie is the area's rectangle of keys as it lies on the bed, after its transforms: a drawing
// for the face that looks away from the knitter is mirrored once more (rules 1, What the
// knitter sees).
func Lie(a *piece.Area) chart.Grid {
	g := cut(a, a.Chart.Grid)
	if slices.Contains(a.Transform, "invert") {
		g = chart.Invert(g)
	}
	if a.Lace && !a.Chart.IsLines() {
		g, _ = closeUp(g, a.Chart)
	}
	return g
}

// cut takes the area's rectangle out of anything that is like its chart, and turns it as the area says.
func cut[T comparable](a *piece.Area, m chart.Mat[T]) chart.Mat[T] {
	if a.Columns != [2]int{1, m.W} || a.Rows != [2]int{1, m.H} {
		m = m.Cut(a.Columns[0], a.Columns[1], a.Rows[0], a.Rows[1])
	}
	m = m.Transform(a.Transform)
	if a.Away {
		m = m.Mirror()
	}
	return m
}

// Dropped is the row (from 1) of a drawing h rows tall that its repeat k shows in row r
// (from 1), where each repeat stands drop rows above its left neighbour.
func Dropped(h, drop, k, r int) int { return mod(r-1-k*drop, h) + 1 }

// at is the row of area a's grid, from 0, that repeat k shows in section row r (from
// 1), or -1 where the area is blank there.
func (s *Placed) at(a *piece.Area, h, k, r int) int {
	r += s.Section.Shift()
	if !a.Blank {
		return Dropped(h, a.Drop, k, r) - 1
	}
	y := r - 1 - k*a.Drop
	if y = mod(y, s.Height); y < h {
		return y
	}
	return -1
}

func mod(a, n int) int { return (a%n + n) % n }

// fill covers the rows with the areas, one on another. Where there is none, the section's yarn knits.
func (s *Placed) fill(p *piece.Piece, grids []chart.Grid) {
	s.Yarn = make([]piece.YarnNo, s.Cycle*s.W)
	for r := 1; r <= s.Cycle; r++ {
		row, y := s.YarnRow(r), s.Section.RowYarn(r)
		if r > 1 && y == s.Section.RowYarn(r-1) {
			copy(row, s.Yarn[(r-2)*s.W:(r-1)*s.W])
			continue
		}
		for x := range row {
			row[x] = y
		}
	}
	for k := range grids {
		if !s.Section.Areas[k].Lace {
			s.cover(p, &s.Section.Areas[k], grids[k])
		}
	}
}

// cover puts one area on the rows, over what is there.
func (s *Placed) cover(p *piece.Piece, a *piece.Area, g chart.Grid) {
	var yarns [256]piece.YarnNo // 0: the section's own
	var stitches [256]chart.Stitch
	plain, own := true, false // every cell knits; some cell takes the row's own yarn
	for k, m := range a.Chart.Means {
		for i, y := range p.Yarns {
			if y.ID == m.Yarn {
				yarns[k] = piece.YarnNo(i + 1)
			}
		}
		stitches[k] = m.Stitch
		plain, own = plain && stitches[k] == chart.Knit, own || yarns[k] == 0
	}
	if !plain && s.Stitch == nil {
		s.Stitch = make([]chart.Stitch, len(s.Yarn))
	}
	from, to := max(int(a.From-s.From), 0), min(int(a.To-s.From), s.W-1)
	phase := int(s.From - a.First)
	if s.Section.Technique.ColourLines {
		lies := make([]bool, g.W) // by column: on a needle at work
		for x := from; x <= to; x++ {
			c := mod(x+phase, g.W)
			lies[c] = lies[c] || s.work.Has(s.From+machine.Needle(x))
		}
		for y := range g.H {
			for c, key := range g.Row(y) {
				s.drawn[yarns[key]] = s.drawn[yarns[key]] || lies[c]
			}
		}
	}
	for r := 1; r <= s.Cycle; r++ {
		row, stitch, yarn := s.YarnRow(r), s.StitchRow(r), s.Section.RowYarn(r)
		for x := from; x <= to; {
			// One repeat at a time: columns c to the end of the repeat or of the area.
			c := mod(x+phase, g.W)
			n := min(g.W-c, to-x+1)
			y := s.at(a, g.H, (x+phase-c)/g.W, r)
			switch {
			case y < 0:
			case stitch == nil && !own:
				to := row[x : x+n]
				for i, key := range g.Row(y)[c : c+n] {
					to[i] = yarns[key]
				}
			default:
				for i, key := range g.Row(y)[c : c+n] {
					if row[x+i] = yarns[key]; row[x+i] == 0 && stitches[key] != chart.Slip &&
						stitches[key] != chart.Tuck {
						row[x+i] = yarn // a slipped or tucked stitch shows what it showed before
					}
					if stitch != nil {
						stitch[x+i] = stitches[key]
					}
				}
			}
			x += n
		}
	}
}

// Source is the chart cell that needle n shows in section row r (from 1), from the
// topmost area there: column and row count from 1 at the bottom left of the chart.
// Where no area lies, chart is "".
func (s *Placed) Source(n machine.Needle, r int) (name string, column, row int) {
	for k := len(s.Section.Areas) - 1; k >= 0; k-- {
		a := &s.Section.Areas[k]
		if n < a.From || n > a.To {
			continue
		}
		c, repeat := s.under(k, n)
		if _, h := a.Size(); s.at(a, h, repeat, r) >= 0 {
			column, row = s.drawnAt(k, c, s.at(a, h, repeat, r))
			return a.Chart.Name, column, row
		}
	}
	return "", 0, 0
}

// under is the column (from 0, as it lies on the bed) of area k (from 0) that lies on needle
// n, and in which of its repeats.
func (s *Placed) under(k int, n machine.Needle) (c, repeat int) {
	a := &s.Section.Areas[k]
	w, _ := a.Size()
	if s.padded != nil && s.padded[k].W > 0 {
		w = s.padded[k].W
		for _, key := range s.padded[k].Row(0) {
			if a.Chart.Lace(key) == chart.NoStitch {
				w--
			}
		}
	}
	x := int(n - a.First)
	return mod(x, w), (x - mod(x, w)) / w
}

// drawnAt is the chart's column and row of the cell that lies at column c and row y (from 0)
// of area k.
func (s *Placed) drawnAt(k, c, y int) (column, row int) {
	a := turned{&s.Section.Areas[k]}
	if a.Chart.IsLines() {
		rows, _ := a.LineRows()
		return a.Columns[0] + c, a.Rows[0] + min(rows[y].From, a.Rows[1]-a.Rows[0])
	}
	if s.padded != nil && s.padded[k].W > 0 {
		c = nthStitch(s.padded[k].Row(y), c, a.Chart)
	}
	return a.drawn(c, y)
}

// columnAt is the chart's column that area k shows on needle n, in its row 1; of a turned
// chart it is the row that lies there.
func (s *Placed) columnAt(k int, n machine.Needle) int {
	c, _ := s.under(k, n)
	column, row := s.drawnAt(k, c, 0)
	if t := s.Section.Areas[k].Transform; slices.Contains(t, "turn") != slices.Contains(t, "turn-right") {
		return row
	}
	return column
}
