package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/card"
	"vindel/knit/chart"
	"vindel/knit/machine"
	"vindel/paper"
	"vindel/store"
)

var kinds = map[string]string{"svg": "image/svg+xml", "png": "image/png", "pdf": "application/pdf",
	"txt": "text/plain; charset=utf-8", "json": "application/json", "csv": "text/csv; charset=utf-8",
	"jpg": "image/jpeg"}

// send writes a file that the core or paper made, or the error.
func (s *Server) send(c *gin.Context, kind string, data []byte, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	nameFile(c, kind)
	c.Data(http.StatusOK, kinds[kind], data)
}

// nameFile says under which name a file is kept: the piece, what it is, and of which section; where none is
// named already. Pictures of fabric are shown and not kept.
func nameFile(c *gin.Context, kind string) {
	parts := strings.Split(strings.TrimPrefix(c.FullPath(), "/pieces/:id/"), "/")
	if c.Writer.Header().Get("Content-Disposition") != "" || parts[0] == "fabric" || parts[0] == "lie" || kind == "" {
		return
	}
	name := c.GetString(pieceNameKey)
	what := map[string]string{"cheat": "sheet", "lacelist": "lace-list", "grid.pdf": "chart-paper"}[parts[0]]
	if what == "" {
		what = parts[0]
	}
	if n, _ := file(c); n > 0 {
		what = fmt.Sprintf("%s-section-%d", what, n)
	}
	if paper := c.Query("on"); paper != "" {
		what += "-" + fileName(paper)
	}
	c.Header("Content-Disposition", fmt.Sprintf("inline; filename=%q", fileName(name)+"-"+what+"."+kind))
}

// file splits "2.svg" into 2 and "svg".
func file(c *gin.Context) (n int, kind string) {
	base, kind, _ := strings.Cut(c.Param("file"), ".")
	n, _ = strconv.Atoi(base)
	return n, kind
}

// bigFabric is how many stitches are drawn as pixels rather than as shapes.
const bigFabric = 12000

// fabric is a face of the fabric: knit.svg, purl.svg or second.svg, the second bed's knitted face;
// whole or the window x, y, w, h; and cut.svg, a cut through one row of two-bed fabric.
func (s *Server) fabric(c *gin.Context) {
	key, done := s.faceKept(c)
	if done {
		return
	}
	s.withPieceIn(c, requestTime, func(d *opened) {
		if faceKey(d.stored.Doc, c.Request.URL) != key { // it was changed just now
			key = ""
		}
		if c.Param("file") == "cut.svg" {
			data := paper.CutSVG(d.result.Fabric, number(c.Query("section"), 0), number(c.Query("row"), 0))
			if data == nil {
				s.fail(c, store.ErrNone)
				return
			}
			s.sendFace(c, key, "svg", data, nil)
			return
		}
		side, ok := map[string]chart.Face{"knit.svg": chart.KnitSide, "purl.svg": chart.PurlSide,
			"second.svg": chart.KnitSide}[c.Param("file")]
		if !ok {
			s.fail(c, store.ErrNone)
			return
		}
		q := func(key string) int { return number(c.Query(key), 0) }
		win := paper.Window{X: q("x"), Y: q("y"), W: max(0, q("w")), H: max(0, q("h")), Clear: true}
		f := d.result.Fabric
		if c.Param("file") == "second.svg" {
			f = f.SecondFace()
		}
		if f == nil || len(f.Courses) == 0 {
			s.fail(c, store.ErrNone)
			return
		}
		w, h := win.W, win.H
		if w == 0 {
			w = f.W
		}
		if h == 0 {
			h = len(f.Courses)
		}
		if w*h > bigFabric || c.Query("fit") != "" {
			ctx := c.Request.Context()
			if err := s.pictures.take(ctx); err != nil {
				s.fail(c, err)
				return
			}
			defer s.pictures.give()
			data, err := paper.FabricPNG(ctx, f, side, win, fitted(c.Query("fit"), w, h))
			s.sendFace(c, key, "png", data, err)
			return
		}
		s.sendFace(c, key, "svg", paper.FabricSVG(f, side, win), nil)
	})
}

// fitted is how many pixels wide a stitch is in a picture of w × h stitches: as many as show, where the
// page says how large it shows it ("860x680"); never more than 8.
func fitted(fit string, w, h int) float64 {
	px := max(3, min(8, 1600/float64(w)))
	wide, tall, ok := strings.Cut(fit, "x")
	if !ok {
		return px
	}
	return min(8, float64(max(number(wide, 0), 40))/float64(w), float64(max(number(tall, 0), 40))/(0.75*float64(h)))
}

func (s *Server) card(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		n, kind := file(c)
		if n < 1 || n > len(d.piece.Sections) || !d.piece.Machine.HasCard() || d.result.Plan.LinesOf(n) == 0 {
			s.fail(c, store.ErrNone)
			return
		}
		made, _ := card.Make(d.result.Plan, n)
		title, m := paper.CardTitle(d.piece, n), &d.piece.Machine
		switch kind {
		case "svg":
			s.send(c, kind, paper.CardSVG(made, m, title), nil)
		case "pdf":
			data, err := paper.CardPDF(made, m, title)
			if i := slices.IndexFunc(paper.Sheets, func(on paper.Sheet) bool {
				return on.Name == c.Query(
					"on")
			}); i >= 0 {
				data, err = paper.CardSheetsPDF(made, m, title, paper.Sheets[i])
			}
			s.send(c, kind, data, err)
		case "txt":
			s.send(c, kind, []byte(made.Text()), nil)
		default:
			s.fail(c, store.ErrNone)
		}
	})
}

