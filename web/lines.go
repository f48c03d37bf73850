package web

import (
	"fmt"
	"hash/fnv"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/knit/sketch"
	"vindel/store"
)

// linesView is the page beside a panel or a punch: one line large, and how far she is.
type linesView struct {
	Page          Page
	ID            int64
	Section       int
	Title         string
	Card          bool
	Done, Lines   int
	Line          int // that comes next, counted over all drawings; 0: all are done
	Number, Of    int // of its drawing
	Drawing       int // where there are several
	Drawings      int
	Percent       int
	Runs          []keyRun
	Typed, Memo   string
	Like          bool   // it is as an earlier one
	Say           string // what is read out
	Cells, Ruled  string
	Width         int
	Tens          []int
	Coming        []programLine
	Changed       []int // lines that are done and have changed since
	Check         string
	CheckLine     int
	Checked       string // what the check found
	Right         bool
	Verb, Undoing string
}

// keyRun is a run of alike cells, and the cell that it goes up to.
type keyRun struct {
	N, Upto int
	Filled  bool
	Word    string
}

// keyable is what of a section is keyed or punched, drawing after drawing, line 1 of each first; memos are of the
// lines of the only one.
type keyable struct {
	parts   []card.Drawing
	memos   []string
	punched bool
}

// keyedLines is a section's program or card as lines to key or to punch; nil: it has none.
func (d *opened) keyedLines(section int) *keyable {
	pl := d.result.Plan
	if section < 1 || section > len(d.piece.Sections) || pl.LinesOf(section) == 0 {
		return nil
	}
	if d.piece.Machine.HasCard() {
		made, _ := card.Make(pl, section)
		memos := make([]string, made.Holes.H)
		for i := range memos {
			if n := made.Numbers[i]; n > 0 {
				memos[i] = fmt.Sprintf("number %d stands beside it", n)
			}
			if made.Marks[i] != "" {
				memos[i] = strings.TrimPrefix(memos[i]+"; "+made.Marks[i], "; ")
			}
		}
		return &keyable{[]card.Drawing{{No: 1, Cells: card.Cells{Bits: made.Holes}}}, memos, true}
	}
	if d.piece.Machine.Program != machine.Electronic {
		return nil
	}
	w := card.MakeProgram(pl, section)
	return &keyable{w.Keyed(), w.Memos, false}
}

// lines is how many there are in all.
func (k *keyable) lines() (n int) {
	for i := range k.parts {
		n += k.parts[i].Bits.H
	}
	return n
}

// at is the drawing in which line i (from 0) of all stands, and its line there, from 1.
func (k *keyable) at(i int) (d *card.Drawing, line int) {
	for p := range k.parts {
		if d = &k.parts[p]; i < d.Bits.H {
			break
		}
		i -= d.Bits.H
	}
	return d, i + 1
}

func (k *keyable) row(i int) []uint8 { d, l := k.at(i); return d.Bits.Row(l - 1) }

// memo is what is done at line i (from 0), where it is a line of the program.
func (k *keyable) memo(i int) string {
	if len(k.parts) > 1 || i >= len(k.memos) || k.lines() != len(k.memos) {
		return ""
	}
	return k.memos[i]
}

// lineMark is by what a line that has changed is known.
func lineMark(row []uint8) string {
	h := fnv.New32a()
	h.Write(row)
	return strconv.FormatUint(uint64(h.Sum32()), 36)
}

// marks are those of so many lines: as they were keyed, those that were not as they are.
func marks(w *keyable, keyed string, done int) string {
	list := strings.Fields(keyed)
	list = list[:min(len(list), done)]
	for l := len(list); l < done; l++ {
		list = append(list, lineMark(w.row(l)))
	}
	return strings.Join(list, " ")
}

// withLines does something with what of the section that is asked for is keyed or punched.
func (s *Server) withLines(c *gin.Context, do func(d *opened, section int, w *keyable)) {
	s.withPiece(c, func(d *opened) {
		section := number(c.Param("section"), 0)
		if w := d.keyedLines(section); w != nil {
			do(d, section, w)
			return
		}
		s.fail(c, store.ErrNone)
	})
}

// lines shows the next line to key or to punch, with what the panel is said to show compared where that was typed.
func (s *Server) lines(c *gin.Context) {
	s.withLines(c, func(d *opened, section int, w *keyable) {
		keyed, err := s.store.Keyed(c.Request.Context(), d.stored.ID, section)
		if err != nil {
			s.fail(c, err)
			return
		}
		v := newLinesView(w, keyed)
		v.Page, v.ID, v.Section = s.piecePage(c, d, "prepare"), d.stored.ID, section
		v.Title = fmt.Sprintf("section %d, %s", section, d.piece.Section(section).Title())
		if v.Check = c.Query("check"); v.Check != "" {
			v.CheckLine = min(max(number(c.Query("line"), v.CheckLine), 1), v.Lines)
			v.Checked, v.Right = compareLine(w, v.CheckLine, v.Check)
		}
		s.render(c, "lines", v)
	})
}

