package machine

import (
	"fmt"
	"iter"
	"math/bits"
	"strconv"
	"strings"
)

// Set is a set of needles, one bit a needle, L128 the lowest. It is a plain
// value: comparable, copied by assignment; its zero value is the empty set.
type Set [MaxBed / 64]uint64

const origin = MaxBed / 2 // the bit of needle R1

// SetOf makes a set of the needles given.
func SetOf(needles ...Needle) (s Set) {
	for _, n := range needles {
		s.Add(n)
	}
	return s
}

// Range is the set of all needles from a to b, both included; empty when b < a.
func Range(a, b Needle) (s Set) {
	for w := range s {
		lo, hi := max(int(a)+origin-64*w, 0), min(int(b)+origin-64*w, 63)
		if lo <= hi {
			s[w] = (^uint64(0) >> (63 - hi)) &^ (1<<lo - 1)
		}
	}
	return s
}

// Add puts a needle in; it panics beyond MaxBed, as an index would.
func (s *Set) Add(n Needle) { i := int(n) + origin; s[i>>6] |= 1 << (i & 63) }

// Remove takes a needle out, if it was in.
func (s *Set) Remove(n Needle) { i := int(n) + origin; s[i>>6] &^= 1 << (i & 63) }

// Has says whether the needle is in the set. Needles beyond MaxBed never are.
func (s Set) Has(n Needle) bool {
	i := int(n) + origin
	return i >= 0 && i < MaxBed && s[i>>6]>>(i&63)&1 == 1
}

// Or, And and Minus are union, intersection and difference.
func (s Set) Or(t Set) Set {
	for i := range s {
		s[i] |= t[i]
	}
	return s
}

// And is the needles in both sets.
func (s Set) And(t Set) Set {
	for i := range s {
		s[i] &= t[i]
	}
	return s
}

// Minus is the needles of s that are not in t.
func (s Set) Minus(t Set) Set {
	for i := range s {
		s[i] &^= t[i]
	}
	return s
}

// Left is the set with every needle moved n places to the left.
func (s Set) Left(n int) Set {
	words, low := n>>6, uint(n&63)
	var t Set
	for i := range t {
		if i+words < len(s) {
			t[i] = s[i+words] >> low
		}
		if low > 0 && i+words+1 < len(s) {
			t[i] |= s[i+words+1] << (64 - low)
		}
	}
	return t
}

// Right is the set with every needle moved n places to the right.
func (s Set) Right(n int) Set {
	words, low := n>>6, uint(n&63)
	var t Set
	for i := range t {
		if i-words >= 0 {
			t[i] = s[i-words] << low
		}
		if low > 0 && i-words-1 >= 0 {
			t[i] |= s[i-words-1] >> (64 - low)
		}
	}
	return t
}

// Empty says that there is no needle in the set.
func (s Set) Empty() bool { return s == Set{} }

// Len counts the needles.
func (s Set) Len() int {
	n := 0
	for _, w := range s {
		n += bits.OnesCount64(w)
	}
	return n
}

// First is the leftmost needle; the set must not be empty.
func (s Set) First() Needle {
	for i, w := range s {
		if w != 0 {
			return Needle(i<<6 + bits.TrailingZeros64(w) - origin)
		}
	}
	panic("machine: First of an empty set")
}

// Last is the rightmost needle; the set must not be empty.
func (s Set) Last() Needle {
	for i := len(s) - 1; i >= 0; i-- {
		if s[i] != 0 {
			return Needle(i<<6 + 63 - bits.LeadingZeros64(s[i]) - origin)
		}
	}
	panic("machine: Last of an empty set")
}

// All yields the needles from left to right.
func (s Set) All() iter.Seq[Needle] {
	return func(yield func(Needle) bool) {
		for i, w := range s {
			for ; w != 0; w &= w - 1 {
				if !yield(Needle(i<<6 + bits.TrailingZeros64(w) - origin)) {
					return
				}
			}
		}
	}
}

// AppendTo adds the needles to a list, from left to right.
func (s Set) AppendTo(list []Needle) []Needle {
	for i, w := range s {
		for ; w != 0; w &= w - 1 {
			list = append(list, Needle(i<<6+bits.TrailingZeros64(w)-origin))
		}
	}
	return list
}

// Back yields the needles from right to left.
func (s Set) Back() iter.Seq[Needle] {
	return func(yield func(Needle) bool) {
		for i := len(s) - 1; i >= 0; i-- {
			for w := s[i]; w != 0; {
				top := 63 - bits.LeadingZeros64(w)
				if !yield(Needle(i<<6 + top - origin)) {
					return
				}
				w &^= 1 << top
			}
		}
	}
}

// Runs yields the stretches of neighbouring needles, left to right, ends included.
func (s Set) Runs() iter.Seq2[Needle, Needle] {
	return func(yield func(a, b Needle) bool) {
		first, last, open := Needle(0), Needle(0), false
		for n := range s.All() {
			if open && n == last+1 {
				last = n
				continue
			}
			if open && !yield(first, last) {
				return
			}
			first, last, open = n, n, true
		}
		if open {
			yield(first, last)
		}
	}
}

