// Package loops is two beds of needles on which every loop has a life of its own: who made it,
// of which yarn and size, and through which loops it was drawn.
//
//	    L1                  R1            Draw   a new loop through the whole stack
//	┌ strand  A ┐       ┌ knit  B ┐       Lay    a loop joins the stack
//	└ knit    A ┘       └─────────┘       Lift   the stack is taken off, and put down elsewhere
//	drawn through       drawn through     Let    the stack is let go; what it was drawn through
//	pass 11's loop      nothing                  runs down
//
// Each of these is one method with one test. A Log is everything that ever happened to the
// loops, in its order: two runs that come to the same have the same Log. The direct meaning of
// a recipe and the simulated machine each drive beds of their own; what they do with them they
// decide by themselves.
//
// It imports machine and the yarn numbers of piece, and knows no pass and no recipe.
package loops
