package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// Backup writes everything in a folder of data into one new file, as it stands at one moment;
// a Vindel that serves these data may go on meanwhile. A file that is there already is left
// alone.
func Backup(ctx context.Context, dir, out string) (err error) {
	path := filepath.Join(dir, FileName)
	if _, err := os.Stat(path); err != nil {
		return fmt.Errorf("%s: there are no data", dir)
	}
	if _, err := os.Lstat(out); err == nil {
		return fmt.Errorf("%s: there is a file already; name another", out)
	}
	if err := look(ctx, path); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	db, err := sql.Open("sqlite", "file:"+path+"?_pragma=busy_timeout(10000)")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	part := out + ".part" // a copy that is cut short must not look like one that is whole
	os.Remove(part)
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", part); err != nil {
		os.Remove(part)
		return fmt.Errorf("%s: the copy could not be written: %w", out, inWords(err))
	}
	return finish(part, out)
}

// finish puts a file that has been written to its end in its place, on the disk.
func finish(part, out string) error {
	if err := os.Chmod(part, 0o600); err != nil {
		return err
	}
	f, err := os.Open(part)
	if err != nil {
		return err
	}
	if err := errors.Join(f.Sync(), f.Close()); err != nil {
		return fmt.Errorf("%s: %w", out, plain(err))
	}
	if err := os.Rename(part, out); err != nil {
		return fmt.Errorf("%s: %w", out, plain(err))
	}
	if d, err := os.Open(filepath.Dir(out)); err == nil { // so that the name is on the disk too
		return errors.Join(d.Sync(), d.Close())
	}
	return nil
}

// inWords is an error with no more of the inside than the trouble's words, where it has them.
func inWords(err error) error {
	if t := Explain(err); t != nil {
		return errors.New(t.Words)
	}
	return err
}

// Restore puts what a backup holds in the place of a folder's data. What was there is kept
// beside it under a dated name, which it gives, "" where there was nothing. The caller has
// locked the folder. A file that is no backup, or a damaged or newer one, changes nothing.
func Restore(ctx context.Context, in, dir string) (kept string, err error) {
	if _, err := os.Stat(in); err != nil {
		return "", fmt.Errorf("%s: %w", in, plain(err))
	}
	path := filepath.Join(dir, FileName)
	part := path + ".part"
	defer os.Remove(part)
	packed, err := unpack(in, part)
	if err == nil && !packed {
		err = copyFile(in, part)
	}
	if err != nil {
		return "", fmt.Errorf("%s: %w", in, err)
	}
	if err := look(ctx, part); err != nil {
		return "", fmt.Errorf("%s: %w", in, err)
	}
	if err := isOurs(ctx, part); err != nil {
		return "", fmt.Errorf("%s: %w", in, errNoArchive)
	}
	if err := forgetDoor(ctx, part); err != nil {
		return "", fmt.Errorf("%s: %w", in, err)
	}
	if _, err := os.Stat(path); err == nil {
		kept = unused(strings.TrimSuffix(path, ".db"), "replaced", time.Now())
		if look(ctx, path) == nil { // one that is damaged keeps its log, which goes with it
			settle(ctx, path)
		}
		if err := copyFile(path, kept); err != nil {
			return "", err
		}
		if err := os.Rename(path+"-wal", kept+"-wal"); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return "", err
		}
		os.Remove(path + "-shm")
	}
	return kept, finish(part, path)
}

// forgetDoor takes the passphrase and the sessions out of a copy that is brought back: who was sent away since it was
// made does not come in again with it.
func forgetDoor(ctx context.Context, path string) error {
	db, err := sql.Open("sqlite", "file:"+path)
	if err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, `DELETE FROM setting WHERE key = ?`, PassphraseKey)
	if has := 0; err == nil {
		err = db.QueryRowContext(ctx, `SELECT count(*) FROM sqlite_master WHERE name = 'session'`).Scan(&has)
		if err == nil && has > 0 {
			_, err = db.ExecContext(ctx, `DELETE FROM session`)
		}
	}
	return errors.Join(err, db.Close())
}

// settle writes what the log of a database holds into the database, as far as it goes.
func settle(ctx context.Context, path string) {
	if db, err := sql.Open("sqlite", "file:"+path); err == nil {
		db.ExecContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)")
		db.Close()
	}
}

// Copies are the names of the copies that lie beside a folder's data, the latest first: made
// before updates, and replaced by others.
func Copies(dir string) (names []string) {
	for _, what := range []string{"before", "replaced"} {
		list, _ := filepath.Glob(filepath.Join(dir, strings.TrimSuffix(FileName, ".db")+"-"+what+"-*.db"))
		names = append(names, list...)
	}
	slices.SortFunc(names, func(a, b string) int {
		x, _ := os.Stat(a)
		y, _ := os.Stat(b)
		if x == nil || y == nil {
			return strings.Compare(a, b)
		}
		return y.ModTime().Compare(x.ModTime())
	})
	return names
}

// isOurs says that a database has pieces in it.
func isOurs(ctx context.Context, path string) (err error) {
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	var n int
	return db.QueryRowContext(ctx, "SELECT count(*) FROM piece").Scan(&n)
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return fmt.Errorf("%s: %w", from, plain(err))
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("%s: %w", to, plain(err))
	}
	_, err = io.Copy(out, in)
	if err = errors.Join(err, out.Sync(), out.Close()); err != nil {
		return fmt.Errorf("%s: %w", to, plain(err))
	}
	return nil
}

// Saved is a piece that could be read out of a damaged file.
type Saved struct {
	ID      int64
	Name    string
	Doc     []byte
	Knitted int // passes
}

// mostNumbers is how many pieces are looked for by their number, where the list itself is damaged.
const mostNumbers = 10_000

// Rescue reads what can be read out of a damaged file of data, piece by piece. It works on a
// copy: the file itself is not touched.
func Rescue(ctx context.Context, dir string) (list []Saved, err error) {
	temp, err := os.MkdirTemp("", "vindel-rescue-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(temp)
	path := filepath.Join(temp, FileName)
	if err := copyFile(filepath.Join(dir, FileName), path); err != nil {
		return nil, err
	}
	if _, err := os.Stat(filepath.Join(dir, FileName+"-wal")); err == nil {
		if err := copyFile(filepath.Join(dir, FileName+"-wal"), path+"-wal"); err != nil {
			return nil, err
		}
	}
	db, err := sql.Open("sqlite", "file:"+path)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	last := int64(mostNumbers)
	var highest int64
	if db.QueryRowContext(ctx, "SELECT max(id) FROM piece").Scan(&highest) == nil {
		last = min(last, highest)
	}
	for id := int64(1); id <= last && ctx.Err() == nil; id++ {
		p := Saved{ID: id}
		if db.QueryRowContext(ctx, "SELECT doc FROM piece WHERE id = ?", id).Scan(&p.Doc) != nil {
			continue // damaged, or not there
		}
		p.Name = nameIn(p.Doc)
		if db.QueryRowContext(ctx, "SELECT done FROM journal WHERE piece = ? ORDER BY id DESC LIMIT 1",
			id).Scan(&p.Knitted) != nil {
			p.Knitted = 0
		}
		list = append(list, p)
	}
	return list, ctx.Err()
}
