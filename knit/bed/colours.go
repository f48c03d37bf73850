package bed

import (
	"encoding/binary"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// Colour is a yarn and the needles that show it in one row.
type Colour struct {
	Yarn    piece.YarnNo
	Needles machine.Set
}

// Colours lists the yarns that the given needles show in section row r (from 1), in
// the order in which they first appear from the left, appended to list.
func (s *Placed) Colours(list []Colour, r int, needles machine.Set) []Colour {
	row := s.YarnRow(r)
	for !needles.Empty() {
		y := row[needles.First()-s.From]
		c := Colour{y, equal(row, s.From, y).And(needles)}
		list = append(list, c)
		needles = needles.Minus(c.Needles)
	}
	return list
}

// AllColours are the colours of the section in the order of the file (rules 5.10, Separation): those of
// the placed parts of its charts, whether their rows are knitted or not, what its needles show
// besides, and the yarn that it names.
func (s *Placed) AllColours() []piece.YarnNo {
	s.colours.once.Do(func() {
		shown := s.drawn
		for r := 1; r <= s.Cycle; r++ {
			row := s.YarnRow(r)
			for n := range s.InWork(r).All() {
				shown[row[n-s.From]] = true
			}
		}
		shown[s.Section.Yarn] = shown[s.Section.Yarn] || s.Section.OwnYarn
		for y := 1; y < len(shown); y++ {
			if shown[y] {
				s.colours.list = append(s.colours.list, piece.YarnNo(y))
			}
		}
	})
	return s.colours.list
}

// equal is the needles, from the needle `from` rightwards, whose entry in row is y.
//
// Eight entries at a time: each byte of v is 0 where the entry is y; high has the top
// bit of just those bytes; the product gathers the eight bits into one byte.
func equal(row []piece.YarnNo, from machine.Needle, y piece.YarnNo) (set machine.Set) {
	const ones, low, gather = 0x0101010101010101, 0x7f7f7f7f7f7f7f7f, 0x0102040810204080
	at := int(from) + machine.MaxBed/2
	for len(row) > 0 {
		n := min(8, len(row))
		var v uint64
		if n == 8 {
			v = binary.LittleEndian.Uint64(row)
		} else {
			var buf [8]byte
			copy(buf[:], row)
			v = binary.LittleEndian.Uint64(buf[:])
		}
		v ^= ones * uint64(y)
		high := ^((v&low + low) | v | low)
		m := high >> 7 * gather >> 56
		if n < 8 {
			m &= 1<<n - 1
		}
		set[at>>6] |= m << (at & 63)
		if at&63 > 56 && at>>6+1 < len(set) {
			set[at>>6+1] |= m >> (64 - at&63)
		}
		row, at = row[n:], at+n
	}
	return set
}
