// Package plan turns a piece into the ordered list of carriage passes that knits it, with
// the hand steps between them. It places the sections, asks each technique what yarns its
// rows need, shares those out over the whole piece, lets the techniques make their passes on
// the loom, and settles what only the whole list can tell: which pass reads which line.
//
//	pl := plan.Make(piece)      // never fails; what stands in the way is in pl.Findings
//
// It imports technique and what lies below it.
package plan
