package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"time"

	"vindel/knit/finding"
	"vindel/knit/piece"
)

// Piece is a stored piece: its file, and how many edits have been done and can be redone.
type Piece struct {
	ID      int64
	Doc     []byte
	Head    int // edits done
	Edits   int // edits kept, done or undone
	Updated time.Time
}

// Pieces lists all pieces that are not put away, the latest touched first.
func (s *Store) Pieces(ctx context.Context) (list []Piece, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, doc, head, updated FROM piece WHERE removed IS NULL ORDER BY updated DESC, id`)
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
	err = s.db.QueryRowContext(ctx, `SELECT id, doc, head, updated, (SELECT count(*) FROM edit WHERE piece = piece.id) FROM piece WHERE id = ?`, id).Scan(&p.ID, &p.Doc, &p.Head, &updated, &p.Edits)
	p.Updated, _ = time.Parse(time.RFC3339Nano, updated)
	return p, none(err)
}

// Add stores a new piece.
func (s *Store) Add(ctx context.Context, doc []byte) (id int64, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		r, err := tx.ExecContext(ctx, `INSERT INTO piece (doc, created, updated) VALUES (?, ?, ?)`, string(doc), s.stamp(), s.stamp())
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

// Edit applies changes to a piece, refuses what leaves no readable piece, and writes
// the edit down. What had been undone is gone then.
func (s *Store) Edit(ctx context.Context, id int64, label string, changes []finding.Change) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		doc, head, err := document(ctx, tx, id)
		if err != nil {
			return err
		}
		inverse, err := doc.Apply(changes)
		if err != nil {
			return err
		}
		if _, err := doc.Piece(); err != nil {
			return err
		}
		did, undo, err := marshal(changes, inverse)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `DELETE FROM edit WHERE piece = ? AND n > ?`, id, head); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO edit (piece, n, label, changes, inverse, at) VALUES (?, ?, ?, ?, ?, ?)`, id, head+1, label, did, undo, s.stamp()); err != nil {
			return err
		}
		return s.put(ctx, tx, id, doc, head+1)
	})
}

func marshal(a, b []finding.Change) (string, string, error) {
	x, err := json.Marshal(a)
	if err != nil {
		return "", "", err
	}
	y, err := json.Marshal(b)
	return string(x), string(y), err
}

func document(ctx context.Context, tx *sql.Tx, id int64) (doc *piece.Document, head int, err error) {
	var text string
	if err := tx.QueryRowContext(ctx, `SELECT doc, head FROM piece WHERE id = ?`, id).Scan(&text, &head); err != nil {
		return nil, 0, none(err)
	}
	doc, err = piece.ParseDocument([]byte(text))
	return doc, head, err
}

func (s *Store) put(ctx context.Context, tx *sql.Tx, id int64, doc *piece.Document, head int) error {
	_, err := tx.ExecContext(ctx, `UPDATE piece SET doc = ?, head = ?, updated = ? WHERE id = ?`, string(doc.JSON()), head, s.stamp(), id)
	return err
}

// Undo takes the last edit back and gives its label; ErrNone where there is none.
func (s *Store) Undo(ctx context.Context, id int64) (label string, err error) {
	return s.step(ctx, id, 0, -1)
}

// Redo does the last undone edit again and gives its label; ErrNone where there is none.
func (s *Store) Redo(ctx context.Context, id int64) (label string, err error) {
	return s.step(ctx, id, 1, 1)
}

// step applies the edit `offset` above the head, backward or forward, and moves the head.
func (s *Store) step(ctx context.Context, id int64, offset, way int) (label string, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		doc, head, err := document(ctx, tx, id)
		if err != nil {
			return err
		}
		var did, undo string
		if err := tx.QueryRowContext(ctx, `SELECT label, changes, inverse FROM edit WHERE piece = ? AND n = ?`, id, head+offset).Scan(&label, &did, &undo); err != nil {
			return none(err)
		}
		if way < 0 {
			did = undo
		}
		var changes []finding.Change
		if err := json.Unmarshal([]byte(did), &changes); err != nil {
			return fmt.Errorf("store: edit %d of piece %d: %w", head+offset, id, err)
		}
		if _, err := doc.Apply(changes); err != nil {
			return fmt.Errorf("store: edit %d of piece %d: %w", head+offset, id, err)
		}
		return s.put(ctx, tx, id, doc, head+way)
	})
	return label, err
}

// Labels lists the labels of a piece's edits that stand, in order.
func (s *Store) Labels(ctx context.Context, id int64) (labels []string, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT label FROM edit JOIN piece ON piece.id = edit.piece WHERE edit.piece = ? AND n <= head ORDER BY n`, id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var l string
		if err := rows.Scan(&l); err != nil {
			return nil, err
		}
		labels = append(labels, l)
	}
	return labels, rows.Err()
}
