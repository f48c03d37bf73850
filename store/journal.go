package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"vindel/knit/edit"
	"vindel/knit/pass"
)

// Entry is one line of a piece's journal. Done is the number of passes knitted after
// it, Pass the identity of the last of them, Head the number of edits the piece had.
type Entry struct {
	ID   int64 // 0: none was written
	Kind string
	Done int
	Pass pass.ID // the zero ID: none, or written before passes had one
	Head int
	Note string
	At   time.Time

	Cause string // of a fault the mistake, of a pause what interrupted her, of the wire what was otherwise
	Hand  string // who told it: "" she, "wire" a machine
	Photo bool   // there is a photograph of it
}

// Reached is where the knitter is: the last entry of the journal; the zero Entry before the first.
func (s *Store) Reached(ctx context.Context, id int64) (e Entry, err error) {
	list, err := s.Journal(ctx, id, 1)
	if len(list) > 0 {
		e = list[0]
	}
	return e, err
}

// Journal lists the latest entries of a piece, the newest first.
func (s *Store) Journal(ctx context.Context, id int64, most int) (list []Entry, err error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT `+entryColumns+` FROM journal WHERE piece = ? ORDER BY id DESC LIMIT ?`, id, most)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var e Entry
		if err := scanEntry(rows, &e); err != nil {
			return nil, err
		}
		list = append(list, e)
	}
	return list, rows.Err()
}

// entryColumns are the columns of a journal's entry, as scanEntry reads them.
const entryColumns = `id, kind, done, pass, head, note, at, cause, hand, EXISTS (SELECT 1 FROM journal_photo WHERE ` +
	`entry = journal.id)`

// scanEntry reads a row of entryColumns, after other columns where there are any.
func scanEntry(rows *sql.Rows, e *Entry, before ...any) error {
	var last, at string
	if err := rows.Scan(append(before, &e.ID, &e.Kind, &e.Done, &last, &e.Head, &e.Note, &at, &e.Cause, &e.Hand,
		&e.Photo)...); err != nil {
		return err
	}
	e.Pass, _ = pass.ParseID(last) // "" and what cannot be read are none: done tells the place
	e.At, _ = time.Parse(time.RFC3339Nano, at)
	return nil
}

// ErrMoved says that the knitter has moved on since the page was shown.
var ErrMoved = errors.New("store: the place has moved on meanwhile")

// Write adds an entry after the one that the page showed last (0: none yet), and gives the
// new one's id. Where another has been written meanwhile, so that a press comes twice or
// from a page left open, nothing is written, and the error is ErrMoved.
func (s *Store) Write(ctx context.Context, id, after int64, e Entry) (written int64, err error) {
	return s.WriteWith(ctx, id, after, e, edit.Edit{})
}

// WriteWith writes an entry and makes the edit that belongs to it (without changes: none), both or neither.
func (s *Store) WriteWith(ctx context.Context, id, after int64, e Entry, with edit.Edit) (written int64, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var last int64
		err := tx.QueryRowContext(ctx, `SELECT coalesce(max(id), 0) FROM journal WHERE piece = ?`, id).Scan(&last)
		if err != nil {
			return err
		}
		if last != after {
			return ErrMoved
		}
		if len(with.Changes) > 0 {
			if err := s.edit(ctx, tx, id, with); err != nil {
				return err
			}
		}
		written, err = s.enter(ctx, tx, id, e)
		return err
	})
	return written, err
}

// Has says that the journal of a piece has an entry of a cause.
func (s *Store) Has(ctx context.Context, id int64, cause string) (has bool, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM journal WHERE piece = ? AND cause = ?)`, id,
		cause).Scan(&has)
	return has, err
}

