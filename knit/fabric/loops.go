package fabric

import (
	"encoding/binary"
	"slices"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// loop is one loop on a needle: where it was formed, and whether it has been transferred.
type loop struct {
	yarn  piece.YarnNo
	home  machine.Needle
	moved bool
}

// needles is one bed's row of needles with what they hold: each a stack of loops, oldest
// first. Nearly every needle holds one loop nearly always, so the oldest loop's yarn is a
// byte a needle and the rest of a stack is kept apart; knitting writes eight needles at a
// time. The tests hold it to a twin that keeps every stack as a list.
type needles struct {
	base  [machine.MaxBed]piece.YarnNo   // yarn of the oldest loop; 0: no loop. R1 in the middle
	above [machine.MaxBed][]loop         // the loops over it
	home  [machine.MaxBed]machine.Needle // where the oldest loop was formed, if it has moved

	work    machine.Set
	forward machine.Set
	hold    machine.Set
	moved   machine.Set // needles whose oldest loop has been transferred
	empty   machine.Set // needles in work without a loop
	stacked machine.Set // needles with loops above
}

// castOn brings needles into work, each with a first loop of y.
func (b *needles) castOn(on machine.Set, y piece.YarnNo) {
	b.work = b.work.Or(on)
	b.knit(on, y)
}

// knit casts off every needle's stack through one new loop of y.
func (b *needles) knit(on machine.Set, y piece.YarnNo) {
	if over := on.And(b.stacked); !over.Empty() {
		for n := range over.All() {
			b.above[n+machine.MaxBed/2] = nil
		}
		b.stacked = b.stacked.Minus(on)
	}
	b.moved, b.empty = b.moved.Minus(on), b.empty.Minus(on)
	paint(b.base[:], on, y)
}

// paint writes y at the places of a row, R1 in the middle, whose needles are in the set.
func paint(row []piece.YarnNo, on machine.Set, y piece.YarnNo) {
	for w, bits := range on {
		for i := 64 * w; bits != 0; i, bits = i+8, bits>>8 {
			if m := spread[bits&0xff]; m != 0 {
				mask(row[i:i+8], m, y)
			}
		}
	}
}

// mask writes y into those of eight places at which m is full.
func mask(at []piece.YarnNo, m uint64, y piece.YarnNo) {
	binary.LittleEndian.PutUint64(at, binary.LittleEndian.Uint64(at)&^m|m&(0x0101010101010101*uint64(y)))
}

// spread[b] has byte i full where bit i of b is set.
var spread = func() (t [256]uint64) {
	for b := range t {
		for i := range 8 {
			if b>>i&1 == 1 {
				t[b] |= 0xff << (8 * i)
			}
		}
	}
	return t
}()

// tuck adds a loop of y to each needle's stack; nothing is cast off.
func (b *needles) tuck(on machine.Set, y piece.YarnNo) {
	for n := range on.All() {
		i := n + machine.MaxBed/2
		if b.base[i] == 0 {
			b.base[i] = y
			b.empty.Remove(n)
			continue
		}
		b.above[i] = append(b.above[i], loop{yarn: y, home: n})
		b.stacked.Add(n)
	}
}

// transfer moves whole stacks one needle to a side, all at once: they are lifted, and put
// down over what their new needles hold. A fine transfer leaves each loop on its own needle
// too. Stacks that would leave the needles in work fall, and are lost.
func (b *needles) transfer(from machine.Set, dir machine.Side, fine bool) {
	way := machine.Needle(1)
	if dir == machine.Left {
		way = -1
	}
	lifted := make([][]loop, 0, from.Len())
	for n := range from.All() {
		lifted = append(lifted, b.stack(n))
		if !fine {
			b.put(n, nil)
		}
	}
	i := 0
	for n := range from.All() {
		loops := lifted[i]
		i++
		if len(loops) == 0 || !b.work.Has(n+way) {
			continue
		}
		for k := range loops {
			loops[k].moved = true
		}
		b.put(n+way, append(b.stack(n+way), loops...))
	}
}

// stack is the loops on needle n, the oldest first.
func (b *needles) stack(n machine.Needle) []loop {
	i := n + machine.MaxBed/2
	if b.base[i] == 0 {
		return nil
	}
	first := loop{b.base[i], n, false}
	if b.moved.Has(n) {
		first.home, first.moved = b.home[i], true
	}
	return append([]loop{first}, b.above[i]...)
}

// put makes needle n hold these loops, the oldest first.
func (b *needles) put(n machine.Needle, loops []loop) {
	i := n + machine.MaxBed/2
	b.moved.Remove(n)
	b.stacked.Remove(n)
	b.empty.Remove(n)
	if len(loops) == 0 {
		b.base[i], b.above[i] = 0, nil
		b.empty.Add(n)
		return
	}
	b.base[i], b.home[i] = loops[0].yarn, loops[0].home
	if loops[0].moved {
		b.moved.Add(n)
	}
	if b.above[i] = slices.Clone(loops[1:]); len(loops) > 1 {
		b.stacked.Add(n)
	}
}
