package bed

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// findings reports areas that reach off the work, overlap, touch or are cut, and
// charts that would read backwards.
func (s *Placed) findings(p *piece.Piece, grids []chart.Grid) (out []finding.Finding) {
	report := func(code finding.Code, sev finding.Severity, needles machine.Set, fix, format string, a ...any) {
		out = append(out, finding.Finding{Code: code, Severity: sev, Section: s.No, Rows: [2]int{1, s.Rows},
			Needles: needles, Text: fmt.Sprintf(format, a...), Fix: fix})
	}
	if f := s.collide(p); f != nil {
		out = append(out, *f)
	}
	areas := s.Section.Areas
	for k := range areas {
		a, g := &areas[k], grids[k]
		on := machine.Range(a.From, a.To)
		name := a.Chart.Name
		low, high := p.Ends()
		if a.To < low || a.From > high {
			report(finding.OffBed, finding.Stop, on, "Move the area onto the needles in work",
				"%s lies on %v to %v, and only %v to %v are in work: none of it is knitted.", name, a.From, a.To, low, high)
			out[len(out)-1].Mend = finding.Always(s.Centre(p, k+1))
			continue
		}
		if asked := machine.Range(a.Asked[0], a.Asked[1]); asked != on {
			report(finding.AreaCut, finding.Note, asked.Minus(on), "Let it reach to the edge of the work, wherever that is",
				"%s lies on %v to %v, and only %v to %v are in work at its widest: what lies beyond is cut.", name, a.Asked[0],
				a.Asked[1], low, high)
			out[len(out)-1].Mend = finding.Always(edit.AreaCut(s.No, k+1, a))
		}
		left, right := mod(int(a.From-a.First), g.W), mod(int(a.To-a.First)+1, g.W)
		if left != 0 || right != 0 {
			report(finding.AreaCut, finding.Note, on, "", "%s, %s: %s. From the left it shows %s.", name,
				Sentence(a, g.W), cutWords(a, g.W, left, right), s.columnsShown(k))
		}
		if _, h := a.Size(); !a.Blank && h < s.Height && s.Rows%h != 0 {
			report(finding.AreaCut, finding.Note, on, fmt.Sprintf("Knit %d rows, or leave it blank above its top",
				s.Rows/h*h+h),
				"%s is %d rows tall, and the section %d: its last repeat is cut after row %d.", name, h, s.Rows,
				s.Rows%h)
		}
		worn := s.Section.Technique.Worn
		if a.Chart.Face != worn && !slices.Contains(a.Transform, "mirror") && !chart.Symmetric(g, mirrorImage(a)) &&
			!s.Section.Technique.EitherSide {
			report(finding.FacesAway, finding.Warn, on,
				fmt.Sprintf("Say that the chart is drawn for the %v side", worn),
				"%s is drawn as seen on the %v side; on the %v side, which is the outside when worn, it reads backwards.",
				name, a.Chart.Face, worn)
			out[len(out)-1].Mend = finding.Always(edit.DrawnFor(name, worn))
		}
		for j := range areas[:k] {
			b := &areas[j]
			under := machine.Range(b.From, b.To)
			common := on.And(under)
			switch {
			case common == on: // a motif on its ground is meant
			case !common.Empty():
				report(finding.AreasOverlap, finding.Warn, common, "Move one of them aside",
					"%s (%v to %v) lies partly on %s (%v to %v); the later one is knitted.", name, a.From, a.To,
					b.Chart.Name, b.From, b.To)
			case a.From == b.To+1 || b.From == a.To+1:
				report(finding.AreasTouch, finding.Note, machine.Range(max(a.From, b.From)-1, max(a.From, b.From)),
					"Leave a spare stitch between them",
					"%s and %s touch between %v and %v, with no spare stitch.", b.Chart.Name, name,
					max(a.From, b.From)-1, max(a.From, b.From))
			}
		}
	}
	return out
}

// mirrorImage is what each of an area's keys becomes in a mirror: the leans of lace
// change places, everything else stays. nil: everything stays.
func mirrorImage(a *piece.Area) []uint8 {
	if !a.Lace {
		return nil
	}
	swap := make([]uint8, len(a.Chart.Keys))
	for k := range swap {
		swap[k] = uint8(k)
		for j := range swap {
			if a.Chart.Lace(uint8(k)) != a.Chart.Lace(uint8(j)) &&
				a.Chart.Lace(uint8(k)).Mirrored() == a.Chart.Lace(uint8(j)) {
				swap[k] = uint8(j)
			}
		}
	}
	return swap
}

