package card

import (
	"fmt"
	"slices"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/words"
)

// Panel is what a console is told that places drawings on the needles itself: each drawing once, then an area a
// line, the tallest first. In every line the console lays the areas over one another in that order; after the last
// line it begins again (rules 6, Electronic program).
type Panel struct {
	Drawings []Drawing
	Areas    []PanelArea
	All      []string // transforms that are switched on once, for all areas
	Lines    int      // as many as the tallest area is high
}

// Drawing is a drawing as it must lie in the machine: line 1 at the bottom, column 1 at the left, 1 where filled.
type Drawing struct {
	No     int // from 1
	Chart  string
	At     [2]int   // the chart's column and row that lie at column 1 of line 1; 0: it is turned
	Turned []string // the transforms that are in it already
	Once   [2]int   // its size before one repeat of it was kept; 0: it is whole
	Cells
}

// PanelArea is a line of the table that a console is told: an area of the section, in the drawing's own numbers.
type PanelArea struct {
	Area          int // of the section's, from 1
	Drawing       int
	Columns, Rows [2]int
	Anchor        machine.Needle // on which the first of its columns lies once it is turned
	From, To      machine.Needle
	Blank         bool     // above its top; else it is repeated
	Switches      []string // transforms that are switched on for it
}

// laid is an area as the console lays it: by cell of its rectangle, after what is switched on, a cell of its drawing.
type laid struct {
	cells  chart.Mat[int]
	invert uint8
}

// commute says that two transforms may be applied in either order.
func commute(a, b string) bool {
	turns := func(t string) bool { return t == "turn" || t == "turn-right" }
	switch {
	case a == "invert" || b == "invert" || a == b:
		return true
	case turns(a) || turns(b):
		return turns(a) && turns(b)
	case a == "bounce" || b == "bounce":
		return a != "upside-down" && b != "upside-down" && a != "double-length" && b != "double-length"
	}
	return true
}

// effective is an area's transforms in their fixed order, with the mirroring of what faces away among them: two
// mirrors are none.
func effective(a *piece.Area) (names []string) {
	for _, t := range chart.Transforms {
		if has := slices.Contains(a.Transform, t); has != (t == "mirror" && a.Away) {
			names = append(names, t)
		}
	}
	return names
}

// shared parts an area's transforms between the drawing and the switches of a panel that has some of them: the
// drawing's are applied first.
func shared(names []string, has func(string) bool) (drawing, switches []string) {
	for _, t := range slices.Backward(names) {
		if has(t) && !slices.ContainsFunc(drawing, func(d string) bool { return !commute(t, d) }) {
			switches = append(switches, t)
		} else {
			drawing = append(drawing, t)
		}
	}
	slices.Reverse(drawing)
	slices.Reverse(switches)
	return drawing, switches
}

// makePanel works out what a console that places areas is told for a section (from 1), so that it selects in every
// line what the plan does; or why it cannot be told so.
func makePanel(pl *pass.Plan, section int, memos []string) (*Panel, string) {
	s := pl.Section(section)
	switch t := s.Section.Technique; {
	case t.OwnRows:
		return nil, "a recipe's lines are of the whole bed"
	case s.Section.Lace():
		return nil, "the lines are of a lace carriage, and are more than the rows of the drawing"
	case t.ColourLines:
		return nil, "a line is one colour of a row, and not a row of the drawing"
	case len(s.Section.Areas) == 0:
		return nil, "the section has no chart"
	}
	p, lays := drawings(&pl.Piece.Machine, s.Section.Areas)
	if why := p.fill(pl, section, lays); why != "" {
		return nil, why
	}
	return p.once(pl, section, memos), ""
}

// once is the panel with its drawings cut down to one repeat, where that selects what the plan does; else itself.
func (p *Panel) once(pl *pass.Plan, section int, memos []string) *Panel {
	small := p.smallest(memos)
	if small == nil {
		return p
	}
	lays := make([]laid, len(small.Areas))
	for i := range small.Areas {
		lays[i] = small.lay(&small.Areas[i])
	}
	if small.fill(pl, section, lays) != "" {
		return p
	}
	return small
}

