// Package sketch is where charts come from besides being drawn cell by cell: pictures
// sampled to a width and a number of yarns, lace rows in the words of hand knitters,
// lettering, and rows typed as runs.
//
//	5# 3. 4#                        →  #####...####
//	Row 1 (RS): k1, k2tog, yo, k1   →  .o/.
//
// It imports chart.
package sketch
