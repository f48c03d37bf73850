package check

import (
	"vindel/knit/card"
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
func Run(p *piece.Piece) *Result {
	pl := plan.Make(p)
	f := fabric.Knit(pl)
	r := &Result{Plan: pl, Fabric: f}
	r.Findings = append(r.Findings, pl.Findings...)
	r.Findings = append(r.Findings, f.Faults...)
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
