package loom

import (
	"vindel/knit/bed"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
)

// Work is what is knitted in one go: a row of a placed section, with the yarns that were
// shared out for it in feeder order, or in knitting order where each takes a pass of its own.
type Work struct {
	Placed *bed.Placed
	Row    int // of the section, from 1
	Need   *Need
	Yarns  []piece.YarnNo
}

// Need is the yarns that a row takes, in the order of the file.
type Need struct {
	Yarns []piece.YarnNo
	Free  bool           // either of two may go in either feeder, or lead
	Idle  int            // passes that the row makes without a yarn from the feeder
	Empty int            // passes of the empty carriage before the row
	Fetch bool           // one more, where its first yarn hangs on the far side (rules 5.2)
	Laid  []piece.YarnNo // yarns that it lays by hand
	// Those of them of which a bobbin then hangs within reach of the left and right edge.
	Reach [2][]piece.YarnNo
	Twice bool          // each of its yarns knits two passes
	Shows []machine.Set // the needles that show each, where the technique has looked
}

// Only is a need of one yarn; none where it is 0.
func Only(y piece.YarnNo) Need {
	if y == 0 {
		return Need{}
	}
	return Need{Yarns: []piece.YarnNo{y}}
}

// yarn is the i-th yarn of the need, from 0; 0 where there are not so many.
func (n *Need) yarn(i int) piece.YarnNo {
	if i < len(n.Yarns) {
		return n.Yarns[i]
	}
	return 0
}

// ways is how many orders of its yarns a row may have: two, or the one it is written in.
func (n *Need) ways() int {
	if n.Free && len(n.Yarns) == 2 {
		return 2
	}
	return 1
}

// way is the row's yarns in one of its orders: as written, or, for 1, the other way round.
func (n *Need) way(w int) []piece.YarnNo {
	if w == 1 {
		return []piece.YarnNo{n.Yarns[1], n.Yarns[0]}
	}
	return n.Yarns
}

// at is the i-th yarn (from 0) in order w.
func (n *Need) at(w, i int) piece.YarnNo {
	if w == 1 {
		i = 1 - i
	}
	return n.yarn(i)
}

// touches is how many needles fingers bring forward in order w: those of the second of two yarns.
func (n *Need) touches(w int) int {
	if len(n.Yarns) != 2 || len(n.Shows) != 2 {
		return 0
	}
	if w == 1 {
		return n.Shows[0].Len()
	}
	return n.Shows[1].Len()
}

// Shows is the needles that show yarn y in a row of two; none where it takes one.
func (w Work) Shows(y piece.YarnNo) machine.Set {
	if len(w.Need.Yarns) < 2 {
		return machine.Set{}
	}
	for i, other := range w.Need.Yarns {
		if other == y {
			return w.Need.Shows[i]
		}
	}
	return machine.Set{}
}

// ShowsOf is the needles that show yarn y, of any number in the row.
func (n *Need) ShowsOf(y piece.YarnNo) machine.Set {
	for i, other := range n.Yarns {
		if other == y && i < len(n.Shows) {
			return n.Shows[i]
		}
	}
	return machine.Set{}
}

// Yarn is the yarn shared out for feeder f, from 1; 0: none.
func (w Work) Yarn(f int) piece.YarnNo {
	if f <= len(w.Yarns) {
		return w.Yarns[f-1]
	}
	return 0
}

// InWork is the needles at work in the row.
func (w Work) InWork() machine.Set { return w.Placed.InWork(w.Row) }

// part is the pass's row, as the pass keeps it.
func (w Work) part(n int) pass.RowPart { return pass.RowPart{Row: w.Row, Part: n} }
