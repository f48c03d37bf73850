// Package recipe is the language for what no chart can hold: passes and hand steps that go
// round and round, as a short text.
//
//	lex.go    the text as words with their places
//	node.go   what a line is; every node prints itself
//	parse.go  words into nodes, all faults of a text at once
//	sense.go  faults that show before a recipe is run: names, yarns, charts, places
//	number.go, set.go  what numbers and sets of needles come to, in a round and on a bed
//	run.go    the meaning of a recipe on loops, step by step (run_pass.go: of a pass)
//	remark.go what a run notices on its way
//
// A run gives a list of acts, which the planner turns into passes and hand steps of a machine,
// and the loops that they make by the language's own rules. The plan's simulation is another
// road to the same loops; both are compared in technique.
//
// It imports piece, finding, loops and what lies below them.
package recipe
