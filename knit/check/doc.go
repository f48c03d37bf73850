// Package check runs a piece through the whole core and gathers what is to be said
// about it: placing, plan, simulated fabric, floats, card and program.
//
//	result := check.Run(piece)   // never fails; result.Findings says what is wrong
//
// Each check of every piece is a file here, and stands in the list in check.go. It imports
// card, plan and what lies below them.
package check
