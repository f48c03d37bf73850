package store

import (
	"archive/zip"
	"bytes"
	"context"
	"database/sql"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"
)

// An archive is everything in one file that other programs can read too: a zip with the database (SQLite), which
// alone is brought back, and beside it each piece as its file, the journal as CSV and photographs as JPEG.

const readMe = `This is a copy of everything that Vindel keeps, made %s.

vindel.db      all of it, as an SQLite database; this is what "vindel restore" and the page bring back
pieces/        each piece as its own file (JSON), named by its number
machines/      your own machines (JSON)
journal.csv    what was knitted, pass by pass
photos/        photographs at rows, of swatches and of machines (JPEG)
`

// Archive writes everything of a folder of data into one new file. A Vindel that serves these data may go on
// meanwhile; a file that is there already is left alone.
func Archive(ctx context.Context, dir, out string) (err error) {
	if _, err := os.Lstat(out); err == nil {
		return fmt.Errorf("%s: there is a file already; name another", out)
	}
	db := out + ".db"
	defer os.Remove(db)
	os.Remove(db)
	if err := Backup(ctx, dir, db); err != nil {
		return err
	}
	part := out + ".part"
	defer os.Remove(part)
	f, err := os.OpenFile(part, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("%s: %w", out, plain(err))
	}
	z := zip.NewWriter(f)
	err = archived(ctx, z, db)
	if err = errors.Join(err, z.Close(), f.Close()); err != nil {
		return fmt.Errorf("%s: the copy could not be written: %w", out, inWords(plain(err)))
	}
	return finish(part, out)
}

// archived writes what is in a database, and the database.
func archived(ctx context.Context, z *zip.Writer, path string) (err error) {
	now := time.Now()
	put := func(name string) (io.Writer, error) {
		return z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: now})
	}
	w, err := put("read-me.txt")
	if err != nil {
		return err
	}
	fmt.Fprintf(w, readMe, now.Format("2 January 2006, 15:04"))
	if w, err = put(FileName); err != nil {
		return err
	}
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	_, err = io.Copy(w, f)
	if err = errors.Join(err, f.Close()); err != nil {
		return err
	}
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	each := func(query string, name func(id int64) string) error {
		rows, err := db.QueryContext(ctx, query)
		if err != nil {
			return err
		}
		defer rows.Close()
		for rows.Next() {
			var id int64
			var data []byte
			if err := rows.Scan(&id, &data); err != nil {
				return err
			}
			w, err := put(name(id))
			if err == nil {
				_, err = w.Write(data)
			}
			if err != nil {
				return err
			}
		}
		return rows.Err()
	}
	numbered := func(pattern string) func(int64) string {
		return func(id int64) string { return fmt.Sprintf(pattern, id) }
	}
	for _, part := range []struct{ query, name string }{
		{"SELECT id, doc FROM piece ORDER BY id", "pieces/%d.vindel.json"},
		{"SELECT id, doc FROM machine ORDER BY id", "machines/%d.json"},
		{"SELECT entry, photo FROM journal_photo ORDER BY entry", "photos/journal-%d.jpg"},
		{"SELECT id, photo FROM swatch WHERE photo IS NOT NULL ORDER BY id", "photos/swatch-%d.jpg"},
		{"SELECT machine, photo FROM machine_photo ORDER BY machine", "photos/machine-%d.jpg"},
	} {
		if err := each(part.query, numbered(part.name)); err != nil {
			return err
		}
	}
	if w, err = put("journal.csv"); err != nil {
		return err
	}
	return journalCSV(ctx, db, w)
}

func journalCSV(ctx context.Context, db *sql.DB, to io.Writer) error {
	rows, err := db.QueryContext(ctx, `SELECT at, piece, kind, done, pass, cause, note, hand FROM journal ORDER BY id`)
	if err != nil {
		return err
	}
	defer rows.Close()
	w := csv.NewWriter(to)
	w.Write([]string{"time", "piece", "kind", "passes", "pass", "cause", "note", "by"})
	for rows.Next() {
		var at, kind, pass, cause, note, hand string
		var piece, done int64
		if err := rows.Scan(&at, &piece, &kind, &done, &pass, &cause, &note, &hand); err != nil {
			return err
		}
		w.Write([]string{at, strconv.FormatInt(piece, 10), kind, strconv.FormatInt(done, 10), pass, cause, note, hand})
	}
	w.Flush()
	return errors.Join(rows.Err(), w.Error())
}

// mostArchived bounds the database in an archive, in bytes.
const mostArchived = 8 << 30

// errNoArchive says that a file is no copy that can be brought back.
var errNoArchive = errors.New("this is no backup of Vindel")

