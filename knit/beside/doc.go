// Package beside is what stands beside a pass: what a knitter sees if all is well before it,
// what it takes and what changes, how it stands on the row rail and on the sheet for hand
// selection, how long it takes, and where in a plan she is.
//
//	band := beside.Before(fabric, i)   // everything to be told before pass i
//
// It decides what is said, not how it is drawn. It imports fabric and what lies below it.
package beside
