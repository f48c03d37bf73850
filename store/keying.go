package store

import (
	"context"
	"database/sql"
	"errors"
)

// Keyed is how far a section's program is keyed or its card punched: so many lines, and a mark of each as it was.
type Keyed struct {
	Done  int
	Marks string
}

// Keyed is how far a piece's section (from 1) is keyed; nothing where it was never begun.
func (s *Store) Keyed(ctx context.Context, piece int64, section int) (k Keyed, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT done, marks FROM keying WHERE piece = ? AND section = ?`, piece,
		section).Scan(&k.Done, &k.Marks)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return k, err
}

// Key writes down how far a section is keyed, from what the page showed. A press that was made on another state, or
// comes twice, changes nothing.
func (s *Store) Key(ctx context.Context, piece int64, section, from int, to Keyed) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx,
			`INSERT INTO keying (piece, section, done, marks, updated) SELECT id, ?1, ?2, ?3, ?4 FROM piece
				WHERE id = ?5 AND ?6 = 0
			ON CONFLICT (piece, section) DO NOTHING`, section, 0, "", s.stamp(), piece, from)
		if err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `UPDATE keying SET done = ?, marks = ?, updated = ? WHERE piece = ? AND section `+
			`= ? AND done = ?`,
			to.Done, to.Marks, s.stamp(), piece, section, from)
		return err
	})
}
