package store

import (
	"archive/zip"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"vindel/knit/edit"
	"vindel/knit/pass"
)

// everything is a store with something in every table.
func everything(t *testing.T) *Store {
	t.Helper()
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	ctx := t.Context()
	id, err := s.Add(ctx, []byte(`{"vindel":1,"name":"Moth band"}`))
	if err != nil {
		t.Fatal(err)
	}
	for i := range 5 {
		at, _ := s.Reached(ctx, id)
		if _, err := s.Write(ctx, id, at.ID, Entry{Kind: "knitted", Done: i + 1}); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := s.WritePhoto(ctx, id, "the edge", []byte("\xff\xd8 a photograph")); err != nil {
		t.Fatal(err)
	}
	if _, err := s.db.ExecContext(ctx, `INSERT INTO machine (id, doc, updated) VALUES (1, '{"profile":"hand-mid"}', '');
		INSERT INTO machine_photo (machine, photo) VALUES (1, x'ffd8'); INSERT INTO setting (key, value) VALUES ('a',
			'b');
		INSERT INTO session (token, expires) VALUES ('t', '2999-01-01T00:00:00Z')`); err != nil {
		t.Fatal(err)
	}
	return s
}

// rowsOf is every row of every table that is brought back, in words.
// rowsOf is every row as text, with the numbers of the journal and the revisions counted from 1 again.
func rowsOf(t *testing.T, db *sql.DB) (all []string) {
	t.Helper()
	tx, err := db.Begin()
	if err != nil {
		t.Fatal(err)
	}
	defer tx.Rollback()
	for _, back := range []string{"PRAGMA defer_foreign_keys = ON",
		"UPDATE journal_photo SET entry = entry - (SELECT min(id) - 1 FROM journal)",
		"UPDATE journal SET id = id - (SELECT min(id) - 1 FROM journal)",
		"UPDATE piece SET rev = rev - (SELECT min(rev) - 1 FROM piece)", "DELETE FROM setting WHERE key LIKE 'last:%'"} {
		if _, err := tx.Exec(back); err != nil {
			t.Fatal(err)
		}
	}
	tables, err := tablesOf(t.Context(), tx)
	if err != nil {
		t.Fatal(err)
	}
	for _, table := range tables {
		rows, err := tx.Query("SELECT * FROM " + table)
		if err != nil {
			t.Fatal(err)
		}
		columns, _ := rows.Columns()
		for rows.Next() {
			row := make([]any, len(columns))
			for i := range row {
				row[i] = new(any)
			}
			if err := rows.Scan(row...); err != nil {
				t.Fatal(err)
			}
			text := table
			for i := range row {
				text += fmt.Sprintf("|%v", *row[i].(*any))
			}
			all = append(all, text)
		}
		rows.Close()
	}
	slices.Sort(all)
	return all
}

// TestArchiveRestored: what an archive holds is brought back into an empty folder, and into a Vindel that is at
// work, and equals the original in every row; other programs find the pieces, the journal and the photographs.
func TestArchiveRestored(t *testing.T) {
	s := everything(t)
	want := rowsOf(t, s.db)
	out := filepath.Join(t.TempDir(), "all.zip")
	if err := s.ArchiveTo(t.Context(), out); err != nil {
		t.Fatal(err)
	}
	z, err := zip.OpenReader(out)
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for _, f := range z.File {
		names = append(names, f.Name)
	}
	z.Close()
	for _, name := range []string{"pieces/1.vindel.json", "journal.csv", "photos/journal-6.jpg",
		"photos/machine-1.jpg", "machines/1.json", "vindel.db", "read-me.txt"} {
		if !slices.Contains(names, name) {
			t.Errorf("no %s in %v", name, names)
		}
	}
	dir := t.TempDir()
	if kept, err := Restore(t.Context(), out, dir); err != nil || kept != "" {
		t.Fatal(kept, err)
	}
	fresh, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer fresh.Close()
	if got := rowsOf(t, fresh.db); !slices.Equal(got, want) {
		t.Errorf("restored:\n%s\nnot\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	at, _ := s.Reached(t.Context(), 1)
	if _, err := s.Write(t.Context(), 1, at.ID, Entry{Kind: "knitted", Done: 6}); err != nil {
		t.Fatal(err)
	}
	if err := s.SetPassphrase(t.Context(), "a hash"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.db.Exec(`INSERT INTO session (token, expires) VALUES ('since', ` +
		`'2999-01-01T00:00:00Z')`); err != nil {
		t.Fatal(err)
	}
	kept, err := s.Replace(t.Context(), out)
	if err != nil {
		t.Fatal(err)
	}
	var sessions int
	if err := s.db.QueryRow(`SELECT count(*) FROM session WHERE token = 'since'`).Scan(&sessions); err != nil ||
		sessions != 1 {
		t.Errorf("%d sessions, %v: who is logged in is not logged out by it", sessions, err)
	}
	got := slices.DeleteFunc(rowsOf(t, s.db), func(r string) bool {
		return strings.HasPrefix(r,
			"setting|"+PassphraseKey)
	})
	if !slices.Equal(got, want) {
		t.Errorf("brought back at work:\n%s\nnot\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	if phrase, _ := s.Setting(t.Context(), PassphraseKey); phrase != "a hash" {
		t.Error("the passphrase went with it")
	}
	// A press from a page of before finds its place taken, a stroke its revision, and no number is given twice.
	if _, err := s.Write(t.Context(), 1, at.ID, Entry{Kind: "knitted", Done: 6}); !errors.Is(err, ErrMoved) {
		t.Errorf("a press of before: %v", err)
	}
	now, _ := s.Reached(t.Context(), 1)
	if _, err := s.Write(t.Context(), 1, now.ID, Entry{Kind: "knitted", Done: 6}); err != nil || now.Done != 5 {
		t.Errorf("and on from %d: %v", now.Done, err)
	}
	if now, _ = s.Reached(t.Context(), 1); now.ID <= at.ID+1 {
		t.Errorf("entry %d was there before", now.ID)
	}
	if err := s.Edit(t.Context(), 1, edit.Edit{Kind: edit.Settings, On: 1, Changes: edit.Set("/name",
		"another")}); !errors.Is(err, ErrStale) {
		t.Errorf("a stroke on a revision of before: %v", err)
	}
	given, _ := s.Add(t.Context(), []byte(`{"vindel":1,"name":"after the copy"}`))
	if _, err := s.Replace(t.Context(), out); err != nil {
		t.Fatal(err)
	}
	if again, _ := s.Add(t.Context(), []byte(`{"vindel":1,"name":"after it again"}`)); again <= given {
		t.Errorf("piece %d was another, before", again)
	}
	if p, _ := s.Piece(t.Context(), 1); p.Rev != 3 { // the next one each time: they must not double
		t.Errorf("brought back twice it is at revision %d", p.Rev)
	}
	was := t.TempDir()
	if _, err := Restore(t.Context(), kept, was); err != nil {
		t.Fatalf("what was replaced cannot be brought back: %v", err)
	}
}

// TestDamagedArchive: an archive that is cut short anywhere, or changed by a byte, is refused in words and
// changes nothing; so is a file that is none.
func TestDamagedArchive(t *testing.T) {
	s := everything(t)
	want := rowsOf(t, s.db)
	out := filepath.Join(t.TempDir(), "all.zip")
	if err := s.ArchiveTo(t.Context(), out); err != nil {
		t.Fatal(err)
	}
	whole, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	refused := func(what string, data []byte) {
		t.Helper()
		bad := filepath.Join(t.TempDir(), "bad.zip")
		if err := os.WriteFile(bad, data, 0o600); err != nil {
			t.Fatal(err)
		}
		if _, err := s.Replace(t.Context(), bad); err == nil || CopyTrouble(err) == "" {
			t.Errorf("%s: %v", what, err)
		}
	}
	for i := range 12 {
		refused("cut short", whole[:len(whole)*i/12])
	}
	for i := range 24 {
		data := slices.Clone(whole)
		data[60+(len(data)-400)*i/24] ^= 0x55
		bad := filepath.Join(t.TempDir(), "bad.zip")
		if err := os.WriteFile(bad, data, 0o600); err != nil {
			t.Fatal(err)
		}
		if _, err := s.Replace(t.Context(), bad); err == nil { // a byte of a header that says nothing
			if got := rowsOf(t, s.db); !slices.Equal(got, want) {
				t.Errorf("byte %d: something else was brought back", i)
			}
		} else if CopyTrouble(err) == "" {
			t.Errorf("byte %d: %v", i, err)
		}
	}
	refused("some text", []byte("a knitted row"))
	z, err := zip.OpenReader(out)
	if err != nil {
		t.Fatal(err)
	}
	defer z.Close()
	for _, f := range z.File { // in the middle of what each part holds
		at, err := f.DataOffset()
		if err != nil {
			t.Fatal(err)
		}
		data := slices.Clone(whole)
		data[at+int64(f.CompressedSize64/2)] ^= 0xff
		refused(f.Name, data)
	}
	if got := rowsOf(t, s.db); !slices.Equal(got, want) {
		t.Error("a refused file has changed something")
	}
	if left, _ := filepath.Glob(filepath.Join(s.Folder(), "restore-*")); len(left) > 0 {
		t.Errorf("left behind: %v", left)
	}
}

// TestTimedCopies: of copies by the clock the last are kept, each can be brought back, and a full disk is told.
func TestTimedCopies(t *testing.T) {
	s := everything(t)
	clock := time.Date(2026, 11, 1, 10, 0, 0, 0, time.UTC)
	s.now = func() time.Time { return clock }
	for range 5 {
		clock = clock.Add(24 * time.Hour)
		if err := s.CopyNow(t.Context(), 3); err != nil {
			t.Fatal(err)
		}
	}
	list := s.TimedCopies()
	if len(list) != 3 || list[0].Name != "vindel-20261106-100000.zip" || list[2].Name != "vindel-20261104-100000.zip" {
		t.Errorf("%+v", list)
	}
	if s.CopyPath("../vindel.db") != "" || s.CopyPath(list[1].Name) == "" {
		t.Error("paths")
	}
	if _, err := s.Replace(t.Context(), s.CopyPath(list[2].Name)); err != nil {
		t.Error(err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	clock = clock.Add(24 * time.Hour)
	if err := s.CopyNow(ctx, 3); err == nil || !errors.Is(err, context.Canceled) && !strings.Contains(err.Error(),
		"copy") {
		t.Errorf("cut off: %v", err)
	}
	if now := s.TimedCopies(); len(now) != 3 {
		t.Errorf("a copy that was not finished counts: %+v", now)
	}
}

// TestPhotographMovesNobody: a photograph that took its time is written where she is by then.
func TestPhotographMovesNobody(t *testing.T) {
	s := everything(t)
	at, _ := s.Reached(t.Context(), 1)
	row := pass.ID{Section: "s1", Repeat: 1, Row: 7, Nth: 1}
	if _, err := s.Write(t.Context(), 1, at.ID, Entry{Kind: "knitted", Done: 6, Pass: row}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.WritePhoto(t.Context(), 1, "row 5", []byte("\xff\xd8")); err != nil {
		t.Fatal(err)
	}
	if now, _ := s.Reached(t.Context(), 1); now.Done != 6 || now.Pass != row || !now.Photo || now.Note != "row 5" {
		t.Errorf("after it she is at %+v", now)
	}
	id, err := s.Add(t.Context(), []byte(`{"vindel":1,"name":"not begun"}`))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.WritePhoto(t.Context(), id, "the yarn", []byte("\xff\xd8")); err != nil {
		t.Fatal(err)
	}
	if now, _ := s.Reached(t.Context(), id); now.Done != 0 || now.Note != "the yarn" {
		t.Errorf("before the first pass: %+v", now)
	}
}

// TestRestoredWhileKnitting: what is answered while a copy is brought back is in what is kept of before, or in what
// stands afterwards.
func TestRestoredWhileKnitting(t *testing.T) {
	s := everything(t)
	out := filepath.Join(t.TempDir(), "all.zip")
	if err := s.ArchiveTo(t.Context(), out); err != nil {
		t.Fatal(err)
	}
	stop, answered := make(chan bool), make(chan []string, 1)
	go func() {
		var notes []string
		for n := 0; ; n++ {
			select {
			case <-stop:
				answered <- notes
				return
			default:
			}
			at, _ := s.Reached(context.Background(), 1)
			note := fmt.Sprint("remark ", n)
			if _, err := s.Write(context.Background(), 1, at.ID, Entry{Kind: "note", Done: 5, Note: note}); err == nil {
				notes = append(notes, note)
			}
		}
	}()
	kept, err := s.Replace(t.Context(), out)
	close(stop)
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	if _, err := Restore(t.Context(), kept, dir); err != nil {
		t.Fatal(err)
	}
	was, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer was.Close()
	there := map[string]bool{}
	for _, st := range []*Store{s, was} {
		list, _ := st.Journal(t.Context(), 1, 1<<20)
		for _, e := range list {
			there[e.Note] = true
		}
	}
	notes := <-answered
	for _, note := range notes {
		if !there[note] {
			t.Errorf("%s was answered, and is nowhere", note)
		}
	}
	t.Logf("%d remarks", len(notes))
	if len(notes) < 3 {
		t.Errorf("only %d remarks meanwhile", len(notes))
	}
}

// TestSwept: what killed processes have left goes, what is at work or hers stays; of what was replaced the latest stay.
func TestSwept(t *testing.T) {
	s := everything(t)
	dir := s.Folder()
	old := s.now().Add(-25 * time.Hour)
	left := func(name string, at time.Time) {
		if err := os.MkdirAll(filepath.Dir(filepath.Join(dir, name)), 0o700); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(dir, name), []byte("x"), 0o600); err != nil {
			t.Fatal(err)
		}
		for _, which := range []string{name, filepath.Dir(name)} {
			if which != "." {
				os.Chtimes(filepath.Join(dir, which), at, at)
			}
		}
	}
	for _, name := range []string{"archive-1/vindel-2026.zip", "restore-2/vindel.db", "upload-3", "vindel.db.part",
		"copies/vindel-2026-01-01-1200.zip.part", "her own notes.txt", "archive-2025/bands.txt", "upload-band.png", "another.part"} {
		left(name, old)
	}
	left("archive-4/vindel-2026.zip", s.now()) // is being made
	for day := range KeptReplaced + 2 {
		left(fmt.Sprintf("vindel-replaced-2026-01-%02d-120000.db", day+1), old)
	}
	if n, err := s.Sweep(24 * time.Hour); err != nil || n != 7 {
		t.Errorf("%d are swept: %v", n, err)
	}
	have, _ := filepath.Glob(filepath.Join(dir, "*"))
	for i, name := range have {
		have[i] = filepath.Base(name)
	}
	for name, stays := range map[string]bool{
		"archive-1": false, "restore-2": false, "upload-3": false, "vindel.db.part": false,
		"archive-4": true, "her own notes.txt": true, "vindel.db": true, "archive-2025": true,
		"upload-band.png": true, "another.part": true,
		"vindel-replaced-2026-01-02-120000.db": false, "vindel-replaced-2026-01-03-120000.db": true,
		"vindel-replaced-2026-01-07-120000.db": true,
	} {
		if slices.Contains(have, name) != stays {
			t.Errorf("%s stays: %v", name, !stays)
		}
	}
	if n, err := s.Sweep(0); err != nil || n != 1 {
		t.Errorf("at a start %d are swept: %v", n, err)
	}
}

// TestDoorNotRestored: a copy that is brought back brings neither the passphrase of then nor who was logged in.
func TestDoorNotRestored(t *testing.T) {
	s := everything(t)
	if err := s.SetPassphrase(t.Context(), "a hash"); err != nil {
		t.Fatal(err)
	}
	if err := s.AddSession(t.Context(), Session{Token: "stolen tablet", Expires: s.now().Add(time.Hour)}); err != nil {
		t.Fatal(err)
	}
	out := filepath.Join(t.TempDir(), "copy.db")
	if err := Backup(t.Context(), s.Folder(), out); err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	if _, err := Restore(t.Context(), out, dir); err != nil {
		t.Fatal(err)
	}
	back, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer back.Close()
	if hash, _ := back.Setting(t.Context(), PassphraseKey); hash != "" {
		t.Error("the passphrase of then is back")
	}
	if ok, _ := back.HasSession(t.Context(), "stolen tablet"); ok {
		t.Error("who was sent away is in again")
	}
}
