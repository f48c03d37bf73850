package store

import (
	"context"
	"database/sql"
	"time"
)

// OnShelf is a piece as the shelf lists it: nothing of it is read or planned. Card is what was
// stored of it when it was last worked out, empty where it has changed since; Name is that of
// its file where there is no card.
type OnShelf struct {
	ID      int64
	Rev     int64
	Head    int
	Name    string
	Card    []byte
	At      Entry // where the knitter is; the zero Entry before the first
	Updated time.Time
}

// Shelf lists all pieces that are not put away, the latest touched first, with what the Vindel
// called made has stored of them.
func (s *Store) Shelf(ctx context.Context, made string) (list []OnShelf, err error) {
	return s.shelf(ctx, made, 0)
}

// OneOnShelf is one piece as Shelf lists it; ErrNone where it is not there.
func (s *Store) OneOnShelf(ctx context.Context, made string, id int64) (p OnShelf, err error) {
	list, err := s.shelf(ctx, made, id)
	if err == nil && len(list) == 0 {
		err = ErrNone
	}
	if err != nil {
		return p, err
	}
	return list[0], nil
}

// shelf lists one piece, or all where id is 0.
func (s *Store) shelf(ctx context.Context, made string, id int64) (list []OnShelf, err error) {
	rows, err := s.db.QueryContext(ctx, `
		SELECT piece.id, piece.rev, piece.head, piece.updated, coalesce(summary.card, ''),
		       CASE WHEN summary.card IS NULL AND json_valid(piece.doc) THEN coalesce(json_extract(piece.doc,
			'$.name'), '') ELSE '' END,
		       coalesce(journal.id, 0), coalesce(journal.done, 0), coalesce(journal.head, 0)
		FROM piece
		LEFT JOIN summary ON summary.piece = piece.id AND summary.rev = piece.rev AND summary.made = ?1
		LEFT JOIN journal ON journal.id = (SELECT max(id) FROM journal WHERE piece = piece.id)
		WHERE piece.removed IS NULL AND (?2 = 0 OR piece.id = ?2) ORDER BY piece.updated DESC, piece.id`, made, id)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var p OnShelf
		var updated string
		if err := rows.Scan(&p.ID, &p.Rev, &p.Head, &updated, &p.Card, &p.Name, &p.At.ID, &p.At.Done,
			&p.At.Head); err != nil {
			return nil, err
		}
		p.Updated, _ = time.Parse(time.RFC3339Nano, updated)
		list = append(list, p)
	}
	return list, rows.Err()
}

// Count is how many pieces there are, those put away left out.
func (s *Store) Count(ctx context.Context) (n int, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT count(*) FROM piece WHERE removed IS NULL`).Scan(&n)
	return n, err
}

// SaveCard stores what the shelf shows of a piece at a revision, as a Vindel worked it out. A
// piece that has changed or gone meanwhile keeps none.
func (s *Store) SaveCard(ctx context.Context, id, rev int64, made string, card []byte) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx,
			`INSERT INTO summary (piece, rev, made, card) SELECT id, rev, ?, ? FROM piece WHERE id = ? AND rev = ?
			ON CONFLICT (piece) DO UPDATE SET rev = excluded.rev, made = excluded.made, card = excluded.card`, made,
			string(card), id, rev)
		return err
	})
}