// program is a section's program as a file: the same as `vindel program` prints.
func (s *Server) program(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		n, kind := file(c)
		if n < 1 || n > len(d.piece.Sections) || d.piece.Machine.Program != machine.Electronic ||
			d.result.Plan.LinesOf(n) == 0 {
			s.fail(c, store.ErrNone)
			return
		}
		w := card.MakeProgram(d.result.Plan, n)
		var data []byte
		var err error
		switch kind {
		case "txt":
			data = []byte(w.Text())
		case "csv":
			var b bytes.Buffer
			err = w.WriteCSV(&b)
			data = b.Bytes()
		case "json":
			data, err = json.MarshalIndent(w.JSON(), "", " ")
		case "png":
			data, err = paper.ProgramPNG(w)
		case "pdf":
			data, err = paper.ProgramPDF(d.result.Plan, n)
		default:
			err = store.ErrNone
		}
		s.send(c, kind, data, err)
	})
}

// sectionPDF answers with a sheet of the section that a file's name says, from the least on (0: of none); make may
// answer store.ErrNone.
func (s *Server) sectionPDF(least int, make func(d *opened, section int) ([]byte, error)) gin.HandlerFunc {
	return func(c *gin.Context) {
		s.withPiece(c, func(d *opened) {
			n, kind := file(c)
			if n < least || n > len(d.piece.Sections) || kind != "pdf" {
				s.fail(c, store.ErrNone)
				return
			}
			data, err := make(d, n)
			s.send(c, kind, data, err)
		})
	}
}

// strip is what is laid on the bed below the needles, with the columns of a section, or of none.
func strip(d *opened, section int) ([]byte, error) { return paper.StripPDF(d.result.Plan, section) }

// cheat is what is followed by hand: the cheat sheet, or of yarns laid by hand the laying sheet.
func cheat(d *opened, section int) ([]byte, error) {
	if d.piece.Section(section).Technique.Laid {
		return paper.LayingPDF(d.result.Plan, section)
	}
	return paper.CheatPDF(d.result.Plan, section)
}

// laceList is what the lace carriage does in a section, line by line, to print.
func laceList(d *opened, section int) ([]byte, error) {
	if len(card.LaceReads(d.result.Plan, section)) == 0 {
		return nil, store.ErrNone
	}
	return paper.LaceListPDF(d.result.Plan, section)
}

// grid is chart paper for the piece, empty or with one of its charts.
func (s *Server) grid(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		drawn := d.piece.Charts[c.Query("chart")]
		if c.Query("chart") != "" && drawn == nil {
			s.fail(c, store.ErrNone)
			return
		}
		on := paper.Sheets[0]
		for _, sheet := range paper.Sheets {
			if sheet.Name == c.Query("on") {
				on = sheet
			}
		}
		data, err := paper.GridPDF(d.piece, paper.Grid{Chart: drawn}, on)
		s.send(c, "pdf", data, err)
	})
}

// mostPlanFile is how many passes a plan has at most that is written out on a request: more take
// longer than an answer should.
const mostPlanFile = 20_000

// planFile is the plan as `vindel plan` prints it.
func (s *Server) planFile(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		_, kind := file(c)
		pl := d.result.Plan
		write := map[string]func(io.Writer) error{"csv": pl.WriteCSV, "txt": pl.WriteText,
			"json": func(w io.Writer) error { return pl.WriteJSON(w, d.result.Findings) },
			"pdf": func(w io.Writer) error {
				data, err := paper.PlanPDF(pl)
				if err == nil {
					_, err = w.Write(data)
				}
				return err
			}}[kind]
		switch n := len(pl.Passes); {
		case write == nil:
			s.fail(c, store.ErrNone)
			return
		case n > mostPlanFile:
			s.fail(c, inputError{fmt.Errorf("the plan has %d passes, and at most %d are written out here; take the "+
				"piece file out, and `vindel plan` writes them all", n, mostPlanFile)})
			return
		}
		nameFile(c, kind)
		c.Header("Content-Type", kinds[kind])
		c.Status(http.StatusOK)
		if err := write(c.Writer); err != nil { // it goes out while it is made: nobody is there any more to be told
			slog.InfoContext(c.Request.Context(), "a plan was not taken to its end", "piece", d.stored.ID, "error", err)
		}
	})
}

func (s *Server) pieceFile(c *gin.Context) {
	id, err := pieceID(c)
	var p store.Piece
	if err == nil {
		p, err = s.store.Piece(c.Request.Context(), id) // read or not: what cannot be planned can still be taken out
	}
	var named struct{ Name string }
	if json.Unmarshal(p.Doc, &named) != nil {
		named.Name = "piece"
	}
	c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", fileName(named.Name)+".vindel.json"))
	s.send(c, "json", p.Doc, err)
}
