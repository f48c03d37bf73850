package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"

	"vindel/knit/edit"
	"vindel/knit/technique"
)

// Edit makes an edit of a piece, refuses what leaves no readable piece, and writes
// the edit down. What had been undone is gone then; an edit that changes nothing is none.
func (s *Store) Edit(ctx context.Context, id int64, e edit.Edit) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		doc, head, err := document(ctx, tx, id, e.On)
		if err != nil {
			return err
		}
		was := doc.JSON()
		inverse, err := doc.Apply(e.Changes)
		if err != nil {
			return err
		}
		if bytes.Equal(was, doc.JSON()) {
			return nil // what changes nothing is no edit, and leaves what was undone
		}
		if _, err := technique.Piece(doc); err != nil {
			return err
		}
		did, undo, err := marshal(e.Changes, inverse)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `DELETE FROM edit WHERE piece = ? AND n > ?`, id, head); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx,
			`INSERT INTO edit (piece, n, kind, label, changes, inverse, at) VALUES (?, ?, ?, ?, ?, ?, ?)`, id, head+1,
			string(e.Kind), e.Label, did, undo, s.stamp()); err != nil {
			return err
		}
		return s.put(ctx, tx, id, doc, head+1)
	})
}

func marshal(a, b []edit.Change) (string, string, error) {
	x, err := json.Marshal(a)
	if err != nil {
		return "", "", err
	}
	y, err := json.Marshal(b)
	return string(x), string(y), err
}

// ErrStale says that the piece has been changed since the state that a change was made on.
var ErrStale = errors.New("store: the piece has been changed meanwhile")

// document is a piece and its head, where it is as it was at the revision on; 0: whichever.
func document(ctx context.Context, tx *sql.Tx, id, on int64) (doc *edit.Document, head int, err error) {
	var text string
	var rev int64
	if err := tx.QueryRowContext(ctx, `SELECT doc, head, rev FROM piece WHERE id = ?`, id).Scan(&text, &head,
		&rev); err != nil {
		return nil, 0, none(err)
	}
	if on != 0 && on != rev {
		return nil, 0, ErrStale
	}
	doc, err = edit.Parse([]byte(text))
	return doc, head, err
}

func (s *Store) put(ctx context.Context, tx *sql.Tx, id int64, doc *edit.Document, head int) error {
	_, err := tx.ExecContext(ctx, `UPDATE piece SET doc = ?, head = ?, rev = rev + 1, updated = ? WHERE id = ?`,
		string(doc.JSON()),
		head, s.stamp(), id)
	return err
}

// Undo takes the last edit back, made on a revision (0: whichever), and gives its label;
// ErrNone where there is none.
func (s *Store) Undo(ctx context.Context, id, on int64) (label string, err error) {
	return s.rewind(ctx, id, on, 0, -1)
}

// Redo does the last undone edit again and gives its label; ErrNone where there is none.
func (s *Store) Redo(ctx context.Context, id, on int64) (label string, err error) {
	return s.rewind(ctx, id, on, 1, 1)
}

// rewind applies the edit `offset` above the head, backward or forward, and moves the head.
func (s *Store) rewind(ctx context.Context, id, on int64, offset, way int) (label string, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		doc, head, err := document(ctx, tx, id, on)
		if err != nil {
			return err
		}
		var did, undo string
		if err := tx.QueryRowContext(ctx, `SELECT label, changes, inverse FROM edit WHERE piece = ? AND n = ?`, id,
			head+offset).Scan(&label, &did, &undo); err != nil {
			return none(err)
		}
		if way < 0 {
			did = undo
		}
		var changes []edit.Change
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

// Did says which kinds of edits stand in a piece.
func (s *Store) Did(ctx context.Context, id int64) (map[edit.Kind]bool, error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT DISTINCT kind FROM edit JOIN piece ON piece.id = edit.piece WHERE edit.piece = ? AND n <= head`, id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	did := map[edit.Kind]bool{}
	for rows.Next() {
		var k edit.Kind
		if err := rows.Scan(&k); err != nil {
			return nil, err
		}
		did[k] = true
	}
	return did, rows.Err()
}
