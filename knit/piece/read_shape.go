package piece

import (
	"fmt"
	"slices"

	"vindel/knit/machine"
)

// MostShape bounds the entries of a shape, MostProngs the tool that fashions an edge.
const (
	MostShape  = 1000
	MostProngs = 10
)

// shape reads how the piece grows, narrows and divides: the list of steps, or the outline from which they
// are worked out. What it comes to on the needles is told once the sections are known (shapeSense).
func (r *reader) shape(n, outline node) {
	switch {
	case !n.missing() && !outline.missing():
		outline.fail("the shape is written as steps, too; leave one of the two out")
		return
	case !outline.missing():
		r.outline(outline)
		return
	case n.missing() || n.list() == 0:
		return
	case n.list() > MostShape:
		n.fail("%d entries: at most %d", n.list(), MostShape)
		return
	}
	sh := &Shape{low: r.p.From, high: r.p.To}
	for i := range n.list() {
		at := n.index(i)
		if m, ok := at.value.(map[string]any); ok && m["split"] != nil {
			r.split(at, sh, i)
			continue
		}
		if rule, ok := r.shapeRule(at, i); ok {
			sh.Rules = append(sh.Rules, rule)
		}
	}
	r.p.Shape = sh
}

func (r *reader) split(n node, sh *Shape, i int) {
	if !n.object("split", "left", "right", "first") {
		return
	}
	if sh.Split != nil {
		n.fail("a piece divides once; the split stands in shape[%d]", sh.Split.At)
		return
	}
	s := &Split{At: i, Row: n.at("split").whole(1, MaxAllRows)}
	for _, end := range []string{"left", "right"} {
		if n.at(end).missing() {
			n.at(end).fail("missing; the last needle of the left part and the first of the right one, such as \"L7\" " +
				"and \"R7\"")
			return
		}
	}
	s.Left, s.Right = r.needle(n.at("left"), r.p.Machine.Bed), r.needle(n.at("right"), r.p.Machine.Bed)
	if s.Right <= s.Left {
		n.at("right").fail("%q: lies not right of %v, the last needle of the left part", s.Right.String(), s.Left)
	}
	switch n.at("first").word("left", "right") {
	case "left":
		s.First = machine.Left
	case "right":
		s.First = machine.Right
	}
	sh.Split = s
}

