package technique

import (
	"slices"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/piece"
)

// Technique is one way to knit the rows of a section.
type Technique struct {
	piece.Technique
}

// All lists the techniques in the order of the rules.
var All = []*Technique{&Plain, &TwoColour, &Slip, &Tuck, &Lace, &Weave, &Intarsia, &Texture, &Separated, &Plated, &Recipe}

// facts is what the reader of piece files is handed.
var facts = func() (list piece.Techniques) {
	for _, t := range All {
		list = append(list, &t.Technique)
	}
	return list
}()

// Read reads a piece file with all the techniques there are, as piece.Read does.
func Read(data []byte) (*piece.Piece, error) { return piece.Read(data, facts) }

// Piece reads a document as a piece, as Read does.
func Piece(d *edit.Document) (*piece.Piece, error) { return piece.FromTree(d.Tree(), facts) }

// For is the technique that a new drawing is begun in: lace where it can only be lace, else
// the one named, or two-colour.
func For(c *chart.Chart, name string) *Technique {
	if c != nil && chart.IsLace(c) {
		return &Lace
	}
	if t := Find(name); t != nil {
		return t
	}
	return &TwoColour
}

// Find is the technique with a name, nil where there is none.
func Find(name string) *Technique {
	for _, t := range All {
		if t.Name == name {
			return t
		}
	}
	return nil
}

// Planned lists the techniques that can be planned.
func Planned() []*Technique { return All[:slices.Index(All, &Separated)] }
