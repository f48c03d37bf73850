package check

import (
	"fmt"

	"vindel/knit/card"
	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/plan"
)

// Result is everything the core says about a piece.
type Result struct {
	Plan     *plan.Plan
	Fabric   *fabric.Fabric
	Findings []finding.Finding // the gravest first, then as the piece is knitted
}

// Run plans the piece, knits it on the simulated bed and checks both.
func Run(p *piece.Piece) *Result { return Of(plan.Make(p)) }

// Of knits a plan on the simulated bed and checks both.
func Of(pl *plan.Plan) *Result {
	f := fabric.Knit(pl)
	r := &Result{Plan: pl, Fabric: f}
	r.Findings = append(r.Findings, pl.Findings...)
	r.Findings = append(r.Findings, f.Faults...)
	r.Findings = append(r.Findings, differs(f)...)
	r.Findings = append(r.Findings, floats(pl, f)...)
	r.Findings = append(r.Findings, stitches(pl, f)...)
	r.Findings = append(r.Findings, wefts(pl)...)
	r.Findings = append(r.Findings, lace(pl, f)...)
	r.Findings = append(r.Findings, card.Findings(pl)...)
	finding.Sort(r.Findings)
	return r
}

// Stops says whether a finding stops the plan.
func (r *Result) Stops() bool { return finding.Stops(r.Findings) }

// differs says that the simulated fabric is not what the charts ask for. Where the first
// stitches that differ show a yarn of their own, the charts can be drawn so.
func differs(f *fabric.Fabric) []finding.Finding {
	if f.Differences == 0 {
		return nil
	}
	p, at := f.Plan.Piece, f.Wrong
	out := finding.Finding{Code: "fabric-differs", Severity: finding.Stop, Needles: p.Work(),
		Text: fmt.Sprintf("Knitted so, the fabric is not what is drawn: %d %s. The first: %s.", f.Differences, plural(f.Differences, "stitch differs", "stitches differ"), f.First)}
	if at.Row == 0 || at.Yarn == 0 {
		return []finding.Finding{out}
	}
	out.Section, out.Rows, out.Needles = at.Section, [2]int{at.Row, at.Row}, at.Needles
	if s := f.Plan.Placed[at.Section-1]; !at.Needles.And(s.Covered).Empty() {
		out.Fix = fmt.Sprintf("Draw %v in %s", at.Needles, p.YarnName(at.Yarn))
		out.Mend = func() []edit.Change { return s.Repaint(at.Needles, at.Row, at.Yarn, p) }
	}
	return []finding.Finding{out}
}
