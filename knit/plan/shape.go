package plan

import (
	"fmt"
	"maps"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/loom"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/technique"
	"vindel/knit/words"
)

// How a piece grows, narrows and divides (rules 5.11). The edges of every row are worked out before any yarn
// is shared out, since they say which colours a row has; and where they move by several stitches that
// hangs on the side on which the row starts, which is thought out in advance and looked at again once the
// row is knitted: where it was thought wrong, the piece is planned once more.

// rowOf is a row of a section, or of one part of it, by its place among the planner's sections.
type rowOf struct{ at, row int }

// mostStarts bounds how often a piece is planned anew for rows that start on another side than was thought.
const mostStarts = 40

// shaped is what the planner keeps of a shape.
type shaped struct {
	starts, seen map[rowOf]machine.Side // where rows start, as an earlier plan has found; and as this one has
	thought      map[rowOf]machine.Side // by rows whose edges hang on it
	side         machine.Side           // where the row starts at which the piece divides
	second       int                    // among the needs, the first row of the second part; 0: none
	section, row int                    // at which it divides
	stays        machine.Set            // the first part's needles
	middle       machine.Set            // between the parts, bound off
	// needles that an edge has moved stitches to, and that may not have knitted since
	doubled machine.Set
	from    int // index of the first pass of the section in which it divides
}

// needShaped works out the edges of every row, and lists the yarns of every row that can be planned.
func (k *planner) needShaped(found [][]finding.Finding) {
	p := k.Piece
	k.shape.thought = map[rowOf]machine.Side{}
	k.Parts = make([][3]*bed.Placed, len(k.Placed))
	for i := range k.Placed {
		k.Findings = append(k.Findings, found[i]...)
	}
	side, row := p.Start, 1
	walk := p.Walk()
	k.needs = make([]loom.Need, 0, k.rowsInAll())
	divide := 0
	if sp := p.Shape.Split; sp != nil {
		divide = sp.Row
	}
	for i, placed := range k.Placed {
		s := section{Placed: placed, technique: technique.Of(placed.Section), at: len(k.needs)}
		rows := p.RowsOf(placed.Section)
		s.Starts = true
		if !k.mayBe(&s, found[i]) {
			k.sections = append(k.sections, s)
			return
		}
		if at := divide - row + 1; divide > 0 && at >= 1 && at <= rows {
			if at = k.afterTwo(&s, at); at > rows {
				divide++
			} else {
				k.divided(i, at, walk, side, found)
				return
			}
		}
		k.sections = append(k.sections, s)
		if !k.needRows(len(k.sections)-1, walk, &side, row) {
			return
		}
		row += rows
	}
	if divide > row-1 {
		k.refuse(&piece.Trouble{At: p.Shape.Split.At,
			Words: "lace divides after two plain rows, and there the piece ends"})
		return
	}
	k.lateAtEnd(walk, row-1)
}

// afterTwo is the row before which a piece divides: in lace where two rows have just been knitted.
func (k *planner) afterTwo(s *section, at int) int {
	if !s.Section.Lace() || s.technique.CoursesOf(k.m, s.Section) == 2 || at%2 == 1 {
		return at
	}
	k.Report(finding.Finding{Code: finding.SplitLace, Severity: finding.Note, Section: s.No, Rows: [2]int{at, at},
		Needles: s.InWork(at),
		Text: fmt.Sprintf("Lace divides where two rows have just been knitted: the piece becomes two parts before "+
			"row %d, not before row %d.", at+1, at),
		Fix: fmt.Sprintf("Divide it at row %d", at+1)})
	return at + 1
}

