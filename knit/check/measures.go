package check

import (
	"fmt"
	"slices"

	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/measure"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// measures warns where the piece is measured by a swatch of another technique, and where the balls in hand are too
// few (rules 7).
func measures(pl *pass.Plan, _ *fabric.Fabric) (list []finding.Finding) {
	p := pl.Piece
	main, most := 0, 0 // the section that most of the piece is
	for i := range p.Sections {
		s := &p.Sections[i]
		if n := p.RowsOf(s); n > most && !s.Swatch.Known() {
			main, most = i, n
		}
		if t := s.Swatch.Technique; t != "" && t != s.Technique.Name {
			list = append(list, otherSwatch(pl, i, t))
		}
	}
	if t := p.Swatch.Technique; t != "" && most > 0 && t != p.Sections[main].Technique.Name {
		list = append(list, otherSwatch(pl, main, t))
	}
	inHand := func(y piece.Yarn) bool { return y.Have >= 0 && y.Ball.Grams > 0 }
	if !slices.ContainsFunc(p.Yarns, inHand) {
		return list
	}
	for _, y := range measure.Of(pl).Yarns {
		if y.Short == 0 {
			continue
		}
		yarn := &p.Yarns[y.No-1]
		f := finding.Finding{Code: finding.YarnShort, Severity: finding.Warn,
			Text: fmt.Sprintf("%s takes %.0f g, with %.0f%% over %s; %d in hand, %d missing.",
				words.Capital(yarn.Name), y.Grams, 100*p.Options.Margin,
				words.Count(y.Balls, "ball", "balls"), yarn.Have, y.Short),
			Fix: fmt.Sprintf("Have %d more of %s by you before you begin", y.Short, yarn.Name)}
		if at := y.Out; at.Pass > 0 && yarn.Have > 0 {
			f.Section, f.Rows = at.Section, [2]int{at.Row, at.Row}
			if s := pl.Section(at.Section); s != nil {
				f.Needles = s.InWork(max(1, at.Row))
			}
			f.Text += fmt.Sprintf(" What is in hand is used up in row %d of %s", at.Row, p.Section(at.Section).Title())
			if at.Of > 1 {
				f.Text += fmt.Sprintf("; the last whole repeat is %d of %d", at.Repeat, at.Of)
			}
			f.Text += "."
		}
		list = append(list, f)
	}
	return list
}

func otherSwatch(pl *pass.Plan, i int, technique string) finding.Finding {
	s := &pl.Piece.Sections[i]
	return finding.Finding{Code: finding.SwatchOther, Severity: finding.Warn, Section: i + 1, Rows: [2]int{1,
		pl.Piece.RowsOf(s)}, Needles: pl.Piece.Work(),
		Text: fmt.Sprintf("The swatch was knitted in %s, and %s is %s: its size and yarn will be others.", technique,
			s.Title(), s.Technique.Name),
		Fix: fmt.Sprintf("Knit a sample in %s and measure that", s.Technique.Name)}
}
