// Package check runs a piece through the whole core and gathers what is to be said
// about it: placing, plan, simulated fabric, floats, card and program.
//
//	result := check.Run(piece)   // never fails; result.Findings says what is wrong
package check
