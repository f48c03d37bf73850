// Package outline is the shape of a piece as one would lay it on a table: which needles are at work in every
// row, where its corners lie in millimetres, and how long each of its edges is.
//
//	o := outline.Of(plan)
//	for _, e := range o.Edges { fmt.Println(e) } // cast-on: 40 stitches, 145 mm …
//
// It is read off the plan and imports nothing of screens or paper.
package outline
