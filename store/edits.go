package store

import (
	"bytes"
	"compress/gzip"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"vindel/knit/edit"
	"vindel/knit/technique"
)

// MostUndone is how many steps undo reaches back. What is older is folded away: a piece that is drawn for years does
// not grow for ever, and a version that was given a name stays whole.
const MostUndone = 500

// ErrNoRevision says that an edit does not say on which state it was made.
var ErrNoRevision = errors.New("store: the revision that the change was made on is missing")

// Edit makes an edit of a piece, refuses what leaves no readable piece, and writes
// the edit down. What had been undone is gone then; an edit that changes nothing is none.
func (s *Store) Edit(ctx context.Context, id int64, e edit.Edit) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error { return s.edit(ctx, tx, id, e) })
}

func (s *Store) edit(ctx context.Context, tx *sql.Tx, id int64, e edit.Edit) error {
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
	did, err := pressed(e.Changes)
	if err != nil {
		return err
	}
	undo, err := pressed(inverse)
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
	if err := fold(ctx, tx, id, head+1-MostUndone); err != nil {
		return err
	}
	return s.put(ctx, tx, id, doc, head+1)
}

// fold forgets the edits of a piece up to n, but for their kinds.
func fold(ctx context.Context, tx *sql.Tx, id int64, n int) error {
	if n < 1 {
		return nil
	}
	_, err := tx.ExecContext(ctx, `UPDATE piece SET folded = folded || coalesce((SELECT group_concat(DISTINCT ' ' || kind)
		FROM edit WHERE piece = ?1 AND n <= ?2 AND instr(piece.folded || ' ', ' ' || kind || ' ') = 0), '')
		WHERE id = ?1`, id, n)
	if err == nil {
		_, err = tx.ExecContext(ctx, `DELETE FROM edit WHERE piece = ? AND n <= ?`, id, n)
	}
	return err
}

// longEdit is from how many bytes on changes are kept pressed together.
const longEdit = 1 << 10

// pressed is changes as they are kept: JSON, gzip of it where it is long.
func pressed(list []edit.Change) ([]byte, error) {
	text, err := json.Marshal(list)
	if err != nil || len(text) < longEdit {
		return text, err
	}
	var b bytes.Buffer
	z, err := gzip.NewWriterLevel(&b, gzip.BestSpeed)
	if err != nil {
		return nil, err
	}
	if _, err := z.Write(text); err != nil {
		return nil, err
	}
	err = z.Close()
	return b.Bytes(), err
}

// unpressed reads what pressed gave.
func unpressed(kept []byte) (list []edit.Change, err error) {
	from := io.Reader(bytes.NewReader(kept))
	if bytes.HasPrefix(kept, []byte{0x1f, 0x8b}) {
		if from, err = gzip.NewReader(from); err != nil {
			return nil, err
		}
	}
	err = json.NewDecoder(from).Decode(&list)
	return list, err
}

// ErrStale says that the piece has been changed since the state that a change was made on.
var ErrStale = errors.New("store: the piece has been changed meanwhile")

// document is a piece and its head, where it is as it was at the revision on.
func document(ctx context.Context, tx *sql.Tx, id, on int64) (doc *edit.Document, head int, err error) {
	if on < 1 {
		return nil, 0, ErrNoRevision
	}
	var text string
	var rev int64
	if err := tx.QueryRowContext(ctx, `SELECT doc, head, rev FROM piece WHERE id = ?`, id).Scan(&text, &head,
		&rev); err != nil {
		return nil, 0, none(err)
	}
	if on != rev {
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

// Undo takes the last edit back, made on a revision, and gives its label;
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
		which := "changes"
		if way < 0 {
			which = "inverse"
		}
		var kept []byte
		if err := tx.QueryRowContext(ctx, `SELECT label, `+which+` FROM edit WHERE piece = ? AND n = ?`, id,
			head+offset).Scan(&label, &kept); err != nil {
			return none(err)
		}
		changes, err := unpressed(kept)
		if err != nil {
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
	var folded, kept string
	err := s.db.QueryRowContext(ctx, `SELECT folded, coalesce((SELECT group_concat(DISTINCT kind) FROM edit
		WHERE piece = piece.id AND n <= head), '') FROM piece WHERE id = ?`, id).Scan(&folded, &kept)
	did := map[edit.Kind]bool{}
	for _, kind := range strings.FieldsFunc(folded+","+kept, func(r rune) bool { return r == ',' || r == ' ' }) {
		did[edit.Kind(kind)] = true
	}
	return did, none(err)
}