// divided lists the rows from section i (from 0) on, where the piece divides before its row at: what is left of
// the whole, the first part to its end, and the second.
func (k *planner) divided(i, at int, walk *piece.Walk, side machine.Side, found [][]finding.Finding) {
	p, base := k.Piece, k.Placed[i]
	t := technique.Of(base.Section)
	global := p.FirstRow(i)
	if at > 1 {
		base.ToRow = at - 1
		base.Starts = true
		k.sections = append(k.sections, section{Placed: base, technique: t, at: len(k.needs), goesOn: true})
		if !k.needRows(len(k.sections)-1, walk, &side, global) {
			return
		}
	}
	start := side
	key := rowOf{len(k.sections), at}
	if at == 1 && k.leads(&section{Placed: base, technique: t}, len(k.sections) == 0) {
		start = side.Other()
	}
	if seen := k.shape.starts[key]; seen != 0 {
		start = seen
	}
	k.shape.thought[key] = start
	first := p.Shape.Split.First
	if first == 0 {
		first = start
	}
	one, two, middle, trouble := walk.Divide(first)
	if trouble != nil {
		k.refuse(trouble)
		return
	}
	k.shape.section, k.shape.row, k.shape.side = base.No, at, start
	k.shape.stays, k.shape.middle = one.Needles(), middle
	for no, w := range []*piece.Walk{one, two} {
		part := [...]piece.Part{piece.FirstPart, piece.SecondPart}[no]
		if side = start; part == piece.SecondPart {
			k.shape.second = len(k.needs)
		} else if at == 1 && k.leads(&section{Placed: base, technique: t}, len(k.sections) == 0) {
			side = start.Other()
		}
		row := global
		for j := i; j < len(k.Placed); j++ {
			from := 1
			if j == i {
				from = at
			}
			v := k.Placed[j].View(part, from, k.Placed[j].Rows)
			v.Starts = j > i || at == 1 || part == piece.SecondPart
			s := section{Placed: v, technique: technique.Of(v.Section), at: len(k.needs), divides: j == i}
			if j > i && part == piece.FirstPart && !k.mayBe(&s, found[j]) {
				k.sections = append(k.sections, s)
				return
			}
			k.sections = append(k.sections, s)
			if !k.needRows(len(k.sections)-1, w, &side, row) {
				return
			}
			row += p.RowsOf(v.Section)
		}
		if !k.lateAtEnd(w, row-1) {
			return
		}
	}
}

// leads says that a pass which works no row comes before the first of a section: to select for it, or to
// bring its needles to where they are wanted.
func (k *planner) leads(s *section, first bool) bool {
	purl := s.technique.KnitterOf(k.m, s.Placed) == machine.PurlCarriage
	odd := s.Section.Free != s.technique.Brings
	if first && k.Piece.Begin == nil && !s.Section.Free && k.m.School == machine.Preselect &&
		s.technique.IsPatterned(k.m) && !(purl && !k.m.PurlAhead) {
		odd = !odd
	}
	return odd
}

