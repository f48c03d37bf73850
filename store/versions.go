package store

import (
	"context"
	"database/sql"
	"time"
)

// Version is a piece as it stood when it was given a name.
type Version struct {
	ID   int64
	Name string
	Doc  []byte
	At   time.Time
}

// NameVersion keeps a piece as it stands, under a name.
func (s *Store) NameVersion(ctx context.Context, id int64, name string) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		return one(tx.ExecContext(ctx,
			`INSERT INTO version (piece, name, doc, at) SELECT id, ?, doc, ? FROM piece WHERE id = ?`, name,
			s.stamp(), id))
	})
}

// Versions lists the named versions of a piece, the latest first.
func (s *Store) Versions(ctx context.Context, id int64) (list []Version, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, name, doc, at FROM version WHERE piece = ? ORDER BY id DESC`, id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var v Version
		var at string
		if err := rows.Scan(&v.ID, &v.Name, &v.Doc, &at); err != nil {
			return nil, err
		}
		v.At, _ = time.Parse(time.RFC3339Nano, at)
		list = append(list, v)
	}
	return list, rows.Err()
}
