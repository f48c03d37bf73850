// Package step is what hands do before a pass: a hand step is a value of its verb, one file a verb, or a few that
// are one verb in the plan's JSON.
//
//	Step      what every verb tells: its word, what is said, when it is due, what comes of it
//	 ├ At     of the verbs that are about needles of a bed
//	 └ Edge   of the verbs that move an edge of the work
//	Standing  what hands change: needles, stitches, threads, carriages, controls, card and counter
//
// A verb is decided here and nowhere else. Who plans makes values; who simulates, draws or lists them asks. A new
// verb is one file, a row of All, and a method of Standing where it changes what nothing changed before.
//
// It imports piece and what lies below it.
package step