// HasRun says whether n needles side by side are all in the set.
func (s Set) HasRun(n int) bool {
	// Doubling: after each step a set bit stands for a run of `have` needles.
	for have := 1; have < n; {
		step := min(have, n-have)
		if step < 64 {
			for i := range s {
				moved := s[i] >> step
				if i+1 < len(s) {
					moved |= s[i+1] << (64 - step)
				}
				s[i] &= moved
			}
		} else {
			s = s.And(s.Left(step))
		}
		have += step
	}
	return !s.Empty()
}

// Longer is the needles that stand in runs of more than n.
func (s Set) Longer(n int) (out Set) {
	if !s.HasRun(n + 1) {
		return out
	}
	for a, z := range s.Runs() {
		if int(z-a)+1 > n {
			out = out.Or(Range(a, z))
		}
	}
	return out
}

// Parted is the fewest needles that part runs of more than n into runs within it.
func (s Set) Parted(n int) (out Set) {
	for a, z := range s.Runs() {
		for at := a + Needle(n); at <= z; at += Needle(n + 1) {
			out.Add(at)
		}
	}
	return out
}

// String lists labels and ranges from left to right: "L12-L9,L1-R2,R7".
func (s Set) String() string {
	var b strings.Builder
	for a, z := range s.Runs() {
		if b.Len() > 0 {
			b.WriteByte(',')
		}
		b.WriteString(a.String())
		if z > a {
			b.WriteByte('-')
			b.WriteString(z.String())
		}
	}
	return b.String()
}

// Words is the set as it is said: a pattern where it is one, "every 6th needle from L72 to
// R66 (24)", "2 of every 6 needles from L72 to R67 (48)", else its labels.
func (s Set) Words() string {
	if every := s.every(4); every != "" {
		return fmt.Sprintf("%s from %v to %v (%d)", every, s.First(), s.Last(), s.Len())
	}
	return s.String()
}

// every is how its runs follow one another, where they are all alike and at least so many; else "".
func (s Set) every(least int) string {
	type run struct{ from, to Needle }
	var runs []run
	for a, z := range s.Runs() {
		runs = append(runs, run{a, z})
	}
	if len(runs) < least {
		return ""
	}
	size, period := runs[0].to-runs[0].from, runs[1].from-runs[0].from
	for i := 1; i < len(runs); i++ {
		if runs[i].to-runs[i].from != size || runs[i].from-runs[i-1].from != period {
			return ""
		}
	}
	if size > 0 {
		return fmt.Sprintf("%d of every %d needles", size+1, period)
	}
	return fmt.Sprintf("every %s needle", ordinal(int(period)))
}

// MostSeen is how many characters of needles are told of what one should see.
const MostSeen = 60

// Brief is the set as one sees it at a glance: as Words where that is short, as a pattern on either side of the middle,
// else how many there are, and the first and the last.
func (s Set) Brief() string {
	if all := s.Words(); len(all) <= MostSeen {
		return all
	}
	if both := s.bothSides(); both != "" {
		return both
	}
	return fmt.Sprintf("%d needles, %v to %v", s.Len(), s.First(), s.Last())
}

// Both is the set in full: as Words, or as the same pattern on either side of the middle.
func (s Set) Both() string {
	if all := s.Words(); len(all) <= MostSeen || s.bothSides() == "" {
		return all
	}
	return s.bothSides()
}

func (s Set) bothSides() string {
	left, right := s.And(Range(L(MaxBed/2), L(1))), s.And(Range(R(1), R(MaxBed/2)))
	every := left.every(2)
	if every == "" || every != right.every(2) {
		return ""
	}
	return fmt.Sprintf("%s from %v to %v and from %v to %v (%d)", every, left.First(), left.Last(), right.First(),
		right.Last(), s.Len())
}

// ordinal is a number as a place in a row: 2nd, 6th, 21st.
func ordinal(n int) string {
	ends := [...]string{"th", "st", "nd", "rd"}
	if e := n % 10; e < len(ends) && (n/10)%10 != 1 {
		return strconv.Itoa(n) + ends[e]
	}
	return strconv.Itoa(n) + "th"
}

// MarshalText is String, so that a set stands as text in JSON.
func (s Set) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// ParseSet reads what String writes; "" is the empty set. Ranges run from left to
// right, and every needle must be on the bed.
func ParseSet(text string, bed Bed) (s Set, err error) {
	if strings.TrimSpace(text) == "" {
		return s, nil
	}
	for part := range strings.SplitSeq(text, ",") {
		from, to, isRange := strings.Cut(strings.TrimSpace(part), "-")
		a, err := ParseNeedle(from)
		if err != nil {
			return Set{}, err
		}
		b := a
		if isRange {
			if b, err = ParseNeedle(to); err != nil {
				return Set{}, err
			}
		}
		for _, n := range []Needle{a, b} {
			if err := bed.Check(n); err != nil {
				return Set{}, err
			}
		}
		if b < a {
			return Set{}, fmt.Errorf("%q: %v lies left of %v; ranges run from left to right", part, b, a)
		}
		s = s.Or(Range(a, b))
	}
	return s, nil
}
