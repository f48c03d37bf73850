// Package project is several pieces that belong together: a left and a right that are each other's mirror, a
// back and two halves. It says what they take of each yarn, and how they are put together: which edges meet,
// how long each is and how many stitches it has, and how many are picked up along it.
//
// It imports the outline of pieces and nothing of screens or disks.
package project
