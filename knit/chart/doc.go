// Package chart holds charts: rectangles of cells, what each character in them
// means, the side they are drawn for, and their transforms and open formats.
//
//	..##..   row 3      a chart is written top row first, as one reads it,
//	.####.   row 2      and stored bottom row first, as one knits it:
//	#.##.#   row 1      Cells[(row-1)*W + column-1], column 1 at the left
//
// It knows nothing of beds and needles; see package bed for placing.
package chart
