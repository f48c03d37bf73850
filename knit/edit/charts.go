package edit

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/piece"
)

// ChartOf makes a new chart of a rectangle of another, with its legend, under a name that no
// other has: columns and rows from 1 at the bottom left, both ends included.
func ChartOf(p *piece.Piece, d *Document, c *piece.Chart, columns, rows [2]int) []Change {
	name := ""
	for n := 2; name == "" || p.Charts[name] != nil; n++ {
		name = fmt.Sprintf("%s %d", c.Name, n)
	}
	whole, _ := d.Get(Chart(c.Name))
	drawing := maps.Clone(whole.(map[string]any))
	part := &chart.Chart{Keys: c.Keys, Grid: c.Cut(columns[0], columns[1], rows[0], rows[1])}
	drawing["rows"] = part.Rows()
	return Set(Chart(name), drawing)
}

// ShowsAll says that a lace chart shows every knitted row.
func ShowsAll(name string) []Change { return Set(Chart(name).To("shows"), "all") }

// DrawnFor says which side a chart is drawn for.
func DrawnFor(name string, side chart.Face) []Change {
	return Set(Chart(name).To("side"), side.String())
}

// Rows replaces a chart's rows, the top row first, and fits the areas that name some of
// its columns or rows to its new size.
func Rows(p *piece.Piece, c *piece.Chart, rows []string) []Change {
	w, h := 0, len(rows)
	if h > 0 {
		w = len([]rune(rows[0]))
	}
	return append(Put(Chart(c.Name).To("rows"), rows), resized(p, c, w, h)...)
}

// Row replaces row r (from 1 at the bottom) of a chart.
func Row(c *piece.Chart, r int, text string) []Change { return Put(ChartRow(c, r), text) }

// Cell is a cell of a chart; column and row count from 1 at the bottom left.
type Cell struct {
	Chart       string
	Column, Row int
}

// Cells draws cells with the character that each chart has for what is wanted; 0: it has
// none, and the cell stays. Where all stay, the edit is empty.
func Cells(p *piece.Piece, cells []Cell, with func(*piece.Chart) rune) (changes []Change) {
	type line struct {
		chart string
		row   int
	}
	rows := map[line][]rune{}
	var order []line
	for _, cell := range cells {
		c, at := p.Charts[cell.Chart], line{cell.Chart, cell.Row}
		if with(c) == 0 {
			continue
		}
		if rows[at] == nil {
			rows[at] = c.RuneRow(cell.Row)
			order = append(order, at)
		}
		rows[at][cell.Column-1] = with(c)
	}
	for _, at := range order {
		changes = append(changes, Row(p.Charts[at.chart], at.row, string(rows[at]))...)
	}
	return changes
}

// Padded widens a chart by n columns of its first character.
func Padded(p *piece.Piece, c *piece.Chart, n int) []Change {
	rows := c.Rows()
	for i := range rows {
		rows[i] += strings.Repeat(string(c.Keys[0]), n)
	}
	return append(Put(Chart(c.Name).To("rows"), rows), resized(p, c, c.W+n, c.H)...)
}

// Cropped keeps the first w columns of a chart; an area of the whole stays one.
func Cropped(p *piece.Piece, c *piece.Chart, w int) []Change {
	rows := c.Rows()
	for i, row := range rows {
		rows[i] = string([]rune(row)[:w])
	}
	return append(Put(Chart(c.Name).To("rows"), rows), resized(p, c, w, c.H)...)
}

// PlainRowOnTop adds a plain row above a lace chart that a section knits whole in an
// area, and knits it: width is the stitches of a row besides the padding.
func PlainRowOnTop(section, area int, c *piece.Chart, width, rows int) []Change {
	text := strings.Repeat(".", width) + strings.Repeat("x", c.W-width)
	return slices.Concat(Set(Chart(c.Name).To("rows").At(0), text),
		Set(Section(section).To("rows"), rows), Set(Area(section, area).To("rows"), []int{1, c.H + 1}))
}

