package store

import (
	"context"
	"database/sql"
)

// Recipe is a recipe that is kept to be used again: Doc is JSON of the pages' own.
type Recipe struct {
	ID   int64
	Name string
	Doc  []byte
}

// Recipes lists the recipes that are kept and not put away, by name.
func (s *Store) Recipes(ctx context.Context) (list []Recipe, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, name, doc FROM recipe WHERE removed IS NULL ORDER BY name, id`)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var r Recipe
		if err := rows.Scan(&r.ID, &r.Name, &r.Doc); err != nil {
			return nil, err
		}
		list = append(list, r)
	}
	return list, rows.Err()
}

// KeepRecipe keeps a recipe under a name; one that has the name already becomes it.
func (s *Store) KeepRecipe(ctx context.Context, name string, doc []byte) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		done, err := tx.ExecContext(ctx, `UPDATE recipe SET doc = ?, updated = ? WHERE name = ? AND removed IS NULL`,
			string(doc), s.stamp(), name)
		if err != nil {
			return err
		}
		if n, err := done.RowsAffected(); err != nil || n > 0 {
			return err
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO recipe (name, doc, updated) VALUES (?, ?, ?)`, name, string(doc),
			s.stamp())
		return err
	})
}

// PutRecipeAway hides a recipe, or brings it back.
func (s *Store) PutRecipeAway(ctx context.Context, id int64, away bool) error {
	return s.write(ctx, func(ctx context.Context, tx *sql.Tx) error {
		var removed any
		if away {
			removed = s.stamp()
		}
		return one(tx.ExecContext(ctx, `UPDATE recipe SET removed = ? WHERE id = ?`, removed, id))
	})
}
