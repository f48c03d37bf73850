package web

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"io"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/sketch"
	"vindel/paper"
	"vindel/store"
)

// brought is a chart that a form brings in, and what came with it: colours by key where
// it was a picture, or a whole piece it was taken from.
type brought struct {
	chart   *chart.Chart
	keyed   bool // a picture of ours, which carries its characters
	colours []string
	from    *piece.Piece
	worded  *sketch.Worded
}

// picture replaces a chart with one brought in: a picture sampled to a width and a number
// of yarns, or one pixel a stitch; text; CSV; rows written for hand knitting; a piece file.
func (s *Server) picture(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		in, err := readChart(c)
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		changes, err := d.bringIn(c.PostForm("chart"), in)
		if err == nil {
			err = s.store.Edit(c.Request.Context(), d.stored.ID, "bring a chart in", changes)
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		s.answer(c, d.stored.ID)
	})
}

// sample answers what a form would bring in, without doing it: the rows, the colour of
// each character, and how many rows have more than two colours.
func (s *Server) sample(c *gin.Context) {
	in, err := readChart(c)
	if err != nil {
		s.fail(c, inputError{err})
		return
	}
	colours, crowded := map[string]string{}, 0
	for i, k := range in.chart.Keys {
		if i < len(in.colours) {
			colours[string(k)] = in.colours[i]
		}
	}
	for y := range in.chart.H {
		seen := map[uint8]bool{}
		for _, k := range in.chart.Row(y) {
			seen[k] = true
		}
		if len(seen) > 2 {
			crowded++
		}
	}
	out := gin.H{"rows": in.chart.Rows(), "colours": colours, "crowded": crowded, "w": in.chart.W, "h": in.chart.H, "notes": []string{}}
	if in.worded != nil {
		out["notes"] = in.worded.Notes
	}
	c.JSON(http.StatusOK, out)
}

// bringIn is the edit that makes a chart what was brought in. A drawing whose characters
// the chart knows already keeps its legend, whatever technique it is for.
func (d *desk) bringIn(name string, in *brought) ([]finding.Change, error) {
	p := d.piece
	now := p.Charts[name]
	if now == nil {
		return nil, inputError{fmt.Errorf("no chart is called %q", name)}
	}
	at := "/charts/" + piece.Escape(name)
	known := in.worded == nil && in.from == nil && (in.colours == nil || in.keyed)
	shown := p.Shows(now)
	for _, k := range in.chart.Keys {
		_, ok := shown[k]
		known = known && ok
	}
	if known {
		return append([]finding.Change{{Op: "replace", Path: at + "/rows", Value: in.chart.Rows()}}, resized(p, now, in.chart.W, in.chart.H)...), nil
	}
	if in.worded != nil || piece.IsLace(in.chart) {
		shows := "right-side"
		if in.chart.All {
			shows = "all"
		}
		changes := []finding.Change{{Op: "add", Path: at + "/legend", Value: map[string]any{}}, {Op: "replace", Path: at + "/rows", Value: in.chart.Rows()},
			{Op: "add", Path: at + "/shows", Value: shows}, {Op: "add", Path: at + "/side", Value: "knit"}}
		for i, sec := range p.Sections {
			for _, a := range sec.Areas {
				if a.Chart == now && sec.Technique != "lace" {
					changes = append(changes, finding.Change{Op: "add", Path: fmt.Sprintf("/sections/%d/technique", i), Value: "lace"})
					break
				}
			}
		}
		return append(changes, resized(p, now, in.chart.W, in.chart.H)...), nil
	}
	if in.from != nil {
		return fromPiece(p, now, in), nil
	}
	changes, err := withColours(p, name, in.chart, in.colours)
	return append(changes, resized(p, now, in.chart.W, in.chart.H)...), err
}

// fromPiece is the edit that takes a chart over from another piece, with the yarns that
// its legend names and this piece has not.
func fromPiece(p *piece.Piece, now *piece.Chart, in *brought) []finding.Change {
	at := "/charts/" + piece.Escape(now.Name)
	source := in.from.Charts[in.chart.Name]
	legend := map[string]any{}
	var changes []finding.Change
	have := map[byte]bool{}
	for _, y := range p.Yarns {
		have[y.ID] = true
	}
	add := func(id byte) {
		if have[id] || id == 0 {
			return
		}
		have[id] = true
		for _, y := range in.from.Yarns {
			if y.ID == id {
				changes = append(changes, finding.Change{Op: "add", Path: "/yarns/-", Value: map[string]any{"id": string(id), "name": y.Name, "colour": y.Colour}})
			}
		}
	}
	for r, m := range source.Legend {
		entry := map[string]any{}
		if m.Yarn != 0 {
			entry["yarn"] = string(m.Yarn)
			add(m.Yarn)
		}
		if m.Stitch != chart.Knit {
			entry["stitch"] = m.Stitch.String()
		}
		legend[string(r)] = entry
	}
	for _, m := range source.Means {
		add(m.Yarn)
	}
	changes = append(changes, finding.Change{Op: "add", Path: at + "/legend", Value: legend}, finding.Change{Op: "replace", Path: at + "/rows", Value: source.Rows()},
		finding.Change{Op: "add", Path: at + "/side", Value: source.Side.String()})
	return append(changes, resized(p, now, source.W, source.H)...)
}

