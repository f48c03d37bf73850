package check

import (
	"fmt"
	"strings"

	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// floats reports the yarns that run too far behind the fabric (rules 5.1), for each
// yarn of each chart row. A row that comes again in a later repeat is told once.
func floats(pl *pass.Plan, f *fabric.Fabric) (out []finding.Finding) {
	limit := pl.Piece.FloatLimit()
	if f.Longest.Stitches() <= limit {
		return nil
	}
	type told struct {
		section, row int
		yarn         piece.YarnNo
	}
	seen := map[told]bool{}
	for i := range pl.Passes {
		p := &pl.Passes[i]
		if p.Row() == 0 {
			continue
		}
		long := f.LongFloats(i, limit)
		for len(long) > 0 {
			y, n := long[0].Yarn, 0
			for n < len(long) && long[n].Yarn == y {
				n++
			}
			s := pl.Section(p.Section)
			if key := (told{p.Section, (p.Row() - 1) % s.Cycle, y}); !seen[key] {
				seen[key] = true
				out = append(out, floatFinding(pl, p, long[:n], limit))
			}
			long = long[n:]
		}
	}
	return out
}

// floatFinding is one finding for all long floats of a yarn in one row.
func floatFinding(pl *pass.Plan, p *pass.Pass, long []fabric.Float, limit int) finding.Finding {
	s := pl.Section(p.Section)
	worst := long[0]
	var needles machine.Set
	for _, f := range long {
		needles = needles.Or(machine.Range(f.First, f.Last))
		if f.Stitches() > worst.Stitches() {
			worst = f
		}
	}
	yarn := pl.Piece.YarnName(worst.Yarn)
	var text strings.Builder
	fmt.Fprintf(&text, "Row %d: %s floats %d stitches, %.0f mm, behind %v to %v", p.Row(), yarn, worst.Stitches(),
		float64(worst.Stitches())*pl.Piece.StitchMM(), worst.First, worst.Last)
	if n := len(long) - 1; n > 0 {
		fmt.Fprintf(&text, ", and over the limit in %d more %s", n, words.Plural(n, "place", "places"))
	}
	if s.Rows > s.Cycle {
		text.WriteString(", in each repeat")
	}
	fmt.Fprintf(&text, ". The limit is %d: it will snag.", limit)
	out := finding.Finding{Code: finding.FloatLong, Severity: finding.Warn, Section: p.Section,
		Rows: [2]int{p.Row(), p.Row()}, Needles: needles, Text: text.String()}
	catch := catches(long, limit)
	if !catch.And(s.Covered).Empty() {
		row := p.Row()
		out.Mend = func() []edit.Change { return s.Repaint(catch, row, worst.Yarn, pl.Piece) }
		out.Fix = fmt.Sprintf("Catch %s at %v", yarn, firstFew(catch))
	} else {
		out.Fix = fmt.Sprintf("Let %s knit a stitch at %v", yarn, firstFew(catch))
	}
	return out
}

// catches is where one stitch of the floating yarn would break each long float into
// stretches within the limit, evenly spaced.
func catches(long []fabric.Float, limit int) (at machine.Set) {
	for _, f := range long {
		n := f.Stitches()
		breaks := n / (limit + 1)
		for b := 1; b <= breaks; b++ {
			at.Add(f.First + machine.Needle((n+1)*b/(breaks+1)-1))
		}
	}
	return at
}

func firstFew(s machine.Set) string {
	var words []string
	for n := range s.All() {
		if len(words) == 4 {
			return strings.Join(words, ", ") + " and so on"
		}
		words = append(words, n.String())
	}
	return strings.Join(words, ", ")
}
