package piece

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/finding"
)

// Document is a piece file as it stands, right or wrong, that edits work on.
type Document struct{ tree any }

// ParseDocument reads JSON; only text that is no JSON is an error.
func ParseDocument(data []byte) (*Document, error) {
	v, err := decode(data)
	return &Document{v}, err
}

// Piece reads the document as a piece, as Read does.
func (d *Document) Piece() (*Piece, error) { return FromTree(d.tree) }

// JSON is the document as text.
func (d *Document) JSON() []byte {
	b, err := json.MarshalIndent(d.tree, "", " ")
	if err != nil {
		panic("piece: a document of JSON values: " + err.Error())
	}
	return append(b, '\n')
}

// Get is the value at a JSON pointer, and whether there is one.
func (d *Document) Get(path string) (any, bool) {
	v := d.tree
	for _, key := range pointer(path) {
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

func pointer(path string) []string {
	if path == "" {
		return nil
	}
	keys := strings.Split(strings.TrimPrefix(path, "/"), "/")
	for i, k := range keys {
		keys[i] = strings.ReplaceAll(strings.ReplaceAll(k, "~1", "/"), "~0", "~")
	}
	return keys
}

// Escape makes a name into one step of a JSON pointer.
func Escape(name string) string {
	return strings.ReplaceAll(strings.ReplaceAll(name, "~", "~0"), "/", "~1")
}

// Apply makes the changes in order and gives those that undo them. On an error
// nothing is changed.
func (d *Document) Apply(changes []finding.Change) (inverse []finding.Change, err error) {
	for i, c := range changes {
		back, err := d.change(c)
		if err != nil {
			d.Apply(inverse)
			return nil, fmt.Errorf("change %d: %s %s: %w", i, c.Op, c.Path, err)
		}
		inverse = slices.Insert(inverse, 0, back)
	}
	return inverse, nil
}

func (d *Document) change(c finding.Change) (back finding.Change, err error) {
	value, err := plainValue(c.Value)
	if err != nil {
		return back, err
	}
	keys := pointer(c.Path)
	if len(keys) == 0 {
		if c.Op != "replace" {
			return back, fmt.Errorf("the whole piece can only be replaced")
		}
		back = finding.Change{Op: "replace", Path: "", Value: d.tree}
		d.tree = value
		return back, nil
	}
	last := keys[len(keys)-1]
	parentPath := c.Path[:strings.LastIndexByte(c.Path, '/')]
	parent, ok := d.Get(parentPath)
	if !ok {
		return back, fmt.Errorf("no such place")
	}
	switch parent := parent.(type) {
	case map[string]any:
		old, had := parent[last]
		switch {
		case c.Op == "remove" && had:
			delete(parent, last)
			return finding.Change{Op: "add", Path: c.Path, Value: old}, nil
		case c.Op == "remove" || c.Op == "replace" && !had:
			return back, fmt.Errorf("no such place")
		}
		parent[last] = value
		if had {
			return finding.Change{Op: "replace", Path: c.Path, Value: old}, nil
		}
		return finding.Change{Op: "remove", Path: c.Path}, nil
	case []any:
		i, err := strconv.Atoi(last)
		if last == "-" && c.Op == "add" {
			i, err = len(parent), nil
		}
		if err != nil || i < 0 || i > len(parent) || i == len(parent) && c.Op != "add" {
			return back, fmt.Errorf("no such place")
		}
		at := parentPath + "/" + strconv.Itoa(i)
		switch c.Op {
		case "add":
			_, err := d.change(finding.Change{Op: "replace", Path: parentPath, Value: slices.Insert(slices.Clone(parent), i, value)})
			return finding.Change{Op: "remove", Path: at}, err
		case "remove":
			back = finding.Change{Op: "add", Path: at, Value: parent[i]}
			_, err := d.change(finding.Change{Op: "replace", Path: parentPath, Value: slices.Delete(slices.Clone(parent), i, i+1)})
			return back, err
		}
		back = finding.Change{Op: "replace", Path: at, Value: parent[i]}
		parent[i] = value
		return back, nil
	}
	return back, fmt.Errorf("no such place")
}

// plainValue makes any value one that decode could have given, shared with nobody.
func plainValue(v any) (any, error) {
	b, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	return decode(b)
}