// resized fits the areas that name columns or rows of a chart to its new size: an area of
// the whole stays one, a part is kept within the drawing.
func resized(p *piece.Piece, c *piece.Chart, w, h int) (changes []Change) {
	if w == c.W && h == c.H {
		return nil
	}
	fit := func(span [2]int, was, now int) [2]int {
		if span == [2]int{1, was} {
			return [2]int{1, now}
		}
		return [2]int{min(span[0], now), min(span[1], now)}
	}
	for i, sec := range p.Sections {
		for k, a := range sec.Areas {
			if a.Chart == c {
				changes = append(changes, Set(Area(i+1, k+1).To("columns"), fit(a.Columns, c.W, w))...)
				changes = append(changes, Set(Area(i+1, k+1).To("rows"), fit(a.Rows, c.H, h))...)
			}
		}
	}
	return changes
}

// marksAre makes a chart one that marks the stitches of a technique, or names the piece's
// yarns, where it does not yet; what is drawn stays.
func marksAre(p *piece.Piece, c *piece.Chart, t *piece.Technique) []Change {
	at := Chart(c.Name).To("legend")
	switch t.Drawn {
	case piece.InLace:
		return laceMarks(c)
	case piece.InStitches:
		fits := !slices.ContainsFunc(c.Means, func(m chart.Meaning) bool {
			return m.Yarn != 0 || m.Stitch != chart.Knit && m.Stitch != t.Mark
		})
		if fits && len(c.Legend) > 1 {
			return nil
		}
		legend := markLegend(c.Keys, t.Mark)
		if len(c.Keys) > 1 {
			for key := range legend {
				if c.Key([]rune(key)[0]) < 0 {
					delete(legend, key) // the drawing has a mark of its own
				}
			}
		}
		return Set(at, legend)
	case piece.InYarns:
		if !slices.ContainsFunc(c.Means, func(m chart.Meaning) bool { return m.Stitch != chart.Knit }) {
			return nil
		}
		legend := map[string]any{}
		for k, key := range c.Keys {
			legend[string(key)] = map[string]any{"yarn": string(p.Yarns[min(k, len(p.Yarns)-1)].ID)}
		}
		return Set(at, legend)
	}
	return nil
}

// laceMarks makes a chart one of lace: marks of lace stay, and whatever else it was drawn
// with becomes plain knit. Lace needs no legend.
func laceMarks(c *piece.Chart) []Change {
	rows, lace := c.Rows(), true
	for i, row := range rows {
		rows[i] = strings.Map(func(r rune) rune {
			if _, ok := chart.LaceMark(r); ok {
				return r
			}
			lace = false
			return '.'
		}, row)
	}
	changes := Set(Chart(c.Name).To("legend"), map[string]any{})
	if !lace {
		changes = append(changes, Put(Chart(c.Name).To("rows"), rows)...)
	}
	return changes
}

// BlankLine puts a blank line on top of line no (from 1) of a chart that is lines of a lace carriage: what was knitted
// after that line is knitted after the blank one. Areas that take lines of it take as many as before, and this one.
func BlankLine(p *piece.Piece, c *piece.Chart, no int) []Change {
	at := Chart(c.Name).To("lines").At(c.H - no)
	memo, below, was := map[string]any{}, map[string]any{}, c.Lines[no-1]
	if was.Knit > 0 {
		memo["knit"] = was.Knit
	}
	if was.Yarn > 0 {
		memo["yarn"] = p.YarnID(was.Yarn)
	}
	if was.Lever != "" {
		below["lever"] = was.Lever
	}
	changes := append(Set(at, map[string]any{"row": strings.Repeat(".", c.W), "memo": memo}),
		Set(Chart(c.Name).To("lines").At(c.H-no+1).To("memo"), below)...)
	for i := range p.Sections {
		for k := range p.Sections[i].Areas {
			if a := &p.Sections[i].Areas[k]; a.Chart == c && a.Rows != [2]int{1, c.H} && a.Rows[1] >= no {
				changes = append(changes, Set(Area(i+1, k+1).To("rows"), []int{a.Rows[0], a.Rows[1] + 1})...)
			}
		}
	}
	return changes
}

// LaceLines gives a chart that is lines of a lace carriage other lines, as the file has them. Areas take all of them.
func LaceLines(p *piece.Piece, c *piece.Chart, lines []any) []Change {
	changes := Put(Chart(c.Name).To("lines"), lines)
	for i := range p.Sections {
		for k := range p.Sections[i].Areas {
			if a := &p.Sections[i].Areas[k]; a.Chart == c && a.Rows[1] > len(lines) {
				changes = append(changes, Set(Area(i+1, k+1).To("rows"), []int{min(a.Rows[0], len(lines)),
					len(lines)})...)
			}
		}
	}
	return changes
}
