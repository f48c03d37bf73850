package web

import (
	"fmt"
	"image"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/lines"
	"vindel/knit/scan"
	"vindel/knit/technique"
)

// ownedView is the page on which a punch card that she owns comes in: from a photograph, or a picture whose cells lie
// evenly; what was read stands there cell by cell, and can be put right.
type ownedView struct {
	Page           Page
	ID             int64
	Chart          string
	Charts         []string
	Columns        int
	Wrong          string
	Lace           bool // a lace section takes it as lines
	Read           bool
	Text           string
	W, H           int
	Tilt           string
	Cells          []ownedCell
	Doubtful       []ownedCell
	More           int // doubtful ones that are not listed
	ShownW, ShownH int
}

// ownedCell is a cell of the card: row and column from 1 at the bottom left, and where it stands in the picture.
type ownedCell struct {
	Row, Column int
	X, Y        float64
	Hole, Doubt bool
	Sure        int // of a hundred
}

const mostDoubtful = 60 // cells that are listed to be looked at

func (s *Server) owned(c *gin.Context) {
	s.withPiece(c, func(d *opened) { s.showOwned(c, d, http.StatusOK, nil, "", "") })
}

// showOwned shows the page: with a card that was read, or a text that could not be taken, and why.
func (s *Server) showOwned(c *gin.Context, d *opened, status int, got *scan.Card, text, wrong string) {
	v := &ownedView{Page: s.piecePage(c, d, "draw"), ID: d.stored.ID, Charts: chartNames(d.piece), Columns: 24,
		Wrong: wrong, Text: text, Read: got != nil || text != ""}
	if m := &d.piece.Machine; m.HasCard() {
		v.Columns = m.Columns
	}
	v.Columns = number(c.PostForm("columns"), v.Columns)
	if v.Chart = c.Query("chart"); v.Chart == "" {
		v.Chart = c.PostForm("chart")
	}
	v.Lace = slices.ContainsFunc(chartNames(d.piece), func(name string) bool { return d.laceSection(name) > 0 })
	if got != nil {
		g := got.Holes
		v.W, v.H, v.Tilt = g.W, g.H, fmt.Sprintf("%.1f", got.Tilt)
		v.ShownW, v.ShownH = 18*g.W, 18*g.H
		v.Text = strings.Join((&chart.Chart{Keys: []rune(".#"), Grid: g}).Rows(), "\n")
		for y := g.H - 1; y >= 0; y-- {
			for x := range g.W {
				cell := ownedCell{Row: y + 1, Column: x + 1, X: float64(x) + 0.5, Y: float64(g.H-1-y) + 0.5,
					Hole: g.At(x, y) == 1,
					Sure: int(100*got.Sure[y*g.W+x] + 0.5)}
				cell.Doubt = got.Sure[y*g.W+x] < scan.Doubtful
				v.Cells = append(v.Cells, cell)
				if cell.Doubt {
					v.Doubtful = append(v.Doubtful, cell)
				}
			}
		}
		slices.SortStableFunc(v.Doubtful, func(a, b ownedCell) int { return a.Sure - b.Sure })
		if n := len(v.Doubtful); n > mostDoubtful {
			v.Doubtful, v.More = v.Doubtful[:mostDoubtful], n-mostDoubtful
		}
	}
	c.Status(status)
	s.render(c, "owned", v)
}

// readOwned reads a card from what a form brings: a picture, or text or CSV with a character a cell.
func (s *Server) readOwned(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		got, err := s.scanned(c, d)
		if err != nil {
			s.showOwned(c, d, http.StatusUnprocessableEntity, nil, "", err.Error())
			return
		}
		s.showOwned(c, d, http.StatusOK, got, "", "")
	})
}

