package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Entry is one line of a piece's journal. Done is the number of passes knitted after
// it, Head the number of edits the piece had.
type Entry struct {
	Kind string
	Done int
	Head int
	Note string
	At   time.Time
}

// Place is where the knitter is: the last entry of the journal; the zero Entry before the first.
func (s *Store) Place(ctx context.Context, id int64) (e Entry, err error) {
	list, err := s.Journal(ctx, id, 1)
	if len(list) > 0 {
		e = list[0]
	}
	return e, err
}

// Journal lists the latest entries of a piece, the newest first.
func (s *Store) Journal(ctx context.Context, id int64, most int) (list []Entry, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT kind, done, head, note, at FROM journal WHERE piece = ? ORDER BY id DESC LIMIT ?`, id, most)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var e Entry
		var at string
		if err := rows.Scan(&e.Kind, &e.Done, &e.Head, &e.Note, &at); err != nil {
			return nil, err
		}
		e.At, _ = time.Parse(time.RFC3339Nano, at)
		list = append(list, e)
	}
	return list, rows.Err()
}

// ErrMoved says that the knitter has moved on since the page was shown.
var ErrMoved = errors.New("store: the place has moved on meanwhile")

// Write adds an entry: from is the number of passes knitted that the page showed, so
// that a press that comes twice counts once; then nothing is written, and the error
// is ErrMoved.
func (s *Store) Write(ctx context.Context, id int64, from int, e Entry) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var done int
		err := tx.QueryRowContext(ctx, `SELECT done FROM journal WHERE piece = ? ORDER BY id DESC LIMIT 1`, id).Scan(&done)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		if done != from {
			return ErrMoved
		}
		at := s.stamp()
		if !e.At.IsZero() {
			at = e.At.UTC().Format(time.RFC3339Nano)
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO journal (piece, kind, done, head, note, at) SELECT id, ?, ?, head, ?, ? FROM piece WHERE id = ?`, e.Kind, e.Done, e.Note, at, id); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `UPDATE piece SET updated = ? WHERE id = ?`, at, id)
		return err
	})
}

// Knitting is the time in seconds that passed between knitted passes of a piece,
// pauses of over ten minutes left out, and how many passes that was.
func (s *Store) Knitting(ctx context.Context, id int64) (seconds float64, passes int, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT kind, at FROM journal WHERE piece = ? ORDER BY id`, id)
	if err != nil {
		return 0, 0, err
	}
	defer rows.Close()
	var last time.Time
	for rows.Next() {
		var kind, text string
		if err := rows.Scan(&kind, &text); err != nil {
			return 0, 0, err
		}
		at, _ := time.Parse(time.RFC3339Nano, text)
		if d := at.Sub(last).Seconds(); kind == "knitted" && !last.IsZero() && d < 600 {
			seconds += d
			passes++
		}
		last = at
	}
	return seconds, passes, rows.Err()
}
