package check

import (
	"context"
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
var checks = []func(pl *pass.Plan, f *fabric.Fabric) []finding.Finding{differs, floats, tucks, racks, turns, measures}

// Run plans the piece, knits it on the simulated bed and checks both.
func Run(p *piece.Piece) *Result {
	r, _ := RunContext(context.Background(), p) // which never ends
	return r
}

// RunContext is Run for as long as somebody waits for it: where the context ends first there
// is no result, and the error is the context's.
func RunContext(ctx context.Context, p *piece.Piece) (*Result, error) {
	pl, err := plan.MakeContext(ctx, p)
	if err != nil {
		return nil, err
	}
	return of(ctx, pl)
}

// Of knits a plan on the simulated bed and checks both.
func Of(pl *pass.Plan) *Result {
	r, _ := of(context.Background(), pl)
	return r
}

func of(ctx context.Context, pl *pass.Plan) (*Result, error) {
	f, err := technique.ProveContext(ctx, pl)
	if err != nil {
		return nil, err
	}
	found := slices.Concat(pl.Findings, plan.Rest(ctx, pl), f.Faults)
	for _, find := range checks {
		if ctx.Err() == nil {
			found = append(found, find(pl, f)...)
		}
	}
	for _, s := range pl.Placed {
		if limits := technique.Of(s.Section).Limits; limits != nil && ctx.Err() == nil {
			found = append(found, limits(pl, f, s.No)...)
		}
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	found = append(found, card.Findings(pl)...)
	finding.Sort(found)
	return &Result{Plan: pl, Fabric: f, Findings: finding.Few(found)}, nil
}

// Stops says whether a finding stops the plan.
func (r *Result) Stops() bool { return finding.Stops(r.Findings) }
