package web

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"vindel/knit/beside"
	"vindel/knit/card"
	"vindel/knit/machine"
	"vindel/knit/step"
	"vindel/knit/words"

	"vindel/paper"

	"github.com/gin-gonic/gin"
)

type prepareView struct {
	Page      Page
	ID        int64
	Head      int
	Stops     []stopView // what stops the plan
	Notice    []string   // what is said once
	HasCard   bool
	Cards     []cardView
	Cheats    []cheatView
	Layings   []layingView
	Programs  []programView
	Bobbins   []bobbinView
	AtOnce    int
	Takes     string // time for the whole piece, hand work included
	OwnPace   bool   // at her own pace
	Passes    int
	Machine   string
	LaceLists []int    // sections that a lace carriage works
	Charts    []string // that can stand on chart paper
	Papers    []paper.Sheet
	Strips    []int // sections whose columns a strip for the bed can show
	Measure   *measureView
	Shape     []beside.ShapeRow // the rows before which the shape changes
}

type cardView struct {
	Section, Rows, Lines, Offset int
	Joined                       bool
	Name, School                 string
	Loop                         int
}

type cheatView struct {
	Section int
	Name    string
	Comb    int
	Width   int
	Lace    bool
	Stands  string // where the repeat's columns stand on the bed
	Rows    []cheatRowView
	More    int
}

// cheatRowView is a chart row of the cheat sheet, the topmost first.
type cheatRowView struct {
	Row, Counter int
	Yarns        []yarnState
	Cells        []bool // within one repeat, left to right on the bed: bring forward
	Columns      string
	Hold         string
	Text         string
	Moves        []string // of lace: the tool's moves in words, and by cell the way that its stitch goes
	Ways         []string
}

// layingView is the laying sheet of an intarsia section: what is laid before each row.
type layingView struct {
	Section, More int
	Name          string
	Rows          []layingRow // the top first
}

type layingRow struct {
	Row, Counter int
	Right        bool // the carriage goes right
	Fields       []layField
	Lays         []string
}

// layField is one lay as it lies on the needles, in hundredths of the width at work.
type layField struct {
	X, W   float64
	Name   string
	Colour string
}

type programView struct {
	ID       int64
	Section  int
	Name     string
	Whole    string     // why one drawing serves for all; "": the drawings are those of the piece
	Columns  []string   // what of an area the panel asks for, in its order and words
	Areas    [][]string // and what it is told
	Area     string     // her word
	Switch   string     // on for all
	Notes    []string
	Drawings []drawingView
	Memos    []programLine // where they are not beside the lines
	More     int
	All      bool // as many as are shown at most
	Lines    int
	TopDown  bool // the top line stands first, as on the chart
}

// drawingView is what is keyed once.
type drawingView struct {
	No    int
	About string
	Lines int
	Rows  []programLine
	Width int
	Wide  int    // in pixels, at most
	Tens  []int  // columns after which a line is ruled
	Ruled string // the lines between the cells
	Memos bool   // something is done at its lines
}

// programLine is a line of a program as it is keyed; Cells draws its filled cells, one unit each.
type programLine struct {
	Line        int
	Typed, Memo string
	Cells       string
}

type bobbinView struct {
	Name     string
	Yarn     yarnState
	Rows     string
	Stitches int
	Metres   string
}

// mostCheatRows bounds the sheet of a section on the page, mostSheetRows those of all its
// sections; the PDF has all rows.
const (
	mostCheatRows = 60
	mostSheetRows = 600
)

// space is how many rows of sheets the page has room for still.
type space int

// take is how many of n rows are shown, and how many are left out.
func (room *space) take(n int) (shown, more int) {
	shown = min(n, mostCheatRows, int(*room))
	*room -= space(shown)
	return shown, n - shown
}

