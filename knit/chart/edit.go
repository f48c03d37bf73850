package chart

import (
	"fmt"
	"slices"
	"strings"
)

// Runes is the chart as characters, bottom row first.
func (c *Chart) Runes() Mat[rune] {
	m := NewMat[rune](c.W, c.H)
	for i, k := range c.Cells {
		m.Cells[i] = c.Keys[k]
	}
	return m
}

// RuneRow is row r (from 1 at the bottom) as characters.
func (c *Chart) RuneRow(r int) []rune {
	row := make([]rune, c.W)
	for x, k := range c.Row(r - 1) {
		row[x] = c.Keys[k]
	}
	return row
}

// RowTexts writes characters as strings, the top row first, as FromRows reads them.
func RowTexts(m Mat[rune]) []string {
	rows := make([]string, m.H)
	for y := range m.H {
		rows[m.H-1-y] = string(m.Row(y))
	}
	return rows
}

// Edit is one change of a drawing as a whole or within a rectangle. Columns and rows
// count from 1 at the bottom left, both ends included; no rectangle is the whole drawing.
//
//	transform   names, as an area's transforms: mirror, turn, …
//	resize      to W × H; At says which corner or edge stays: "bottom left", "top", "middle" …
//	shift       by DX columns and DY rows; Wrap: what leaves on one side enters on the other
//	replace     every From by To
//	insert-rows, insert-columns   N of them before row or column First
//	delete-rows, delete-columns   N of them from First on
type Edit struct {
	Do      string   `json:"do"`
	Columns [2]int   `json:"columns"`
	Rows    [2]int   `json:"rows"`
	Names   []string `json:"names"`
	W       int      `json:"w"`
	H       int      `json:"h"`
	At      string   `json:"at"`
	DX      int      `json:"dx"`
	DY      int      `json:"dy"`
	Wrap    bool     `json:"wrap"`
	From    string   `json:"from"`
	To      string   `json:"to"`
	First   int      `json:"first"`
	N       int      `json:"n"`
}

// Apply makes the edit on a drawing. New cells are blank. In lace, mirroring exchanges
// the leans. The drawing it is given stays as it was.
func (e *Edit) Apply(m Mat[rune], blank rune, lace bool) (Mat[rune], error) {
	a, c := e.Columns, e.Rows
	whole := a == [2]int{} && c == [2]int{}
	if whole {
		a, c = [2]int{1, m.W}, [2]int{1, m.H}
	}
	if a[0] < 1 || a[1] > m.W || a[1] < a[0] || c[0] < 1 || c[1] > m.H || c[1] < c[0] {
		return m, fmt.Errorf("columns %d to %d, rows %d to %d: the drawing has %d by %d", a[0], a[1], c[0], c[1], m.W,
			m.H)
	}
	switch e.Do {
	case "transform":
		return e.transform(m, a, c, whole, blank, lace)
	case "resize":
		return e.resize(m, blank)
	case "shift":
		return e.shift(m, a, c, blank), nil
	case "replace":
		from, to := []rune(e.From), []rune(e.To)
		if len(from) != 1 || len(to) != 1 {
			return m, fmt.Errorf("%q by %q: one character each", e.From, e.To)
		}
		return within(m, a, c, func(part Mat[rune]) Mat[rune] {
			return fill(part.W, part.H, func(x, y int) rune {
				if r := part.At(x, y); r != from[0] {
					return r
				}
				return to[0]
			})
		}), nil
	case "insert-rows":
		return e.lines(m, blank, false, true)
	case "delete-rows":
		return e.lines(m, blank, false, false)
	case "insert-columns":
		return e.lines(m, blank, true, true)
	case "delete-columns":
		return e.lines(m, blank, true, false)
	}
	return m, fmt.Errorf("%q: no such edit", e.Do)
}

// within replaces a rectangle by what f makes of it; the size must stay.
func within(m Mat[rune], a, c [2]int, f func(Mat[rune]) Mat[rune]) Mat[rune] {
	out := Mat[rune]{m.W, m.H, slices.Clone(m.Cells)}
	out.put(f(m.Cut(a[0], a[1], c[0], c[1])), a[0]-1, c[0]-1)
	return out
}

// put lays part on m with its bottom left at column x and row y, from 0; what lies beyond is lost.
func (m Mat[T]) put(part Mat[T], x, y int) {
	for py := range part.H {
		for px := range part.W {
			if x+px >= 0 && x+px < m.W && y+py >= 0 && y+py < m.H {
				m.Set(x+px, y+py, part.At(px, py))
			}
		}
	}
}