func newLinesView(w *keyable, keyed store.Keyed) *linesView {
	punched, all := w.punched, w.lines()
	v := &linesView{Card: punched, Lines: all, Done: min(keyed.Done, all), Verb: "Keyed",
		Undoing: "Key this line again"}
	if punched {
		v.Verb, v.Undoing = "Punched", "Look at this row again"
	}
	v.Percent = 100 * v.Done / v.Lines
	for l, m := range strings.Fields(keyed.Marks) {
		if l < v.Done && lineMark(w.row(l)) != m {
			v.Changed = append(v.Changed, l+1)
		}
	}
	v.CheckLine = max(1, v.Done)
	if v.Done == v.Lines {
		return v
	}
	v.Line = v.Done + 1
	v.CheckLine = v.Line
	d, at := w.at(v.Done)
	row := w.row(v.Done)
	if v.Number, v.Of = at, d.Bits.H; len(w.parts) > 1 {
		v.Drawing, v.Drawings = d.No, len(w.parts)
	}
	word := map[bool]string{true: "filled", false: "empty"}
	if punched {
		word = map[bool]string{true: "punched", false: "left"}
	}
	upto := 0
	for bit, n := range chart.Runs(row) {
		upto += n
		v.Runs = append(v.Runs, keyRun{n, upto, bit == 1, word[bit == 1]})
	}
	say := func(typed string) string { return typed }
	if punched {
		say = strings.NewReplacer("filled", "punched", "empty", "left", "as line", "as row").Replace
	}
	v.Typed, v.Memo = say(d.Typed(at)), w.memo(v.Done)
	v.Like = strings.HasPrefix(v.Typed, "as ")
	v.Say = fmt.Sprintf("%d. %s. %s", v.Number, v.Typed, v.Memo)
	v.Width = d.Bits.W
	var ruled strings.Builder
	for x := range row {
		if x > 0 {
			fmt.Fprintf(&ruled, "M%d 0v1", x)
		}
		if x > 0 && x%10 == 0 {
			v.Tens = append(v.Tens, x)
		}
	}
	v.Cells, v.Ruled = filledCells(row), ruled.String()
	for l := v.Line + 1; l <= min(v.Line+3, v.Lines); l++ {
		d, at := w.at(l - 1)
		v.Coming = append(v.Coming, programLine{Line: at, Typed: say(d.Typed(at)), Memo: w.memo(l - 1)})
	}
	return v
}

// compareLine compares what a panel shows, typed as runs (3. 5# rest), with a line.
func compareLine(w *keyable, line int, typed string) (says string, right bool) {
	got, err := sketch.ParseRuns(typed, len(w.row(line-1)), '.')
	if err != nil {
		return err.Error(), false
	}
	if i := slices.IndexFunc(got, func(r rune) bool { return r != '#' && r != '.' }); i >= 0 {
		return fmt.Sprintf("Cell %d: %q is neither # (filled) nor . (empty)", i+1, got[i]), false
	}
	differ := 0
	for x, bit := range w.row(line - 1) {
		if (got[x] == '#') != (bit == 1) {
			if differ++; differ == 1 {
				says = fmt.Sprintf("Line %d differs first at cell %d: it should be %s", line, x+1,
					[...]string{"empty", "filled"}[bit])
			}
		}
	}
	switch {
	case differ == 0:
		return fmt.Sprintf("Line %d is as it should be", line), true
	case differ > 1:
		says += fmt.Sprintf("; %d cells differ in all", differ)
	}
	return says + ".", false
}

// keyLine writes down that a line is keyed or punched, goes back by one, or to a line.
func (s *Server) keyLine(c *gin.Context) {
	s.withLines(c, func(d *opened, section int, w *keyable) {
		from, to := number(c.PostForm("from"), -1), 0
		if from < 0 {
			s.fail(c, store.ErrNoRevision)
			return
		}
		switch do := c.PostForm("do"); do {
		case "keyed":
			to = from + 1
		case "back":
			to = from - 1
		case "go":
			if to = number(c.PostForm("to"), 0) - 1; to < 0 || to >= w.lines() {
				s.fail(c, inputError{fmt.Errorf("line %q: 1 to %d", c.PostForm("to"), w.lines())})
				return
			}
		default:
			s.fail(c, inputError{fmt.Errorf("%q: keyed, back or go", do)})
			return
		}
		to = min(max(to, 0), w.lines())
		keyed, err := s.store.Keyed(c.Request.Context(), d.stored.ID, section)
		if err == nil && keyed.Done == from { // else the press was made on another state, and is not counted
			err = s.store.Key(c.Request.Context(), d.stored.ID, section, from, store.Keyed{Done: to, Marks: marks(w,
				keyed.Marks, to)})
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(303, fmt.Sprintf("/pieces/%d/lines/%d", d.stored.ID, section))
	})
}
