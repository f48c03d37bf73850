package edit

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/piece"
)

// Path is a place in a piece file: a JSON pointer, its keys begun with a slash. The empty
// path is the whole file. Lists count from 0.
type Path string

// Whole is the place of the whole piece.
const Whole Path = ""

// Member is a member of the piece itself: "start", "needles".
func Member(key string) Path { return Whole.To(key) }

// Section is the section with a number, from 1.
func Section(no int) Path { return Member("sections").At(no - 1) }

// Area is an area of a section, both from 1.
func Area(section, area int) Path { return Section(section).To("areas").At(area - 1) }

// Chart is the chart with a name.
func Chart(name string) Path { return Member("charts").To(name) }

// ChartRow is row r of a chart, from 1 at the bottom; the file has the top row first.
func ChartRow(c *piece.Chart, r int) Path { return Chart(c.Name).To("rows").At(c.H - r) }

// Option is an option of the whole piece.
func Option(key string) Path { return Member("options").To(key) }

// To is a member of what stands at p.
func (p Path) To(key string) Path {
	return p + "/" + Path(strings.ReplaceAll(strings.ReplaceAll(key, "~", "~0"), "/", "~1"))
}

// At is element i of the list at p, from 0.
func (p Path) At(i int) Path { return p + "/" + Path(strconv.Itoa(i)) }

// End is the place after the last element of the list at p.
func (p Path) End() Path { return p + "/-" }

// split is the path's keys; a path that does not begin with a slash is no place.
func (p Path) split() ([]string, error) {
	if p == "" {
		return nil, nil
	}
	if p[0] != '/' {
		return nil, fmt.Errorf("%q is no place: a path begins with /", string(p))
	}
	keys := strings.Split(string(p[1:]), "/")
	for i, s := range keys {
		keys[i] = strings.ReplaceAll(strings.ReplaceAll(s, "~1", "/"), "~0", "~")
	}
	return keys, nil
}

// Cut is the place that p stands in, and its own last key; "" for the whole piece and for
// what is no place.
func (p Path) Cut() (parent Path, last string) {
	keys, err := p.split()
	if err != nil || len(keys) == 0 {
		return Whole, ""
	}
	return p[:strings.LastIndexByte(string(p), '/')], keys[len(keys)-1]
}

// Holds says that one of the keys to p is key: that p lies in a member of that name.
func (p Path) Holds(key string) bool {
	keys, err := p.split()
	return err == nil && slices.Contains(keys, key)
}
