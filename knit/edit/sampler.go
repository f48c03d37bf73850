package edit

import (
	"fmt"
	"maps"

	"vindel/knit/piece"
)

// Band is one of the samples of a sampler: a stitch size, or settings of a recipe.
type Band struct {
	Name string
	Size string
	With map[string]int // in tenths; nil: as the section has them
}

// MarkRows is how many rows of the marker yarn lie between two samples.
const MarkRows = 2

// Sampler is a piece of its own: the section (from 1) knitted once for each band, one above the other
// after one cast-on, with rows of a marker yarn between.
func Sampler(p *piece.Piece, d *Document, section int, bands []Band, marker piece.YarnNo) (*Document, error) {
	tree, ok := d.tree.(map[string]any)
	if !ok {
		return nil, fmt.Errorf("the piece is no piece")
	}
	own, _ := d.Get(Section(section))
	from, _ := own.(map[string]any)
	if from == nil {
		return nil, fmt.Errorf("section %d: there is none", section)
	}
	out := maps.Clone(tree)
	out["name"] = "Sampler: " + p.Section(section).Title()
	delete(out, "swatch")
	mark := func(n int) map[string]any {
		return map[string]any{"id": fmt.Sprint("mark-", n), "name": fmt.Sprint("mark ", n), "technique": "plain",
			"rows": MarkRows,
			"yarn": p.YarnID(marker)}
	}
	var sections []any
	for i, b := range bands {
		one := maps.Clone(from)
		one["id"], one["name"] = fmt.Sprint("sample-", i+1), b.Name
		delete(one, "swatch")
		delete(one, "notes")
		delete(one, "variants")
		if b.Size != "" {
			one["size"] = b.Size
		}
		if b.With != nil {
			with := map[string]any{}
			for name, tenths := range b.With {
				with[name] = float64(tenths) / 10
			}
			one["with"] = with
		}
		if i > 0 {
			sections = append(sections, mark(i))
		}
		sections = append(sections, one)
	}
	out["sections"] = sections
	plain, err := plainValue(out)
	return &Document{plain}, err
}

// Samples lists the sections (from 1) of a sampler that are samples.
func Samples(p *piece.Piece) (list []int) {
	for i := range p.Sections {
		var n int
		if _, err := fmt.Sscanf(p.Sections[i].ID, "sample-%d", &n); err == nil {
			list = append(list, i+1)
		}
	}
	return list
}

// TakeSwatch makes what was measured on a sample the swatch of a piece.
func TakeSwatch(doc any) []Change { return Set(Member("swatch"), doc) }