// needRows works out the edges of the rows of a section, or of a part of it, in which the first is row
// `global` of the piece less those before, and lists their yarns. side is where the carriage stands.
func (k *planner) needRows(at int, walk *piece.Walk, side *machine.Side, global int) bool {
	s := &k.sections[at]
	p, t := k.Piece, s.technique
	if t.OwnRows { // a recipe keeps its width
		for range p.RowsOf(s.Section) {
			row, trouble := walk.Next(0)
			if trouble != nil {
				return k.trouble(s, trouble, global)
			}
			s.Stands(p, 1, &row)
		}
		k.needs = append(k.needs, loom.Need{})
		s.rows++
		return true
	}
	k.Parts[s.No-1][s.Part] = s.Placed
	if s.Starts && !(s.divides && s.Part == piece.SecondPart) && k.leads(s, at == 0) {
		*side = side.Other()
	}
	stand := func(r int) bool {
		key := rowOf{at, r}
		if len(k.shape.starts) > 0 {
			if seen := k.shape.starts[key]; seen != 0 {
				*side = seen
			}
		}
		row, trouble := walk.Next(*side)
		if trouble != nil {
			return k.trouble(s, trouble, global)
		}
		hangs := walk.Late() != nil || r == s.FromRow && s.divides
		for i := range row.Edges {
			e := &row.Edges[i]
			if e.Later {
				k.later(s, e, r, *side)
			}
			hangs = hangs || e.Step.NeedsYarn()
		}
		s.Stands(p, r, &row)
		st := s.Stood(r)
		if hangs {
			k.shape.thought[key] = *side
			s.StartsOn(r, *side)
		}
		if s.Section.Lace() && r == s.FromRow {
			s.TouchedToo(r, k.shape.doubled)
		}
		if t.Drawn != piece.InStitches {
			k.shape.doubled = machine.Set{} // every needle knits
		} else if st.Moved() {
			k.shape.doubled = k.shape.doubled.Or(st.Touched).Or(st.Fresh)
		}
		return true
	}
	if s.Section.Lace() {
		courses := t.CoursesOf(k.m, s.Section)
		for r := s.FromRow; r <= s.ToRow; r++ {
			if !stand(r) {
				s.ToRow = r - 1
				break
			}
			if courses%2 == 1 {
				*side = side.Other()
			}
		}
		k.Findings = append(k.Findings, s.MakesLace()...)
		if finding.Stops(k.Findings) && k.Stopped.Row == 0 {
			k.Stop(s.No, 1)
		}
	}
	type known struct {
		work machine.Set
		need loom.Need
		ok   bool
	}
	again := s.Cycle <= s.ToRow-s.FromRow // rows come again
	var cycle []known
	if again {
		cycle = make([]known, s.Cycle)
	}
	for r := s.FromRow; r <= s.ToRow && k.ctx.Err() == nil; r++ {
		if !s.Section.Lace() && !stand(r) {
			return false
		}
		first := r == s.FromRow && s.Starts
		var need loom.Need
		var c *known
		work := s.InWork(r)
		if again {
			c = &cycle[(r-1)%s.Cycle]
		}
		if c != nil && c.ok && c.work == work && !t.Brings {
			need = c.need
		} else {
			var refused *finding.Finding
			if need, refused = t.Yarns(p, s.Placed, r); refused != nil {
				k.Report(*refused)
				k.Stop(s.No, r)
				s.stopped = true
				return false
			}
			if c != nil {
				*c = known{work, need, true}
			}
		}
		if first && s.FromRow == 1 && s.Section.Free {
			need.Empty = 1
		}
		k.needs = append(k.needs, need)
		s.rows++
		if !s.Section.Lace() && k.passesOf(s, &need, r, first)%2 == 1 {
			*side = side.Other()
		}
	}
	return k.ctx.Err() == nil && k.Stopped.Row == 0
}

// passesOf is how many passes of the carriage that knits a row takes, those before it left out.
func (k *planner) passesOf(s *section, need *loom.Need, r int, first bool) int {
	n := min(1, len(need.Yarns))
	if s.technique.PassLines || k.m.Feeders == 1 && need.Free {
		n = len(need.Yarns)
	}
	if need.Twice {
		n *= 2
	}
	if k.m.School == machine.Pairs && s.technique.IsPatterned(k.m) && !s.technique.PassLines &&
		!(s.Section.Passes > 0 && r == s.Rows) {
		n *= 2
	}
	n += need.Idle
	if first && s.technique.Brings {
		n--
	}
	return n
}

// trouble reports what a shape cannot do at a row, and stops the plan there; it is always false.
func (k *planner) trouble(s *section, t *piece.Trouble, global int) bool {
	if t.Kind == piece.BadShape {
		k.refuse(t)
		return false
	}
	row := max(1, min(t.Row-global+1, s.Rows))
	s.stopped = true
	f := finding.Finding{Severity: finding.Stop, Section: s.No, Rows: [2]int{row, row}, Needles: s.InWork(max(1,
		row-1))}
	step := t.Step
	if t.Kind == piece.OffTheBed {
		f.Code = finding.OffBed
		f.Text = fmt.Sprintf("Row %d grows on the %v by %s, and the bed ends at %v.", row, step.Side,
			words.Stitches(step.Stitches), k.m.Bed.End(step.Side))
		f.Fix = "Cast on further to the other side, or let it grow less"
	} else {
		f = k.wrongSide(s, step, row)
	}
	if over := s.rows - (row - s.FromRow); over > 0 && over <= s.rows { // it ends before the row that was asked
		s.rows -= over
		k.needs = k.needs[:len(k.needs)-over]
	}
	k.Report(f)
	k.Stop(s.No, row)
	return false
}