// smallest is the panel with every drawing that is its own repeat cut down to one (rules 5.5, Smallest program); nil
// where none is. Its rows stay where something is done at some of their lines and not at others.
func (p *Panel) smallest(memos []string) *Panel {
	small, less := &Panel{Drawings: slices.Clone(p.Drawings), Areas: slices.Clone(p.Areas), All: p.All}, false
	for i := range small.Drawings {
		d := &small.Drawings[i]
		w, h := d.Bits.Repeat()
		for l := h; l < len(memos); l++ {
			if memos[l] != memos[l-h] && (l > h || memos[l] != "") { // line 1 has what is threaded at first
				h = d.Bits.H
				break
			}
		}
		for _, a := range p.Areas {
			if a.Drawing != d.No {
				continue
			}
			on := slices.Concat(p.All, a.Switches)
			turned := slices.ContainsFunc(on, func(t string) bool {
				return t == "turn" || t == "turn-right" ||
					t == "bounce"
			})
			if a.Blank || turned {
				h = d.Bits.H
			}
			if turned || a.Columns != [2]int{1, d.Bits.W} || a.Rows != [2]int{1, d.Bits.H} {
				w, h = d.Bits.W, d.Bits.H
			}
		}
		if w < d.Bits.W || h < d.Bits.H {
			less, d.Once = true, [2]int{d.Bits.W, d.Bits.H}
			d.Bits = d.Bits.Corner(w, h)
		}
	}
	for i := range small.Areas {
		a := &small.Areas[i]
		d := &small.Drawings[a.Drawing-1]
		a.Columns[1], a.Rows[1] = min(a.Columns[1], d.Bits.W), min(a.Rows[1], d.Bits.H)
	}
	if !less {
		return nil
	}
	return small
}

// drawings lists the drawings that areas need, empty still, and the areas in the order in which they are told.
func drawings(m *machine.Profile, areas []piece.Area) (*Panel, []laid) {
	p := &Panel{}
	names := make([][]string, len(areas))
	for i := range areas {
		names[i] = effective(&areas[i])
	}
	each := func(t string) bool { return !m.PanelAll && slices.Contains(m.PanelDoes, t) }
	for _, t := range chart.Transforms { // what is switched for all areas is of use where all want it
		can := m.PanelAll && slices.Contains(m.PanelDoes, t) || t == "mirror" && m.MirrorSwitch && !each(t)
		if can && !slices.ContainsFunc(names, func(list []string) bool { return !slices.Contains(list, t) }) {
			p.All = append(p.All, t)
		}
	}
	has := func(t string) bool { return each(t) || slices.Contains(p.All, t) }
	for i := 0; i < len(names); i++ {
		drawing, _ := shared(names[i], has)
		if j := slices.IndexFunc(p.All, func(t string) bool { return slices.Contains(drawing, t) }); j >= 0 {
			p.All = slices.Delete(p.All, j, j+1)
			i = -1
		}
	}
	whole := together(areas, func(i int) bool { drawing, _ := shared(names[i], has); return len(drawing) == 0 })
	known := map[string]int{}
	for i := range areas {
		a := &areas[i]
		drawing, switches := shared(names[i], has)
		one := PanelArea{Area: i + 1, Anchor: a.First, From: a.From, To: a.To, Blank: a.Blank,
			Switches: slices.DeleteFunc(switches, func(t string) bool { return slices.Contains(p.All, t) })}
		box := [2][2]int{a.Columns, a.Rows} // what of the chart is keyed
		key := fmt.Sprint(a.Chart.Name, box, drawing)
		if b, ok := whole[a.Chart.Name]; ok && len(drawing) == 0 {
			box, key = b, a.Chart.Name
		}
		no := known[key]
		if no == 0 {
			ids := chart.NewMat[uint8](box[0][1]-box[0][0]+1, box[1][1]-box[1][0]+1).Transform(drawing)
			no = len(p.Drawings) + 1
			known[key] = no
			d := Drawing{No: no, Chart: a.Chart.Name, Turned: drawing, Cells: Cells{chart.NewMat[uint8](ids.W, ids.H)}}
			if len(drawing) == 0 {
				d.At = [2]int{box[0][0], box[1][0]}
			}
			p.Drawings = append(p.Drawings, d)
		}
		one.Drawing = no
		if d := &p.Drawings[no-1]; len(drawing) == 0 {
			one.Columns = [2]int{a.Columns[0] - d.At[0] + 1, a.Columns[1] - d.At[0] + 1}
			one.Rows = [2]int{a.Rows[0] - d.At[1] + 1, a.Rows[1] - d.At[1] + 1}
		} else {
			one.Columns, one.Rows = [2]int{1, d.Bits.W}, [2]int{1, d.Bits.H}
		}
		p.Areas = append(p.Areas, one)
	}
	as := make([]laid, len(p.Areas)) // by area of the section
	for i := range p.Areas {
		as[i] = p.lay(&p.Areas[i])
	}
	slices.SortStableFunc(p.Areas, func(a, b PanelArea) int { return as[b.Area-1].cells.H - as[a.Area-1].cells.H })
	lays := make([]laid, len(p.Areas))
	for i := range p.Areas {
		lays[i] = as[p.Areas[i].Area-1]
	}
	return p, lays
}

