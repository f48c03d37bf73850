package store

import (
	"bytes"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"vindel/knit/edit"
)

// TestOpening: data from a newer Vindel and a damaged file are refused as they are, in words;
// before an update a dated copy is made that can be opened; nobody else may read any of it.
func TestOpening(t *testing.T) {
	newer := writtenBy(t, 7, `INSERT INTO goose_db_version (version_id, is_applied) VALUES (99, 1)`)
	before, _ := os.ReadFile(filepath.Join(newer, FileName))
	if _, err := Open(t.Context(), newer); err == nil || !strings.Contains(err.Error(),
		"from a newer Vindel (99, and this one knows 16)") {
		t.Errorf("a newer one: %v", err)
	}
	if after, _ := os.ReadFile(filepath.Join(newer, FileName)); !bytes.Equal(before, after) {
		t.Error("a newer one has been changed")
	}

	damaged := writtenBy(t, 7, `INSERT INTO piece (doc, head, created, updated) VALUES ('`+strings.Repeat("x",
		40000)+`', 0, '', '')`)
	path := filepath.Join(damaged, FileName)
	data, _ := os.ReadFile(path)
	for i := 4096; i < len(data); i += 512 {
		copy(data[i:], "not a database any more")
	}
	if err := os.WriteFile(path, data, 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(t.Context(), damaged); err == nil || !strings.Contains(err.Error(),
		"the file is damaged. Nothing has been changed") {
		t.Errorf("a damaged one: %v", err)
	}
	if after, _ := os.ReadFile(path); !bytes.Equal(data, after) {
		t.Error("a damaged one has been changed")
	}

	old := writtenBy(t, 4, `INSERT INTO piece (doc, head, created, updated) VALUES ('{}', 0, '', '')`)
	s, err := Open(t.Context(), old)
	if err != nil {
		t.Fatal(err)
	}
	s.Close()
	copies, _ := filepath.Glob(filepath.Join(old, "vindel-before-16-*.db"))
	if len(copies) != 1 {
		t.Fatalf("copies before the update: %v", copies)
	}
	db, err := sql.Open("sqlite", "file:"+copies[0])
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	var pieces, version int
	if err := db.QueryRow(`SELECT count(*), (SELECT max(version_id) FROM goose_db_version) FROM piece`).Scan(&pieces,
		&version); err != nil ||
		pieces != 1 || version != 4 {
		t.Errorf("the copy holds %d pieces at version %d, %v", pieces, version, err)
	}
	fresh := t.TempDir()
	if s, err = Open(t.Context(), fresh); err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if copies, _ = filepath.Glob(filepath.Join(fresh, "*-before-*")); len(copies) != 0 {
		t.Errorf("a copy of nothing: %v", copies)
	}
	list, _ := filepath.Glob(filepath.Join(fresh, FileName+"*"))
	for _, name := range append(list, filepath.Join(old, filepath.Base(FileName))) {
		if info, err := os.Stat(name); err != nil || info.Mode().Perm()&0o077 != 0 && filepath.Dir(name) == fresh {
			t.Errorf("%s: %v, %v", name, info.Mode(), err)
		}
	}
	if _, err := Open(t.Context(), filepath.Join(fresh, "gone")); err == nil || !strings.Contains(err.Error(),
		"cannot be written there") {
		t.Errorf("a folder that is not there: %v", err)
	}
}

// TestLocked: one server a folder, until it gives it free.
func TestLocked(t *testing.T) {
	dir := t.TempDir()
	free, err := Lock(dir)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := Lock(dir); err == nil || !strings.Contains(err.Error(), "another Vindel is running with these data") {
		t.Errorf("locked twice: %v", err)
	}
	if err := free(); err != nil {
		t.Fatal(err)
	}
	if free, err = Lock(dir); err != nil {
		t.Errorf("given free: %v", err)
	}
	free()
}

// TestManyWrite: many who write at once are served one after another, and none is refused.
func TestManyWrite(t *testing.T) {
	s, id := filled(t)
	var all sync.WaitGroup
	for i := range 40 {
		all.Go(func() {
			for k := range 5 {
				err := ErrStale // another has written between the reading and the edit: it is made on what stands then
				for errors.Is(err, ErrStale) {
					err = editNow(t.Context(), s, id, edit.Edit{Label: "name", Changes: edit.Set(edit.Member("name"),
						strings.Repeat("x", 1+i*5+k))})
				}
				if err != nil {
					t.Errorf("writer %d: %v", i, err)
				}
			}
		})
	}
	all.Wait()
	if p, err := s.Piece(t.Context(), id); err != nil || p.Head < 150 || p.Head > 200 {
		t.Errorf("%d edits, %v", p.Head, err)
	}
}

// TestNumbersAreNotUsedAgain: a page left open on a piece that was deleted for good never finds
// another piece there.
func TestNumbersAreNotUsedAgain(t *testing.T) {
	s, first := filled(t)
	add := func() int64 {
		id, err := s.Add(t.Context(), []byte("{}"))
		if err != nil {
			t.Fatal(err)
		}
		return id
	}
	drop := func(id int64) {
		if err := s.PutAway(t.Context(), id, true); err != nil {
			t.Fatal(err)
		}
		if err := s.DeletePiece(t.Context(), id, time.Now().Add(time.Hour)); err != nil {
			t.Fatal(err)
		}
	}
	second := add()
	drop(second)
	drop(first) // the lower one after the higher
	if third := add(); third <= second {
		t.Errorf("%d after %d was deleted", third, second)
	}
}
