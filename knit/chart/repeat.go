package chart

import "slices"

// Repeat is the smallest part, w cells wide and h high, that side by side and one on another gives the whole; w and h
// divide its width and height.
func (m Mat[T]) Repeat() (w, h int) {
	same := func(n int, alike func(i, j int) bool) int {
		for k := 1; k < n; k++ {
			if n%k != 0 {
				continue
			}
			whole := true
			for i := k; whole && i < n; i++ {
				whole = alike(i, i-k)
			}
			if whole {
				return k
			}
		}
		return n
	}
	h = same(m.H, func(i, j int) bool { return slices.Equal(m.Row(i), m.Row(j)) })
	w = same(m.W, func(i, j int) bool {
		for y := range h {
			if row := m.Row(y); row[i] != row[j] {
				return false
			}
		}
		return true
	})
	return w, h
}

// Corner is the lowest h rows of the first w cells.
func (m Mat[T]) Corner(w, h int) Mat[T] {
	out := NewMat[T](w, h)
	for y := range h {
		copy(out.Row(y), m.Row(y)[:w])
	}
	return out
}