func (e *Edit) transform(m Mat[rune], a, c [2]int, whole bool, blank rune, lace bool) (Mat[rune], error) {
	part := m.Cut(a[0], a[1], c[0], c[1])
	for _, name := range e.Names {
		if !slices.Contains(Transforms, name) {
			return m, fmt.Errorf("%q: no such transform", name)
		}
		if lace && name != "mirror" {
			return m, fmt.Errorf("%q: lace can only be mirrored", name)
		}
	}
	if slices.Contains(e.Names, "invert") {
		var keys []rune
		for _, r := range m.Cells {
			if !slices.Contains(keys, r) {
				keys = append(keys, r)
			}
		}
		if len(keys) != 2 {
			return m, fmt.Errorf("\"invert\": the drawing has %d characters; only one of two can be inverted",
				len(keys))
		}
		part = fill(part.W, part.H, func(x, y int) rune {
			if part.At(x, y) == keys[0] {
				return keys[1]
			}
			return keys[0]
		})
	}
	turned := part.Transform(e.Names)
	if lace && slices.Contains(e.Names, "mirror") {
		swap := strings.NewReplacer("/", "\\", "\\", "/")
		for i, r := range turned.Cells {
			turned.Cells[i] = []rune(swap.Replace(string(r)))[0]
		}
	}
	if whole {
		return turned, sized(turned.W, turned.H)
	}
	if a[0]-1+turned.W > m.W || c[0]-1+turned.H > m.H {
		return m, fmt.Errorf("the selection becomes %d by %d, and does not fit there; make room, or turn the "+
			"whole drawing", turned.W, turned.H)
	}
	out := within(m, a, c, func(p Mat[rune]) Mat[rune] {
		return fill(p.W, p.H,
			func(int, int) rune { return blank })
	})
	out.put(turned, a[0]-1, c[0]-1)
	return out, nil
}

func sized(w, h int) error {
	if w < 1 || h < 1 || w > MaxWidth || h > MaxHeight || w*h > MaxCells {
		return fmt.Errorf("%d stitches by %d rows: a chart has 1 to %d by %d, and %d in all", w, h, MaxWidth,
			MaxHeight, MaxCells)
	}
	return nil
}

// Anchors are where what is drawn can stay when a drawing is resized, as they lie: the top
// row first.
var Anchors = []string{"top left", "top", "top right", "left", "middle", "right", "bottom left", "bottom",
	"bottom right"}

// anchors is how many halves of the new room lie left of what is drawn, and below it.
var anchors = func() map[string][2]int {
	at := map[string][2]int{}
	for i, name := range Anchors {
		at[name] = [2]int{i % 3, 2 - i/3}
	}
	return at
}()

func (e *Edit) resize(m Mat[rune], blank rune) (Mat[rune], error) {
	if err := sized(e.W, e.H); err != nil {
		return m, err
	}
	at, ok := anchors[e.At]
	if !ok {
		return m, fmt.Errorf("%q: %s", e.At, strings.Join(Anchors, ", "))
	}
	x, y := (e.W-m.W)*at[0]/2, (e.H-m.H)*at[1]/2
	out := fill(e.W, e.H, func(int, int) rune { return blank })
	out.put(m, x, y)
	return out, nil
}

func (e *Edit) shift(m Mat[rune], a, c [2]int, blank rune) Mat[rune] {
	return within(m, a, c, func(part Mat[rune]) Mat[rune] {
		return fill(part.W, part.H, func(x, y int) rune {
			x, y = x-e.DX, y-e.DY
			if e.Wrap {
				return part.At((x%part.W+part.W)%part.W, (y%part.H+part.H)%part.H)
			}
			if x < 0 || y < 0 || x >= part.W || y >= part.H {
				return blank
			}
			return part.At(x, y)
		})
	})
}

// lines inserts or deletes rows or columns.
func (e *Edit) lines(m Mat[rune], blank rune, columns, insert bool) (Mat[rune], error) {
	have := m.H
	if columns {
		have = m.W
	}
	first, n := e.First, max(e.N, 1)
	if first < 1 || first > have+1 || !insert && first+n-1 > have {
		return m, fmt.Errorf("%d from %d on: there are %d", n, first, have)
	}
	if !insert {
		n = -n
	}
	w, h := m.W, m.H
	if columns {
		w += n
	} else {
		h += n
	}
	if err := sized(w, h); err != nil {
		return m, err
	}
	return fill(w, h, func(x, y int) rune {
		at := &y
		if columns {
			at = &x
		}
		switch {
		case *at < first-1:
		case insert && *at < first-1+n:
			return blank
		default:
			*at -= n
		}
		return m.At(x, y)
	}), nil
}
