package card

import (
	"fmt"
	"strings"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
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
		offers := []string{fmt.Sprintf("crop %d to make it %d", w-down, down)}
		if up > w && m.Columns%up == 0 {
			offers = append(offers, fmt.Sprintf("pad it by %d to make it %d", up-w, up))
			if wider := pad(a, up-w); wider != nil {
				f.Mend = finding.Always(wider)
			}
		}
		offers = append(offers, fmt.Sprintf("knit it once, within %d needles", m.Columns))
		f.Fix = words.Capital(strings.Join(offers, ", or "))
		if f.Mend != nil { // the first offer is what the remedy does
			offers[0], offers[1] = offers[1], offers[0]
			f.Fix = words.Capital(strings.Join(offers, ", or "))
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

// pad widens the chart by n columns of its first character, where the whole chart is
// placed as it is drawn.
func pad(a *piece.Area, n int) []edit.Change {
	c := a.Chart
	if a.Columns != [2]int{1, c.W} || a.Rows != [2]int{1, c.H} || len(a.Transform) > 0 {
		return nil
	}
	return edit.Padded(c, n)
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
