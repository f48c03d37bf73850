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
	CanUndo bool  // there is an edit to undo,
	CanRedo bool  // and one that was undone
	Updated time.Time
}

// Piece is one piece, put away or not.
func (s *Store) Piece(ctx context.Context, id int64) (p Piece, err error) {
	var updated string
	err = s.db.QueryRowContext(ctx,
		`SELECT id, doc, head, rev, updated, EXISTS (SELECT 1 FROM edit WHERE piece = piece.id AND n = head), `+
			`EXISTS (SELECT 1 FROM edit WHERE piece = piece.id AND n = head + 1) FROM piece WHERE id = ?`,
		id).Scan(&p.ID, &p.Doc, &p.Head, &p.Rev, &updated, &p.CanUndo, &p.CanRedo)
	p.Updated, _ = time.Parse(time.RFC3339Nano, updated)
	return p, none(err)
}

// Revision is the revision of a piece, put away or not, without the piece.
func (s *Store) Revision(ctx context.Context, id int64) (rev int64, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT rev FROM piece WHERE id = ?`, id).Scan(&rev)
	return rev, none(err)
}

// Add stores a new piece.
func (s *Store) Add(ctx context.Context, doc []byte) (id int64, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		id, err = s.add(ctx, tx, doc)
		return err
	})
	return id, err
}

// add stores a new piece under a number that no piece has had, one deleted for good neither:
// a page left open must not find another piece there.
func (s *Store) add(ctx context.Context, tx *sql.Tx, doc []byte) (id int64, err error) {
	if id, err = fresh(ctx, tx, "piece"); err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO piece (id, doc, created, updated) VALUES (?, ?, ?, ?)`, id,
		string(doc), s.stamp(),
		s.stamp())
	return id, err
}

// fresh is a number that no row of a table has had.
func fresh(ctx context.Context, tx *sql.Tx, table string) (id int64, err error) {
	err = tx.QueryRowContext(ctx, `SELECT 1 + max(coalesce((SELECT max(id) FROM `+table+`), 0),
		coalesce((SELECT CAST(value AS INTEGER) FROM setting WHERE key = ?), 0))`, lastOf+table).Scan(&id)
	return id, err
}

// lastOf begins the setting that holds the highest number of a table that has been deleted.
const lastOf = "last:"

// PutAway hides a piece, or brings it back.
func (s *Store) PutAway(ctx context.Context, id int64, away bool) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var removed any
		if away {
			removed = s.stamp()
		}
		return one(tx.ExecContext(ctx, `UPDATE piece SET removed = ? WHERE id = ?`, removed, id))
	})
}