// enter writes an entry into the journal of a piece.
func (s *Store) enter(ctx context.Context, tx *sql.Tx, id int64, e Entry) (written int64, err error) {
	at := s.stamp()
	if !e.At.IsZero() {
		at = e.At.UTC().Format(time.RFC3339Nano)
	}
	if e.Kind == "knitted" {
		if err := took(ctx, tx, id, at); err != nil {
			return 0, err
		}
	}
	pass := ""
	if e.Pass.Section != "" {
		pass = e.Pass.String()
	}
	r, err := tx.ExecContext(ctx,
		`INSERT INTO journal (piece, kind, done, pass, head, note, at, cause, hand) SELECT id, ?, ?, ?, head, ?, ?, `+
			`?, ? FROM piece WHERE id = ?`,
		e.Kind, e.Done, pass, e.Note, at, e.Cause, e.Hand, id)
	if err != nil {
		return 0, err
	}
	if written, err = r.LastInsertId(); err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `UPDATE piece SET updated = ? WHERE id = ?`, at, id)
	return written, err
}

// Knitting is the time in seconds that passed between knitted passes of a piece,
// pauses of over ten minutes left out, and how many passes that was.
func (s *Store) Knitting(ctx context.Context, id int64) (seconds float64, passes int, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT seconds, passes FROM pace WHERE piece = ?`, id).Scan(&seconds, &passes)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil // none yet
	}
	return seconds, passes, err
}

// took adds the time that a pass took to the sums of its piece: what lies between it and the entry before it, where
// that is no pause, and the clock has not been set back.
func took(ctx context.Context, tx *sql.Tx, id int64, at string) error {
	var before string
	err := tx.QueryRowContext(ctx, `SELECT at FROM journal WHERE piece = ? ORDER BY id DESC LIMIT 1`, id).Scan(&before)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	was, _ := time.Parse(time.RFC3339Nano, before)
	now, _ := time.Parse(time.RFC3339Nano, at)
	if d := now.Sub(was); err == nil && d >= 0 && d < pause {
		_, err = tx.ExecContext(ctx, `INSERT INTO pace (piece, seconds, passes) SELECT id, ?, 1 FROM piece WHERE id = ?
			ON CONFLICT (piece) DO UPDATE SET seconds = seconds + excluded.seconds, passes = passes + 1`, d.Seconds(), id)
	}
	return err
}

// pause is from how long on she has not been knitting.
const pause = 10 * time.Minute

// Told is an entry of any piece's journal.
type Told struct {
	Piece int64
	Entry
}

// Entries lists the journals of all pieces that are on the shelf or put away, the latest first: of one piece
// where piece is not 0.
func (s *Store) Entries(ctx context.Context, piece int64, most int) (list []Told, err error) {
	return s.told(ctx, `WHERE ? = 0 OR piece = ? ORDER BY id DESC LIMIT ?`, piece, piece, most)
}

// EntriesAfter lists the entries of all journals, or of one piece where piece is not 0, that follow an entry (0: from
// the first on), the oldest first.
func (s *Store) EntriesAfter(ctx context.Context, piece, after int64, most int) (list []Told, err error) {
	return s.told(ctx, `WHERE (? = 0 OR piece = ?) AND id > ? ORDER BY id LIMIT ?`, piece, piece, after, most)
}

func (s *Store) told(ctx context.Context, which string, args ...any) (list []Told, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT piece, `+entryColumns+` FROM journal `+which, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var t Told
		if err := scanEntry(rows, &t.Entry, &t.Piece); err != nil {
			return nil, err
		}
		list = append(list, t)
	}
	return list, rows.Err()
}

// WritePhoto writes a remark with a photograph, a JPEG, where she is by then: it takes a while to be read, and moves
// her nowhere.
func (s *Store) WritePhoto(ctx context.Context, id int64, note string, photo []byte) (written int64, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		e, last := Entry{Kind: "note", Note: note}, ""
		err := tx.QueryRowContext(ctx, `SELECT done, pass FROM journal WHERE piece = ? ORDER BY id DESC LIMIT 1`, id).
			Scan(&e.Done, &last)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		e.Pass, _ = pass.ParseID(last)
		if written, err = s.enter(ctx, tx, id, e); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO journal_photo (entry, photo) VALUES (?, ?)`, written, photo)
		return err
	})
	return written, err
}

// JournalPhoto is the photograph of an entry, a JPEG.
func (s *Store) JournalPhoto(ctx context.Context, entry int64) (photo []byte, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT photo FROM journal_photo WHERE entry = ?`, entry).Scan(&photo)
	return photo, none(err)
}
