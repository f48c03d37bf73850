package web

import (
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/sketch"
)

// chartRequest is what the desk's script sends about one chart.
type chartRequest struct {
	Chart string     `json:"chart"`
	Label string     `json:"label"`
	Edit  chart.Edit `json:"edit"`
	Row   int        `json:"row"`  // from 1 at the bottom
	Text  string     `json:"text"` // a row typed as runs, or lettering
	Tall  bool       `json:"tall"`
	Char  string     `json:"char"`
}

// onChart reads a request about a chart and hands both on, or answers the error.
func (s *Server) onChart(c *gin.Context, f func(d *opened, drawn *piece.Chart, in *chartRequest) ([]edit.Change,
	error)) {
	s.withPiece(c, func(d *opened) {
		var in chartRequest
		if err := c.ShouldBindJSON(&in); err != nil {
			s.fail(c, inputError{err})
			return
		}
		drawn := d.piece.Charts[in.Chart]
		if drawn == nil {
			s.fail(c, inputError{fmt.Errorf("no chart is called %q", in.Chart)})
			return
		}
		changes, err := f(d, drawn, &in)
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		if changes == nil {
			return // answered already
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Draws, Label: in.Label, Changes: changes})
	})
}

// redraw edits a whole drawing, or a rectangle of it: turned, shifted, resized …
func (s *Server) redraw(c *gin.Context) {
	s.onChart(c, func(d *opened, drawn *piece.Chart, in *chartRequest) ([]edit.Change, error) {
		sec := d.piece.UsedIn(drawn)
		m, err := in.Edit.Apply(drawn.Runes(), blankOf(d.piece, drawn), sec != nil && sec.Lace())
		if err != nil {
			return nil, err
		}
		return edit.Rows(d.piece, drawn, chart.RowTexts(m)), nil
	})
}

// blankOf is the character that erases: plain knit in lace, else the first of the palette.
func blankOf(p *piece.Piece, c *piece.Chart) rune {
	if sec := p.UsedIn(c); sec != nil && sec.Lace() {
		return '.'
	}
	for _, m := range p.Palette(c) {
		if m.Char == c.Keys[0] {
			return m.Char
		}
	}
	return p.Palette(c)[0].Char
}

// typedRow replaces a row by one typed as runs.
func (s *Server) typedRow(c *gin.Context) {
	s.onChart(c, func(d *opened, drawn *piece.Chart, in *chartRequest) ([]edit.Change, error) {
		if in.Row < 1 || in.Row > drawn.H {
			return nil, fmt.Errorf("row %d: the drawing has %d", in.Row, drawn.H)
		}
		row, err := sketch.ParseRuns(in.Text, drawn.W, blankOf(d.piece, drawn))
		if err != nil {
			return nil, err
		}
		known := map[rune]bool{}
		for r := range d.piece.Marks(drawn) {
			known[r] = true
		}
		// A yarn's letter stands for the character that draws it.
		for i, r := range row {
			for y := range d.piece.Yarns {
				if rune(d.piece.Yarns[y].ID) == r && !known[r] {
					row[i] = drawn.Character(piece.YarnNo(y+1), d.piece)
				}
			}
			if !known[row[i]] {
				return nil, fmt.Errorf("stitch %d: %q is none of this chart's marks", i+1, string(r))
			}
		}
		if string(row) == drawn.Rows()[drawn.H-in.Row] {
			return []edit.Change{}, nil
		}
		return edit.Row(drawn, in.Row, string(row)), nil
	})
}

// countRow answers how many stitches are typed so far.
func (s *Server) countRow(c *gin.Context) {
	c.JSON(http.StatusOK, gin.H{"typed": sketch.CountRuns(c.Query("text"))})
}

// fromSelection makes a rectangle of a chart what its area shows, or a chart of its own.
func (s *Server) fromSelection(c *gin.Context) {
	s.onChart(c, func(d *opened, drawn *piece.Chart, in *chartRequest) ([]edit.Change, error) {
		span := [2][2]int{{1, drawn.W}, {1, drawn.H}}
		for i, given := range [][2]int{in.Edit.Columns, in.Edit.Rows} {
			if given == [2]int{} {
				continue
			}
			if span[i] = given; given[0] < 1 || given[1] < given[0] || given[1] > []int{drawn.W, drawn.H}[i] {
				return nil, fmt.Errorf("%d to %d: the drawing is %d wide and %d tall", given[0], given[1], drawn.W,
					drawn.H)
			}
		}
		if in.Text == "chart" {
			doc, err := edit.Parse(d.stored.Doc)
			if err != nil {
				return nil, err
			}
			return edit.ChartOf(d.piece, doc, drawn, span[0], span[1]), nil
		}
		for i := range d.piece.Sections {
			for k := range d.piece.Sections[i].Areas {
				if d.piece.Sections[i].Areas[k].Chart == drawn {
					return edit.AreaOf(i+1, k+1, span[0], span[1]), nil
				}
			}
		}
		return nil, fmt.Errorf("%s is not placed yet: place it first", drawn.Name)
	})
}

// lettering answers a line of text as cells to be stamped, the right way round for the
// side that is worn: the chart may be drawn for the other.
func (s *Server) lettering(c *gin.Context) {
	s.onChart(c, func(d *opened, drawn *piece.Chart, in *chartRequest) ([]edit.Change, error) {
		rows, err := sketch.Lettering(in.Text, in.Tall)
		if err != nil {
			return nil, err
		}
		sec := d.piece.UsedIn(drawn)
		mirrored := sec != nil && sec.Technique.Worn != drawn.Face
		if mirrored {
			m, err := chart.FromRows(rows)
			if err != nil {
				return nil, err
			}
			rows = chart.RowTexts((&chart.Chart{Keys: m.Keys, Grid: m.Grid.Mirror()}).Runes())
		}
		c.JSON(http.StatusOK, gin.H{"rows": rows, "mirrored": mirrored})
		return nil, nil
	})
}
