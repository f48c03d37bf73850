package loops

import (
	"fmt"
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Kind is how a loop came to be.
type Kind uint8

// The kinds of loops. Found is one that was there when the log begins.
const (
	Found  Kind = iota
	Cast        // on a needle, by hand
	Knit        // drawn by the carriage
	Strand      // laid over a needle that tucks, or that waits in hold
	Wrap        // laid round a needle by hand
	Short       // drawn by hand, as long as a carriage stitch
	Long        // drawn by hand, out to the length of the bed
	kinds
)

func (k Kind) String() string {
	return [kinds]string{"found", "cast", "knit", "strand", "wrap", "short", "long"}[k]
}

// Drawn says that loops of the kind are drawn through what the needle held.
func (k Kind) Drawn() bool { return k == Knit || k == Short || k == Long }

// ID is a loop's number in its log, from 0.
type ID int32

// Loop is one loop. Through is the loops that it was drawn through, as a stretch of the log's
// list (Log.Through).
type Loop struct {
	Yarn, Under piece.YarnNo // Under: the second yarn of a loop of two; 0: none
	Bed         machine.BedNo
	Kind        Kind
	Needle      int16 // on which it was made, a machine.Needle
	Size        uint16
	Pass        int32 // passes begun before it was made, its own included; in the log's section
	from, upto  int32
}

// Log is all loops in the order in which they were made, and those that were let go.
type Log struct {
	Loops   []Loop
	Gone    []ID // let go, in their order
	through []ID
	moved   []uint64 // a bit a loop: it has been moved
	sizes   []string
}

// Through is the loops that loop i was drawn through, oldest first.
func (g *Log) Through(i ID) []ID { return g.through[g.Loops[i].from:g.Loops[i].upto] }

// Moved says that a loop has been moved to another needle.
func (g *Log) Moved(i ID) bool { return int(i>>6) < len(g.moved) && g.moved[i>>6]>>(i&63)&1 == 1 }

// SizeNo is a stitch size's number, by which loops keep it.
func (g *Log) SizeNo(size string) uint16 {
	i := slices.Index(g.sizes, size)
	if i < 0 {
		i, g.sizes = len(g.sizes), append(g.sizes, size)
	}
	return uint16(i)
}

// Size is the stitch size with a number.
func (g *Log) Size(no uint16) string { return g.sizes[no] }

// Beds is the needles of both beds with what they hold. Log is what has been written down.
type Beds struct {
	Log
	stacks [2][machine.MaxBed]stack
	Holds  [2]machine.Set // the needles that hold a loop
	Over   [2]machine.Set // those that hold more than one
	Most   int            // the most loops that a needle has carried
}

// stack is nearly always one loop.
type stack struct {
	n     int
	first ID
	more  []ID
}

func (b *Beds) at(bed machine.BedNo, n machine.Needle) *stack {
	return &b.stacks[bed][n+machine.MaxBed/2]
}

// Len is how many loops a needle holds.
func (b *Beds) Len(bed machine.BedNo, n machine.Needle) int { return b.at(bed, n).n }

// Oldest is the oldest loop on a needle that holds one.
func (b *Beds) Oldest(bed machine.BedNo, n machine.Needle) ID { return b.at(bed, n).first }

// Stack is the loops on a needle, oldest first.
func (b *Beds) Stack(bed machine.BedNo, n machine.Needle) []ID {
	s := b.at(bed, n)
	if s.n == 0 {
		return nil
	}
	return append([]ID{s.first}, s.more...)
}

func (b *Beds) push(bed machine.BedNo, n machine.Needle, id ID) {
	s := b.at(bed, n)
	if s.n == 0 {
		s.first = id
		b.Holds[bed].Add(n)
	} else {
		s.more = append(s.more, id)
		b.Over[bed].Add(n)
	}
	s.n++
	b.Most = max(b.Most, s.n)
}

// Expect makes room for so many loops.
func (b *Beds) Expect(n int) {
	b.Loops, b.through = slices.Grow(b.Loops, n), slices.Grow(b.through, n)
}

func (b *Beds) make(l Loop) ID {
	if n := len(b.Loops); n == cap(b.Loops) {
		b.Expect(max(n, 256)) // twice as many: they are copied less often
	}
	b.Loops = append(b.Loops, l)
	return ID(len(b.Loops) - 1)
}

// Draw draws a new loop through the whole stack of a needle, which then holds it alone.
func (b *Beds) Draw(bed machine.BedNo, n machine.Needle, l Loop) ID {
	s := b.at(bed, n)
	l.Bed, l.Needle, l.from = bed, int16(n), int32(len(b.through))
	if s.n > 0 {
		b.through = append(append(b.through, s.first), s.more...)
	}
	l.upto = int32(len(b.through))
	id := b.make(l)
	switch s.n {
	case 1:
		s.first = id
		return id
	case 0:
	default:
		b.Over[bed].Remove(n)
	}
	s.n, s.more = 0, s.more[:0]
	b.push(bed, n, id)
	return id
}

// Lay lets a loop join the stack of a needle: a strand, a wrap, a loop cast on.
func (b *Beds) Lay(bed machine.BedNo, n machine.Needle, l Loop) ID {
	l.Bed, l.Needle = bed, int16(n)
	id := b.make(l)
	b.push(bed, n, id)
	return id
}

// Lift takes the whole stack off a needle, oldest first.
func (b *Beds) Lift(bed machine.BedNo, n machine.Needle) []ID {
	stack := b.Stack(bed, n)
	s := b.at(bed, n)
	s.n, s.more = 0, s.more[:0]
	b.Holds[bed].Remove(n)
	b.Over[bed].Remove(n)
	return stack
}

// Standing is what the needles hold, as loops that another log finds: bed by bed, from the left,
// oldest first.
func (b *Beds) Standing() (list []Loop) {
	for bed := range b.Holds {
		for n := range b.Holds[bed].All() {
			for _, id := range b.Stack(machine.BedNo(bed), n) {
				l := b.Loops[id]
				list = append(list, Loop{Yarn: l.Yarn, Under: l.Under, Bed: machine.BedNo(bed), Needle: int16(n)})
			}
		}
	}
	return list
}

// Put puts loops down on a needle, over what lies there.
func (b *Beds) Put(bed machine.BedNo, n machine.Needle, stack []ID) {
	for _, id := range stack {
		for int(id>>6) >= len(b.moved) {
			b.moved = append(b.moved, 0)
		}
		b.moved[id>>6] |= 1 << (id & 63)
		b.push(bed, n, id)
	}
}

// Let lets the stack of a needle go.
func (b *Beds) Let(bed machine.BedNo, n machine.Needle) []ID {
	stack := b.Lift(bed, n)
	b.Gone = append(b.Gone, stack...)
	return stack
}

// Runs yields to f every loop that runs down when the loops given are let go: those of them
// that were drawn through others, those others, what they were drawn through, and so on. deep is
// how many rows it goes down at most.
func (g *Log) Runs(gone []ID, f func(ID)) (deep int) {
	for _, id := range gone {
		if l := &g.Loops[id]; l.upto == l.from {
			continue // drawn through nothing: a pile, a strand
		}
		f(id)
		at, rows := []ID{id}, 0
		for ; len(at) > 0; rows++ {
			var next []ID
			for _, i := range at {
				for _, j := range g.Through(i) {
					f(j)
					next = append(next, j)
				}
			}
			at = next
		}
		deep = max(deep, rows-1)
	}
	return deep
}

// Differ is the first thing in which two runs differ: the loop at which they part (-1: none,
// only what is left or let go differs), and in words.
func Differ(a, b *Beds) (at ID, what string, differ bool) {
	for i := range min(len(a.Loops), len(b.Loops)) {
		x, y, id := &a.Loops[i], &b.Loops[i], ID(i)
		if x.Kind == Found && y.Kind == Found && x.Bed == y.Bed && x.Needle == y.Needle {
			continue // whoever made it
		}
		if x.Yarn != y.Yarn || x.Under != y.Under || x.Bed != y.Bed || x.Needle != y.Needle || x.Kind != y.Kind ||
			x.Pass != y.Pass || x.upto-x.from != y.upto-y.from ||
			x.Size != y.Size && a.Size(x.Size) != b.Size(y.Size) || !slices.Equal(a.Through(id), b.Through(id)) {
			return id, fmt.Sprintf("%s is meant, and %s is made", a.words(id), b.words(id)), true
		}
	}
	switch n := min(len(a.Loops), len(b.Loops)); {
	case len(a.Loops) > n:
		return ID(n), fmt.Sprintf("%s is meant, and not made", a.words(ID(n))), true
	case len(b.Loops) > n:
		return ID(n), fmt.Sprintf("%s is made, and not meant", b.words(ID(n))), true
	}
	if !slices.Equal(a.Gone, b.Gone) {
		return -1, fmt.Sprintf("%d loops are to be let go, and %d others are", len(a.Gone), len(b.Gone)), true
	}
	for bed := range a.stacks {
		for i := range a.stacks[bed] {
			n := machine.Needle(i - machine.MaxBed/2)
			if no := machine.BedNo(bed); !slices.Equal(a.Stack(no, n), b.Stack(no, n)) {
				return -1, fmt.Sprintf("%v of the %v bed is to hold %s, and holds %s", n, no, a.held(no, n),
					b.held(no, n)), true
			}
		}
	}
	return 0, "", false
}

// words is a loop in words: "a strand of yarn 2 on L5 of the main bed, size 6, pass 14".
func (g *Log) words(i ID) string {
	l := &g.Loops[i]
	yarn := fmt.Sprintf("yarn %d", l.Yarn)
	if l.Under != 0 {
		yarn += fmt.Sprintf(" and %d", l.Under)
	}
	size := ""
	if int(l.Size) < len(g.sizes) && g.sizes[l.Size] != "" {
		size = ", size " + g.sizes[l.Size]
	}
	return fmt.Sprintf("a %v of %s on %v of the %v bed through %d%s, pass %d", l.Kind, yarn,
		machine.Needle(l.Needle), l.Bed,
		l.upto-l.from, size, l.Pass)
}

func (b *Beds) held(bed machine.BedNo, n machine.Needle) string {
	if b.Len(bed, n) == 0 {
		return "nothing"
	}
	return fmt.Sprintf("%d loops, the first %s", b.Len(bed, n), b.words(b.Oldest(bed, n)))
}
