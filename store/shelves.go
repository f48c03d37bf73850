package store

import (
	"context"
	"database/sql"
)

// Design is a drawing or program that a console keeps under a number of the owner's.
type Design struct {
	Machine, Number string
	Piece           int64 // 0: none, or one deleted since
	Name            string
	Width, Height   int
}

// Memory lists what the consoles keep, machine by machine, by number.
func (s *Store) Memory(ctx context.Context) (list []Design, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT machine, number, coalesce(piece, 0), name, width, height FROM memory
		ORDER BY machine, CAST(number AS INTEGER), number`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var d Design
		if err := rows.Scan(&d.Machine, &d.Number, &d.Piece, &d.Name, &d.Width, &d.Height); err != nil {
			return nil, err
		}
		list = append(list, d)
	}
	return list, rows.Err()
}

// Remember notes what a console keeps under a number, in place of what it kept there.
func (s *Store) Remember(ctx context.Context, d Design) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx,
			`INSERT INTO memory (machine, number, piece, name, width, height, updated) VALUES (?, ?, nullif(?, 0), ?,
				?, ?, ?)
			ON CONFLICT (machine, number) DO UPDATE SET piece = excluded.piece, name = excluded.name,
				width = excluded.width,
			height = excluded.height, updated = excluded.updated`, d.Machine, d.Number, d.Piece, d.Name, d.Width,
			d.Height, s.stamp())
		return err
	})
}

// Forget notes that a console keeps nothing any more under a number.
func (s *Store) Forget(ctx context.Context, machine, number string) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `DELETE FROM memory WHERE machine = ? AND number = ?`, machine, number)
		return err
	})
}

// Yarn is a yarn on the shelf: grams and metres of one ball, 0 where not known, and balls in hand.
type Yarn struct {
	ID                   int64
	Name, Colour, Note   string
	Grams, Metres, Balls float64
}

// Yarns lists the shelf by name.
func (s *Store) Yarns(ctx context.Context) (list []Yarn, err error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT id, name, colour, note, grams, metres, balls FROM yarn ORDER BY name, id`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var y Yarn
		if err := rows.Scan(&y.ID, &y.Name, &y.Colour, &y.Note, &y.Grams, &y.Metres, &y.Balls); err != nil {
			return nil, err
		}
		list = append(list, y)
	}
	return list, rows.Err()
}

// SaveYarn writes a yarn of the shelf; of id 0, a new one.
func (s *Store) SaveYarn(ctx context.Context, y Yarn) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) (err error) {
		if y.ID == 0 {
			if y.ID, err = fresh(ctx, tx, "yarn"); err != nil {
				return err
			}
		}
		_, err = tx.ExecContext(ctx,
			`INSERT INTO yarn (id, name, colour, note, grams, metres, balls, updated) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
			ON CONFLICT (id) DO UPDATE SET name = excluded.name, colour = excluded.colour, note = excluded.note,
				grams = excluded.grams,
			metres = excluded.metres, balls = excluded.balls, updated = excluded.updated`,
			y.ID, y.Name, y.Colour, y.Note, y.Grams, y.Metres, y.Balls, s.stamp())
		return err
	})
}

// DropYarn takes a yarn off the shelf.
func (s *Store) DropYarn(ctx context.Context, id int64) error { return s.drop(ctx, "yarn", id) }

func (s *Store) drop(ctx context.Context, table string, id int64) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM "+table+" WHERE id = ?", id)
		return err
	})
}

// Swatch is a swatch that was knitted and measured: so many stitches over so many millimetres, and rows; Grams is 0
// where it was not weighed.
type Swatch struct {
	ID                                       int64
	Yarn, Machine, Size, Technique, Note     string
	Stitches, WidthMM, Rows, HeightMM, Grams float64
	HasPhoto                                 bool
}

// Swatches lists them, the newest first.
func (s *Store) Swatches(ctx context.Context) (list []Swatch, err error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT id, yarn, machine, size, technique, note, stitches, width_mm, rows, height_mm, grams,
		photo IS NOT NULL FROM swatch ORDER BY id DESC`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var w Swatch
		if err := rows.Scan(&w.ID, &w.Yarn, &w.Machine, &w.Size, &w.Technique, &w.Note, &w.Stitches, &w.WidthMM,
			&w.Rows, &w.HeightMM, &w.Grams,
			&w.HasPhoto); err != nil {
			return nil, err
		}
		list = append(list, w)
	}
	return list, rows.Err()
}

// SwatchPhoto is the photograph of a swatch, a JPEG.
func (s *Store) SwatchPhoto(ctx context.Context, id int64) (photo []byte, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT photo FROM swatch WHERE id = ? AND photo IS NOT NULL`, id).Scan(&photo)
	return photo, none(err)
}

// AddSwatch keeps a swatch; photo is a JPEG, or nil.
func (s *Store) AddSwatch(ctx context.Context, w Swatch, photo []byte) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		id, err := fresh(ctx, tx, "swatch")
		if err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx,
			`INSERT INTO swatch (id, yarn, machine, size, technique, note, stitches, width_mm, rows, height_mm, grams,
				photo, updated)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, id, w.Yarn, w.Machine, w.Size, w.Technique, w.Note,
			w.Stitches, w.WidthMM, w.Rows, w.HeightMM,
			w.Grams, photo, s.stamp())
		return err
	})
}

// DropSwatch throws a swatch away.
func (s *Store) DropSwatch(ctx context.Context, id int64) error { return s.drop(ctx, "swatch", id) }
