package piece

import (
	"errors"
	"slices"
	"strconv"

	"vindel/knit/chart"
	"vindel/knit/machine"
)

func (r *reader) area(n node, technique *Technique) (a Area, ok bool) {
	if !n.object("chart", "rows", "columns", "first", "from", "to", "transform", "above", "drop") {
		return a, false
	}
	name := n.at("chart").text()
	if a.Chart = r.p.Charts[name]; a.Chart == nil {
		if v, _ := n.at("chart").value.(string); v != "" || n.at("chart").missing() {
			n.at("chart").fail("%q: no such chart", name)
		}
		return a, false
	}
	before := len(*n.errs)
	c := a.Chart
	a.Lace = technique.Drawn == InLace
	for _, key := range c.Unknown {
		x, row := c.find(key)
		lacks := "is not in the legend"
		if a.Lace {
			if _, ok := chart.LaceMark(key); ok {
				continue
			}
			lacks = "is no mark of lace (. o / \\ ^ - x), nor in the legend"
		}
		*n.errs = append(*n.errs, &Error{"charts." + name + ".rows[" + strconv.Itoa(row) + "]",
			errors.New("column " + strconv.Itoa(x+1) + ": \"" + string(key) + "\" " + lacks)})
	}
	if technique.Drawn == InYarns {
		for k, m := range c.Means {
			if m.Stitch != chart.Knit {
				n.at("chart").fail("%q: %q means %v; %s knits knit stitches only", name, string(c.Keys[k]), m.Stitch,
					technique.Name)
			}
		}
	}
	span := func(key string, most int) [2]int {
		v := n.at(key)
		if v.missing() {
			return [2]int{1, most}
		}
		if l, isList := v.value.([]any); !isList || len(l) != 2 {
			v.fail("%s: two numbers, the first and the last", v.quoted())
			return [2]int{1, most}
		}
		s := [2]int{v.index(0).whole(1, most), v.index(1).whole(1, most)}
		if s[1] < s[0] && s[1] > 0 {
			v.fail("%s: the first is above the last", v.quoted())
		}
		return s
	}
	a.Rows, a.Columns = span("rows", c.H), span("columns", c.W)
	bed := r.p.Machine.Bed
	a.From, a.To = r.p.From, r.p.To
	a.Open = [3]bool{n.at("from").missing(), n.at("to").missing(), n.at("first").missing()}
	for of, end := range []*machine.Needle{&a.From, &a.To} {
		switch v := n.at([]string{"from", "to"}[of]); {
		case v.missing():
		case v.value == edgeOfWork:
			a.Open[of], a.Edge[of] = true, true
		default:
			*end = r.needle(v, bed)
		}
	}
	a.First = a.From
	if v := n.at("first"); !v.missing() {
		a.First = r.needle(v, bed)
	}
	if a.To < a.From {
		n.at("to").fail("%q: lies left of %v; needles run from left to right", a.To.String(), a.From)
	}
	transforms := n.at("transform")
	for i := range transforms.list() {
		t := transforms.index(i).word(chart.Transforms...)
		if slices.Contains(a.Transform, t) && t != "" {
			transforms.index(i).fail("%q: named twice", t)
		}
		a.Transform = append(a.Transform, t)
		if t == "invert" && len(c.Keys) != 2 {
			transforms.index(i).fail("\"invert\": %q has %d characters; only a chart of two can be inverted", name,
				len(c.Keys))
		}
		if !technique.Takes(t) && t != "" {
			transforms.index(i).fail("%q: %s can only be %s", t, technique.Name, technique.Changed)
		}
	}
	a.Away = (c.Face == chart.KnitSide) != r.p.Machine.Near && !c.IsLines()
	a.Blank = n.at("above").word("repeat", "blank") == "blank"
	a.Drop = n.at("drop").whole(-MaxRows, MaxRows)
	return a, len(*n.errs) == before
}

// edgeOfWork is what the file says for an end of an area that lies wherever the edge of the work is.
const edgeOfWork = "edge"

// cutAreas cuts what of the areas lies beyond the work at its widest; what lies wholly beyond stays, and is told.
func (p *Piece) cutAreas() {
	low, high := p.Ends()
	for i := range p.Sections {
		for k := range p.Sections[i].Areas {
			a := &p.Sections[i].Areas[k]
			a.Asked = [2]machine.Needle{a.From, a.To}
			if a.From <= high && a.To >= low {
				a.From, a.To = max(a.From, low), min(a.To, high)
			}
		}
	}
}

// find is the first cell from the top with a key: column and row from 0, row 0 the top.
func (c *Chart) find(key rune) (x, row int) {
	k := uint8(c.Key(key))
	for row := range c.H {
		if x := slices.Index(c.Row(c.H-1-row), k); x >= 0 {
			return x, row
		}
	}
	return 0, 0
}