func (s *Server) prepare(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		p, pl := d.piece, d.result.Plan
		v := prepareView{Page: s.piecePage(c, d, "prepare"), ID: d.stored.ID, Head: d.stored.Head,
			Notice: s.notice(d.stored.ID), Stops: d.stops(), HasCard: p.Machine.HasCard(), Passes: len(pl.Passes),
			Machine: p.Machine.Name,
			Shape:   beside.ShapeRows(pl), Measure: d.measureView(unitsOf(c))}
		v.Measure.Reach = d.reaches(c)
		if err := s.shelves(c.Request.Context(), d, v.Measure); err != nil {
			s.fail(c, err)
			return
		}
		room := space(mostSheetRows)
		topDown := s.topDown(c)
		for _, no := range card.Sections(pl) {
			name := p.Section(no).Title()
			if v.HasCard {
				made, _ := card.Make(pl, no)
				v.Cards = append(v.Cards, cardView{no, made.Rows, made.Lines, p.Machine.Offset, p.Section(no).Joined,
					name,
					p.Machine.School.String(), p.Machine.Loop})
			} else {
				v.Programs = append(v.Programs, d.program(no, &room, topDown, number(c.Query("all"), 0) == no))
			}
		}
		v.Charts, v.Papers = chartNames(p), paper.Sheets
		for i := range p.Sections {
			if len(p.Sections[i].Areas) > 0 {
				v.Strips = append(v.Strips, i+1)
			}
			if p.Sections[i].Lace() && d.result.Plan.LinesOf(i+1) > 0 {
				v.LaceLists = append(v.LaceLists, i+1)
			}
		}
		for i, sec := range p.Sections {
			switch {
			case len(sec.Areas) == 0:
			case sec.Technique.Laid:
				v.Layings = append(v.Layings, d.laying(i+1, &room))
			case p.Machine.School == machine.ByHand:
				v.Cheats = append(v.Cheats, d.cheat(i+1, &room))
			}
		}
		v.AtOnce = pl.Totals.BobbinsAtOnce
		for _, b := range pl.Bobbins {
			wind := fmt.Sprintf("%.1f m", b.Metres)
			if b.Cone {
				wind = "from the feeder"
			}
			v.Bobbins = append(v.Bobbins, bobbinView{b.Name,
				yarnState{Name: p.YarnName(b.Yarn), Colour: p.Yarns[b.Yarn-1].Colour},
				fmt.Sprintf("%d–%d", b.FirstRow, b.LastRow), b.Stitches, wind})
		}
		pace := s.ownPace(c.Request.Context(), d.stored.ID)
		v.Takes, v.OwnPace = clock(beside.Left(pl, 0, pace)), pace > 0
		s.render(c, "prepare", v)
	})
}

func (d *opened) cheat(section int, room *space) cheatView {
	p := d.piece
	rows := beside.Sheet(d.result.Plan, section)
	shown, more := room.take(len(rows))
	rows = rows[:shown]
	v := cheatView{Section: section, Name: p.Section(section).Title(), Comb: p.Machine.Comb,
		Lace: p.Section(section).Lace(), Stands: beside.Stands(d.result.Plan, section), More: more}
	for i := range rows {
		r := &rows[i]
		v.Width = r.Width
		row := cheatRowView{Row: r.Row, Counter: r.Counter, Hold: r.Hold.String()}
		for _, y := range r.Yarns {
			row.Yarns = append(row.Yarns, yarnState{ID: p.YarnID(y), Name: p.YarnName(y),
				Colour: p.Yarns[y-1].Colour})
		}
		row.Cells = make([]bool, r.Width)
		for k, c := range r.Columns {
			row.Cells[c-1] = true
			if k > 0 {
				row.Columns += " "
			}
			row.Columns += fmt.Sprint(c)
		}
		row.Ways = make([]string, r.Width)
		for _, m := range r.Moves {
			row.Moves = append(row.Moves, m.String())
			for _, c := range m.Columns {
				row.Ways[c-1] = m.Dir.String()
			}
		}
		for j := range r.Passes[0].Before {
			st := &r.Passes[0].Before[j]
			cams, ok := st.Step.(step.Cams)
			if ok && cams.Way != 0 || step.Is[step.Cut](st.Step) || step.Is[step.Counter](st.Step) {
				if row.Text != "" {
					row.Text += ", "
				}
				row.Text += st.Short(p)
			}
		}
		if len(r.Passes) == 2 && p.Section(section).Technique.ColourLines {
			row.Text = strings.TrimPrefix(row.Text+", there and back", ", ")
		}
		v.Rows = append(v.Rows, row)
	}
	slices.Reverse(v.Rows)
	return v
}

