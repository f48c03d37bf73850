// Package measure says how large a planned piece comes out, what it takes of each yarn, and how
// long it takes: by swatch, ball and plan (rules 7). It imports the plan of passes and what stands
// beside it; check, the pages and the command line import it.
package measure
