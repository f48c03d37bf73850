package piece

import (
	"cmp"
	"maps"
	"slices"

	"vindel/knit/chart"
)

// Mark is one thing that a chart can be drawn with: its character, what it is called, the
// colour it shows (#rrggbb), and its stitch.
type Mark struct {
	Char   rune
	Name   string
	Colour string
	Stitch chart.Stitch
	Yarn   byte // 0: the row's own
}

// laceMarks are the marks of lace in the order of the palette.
var laceMarks = []struct {
	char rune
	name string
}{
	{'.', "knit"}, {'o', "yarn-over"}, {'/', "two together, leaning right"}, {'\\', "two together, leaning left"},
	{'^', "three together, centre on top"}, {'-', "purl"}, {'x', "no stitch"},
}

// UsedIn is the first section that knits the chart, nil where none does.
func (p *Piece) UsedIn(c *Chart) *Section {
	for i := range p.Sections {
		for _, a := range p.Sections[i].Areas {
			if a.Chart == c {
				return &p.Sections[i]
			}
		}
	}
	return nil
}

// Palette lists what a chart can be drawn with, as its technique has it: yarns where it
// names yarns, marks where it marks stitches, the marks of lace in lace.
func (p *Piece) Palette(c *Chart) (list []Mark) {
	own, sec := p.Yarns[0].Colour, p.UsedIn(c)
	if sec != nil {
		own = p.Yarns[sec.Yarn-1].Colour
	}
	if sec != nil && sec.Lace() {
		for _, key := range legendKeys(c.Legend) {
			if m := c.Legend[key]; m.Stitch == chart.Purl && key != '-' {
				list = append(list, Mark{Char: key, Name: "purl", Colour: own, Stitch: chart.Purl})
			}
		}
		for i, l := range laceMarks {
			st, _ := chart.LaceMark(l.char)
			list = slices.Insert(list, i, Mark{Char: l.char, Name: l.name, Colour: own, Stitch: st})
		}
		return list
	}
	var marks []Mark
	for _, key := range legendKeys(c.Legend) {
		m := c.Legend[key]
		if m.Stitch == chart.Knit && m.Yarn != 0 {
			continue
		}
		mark := Mark{Char: key, Name: m.Stitch.String(), Colour: own, Stitch: m.Stitch, Yarn: m.Yarn}
		for _, y := range p.Yarns {
			if y.ID == m.Yarn {
				mark.Colour, mark.Name = y.Colour, y.Name+", "+mark.Name
			}
		}
		marks = append(marks, mark)
	}
	named := slices.ContainsFunc(c.Means, func(m chart.Meaning) bool { return m.Yarn != 0 })
	if len(marks) == 0 || named {
		for i, y := range p.Yarns {
			list = append(list, Mark{Char: c.Character(YarnNo(i+1), p), Name: y.Name, Colour: y.Colour, Yarn: y.ID})
		}
	}
	return append(list, marks...)
}

// Marks is the colour and the stitch of every character the chart uses or could.
func (p *Piece) Marks(c *Chart) map[rune]Mark {
	out := map[rune]Mark{}
	for i := len(c.Keys) - 1; i >= 0; i-- {
		m := c.Means[i]
		mark := Mark{Char: c.Keys[i], Colour: p.Yarns[0].Colour, Stitch: m.Stitch, Yarn: m.Yarn}
		if sec := p.UsedIn(c); sec != nil {
			mark.Colour = p.Yarns[sec.Yarn-1].Colour
		}
		for _, y := range p.Yarns {
			if y.ID == m.Yarn {
				mark.Colour = y.Colour
			}
		}
		out[mark.Char] = mark
	}
	for _, m := range p.Palette(c) {
		out[m.Char] = m
	}
	return out
}

// legendKeys puts plain knit first.
func legendKeys(m map[rune]chart.Meaning) []rune {
	return slices.SortedFunc(maps.Keys(m), func(a, b rune) int {
		return cmp.Or(cmp.Compare(m[a].Stitch, m[b].Stitch), cmp.Compare(a, b))
	})
}
