package store

import (
	"context"
	"database/sql"
	"io/fs"
	"path/filepath"
	"testing"

	"github.com/pressly/goose/v3"

	"vindel/knit/edit"
)

// writtenBy makes a database as the version of the schema wrote it, and fills it.
func writtenBy(t *testing.T, version int64, fill string) (dir string) {
	t.Helper()
	dir = t.TempDir()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, "vindel.db"))
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	sub, _ := fs.Sub(migrations, "migrations")
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, sub)
	if err == nil {
		_, err = provider.UpTo(context.Background(), version)
	}
	if err == nil {
		_, err = db.Exec(fill)
	}
	if err != nil {
		t.Fatal(err)
	}
	return dir
}

// TestKindsOfOldEdits: edits written before they had a kind get theirs from their words,
// once; what was undone does not count.
func TestKindsOfOldEdits(t *testing.T) {
	for label, want := range map[string]edit.Kind{"draw": edit.Draws, "type a row": edit.Draws, "mirror": edit.Draws,
		"move": edit.Draws, "move heron": edit.Places, "mirror heron": edit.Places,
		"33 stitches in the middle": edit.Places, "set from": edit.Places, "set counter": edit.Settings,
		"below section": edit.Sections, "knit on My machine": edit.Machines,
		"bring back as it was": edit.Restores, "Catch oat at L4": edit.Mends} {
		dir := writtenBy(t, 2, `INSERT INTO piece (id, doc, head, created, updated) VALUES (1, '{}', 1, '', '');
			INSERT INTO edit (piece, n, label, changes, inverse, at) VALUES (1, 1, '`+label+`', '[]', '[]', ''), (1, 2, 'fill', '[]', '[]', '')`)
		s, err := Open(t.Context(), dir)
		if err != nil {
			t.Fatal(err)
		}
		did, err := s.Did(t.Context(), 1)
		if err != nil || len(did) != 1 || !did[want] {
			t.Errorf("%q: %v, want %s; %v", label, did, want, err)
		}
		s.Close()
	}
}
