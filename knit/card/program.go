package card

import (
	"encoding/csv"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/step"
	"vindel/knit/words"
)

// Cells is what is keyed or punched: lines × columns, line 1 at the bottom, column 1 at the left, 1 where filled.
type Cells struct{ Bits chart.Grid }

// Program is an electronic program: what every line selects, over one repeat where it repeats, else over the whole
// of the work. Column 1 lies on the needle First.
type Program struct {
	Section int // from 1
	First   machine.Needle
	Repeats bool // over one repeat
	Cells
	Memos    []string // by line, from line 1
	KeyIn    []string // what the panel is told, in order
	Notes    []string // of it: what is no drawing and no area
	Mirrored string   // who turns a knit-side drawing round: data, switch, or none where nobody need
	Panel    *Panel   // what a console is told that places drawings itself; nil: it is told every line of the bed
	Whole    string   // why such a console is told one drawing for the whole section; "": it is not
}

// MakeProgram makes the program of a section (from 1).
func MakeProgram(pl *pass.Plan, section int) *Program {
	w := keyed(pl, section)
	w.keyIn(pl)
	return w
}

// keyed is the program of a section without what is said of it.
func keyed(pl *pass.Plan, section int) *Program {
	m, s := &pl.Piece.Machine, pl.Section(section)
	list := pl.Programs[section-1]
	w := &Program{Section: section, Mirrored: "none", Memos: make([]string, len(list))}
	w.memos(pl)
	for l, memo := range w.Memos {
		w.Memos[l] = hers(m, memo)
	}
	if !m.Flat {
		w.Panel, w.Whole = makePanel(pl, section, w.Memos)
	}
	w.flatten(pl)
	away := slices.ContainsFunc(s.Section.Areas, func(a piece.Area) bool { return a.Away })
	switch p := w.Panel; {
	case away && p == nil && m.MirrorSwitch:
		w.Mirrored, w.Bits = "switch", w.Bits.Mirror()
	case away && p != nil && (slices.Contains(p.All, "mirror") || slices.ContainsFunc(p.Areas,
		func(a PanelArea) bool { return slices.Contains(a.Switches, "mirror") })):
		w.Mirrored = "switch"
		if len(p.Areas) == 1 {
			w.Bits = w.Bits.Mirror()
		}
	case away:
		w.Mirrored = "data"
	}
	if w.Panel == nil && !m.Flat {
		w.Panel = w.asOne(pl)
		if w.Mirrored == "switch" {
			w.Panel.All = []string{"mirror"}
		}
		w.Panel = w.Panel.once(pl, section, w.Memos)
	}
	return w
}

// flatten makes the lines: over one repeat, anchored where the only area is, or from the leftmost needle on.
func (w *Program) flatten(pl *pass.Plan) {
	s, list := pl.Section(w.Section), pl.Programs[w.Section-1]
	low, high := pl.Piece.Ends()
	work := make([]machine.Set, len(list))
	for l := range list {
		work[l] = pl.LineWork(w.Section, l)
	}
	if !pl.Piece.Machine.Flat && !s.Section.Technique.OwnRows {
		// A console that places areas is told where they end, and needles beyond them stay at rest.
		on := s.Covered
		for l := range list {
			on = on.Or(list[l].And(work[l]))
		}
		if !on.Empty() {
			low, high = on.First(), on.Last()
		}
		for l := range work {
			work[l] = work[l].And(machine.Range(low, high))
		}
	}
	width, whole := 0, int(high-low)+1
	switch {
	case w.Panel == nil:
		width = narrowest(list, work)
	case len(s.Section.Areas) == 1:
		width = s.Wide[0]
	default:
		width = whole // to look at: what is keyed are the drawings
	}
	w.First, w.Repeats = low, width < whole || w.Panel != nil && len(s.Section.Areas) == 1
	if len(s.Section.Areas) == 1 && w.Repeats {
		w.First = s.Section.Areas[0].First
	}
	w.Bits = chart.NewMat[uint8](width, len(list))
	columns := make([]int, machine.MaxBed) // by needle
	for i := range columns {
		columns[i] = mod(i-machine.MaxBed/2-int(w.First), width)
	}
	for l, line := range list {
		row := w.Bits.Row(l)
		for n := range line.And(work[l]).All() {
			row[columns[n+machine.MaxBed/2]] = 1
		}
	}
}