// wrongSide says that a step would need the yarn on a side where no row starts.
func (k *planner) wrongSide(s *section, step *piece.ShapeStep, row int) finding.Finding {
	what := fmt.Sprintf("%s to be bound off on the %v", words.Stitches(-step.Stitches), step.Side)
	switch {
	case step.Hold:
		what = fmt.Sprintf("%s on the %v to wait in hold", words.Stitches(-step.Stitches), step.Side)
	case step.Stitches > 0:
		what = fmt.Sprintf("%s to be cast on at the %v", words.Stitches(step.Stitches), step.Side)
	}
	needs := step.Side
	if step.Hold {
		needs = needs.Other()
	}
	f := finding.Finding{Code: finding.ShapeSide, Severity: finding.Stop, Section: s.No, Rows: [2]int{row, row},
		Needles: s.InWork(max(1, row-1)),
		Text: fmt.Sprintf("Row %d wants %s, which is done before a row that starts on the %v, where the yarn must "+
			"hang; neither it nor the next row does.", row, what, needs),
		Fix: "Make it single decreases, one a row; knit an odd plain row before it; or divide the section there"}
	if !step.Hold && step.Stitches < 0 && k.Piece.Shape.Outline == nil {
		if n := -step.Stitches; step.Row+n-1 <= k.rowsInAll() {
			f.Fix = "Make it single decreases, one a row; or knit an odd plain row before it; or divide the " +
				"section there"
			f.Mend = finding.Always(edit.ShapeSingles(step.At, step.Row, n))
		}
	}
	return f
}

func (k *planner) rowsInAll() int {
	n := len(k.Piece.Sections)
	return k.Piece.FirstRow(n) - 1
}

// later notes a step that comes a row later than asked.
func (k *planner) later(s *section, e *piece.Edge, r int, side machine.Side) {
	step := e.Step
	what := fmt.Sprintf("binds off %d", -step.Stitches)
	switch {
	case step.Hold:
		what = fmt.Sprintf("puts %d in hold", -step.Stitches)
	case step.Stitches > 0:
		what = fmt.Sprintf("casts on %d", step.Stitches)
	}
	why := "the yarn hangs on the other side before the row asked for"
	if step.Hold {
		why = "the carriage must come from the other side, so that no strand lies over them"
	}
	k.Report(finding.Finding{Code: finding.ShapeLater, Severity: finding.Note, Section: s.No, Rows: [2]int{r, r},
		Needles: e.Needles,
		Text:    fmt.Sprintf("The %v edge %s a row later, before row %d: %s.", step.Side, what, r, why)})
}

// lateAtEnd stops a step that no row is left for.
func (k *planner) lateAtEnd(w *piece.Walk, last int) bool {
	step := w.Late()
	if step == nil || len(k.sections) == 0 {
		return true
	}
	s := &k.sections[len(k.sections)-1]
	s.stopped = true
	if s.rows > 0 { // it ends before its last row
		s.rows--
		k.needs = k.needs[:len(k.needs)-1]
	}
	k.Report(k.wrongSide(s, step, s.Rows))
	k.Stop(s.No, s.Rows)
	return false
}

// refuse is bad input that shows only once it is known which side rows start on.
func (k *planner) refuse(t *piece.Trouble) {
	path := fmt.Sprintf("shape[%d]", t.At)
	if k.Piece.Shape.Outline != nil {
		path = "outline"
	}
	k.Refused = &piece.Error{Path: path, Err: fmt.Errorf("%s", t.Words)}
	k.Stop(1, 1)
}

