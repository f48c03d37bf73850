// Package plan turns a piece into the ordered list of carriage passes that knits
// it, with the hand steps between them. A technique is one file that says what
// yarns each of its rows needs and how a row becomes passes; the yarns are then
// shared out over the whole piece (feeders.go, leads.go), and the planner
// (planner.go) keeps counter, carriage side, cams and selecting passes.
//
//	Make(piece) → *Plan { Passes, After, Findings, Totals }
//
// It imports piece, bed and what lies below them.
package plan
