// Package card makes punch cards and electronic programs from a plan: which holes,
// which numbers and marks beside them, and whether machine and memory can hold them.
//
//	column 1 of the card selects needle card_origin and every 24th from it;
//	card row 1 is the bottom; the two overlapping rows lie at the top.
//
// It imports pass and what lies below it.
package card
