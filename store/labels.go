package store

import (
	"context"
	"database/sql"
)

// Labels are the words of her own that pieces have, by the piece, in order.
func (s *Store) Labels(ctx context.Context) (map[int64][]string, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT piece, word FROM label ORDER BY piece, word`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	all := map[int64][]string{}
	for rows.Next() {
		var id int64
		var word string
		if err := rows.Scan(&id, &word); err != nil {
			return nil, err
		}
		all[id] = append(all[id], word)
	}
	return all, rows.Err()
}

// SetLabels gives a piece these words and no others; ErrNone where there is no such piece.
func (s *Store) SetLabels(ctx context.Context, id int64, words []string) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var there int64
		if err := tx.QueryRowContext(ctx, `SELECT id FROM piece WHERE id = ?`, id).Scan(&there); err != nil {
			return none(err)
		}
		if _, err := tx.ExecContext(ctx, `DELETE FROM label WHERE piece = ?`, id); err != nil {
			return err
		}
		for _, w := range words {
			if _, err := tx.ExecContext(ctx, `INSERT INTO label (piece, word) VALUES (?, ?) ON CONFLICT DO NOTHING`,
				id, w); err != nil {
				return err
			}
		}
		return nil
	})
}
