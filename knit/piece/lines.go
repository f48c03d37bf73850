package piece

import (
	"strings"

	"vindel/knit/chart"
)

// LaceLine is the memo of a line of a lace card or program, as its owner has it: how many rows are knitted once it is
// read, how the lace carriage is set for what it moves, and the yarn of those rows.
type LaceLine struct {
	Knit  int
	Lever string // open, fine; "": as the section says
	Yarn  YarnNo // 0: the section's
}

// LineRow is a knitted row of a lace chart that is given as lines: the lines read before it, From to To-1 of the
// area's, counted from 0; none where rows are knitted one after another.
type LineRow struct {
	From, To int
	Yarn     YarnNo
}

// IsLines says that the chart is the lines of a lace carriage, not a drawing.
func (c *Chart) IsLines() bool { return c.Lines != nil }

// LineRows are the knitted rows of an area of lines, and the lines From to To-1 that come after the last of them. Of
// lines that say nowhere how many rows are knitted, two are knitted after the last.
func (a *Area) LineRows() (rows []LineRow, rest LineRow) {
	lines := a.Chart.Lines[a.Rows[0]-1 : a.Rows[1]]
	for i, l := range lines {
		for k := range l.Knit {
			row := LineRow{rest.From, i + 1, l.Yarn}
			if k > 0 {
				row.From = row.To
			}
			rows, rest.From = append(rows, row), i+1
		}
	}
	if rest.To = len(lines); len(rows) == 0 {
		yarn := lines[len(lines)-1].Yarn
		return []LineRow{{0, rest.To, yarn}, {rest.To, rest.To, yarn}}, LineRow{From: rest.To, To: rest.To}
	}
	return rows, rest
}

// lines reads a chart that is given as lines of a lace carriage, the top line first.
func (r *reader) lines(name string, n node) {
	list := n.at("lines")
	rows := make([]string, list.list())
	memos := make([]LaceLine, len(rows))
	before := len(*n.errs)
	for i := range rows {
		at := list.index(i)
		if !at.object("row", "memo") {
			continue
		}
		rows[i] = at.at("row").text()
		if bad := strings.Trim(rows[i], ".#"); bad != "" {
			at.at("row").fail("%q: a line is # where a needle is selected and . where it rests", rows[i])
		}
		if len(rows[i]) != len(rows[0]) || rows[i] == "" {
			at.at("row").fail("%q is %d wide, and the top line is %d", rows[i], len(rows[i]), len(rows[0]))
		}
		memo := at.at("memo")
		if memo.missing() || !memo.object("knit", "lever", "yarn") {
			continue
		}
		m := &memos[len(rows)-1-i]
		m.Knit = memo.at("knit").whole(0, MaxRows)
		if lever := memo.at("lever"); !lever.missing() {
			m.Lever = lever.word("open", "fine")
		}
		if yarn := memo.at("yarn"); !yarn.missing() {
			m.Yarn = r.yarnAt(yarn)
		}
	}
	if len(rows) == 0 {
		list.fail("a chart has at least one line")
	}
	school := ""
	if at := n.at("school"); !at.missing() {
		school = at.word("preselect", "direct")
	}
	if len(*n.errs) > before {
		return
	}
	c, err := chart.FromRows(rows)
	if err != nil {
		list.fail("%v", err)
		return
	}
	for _, key := range ".#" { // also where all lines are blank
		if c.Key(key) < 0 {
			c.Keys = append(c.Keys, key)
		}
	}
	c.Name = name
	r.p.Charts[name] = &Chart{Chart: c, Means: make([]chart.Meaning, len(c.Keys)), Legend: map[rune]chart.Meaning{},
		Lines: memos, School: school}
}

// lineAreas checks what only areas of lines have: they are of lace, lie as they stand, and read and knit alike.
func (r *reader) lineAreas(n node, s *Section) {
	for i := range s.Areas {
		a, at := &s.Areas[i], n.at("areas").index(i)
		first := s.Areas[0].Chart
		switch {
		case a.Chart.IsLines() != first.IsLines():
			at.at("chart").fail("%q: lines and drawings do not go together in one section", a.Chart.Name)
		case !a.Chart.IsLines():
		case s.Technique.Drawn != InLace:
			at.at("chart").fail("%q: its lines are a lace carriage's, and %s has none", a.Chart.Name, s.Technique.Name)
		case len(a.Transform) > 0:
			at.at("transform").fail("lines of a lace carriage lie as they stand; turn them into marks first")
		case a.Drop != 0:
			at.at("drop").fail("lines of a lace carriage are read at once across the bed")
		case r.p.Shape != nil:
			at.at("chart").fail("%q: lines are of a rectangle; turn them into marks where the piece has a shape",
				a.Chart.Name)
		case a.Rows[1]-a.Rows[0] != s.Areas[0].Rows[1]-s.Areas[0].Rows[0]:
			at.at("rows").fail("%d lines beside %d: areas of lines are read together", a.Rows[1]-a.Rows[0]+1,
				s.Areas[0].Rows[1]-s.Areas[0].Rows[0]+1)
		default:
			for k := range a.Rows[1] - a.Rows[0] + 1 {
				if a.Chart.Lines[a.Rows[0]-1+k] != first.Lines[s.Areas[0].Rows[0]-1+k] {
					at.at("chart").fail("%q: line %d has another memo than that of %q, which is read with it",
						a.Chart.Name, k+1, first.Name)
					break
				}
			}
		}
	}
}