func (s *Server) scanned(c *gin.Context, d *opened) (*scan.Card, error) {
	file, header, err := c.Request.FormFile("file")
	if err != nil {
		return nil, fmt.Errorf("choose a file: a photograph or scan of the card, a PNG, or text")
	}
	defer file.Close()
	data, err := io.ReadAll(file)
	if err != nil {
		return nil, err
	}
	o := scan.Options{Columns: number(c.PostForm("columns"), 24), Rows: number(c.PostForm("rows"), 0),
		Even: c.PostForm("as") == "even"}
	if m := &d.piece.Machine; m.HolePitchMM > 0 {
		o.Hole, o.Ratio = m.HoleMM/m.HolePitchMM, m.RowPitchMM/m.HolePitchMM
	}
	var side [4]int
	for i, name := range []string{"left", "top", "right", "bottom"} {
		side[i] = number(c.PostForm(name), 0)
	}
	if side != [4]int{} {
		o.Crop = image.Rect(side[0], side[1], 100-side[2], 100-side[3])
	}
	var drawn *chart.Chart
	switch extension(header.Filename) {
	case ".txt", ".text":
		drawn, err = chart.ParseText(string(data))
	case ".csv":
		drawn, err = chart.ParseCSV(strings.NewReader(string(data)))
	default:
		if err := s.pictures.soon(c.Request.Context()); err != nil {
			return nil, err
		}
		defer s.pictures.give()
		return scan.Read(c.Request.Context(), data, o)
	}
	if err != nil {
		return nil, err
	}
	got := &scan.Card{Holes: chart.NewMat[uint8](drawn.W, drawn.H), Sure: make([]float64, drawn.W*drawn.H)}
	for i, key := range drawn.Cells {
		if got.Sure[i] = 1; drawn.Keys[key] != '.' {
			got.Holes.Cells[i] = 1
		}
	}
	return got, nil
}

// takeOwned takes the card, as it was put right, as a chart or as lines of lace.
func (s *Server) takeOwned(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		text := c.PostForm("text")
		refuse := func(err error) {
			s.showOwned(c, d, http.StatusUnprocessableEntity, nil, text, err.Error())
		}
		drawn, err := chart.ParseText(text)
		if err == nil && len(strings.Trim(string(drawn.Keys), ".#")) > 0 {
			err = fmt.Errorf("%q: # is a hole and . is none", strings.Trim(string(drawn.Keys), ".#"))
		}
		if err == nil && c.PostForm("overlap") != "" {
			if drawn.H < 3 {
				err = fmt.Errorf("%d rows: none is left without the two that lie over the first", drawn.H)
			} else {
				drawn.Grid = drawn.Corner(drawn.W, drawn.H-2)
			}
		}
		if err != nil {
			refuse(err)
			return
		}
		if c.PostForm("invert") != "" {
			for i, key := range drawn.Keys {
				drawn.Keys[i] = map[rune]rune{'.': '#', '#': '.'}[key]
			}
			drawn, err = chart.FromRows(drawn.Rows())
		}
		name := c.PostForm("chart")
		now, to := d.piece.Charts[name], ""
		e := edit.Edit{Kind: edit.Draws, Label: "bring a card in"}
		switch {
		case err != nil:
		case c.PostForm("as") == "lines":
			section := d.laceSection(name)
			for _, other := range chartNames(d.piece) {
				if section == 0 {
					section = d.laceSection(other)
				}
			}
			if section == 0 {
				err = fmt.Errorf("no section of the piece is lace yet; add one first")
				break
			}
			list := linesOf(drawn)
			e.Changes = lines.Replace(d.piece, section, list, d.piece.Section(section).Areas[0].First, knitted(list))
			to = "lines"
		case now == nil:
			err = fmt.Errorf("no chart is called %q", name)
		case now.IsLines():
			err = fmt.Errorf("%q is lines of a lace carriage: take the card as lines, or choose another chart", name)
		default: // as she sees it at the bed
			e.Changes = append(edit.Bring(d.piece, now, &edit.Brought{Chart: drawn}, &technique.Lace.Technique),
				edit.Set(edit.Chart(name).To("side"), chart.PurlSide.String())...)
		}
		if err == nil {
			e.Changes = append(s.kept(c, d.stored.ID, e.Changes), e.Changes...)
			e.On = revision(c)
			err = s.store.Edit(c.Request.Context(), d.stored.ID, e)
		}
		if err != nil {
			refuse(err)
			return
		}
		if to == "lines" {
			if again, err := s.open(c.Request.Context(), d.stored.ID); err == nil {
				for i := range again.piece.Sections {
					if sec := &again.piece.Sections[i]; sec.IsLines() {
						name = sec.Areas[0].Chart.Name
					}
				}
			}
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw?chart=%s", d.stored.ID, url.QueryEscape(name)))
	})
}

// linesOf takes the rows of a card for lines of lace: two rows are knitted wherever the lace carriage stands on the
// left after a blank line, which is where it can be left; the card's own marks say where it is.
func linesOf(drawn *chart.Chart) (list []lines.Line) {
	filled, since := uint8(drawn.Key('#')), false
	for y := range drawn.H {
		one := lines.Line{Row: drawn.Rows()[drawn.H-1-y]}
		if slices.Contains(drawn.Row(y), filled) {
			since = true
		} else if y%2 == 1 && since {
			one.Knit, since = 2, false
		}
		list = append(list, one)
	}
	slices.Reverse(list)
	return list
}
