package chart

import (
	"encoding/binary"
	"slices"
)

// Transforms are the names a piece file may use, in the order they are applied,
// whatever the order written (rules 2).
var Transforms = []string{"turn", "turn-right", "mirror", "upside-down", "bounce", "double-width", "double-length",
	"invert"}

// Cut takes the rectangle of columns a–b and rows c–d, counted from 1 at the
// bottom left, both ends included.
func (g Mat[T]) Cut(a, b, c, d int) Mat[T] {
	t := NewMat[T](b-a+1, d-c+1)
	for y := range t.H {
		copy(t.Row(y), g.Row(c - 1 + y)[a-1:b])
	}
	return t
}

// fill makes a w × h grid of the cells that from names.
func fill[T comparable](w, h int, from func(x, y int) T) Mat[T] {
	t := NewMat[T](w, h)
	for y := range h {
		for x := range w {
			t.Set(x, y, from(x, y))
		}
	}
	return t
}

// Turn turns the drawing 90° anticlockwise.
func (g Mat[T]) Turn() Mat[T] {
	// Seen as drawn, the right edge becomes the top: new row y is old column y.
	return fill(g.H, g.W, func(x, y int) T { return g.At(y, g.H-1-x) })
}

// TurnRight turns the drawing 90° clockwise.
func (g Mat[T]) TurnRight() Mat[T] {
	return fill(g.H, g.W, func(x, y int) T { return g.At(g.W-1-y, x) })
}

// Mirror exchanges left and right.
func (g Mat[T]) Mirror() Mat[T] {
	t := NewMat[T](g.W, g.H)
	from, bytes := any(g.Cells).([]uint8)
	to, _ := any(t.Cells).([]uint8)
	for y := range g.H {
		if bytes { // a chart's keys: eight at a time
			reverse(to[y*g.W:(y+1)*g.W], from[y*g.W:(y+1)*g.W])
			continue
		}
		copy(t.Row(y), g.Row(y))
		slices.Reverse(t.Row(y))
	}
	return t
}

// reverse writes a row the other way round.
func reverse(to, from []uint8) {
	x, n := 0, len(from)
	for ; x+8 <= n; x += 8 {
		binary.BigEndian.PutUint64(to[n-x-8:], binary.LittleEndian.Uint64(from[x:]))
	}
	for ; x < n; x++ {
		to[n-1-x] = from[x]
	}
}

// UpsideDown exchanges bottom and top.
func (g Mat[T]) UpsideDown() Mat[T] {
	return fill(g.W, g.H, func(x, y int) T { return g.At(x, g.H-1-y) })
}

// Bounce is rows 1…n and then n-1…2, so that both turning rows come once.
func (g Mat[T]) Bounce() Mat[T] {
	return fill(g.W, max(g.H, 2*g.H-2), func(x, y int) T {
		if y >= g.H {
			y = 2*g.H - 2 - y
		}
		return g.At(x, y)
	})
}

// DoubleWidth makes every stitch two.
func (g Mat[T]) DoubleWidth() Mat[T] {
	return fill(2*g.W, g.H, func(x, y int) T { return g.At(x/2, y) })
}

// DoubleLength makes every row two.
func (g Mat[T]) DoubleLength() Mat[T] {
	return fill(g.W, 2*g.H, func(x, y int) T { return g.At(x, y/2) })
}

// Transform applies the named transforms in their fixed order, all but invert,
// which does not move cells.
func (g Mat[T]) Transform(names []string) Mat[T] {
	steps := map[string]func(Mat[T]) Mat[T]{
		"turn": Mat[T].Turn, "turn-right": Mat[T].TurnRight, "mirror": Mat[T].Mirror,
		"upside-down": Mat[T].UpsideDown,
		"bounce":      Mat[T].Bounce, "double-width": Mat[T].DoubleWidth, "double-length": Mat[T].DoubleLength,
	}
	for _, name := range Transforms {
		if step := steps[name]; step != nil && slices.Contains(names, name) {
			g = step(g)
		}
	}
	return g
}

// Invert exchanges the two keys of a chart of two characters.
func Invert(g Grid) Grid {
	return fill(g.W, g.H, func(x, y int) uint8 { return 1 - g.At(x, y) })
}

// Symmetric says whether the drawing, repeated sideways, looks the same in a mirror, in
// which key k becomes image[k]; nil: every key stays as it is.
func Symmetric(g Grid, image []uint8) bool {
	return len(Axes(g, image)) > 0
}

// Axes lists the places about which a drawing that repeats is its own mirror image: sums of
// two columns (from 0, modulo its width) that mirror one another.
func Axes(g Grid, image []uint8) (sums []int) {
	for shift := range g.W {
		if mirrorsAbout(g, shift, image) {
			sums = append(sums, shift)
		}
	}
	return sums
}

func mirrorsAbout(g Grid, shift int, image []uint8) bool {
	for y := range g.H {
		row := g.Row(y)
		for x := range row {
			over := row[(shift-x+g.W)%g.W]
			if image != nil {
				over = image[over]
			}
			if row[x] != over {
				return false
			}
		}
	}
	return true
}

// Grown is the size that a transform gives a rectangle of w stitches and h rows.
func Grown(name string, w, h int) (int, int) {
	switch name {
	case "turn", "turn-right":
		return h, w
	case "bounce":
		return w, max(h, 2*h-2)
	case "double-width":
		return 2 * w, h
	case "double-length":
		return w, 2 * h
	}
	return w, h
}
