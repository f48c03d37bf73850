// Package technique is the ways to knit, one file each: what a piece file may say of it, what
// yarns its rows need, the passes that make them, and, said apart from those, what the fabric
// must be.
//
//	technique.All          every technique, in the order of the rules
//	technique.Of(section)  the one of a section
//	technique.Prove(plan)  the plan knitted on the simulated bed, and compared
//
// docs/techniques.md tells how to add one. It imports loom, fabric and what lies below them.
package technique
