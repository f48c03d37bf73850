// Package lines turns lace that is drawn in marks into the lines of a lace carriage, and lines into marks, and reads
// and writes lines as text (rules 5.5, Lace as lines).
package lines

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/knit/technique"
)

// Line is a line as the piece file has it: # where a needle is selected, . where it rests, and its memo.
type Line struct {
	Row   string
	Knit  int
	Lever string // open, fine; "": as the section says
	Yarn  string // a yarn's id; "": the section's
}

// Parse reads lines as they are typed or pasted, the top line first: cells, and behind them "knit 2", "open" or "fine",
// "yarn A", in any order. Lines that begin with ; are remarks. A fault names its line, from 1 at the top.
func Parse(text string) (list []Line, err error) {
	for i, row := range strings.Split(strings.ReplaceAll(text, "\r", ""), "\n") {
		fail := func(format string, a ...any) ([]Line, error) {
			return nil, fmt.Errorf("line %d from the top: %s", i+1, fmt.Sprintf(format, a...))
		}
		words := strings.FieldsFunc(row, func(r rune) bool { return r == ' ' || r == '\t' || r == ',' })
		if len(words) == 0 || strings.HasPrefix(words[0], ";") {
			continue
		}
		one := Line{Row: words[0]}
		if bad := strings.Trim(one.Row, ".#"); bad != "" {
			return fail("%q: # where a needle is selected, . where it rests", words[0])
		}
		if len(list) > 0 && len(one.Row) != len(list[0].Row) {
			return fail("it has %d cells, and the line at the top %d", len(one.Row), len(list[0].Row))
		}
		for k := 1; k < len(words); k++ {
			word, next := strings.ToLower(words[k]), ""
			if k+1 < len(words) {
				next = words[k+1]
			}
			switch {
			case word == "knit" && one.Knit == 0:
				if one.Knit, err = strconv.Atoi(next); err != nil || one.Knit < 1 || one.Knit > piece.MaxRows {
					return fail("knit %s: a number of rows is needed, such as knit 2", next)
				}
				k++
			case (word == "open" || word == "fine") && one.Lever == "":
				one.Lever = word
			case word == "yarn" && next != "" && one.Yarn == "":
				one.Yarn = next
				k++
			default:
				return fail("%q: knit 2, open or fine, or yarn A, each once", words[k])
			}
		}
		list = append(list, one)
	}
	if len(list) == 0 {
		return nil, errors.New("no line is typed yet, such as #.... and above it ..... knit 2")
	}
	return list, nil
}

// Text writes lines as Parse reads them.
func Text(list []Line) string {
	var b strings.Builder
	for _, l := range list {
		b.WriteString(l.Row)
		if l.Knit > 0 {
			fmt.Fprintf(&b, "  knit %d", l.Knit)
		}
		if l.Lever != "" {
			b.WriteString("  " + l.Lever)
		}
		if l.Yarn != "" {
			b.WriteString("  yarn " + l.Yarn)
		}
		b.WriteByte('\n')
	}
	return b.String()
}

// Of are the lines of a chart that is given as lines, the top line first.
func Of(p *piece.Piece, c *piece.Chart) (list []Line) {
	for i, row := range c.Rows() {
		m := c.Lines[c.H-1-i]
		one := Line{Row: row, Knit: m.Knit, Lever: m.Lever}
		if m.Yarn > 0 {
			one.Yarn = p.YarnID(m.Yarn)
		}
		list = append(list, one)
	}
	return list
}

// Doc is lines as a chart's "lines" in the piece file.
func Doc(list []Line) (doc []any) {
	for _, l := range list {
		memo := map[string]any{}
		if l.Knit > 0 {
			memo["knit"] = l.Knit
		}
		if l.Lever != "" {
			memo["lever"] = l.Lever
		}
		if l.Yarn != "" {
			memo["yarn"] = l.Yarn
		}
		one := map[string]any{"row": l.Row}
		if len(memo) > 0 {
			one["memo"] = memo
		}
		doc = append(doc, one)
	}
	return doc
}

// ToLines turns the lace section (from 1) of a piece into the lines that its plan has the lace carriage read.
func ToLines(d *edit.Document, section int) ([]edit.Change, error) {
	p, err := technique.Piece(d)
	if err != nil {
		return nil, err
	}
	list, first, err := Read(p, section)
	if err != nil {
		return nil, err
	}
	sec := p.Section(section)
	return Replace(p, section, list, first, p.RowsOf(sec)*technique.Of(sec).CoursesOf(&p.Machine, sec)), nil
}

// Replace gives a lace section (from 1) the lines as its only chart, column 1 on the needle first, over the whole of
// the work; rows are to be knitted.
func Replace(p *piece.Piece, section int, list []Line, first machine.Needle, rows int) []edit.Change {
	low, high := p.Ends()
	return replaced(p, section, map[string]any{"lines": Doc(list)}, map[string]any{"first": first.String(),
		"from": low.String(), "to": high.String()}, rows)
}

