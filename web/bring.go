package web

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"io"
	"net/http"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/sketch"
	"vindel/knit/technique"
	"vindel/paper"
	"vindel/store"
)

// brought is a chart that a form brings in, and what was read into it besides.
type brought struct {
	edit.Brought
	worded *sketch.Worded
	repeat [2]int // the smallest part that it is several times; as large as it is where it is not
	whole  [2]int // its size before one part was kept
}

// picture replaces a chart with one brought in: a picture sampled to a width and a number
// of yarns, or one pixel a stitch; text; CSV; rows written for hand knitting; a piece file.
func (s *Server) picture(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		in, err := s.readChart(c)
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		now := d.piece.Charts[c.PostForm("chart")]
		if now == nil {
			s.fail(c, inputError{fmt.Errorf("no chart is called %q", c.PostForm("chart"))})
			return
		}
		if now.IsLines() {
			s.fail(c, inputError{fmt.Errorf("%q is lines of a lace carriage; draw it in marks first, or bring "+
				"lines in", now.Name)})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Draws, Label: "bring a chart in",
			Changes: edit.Bring(d.piece, now, &in.Brought, &technique.Lace.Technique)})
	})
}

// sample answers what a form would bring in, without doing it: the rows, the colour of
// each character, and how many rows have more than two colours.
func (s *Server) sample(c *gin.Context) {
	in, err := s.readChart(c)
	if err != nil {
		s.fail(c, inputError{err})
		return
	}
	colours, crowded := map[string]string{}, 0
	for i, k := range in.Chart.Keys {
		if i < len(in.Colours) {
			colours[string(k)] = in.Colours[i]
		}
	}
	for y := range in.Chart.H {
		seen := map[uint8]bool{}
		for _, k := range in.Chart.Row(y) {
			seen[k] = true
		}
		if len(seen) > 2 {
			crowded++
		}
	}
	lace := in.worded != nil || chart.IsLace(in.Chart)
	out := gin.H{"rows": in.Chart.Rows(), "colours": colours, "crowded": crowded, "lace": lace, "w": in.Chart.W,
		"h":     in.Chart.H,
		"notes": []string{}}
	if in.repeat != in.whole {
		out["repeat"] = fmt.Sprintf("%d × %d", in.repeat[0], in.repeat[1])
		out["times"] = in.whole[0] / in.repeat[0] * in.whole[1] / in.repeat[1]
	}
	if in.worded != nil {
		out["notes"] = in.worded.Notes
	}
	if lace {
		marks := map[string]string{}
		for _, r := range in.Chart.Keys {
			if st, ok := chart.LaceMark(r); ok && st != chart.Knit {
				marks[string(r)] = st.String()
			}
		}
		out["marks"] = marks
	}
	c.JSON(http.StatusOK, out)
}

// readChart reads the chart that a form brings: a file, or text. "as" says what text is:
// a chart, or rows written for hand knitting.
func (s *Server) readChart(c *gin.Context) (*brought, error) {
	in, err := s.readWhole(c)
	if err != nil || in.Chart == nil {
		return in, err
	}
	in.whole = [2]int{in.Chart.W, in.Chart.H}
	w, h := in.Chart.Repeat()
	if in.Chart.All && h%2 == 1 { // rows of such lace go in pairs
		if h *= 2; in.Chart.H%h != 0 {
			h = in.Chart.H
		}
	}
	in.repeat = [2]int{w, h}
	if c.PostForm("one") != "" && in.repeat != in.whole {
		kept := *in.Chart
		kept.Grid = in.Chart.Corner(in.repeat[0], in.repeat[1])
		in.Chart, in.Repeat = &kept, [2]int{}
	}
	return in, nil
}

// readWhole reads all of the chart.
func (s *Server) readWhole(c *gin.Context) (*brought, error) {
	file, header, err := c.Request.FormFile("file")
	if err != nil {
		text := c.PostForm("text")
		if strings.TrimSpace(text) == "" {
			return nil, fmt.Errorf("choose a file, or write the chart as text")
		}
		if as := c.PostForm("as"); as == "words" || as == "" && sketch.IsWorded(text) {
			return readWorded(text)
		}
		drawn, err := chart.ParseText(text)
		return &brought{Brought: edit.Brought{Chart: drawn}}, err
	}
	defer file.Close()
	data, err := io.ReadAll(file)
	if err != nil {
		return nil, err
	}
	switch kind := extension(header.Filename); kind {
	case ".csv":
		drawn, err := chart.ParseCSV(strings.NewReader(string(data)))
		return &brought{Brought: edit.Brought{Chart: drawn}}, err
	case ".txt":
		drawn, err := chart.ParseText(string(data))
		return &brought{Brought: edit.Brought{Chart: drawn}}, err
	case ".json":
		p, err := technique.Read(data)
		if err != nil {
			return nil, err
		}
		names := chartNames(p)
		if len(names) == 0 {
			return nil, fmt.Errorf("charts: the piece has none")
		}
		from := p.Charts[names[0]]
		return &brought{Brought: edit.Brought{Chart: from.Chart, From: p, Source: from}}, nil
	default:
		return s.readPicture(c, data, kind == ".png")
	}
}

