// Package pins holds what is said of pieces to what was said before: plans, findings, cards and key-in sheets,
// measures, edges, all that stands on the page beside the machine and in the pages that find a lost place or a
// mistake. Its tests ask the whole core about every piece of Larkmoor, every shipped recipe and some hundred random
// ones, and compare with the files in testdata:
//
//	go test ./knit/pins -update
//
// writes them anew; the diff is the review. A change that is meant shows there and nowhere else; one that is not is
// noticed although no rule of its own was broken.
package pins
