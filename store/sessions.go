package store

import (
	"context"
	"database/sql"
	"time"
)

// Session is one browser that knows the passphrase: Token is the hash of what it holds.
type Session struct {
	Token   string
	Begun   time.Time // zero: before sessions were dated
	Agent   string    // what the browser says it is
	Expires time.Time
}

// AddSession remembers a session until it expires.
func (s *Store) AddSession(ctx context.Context, n Session) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `DELETE FROM session WHERE expires < ?`, s.stamp()); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO session (token, expires, begun, agent) VALUES (?, ?, ?, ?)`, n.Token,
			n.Expires.UTC().Format(time.RFC3339Nano), n.Begun.UTC().Format(time.RFC3339Nano), n.Agent)
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

// Sessions lists those that are still good, the latest begun first.
func (s *Store) Sessions(ctx context.Context) (list []Session, err error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT token, begun, agent, expires FROM session WHERE expires >= ? ORDER BY begun DESC`,
		s.stamp())
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var n Session
		var begun, expires string
		if err := rows.Scan(&n.Token, &begun, &n.Agent, &expires); err != nil {
			return nil, err
		}
		n.Begun, _ = time.Parse(time.RFC3339Nano, begun)
		n.Expires, _ = time.Parse(time.RFC3339Nano, expires)
		list = append(list, n)
	}
	return list, rows.Err()
}

// EndSession forgets a session.
func (s *Store) EndSession(ctx context.Context, token string) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `DELETE FROM session WHERE token = ?`, token)
		return err
	})
}

// SetPassphrase stores the hash of a new passphrase, and ends every session.
func (s *Store) SetPassphrase(ctx context.Context, hash string) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `DELETE FROM session`); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx,
			`INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value`,
			PassphraseKey, hash)
		return err
	})
}

// PassphraseKey is the setting that holds the passphrase's hash.
const PassphraseKey = "passphrase"
