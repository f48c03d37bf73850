package machine

import (
	"fmt"
	"strconv"
)

// MaxBed is the longest bed, in needles, that a Set can hold.
const MaxBed = 256

// Needle is a needle's number along the bed, from the middle: L1 is -1, R1 is 0, and neighbours
// differ by one. There is no needle 0 in its label. The zero value is R1.
type Needle int

// L and R make needles from the number in their label, which counts from 1.
func L(n int) Needle { return Needle(-n) }

// R is the needle with label R n; n counts from 1.
func R(n int) Needle { return Needle(n - 1) }

// String is the label, such as "L12" or "R1".
func (n Needle) String() string {
	if n < 0 {
		return "L" + strconv.Itoa(int(-n))
	}
	return "R" + strconv.Itoa(int(n)+1)
}

// Number is the number in the label, counted from the centre, from 1.
func (n Needle) Number() int {
	if n < 0 {
		return int(-n)
	}
	return int(n) + 1
}

// ParseNeedle reads a label such as "L12". It does not know how long the bed is.
func ParseNeedle(s string) (Needle, error) {
	if len(s) < 2 || (s[0] != 'L' && s[0] != 'R') {
		return 0, fmt.Errorf("%q: a needle is L or R and a number from 1, such as L12", s)
	}
	k, err := strconv.Atoi(s[1:])
	if err != nil || k < 1 || s[1] == '+' || s[1] == '0' {
		return 0, fmt.Errorf("%q: a needle is L or R and a number from 1, such as L12", s)
	}
	if s[0] == 'L' {
		return L(k), nil
	}
	return R(k), nil
}

// Bed is a line of needles; its value is their number, which is even.
type Bed int

// First is the leftmost needle, Last the rightmost.
func (b Bed) First() Needle { return Needle(-int(b) / 2) }

// Last is the rightmost needle of the bed.
func (b Bed) Last() Needle { return Needle(int(b)/2 - 1) }

// End is the outermost needle on a side.
func (b Bed) End(side Side) Needle {
	if side == Left {
		return b.First()
	}
	return b.Last()
}

// All is its needles.
func (b Bed) All() Set { return Range(b.First(), b.Last()) }

// Check says whether the bed has needle n; the error names the last one on that side.
func (b Bed) Check(n Needle) error {
	if n < b.First() {
		return fmt.Errorf("%q: the bed ends at %v", n.String(), b.First())
	}
	if n > b.Last() {
		return fmt.Errorf("%q: the bed ends at %v", n.String(), b.Last())
	}
	return nil
}

// Centre places a width of w stitches on the middle of the bed: floor(w/2) left
// of centre and the rest right of it, or the other way round where odd is Left.
func Centre(w int, odd Side) (from, to Needle) {
	left := w / 2
	if odd == Left {
		left = w - w/2
	}
	return Needle(-left), Needle(w - left - 1)
}