// shapeRule reads one entry.
func (r *reader) shapeRule(n node, i int) (rule ShapeRule, ok bool) {
	before := len(*n.errs)
	if !n.object("side", "rows", "row", "stitches", "fashion", "by", "wrap", "release", "part") {
		return rule, false
	}
	rule = ShapeRule{At: i, Wrap: true, Fashion: n.at("fashion").whole(0, MostProngs)}
	side := n.at("side")
	if side.missing() {
		side.fail("missing; left, right or both")
	}
	switch side.word("left", "right", "both") {
	case "left":
		rule.Side = machine.Left
	case "right":
		rule.Side = machine.Right
	case "both":
		rule.Both = true
	}
	switch n.at("part").word("first", "second") {
	case "first":
		rule.Part = FirstPart
	case "second":
		rule.Part = SecondPart
	}
	if at := n.at("release"); !at.missing() {
		if rule.Release = at.yes(); !rule.Release {
			at.fail("false: leave it out")
		}
	}
	rows, row := n.at("rows"), n.at("row")
	switch {
	case rows.missing() == row.missing():
		n.fail("it says neither or both of `row`, the one row before which it is done, and `rows`, the first and the " +
			"last of those over which it is spread")
	case row.missing():
		rule.Spread = true
		if list, isList := rows.value.([]any); !isList || len(list) != 2 {
			rows.fail("%s: two numbers, the first and the last row", rows.quoted())
		} else if rule.Rows = [2]int{rows.index(0).whole(1, MaxAllRows), rows.index(1).whole(1,
			MaxAllRows)}; rule.Rows[1] < rule.Rows[0] && rule.Rows[1] > 0 {
			rows.fail("%s: the first lies above the last", rows.quoted())
		}
	default:
		rule.Rows[0] = row.whole(1, MaxAllRows)
		rule.Rows[1] = rule.Rows[0]
	}
	stitches := n.at("stitches")
	rule.Hold = n.at("by").word("hold") == "hold"
	if at := n.at("wrap"); !at.missing() {
		if rule.Wrap = at.yes(); !rule.Hold {
			at.fail("only a stitch that goes into hold is wrapped (by hold)")
		}
	}
	if rule.Release {
		for _, key := range []string{"stitches", "by", "fashion", "rows"} {
			if at := n.at(key); !at.missing() {
				at.fail("a release takes back all that waits on its side, before one row")
			}
		}
		return rule, len(*n.errs) == before
	}
	if stitches.missing() {
		stitches.fail("missing; how many come (1, 2, …) or go (-1, -2, …)")
		return rule, false
	}
	rule.Stitches = stitches.whole(-int(machine.MaxBed), int(machine.MaxBed))
	length := rule.Rows[1] - rule.Rows[0] + 1
	switch n := max(rule.Stitches, -rule.Stitches); {
	case len(*stitches.errs) > before:
	case n == 0:
		stitches.fail("0: an edge that stays as it is needs no entry")
	case rule.Spread && n > length:
		stitches.fail("%d: single steps over %d rows, and a side has one step a row", rule.Stitches, length)
	case rule.Hold && rule.Stitches > 0:
		stitches.fail("%d: only what goes can wait in hold; release it instead", rule.Stitches)
	case rule.Fashion > 0 && rule.Hold:
		stitches.fail("%d: what waits in hold is not moved by a tool", rule.Stitches)
	case rule.Fashion > 0 && !rule.Spread && n > 1:
		stitches.fail("%d: a tool moves the edge by one stitch; spread them over `rows`", rule.Stitches)
	}
	return rule, len(*n.errs) == before
}

