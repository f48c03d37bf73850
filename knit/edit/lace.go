package edit

import (
	"maps"
	"slices"
	"strings"

	"vindel/knit/piece"
)

// ToMachine puts a piece on another machine, as OnMachine does; lines of a lace carriage that do not say for which
// school they were made say it from then on: that of the machine they come from.
func ToMachine(p *piece.Piece, doc any) []Change {
	changes := OnMachine(doc)
	if school := p.Machine.LaceSchool(); school != "" {
		for _, name := range slices.Sorted(maps.Keys(p.Charts)) {
			if c := p.Charts[name]; c.IsLines() && c.School == "" {
				changes = append(changes, Set(Chart(name).To("school"), school)...)
			}
		}
	}
	return changes
}

// TurnedLines gives a chart that is lines of a lace carriage of one school the lines by which one of the other, that
// of the piece's machine, makes the same moves; nil where there are none, or where an area takes only some lines.
func TurnedLines(p *piece.Piece, c *piece.Chart) (changes []Change) {
	for i := range p.Sections {
		for k := range p.Sections[i].Areas {
			if a := &p.Sections[i].Areas[k]; a.Chart == c && a.Rows != [2]int{1, c.H} {
				return nil
			}
		}
	}
	var list, group []line
	knits := slices.ContainsFunc(c.Lines, func(l piece.LaceLine) bool { return l.Knit > 0 })
	for i, memo := range c.Lines {
		group = append(group, line{c.Rows()[c.H-1-i], memo})
		if memo.Knit == 0 && i < len(c.Lines)-1 {
			continue
		}
		turned, ok := turn(group, p.Machine.LaceSchool())
		if !ok || memo.Knit == 0 && knits && !blank(group) { // moves that another round goes on with
			return nil
		}
		list, group = append(list, turned...), nil
	}
	var doc []any
	for _, l := range slices.Backward(list) {
		memo := map[string]any{}
		if l.memo.Knit > 0 {
			memo["knit"] = l.memo.Knit
		}
		if l.memo.Lever != "" {
			memo["lever"] = l.memo.Lever
		}
		if l.memo.Yarn > 0 {
			memo["yarn"] = p.YarnID(l.memo.Yarn)
		}
		doc = append(doc, map[string]any{"row": l.row, "memo": memo})
	}
	changes = append(Put(Chart(c.Name).To("lines"), doc), Put(Chart(c.Name).To("school"), p.Machine.LaceSchool())...)
	for i := range p.Sections {
		for k := range p.Sections[i].Areas {
			if p.Sections[i].Areas[k].Chart == c {
				changes = append(changes, Set(Area(i+1, k+1).To("rows"), []int{1, len(doc)})...)
			}
		}
	}
	return changes
}

// line is a line of a lace carriage with its memo.
type line struct {
	row  string
	memo piece.LaceLine
}

func (l line) rests() bool { return !strings.Contains(l.row, "#") }

func blank(group []line) bool {
	return !slices.ContainsFunc(group, func(l line) bool { return !l.rests() })
}

// turn is the lines before some knitted rows as the other school makes their moves. A carriage of the direct school
// moves what a line selects on the same pass; one that selects a row ahead moves it on the next pass, the other way.
func turn(group []line, to string) (turned []line, ok bool) {
	n := len(group)
	rest := line{row: strings.Repeat(".", len(group[0].row))}
	switch {
	case blank(group):
		return group, true
	case n%2 == 1:
		return nil, false // the lace carriage would end on the right
	case to == "preselect" && group[0].rests():
		turned = append(slices.Clone(group[1:]), rest)
	case to == "preselect":
		turned = append(append([]line{rest}, group...), rest)
	case !group[n-1].rests():
		return nil, false // it is moved after the knitted rows
	case group[0].rests():
		turned = slices.Clone(group[1 : n-1])
	default:
		turned = append([]line{rest}, group[:n-1]...)
	}
	for i := range turned {
		turned[i].memo.Knit, turned[i].memo.Yarn = 0, 0
	}
	last := &turned[len(turned)-1].memo
	last.Knit, last.Yarn = group[n-1].memo.Knit, group[n-1].memo.Yarn
	return turned, true
}
