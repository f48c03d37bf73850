// Package fabric knits a plan on a model of the bed and gets a fabric: the proof
// that a plan makes its chart, and the source of every picture.
//
// Each needle in work holds a stack of loops, oldest first. A pass lays its yarn
// from the side it starts on:
//
//	knit   the whole stack is cast off through one new loop
//	tuck   a loop joins the stack, nothing is cast off
//	slip   the stack stays, the yarn runs past it
//	hold   the same; but a needle in full hold between two that take the yarn
//	       catches a strand, as a tuck does
//
//	loops.go     the bed: each thing that can happen to a loop, once
//	carriage.go  what a machine does with it, step by step and pass by pass, and its faults
//	record.go    the fabric, stitches by wale; faces.go draws it, floats.go measures it
//	compare.go   what the fabric is held to; the techniques say what that is
//
// Nearly every needle holds one loop nearly always, so the oldest loop's yarn is a byte a
// needle and the rest of a stack is kept apart; a pass works on sets of needles, eight
// needles at a time where it writes yarns.
//
// It imports pass and what lies below it, and knows no technique.
package fabric