// shapeRow has the edges moved once the first pass of a row is begun; and before that, where the piece
// divides, the place marked and what waits left.
func (k *planner) shapeRow(s *section, r int) {
	l := k.loom
	divides := s.divides && s.Part == piece.FirstPart && r == s.FromRow
	thought, asked := k.shape.thought[rowOf{k.indexOf(s), r}]
	if !asked && !divides && len(k.Passes) > 0 && !s.Shaped(r).Moved() {
		return
	}
	course := l.Course()
	l.BeforeRow(func() {
		if asked && thought != l.Stands(machine.KnitCarriage) {
			k.shape.seen = maps.Clone(k.shape.starts)
			if k.shape.seen == nil {
				k.shape.seen = map[rowOf]machine.Side{}
			}
			k.shape.seen[rowOf{k.indexOf(s), r}] = l.Stands(machine.KnitCarriage)
		}
		l.Wraps(s.Placed, r)
		if divides {
			l.Divide(s.Placed, r, course, k.shape.stays, k.shape.middle, k.waitsOff())
		}
		l.Edges(s.Placed, r)
	})
}

func (k *planner) indexOf(s *section) int {
	for i := range k.sections {
		if &k.sections[i] == s {
			return i
		}
	}
	return -1
}

// waitsOff says that the other part waits on waste yarn: where lace carriages go over it, where held needles
// disturb the carriage, or where its cams would knit them.
func (k *planner) waitsOff() bool {
	if k.m.HoldDisturbs {
		return true
	}
	for i := k.shape.section - 1; i < len(k.Placed); i++ {
		s := k.Placed[i].Section
		if s.Lace() || s.Technique.TwoPasses && k.m.Feeders == 1 || k.m.School == machine.ByHand &&
			s.Technique.HandHolds {
			return true
		}
	}
	return false
}

// holdsStay stops a row whose cams would knit what waits in hold for the shape.
func (k *planner) holdsStay(s *section, r int) bool {
	held := s.Held(r)
	if held.Empty() {
		return true
	}
	for i := range k.Passes {
		p := &k.Passes[len(k.Passes)-1-i]
		if p.Row() != r || p.Section != s.No || p.Recipe > 0 {
			return true
		}
		if p.Carriage == machine.KnitCarriage && p.Cams().Held.Knits() {
			break
		}
		if i+1 == len(k.Passes) {
			return true
		}
	}
	k.dropRow(s, r)
	k.Report(finding.Finding{Code: finding.TechniqueMachine, Severity: finding.Stop, Section: s.No, Rows: [2]int{r,
		r}, Needles: held,
		Text: fmt.Sprintf("Row %d is worked out and back, and the way back knits whatever is in hold: %v cannot "+
			"wait there.", r, held),
		Fix: "Bind them off instead, or let them wait in plain rows"})
	k.Stop(s.No, r)
	return false
}

// dropRow takes the passes of a row away again, and none of the other part's.
func (k *planner) dropRow(s *section, r int) {
	for n := len(k.Passes) - 1; n >= 0; n-- {
		if p := &k.Passes[n]; p.Row() != r || p.Section != s.No || p.ID.Part != s.Part.String() {
			return
		}
		k.Passes = k.Passes[:n]
	}
}

// stopsIn says that the plan stops in the rows of a section that it is the part of.
func (k *planner) stopsIn(s *section) bool {
	return k.Stopped.Section == s.No && s.rows < s.ToRow-s.FromRow+1
}

