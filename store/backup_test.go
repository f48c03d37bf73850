package store

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"vindel/knit/piecetest"
)

// TestBackup: a backup is taken while others write, holds what had been answered before it was
// begun, and comes back whole; nothing that is there is written over, and what is no backup
// changes nothing.
func TestBackup(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	doc := piecetest.Document(t, "card-direct", "L4", "R4", []string{"#.##"}).JSON()
	id, err := s.Add(t.Context(), doc)
	if err != nil {
		t.Fatal(err)
	}
	answered, stop := make(chan int64, 100000), make(chan bool)
	go func() {
		defer close(answered)
		last := int64(0)
		for done := 1; ; done++ {
			select {
			case <-stop:
				return
			default:
			}
			if last, err = s.Write(t.Context(), id, last, Entry{Kind: "knitted", Done: done}); err != nil {
				t.Error(err)
				return
			}
			answered <- last
		}
	}()
	var before int64
	for range 20 {
		before = <-answered
	}
	out := filepath.Join(t.TempDir(), "copy.db")
	if err := Backup(t.Context(), dir, out); err != nil {
		t.Fatal(err)
	}
	close(stop)
	var after int64
	for after = range answered {
	}
	whole := dump(t, s)
	s.Close()
	if err := Backup(t.Context(), dir, out); err == nil || !strings.Contains(err.Error(), "there is a file already") {
		t.Errorf("over another: %v", err)
	}
	if err := Backup(t.Context(), t.TempDir(), out+"2"); err == nil || !strings.Contains(err.Error(),
		"there are no data") {
		t.Errorf("of nothing: %v", err)
	}
	if err := Backup(t.Context(), dir, filepath.Join(dir, "no", "where.db")); err == nil {
		t.Error("into a folder that is not there")
	}

	// Into a folder of other data: those are kept.
	for name, data := range map[string]string{"text": "knit two", "": ""} {
		bad := filepath.Join(t.TempDir(), "bad")
		if name != "" {
			os.WriteFile(bad, []byte(data), 0o600)
		}
		if kept, err := Restore(t.Context(), bad, dir); err == nil || kept != "" {
			t.Errorf("from %q: %s", name, kept)
		}
	}
	empty := filepath.Join(t.TempDir(), "empty.db")
	os.WriteFile(empty, nil, 0o600)
	if _, err := Restore(t.Context(), empty, dir); err == nil || !strings.Contains(err.Error(), "no backup of Vindel") {
		t.Errorf("from an empty file: %v", err)
	}
	newer := writtenBy(t, 8, `INSERT INTO goose_db_version (version_id, is_applied) VALUES (99, 1)`)
	if _, err := Restore(t.Context(), filepath.Join(newer, FileName), dir); err == nil ||
		!strings.Contains(err.Error(), "newer Vindel") {
		t.Errorf("from a newer one: %v", err)
	}
	if err := Backup(t.Context(), newer, out+"3"); err == nil || !strings.Contains(err.Error(), "newer Vindel") {
		t.Errorf("of a newer one: %v", err)
	}
	if _, err := Restore(t.Context(), out, filepath.Join(dir, "nowhere")); err == nil {
		t.Error("into a folder that is not there")
	}
	kept, err := Restore(t.Context(), out, dir)
	if err != nil || kept == "" {
		t.Fatalf("%s, %v", kept, err)
	}
	s = open(t, dir)
	at, err := s.Reached(t.Context(), id)
	if err != nil || at.ID < before || at.ID > after {
		t.Errorf("it holds what was answered up to %d, of %d before and %d in all; %v", at.ID, before, after, err)
	}
	s.Close()
	// And back again: what was kept is whole.
	if list := Copies(dir); len(list) != 1 || list[0] != kept {
		t.Errorf("copies: %v", list)
	}
	if _, err := Restore(t.Context(), kept, dir); err != nil {
		t.Fatal(err)
	}
	s = open(t, dir)
	defer s.Close()
	if now := dump(t, s); now != whole {
		t.Errorf("what was kept is not what was there: %d bytes, want %d", len(now), len(whole))
	}
	if list := Copies(dir); len(list) != 2 {
		t.Errorf("copies: %v", list)
	}
}