// laying is what is laid by hand before each row of an intarsia section (from 1).
func (d *opened) laying(section int, room *space) layingView {
	p, pl := d.piece, d.result.Plan
	v := layingView{Section: section, Name: p.Section(section).Title()}
	from, wide := p.From, float64(p.To-p.From)+1
	before := 0
	for i := range pl.Passes {
		now := &pl.Passes[i]
		if now.Section == section && len(now.Lays) > 0 {
			row := layingRow{Row: now.Row(), Counter: before, Right: now.Dir == machine.Right}
			for j := range now.Lays {
				l := &now.Lays[j]
				row.Fields = append(row.Fields, layField{100 * float64(l.From-from) / wide,
					100 * float64(l.To-l.From+1) / wide,
					l.Bobbin, p.Yarns[l.Yarn-1].Colour})
				row.Lays = append(row.Lays, now.SayLay(p, j))
			}
			v.Rows = append(v.Rows, row)
		}
		before = now.Counter
	}
	shown, more := room.take(len(v.Rows))
	v.Rows, v.More = v.Rows[:shown], more
	slices.Reverse(v.Rows)
	return v
}

// mostLinesShown bounds a program on the page where all of it is asked for; its files have all lines.
const mostLinesShown = 2000

// widestDrawn is the widest program whose cells are drawn beside its lines.
const widestDrawn = 100

// program is what an electronic machine is told: the key-in sheet, and each line as it is keyed; all of them where
// they are asked for.
func (d *opened) program(section int, room *space, topDown, all bool) programView {
	m := &d.piece.Machine
	w := card.MakeProgram(d.result.Plan, section)
	v := programView{ID: d.stored.ID, Section: section, Name: d.piece.Section(section).Title(), Notes: w.Notes,
		TopDown: topDown, All: all, Whole: w.Whole}
	if p := w.Panel; p != nil {
		for _, key := range card.PanelColumns(m) {
			v.Columns = append(v.Columns, words.Capital(card.PanelWord(m, key)))
		}
		for i := range p.Areas {
			v.Areas = append(v.Areas, p.Areas[i].Row(m))
		}
		v.Switch, v.Area = p.SwitchedOn(m), words.Capital(card.PanelWord(m, "area"))
	} else {
		v.Notes = w.KeyIn
	}
	k := keyable{parts: w.Keyed(), memos: w.Memos}
	v.Lines = k.lines()
	most := v.Lines
	if all {
		most = min(most, mostLinesShown)
	} else {
		most, _ = room.take(v.Lines)
	}
	v.More = v.Lines - most
	at := 0
	for i := range k.parts {
		part := &k.parts[i]
		one := drawingView{No: part.No, Lines: part.Bits.H}
		if w.Panel != nil {
			one.About = words.Capital(part.About())
		}
		if part.Bits.W <= widestDrawn {
			one.Width, one.Wide = part.Bits.W, 13*part.Bits.W
			for x := 1; x < part.Bits.W; x++ {
				one.Ruled += fmt.Sprintf("M%d 0v1", x)
			}
			for x := 10; x < part.Bits.W; x += 10 {
				one.Tens = append(one.Tens, x)
			}
		}
		for y := range min(part.Bits.H, most) {
			l := y + 1
			if topDown {
				l = part.Bits.H - y
			}
			line := programLine{Line: l, Typed: part.Typed(l), Memo: k.memo(at + l - 1)}
			if one.Width > 0 {
				line.Cells = filledCells(part.Bits.Row(l - 1))
			}
			one.Memos = one.Memos || line.Memo != ""
			one.Rows = append(one.Rows, line)
		}
		most -= len(one.Rows)
		at += part.Bits.H
		v.Drawings = append(v.Drawings, one)
	}
	if len(w.Memos) > 0 && k.memo(0) == "" && !slices.ContainsFunc(v.Drawings,
		func(d drawingView) bool { return d.Memos }) {
		for l, memo := range w.Memos {
			if memo != "" {
				v.Memos = append(v.Memos, programLine{Line: l + 1, Memo: memo})
			}
		}
		v.Memos = v.Memos[:min(len(v.Memos), mostLinesShown)]
	}
	return v
}

// filledCells draws the filled cells of a line, one unit each.
func filledCells(row []uint8) string {
	var b strings.Builder
	for x, bit := range row {
		if bit == 1 {
			fmt.Fprintf(&b, "M%d 0h1v1h-1z", x)
		}
	}
	return b.String()
}

// topDown is whether programs are shown with the top line first: as she chose last, line 1 first where she never did.
func (s *Server) topDown(c *gin.Context) bool {
	const name = "lines"
	order := c.Query(name)
	if order == "" {
		order, _ = c.Cookie(name)
	} else if order == "top" || order == "first" {
		http.SetCookie(c.Writer, &http.Cookie{Name: name, Value: order, Path: "/", MaxAge: 400 * 24 * 3600,
			HttpOnly: true, SameSite: http.SameSiteLaxMode})
	}
	return order == "top"
}
