package piece_test

import (
	"fmt"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
)

// TestBounds: what a piece may hold is bounded at reading, in words that name the place; at
// each bound it is read, above it is not.
func TestBounds(t *testing.T) {
	plain := func(n, rows int) []any {
		list := make([]any, n)
		for i := range list {
			list[i] = map[string]any{"technique": "plain", "rows": rows, "yarn": "A"}
		}
		return list
	}
	long := func(n int) string { return strings.Repeat("é", n) }
	for _, c := range []struct {
		what, place string
		at          func(over int) []edit.Change
	}{
		{"rows in all", "sections[5]", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/sections", append(plain(5, piece.MaxAllRows/5), plain(over, 1)...))}
		}},
		{"sections", "sections", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/sections", plain(piece.MaxSections+over, 2))}
		}},
		{"a name", "name", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/name", long(piece.MaxText+over))}
		}},
		{"a yarn's name", "yarns[1].name", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/yarns/1/name", long(piece.MaxText+over))}
		}},
		{"a machine's name", "machine.name", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/machine/name", long(piece.MaxText+over))}
		}},
		{"a word of the owner's", "machine.words.plain", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/machine/words", map[string]any{"plain": long(piece.MaxText + over)})}
		}},
		{"a chart's name", "charts." + strings.Repeat("x", 201), func(over int) []edit.Change {
			return []edit.Change{piecetest.Set(edit.Path("/charts/"+strings.Repeat("x", piece.MaxText+over)),
				map[string]any{"rows": []any{"."}})}
		}},
		{"a section's name", "sections[0].name", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/sections/0/name", long(piece.MaxText+over))}
		}},
		{"a note", "sections[0].notes[0].text", func(over int) []edit.Change {
			return []edit.Change{piecetest.Set("/sections/0/notes", []any{map[string]any{"before": 0,
				"text": long(piece.MaxText + over)}})}
		}},
	} {
		for over := range 2 {
			_, err := technique.Piece(piecetest.Document(t, "card-direct", "L6", "R6", []string{"#.."}, c.at(over)...))
			if (err != nil) != (over > 0) || over > 0 && !strings.HasPrefix(fmt.Sprint(err), c.place+":") {
				t.Errorf("%s, %d over: %v", c.what, over, err)
			}
		}
	}
}
