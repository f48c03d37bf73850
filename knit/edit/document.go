package edit

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"

	"vindel/knit/piece"
)

// Document is a piece file as it stands, right or wrong, that edits work on.
type Document struct{ tree any }

// Parse reads JSON; only text that is no JSON is an error.
func Parse(data []byte) (*Document, error) {
	v, err := piece.Decode(data)
	return &Document{v}, err
}

// Tree is the document as plain values; they are not to be changed.
func (d *Document) Tree() any { return d.tree }

// JSON is the document as text.
func (d *Document) JSON() []byte {
	b, err := json.MarshalIndent(d.tree, "", " ")
	if err != nil {
		panic("edit: a document of JSON values: " + err.Error())
	}
	return append(b, '\n')
}

// Get is the value at a place, and whether there is one.
func (d *Document) Get(at Path) (any, bool) {
	keys, err := at.split()
	if err != nil {
		return nil, false
	}
	v := d.tree
	for _, key := range keys {
		switch parent := v.(type) {
		case map[string]any:
			child, ok := parent[key]
			if !ok {
				return nil, false
			}
			v = child
		case []any:
			i, err := strconv.Atoi(key)
			if err != nil || i < 0 || i >= len(parent) {
				return nil, false
			}
			v = parent[i]
		default:
			return nil, false
		}
	}
	return v, true
}

// Apply makes the changes in order and gives those that undo them. An error is a *Refused
// that names the change, and then nothing is changed.
func (d *Document) Apply(changes []Change) (inverse []Change, err error) {
	for i, c := range changes {
		back, err := d.change(c)
		if err != nil {
			d.Apply(inverse)
			return nil, &Refused{i, c, err}
		}
		inverse = slices.Insert(inverse, 0, back)
	}
	return inverse, nil
}

var errMissing = errors.New("no such place")

func (d *Document) change(c Change) (back Change, err error) {
	if c.Op != Add && c.Op != Replace && c.Op != Remove {
		return back, fmt.Errorf("%q: add, replace or remove", string(c.Op))
	}
	value, err := plainValue(c.Value)
	if err != nil {
		return back, err
	}
	keys, err := c.Path.split()
	if err != nil {
		return back, err
	}
	if len(keys) == 0 {
		if c.Op != Replace {
			return back, errors.New("the whole piece can only be replaced")
		}
		back = Change{Replace, Whole, d.tree}
		d.tree = value
		return back, nil
	}
	at, last := c.Path.Cut()
	parent, ok := d.Get(at)
	if !ok {
		return back, errMissing
	}
	switch parent := parent.(type) {
	case map[string]any:
		return changeMember(parent, c, last, value)
	case []any:
		return d.changeElement(parent, c, at, last, value)
	}
	return back, errMissing
}

func changeMember(parent map[string]any, c Change, key string, value any) (back Change, err error) {
	old, had := parent[key]
	switch {
	case c.Op == Remove && had:
		delete(parent, key)
		return Change{Add, c.Path, old}, nil
	case c.Op == Remove || c.Op == Replace && !had:
		return back, errMissing
	}
	parent[key] = value
	if had {
		return Change{Replace, c.Path, old}, nil
	}
	return Change{Op: Remove, Path: c.Path}, nil
}

func (d *Document) changeElement(parent []any, c Change, list Path, last string, value any) (back Change, err error) {
	i, err := strconv.Atoi(last)
	if last == "-" && c.Op == Add {
		i, err = len(parent), nil
	}
	if err != nil || i < 0 || i > len(parent) || i == len(parent) && c.Op != Add {
		return back, errMissing
	}
	at := list.At(i)
	switch c.Op {
	case Add:
		_, err := d.change(Change{Replace, list, slices.Insert(slices.Clone(parent), i, value)})
		return Change{Op: Remove, Path: at}, err
	case Remove:
		back = Change{Add, at, parent[i]}
		_, err := d.change(Change{Replace, list, slices.Delete(slices.Clone(parent), i, i+1)})
		return back, err
	}
	back = Change{Replace, at, parent[i]}
	parent[i] = value
	return back, nil
}

// plainValue makes any value one that a file could have held, shared with nobody.
func plainValue(v any) (any, error) {
	b, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	return piece.Decode(b)
}