// goBack ends the first part, binds off the middle and goes back to where the piece divided: counter, line and
// side as marked, and, where the row was selected a pass ahead, a free pass that selects it again.
func (k *planner) goBack(s *section) bool {
	l, y := k.loom, s.Section.RowYarn(s.FromRow)
	if k.Stopped.Row > 0 || l.Marked() == nil {
		return false
	}
	if k.Piece.EndOf(piece.FirstPart) != nil {
		k.endPiece(piece.FirstPart)
	} else {
		main, behind := l.Holding()
		l.Later(step.Care{Text: step.CareWeights}, step.WeightsOff{}, step.BindOff{At: step.Main(main)})
		if !behind.Empty() {
			l.Later(step.BindOff{At: step.On(machine.Second, behind)})
		}
	}
	l.Section(s.Placed)
	l.Row()
	side := l.GoBack(y)
	l.Later(step.WeightsOn{})
	purl := s.technique.KnitterOf(k.m, s.Placed) == machine.PurlCarriage
	ahead := k.m.School == machine.Preselect && s.technique.IsPatterned(k.m) && !(purl && !k.m.PurlAhead)
	c := s.technique.KnitterOf(k.m, s.Placed)
	if l.Knitter() != c && l.Stands(c) == machine.Left {
		l.Empty(l.Knitter()) // knit and purl carriage change places on the right
	}
	here := l.Stands(c)
	switch {
	case s.technique.Brings: // the pass that brings the needles ends there
		if here == side {
			l.Empty(c)
		}
	case ahead && here == side:
		l.Empty(c)
		l.Empty(c)
	case ahead || here != side:
		l.Empty(c)
	}
	return true
}

// marked notes at the mark which line of card or program its row stands on.
func (k *planner) marked() {
	m := k.loom.Marked()
	if m == nil {
		return
	}
	for i := range k.Passes {
		if p := &k.Passes[i]; p.Section == k.shape.section && p.ID.Part == piece.FirstPart.String() &&
			p.Row() == k.shape.row && p.Own > 0 {
			m.Line = p.Own
			return
		}
	}
}

// shapedLines is after how many rows the program of a section begins again, in all its parts: where a row
// that comes again shows fewer colours, since its edges are further in, its line serves all the same.
func (k *planner) shapedLines(s *section) int {
	for lines := s.Whole; lines < s.Rows; lines += s.Whole {
		if k.serves(s.No, lines) {
			return lines
		}
	}
	return s.Rows
}

func (k *planner) serves(no, lines int) bool {
	taken := make([][]piece.YarnNo, lines)
	for i := range k.sections {
		s := &k.sections[i]
		if s.No != no {
			continue
		}
		for j := range s.rows {
			line, yarns := &taken[(s.FromRow-1+j)%lines], k.yarns[s.at+j]
			n := min(len(*line), len(yarns))
			for x := range n {
				if (*line)[x] != yarns[x] {
					return false
				}
			}
			if len(yarns) > len(*line) {
				*line = yarns
			}
		}
	}
	return true
}

// linesBelow is how many lines of its program the rows below a part of a section take.
func (k *planner) linesBelow(s *section) (lines int) {
	for i := range k.Passes {
		if p := &k.Passes[i]; p.Section == s.No && p.Row() < s.FromRow && p.Row() > 0 {
			lines = max(lines, p.Own)
		}
	}
	return lines
}

// numberAgain gives the passes of the second part the lines that the first has for the same rows.
func (k *planner) numberAgain(s *section, passes []pass.Pass) {
	if k.m.School == machine.ByHand {
		return
	}
	lines := map[int][]int{}
	for i := range k.Passes {
		if p := &k.Passes[i]; p.Section == s.No && p.Own > 0 && p.ID.Part != piece.SecondPart.String() {
			lines[p.Row()] = append(lines[p.Row()], p.Own)
		}
	}
	program := k.Programs[s.No-1]
	for j := range passes {
		p := &passes[j]
		if !p.Patterned || len(lines[p.Row()]) == 0 {
			continue
		}
		p.Own = lines[p.Row()][0]
		lines[p.Row()] = lines[p.Row()][1:]
		program[p.Own-1] = program[p.Own-1].Or(p.Main().Line)
	}
}