// shapeSense works the steps out on the needles, once the sections are read: rows beyond the last, a recipe's
// rows, an edge that would leave no stitch. Where areas leave their ends out they go as far as the
// needles ever do.
func (r *reader) shapeSense(n node) {
	p := r.p
	if p.Shape == nil || len(*n.errs) > 0 {
		return
	}
	sh := p.Shape
	entry := func(i int) node {
		if sh.Outline != nil {
			return n.at("outline")
		}
		return n.at("shape").index(i)
	}
	total, recipes := 0, [][3]int{}
	for i := range p.Sections {
		rows := p.RowsOf(&p.Sections[i])
		if p.Sections[i].Technique.OwnRows {
			recipes = append(recipes, [3]int{total + 1, total + rows, i})
		}
		total += rows
	}
	if sh.Outline != nil {
		if sh.Kept != nil {
			sh.Kept.Cast = p.Work().Len()
		}
		sh.Rules = sh.Outline.Rules(p.StitchMM(), p.RowMM(), sh.Kept)
	}
	for _, rule := range sh.Rules {
		at := entry(rule.At)
		if rule.Rows[1] > total && sh.Outline == nil {
			at.at(map[bool]string{true: "rows", false: "row"}[rule.Spread]).fail("%d: the piece has %d rows",
				rule.Rows[1], total)
			return
		}
		switch {
		case rule.Part != Whole && sh.Split == nil:
			at.at("part").fail("%q: the piece does not divide", rule.Part.String())
			return
		case rule.Part != Whole && rule.Rows[0] < sh.Split.Row:
			at.at("part").fail("%q: the piece divides before row %d, and this is row %d", rule.Part.String(),
				sh.Split.Row, rule.Rows[0])
			return
		}
		for _, s := range rule.steps() {
			if s.Row > total {
				continue // of an outline that is taller than the piece
			}
			for _, of := range recipes {
				if s.Row >= of[0] && s.Row <= of[1] {
					at.fail("row %d is the recipe's of section %d, which keeps its width (rows %d to %d)", s.Row,
						of[2]+1, of[0], of[1])
					return
				}
			}
			for i := range p.Sections { // their needles go by turns
				sec := &p.Sections[i]
				if first := p.FirstRow(i); s.Row >= first && s.Row < first+p.RowsOf(sec) && (sec.Rib[0] > 0 ||
					!sec.Out.Empty() || !sec.SecondOut.Empty()) {
					at.fail("row %d is of section %d, which has needles of its own out of work; its edges stay",
						s.Row, i+1)
					return
				}
			}
			sh.Steps = append(sh.Steps, s)
		}
	}
	slices.SortStableFunc(sh.Steps, func(a, b ShapeStep) int { return a.Row - b.Row })
	if sp := sh.Split; sp != nil {
		at := entry(sp.At)
		if sp.Row > total {
			at.at("split").fail("%d: the piece has %d rows", sp.Row, total)
			return
		}
		for _, of := range recipes {
			if of[1] >= sp.Row {
				at.at("split").fail("%d: section %d is a recipe, which is not knitted in two parts", sp.Row, of[2]+1)
				return
			}
		}
		for i := range p.Sections {
			if sec := &p.Sections[i]; p.FirstRow(i)+p.RowsOf(sec) > sp.Row && (sec.Rib[0] > 0 || !sec.Out.Empty() ||
				!sec.SecondOut.Empty()) {
				at.at("split").fail("%d: section %d has needles of its own out of work, and does not divide", sp.Row,
					i+1)
				return
			}
		}
	}
	t := p.tryShape(total)
	if t != nil && t.Kind == BadShape {
		at := entry(t.At)
		*n.errs = append(*n.errs, &Error{at.path, fmt.Errorf("%s", t.Words)})
		return
	}
	for i := range p.Sections {
		for k := range p.Sections[i].Areas {
			a := &p.Sections[i].Areas[k]
			if a.Open[0] {
				a.From = sh.low
				if a.Open[2] {
					a.First = sh.low
				}
			}
			if a.Open[1] {
				a.To = sh.high
			}
		}
	}
}

// FirstRow is the row that a section (from 0) begins with, counted over all sections from 1.
func (p *Piece) FirstRow(section int) int {
	row := 1
	for i := range section {
		row += p.RowsOf(&p.Sections[i])
	}
	return row
}

// tryShape walks through the shape with the yarn always where it is needed, to see what it comes to,
// and notes the ends of all needles that come into work. Where a split does not say which part is
// first, only what stands in the way of both orders is told; the planner tells the rest.
func (p *Piece) tryShape(total int) *Trouble {
	sh := p.Shape
	sh.low, sh.high = p.From, p.To
	reach := func(r *ShapeRow) {
		if all := r.All(); !all.Empty() {
			sh.low, sh.high = min(sh.low, all.First()), max(sh.high, all.Last())
		}
	}
	walk := func(w *Walk, to int) *Trouble {
		for w.Row() < to {
			r, t := w.Next(0)
			if t != nil {
				return t
			}
			reach(&r)
		}
		return nil
	}
	w := p.Walk()
	if sh.Split == nil {
		return walk(w, total)
	}
	if t := walk(w, sh.Split.Row-1); t != nil {
		return t
	}
	orders := []machine.Side{sh.Split.First}
	if sh.Split.First == 0 {
		orders = []machine.Side{machine.Right, machine.Left}
	}
	var first *Trouble
	for i, side := range orders {
		again := *w // its lists are only read
		again.steps, again.late = slices.Clone(w.steps), slices.Clone(w.late)
		one, two, _, t := again.Divide(side)
		if t == nil {
			t = walk(one, total)
		}
		if t == nil {
			t = walk(two, total)
		}
		if t == nil {
			first = nil
			continue
		}
		if i == 0 {
			first = t
		} else if first == nil {
			continue
		}
	}
	return first
}
