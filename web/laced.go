package web

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/card"
	"vindel/knit/edit"
	"vindel/knit/lines"
	"vindel/knit/piece"
	"vindel/knit/technique"
)

// lacedView is the page of lace as the lines of a lace carriage: those of a chart that is given so, or those that the
// plan reads for one that is drawn in marks.
type lacedView struct {
	Page    Page
	ID      int64
	Chart   string
	Others  []string
	Given   bool // the chart is lines; else they are worked out
	Section int  // that knits it; 0: none does
	Text    string
	Tall    int // lines of the text, as it is shown
	Rows    []lacedRow
	Width   int
	Wide    int
	Ruled   string
	Tens    []int
	Wrong   string
	Why     string // why there are no lines
	Faces   []faceView
	Listed  findingList
}

// lacedRow is a line: its number, what it fills, what is done at it, and what it is for.
type lacedRow struct {
	Line             int
	Cells            string
	Arrow, Memo, Why string
}

// laceSection is the first lace section (from 1) that knits a chart; 0: none does.
func (d *opened) laceSection(chart string) int {
	return slices.IndexFunc(d.piece.Sections, func(s piece.Section) bool {
		return s.Lace() && slices.ContainsFunc(s.Areas, func(a piece.Area) bool { return a.Chart.Name == chart })
	}) + 1
}

func (s *Server) laced(c *gin.Context) {
	s.withPiece(c, func(d *opened) { s.showLaced(c, d, http.StatusOK, c.Query("chart"), "", "") })
}

// showLaced shows the page; text is what was typed and could not be read, wrong is why.
func (s *Server) showLaced(c *gin.Context, d *opened, status int, name, text, wrong string) {
	names := chartNames(d.piece)
	if name == "" && len(names) > 0 {
		name = names[0]
	}
	drawn := d.piece.Charts[name]
	if drawn == nil {
		s.fail(c, inputError{fmt.Errorf("no chart is called %q", name)})
		return
	}
	v := &lacedView{Page: s.piecePage(c, d, "draw"), ID: d.stored.ID, Chart: name, Given: drawn.IsLines(),
		Section: d.laceSection(name), Wrong: wrong,
		Faces: proveFaces(d), Listed: d.listed()}
	v.Others = slices.DeleteFunc(names, func(n string) bool { return n == name })
	var list []lines.Line
	var err error
	switch {
	case v.Given:
		list = lines.Of(d.piece, drawn)
	case v.Section == 0:
		err = errors.New("no section knits this chart as lace")
	default:
		list, _, err = lines.Read(d.piece, v.Section)
	}
	if err != nil {
		v.Why = err.Error()
	}
	if v.Text = text; text == "" {
		v.Text = lines.Text(list)
	}
	v.Tall = max(6, min(24, strings.Count(v.Text, "\n")+2))
	reads := []card.LaceRead{}
	if v.Section > 0 && d.result.Plan.LinesOf(v.Section) > 0 {
		reads = card.LaceReads(d.result.Plan, v.Section)
		reads = slices.DeleteFunc(reads, func(r card.LaceRead) bool { return r.Carriage.String() != "lace" })
	}
	for i, l := range list {
		no := len(list) - i
		row := lacedRow{Line: no, Memo: strings.TrimSpace(strings.TrimPrefix(lines.Text([]lines.Line{l}), l.Row))}
		cells := make([]uint8, len(l.Row))
		for x := range l.Row {
			if l.Row[x] == '#' {
				cells[x] = 1
			}
		}
		if row.Cells = filledCells(cells); no <= len(reads) {
			row.Arrow, row.Why = reads[no-1].Dir.Arrow(), reads[no-1].Why
		}
		v.Rows = append(v.Rows, row)
		v.Width = len(l.Row)
	}
	v.Wide = 16 * v.Width
	for x := 1; x < v.Width; x++ {
		v.Ruled += fmt.Sprintf("M%d 0v1", x)
		if x%10 == 0 {
			v.Tens = append(v.Tens, x)
		}
	}
	c.Status(status)
	s.render(c, "laced", v)
}

// setLaced takes lines as they are typed, or turns marks into lines and lines into marks.
func (s *Server) setLaced(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		name, section := c.PostForm("chart"), d.laceSection(c.PostForm("chart"))
		drawn := d.piece.Charts[name]
		if drawn == nil {
			s.fail(c, inputError{fmt.Errorf("no chart is called %q", name)})
			return
		}
		e := edit.Edit{Kind: edit.Draws, On: revision(c)}
		text := c.PostForm("text")
		doc, err := edit.Parse(d.stored.Doc)
		var list []lines.Line
		if err == nil {
			switch do := c.PostForm("do"); {
			case do == "marks" && section > 0:
				e.Label = "turn lines into marks"
				e.Changes, err = lines.ToMarks(doc, section)
			case do == "lines" && section > 0:
				e.Label = "turn marks into lines"
				e.Changes, err = lines.ToLines(doc, section)
			case do == "read":
				e.Label = "read lines of lace"
				if list, err = lines.Parse(text); err != nil {
					break
				}
				if drawn.IsLines() {
					e.Changes = edit.LaceLines(d.piece, drawn, lines.Doc(list))
				} else if section > 0 {
					e.Changes = lines.Replace(d.piece, section, list, d.piece.Section(section).Areas[0].First,
						knitted(list))
				}
			default:
				err = fmt.Errorf("%q: read, marks or lines", do)
			}
		}
		if err == nil { // nothing is kept that could not be read again
			var undo []edit.Change
			if undo, err = doc.Apply(e.Changes); err == nil {
				_, err = technique.Piece(doc)
				if _, back := doc.Apply(undo); err == nil {
					err = back
				}
			}
		}
		if err != nil {
			s.showLaced(c, d, http.StatusUnprocessableEntity, name, text, err.Error())
			return
		}
		e.Changes = append(s.kept(c, d.stored.ID, e.Changes), e.Changes...)
		if err := s.store.Edit(c.Request.Context(), d.stored.ID, e); err != nil {
			s.fail(c, err)
			return
		}
		if now, err := s.open(c.Request.Context(), d.stored.ID); err == nil && section > 0 {
			name = now.piece.Section(section).Areas[0].Chart.Name
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw?chart=%s", d.stored.ID, url.QueryEscape(name)))
	})
}

// knitted is how many rows lines knit once through.
func knitted(list []lines.Line) (rows int) {
	for _, l := range list {
		rows += l.Knit
	}
	return max(rows, 2)
}