// withColours is the edit that makes a chart's rows and legend those of a picture, and the
// piece's yarns the colours that came with it.
func withColours(p *piece.Piece, name string, drawn *chart.Chart, colours []string) ([]finding.Change, error) {
	at := "/charts/" + piece.Escape(name)
	legend, yarns := map[string]any{}, []any{}
	for i, y := range p.Yarns {
		yarns = append(yarns, map[string]any{"id": string(y.ID), "name": y.Name, "colour": y.Colour})
		if i < len(colours) {
			yarns[i].(map[string]any)["colour"] = colours[i]
		}
	}
	for k, key := range drawn.Keys {
		id := plainLetters[k : k+1]
		if k < len(p.Yarns) {
			id = string(p.Yarns[k].ID)
		} else {
			yarn := map[string]any{"id": id, "name": "yarn " + id}
			if k < len(colours) {
				yarn["colour"] = colours[k]
			}
			yarns = append(yarns, yarn)
		}
		legend[string(key)] = map[string]any{"yarn": id}
	}
	changes := []finding.Change{{Op: "replace", Path: "/yarns", Value: yarns}, {Op: "add", Path: at + "/legend", Value: legend}, {Op: "replace", Path: at + "/rows", Value: drawn.Rows()}}
	return changes, nil
}

const plainLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnpqrstuvwxyz"

// readChart reads the chart that a form brings: a file, or text. "as" says what text is:
// a chart, or rows written for hand knitting.
func readChart(c *gin.Context) (*brought, error) {
	file, header, err := c.Request.FormFile("file")
	if err != nil {
		text := c.PostForm("text")
		if strings.TrimSpace(text) == "" {
			return nil, fmt.Errorf("choose a file, or write the chart as text")
		}
		if c.PostForm("as") == "words" {
			return readWorded(text)
		}
		drawn, err := chart.ParseText(text)
		return &brought{chart: drawn}, err
	}
	defer file.Close()
	data, err := io.ReadAll(file)
	if err != nil {
		return nil, err
	}
	switch lower := strings.ToLower(header.Filename); {
	case strings.HasSuffix(lower, ".csv"):
		drawn, err := chart.ParseCSV(strings.NewReader(string(data)))
		return &brought{chart: drawn}, err
	case strings.HasSuffix(lower, ".txt"):
		drawn, err := chart.ParseText(string(data))
		return &brought{chart: drawn}, err
	case strings.HasSuffix(lower, ".json"):
		p, err := piece.Read(data)
		if err != nil {
			return nil, err
		}
		names := chartNames(p)
		if len(names) == 0 {
			return nil, fmt.Errorf("charts: the piece has none")
		}
		return &brought{chart: p.Charts[names[0]].Chart, from: p}, nil
	default:
		return readPicture(c, data, strings.HasSuffix(lower, ".png"))
	}
}

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
	return &brought{chart: drawn, worded: w}, nil
}

// readPicture samples a picture; a small PNG for which no width is asked is a chart of
// one pixel a stitch, and one of ours that carries its characters needs no colours.
func readPicture(c *gin.Context, data []byte, isPNG bool) (*brought, error) {
	o := sampling(c)
	pw, _, err := sketch.PictureSize(data)
	if err != nil {
		return nil, err
	}
	in := &brought{}
	var colours []color.RGBA
	if o.W == 0 && pw <= machine.MaxBed && isPNG {
		in.chart, colours, err = chart.FromPNG(data)
		in.keyed = chart.CarriesKeys(data)
	} else {
		if o.W == 0 {
			o.W = min(pw, 60)
		}
		in.chart, colours, err = sketch.FromPicture(data, o)
	}
	for _, col := range colours {
		in.colours = append(in.colours, fmt.Sprintf("#%02x%02x%02x", col.R, col.G, col.B))
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
	s.withDesk(c, func(d *desk) {
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
			data = paper.ChartSVG(d.piece, drawn, d.piece.Name+": "+drawn.Name, nil)
		case "pdf":
			data, err = paper.ChartPDF(d.piece, drawn, d.piece.Name+": "+drawn.Name)
		default:
			err = store.ErrNone
		}
		c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="chart.%s"`, kind))
		s.send(c, kind, data, err)
	})
}
