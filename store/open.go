package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver
)

// FileName is the database in the folder of the data.
const FileName = "vindel.db"

// Open opens the database in dir, makes it if there is none, and brings it up to date. A
// dated copy is made before that; a file that is damaged, or from a newer Vindel, is refused
// as it is, in words that say what can be done.
func Open(ctx context.Context, dir string) (*Store, error) {
	path := filepath.Join(dir, FileName)
	made, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600) // what is knitted is nobody else's
	if err != nil {
		return nil, fmt.Errorf("%s: the data cannot be written there: %w", dir, plain(err))
	}
	if err := made.Close(); err != nil {
		return nil, err
	}
	if err := look(ctx, path); err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	db, err := sql.Open(driverName,
		"file:"+path+"?_pragma=journal_mode(WAL)&_pragma=foreign_keys(1)&_pragma=busy_timeout(5000)"+
			"&_pragma=synchronous(FULL)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	if err := prepare(ctx, db, path, time.Now()); err != nil {
		if t := Explain(err); t != nil {
			err = errors.New(t.Words)
		}
		return nil, errors.Join(fmt.Errorf("%s: %w", path, err), db.Close())
	}
	file, err := os.Stat(path)
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return &Store{db: db, now: time.Now, free: free, path: path, file: file}, nil
}

// driverName is the database's driver; a test puts one in its place that fails.
var driverName = "sqlite"

// MakeFolder makes the folder of the data, for nobody else to read, where there is none.
func MakeFolder(dir string) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("%s: the folder of the data cannot be made: %w", dir, plain(err))
	}
	return nil
}

// plain is what an error of a file says, without the name of the file.
func plain(err error) error {
	var at *fs.PathError
	if errors.As(err, &at) {
		return at.Err
	}
	return err
}

// ErrDamaged says that the file of the data is damaged.
var ErrDamaged = errors.New("the file is damaged. Nothing has been changed in it: keep it, and put a copy in its " +
	"place; copies made before an update lie beside it")

// ErrNewer says that a file is from a later version than this one.
var ErrNewer = errors.New("the data are from a newer Vindel")

// look refuses a database that is damaged, or from a newer Vindel, before anything in it is
// changed: it only reads. (One that may write puts its log into the file when it closes.)
func look(ctx context.Context, path string) (err error) {
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro&_pragma=busy_timeout(5000)")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	var state string
	if err := db.QueryRowContext(ctx, "PRAGMA quick_check(1)").Scan(&state); err != nil || state != "ok" {
		return ErrDamaged
	}
	var known int
	if err := db.QueryRowContext(ctx, "SELECT count(*) FROM sqlite_master WHERE name = 'goose_db_version'").Scan(
		&known); err != nil ||
		known == 0 {
		return err
	}
	var version int64
	if err := db.QueryRowContext(ctx, "SELECT max(version_id) FROM goose_db_version").Scan(&version); err != nil {
		return err
	}
	provider, err := migrationsOf(db)
	if err != nil {
		return err
	}
	if newest := newestOf(provider); version > newest {
		return fmt.Errorf("%w (%d, and this one knows %d). Nothing has been changed in them", ErrNewer, version, newest)
	}
	return nil
}

// prepare brings a database up to date.
func prepare(ctx context.Context, db *sql.DB, path string, now time.Time) error {
	provider, err := migrationsOf(db)
	if err != nil {
		return err
	}
	version, err := provider.GetDBVersion(ctx)
	if err != nil {
		return err
	}
	newest := newestOf(provider)
	switch {
	case version == newest:
		return nil
	case version > 0:
		copied := unused(strings.TrimSuffix(path, ".db"), fmt.Sprintf("before-%d", newest), now)
		if _, err := db.ExecContext(ctx, "VACUUM INTO ?", copied); err != nil {
			return fmt.Errorf("no copy could be made before the update, so it was not begun: %w", err)
		}
		if err := os.Chmod(copied, 0o600); err != nil {
			return err
		}
	}
	_, err = provider.Up(ctx)
	return err
}

// unused is the dated name of a copy beside the data, one that no other copy has.
func unused(base, what string, now time.Time) string {
	name := fmt.Sprintf("%s-%s-%s", base, what, now.Format("2006-01-02-150405"))
	for again := 2; ; again++ {
		if _, err := os.Stat(name + ".db"); err != nil {
			return name + ".db"
		}
		name = fmt.Sprintf("%s-%s-%s-%d", base, what, now.Format("2006-01-02-150405"), again)
	}
}

// migrationsOf is the migrations of a database, those in SQL and those in Go.
func migrationsOf(db *sql.DB) (*goose.Provider, error) {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectSQLite3, db, sub, goose.WithGoMigrations(keepMeaning))
}

func newestOf(p *goose.Provider) int64 {
	sources := p.ListSources()
	return sources[len(sources)-1].Version
}

// Begun is a piece with its journal, as the demo brings it.
type Begun struct {
	Doc     []byte
	Journal []Entry
}

// Fill puts pieces into a store that has none, all of them or, where it is cut short, none.
func (s *Store) Fill(ctx context.Context, list []Begun) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var have int
		if err := tx.QueryRowContext(ctx, `SELECT count(*) FROM piece`).Scan(&have); err != nil || have > 0 {
			return err
		}
		for _, b := range list {
			id, err := s.add(ctx, tx, b.Doc)
			if err != nil {
				return err
			}
			for _, e := range b.Journal {
				if _, err := s.enter(ctx, tx, id, e); err != nil {
					return err
				}
			}
		}
		return nil
	})
}
