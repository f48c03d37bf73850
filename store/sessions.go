package store

import (
	"context"
	"database/sql"
	"time"
)

// AddSession remembers a session's token hash until it expires.
func (s *Store) AddSession(ctx context.Context, token string, expires time.Time) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `DELETE FROM session WHERE expires < ?`, s.stamp()); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO session (token, expires) VALUES (?, ?)`, token,
			expires.UTC().Format(time.RFC3339Nano))
		return err
	})
}

// HasSession says whether a session with the token hash is still good.
func (s *Store) HasSession(ctx context.Context, token string) (bool, error) {
	var n int
	err := s.db.QueryRowContext(ctx, `SELECT count(*) FROM session WHERE token = ? AND expires >= ?`, token,
		s.stamp()).Scan(&n)
	return n > 0, err
}
