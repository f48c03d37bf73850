package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"

	"github.com/pressly/goose/v3"

	"vindel/knit/machine"
	"vindel/knit/piece"
)

// keepMeaning is the migration that writes into pieces what their machine meant before some
// defaults changed (which bed is patterned, where a card begins, what its window shows, what
// the purl carriage reads, how a console is told, how often lifelines are laid), so that no
// stored piece is turned round. Versions, own machines and the edits that undo and redo bring
// back get the same. Pieces whose knitting has begun are noted: their pages say what is
// planned otherwise now.
var keepMeaning = goose.NewGoMigration(5, &goose.GoFunc{RunTx: func(ctx context.Context, tx *sql.Tx) error {
	for _, c := range []struct {
		table, key, column string
		keep               func(v any) bool
	}{
		{"piece", "id", "doc", keepPiece}, {"version", "id", "doc", keepPiece}, {"machine", "id", "doc", keepMachine},
		{"edit", "piece, n", "changes", keepChanges}, {"edit", "piece, n", "inverse", keepChanges},
	} {
		if err := rewrite(ctx, tx, c.table, c.key, c.column, c.keep); err != nil {
			return fmt.Errorf("%s: %w", c.table, err)
		}
	}
	_, err := tx.ExecContext(ctx, `INSERT INTO setting (key, value)
		SELECT DISTINCT 'planned-anew:' || piece, '1' FROM journal WHERE done > 0`)
	return err
}}, nil)

// rewrite changes the JSON in one column of a table, where keep says that it has changed it.
func rewrite(ctx context.Context, tx *sql.Tx, table, key, column string, keep func(any) bool) error {
	type row struct {
		at   [2]int64
		text string
	}
	second := "0"
	if key != "id" {
		key, second = "piece", "n"
	}
	rows, err := tx.QueryContext(ctx, fmt.Sprintf("SELECT %s, %s, %s FROM %s", key, second, column, table))
	if err != nil {
		return err
	}
	defer rows.Close()
	var list []row
	for rows.Next() {
		var r row
		if err := rows.Scan(&r.at[0], &r.at[1], &r.text); err != nil {
			return err
		}
		list = append(list, r)
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for _, r := range list {
		v, err := piece.Decode([]byte(r.text))
		if err != nil || !keep(v) {
			continue // what cannot be read is left as it is
		}
		text, err := json.Marshal(v)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, fmt.Sprintf("UPDATE %s SET %s = ? WHERE %s = ? AND (%s = ? OR %[4]s = 0)",
			table, column,
			key, second), string(text), r.at[0], r.at[1]); err != nil {
			return err
		}
	}
	return nil
}

func keepPiece(v any) bool {
	tree, ok := v.(map[string]any)
	if !ok {
		return false
	}
	changed := keepMachine(tree["machine"])
	if limits, ok := tree["limits"].(map[string]any); ok && limits["weights"] != nil {
		changed = put(limits, "lifeline", limits["weights"]) || changed // they went together
	}
	return changed
}

func keepMachine(v any) (changed bool) {
	m, ok := v.(map[string]any)
	id, _ := m["profile"].(string)
	shipped, err := machine.Shipped(id)
	if !ok || err != nil {
		return false
	}
	keep := func(key string, value any) { changed = put(m, key, value) || changed }
	if id == "two-bed-pairs" {
		keep("program_bed", "far")
		keep("card_origin", "L12")
		keep("window", "read")
	}
	if shipped.HasCard() && (shipped.School == machine.Pairs && m["school"] == nil || m["school"] == "pairs") {
		keep("joined", false)
	}
	if m["purl_carriage"] == true && len(shipped.Advances) > 0 {
		keep("advances", []any{"lace"})
		lace, _ := m["lace"].(string)
		if lace == "combined" || lace == "" && shipped.Lace == "combined" {
			keep("purl_selects", "now")
		} else {
			keep("purl_selects", "ahead")
		}
	}
	if shipped.Program == machine.Electronic {
		keep("panel", "flat")
	}
	return changed
}

// put sets a member that is not there yet.
func put(m map[string]any, key string, value any) bool {
	if _, has := m[key]; has {
		return false
	}
	m[key] = value
	return true
}

// keepChanges goes over the changes of an edit: those that put in a machine, or a whole piece.
func keepChanges(v any) (changed bool) {
	list, _ := v.([]any)
	for _, c := range list {
		change, _ := c.(map[string]any)
		switch change["path"] {
		case "":
			changed = keepPiece(change["value"]) || changed
		case "/machine":
			changed = keepMachine(change["value"]) || changed
		}
	}
	return changed
}
