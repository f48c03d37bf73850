// Package paper draws what the core computed: punch cards at true scale, cheat
// sheets and fabrics, as SVG, PDF and PNG. A drawing is told once, to a pen; the
// three kinds of paper are three pens. Lengths are millimetres, y grows downward.
//
// It imports the core, and nothing of pages or disks.
package paper