// together is, by chart, the columns and rows that hold all areas which lie as drawn, where one drawing of them is
// no more to key than one each.
func together(areas []piece.Area, drawn func(i int) bool) map[string][2][2]int {
	boxes, parts := map[string][2][2]int{}, map[string]map[string]int{}
	for i := range areas {
		a := &areas[i]
		if !drawn(i) {
			continue
		}
		b, ok := boxes[a.Chart.Name]
		if !ok {
			b = [2][2]int{a.Columns, a.Rows}
			parts[a.Chart.Name] = map[string]int{}
		}
		b[0] = [2]int{min(b[0][0], a.Columns[0]), max(b[0][1], a.Columns[1])}
		b[1] = [2]int{min(b[1][0], a.Rows[0]), max(b[1][1], a.Rows[1])}
		boxes[a.Chart.Name] = b
		parts[a.Chart.Name][fmt.Sprint(a.Columns, a.Rows)] = (a.Columns[1] - a.Columns[0] +
			1) * (a.Rows[1] - a.Rows[0] + 1)
	}
	for name, b := range boxes {
		alone := 0
		for _, n := range parts[name] {
			alone += n
		}
		if (b[0][1]-b[0][0]+1)*(b[1][1]-b[1][0]+1) > alone {
			delete(boxes, name)
		}
	}
	return boxes
}

// lay lays an area as the console does.
func (p *Panel) lay(a *PanelArea) laid {
	g := p.Drawings[a.Drawing-1].Bits
	ids := chart.NewMat[int](g.W, g.H)
	for i := range ids.Cells {
		ids.Cells[i] = i
	}
	on := slices.Concat(p.All, a.Switches)
	l := laid{cells: ids.Cut(a.Columns[0], a.Columns[1], a.Rows[0], a.Rows[1]).Transform(on)}
	if slices.Contains(on, "invert") {
		l.invert = 1
	}
	return l
}

// fill fills in the drawings so that every line selects what the plan's does; "" where that can be done.
func (p *Panel) fill(pl *pass.Plan, section int, lays []laid) (why string) {
	s, list := pl.Section(section), pl.Programs[section-1]
	p.Lines = 0
	for _, l := range lays {
		p.Lines = max(p.Lines, l.cells.H)
	}
	known := make([][]bool, len(p.Drawings))
	for i := range known {
		known[i] = make([]bool, len(p.Drawings[i].Bits.Cells))
	}
	shift := s.Section.Shift()
	last := max(s.Rows+shift, len(list))
	again := len(list)
	for again%p.Lines != 0 && again < last { // after so many all begins again
		again += len(list)
	}
	for r := range min(last, again) {
		line := list[r%len(list)]
		left := pl.LineWork(section, r%len(list))
		for i := len(lays) - 1; i >= 0; i-- {
			a, l := &p.Areas[i], &lays[i]
			y := r % p.Lines
			if !a.Blank {
				y %= l.cells.H
			}
			on := left.And(machine.Range(a.From, a.To))
			if y >= l.cells.H || on.Empty() {
				continue
			}
			d := a.Drawing - 1
			row, bits := l.cells.Row(y), p.Drawings[d].Bits.Cells
			at, x := on.First(), mod(int(on.First()-a.Anchor), len(row)) // a needle, and its column
			for n := range on.All() {
				for ; at < n; at++ {
					if x++; x == len(row) {
						x = 0
					}
				}
				id, bit := row[x], l.invert
				if line.Has(n) {
					bit ^= 1
				}
				if known[d][id] && bits[id] != bit {
					return p.whyNot(s.Section.Areas, len(list))
				}
				known[d][id], bits[id] = true, bit
			}
			left = left.Minus(on)
		}
		if out := left.And(line); !out.Empty() {
			return "needles outside the areas are brought forward too"
		}
	}
	return ""
}

// whyNot says why a drawing would have to be different from one time to the next.
func (p *Panel) whyNot(areas []piece.Area, lines int) string {
	switch {
	case slices.ContainsFunc(areas, func(a piece.Area) bool { return a.Drop != 0 }):
		return "each repeat stands higher than its neighbour"
	case lines > p.Lines:
		return fmt.Sprintf("areas or feeders repeat in cycles of their own: all begins again after %d lines, the "+
			"tallest drawing has %d", lines, p.Lines)
	}
	return "areas lie over one another, or one drawing is selected differently in different places"
}

// drawn is a drawing's size as it is drawn.
func (d *Drawing) drawn() (w, h int) {
	if d.Once != [2]int{} {
		return d.Once[0], d.Once[1]
	}
	return d.Bits.W, d.Bits.H
}

// Stitches is how many cells are drawn, each drawing once.
func (p *Panel) Stitches() (n int) {
	for i := range p.Drawings {
		w, h := p.Drawings[i].drawn()
		n += w * h
	}
	return n
}

