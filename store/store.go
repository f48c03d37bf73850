// Package store keeps pieces, their edits, and the journal of knitted passes in one
// SQLite file. Every edit and every pass is one transaction, on disk before the
// function returns; undo and resume read those rows.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"path/filepath"
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNone says that there is no such piece, or nothing to undo or redo.
var ErrNone = errors.New("store: there is none")

// writeLimit bounds a write that goes on though its request is gone.
const writeLimit = 10 * time.Second

// Store is an open database. It is safe for concurrent use.
type Store struct {
	db  *sql.DB
	now func() time.Time
}

// Open opens the database in dir, makes it if there is none, and brings it up to date.
func Open(ctx context.Context, dir string) (*Store, error) {
	path := filepath.Join(dir, "vindel.db")
	db, err := sql.Open("sqlite",
		"file:"+path+"?_pragma=journal_mode(WAL)&_pragma=foreign_keys(1)&_pragma=busy_timeout(5000)&_pragma=synchronous(FULL)&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, sub, goose.WithGoMigrations(keepMeaning))
	if err == nil {
		_, err = provider.Up(ctx)
	}
	if err != nil {
		db.Close()
		return nil, fmt.Errorf("store: %s: %w", path, err)
	}
	return &Store{db: db, now: time.Now}, nil
}

// Close closes the database.
func (s *Store) Close() error { return s.db.Close() }

// write runs f in a transaction of its own that outlives the request: closing a tab
// must not lose a row.
func (s *Store) write(ctx context.Context, f func(ctx context.Context, tx *sql.Tx) error) error {
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), writeLimit)
	defer cancel()
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	if err := f(ctx, tx); err != nil {
		return err
	}
	return tx.Commit()
}

func (s *Store) stamp() string { return s.now().UTC().Format(time.RFC3339Nano) }

// none turns a missing row into ErrNone.
func none(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNone
	}
	return err
}
