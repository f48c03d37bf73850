package check

import (
	"fmt"

	"vindel/knit/bed"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/pass"
	"vindel/knit/words"
)

// differs says that the simulated fabric is not what the charts ask for. Where the first
// stitches that differ show a yarn of their own, the charts can be drawn so.
func differs(pl *pass.Plan, f *fabric.Fabric) []finding.Finding {
	if f.Differences == 0 {
		return nil
	}
	p, at := f.Plan.Piece, f.Wrong
	if pl.Stopped.Row > 0 && (at.Row == 0 || at.Yarn == 0) {
		return nil // it is for the stop that the rest, or the other part, is not there
	}
	out := finding.Finding{Code: finding.FabricDiffers, Severity: finding.Stop, Needles: p.Work(),
		Text: fmt.Sprintf("Knitted so, the fabric is not what is drawn: %d %s. The first: %s.", f.Differences,
			words.Plural(f.Differences, "stitch differs", "stitches differ"), f.First)}
	if at.Row == 0 || at.Yarn == 0 {
		return []finding.Finding{out}
	}
	out.Section, out.Rows, out.Needles = at.Section, [2]int{at.Row, at.Row}, at.Needles
	if s := f.Plan.Section(at.Section); !at.Needles.And(s.Covered).Empty() {
		out.Fix = fmt.Sprintf("Draw %v in %s", at.Needles, p.YarnName(at.Yarn))
		out.Mend = func() []edit.Change { return s.Repaint(at.Yarn, p, bed.Spot{Needles: at.Needles, Row: at.Row}) }
	}
	return []finding.Finding{out}
}
