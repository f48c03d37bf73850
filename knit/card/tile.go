package card

import (
	"fmt"
	"strings"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/step"
	"vindel/knit/words"
)

// widths reports areas whose repeat does not tile across the card. clash is the
// needles that would need another hole than a needle before them in the same column.
func widths(pl *pass.Plan, section int, clash machine.Set) (out []finding.Finding) {
	m, s := &pl.Piece.Machine, pl.Section(section)
	for i := range s.Section.Areas {
		a := &s.Section.Areas[i]
		w := s.Wide[i]
		on := machine.Range(a.From, a.To)
		if on.Len() <= m.Columns || m.Columns%w == 0 {
			continue
		}
		clash = clash.Minus(on)
		down, up := w, w
		for down > 1 && m.Columns%down != 0 {
			down--
		}
		for up < m.Columns && m.Columns%up != 0 {
			up++
		}
		f := finding.Finding{Code: finding.WidthTile, Severity: finding.Stop, Section: section,
			Rows: [2]int{1, s.Rows}, Needles: on}
		f.Text = fmt.Sprintf("%s is %d wide, and %d does not go into the %d columns of the card, so it cannot repeat "+
			"across the bed.", a.Chart.Name, w, w, m.Columns)
		whole := a.Columns == [2]int{1, a.Chart.W} && a.Rows == [2]int{1, a.Chart.H} && len(a.Transform) == 0 &&
			w == a.Chart.W
		var offers []finding.Offer
		if up > w && m.Columns%up == 0 && whole {
			offers = append(offers, finding.Offer{Fix: fmt.Sprintf("Pad it by %d to make it %d", up-w, up),
				Mend: finding.Always(edit.Padded(pl.Piece, a.Chart, up-w))})
		}
		if 2*down >= w && whole && !s.Section.Lace() {
			offers = append(offers, finding.Offer{Fix: fmt.Sprintf("Crop %d to make it %d", w-down, down),
				Mend: finding.Always(edit.Cropped(pl.Piece, a.Chart, down))})
		}
		if w <= m.Columns {
			first := a.First // of the repeat that begins nearest to the middle
			for first+machine.Needle(w) <= a.To-machine.Needle(w)+1 && first+machine.Needle(w)/2 < 0 || first < a.From {
				first += machine.Needle(w)
			}
			if last := first + machine.Needle(w) - 1; last <= a.To {
				offers = append(offers, finding.Offer{Fix: fmt.Sprintf("Knit it once, on %v to %v", first, last),
					Mend: finding.Always(edit.AreaEnds(section, i+1, first, last))})
			}
		}
		if len(offers) == 0 {
			f.Fix = fmt.Sprintf("Draw it %d or %d wide, or knit it once, within %d needles", down, up, m.Columns)
		} else {
			f.Ways, f.Mend = offers, offers[0].Mend
			var told []string
			for _, o := range offers {
				told = append(told, words.Small(o.Fix))
			}
			f.Fix = words.Capital(strings.Join(told, ", or "))
		}
		out = append(out, f)
	}
	if !clash.Empty() {
		out = append(out, finding.Finding{Code: finding.WidthTile, Severity: finding.Stop, Section: section,
			Rows: [2]int{1, s.Rows}, Needles: clash,
			Text: fmt.Sprintf("%v would need other holes than the needles %d to their left, which share their "+
				"columns of the card.", clash, m.Columns),
			Fix: fmt.Sprintf("Move the areas to needles a multiple of %d apart, or make them repeat alike",
				m.Columns)})
	}
	return out
}

// patternsAll reports needles in work outside the areas where the card would select
// otherwise than the plan: a card patterns the whole bed.
func patternsAll(pl *pass.Plan, section int, c *Card) []finding.Finding {
	m, s := &pl.Piece.Machine, pl.Section(section)
	var back, forward machine.Set
	rows := [2]int{0, 0}
	for l, line := range pl.Programs[section-1] {
		for n := range pl.LineWork(section, l).Minus(s.Covered.Minus(s.Cut)).All() {
			if hole := c.Holes.At(column(m, n), l) == 1; hole != line.Has(n) {
				if hole {
					back.Add(n)
				} else {
					forward.Add(n)
				}
				if rows[0] == 0 {
					rows[0] = l + 1
				}
				rows[1] = l + 1
			}
		}
	}
	if back.Or(forward).Empty() || !back.Empty() && !s.Section.Lace() && m.School != machine.Preselect {
		return nil // where hands cannot push back the plan has stopped
	}
	f := finding.Finding{Code: finding.CardPatternsAll, Severity: finding.Warn, Section: section, Rows: rows,
		Needles: back.Or(forward), Fix: "Draw a chart that fills the card, or move it by a column"}
	touches := words.Count(SetRight(pl, section), "touch", "touches")
	var words []string
	if !back.Empty() {
		words = append(words, fmt.Sprintf("%s come forward that are pushed back", back.Brief()))
	}
	if !forward.Empty() {
		words = append(words, fmt.Sprintf("%s do not, and are brought", forward.Brief()))
	}
	f.Text = fmt.Sprintf("The card selects every needle in work, also where the pattern is not knitted: %s, in all %s "+
		"of a needle.", strings.Join(words, ", and "), touches)
	return []finding.Finding{f}
}

// SetRight is how often hands touch a needle in a section (from 1) to set right what its card selects.
func SetRight(pl *pass.Plan, section int) (n int) {
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Section == section {
			for j := range p.Before {
				if do := p.Before[j].Do(); do == step.DoPushBack || do == step.DoBringForward {
					n += p.Before[j].Touches()
				}
			}
		}
	}
	return n
}
