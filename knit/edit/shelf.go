package edit

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"vindel/knit/piece"
)

// usedIn names the sections that use a chart, from 1: "section 2", "sections 2 and 4"; follows says
// which charts the text of a recipe follows.
func usedIn(p *piece.Piece, c *piece.Chart, follows func(s *piece.Section) []string) (areas, recipes []int) {
	for i := range p.Sections {
		s := &p.Sections[i]
		if slices.ContainsFunc(s.Areas, func(a piece.Area) bool { return a.Chart == c }) {
			areas = append(areas, i+1)
		}
		if s.Recipe != "" && slices.Contains(follows(s), c.Name) {
			recipes = append(recipes, i+1)
		}
	}
	return areas, recipes
}

// RenameChart gives a chart another name, in all areas too. It refuses a name that is taken or
// empty, and where the words of a recipe name the chart.
func RenameChart(p *piece.Piece, d *Document, c *piece.Chart, name string,
	follows func(s *piece.Section) []string) ([]Change, error) {
	name = strings.TrimSpace(name)
	switch {
	case name == c.Name:
		return nil, nil
	case name == "" || len(name) > piece.MaxText:
		return nil, fmt.Errorf("the name of a chart is 1 to %d characters", piece.MaxText)
	case p.Charts[name] != nil:
		return nil, fmt.Errorf("there is a chart %q already", name)
	}
	if _, recipes := usedIn(p, c, follows); len(recipes) > 0 {
		return nil, fmt.Errorf("the recipe of section %d follows %q; alter its words first", recipes[0], c.Name)
	}
	whole, _ := d.Get(Chart(c.Name))
	changes := Set(Chart(name), whole)
	for i, sec := range p.Sections {
		for k, a := range sec.Areas {
			if a.Chart == c {
				changes = append(changes, Put(Area(i+1, k+1).To("chart"), name)...)
			}
		}
	}
	return append(changes, Drop(Chart(c.Name))...), nil
}

// DropChart takes a chart away that no section uses; else it says which does.
func DropChart(p *piece.Piece, c *piece.Chart, follows func(s *piece.Section) []string) ([]Change, error) {
	areas, recipes := usedIn(p, c, follows)
	switch {
	case len(areas) > 0:
		return nil, fmt.Errorf("%q lies in section %d; take it away there first", c.Name, areas[0])
	case len(recipes) > 0:
		return nil, fmt.Errorf("the recipe of section %d follows %q", recipes[0], c.Name)
	}
	return Drop(Chart(c.Name)), nil
}

// CopyChart puts a chart of another piece into this one under its name, or the next that is free,
// with the yarns of its legend that this piece has not. It returns the name.
func CopyChart(p *piece.Piece, from *piece.Piece, source *Document, c *piece.Chart) (name string, changes []Change) {
	name = c.Name
	for n := 2; p.Charts[name] != nil; n++ {
		name = fmt.Sprintf("%s %d", c.Name, n)
	}
	whole, _ := source.Get(Chart(c.Name))
	drawing := maps.Clone(whole.(map[string]any))
	if len(p.Charts) == 0 {
		changes = Set(Member("charts"), map[string]any{})
	}
	have := map[byte]bool{}
	for _, y := range p.Yarns {
		have[y.ID] = true
	}
	for _, m := range c.Means {
		for _, y := range from.Yarns {
			if y.ID == m.Yarn && !have[y.ID] {
				have[y.ID] = true
				changes = append(changes, Set(Member("yarns").End(), yarn(y.ID, y.Name, y.Colour))...)
			}
		}
	}
	return name, append(changes, Set(Chart(name), drawing)...)
}
