package store

import (
	"context"
	"database/sql"
)

// Project is pieces that belong together: Doc is JSON of the pages' own.
type Project struct {
	ID    int64
	Name  string
	Doc   []byte
	Undo  bool   // there is a state before the last change
	State string // changes whenever the project does
}

// Projects lists the projects that are not put away, by name.
func (s *Store) Projects(ctx context.Context) (list []Project, err error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT id, name, doc, before <> '', updated FROM project WHERE removed IS NULL ORDER BY name, id`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var p Project
		if err := rows.Scan(&p.ID, &p.Name, &p.Doc, &p.Undo, &p.State); err != nil {
			return nil, err
		}
		list = append(list, p)
	}
	return list, rows.Err()
}

// Project is one project, put away or not.
func (s *Store) Project(ctx context.Context, id int64) (p Project, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT id, name, doc, before <> '', updated FROM project WHERE id = ?`, id).
		Scan(&p.ID, &p.Name, &p.Doc, &p.Undo, &p.State)
	return p, none(err)
}

// AddProject stores a new project.
func (s *Store) AddProject(ctx context.Context, name string, doc []byte) (id int64, err error) {
	err = s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if id, err = fresh(ctx, tx, "project"); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO project (id, name, doc, updated) VALUES (?, ?, ?, ?)`, id, name,
			string(doc), s.stamp())
		return err
	})
	return id, err
}

// SaveProject writes a project as it now is, made on a state, and keeps what it was.
func (s *Store) SaveProject(ctx context.Context, id int64, on, name string, doc []byte) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if err := stands(ctx, tx, "project", id, on); err != nil {
			return err
		}
		return one(tx.ExecContext(ctx,
			`UPDATE project SET before = doc, name = ?, doc = ?, updated = ? WHERE id = ?`, name, string(doc),
			s.stamp(), id))
	})
}

// UndoProject gives a project back what it was before the last change; once more, and that is undone.
func (s *Store) UndoProject(ctx context.Context, id int64, on string) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		if err := stands(ctx, tx, "project", id, on); err != nil {
			return err
		}
		return one(tx.ExecContext(ctx, `UPDATE project SET doc = before, before = doc, updated = ? WHERE id = ? AND `+
			`before <> ''`, s.stamp(), id))
	})
}

// PutProjectAway hides a project, or brings it back; its pieces stay on the shelf.
func (s *Store) PutProjectAway(ctx context.Context, id int64, away bool) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var removed any
		if away {
			removed = s.stamp()
		}
		return one(tx.ExecContext(ctx, `UPDATE project SET removed = ? WHERE id = ?`, removed, id))
	})
}
