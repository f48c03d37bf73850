package technique

import (
	"vindel/knit/chart"
	"vindel/knit/machine"
)

// Transfers of one lace row (rules 5.5), from the marks as they lie on the bed. Each
// stitch used by the row stands on a needle and is wanted on another; stitches of one
// decrease are wanted on the same. A shift moves some stacks one needle each, all the
// same way: never two neighbours, and only onto a needle that is empty or holds a stitch
// of the same decrease.
//
//	marks      /  .  .  o          shift 1   1→0       the decrease first,
//	stitch     0  1  2  3          shift 2   2→1       then what stands behind it,
//	wanted on  0  0  1  2          shift 3   3→2       one needle a shift
//
// In a stretch over which the count returns to even, the stitches that go right stand
// left of those that go left, and the two meet at most over a stitch that stays. So the
// two ways never hinder each other, and each is best served by moving, at every shift,
// whatever can move. Where two stitches of one decrease stand side by side, the hind one
// goes onto the one before it instead: they go on together, and the needle behind is
// free a shift sooner. The tests hold this to a search of everything.
//
// Lean. The stitch that was there first shows on top of the knit side. The shortest
// route stacks a decrease as it comes; `exact` first folds every stitch of a decrease
// onto the one that is to show, then moves the stack.
type transfers struct {
	from  machine.Needle
	exact bool
	on    []int32 // what the stitch or stack on each needle is wanted as: its target; -1: no stitch
	size  []int8  // stitches on each needle
	full  []int8  // by target: stitches of the decrease
	top   []int32 // by target: where the stitch that shows on top stands
}

// shift is one set of stacks that move one needle to one side together.
type shift struct {
	needles machine.Set
	dir     machine.Side
	fine    bool
}

// newTransfers begins a row; marks[0] lies on needle from. The marks must use as many
// stitches as they make.
func newTransfers(marks []chart.Stitch, from machine.Needle, exact bool) *transfers {
	w := len(marks)
	words := make([]int32, 2*w)
	bytes := make([]int8, 2*w)
	t := &transfers{from: from, exact: exact, on: words[:w], top: words[w:], size: bytes[:w], full: bytes[w:]}
	j := 0
	for i, m := range marks {
		n := m.Uses()
		t.full[i] = int8(n)
		switch m {
		case chart.LeanRight: // on the bed: its left stitch shows
			t.top[i] = int32(j)
		case chart.LeanLeft, chart.Centre:
			t.top[i] = int32(j + 1)
		default:
			t.top[i] = int32(j)
		}
		for range n {
			if j < w {
				t.on[j], t.size[j] = int32(i), 1
			}
			j++
		}
	}
	return t
}

// wish is the way the stack on needle index x would go: -1 left, 1 right, 0 nowhere.
func (t *transfers) wish(x int) int {
	to := t.on[x]
	if to < 0 {
		return 0
	}
	if t.exact && t.full[to] > 1 && t.size[x] < t.full[to] {
		return sign(int(t.top[to]) - x) // fold first; the stitch that shows waits
	}
	return sign(int(to) - x)
}

// othersShow is the decreases whose stitches the shortest route stacks in another order
// than the chart draws, given the marks as they lie on the bed from needle `from`.
func othersShow(marks []chart.Stitch, from machine.Needle) (set machine.Set) {
	j := 0
	for i, m := range marks {
		n := m.Uses()
		natural := true
		switch m {
		case chart.LeanRight: // its left stitch shows where the pair does not go right
			natural = i <= j
		case chart.LeanLeft:
			natural = i >= j+1
		case chart.Centre:
			natural = i == j+1
		}
		if !natural {
			set.Add(from + machine.Needle(i))
		}
		j += n
	}
	return set
}

func sign(n int) int {
	switch {
	case n < 0:
		return -1
	case n > 0:
		return 1
	}
	return 0
}

// free says that the stack on x may be put on the needle one to the side of it.
func (t *transfers) free(x, way int) bool {
	to := x + way
	return to >= 0 && to < len(t.on) && (t.on[to] < 0 || t.on[to] == t.on[x])
}

