package piece

import (
	"errors"
	"unicode/utf8"

	"vindel/knit/chart"
)

func (r *reader) chart(name string, n node) {
	if !n.object("side", "legend", "rows", "shows", "lines", "school") {
		return
	}
	if school := n.at("school"); !school.missing() && n.at("lines").missing() {
		school.fail("a school is of lines of a lace carriage, and this chart is drawn")
		return
	}
	if lines := n.at("lines"); !lines.missing() {
		if !n.at("rows").missing() {
			lines.fail("a chart has rows or lines, not both")
			return
		}
		r.lines(name, n)
		return
	}
	rows := n.at("rows")
	lines := make([]string, rows.list())
	for i := range lines {
		lines[i] = rows.index(i).text()
	}
	c, err := chart.FromRows(lines)
	if err != nil {
		var row *chart.RowError
		if errors.As(err, &row) && row.Index < len(lines) {
			rows, err = rows.index(row.Index), row.Err
		}
		rows.fail("%v", err)
		return
	}
	c.Name = name
	if n.at("side").word("knit", "purl") == "purl" {
		c.Face = chart.PurlSide
	}
	c.All = n.at("shows").word("right-side", "all") == "all"
	out := &Chart{Chart: c, Shows: !n.at("shows").missing(), Means: make([]chart.Meaning, len(c.Keys))}
	legend := map[rune]chart.Meaning{}
	if l := n.at("legend"); !l.missing() {
		for _, key := range l.members() {
			e := l.at(key)
			if utf8.RuneCountInString(key) != 1 {
				e.fail("%q: a legend explains one character at a time", key)
				continue
			}
			if !e.object("yarn", "stitch") {
				continue
			}
			m := chart.Meaning{Yarn: r.id(r.yarnAt(e.at("yarn")))}
			if s := e.at("stitch"); !s.missing() {
				if m.Stitch, err = chart.ParseStitch(s.text()); err != nil {
					s.fail("%v", err)
				}
			}
			first, _ := utf8.DecodeRuneInString(key)
			legend[first] = m
		}
	}
	out.Legend = legend
	for k, key := range c.Keys {
		m, ok := legend[key]
		if !ok && key < 128 && r.yarn(string(key)) != 0 { // a yarn's own letter explains itself
			m, ok = chart.Meaning{Yarn: byte(key)}, true
		}
		if !ok {
			out.Unknown = append(out.Unknown, key)
		}
		out.Means[k] = m
	}
	r.p.Charts[name] = out
}