// narrowest is how many columns the narrowest stretch has that, side by side, gives every line on the needles that it
// is for; others may be given anything.
func narrowest(list, needs []machine.Set) int {
	var all machine.Set
	for _, need := range needs {
		all = all.Or(need)
	}
	if all.Empty() {
		return 1
	}
	a, span := all.First(), int(all.Last()-all.First())+1
	alike := func(w int) bool {
		for i := range list {
			// bits of needles w apart, then of those that are as far from one another as several times w
			if line, both := list[i].And(needs[i]), needs[i].And(needs[i].Left(w)); line.And(both) != list[i].And(
				needs[i]).Left(w).And(both) {
				return false
			}
		}
		for i := range list {
			known, filled := make([]bool, w), make([]bool, w)
			for n := range needs[i].All() {
				x := int(n-a) % w
				if known[x] && filled[x] != list[i].Has(n) {
					return false
				}
				known[x], filled[x] = true, list[i].Has(n)
			}
		}
		return true
	}
	for w := 1; w < span; w++ {
		if alike(w) {
			return w
		}
	}
	return span
}

// asOne is what a console that places areas is told where it cannot place those of the section: one drawing, which
// is repeated from end to end.
func (w *Program) asOne(pl *pass.Plan) *Panel {
	s := pl.Section(w.Section)
	var on machine.Set
	for l, line := range pl.Programs[w.Section-1] {
		on = on.Or(line.And(pl.LineWork(w.Section, l)))
	}
	if on = on.Or(s.Covered); s.Section.Technique.OwnRows || on.Empty() {
		on = machine.Range(pl.Piece.Ends())
	}
	return &Panel{Drawings: []Drawing{{No: 1, Cells: w.Cells}}, Lines: w.Bits.H, Areas: []PanelArea{{Area: 1,
		Drawing: 1,
		Columns: [2]int{1, w.Bits.W}, Rows: [2]int{1, w.Bits.H}, Anchor: w.First, From: on.First(), To: on.Last()}}}
}

// hers is a memo as her panel shows it: where she has a number for a part of it, such as "knit 2", that number.
func hers(m *machine.Profile, memo string) string {
	if len(m.PanelWords) == 0 || memo == "" {
		return memo
	}
	parts := strings.Split(memo, "; ")
	for i := range parts {
		words := strings.Split(parts[i], ", ")
		for k, w := range words {
			if number := m.PanelWords[machine.MemoKey+strings.TrimPrefix(w, "then ")]; number != "" {
				words[k] = number
			}
		}
		parts[i] = strings.Join(words, ", ")
	}
	return strings.Join(parts, "; ")
}

// memos are what is done at the lines.
func (w *Program) memos(pl *pass.Plan) {
	s, section := pl.Section(w.Section), w.Section
	last := len(w.Memos) // the row of the first time round
	if s.Section.Technique.OwnRows {
		for i := range pl.Passes {
			if p := &pl.Passes[i]; p.Section == section && p.Own > 0 {
				last = p.Row() + len(w.Memos) - 1
				break
			}
		}
	}
	for i := range pl.Passes {
		if p := &pl.Passes[i]; p.Section == section && p.Own > 0 && !p.Lace.InProgram && p.Row() <= last &&
			w.Memos[p.Own-1] == "" {
			w.Memos[p.Own-1] = memo(pl, p)
		}
	}
	if s.Section.Lace() {
		for l, line := range laceLines(pl, section) {
			switch w.Memos[l] = line.words(); {
			case line.lace.Blank:
				w.Memos[l] += "; " + line.lace.Why
			case line.lace.ForPurl:
				w.Memos[l] += "; selects for the purl carriage"
			}
		}
	}
}