// unpack puts the database of an archive into a file, when every part of it has been read to its end and is
// whole; false: the file is no archive.
func unpack(in, to string) (is bool, err error) {
	head := make([]byte, 4)
	f, err := os.Open(in)
	if err != nil {
		return false, plain(err)
	}
	n, _ := io.ReadFull(f, head)
	f.Close()
	if !bytes.Equal(head[:n], []byte("PK\x03\x04")) {
		return false, nil
	}
	z, err := zip.OpenReader(in)
	if err != nil {
		return true, ErrDamagedCopy
	}
	defer z.Close()
	found := false
	for _, part := range z.File {
		r, err := part.Open()
		if err != nil {
			return true, ErrDamagedCopy
		}
		w := io.Discard
		var out *os.File
		if part.Name == FileName {
			if out, err = os.OpenFile(to, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600); err != nil {
				r.Close()
				return true, plain(err)
			}
			w, found = out, true
		}
		n, err := io.Copy(w, io.LimitReader(r, mostArchived+1))
		if out != nil {
			err = errors.Join(err, out.Sync(), out.Close())
		}
		r.Close()
		if t := Explain(err); t != nil && part.Name == FileName {
			return true, err
		}
		if err != nil || n > mostArchived {
			return true, ErrDamagedCopy
		}
	}
	if !found {
		return true, errNoArchive
	}
	return true, nil
}

// ErrDamagedCopy says that a copy cannot be brought back.
var ErrDamagedCopy = errors.New("the copy is damaged or cut short. Nothing has been changed; take another")

// Replace puts what a backup holds in the place of everything that is open now, in one transaction: who reads
// meanwhile sees the one or the other. Sessions and the passphrase stay. What was there is kept beside it under
// the name that it gives. A file that is no backup, or a damaged or newer one, changes nothing.
func (s *Store) Replace(ctx context.Context, in string) (kept string, err error) {
	temp, err := os.MkdirTemp(filepath.Dir(s.path), "restore-")
	if err != nil {
		return "", plain(err)
	}
	defer os.RemoveAll(temp)
	if _, err := Restore(ctx, in, temp); err != nil {
		return "", err
	}
	other, err := Open(ctx, temp) // brought up to date, as every file is that is opened
	if err != nil {
		return "", err
	}
	if err := other.Close(); err != nil {
		return "", err
	}
	// From here on nobody writes: what was answered is in the kept copy, or in what is brought back.
	s.writing.Lock()
	defer s.writing.Unlock()
	kept = unused(strings.TrimSuffix(s.path, ".db"), "replaced", s.now())
	wait, stop := context.WithTimeout(ctx, keepTime)
	defer stop()
	if err := Backup(wait, filepath.Dir(s.path), kept); err != nil {
		return "", err
	}
	ctx = context.WithoutCancel(ctx)
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return "", err
	}
	defer conn.Close()
	if _, err := conn.ExecContext(ctx, "ATTACH ? AS other", "file:"+filepath.Join(temp, FileName)); err != nil {
		return "", err
	}
	defer conn.ExecContext(ctx, "DETACH other")
	tx, err := conn.BeginTx(ctx, nil)
	if err != nil {
		return "", explained(err)
	}
	defer tx.Rollback()
	tables, err := tablesOf(ctx, tx)
	if err != nil {
		return "", err
	}
	if _, err := tx.ExecContext(ctx, "PRAGMA defer_foreign_keys = ON"); err != nil {
		return "", err
	}
	given, err := givenBy(ctx, tx)
	if err != nil {
		return "", err
	}
	const mine = "key = '" + PassphraseKey + "'"
	for _, t := range slices.Backward(tables) {
		where := ""
		if t == "setting" {
			where = " WHERE NOT " + mine
		}
		if _, err := tx.ExecContext(ctx, "DELETE FROM main."+t+where); err != nil {
			return "", explained(err)
		}
	}
	for _, t := range tables {
		where := ""
		if t == "setting" {
			where = " WHERE NOT " + mine
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO main."+t+" SELECT * FROM other."+t+where); err != nil {
			return "", explained(err)
		}
	}
	if err := given.raise(ctx, tx); err != nil {
		return "", explained(err)
	}
	return kept, explained(tx.Commit())
}

// keepTime is how long all writers wait at most while what is replaced is kept.
const keepTime = 2 * time.Minute

// given is the numbers that have been given out by the data that are replaced: pages hold them still. rows is by table
// whose rows get numbers of their own.
type given struct {
	entry, rev int64
	rows       map[string]int64
}

// numbered are the tables whose numbers `fresh` gives.
var numbered = []string{"piece", "machine", "project", "yarn", "swatch"}

func givenBy(ctx context.Context, tx *sql.Tx) (g given, err error) {
	err = tx.QueryRowContext(ctx, `SELECT coalesce((SELECT max(id) FROM journal), 0),
		coalesce((SELECT max(rev) FROM piece), 0)`).Scan(&g.entry, &g.rev)
	g.rows = map[string]int64{}
	for _, table := range numbered {
		if err == nil {
			g.rows[table], err = fresh(ctx, tx, table)
		}
	}
	return g, err
}

