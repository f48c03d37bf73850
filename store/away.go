package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"
)

// Put is a piece or a machine that was put away, by its name in the file.
type Put struct {
	ID   int64
	Name string
	At   time.Time
}

// PutAwayPieces lists the pieces that were put away, the latest first; PutAwayMachines the
// machines.
func (s *Store) PutAwayPieces(ctx context.Context) ([]Put, error) { return s.away(ctx, "piece") }

// PutAwayMachines lists the machines that were put away, the latest first.
func (s *Store) PutAwayMachines(ctx context.Context) ([]Put, error) { return s.away(ctx, "machine") }

// PutAwayProjects lists the projects that were put away, the latest first.
func (s *Store) PutAwayProjects(ctx context.Context) ([]Put, error) { return s.away(ctx, "project") }

func (s *Store) away(ctx context.Context, table string) (list []Put, err error) {
	doc := "doc"
	if table == "project" { // whose name stands beside what it holds
		doc = "json_object('name', name)"
	}
	rows, err := s.db.QueryContext(ctx, `SELECT id, `+doc+`, removed FROM `+table+
		` WHERE removed IS NOT NULL ORDER BY removed DESC`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var p Put
		var doc, at string
		if err := rows.Scan(&p.ID, &doc, &at); err != nil {
			return nil, err
		}
		p.Name = nameIn([]byte(doc))
		p.At, _ = time.Parse(time.RFC3339Nano, at)
		list = append(list, p)
	}
	return list, rows.Err()
}

// nameIn is the name that a piece or a machine has in its file, "" where that cannot be read.
func nameIn(doc []byte) string {
	var named struct{ Name string }
	if json.Unmarshal(doc, &named) != nil {
		return ""
	}
	return named.Name
}

// ErrSoon is returned when what was put away has not lain for so long that it may be deleted.
var ErrSoon = errors.New("it was put away less than a month ago")

// DeletePiece deletes a piece that was put away before a moment, with its edits, versions and
// journal, for good; ErrNone where none is put away, ErrSoon where it has not lain so long.
func (s *Store) DeletePiece(ctx context.Context, id int64, before time.Time) error {
	return s.delete(ctx, "piece", id, before)
}

// DeleteMachine deletes a machine in the same way. Pieces keep their own copy.
func (s *Store) DeleteMachine(ctx context.Context, id int64, before time.Time) error {
	return s.delete(ctx, "machine", id, before)
}

// DeleteProject deletes a project in the same way. Its pieces stay.
func (s *Store) DeleteProject(ctx context.Context, id int64, before time.Time) error {
	return s.delete(ctx, "project", id, before)
}

func (s *Store) delete(ctx context.Context, table string, id int64, before time.Time) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var removed string
		if err := tx.QueryRowContext(ctx, `SELECT removed FROM `+table+` WHERE id = ? AND removed IS NOT NULL`,
			id).Scan(&removed); err != nil {
			return none(err)
		}
		if at, err := time.Parse(time.RFC3339Nano, removed); err == nil && !at.Before(before) {
			return ErrSoon
		}
		if err := one(tx.ExecContext(ctx, `DELETE FROM `+table+` WHERE id = ? AND removed IS NOT NULL`,
			id)); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO setting (key, value) VALUES (?, ?)
			ON CONFLICT (key) DO UPDATE SET value = max(CAST(value AS INTEGER), CAST(excluded.value AS INTEGER))`,
			lastOf+table,
			fmt.Sprint(id))
		return err
	})
}
