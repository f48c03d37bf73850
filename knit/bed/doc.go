// Package bed places a section's areas on the needles: which yarn and stitch each
// needle is to make in each row, as the knitter faces the bed (purl side).
//
//	chart, seen on the knit side   ..#     on the bed   #..
//	                               .##                  ##.
//
// It imports piece and what lies below it; it plans nothing.
package bed