// Read are the lines that the plan of a lace section (from 1) has the lace carriage read, the top line first, and the
// needle on which column 1 lies.
func Read(p *piece.Piece, section int) (list []Line, first machine.Needle, err error) {
	sec := p.Section(section)
	switch {
	case !sec.Lace() || sec.IsLines() || len(sec.Areas) == 0:
		return nil, 0, errors.New("the section has no lace that is drawn in marks")
	case p.Machine.Lace == "hand" || p.Machine.Lace == "":
		return nil, 0, errors.New("this machine has no lace carriage, whose lines they would be")
	case p.Shape != nil:
		return nil, 0, errors.New("lines are of a rectangle, and the piece has a shape")
	}
	pl := plan.Make(p)
	w := card.MakeProgram(pl, section)
	// line 1 first, until all are there
	before := ""
	for l, read := range card.LaceReads(pl, section) {
		if read.Carriage != machine.LaceCarriage {
			return nil, 0, fmt.Errorf("line %d is read by the %v carriage, and lines are the lace carriage's alone",
				l+1, read.Carriage)
		}
		one := Line{Row: w.Line(l + 1), Knit: read.Knit}
		if w.Mirrored == "switch" { // as it stands on the bed
			b := []byte(one.Row)
			slices.Reverse(b)
			one.Row = string(b)
		}
		if l == 0 && sec.Options.Transfer == "fine" {
			one.Lever = "fine"
		}
		if read.Knit > 0 && read.Yarn != 0 && p.YarnID(read.Yarn) != before && (read.Yarn != sec.Yarn || before != "") {
			one.Yarn = p.YarnID(read.Yarn)
			before = one.Yarn
		} else if before != "" && read.Knit > 0 {
			one.Yarn = before
		}
		list = append(list, one)
	}
	if len(list) == 0 {
		return nil, 0, errors.New("nothing is moved in the section")
	}
	lead := 0 // rows before the first line: two blank ones have their memo
	for i := range pl.Passes {
		if q := &pl.Passes[i]; q.Section == section && q.Row() > 0 {
			if q.Lace.InProgram {
				break
			}
			lead++
		}
	}
	if lead > 0 {
		blank := Line{Row: strings.Repeat(".", len(list[0].Row))}
		list = append([]Line{blank, blank}, list...)
		list[1].Knit = lead
	}
	slices.Reverse(list)
	return list, w.First, nil
}

// replaced gives a section one area, of a new chart.
func replaced(p *piece.Piece, section int, drawing, area map[string]any, rows int) []edit.Change {
	base := p.Section(section).Areas[0].Chart.Name
	if words := strings.Fields(base); len(words) > 1 {
		if _, err := strconv.Atoi(words[len(words)-1]); err == nil { // "feather 2" becomes "feather 3"
			base = strings.Join(words[:len(words)-1], " ")
		}
	}
	name := base + " 2"
	for n := 3; p.Charts[name] != nil; n++ {
		name = fmt.Sprintf("%s %d", base, n)
	}
	area["chart"] = name
	return slices.Concat(edit.Set(edit.Chart(name), drawing), edit.Put(edit.Section(section).To("areas"), []any{area}),
		edit.Set(edit.Section(section).To("rows"), rows))
}

// ToMarks turns a section (from 1) that is given as lines into marks of lace, where marks draw what it knits.
func ToMarks(d *edit.Document, section int) ([]edit.Change, error) {
	p, err := technique.Piece(d)
	if err != nil {
		return nil, err
	}
	if sec := p.Section(section); !sec.IsLines() {
		return nil, errors.New("the section has no lines of a lace carriage")
	}
	as := check.Run(p)
	s := as.Plan.Section(section)
	if as.Stops() {
		return nil, errors.New("the lines do not knit as they stand; mend first what is said of them")
	}
	if len(s.LaceRest.Lines) > 0 {
		return nil, errors.New("the section ends in transfers, and marks are always knitted off")
	}
	rows := min(s.Height, s.Rows)
	every := 2 // knitted rows that a row of the drawing is
	for r := 2; r <= rows+1; r += 2 {
		if r > rows || len(s.LaceRows[r-1].Lines) > 0 {
			every = 1
		}
	}
	var marks [][]chart.Stitch
	for r := 1; r <= rows; r += every {
		marks = append(marks, s.StitchRow(r))
	}
	wide := repeats(marks)
	var text []string
	for _, row := range slices.Backward(marks) { // seen on the knit side: mirrored, and so are the leans
		var b strings.Builder
		for x := wide - 1; x >= 0; x-- {
			b.WriteRune(row[x].Mirrored().Mark())
		}
		text = append(text, b.String())
	}
	drawing := map[string]any{"side": "knit", "rows": text}
	if p.Machine.Near {
		drawing["side"] = "purl"
	}
	if every == 1 {
		drawing["shows"] = "all"
	}
	low, high := p.Ends()
	changes := replaced(p, section, drawing, map[string]any{"first": low.String(), "from": low.String(),
		"to": high.String()}, s.Rows/every)
	return changes, same(d, as, changes, section)
}

// repeats is after how many columns the marks of all rows come again, each stretch with as many stitches used as made.
func repeats(rows [][]chart.Stitch) int {
	w := len(rows[0])
	for n := 1; n < w; n++ {
		again := true
		for _, row := range rows {
			for x := n; again && x < w; x++ {
				again = row[x] == row[x-n]
			}
			uses := 0
			for _, m := range row[:n] {
				uses += m.Uses() - m.Makes()
			}
			again = again && uses == 0
		}
		if again {
			return n
		}
	}
	return w
}

// same refuses changes after which another fabric is knitted.
func same(d *edit.Document, as *check.Result, changes []edit.Change, section int) error {
	undo, err := d.Apply(changes)
	if err != nil {
		return err
	}
	defer d.Apply(undo)
	p, err := technique.Piece(d)
	if err != nil {
		return err
	}
	now := check.Run(p)
	a, b := as.Fabric, now.Fabric
	for i := range a.Courses {
		if i >= len(b.Courses) {
			return errors.New("no drawing in marks knits as many rows")
		}
		x, y := a.Courses[i].Shape(), b.Courses[i].Shape()
		if x.Eyelets != y.Eyelets || x.Merged != y.Merged ||
			x.LeanR.Minus(y.OtherLeans) != y.LeanR.Minus(y.OtherLeans) {
			return fmt.Errorf("row %d has stitches that no mark of lace draws, such as three together whose outer "+
				"one lies on top", a.Courses[i].Row)
		}
	}
	return nil
}
