// Package machine describes knitting machines: beds, needles and sets of
// needles, carriages, cams, and the profiles that say what a make of machine
// can do and what its owner calls its controls.
//
//	L100 … L3 L2 L1 | R1 R2 R3 … R100      as the knitter faces the bed
//	 -100   -3 -2 -1   0  1  2 …   99      Needle, counted along the bed
//
// It imports nothing of Vindel's.
package machine
