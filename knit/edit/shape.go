package edit

import "vindel/knit/piece"

// ShapeSingles makes entry `at` (from 0) of the shape's list single steps, one a row, from a row on.
func ShapeSingles(at, row, n int) []Change {
	entry := Member("shape").At(at)
	return append(Set(entry.To("rows"), []any{row, row + n - 1}), Drop(entry.To("row"))...)
}

// Shape makes the whole list of steps; nil: a piece without shape.
func Shape(p *piece.Piece, list []any) (changes []Change) {
	if p.Shape != nil && p.Shape.Outline != nil {
		changes = Drop(Member("outline"))
	}
	switch {
	case len(list) > 0:
		return append(changes, Set(Member("shape"), list)...)
	case p.Shape != nil && p.Shape.Outline == nil:
		return append(changes, Drop(Member("shape"))...)
	}
	return changes
}
