// Package store keeps pieces, their edits, and the journal of knitted passes in one
// SQLite file. Every edit and every pass is one transaction, on disk before the
// function returns; undo and resume read those rows.
package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"os"
	"sync"
	"time"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNone says that there is no such piece, or nothing to undo or redo.
var ErrNone = errors.New("store: there is none")

// writeLimit bounds a write that goes on though its request is gone.
const writeLimit = 10 * time.Second

// Store is an open database. It is safe for concurrent use.
type Store struct {
	db      *sql.DB
	path    string
	file    os.FileInfo // as it was opened
	now     func() time.Time
	free    func(dir string) (int64, error)
	writing sync.Mutex // one write after another: SQLite has one writer
}

// Close closes the database.
func (s *Store) Close() error { return s.db.Close() }

// write runs f in a transaction of its own that outlives the request: closing a tab
// must not lose a row.
func (s *Store) write(ctx context.Context, f func(ctx context.Context, tx *sql.Tx) error) error {
	s.writing.Lock()
	defer s.writing.Unlock()
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), writeLimit)
	defer cancel()
	if err := s.there(); err != nil {
		return Explain(err)
	}
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return explained(err)
	}
	defer conn.Close()
	tx, err := conn.BeginTx(ctx, nil)
	if err != nil {
		return explained(err)
	}
	defer tx.Rollback()
	if err := f(ctx, tx); err != nil {
		return explained(err)
	}
	if err := tx.Commit(); err != nil {
		conn.Raw(func(any) error { return driver.ErrBadConn }) // it may stand in the middle of the transaction still
		return committed(err)
	}
	if err := s.there(); err != nil {
		t := Explain(err)
		t.Unsure = true
		return t
	}
	return nil
}

// explained is an error with its trouble in words, where it has one.
func explained(err error) error {
	if t := Explain(err); t != nil {
		return t
	}
	return err
}

func (s *Store) stamp() string { return s.now().UTC().Format(time.RFC3339Nano) }

// one is the error of a change of one row: ErrNone where there was no such row.
func one(r sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil || n == 0 {
		return ErrNone
	}
	return nil
}

// none turns a missing row into ErrNone.
func none(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNone
	}
	return err
}
