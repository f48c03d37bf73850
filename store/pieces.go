package store

import (
	"context"
	"database/sql"
	"time"
)

// Piece is a stored piece: its file, and how many edits have been done and can be redone.
type Piece struct {
	ID      int64
	Doc     []byte
	Head    int   // edits done
	Rev     int64 // of its state: it only grows
	Edits   int   // edits kept, done or undone
	Updated time.Time
}

// Pieces lists all pieces that are not put away, the latest touched first.
func (s *Store) Pieces(ctx context.Context) (list []Piece, err error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT id, doc, head, updated FROM piece WHERE removed IS NULL ORDER BY updated DESC, id`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var p Piece
		var updated string
		if err := rows.Scan(&p.ID, &p.Doc, &p.Head, &updated); err != nil {
			return nil, err
		}
		p.Updated, _ = time.Parse(time.RFC3339Nano, updated)
		list = append(list, p)
	}
	return list, rows.Err()
}

// Piece is one piece, put away or not.
func (s *Store) Piece(ctx context.Context, id int64) (p Piece, err error) {
	var updated string
	err = s.db.QueryRowContext(ctx,
		`SELECT id, doc, head, rev, updated, (SELECT count(*) FROM edit WHERE piece = piece.id) FROM piece WHERE id = ?`,
		id).Scan(&p.ID, &p.Doc, &p.Head, &p.Rev, &updated, &p.Edits)
	p.Updated, _ = time.Parse(time.RFC3339Nano, updated)
	return p, none(err)
}

// Add stores a new piece.
func (s *Store) Add(ctx context.Context, doc []byte) (id int64, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		r, err := tx.ExecContext(ctx, `INSERT INTO piece (doc, created, updated) VALUES (?, ?, ?)`, string(doc),
			s.stamp(), s.stamp())
		if err == nil {
			id, err = r.LastInsertId()
		}
		return err
	})
	return id, err
}

// PutAway hides a piece, or brings it back.
func (s *Store) PutAway(ctx context.Context, id int64, away bool) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var removed any
		if away {
			removed = s.stamp()
		}
		r, err := tx.ExecContext(ctx, `UPDATE piece SET removed = ? WHERE id = ?`, removed, id)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return ErrNone
		}
		return nil
	})
}
