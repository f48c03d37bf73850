package check

import (
	"slices"
	"vindel/knit/card"
	"vindel/knit/fabric"
	"vindel/knit/finding"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// Result is everything the core says about a piece.
type Result struct {
	Plan     *pass.Plan
	Fabric   *fabric.Fabric
	Findings []finding.Finding // the gravest first, then as the piece is knitted
}

// checks are what is looked for in every piece, one file each; what only the sections of one
// technique can have is with the technique.
var checks = []func(pl *pass.Plan, f *fabric.Fabric) []finding.Finding{differs, floats, tucks}

// Run plans the piece, knits it on the simulated bed and checks both.
func Run(p *piece.Piece) *Result { return Of(plan.Make(p)) }

// Of knits a plan on the simulated bed and checks both.
func Of(pl *pass.Plan) *Result {
	f := technique.Prove(pl)
	r := &Result{Plan: pl, Fabric: f, Findings: slices.Concat(pl.Findings, f.Faults)}
	for _, find := range checks {
		r.Findings = append(r.Findings, find(pl, f)...)
	}
	for _, s := range pl.Placed {
		if limits := technique.Of(s.Section).Limits; limits != nil {
			r.Findings = append(r.Findings, limits(pl, f, s.No)...)
		}
	}
	r.Findings = append(r.Findings, card.Findings(pl)...)
	finding.Sort(r.Findings)
	return r
}

// Stops says whether a finding stops the plan.
func (r *Result) Stops() bool { return finding.Stops(r.Findings) }