// memo is what must be done before a line's row is knitted, in a few words.
func memo(pl *pass.Plan, p *pass.Pass) string {
	var words []string
	for i := range p.Before {
		switch st := p.Before[i].Step.(type) {
		case step.Thread:
			if pl.Section(p.Section).Section.Technique.ColourLines {
				continue // every line names its yarn
			}
			words = append(words, fmt.Sprintf("feeder %d %s", st.Feeder, pl.Piece.YarnName(st.Yarn)))
		case step.Unthread:
			if p.Yarn(st.Feeder) == 0 {
				words = append(words, fmt.Sprintf("feeder %d empty", st.Feeder))
			}
		}
	}
	if pl.Section(p.Section).Section.Technique.ColourLines {
		words = append(words, pl.Piece.YarnName(p.Yarn(1)))
	}
	for _, l := range p.Lays {
		words = append(words, "lay "+pl.Piece.YarnName(l.Yarn))
	}
	return strings.Join(words, ", ")
}

// keyIn writes down what a panel must be told.
func (w *Program) keyIn(pl *pass.Plan) {
	m, s := &pl.Piece.Machine, pl.Section(w.Section)
	tell := func(format string, a ...any) { w.KeyIn = append(w.KeyIn, fmt.Sprintf(format, a...)) }
	if p := w.Panel; p != nil {
		if w.Whole != "" {
			tell("one drawing tells the needles everything here, since %s", w.Whole)
		}
		for i := range p.Drawings {
			tell("%s", p.Drawings[i].About())
		}
		for i := range p.Areas {
			var told []string
			for _, key := range PanelColumns(m) {
				told = append(told, PanelWord(m, key)+" "+p.Areas[i].Told(m, key))
			}
			tell("%s %d: %s", PanelWord(m, "area"), i+1, strings.Join(told, ", "))
		}
		if len(p.All) > 0 {
			tell("switch on for all: %s", switches(m, p.All))
		}
	} else {
		tell("%s, %s, from line 1 at the bottom", words.Count(w.Bits.W, "column", "columns"), words.Count(w.Bits.H,
			"line", "lines"))
		if column1 := fmt.Sprintf("column 1 is needle %v", w.First); w.Repeats {
			tell("%s, and every %d from it", column1, w.Bits.W)
		} else {
			tell("%s, and no needle comes twice", column1)
		}
	}
	panel := len(w.KeyIn)
	defer func() { w.Notes = w.KeyIn[panel:] }()
	if s.Section.Lace() {
		tell("lines %s; they are more than the rows of the drawing", School(m))
	}
	switch {
	case s.Section.Technique.ColourLines:
		colours, times := lineColours(pl, w.Section)
		text := fmt.Sprintf("a line is one colour of a row, in a pass of its own: %d colours", colours)
		if times == 2 {
			text += ", each there and back"
		}
		tell("%s", text)
	case w.Bits.H > s.Height && !s.Section.Lace() && len(s.Section.Areas) > 0:
		tell("the data are expanded to %d lines, since areas or feeders repeat in cycles of their own", w.Bits.H)
	}
	away := chart.KnitSide
	if m.Near {
		away = chart.PurlSide
	}
	switch w.Mirrored {
	case "data":
		if w.Panel != nil && w.Whole == "" {
			break // each drawing says so
		}
		tell("the data are mirrored already for the %v side; leave a mirror switch off", away)
	case "switch":
		tell("the data are as drawn; turn the mirror switch on for the %v side", away)
	}
}

// Runs is line l (from 1) as it is typed: "5 filled, 3 empty, 4 filled".
func (w Cells) Runs(l int) string {
	var words []string
	for bit, n := range chart.Runs(w.Bits.Row(l - 1)) {
		words = append(words, fmt.Sprintf("%d %s", n, [...]string{"empty", "filled"}[bit]))
	}
	return strings.Join(words, ", ")
}