// raise lifts every place, revision and number of what was brought back above those that were given out before: a page
// of then, or a press on its way, is told that it is behind, and writes over nothing. Places keep their distances,
// revisions become the next one.
func (g given) raise(ctx context.Context, tx *sql.Tx) error {
	var first int64
	if err := tx.QueryRowContext(ctx, `SELECT coalesce(min(id), 1) FROM main.journal`).Scan(&first); err != nil {
		return err
	}
	by, rev := max(0, g.entry+1-first), g.rev+1
	for _, change := range []struct {
		what string
		to   int64
	}{
		{"journal SET id = -(id + ?1)", by}, {"journal SET id = ?1 - id", 0}, // below 0 no two meet on the way
		{"journal_photo SET entry = -(entry + ?1)", by}, {"journal_photo SET entry = ?1 - entry", 0},
		{`summary SET rev = CASE WHEN rev = (SELECT rev FROM main.piece WHERE id = summary.piece) THEN ?1 ELSE 0 END`, rev},
		{"piece SET rev = ?1", rev},
	} {
		if _, err := tx.ExecContext(ctx, "UPDATE main."+change.what, change.to); err != nil {
			return err
		}
	}
	for _, table := range numbered {
		next, err := fresh(ctx, tx, table)
		if err == nil && g.rows[table] > next {
			_, err = tx.ExecContext(ctx, `INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value `+
				`= excluded.value`, lastOf+table, strconv.FormatInt(g.rows[table]-1, 10))
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// tablesOf lists the tables whose rows are brought back.
func tablesOf(ctx context.Context, tx *sql.Tx) (list []string, err error) {
	rows, err := tx.QueryContext(ctx,
		`SELECT name FROM main.sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE `+
			`'goose_%' AND name <> 'session' ORDER BY rowid`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, err
		}
		list = append(list, name)
	}
	return list, rows.Err()
}

// CopiesDir is the folder, in that of the data, in which copies that are made by the clock lie.
const CopiesDir = "copies"

// Copy is one of them.
type Copy struct {
	Name  string
	Bytes int64
	At    time.Time
}

// TimedCopies lists the copies that were made by the clock, the latest first.
func (s *Store) TimedCopies() (list []Copy) {
	dir := filepath.Join(filepath.Dir(s.path), CopiesDir)
	names, _ := filepath.Glob(filepath.Join(dir, "vindel-*.zip"))
	for _, n := range names {
		if info, err := os.Stat(n); err == nil {
			list = append(list, Copy{filepath.Base(n), info.Size(), info.ModTime()})
		}
	}
	slices.SortFunc(list, func(a, b Copy) int { return strings.Compare(b.Name, a.Name) })
	return list
}

// CopyPath is where a copy lies; "" for a name that is none of TimedCopies.
func (s *Store) CopyPath(name string) string {
	for _, c := range s.TimedCopies() {
		if c.Name == name {
			return filepath.Join(filepath.Dir(s.path), CopiesDir, name)
		}
	}
	return ""
}

// CopyNow makes a copy among those of the clock and throws the oldest away, beyond `keep` of them.
func (s *Store) CopyNow(ctx context.Context, keep int) error {
	dir := filepath.Join(filepath.Dir(s.path), CopiesDir)
	if err := MakeFolder(dir); err != nil {
		return err
	}
	name := filepath.Join(dir, "vindel-"+s.now().UTC().Format("20060102-150405"))
	out := name + ".zip"
	for again := 'b'; ; again++ { // another of the same second, which sorts after it
		if _, err := os.Lstat(out); err != nil {
			break
		}
		out = name + string(again) + ".zip"
	}
	if err := Archive(ctx, filepath.Dir(s.path), out); err != nil {
		return err
	}
	for i, c := range s.TimedCopies() {
		if i >= max(keep, 1) {
			if err := os.Remove(filepath.Join(dir, c.Name)); err != nil {
				return plain(err)
			}
		}
	}
	return nil
}

// ArchiveTo writes an archive of everything that is open to a new file.
func (s *Store) ArchiveTo(ctx context.Context, out string) error {
	return Archive(ctx, filepath.Dir(s.path), out)
}

// Folder is where the data lie.
func (s *Store) Folder() string { return filepath.Dir(s.path) }

// CopyTrouble is what is wrong with a copy that could not be brought back, in words; "" where the trouble is
// another.
func CopyTrouble(err error) string {
	for _, is := range []error{ErrDamagedCopy, ErrDamaged, errNoArchive, ErrNewer} {
		if errors.Is(err, is) {
			return is.Error()
		}
	}
	return ""
}
