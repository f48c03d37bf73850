package edit

import (
	"fmt"
)

// Op is what a change does at its place.
type Op string

// The operations: Add puts a member, or an element before another of a list ("-": after
// the last); Replace and Remove want something there.
const (
	Add     Op = "add"
	Replace Op = "replace"
	Remove  Op = "remove"
)

// Change is one part of an edit of a piece file, as it is stored and sent.
type Change struct {
	Op    Op   `json:"op"`
	Path  Path `json:"path"`
	Value any  `json:"value,omitempty"`
}

// Kind is what an edit is for the one who makes it, whatever words name it.
type Kind string

// The kinds of edits. The strip that teaches a first piece looks for them.
const (
	Draws    Kind = "draw"    // a chart's cells
	Places   Kind = "place"   // needles, areas on them
	Mends    Kind = "mend"    // a finding's remedy
	Sections Kind = "section" // sections added, moved, taken away, or knitted otherwise
	Settings Kind = "setting" // options, yarns, names, sizes
	Machines Kind = "machine" // another machine
	Restores Kind = "restore" // a version brought back
)

// Kinds lists them all.
var Kinds = []Kind{Draws, Places, Mends, Sections, Settings, Machines, Restores}

// Edit is what is written down as one and can be undone: its kind, the words that
// name it, its changes in order, and what it was made on.
type Edit struct {
	Kind    Kind
	Label   string
	Changes []Change
	On      int64 // the revision of the state that it was made on
}

// Refused is a change that cannot be made, with its place.
type Refused struct {
	N      int // of the edit's changes, from 0
	Change Change
	Err    error
}

func (e *Refused) Error() string {
	return fmt.Sprintf("change %d: %s %s: %v", e.N, e.Change.Op, e.Change.Path, e.Err)
}

func (e *Refused) Unwrap() error { return e.Err }

// Set is the change that puts v at a place, whether something stands there or not.
func Set(at Path, v any) []Change { return []Change{{Add, at, v}} }

// Put is the change that replaces what stands at a place.
func Put(at Path, v any) []Change { return []Change{{Replace, at, v}} }

// Drop is the change that takes away what stands at a place.
func Drop(at Path) []Change { return []Change{{Op: Remove, Path: at}} }