// extension is how a file's name ends, in small letters: ".png".
func extension(name string) string { return strings.ToLower(filepath.Ext(name)) }

func readWorded(text string) (*brought, error) {
	w, err := sketch.ParseWorded(text)
	if err != nil {
		return nil, err
	}
	drawn, err := chart.FromRows(w.Rows)
	if err != nil {
		return nil, err
	}
	drawn.All = w.All
	return &brought{Brought: edit.Brought{Chart: drawn, Worded: true, Repeat: w.Repeat}, worded: w}, nil
}

// readPicture samples a picture; a small PNG for which no width is asked is a chart of
// one pixel a stitch, and one of ours that carries its characters needs no colours.
func (s *Server) readPicture(c *gin.Context, data []byte, isPNG bool) (*brought, error) {
	o := sampling(c)
	pw, _, err := sketch.PictureSize(data)
	if err != nil {
		return nil, err
	}
	if err := s.pictures.soon(c.Request.Context()); err != nil {
		return nil, err
	}
	defer s.pictures.give()
	in := &brought{}
	var colours []color.RGBA
	var small image.Image
	if o.W == 0 && isPNG && o.Crop.Empty() && !chart.CarriesKeys(data) {
		small, _ = sketch.Enlarged(data)
	}
	if small != nil && small.Bounds().Dx() <= machine.MaxBed {
		in.Chart, colours, err = chart.FromImage(small, nil)
	} else if o.W == 0 && pw <= machine.MaxBed && isPNG {
		in.Chart, colours, err = chart.FromPNG(data)
		in.Keyed = chart.CarriesKeys(data)
	} else {
		if o.W == 0 {
			o.W = min(pw, 60)
		}
		in.Chart, colours, err = sketch.FromPicture(c.Request.Context(), data, o)
	}
	for _, col := range colours {
		in.Colours = append(in.Colours, fmt.Sprintf("#%02x%02x%02x", col.R, col.G, col.B))
	}
	return in, err
}

// sampling reads how a picture is to become a chart; rows tall to a stitch's width come
// from the page, which knows the gauge.
func sampling(c *gin.Context) (o sketch.Sampling) {
	o.W, o.Yarns = number(c.PostForm("width"), 0), max(number(c.PostForm("yarns"), 2), 2)
	o.RowsPerStitch, _ = strconv.ParseFloat(c.PostForm("tall"), 64)
	if c.PostForm("tall") == "" {
		o.RowsPerStitch = 1.35
	}
	o.RowsPerStitch = min(max(o.RowsPerStitch, 0.3), 4)
	var crop [4]int
	if n, _ := fmt.Sscanf(c.PostForm("crop"), "%d,%d,%d,%d", &crop[0], &crop[1], &crop[2], &crop[3]); n == 4 {
		o.Crop = image.Rect(crop[0], crop[1], crop[2], crop[3])
	}
	o.Dither = c.PostForm("dither") != ""
	o.MostInRow = min(number(c.PostForm("most"), 0), 12)
	return o
}

// takeOut is one chart as a file: a picture of one pixel a stitch, CSV, text, or paper.
func (s *Server) takeOut(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		drawn := d.piece.Charts[c.Query("chart")]
		if drawn == nil {
			s.fail(c, store.ErrNone)
			return
		}
		_, kind := file(c)
		var data []byte
		var err error
		switch kind {
		case "png":
			picture, colours := d.piece.Picture(drawn)
			data, err = picture.PNG(colours)
		case "csv":
			var b bytes.Buffer
			err = drawn.WriteCSV(&b)
			data = b.Bytes()
		case "txt":
			data = []byte(drawn.Text())
		case "svg":
			data = paper.ChartSVG(d.piece, drawn, d.piece.Name+": "+drawn.Name)
		case "pdf":
			data, err = paper.ChartPDF(d.piece, drawn, d.piece.Name+": "+drawn.Name)
		default:
			err = store.ErrNone
		}
		c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", fileName(d.piece.Name+" "+drawn.Name)+
			"."+kind))
		s.send(c, kind, data, err)
	})
}
