// Package piecetest makes small pieces for tests: one two-colour chart on all the
// needles in work, altered by the same edits that the pages make.
package piecetest

import (
	"encoding/json"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// Document is a piece of four yarns A to D with one chart "c", drawn in '.', '#', '+'
// and '*', and one two-colour section, after the edits.
func Document(t testing.TB, profile, from, to string, rows []string, edits ...edit.Change) *edit.Document {
	t.Helper()
	yarn := func(id string) any { return map[string]any{"yarn": id} }
	tree := map[string]any{
		"vindel": 1, "name": "test", "machine": map[string]any{"profile": profile},
		"yarns": []any{map[string]any{"id": "A"}, map[string]any{"id": "B"}, map[string]any{"id": "C"},
			map[string]any{"id": "D"}},
		"charts": map[string]any{"c": map[string]any{"side": "purl",
			"legend": map[string]any{".": yarn("A"), "#": yarn("B"), "+": yarn("C"), "*": yarn("D")}, "rows": rows}},
		"needles":  map[string]any{"from": from, "to": to},
		"sections": []any{map[string]any{"technique": "two-colour", "areas": []any{map[string]any{"chart": "c"}}}},
	}
	b, err := json.Marshal(tree)
	if err != nil {
		t.Fatal(err)
	}
	doc, err := edit.Parse(b)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := doc.Apply(edits); err != nil {
		t.Fatal(err)
	}
	return doc
}

// New is Document read as a piece.
func New(t testing.TB, profile, from, to string, rows []string, edits ...edit.Change) *piece.Piece {
	t.Helper()
	p, err := technique.Piece(Document(t, profile, from, to, rows, edits...))
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// Set is the edit that puts v at a JSON pointer.
func Set(path edit.Path, v any) edit.Change {
	return edit.Change{Op: edit.Add, Path: path, Value: v}
}

// Area sets a member of the first section's first area.
func Area(key string, v any) edit.Change { return Set(edit.Area(1, 1).To(key), v) }

// Before puts a plain section of n rows in yarn before the others.
func Before(n int, yarn string) edit.Change {
	return Set(edit.Section(1), map[string]any{"technique": "plain", "rows": n, "yarn": yarn})
}
