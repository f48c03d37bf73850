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
)

// Program is an electronic program: Bits is lines × columns, line 1 at the bottom, 1
// for a selected needle, over one repeat where a single area repeats, else over the
// whole of the work. Column 1 lies on the needle First.
type Program struct {
	Section  int // from 1
	First    machine.Needle
	Repeats  bool // over one repeat
	Bits     chart.Grid
	Memos    []string // by line, from line 1
	KeyIn    []string // what the panel is told, in order
	Mirrored string   // who turns a knit-side drawing round: data, switch, or none where nobody need
}

// MakeProgram makes the program of a section (from 1).
func MakeProgram(pl *pass.Plan, section int) *Program {
	m, s := &pl.Piece.Machine, pl.Section(section)
	list := pl.Programs[section-1]
	low, high := pl.Piece.Ends()
	w := &Program{Section: section, First: low, Mirrored: "none", Memos: make([]string, len(list))}
	width := int(high-low) + 1
	away := slices.ContainsFunc(s.Section.Areas, func(a piece.Area) bool { return a.Away })
	if len(s.Section.Areas) == 1 && s.Cut.Empty() {
		a := &s.Section.Areas[0]
		w.Repeats, w.First, width = true, a.First, s.Wide[0]
	}
	covered := s.Covered
	if s.Section.Technique.OwnRows { // its lines are of the whole bed
		covered = machine.Range(low, high)
		whole := width
		width = narrowest(list, low, high)
		w.Repeats = width < whole
	}
	w.Bits = chart.NewMat[uint8](width, len(list))
	for l, line := range list {
		for n := range covered.And(line).All() {
			w.Bits.Set((int(n-w.First)%width+width)%width, l, 1)
		}
	}
	if away && m.MirrorSwitch {
		w.Mirrored, w.Bits = "switch", w.Bits.Mirror()
	} else if away {
		w.Mirrored = "data"
	}
	last := len(list) // the row of the first time round
	if s.Section.Technique.OwnRows {
		for i := range pl.Passes {
			if p := &pl.Passes[i]; p.Section == section && p.Own > 0 {
				last = p.Row() + len(list) - 1
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
	w.keyIn(pl)
	return w
}

// narrowest is how wide the narrowest stretch is that, side by side from needle a to z, gives every line.
func narrowest(list []machine.Set, a, z machine.Needle) int {
	span := int(z-a) + 1
	for w := 1; w < span; w++ {
		same := true
		for i := 0; same && i < len(list); i++ {
			inner := machine.Range(a, z-machine.Needle(w))
			same = list[i].And(inner) == list[i].Left(w).And(inner)
		}
		if same {
			return w
		}
	}
	return span
}

// memo is what must be done before a line's row is knitted, in a few words.
func memo(pl *pass.Plan, p *pass.Pass) string {
	var words []string
	for i := range p.Before {
		switch st := &p.Before[i]; st.Do {
		case pass.Thread:
			if pl.Section(p.Section).Section.Technique.ColourLines {
				continue // every line names its yarn
			}
			words = append(words, fmt.Sprintf("feeder %d %s", st.Feeder, pl.Piece.YarnName(st.Yarn)))
		case pass.Unthread:
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

// keyIn writes down what a panel must be told: each area's needles and anchor, its
// drawing's columns and rows, and who mirrors.
func (w *Program) keyIn(pl *pass.Plan) {
	s := pl.Section(w.Section)
	tell := func(format string, a ...any) { w.KeyIn = append(w.KeyIn, fmt.Sprintf(format, a...)) }
	tell("%d columns, %d lines, from line 1 at the bottom", w.Bits.W, w.Bits.H)
	if s.Section.Lace() {
		tell("lines %s; they are more than the rows of the drawing", School(&pl.Piece.Machine))
	}
	for i := range s.Section.Areas {
		a := &s.Section.Areas[i]
		tell("area %d: needles %v to %v, column 1 on %v; %s, columns %d to %d, rows %d to %d", i+1, a.From, a.To,
			a.First, a.Chart.Name, a.Columns[0], a.Columns[1], a.Rows[0], a.Rows[1])
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
	if pl.Piece.Machine.Near {
		away = chart.PurlSide
	}
	switch w.Mirrored {
	case "data":
		tell("the data are mirrored already for the %v side; leave a mirror switch off", away)
	case "switch":
		tell("the data are as drawn; turn the mirror switch on for the %v side", away)
	}
}

// Runs is line l (from 1) as it is typed: "5 filled, 3 empty, 4 filled".
func (w *Program) Runs(l int) string {
	var words []string
	for bit, n := range chart.Runs(w.Bits.Row(l - 1)) {
		words = append(words, fmt.Sprintf("%d %s", n, [...]string{"empty", "filled"}[bit]))
	}
	return strings.Join(words, ", ")
}

// Typed is line l (from 1) as it is keyed after those below it: its runs, what is empty at its end left to
// "rest empty", or the line that it is like.
func (w *Program) Typed(l int) string {
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
func (w *Program) Line(l int) string {
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
	return map[string]any{"section": w.Section, "first": w.First.String(), "repeats": w.Repeats, "width": w.Bits.W,
		"lines": lines, "memos": memos, "key_in": w.KeyIn, "mirrored": w.Mirrored}
}