// columnsShown is what an area (from 0) shows, in the chart's own columns from left to right
// as the knitter faces the bed: "columns 9 to 20, then 2 × columns 1 to 20".
func (s *Placed) columnsShown(k int) string {
	type run struct{ from, to, way int }
	var runs []run
	a := &s.Section.Areas[k]
	for n := a.From; n <= a.To; n++ {
		c, last := s.columnAt(k, n), len(runs)-1
		switch {
		case last >= 0 && c == runs[last].to && slices.Contains(a.Transform, "double-width"):
		case last >= 0 && (c == runs[last].to+1 || c == runs[last].to-1) && c-runs[last].to != -runs[last].way:
			runs[last].way = c - runs[last].to
			runs[last].to = c
		default:
			runs = append(runs, run{from: c, to: c})
		}
	}
	var parts []string
	for i := 0; i < len(runs); {
		times := 1
		for i+times < len(runs) && runs[i+times] == runs[i] {
			times++
		}
		part := fmt.Sprintf("columns %d to %d", runs[i].from, runs[i].to)
		if runs[i].from == runs[i].to {
			part = fmt.Sprintf("column %d", runs[i].from)
		}
		if times > 1 {
			part = fmt.Sprintf("%d × %s", times, part)
		}
		parts, i = append(parts, part), i+times
	}
	return strings.Join(parts, ", then ")
}

func cutWords(a *piece.Area, w, left, right int) string {
	var parts []string
	if left != 0 {
		parts = append(parts, fmt.Sprintf("the repeat at %v is cut, %s of %d", a.From,
			words.Stitches(min(w-left, int(a.To-a.From)+1)), w))
	}
	if right != 0 && (left == 0 || int(a.To-a.From) >= w-left) {
		parts = append(parts, fmt.Sprintf("the repeat at %v is cut, %s of %d", a.To, words.Stitches(right), w))
	}
	return strings.Join(parts, " and ")
}

// Sentence says in plain words what an area whose repeat is w wide puts where:
// "8 repeats of 10 and 4 stitches, from L50 to R34".
func Sentence(a *piece.Area, w int) string {
	n := int(a.To-a.From) + 1
	left := mod(w-mod(int(a.From-a.First), w), w) // stitches before the first whole repeat
	if left > n {
		left = n
	}
	whole, rest := (n-left)/w, left+(n-left)%w
	var parts []string
	switch {
	case whole == 1:
		parts = append(parts, fmt.Sprintf("1 repeat of %d", w))
	case whole > 1:
		parts = append(parts, fmt.Sprintf("%d repeats of %d", whole, w))
	}
	if rest > 0 {
		parts = append(parts, words.Stitches(rest))
	}
	return fmt.Sprintf("%s, from %v to %v", strings.Join(parts, " and "), a.From, a.To)
}

// Width is a stitch count that an area is offered: whole repeats, and stitches more.
type Width struct {
	N       int // with the seam stitches
	Repeats int
	More    int
	Seam    int
	Column  int  // that lies at the left edge of the area, from 1 as it lies on the bed
	Alike   bool // the two edges are each other's mirror image
	Begins  bool // or it ends with the column that it begins with, for a seam
}

// Widths offers stitch counts near w needles for an area of the section (from 1), the
// nearest first: the two nearest of whole repeats, and up to four of repeats and stitches more
// whose edges are alike (rules 2). Two seam stitches that do not follow the chart come on top
// where rows take two passes (rules 5.2).
func (s *Placed) Widths(p *piece.Piece, area, w int) (offers []Width) {
	a, bed := s.area(area), int(p.Machine.Bed)
	g, seam := Lie(a), edit.Seam(p, s.Section)
	axes := chart.Axes(g, mirrorImage(a))
	now := mod(int(a.From-a.First), g.W)
	column := func(more int) (at int, alike bool) { // nearest to the one that lies there now
		for turn := range g.W {
			for _, c := range []int{mod(now+turn, g.W), mod(now-turn, g.W)} {
				if slices.Contains(axes, mod(2*c+more-1, g.W)) {
					return c, true
				}
			}
		}
		return now, false
	}
	var whole, others []Width
	for d := 0; d <= bed && (len(whole) < 2 || len(others) < 4); d++ {
		for _, n := range slices.Compact([]int{w - d, w + d}) {
			inner := n - seam
			if inner < g.W || n > bed {
				continue
			}
			o := Width{N: n, Repeats: inner / g.W, More: inner % g.W, Seam: seam}
			o.Column, o.Alike = column(o.More)
			o.Column++
			if o.Begins = !o.Alike && o.More == 1; o.More == 0 && len(whole) < 2 {
				whole = append(whole, o)
			} else if (o.Alike || o.Begins) && o.More > 0 && len(others) < 4 {
				others = append(others, o)
			}
		}
	}
	return append(whole, others...)
}
