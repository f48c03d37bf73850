// Package loom is what techniques make passes on. It keeps what goes on from pass to pass:
// where carriages stand, what is in the feeders and where yarns hang, how the cams and the
// stitch size are set, the counter, the weights; and it adds to each pass the hand steps
// that what it needs asks for.
//
//	p := l.New(work, machine.Slipping)   // a pass of this row, from where the carriage stands
//	p.Main().Select = …                  // what the technique knows
//	l.Go(p)                              // cams, size, yarns, carriage: what has to change first
//
// Yarns are shared out over the whole piece before anything is knitted: Feeders for two
// feeders (fewest threadings), Leads for one (fewest cuts).
//
// It imports pass and what lies below it, and knows no technique.
package loom
