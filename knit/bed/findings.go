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
	areas := s.Section.Areas
	for k := range areas {
		a, g := &areas[k], grids[k]
		on := machine.Range(a.From, a.To)
		name := a.Chart.Name
		if a.From < p.From || a.To > p.To {
			report(finding.OffBed, finding.Stop, on.Minus(machine.Range(p.From, p.To)),
				"Keep the area within the needles in work",
				"%s lies on %v to %v, but only %v to %v are in work.", name, a.From, a.To, p.From, p.To)
			out[len(out)-1].Mend = finding.Always(edit.AreaEnds(s.No, k+1, max(a.From, p.From), min(a.To, p.To)))
			continue
		}
		left, right := mod(int(a.From-a.First), g.W), mod(int(a.To-a.First)+1, g.W)
		if left != 0 || right != 0 {
			report(finding.AreaCut, finding.Note, on, "", "%s, %s: %s.", name, Sentence(a, g.W),
				cutWords(a, g.W, left, right))
		}
		worn := s.Section.Technique.Worn
		if a.Chart.Face != worn && !slices.Contains(a.Transform, "mirror") && !chart.Symmetric(g, mirrorImage(a)) &&
			!s.Section.Technique.EitherSide {
			report(finding.FacesAway, finding.Warn, on,
				fmt.Sprintf("Say that the chart is drawn for the %v side", worn),
				"%s is drawn as seen on the %v side; on the %v side, which is worn out, it reads backwards.", name,
				a.Chart.Face, worn)
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

// Seam is how many stitches more than whole repeats make a width that seams well: one,
// with which both edges are alike; two where rows take two passes and the end stitches
// catch the yarns without following the chart (rules 5.2).
func Seam(p *piece.Piece, sec *piece.Section) int {
	if p.Machine.Feeders == 1 && sec.Technique.TwoPasses {
		return 2
	}
	return 1
}

// Widths offers stitch counts near w that are n repeats of r and k stitches more, the
// nearest first, at most six; k is 1 where one more stitch makes both edges alike.
func Widths(w, r, k, bed int) (offers []int) {
	for d := 0; len(offers) < 6 && d <= bed; d++ {
		for _, c := range []int{w - d, w + d} {
			if c >= r+k && c <= bed && (c-k)%r == 0 && !slices.Contains(offers, c) {
				offers = append(offers, c)
			}
		}
	}
	return offers
}
