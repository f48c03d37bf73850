package edit

import (
	"maps"
	"slices"
	"strings"

	"vindel/knit/piece"
)

// RecipeText makes a text the recipe of a section (from 1): a list of its lines.
func RecipeText(section int, text string) []Change {
	return Set(Section(section).To("recipe"), lines(text))
}

func lines(text string) []any {
	var list []any
	for line := range strings.SplitSeq(strings.TrimRight(strings.ReplaceAll(text, "\r", ""), "\n"), "\n") {
		list = append(list, line)
	}
	return list
}

// Charts puts charts into the piece that it has not yet, as files have them.
func Charts(p *piece.Piece, charts map[string]any) (changes []Change) {
	if len(p.Charts) == 0 && len(charts) > 0 {
		changes = Set(Member("charts"), map[string]any{})
	}
	for _, name := range slices.Sorted(maps.Keys(charts)) {
		if p.Charts[name] == nil {
			changes = append(changes, Set(Chart(name), charts[name])...)
		}
	}
	return changes
}

// Yarns adds yarns of letters that the piece has not yet, as files have them.
func Yarns(p *piece.Piece, yarns []any) (changes []Change) {
	for _, y := range yarns {
		m, _ := y.(map[string]any)
		id, _ := m["id"].(string)
		if len(id) == 1 && !slices.ContainsFunc(p.Yarns, func(have piece.Yarn) bool { return have.ID == id[0] }) {
			changes = append(changes, Set(Member("yarns").End(), y)...)
		}
	}
	return changes
}

// With sets a parameter of a section's recipe from outside, in tenths.
func With(p *piece.Piece, section int, name string, tenths int) (changes []Change) {
	at := Section(section).To("with")
	if p.Section(section).With == nil {
		changes = Set(at, map[string]any{})
	}
	return append(changes, Set(at.To(name), float64(tenths)/10)...)
}

// Variants are the settings of a recipe that are kept side by side.
func Variants(section int, list []map[string]int) []Change {
	var all []any
	for _, with := range list {
		one := map[string]any{}
		for name, tenths := range with {
			one[name] = float64(tenths) / 10
		}
		all = append(all, one)
	}
	return Set(Section(section).To("variants"), all)
}

// AsRecipe makes a section a recipe: what its rows and charts were is left out, and can be undone.
func AsRecipe(p *piece.Piece, section int, text string) []Change {
	sec := p.Section(section)
	doc := map[string]any{"id": sec.ID, "technique": "recipe", "recipe": lines(text)}
	if sec.Name != "" {
		doc["name"] = sec.Name
	}
	return Put(Section(section), doc)
}

// InsertRecipe puts a recipe before section at (one more than there are: after the last).
func InsertRecipe(p *piece.Piece, at int, name, text string) []Change {
	return insert(p, at, map[string]any{"name": name, "technique": "recipe", "recipe": lines(text)})
}
