package chart

import (
	"fmt"
	"iter"
	"slices"
	"strings"
)

// Bounds on a chart's size, so that a reader can refuse before it spends memory.
const (
	MaxWidth  = 1000
	MaxHeight = 10000
	MaxCells  = 2_000_000
)

// Stitch is what a cell asks of its needle, apart from the yarn.
type Stitch uint8

// The stitches a legend can name, and those of lace charts, which stand for themselves.
const (
	Knit Stitch = iota
	Purl
	Tuck
	Slip
	Weave
	YarnOver  // o
	LeanRight // /  two together leaning right, as seen on the knit side
	LeanLeft  // \  two together leaning left
	Centre    // ^  three together, centre on top
	NoStitch  // x  pads a drawing
)

var stitchNames = []string{"knit", "purl", "tuck", "slip", "weave"}

func (s Stitch) String() string {
	if int(s) < len(stitchNames) {
		return stitchNames[s]
	}
	return [...]string{"yarn-over", "two together leaning right", "two together leaning left", "three together",
		"no stitch"}[s-YarnOver]
}

// ParseStitch reads a legend's stitch.
func ParseStitch(t string) (Stitch, error) {
	if i := slices.Index(stitchNames, t); i >= 0 {
		return Stitch(i), nil
	}
	return 0, fmt.Errorf("%q: knit, purl, tuck, slip or weave", t)
}

// Meaning is what a chart's character stands for. Yarn is a yarn's id, or 0 where
// the section's own yarn is meant.
type Meaning struct {
	Yarn   byte
	Stitch Stitch
}

// Face is a face of the fabric, and the one that a chart is drawn for.
type Face uint8

// The two faces: a knitter at the bed looks at the purl side.
const (
	KnitSide Face = iota
	PurlSide
)

func (s Face) String() string { return [...]string{"knit", "purl"}[s] }

// Mat is a rectangle of cells, bottom row first: Cells[(row-1)*W+column-1].
type Mat[T comparable] struct {
	W, H  int
	Cells []T
}

// Grid is a rectangle of small numbers: a chart's key indexes.
type Grid = Mat[uint8]

// NewMat makes a rectangle of zeros.
func NewMat[T comparable](w, h int) Mat[T] { return Mat[T]{W: w, H: h, Cells: make([]T, w*h)} }

// At is the cell at column x and row y, both counted from 0 at the bottom left.
func (g Mat[T]) At(x, y int) T { return g.Cells[y*g.W+x] }

// Set puts v at column x and row y, both counted from 0 at the bottom left.
func (g Mat[T]) Set(x, y int, v T) { g.Cells[y*g.W+x] = v }

// Row is row y, counted from 0 at the bottom; it shares the grid's cells.
func (g Mat[T]) Row(y int) []T { return g.Cells[y*g.W : (y+1)*g.W] }

// Runs yields the runs of like cells in a row, from the left, with their lengths.
func Runs[T comparable](row []T) iter.Seq2[T, int] {
	return func(yield func(T, int) bool) {
		for x := 0; x < len(row); {
			n := 1
			for x+n < len(row) && row[x+n] == row[x] {
				n++
			}
			if !yield(row[x], n) {
				return
			}
			x += n
		}
	}
}

// Chart is a drawing: a grid of indexes into Keys, the characters used.
type Chart struct {
	Name string
	Face Face
	All  bool // lace: every knitted row is shown, not only right-side rows
	Keys []rune
	Grid
}

// Key is the index of a character among the chart's, or -1.
func (c *Chart) Key(r rune) int { return slices.Index(c.Keys, r) }

// Rows writes the chart as strings, the top row first.
func (c *Chart) Rows() []string {
	rows := make([]string, c.H)
	line := make([]rune, c.W)
	for y := range c.H {
		for x, k := range c.Row(y) {
			line[x] = c.Keys[k]
		}
		rows[c.H-1-y] = string(line)
	}
	return rows
}

// RowError is a fault in one row of a chart; Index counts from 0 at the top.
type RowError struct {
	Index int
	Err   error
}

func (e *RowError) Error() string { return fmt.Sprintf("rows[%d]: %v", e.Index, e.Err) }
func (e *RowError) Unwrap() error { return e.Err }

// FromRows makes a chart of strings, the top row first, all as wide as the first.
// Its keys are in the order '.', '#', and the rest as they first appear from the top.
func FromRows(rows []string) (*Chart, error) {
	if len(rows) == 0 || len(rows[0]) == 0 {
		return nil, &RowError{0, fmt.Errorf("a chart has at least one row of one stitch")}
	}
	if len(rows) > MaxHeight {
		return nil, &RowError{MaxHeight, fmt.Errorf("%d rows: a chart has at most %d", len(rows), MaxHeight)}
	}
	c := &Chart{}
	var seen [128]int16 // 1 + index of an ASCII key
	others := map[rune]uint8{}
	key := func(r rune) (uint8, error) {
		if r < 128 && seen[r] > 0 {
			return uint8(seen[r] - 1), nil
		}
		if k, ok := others[r]; ok {
			return k, nil
		}
		if len(c.Keys) == 255 {
			return 0, fmt.Errorf("more than 255 different characters")
		}
		k := len(c.Keys)
		c.Keys = append(c.Keys, r)
		if r < 128 {
			seen[r] = int16(k + 1)
		} else {
			others[r] = uint8(k)
		}
		return uint8(k), nil
	}
	for _, r := range ".#" {
		for _, row := range rows {
			if strings.ContainsRune(row, r) {
				key(r)
				break
			}
		}
	}
	c.W, c.H = len([]rune(rows[0])), len(rows)
	if c.W > MaxWidth || c.W*c.H > MaxCells {
		return nil, &RowError{0,
			fmt.Errorf("%d stitches by %d rows: a chart has at most %d by %d, and %d stitches in all", c.W, c.H,
				MaxWidth, MaxHeight, MaxCells)}
	}
	c.Cells = make([]uint8, c.W*c.H)
	for i, row := range rows {
		y, x := c.H-1-i, 0
		for _, r := range row {
			if r < ' ' || r == ';' || r == 0xFFFD { // ';' begins a comment in chart text
				return nil, &RowError{i, fmt.Errorf("column %d: %q is not a character to draw with", x+1, r)}
			}
			k, err := key(r)
			if err != nil {
				return nil, &RowError{i, err}
			}
			if x < c.W {
				c.Set(x, y, k)
			}
			x++
		}
		if x != c.W {
			return nil, &RowError{i, fmt.Errorf("%d stitches wide; the first row has %d", x, c.W)}
		}
	}
	return c, nil
}