// TestRescue: out of a damaged file comes every piece that can be read, with how far it was
// knitted, also those that were in the log only; the file is not touched.
func TestRescue(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	for i := range 40 {
		id, err := s.Add(t.Context(), fmt.Appendf(nil, `{"name":"flag %d","pad":%q}`, i+1, strings.Repeat("heron ",
			700)))
		if err == nil {
			_, err = s.Write(t.Context(), id, 0, Entry{Kind: "knitted", Done: i})
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	live, err := Rescue(t.Context(), dir) // with its log beside it
	if err != nil || len(live) != 40 {
		t.Errorf("out of a whole one: %d, %v", len(live), err)
	}
	s.Close()
	path := filepath.Join(dir, FileName)
	data, _ := os.ReadFile(path)
	s = open(t, dir)
	if err := s.SetSetting(t.Context(), "taught", "1"); err != nil {
		t.Fatal(err)
	}
	log, _ := os.ReadFile(path + "-wal") // of one small change after that
	s.Close()
	spoilt := bytes.Index(data, []byte(`"flag 20"`)) &^ 4095 // the page that it lies on
	for i := range 4096 {
		data[spoilt+i] = 0xa5
	}
	os.WriteFile(path, data, 0o600)
	if _, err := Open(t.Context(), dir); err == nil || !strings.Contains(err.Error(), ErrDamaged.Error()) {
		t.Fatalf("opened: %v", err)
	}
	list, err := Rescue(t.Context(), dir)
	if err != nil || len(list) < 30 || len(list) > 39 {
		t.Fatalf("%d pieces, %v", len(list), err)
	}
	for _, p := range list {
		if p.Name != fmt.Sprintf("flag %d", p.ID) || p.Knitted != int(p.ID)-1 && p.Knitted != 0 ||
			!strings.HasPrefix(string(p.Doc), `{"name":"flag`) {
			t.Errorf("%d: %s, %d passes, %.30s", p.ID, p.Name, p.Knitted, p.Doc)
		}
	}
	if now, _ := os.ReadFile(path); !bytes.Equal(now, data) {
		t.Error("the damaged file has been changed")
	}
	// A copy put in its place is not mixed with what its log held.
	good := filledInto(t, `{"name":"whole"}`)
	if err := os.WriteFile(path+"-wal", log, 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(t.Context(), dir); err == nil {
		t.Fatal("a damaged one with a log is opened")
	}
	if now, _ := os.ReadFile(path); !bytes.Equal(now, data) {
		t.Error("it was opened to look at it, and has been changed")
	}
	kept, err := Restore(t.Context(), good, dir)
	if err != nil {
		t.Fatal(err)
	}
	if now, _ := os.ReadFile(kept + "-wal"); !bytes.Equal(now, log) {
		t.Errorf("the log of the damaged file: %d bytes beside it, want %d", len(now), len(log))
	}
	s = open(t, dir)
	defer s.Close()
	if shelf, err := s.Shelf(t.Context(), ""); err != nil || len(shelf) != 1 || shelf[0].Name != "whole" {
		t.Errorf("restored: %+v, %v", shelf, err)
	}
	if _, err := Rescue(t.Context(), t.TempDir()); err == nil {
		t.Error("out of nothing")
	}
}

// filledInto is a backup that holds one piece.
func filledInto(t *testing.T, doc string) (out string) {
	t.Helper()
	dir := t.TempDir()
	s := open(t, dir)
	defer s.Close()
	if _, err := s.Add(t.Context(), []byte(doc)); err != nil {
		t.Fatal(err)
	}
	out = filepath.Join(t.TempDir(), "copy.db")
	if err := Backup(t.Context(), dir, out); err != nil {
		t.Fatal(err)
	}
	return out
}