// move puts the stack on x one to the side.
func (t *transfers) move(x, way int) {
	to, target := x+way, t.on[x]
	t.on[to], t.size[to] = target, t.size[to]+t.size[x]
	t.on[x], t.size[x] = -1, 0
	if t.top[target] == int32(x) {
		t.top[target] = int32(to)
	}
}

// done says that every stitch is where it is wanted.
func (t *transfers) done() bool {
	for x := range t.on {
		if t.wish(x) != 0 {
			return false
		}
	}
	return true
}

// sweep moves, in one pass to the given side, everything that can move, and gives the
// needles whose stitches it moved. It looks from behind, against the way.
func (t *transfers) sweep(dir machine.Side) (moved machine.Set) {
	way, x, end := -1, len(t.on)-1, -1
	if dir == machine.Right {
		way, x, end = 1, 0, len(t.on)
	}
	for ; x != end; x += way {
		if t.wish(x) == way && t.free(x, way) {
			moved.Add(t.from + machine.Needle(x))
			x += way // its neighbour must be at rest to receive
		}
	}
	for n := range moved.All() {
		t.move(int(n-t.from), way)
	}
	return moved
}

// separate is the row's shifts for a carriage that transfers on each way what was selected
// on the way before: to the left first, left and right by turns, the last to the left.
// With the selecting pass before them they are 2n passes for a block of n stitches that
// goes left, 2n + 2 for one that goes right.
func (t *transfers) separate() (shifts []shift) { return t.byTurns(machine.Left, machine.Left) }

// combined is the row's shifts for a carriage that selects and transfers in one pass: to
// the right first, and as many ways back, so that it ends on the left.
func (t *transfers) combined() (shifts []shift) { return t.byTurns(machine.Right, machine.Left) }

func (t *transfers) byTurns(dir, last machine.Side) (shifts []shift) {
	for !t.done() || len(shifts) > 0 && shifts[len(shifts)-1].dir != last {
		shifts = append(shifts, shift{t.sweep(dir), dir, false})
		dir = dir.Other()
	}
	return shifts
}

// byHand is the row's moves for tools of one, two and three prongs. A tool lifts
// neighbours together, so they need not wait for one another; the widest tool that can
// work anywhere comes first, and a shift lists all needles where it does the same.
func (t *transfers) byHand() (shifts []shift, tools []int) {
	for !t.done() {
		s, tool := t.widest()
		way := -1
		if s.dir == machine.Right {
			way = 1
		}
		// The foremost goes first: the others land where it stood.
		list := make([]int, 0, s.needles.Len())
		for n := range s.needles.All() {
			list = append(list, int(n-t.from))
		}
		for i := range list {
			x := list[i]
			if way > 0 {
				x = list[len(list)-1-i]
			}
			t.move(x, way)
		}
		shifts, tools = append(shifts, s), append(tools, tool)
	}
	return shifts, tools
}

// widest finds the widest tool that can work, and all the needles where it can to one side.
func (t *transfers) widest() (best shift, tool int) {
	for _, dir := range []machine.Side{machine.Left, machine.Right} {
		way, x, end := -1, 0, len(t.on)
		if dir == machine.Right {
			way, x, end = 1, len(t.on)-1, -1
		}
		for ; x != end; x -= way { // from the front, so that the foremost of a train is met first
			if t.wish(x) != way || !t.free(x, way) {
				continue
			}
			n := 1
			for n < 3 && x-n*way != end && t.wish(x-n*way) == way {
				n++
			}
			if n > tool {
				best, tool = shift{dir: dir}, n
			}
			if n == tool && best.dir == dir {
				for i := range n {
					best.needles.Add(t.from + machine.Needle(x-i*way))
				}
			}
			x -= (n - 1) * way
			for x-way != end && t.wish(x-way) == way { // the rest of the train waits
				x -= way
			}
		}
	}
	return best, tool
}
