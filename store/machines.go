package store

import (
	"context"
	"database/sql"
	"errors"
)

// Machine is a machine of the user's own: Doc is what a piece file holds under "machine".
type Machine struct {
	ID    int64
	Doc   []byte
	State string // changes whenever the machine does
}

// Machines lists the user's machines that are not put away, the oldest first.
func (s *Store) Machines(ctx context.Context) (list []Machine, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, doc FROM machine WHERE removed IS NULL ORDER BY id`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var m Machine
		if err := rows.Scan(&m.ID, &m.Doc); err != nil {
			return nil, err
		}
		list = append(list, m)
	}
	return list, rows.Err()
}

// Machine is one machine, put away or not.
func (s *Store) Machine(ctx context.Context, id int64) (m Machine, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT id, doc, updated FROM machine WHERE id = ?`, id).Scan(&m.ID, &m.Doc,
		&m.State)
	return m, none(err)
}

// AddMachine stores a new machine.
func (s *Store) AddMachine(ctx context.Context, doc []byte) (id int64, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if id, err = fresh(ctx, tx, "machine"); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO machine (id, doc, updated) VALUES (?, ?, ?)`, id, string(doc),
			s.stamp())
		return err
	})
	return id, err
}

// ErrStaleOther says that a machine or a project has been changed since the state that a change was made on.
var ErrStaleOther = errors.New("store: it has been changed meanwhile")

// stands refuses a change of a row of machine or project that was made on another state than it has.
func stands(ctx context.Context, tx *sql.Tx, table string, id int64, on string) error {
	var state string
	if err := tx.QueryRowContext(ctx, `SELECT updated FROM `+table+` WHERE id = ?`, id).Scan(&state); err != nil {
		return none(err)
	}
	return Made(on, state)
}

// Made refuses what was made on another state of a machine or a project than it has.
func Made(on, state string) error {
	switch on {
	case state:
		return nil
	case "":
		return ErrNoRevision
	}
	return ErrStaleOther
}

// SaveMachine writes a machine as it now is, made on a state.
func (s *Store) SaveMachine(ctx context.Context, id int64, on string, doc []byte) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if err := stands(ctx, tx, "machine", id, on); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `UPDATE machine SET doc = ?, updated = ? WHERE id = ?`, string(doc), s.stamp(),
			id)
		return err
	})
}

// PutMachineAway hides a machine, or brings it back. Pieces keep their own copy.
func (s *Store) PutMachineAway(ctx context.Context, id int64, away bool) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var removed any
		if away {
			removed = s.stamp()
		}
		return one(tx.ExecContext(ctx, `UPDATE machine SET removed = ? WHERE id = ?`, removed, id))
	})
}

// MachinePhoto is the photograph behind a machine's controls; ErrNone where there is none.
func (s *Store) MachinePhoto(ctx context.Context, id int64) (photo []byte, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT photo FROM machine_photo WHERE machine = ?`, id).Scan(&photo)
	return photo, none(err)
}

// SetMachinePhoto puts a photograph behind a machine's controls; nil takes it away.
func (s *Store) SetMachinePhoto(ctx context.Context, id int64, photo []byte) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if photo == nil {
			_, err := tx.ExecContext(ctx, `DELETE FROM machine_photo WHERE machine = ?`, id)
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO machine_photo (machine, photo) VALUES (?, ?)
			ON CONFLICT (machine) DO UPDATE SET photo = excluded.photo`, id, photo)
		return err
	})
}
