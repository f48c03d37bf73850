// Package piece is what is to be knitted: machine, yarns, charts, needles and
// sections, as a piece file (JSON) says it. Read checks everything that can be
// told without placing or planning, and names the place of each fault:
//
//	sections[1].areas[0].first: "L140": the bed ends at L100
//
// It imports chart and machine.
package piece