// Widest is the widest drawing.
func (p *Panel) Widest() (w int) {
	for i := range p.Drawings {
		wide, _ := p.Drawings[i].drawn()
		w = max(w, wide)
	}
	return w
}

// PanelWord is her word for one of ours on the panel: of machine.PanelWords, or a transform.
func PanelWord(m *machine.Profile, ours string) string {
	if w := m.PanelWords[ours]; w != "" {
		return w
	}
	return ours
}

// PanelColumns is what an area is told, in the order in which her panel asks for it: as she says, then ours by the
// alphabet.
func PanelColumns(m *machine.Profile) []string {
	list := slices.Clone(m.PanelOrder)
	for _, key := range machine.PanelKeys {
		if !slices.Contains(list, key) {
			list = append(list, key)
		}
	}
	return list
}

// Row is what is told of an area, under each of PanelColumns.
func (a *PanelArea) Row(m *machine.Profile) (told []string) {
	for _, key := range PanelColumns(m) {
		told = append(told, a.Told(m, key))
	}
	return told
}

// SwitchedOn is what is switched on for all areas, in her words; "" where nothing is.
func (p *Panel) SwitchedOn(m *machine.Profile) string {
	if len(p.All) == 0 {
		return ""
	}
	return switches(m, p.All)
}

// Told is what is told of an area under one of machine.PanelKeys, in her words.
func (a *PanelArea) Told(m *machine.Profile, key string) string {
	fromTo := func(r [2]int) string { return fmt.Sprintf("%d to %d", r[0], r[1]) }
	switch key {
	case "above":
		return PanelWord(m, map[bool]string{true: "blank", false: "repeat"}[a.Blank])
	case "anchor":
		return a.Anchor.String()
	case "columns":
		return fromTo(a.Columns)
	case "drawing":
		return fmt.Sprint(a.Drawing)
	case "from":
		return a.From.String()
	case "rows":
		return fromTo(a.Rows)
	case "switches":
		return switches(m, a.Switches)
	}
	return a.To.String()
}

func switches(m *machine.Profile, on []string) string {
	if len(on) == 0 {
		return PanelWord(m, "none")
	}
	list := make([]string, len(on))
	for i, t := range on {
		list[i] = PanelWord(m, t)
	}
	return strings.Join(list, ", ")
}

// done is what has been done to a drawing by a transform.
var done = map[string]string{"turn": "turned", "turn-right": "turned right", "mirror": "mirrored",
	"upside-down": "upside down",
	"bounce":      "with its way back", "double-width": "twice as wide", "double-length": "twice as long",
	"invert": "inverted"}

// About says what a drawing is, and what of it is not as in the chart.
func (d *Drawing) About() string {
	size := fmt.Sprintf("%s, %s", words.Count(d.Bits.W, "column", "columns"), words.Count(d.Bits.H, "line", "lines"))
	text := fmt.Sprintf("drawing %d: %s, %s", d.No, d.Chart, size)
	if d.Once != [2]int{} {
		text += fmt.Sprintf(", once for the %d × %d that are drawn", d.Once[0], d.Once[1])
	}
	switch {
	case d.Chart == "":
		return fmt.Sprintf("drawing %d: %s, from line 1 at the bottom", d.No, size)
	case len(d.Turned) > 0:
		list := make([]string, len(d.Turned))
		for i, t := range d.Turned {
			list[i] = done[t]
		}
		return text + "; " + words.List(list, "and") + " already, which the panel does not do for it"
	case d.At != [2]int{1, 1}:
		return text + fmt.Sprintf("; its column 1 is the chart's column %d, its line 1 the chart's row %d", d.At[0],
			d.At[1])
	}
	return text + "; numbered as the chart is"
}

// json is drawings and areas as plain values; a drawing's lines are the top first.
func (p *Panel) json() (drawings, areas []map[string]any) {
	for i := range p.Drawings {
		d := &p.Drawings[i]
		var lines []string
		for l := d.Bits.H; l >= 1; l-- {
			lines = append(lines, d.Line(l))
		}
		drawings = append(drawings, map[string]any{"drawing": d.No, "chart": d.Chart, "lines": lines,
			"turned": slices.Clone(d.Turned)})
	}
	for i := range p.Areas {
		a := &p.Areas[i]
		areas = append(areas, map[string]any{"area": a.Area, "drawing": a.Drawing, "columns": a.Columns,
			"rows": a.Rows, "anchor": a.Anchor.String(),
			"from": a.From.String(), "to": a.To.String(), "above": map[bool]string{true: "blank",
				false: "repeat"}[a.Blank],
			"switches": slices.Clone(a.Switches)})
	}
	return drawings, areas
}

func mod(a, n int) int { return (a%n + n) % n }
