// Package edit changes piece files: typed paths to their places, changes and what undoes
// them, and every builder of an edit, so that no other package spells a path.
//
//	e := edit.Section(1).To("rows")                     // sections[0].rows
//	changes := edit.Set(e, 24)
//	inverse, err := doc.Apply(changes)                  // undo is the same code as do
//
// A Document is a piece file as it stands, right or wrong. It imports piece and what lies
// below it; where an edit depends on how areas lie on the bed, package bed works out the
// needles and calls a builder here.
package edit