// Typed is line l (from 1) as it is keyed after those below it: its runs, what is empty at its end left to
// "rest empty", or the line that it is like.
func (w Cells) Typed(l int) string {
	row := w.Bits.Row(l - 1)
	for k := range l - 1 {
		if slices.Equal(w.Bits.Row(k), row) {
			return fmt.Sprintf("as line %d", k+1)
		}
	}
	var words []string
	at := 0
	for bit, n := range chart.Runs(row) {
		at += n
		switch whole := n == len(row); {
		case bit == 0 && at == len(row) && whole:
			words = append(words, "all empty")
		case whole:
			words = append(words, "all filled")
		case bit == 0 && at == len(row):
			words = append(words, "rest empty")
		default:
			words = append(words, fmt.Sprintf("%d %s", n, [...]string{"empty", "filled"}[bit]))
		}
	}
	return strings.Join(words, ", ")
}

// Line is line l (from 1) as text, `#` filled and `.` empty, column 1 at the left.
func (w Cells) Line(l int) string {
	row := w.Bits.Row(l - 1)
	text := make([]byte, len(row))
	for x, bit := range row {
		text[x] = ".#"[bit]
	}
	return string(text)
}

// Text is the key-in sheet, then one line a program line, the top first, with its
// number, its runs and its memo.
func (w *Program) Text() string {
	var b strings.Builder
	for _, k := range w.KeyIn {
		fmt.Fprintln(&b, k)
	}
	if p := w.Panel; p != nil && w.Drawn() {
		for i := range p.Drawings {
			d := &p.Drawings[i]
			fmt.Fprintf(&b, "drawing %d\n", d.No)
			for l := d.Bits.H; l >= 1; l-- {
				fmt.Fprintf(&b, "%s\t%d\t%s\n", d.Line(l), l, d.Runs(l))
			}
		}
	}
	b.WriteByte('\n')
	for l := w.Bits.H; l >= 1; l-- {
		fmt.Fprintf(&b, "%s\t%d\t%s\t%s\n", w.Line(l), l, w.Memos[l-1], w.Runs(l))
	}
	return b.String()
}

// WriteCSV writes one line a program line, the top first.
func (w *Program) WriteCSV(out io.Writer) error {
	c := csv.NewWriter(out)
	c.Write([]string{"line", "bits", "memo", "runs"})
	for l := w.Bits.H; l >= 1; l-- {
		c.Write([]string{strconv.Itoa(l), w.Line(l), w.Memos[l-1], w.Runs(l)})
	}
	c.Flush()
	return c.Error()
}

// JSON is the program as plain values; its lines are the top first.
func (w *Program) JSON() map[string]any {
	lines, memos := []string{}, []string{}
	for l := w.Bits.H; l >= 1; l-- {
		lines, memos = append(lines, w.Line(l)), append(memos, w.Memos[l-1])
	}
	out := map[string]any{"section": w.Section, "first": w.First.String(), "repeats": w.Repeats, "width": w.Bits.W,
		"lines": lines, "memos": memos, "key_in": w.KeyIn, "mirrored": w.Mirrored, "panel": "flat"}
	if p := w.Panel; p != nil {
		out["panel"] = "places"
		if out["drawings"], out["areas"] = p.json(); w.Whole != "" {
			out["whole"] = w.Whole
		}
		out["all"] = slices.Clone(p.All)
	}
	return out
}

// Drawn says that drawings are keyed which are not the lines as they stand.
func (w *Program) Drawn() bool {
	return w.Panel != nil && (len(w.Panel.Drawings) > 1 || !slices.Equal(w.Panel.Drawings[0].Bits.Cells,
		w.Bits.Cells) ||
		w.Panel.Drawings[0].Bits.W != w.Bits.W)
}

// Keyed is what is keyed, in order: the drawings, or the lines as they stand.
func (w *Program) Keyed() []Drawing {
	if w.Panel != nil {
		return w.Panel.Drawings
	}
	return []Drawing{{No: 1, Cells: w.Cells}}
}
