package web

import (
	"cmp"
	"encoding/json"
	"fmt"
	"image"
	"io"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/finding"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/store"
)

type drawView struct {
	Page   Page
	Chart  string
	Others []string
	Faces  []string // the worn side first
	State  string   // JSON for the desk's script
	Listed findingList
}

// chartState is everything the chart desk shows: the drawing, and beside each of its
// rows the passes that knit it.
type chartState struct {
	Piece    int64             `json:"piece"`
	Head     int               `json:"head"`
	CanUndo  bool              `json:"canUndo"`
	CanRedo  bool              `json:"canRedo"`
	Chart    string            `json:"chart"`
	Charts   []string          `json:"charts"`
	Side     string            `json:"side"`
	Rows     []string          `json:"rows"` // the top row first
	Yarns    []yarnState       `json:"yarns"`
	Colours  map[string]string `json:"colours"` // of each character
	Symbols  map[string]string `json:"symbols"` // the stitch of each character that is not plain knit
	Section  string            `json:"section"`
	Rail     map[int][]railRow `json:"rail"`  // by chart row, in knitting order
	Below    []railRow         `json:"below"` // the selecting pass before row 1
	Needles  []string          `json:"needles"`
	Feeders  int               `json:"feeders"`
	Totals   []sum             `json:"totals"`
	Marks    []mark            `json:"marks"`
	Findings string            `json:"findings"` // HTML of the list
	Blank    string            `json:"blank"`    // the character that erases
	Threads  map[string]string `json:"threads"`  // the colour of each yarn, by its letter
}

type yarnState struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Colour string `json:"colour"`
	Char   string `json:"char"`
	Stitch string `json:"stitch"` // the mark that the cell carries; "" for plain knit
}

// railRow is one pass as the row rail shows it.
type railRow struct {
	N       int      `json:"n"`
	Counter int      `json:"counter"`
	Dir     string   `json:"dir"`
	Feeders []string `json:"feeders"`
	Knots   []bool   `json:"knots"` // a yarn is threaded before the pass
	Text    string   `json:"text"`

	// Passes of the lace carriage for one row are one line of the rail.
	Lace  int    `json:"lace,omitempty"`
	Lines string `json:"lines,omitempty"`
	first int    // program line
}

// mark points at cells of the chart that a finding is about.
type mark struct {
	Row      int    `json:"row"`
	Columns  []int  `json:"columns"`
	Severity string `json:"severity"`
}

func railOf(pl *plan.Plan, p *plan.Pass) railRow {
	r := railRow{N: p.N, Counter: p.Counter, Dir: p.Dir.String(), Knots: make([]bool, 2)}
	for f := range pl.Piece.Machine.Feeders {
		r.Feeders = append(r.Feeders, pl.Piece.YarnID(p.Feeders[f]))
	}
	var yarns, words []string // what becomes of the yarns comes first: it is what the eye looks for
	for i := range p.Before {
		st := &p.Before[i]
		if st.Do == plan.Thread {
			r.Knots[st.Feeder-1] = true
		}
		t := st.Short(pl.Piece)
		switch {
		case t == "":
		case st.Do == plan.Thread || st.Do == plan.Unthread || st.Do == plan.Cut:
			yarns = append(yarns, t)
		default:
			words = append(words, t)
		}
	}
	r.Text = strings.Join(append(yarns, words...), ", ")
	return r
}

// chartNames lists the charts of a piece, those in use first, in knitting order.
func chartNames(p *piece.Piece) (names []string) {
	for _, s := range p.Sections {
		for _, a := range s.Areas {
			if !slices.Contains(names, a.Chart.Name) {
				names = append(names, a.Chart.Name)
			}
		}
	}
	var rest []string
	for name := range p.Charts {
		if !slices.Contains(names, name) {
			rest = append(rest, name)
		}
	}
	slices.Sort(rest)
	return append(names, rest...)
}

// chartState gathers what the desk shows of one chart.
func (s *Server) chartState(d *desk, name string) (*chartState, error) {
	p, pl := d.piece, d.result.Plan
	names := chartNames(p)
	if p.Charts[name] == nil {
		if len(names) == 0 {
			return nil, inputError{fmt.Errorf("this piece has no chart yet")}
		}
		name = names[0]
	}
	c := p.Charts[name]
	h := d.head()
	st := &chartState{Piece: d.stored.ID, Head: d.stored.Head, CanUndo: h.CanUndo, CanRedo: h.CanRedo, Chart: name, Charts: names, Side: c.Side.String(),
		Rows: c.Rows(), Colours: map[string]string{}, Symbols: map[string]string{}, Rail: map[int][]railRow{}, Feeders: p.Machine.Feeders, Totals: h.Summary, Blank: string(c.Keys[0]),
		Below: []railRow{}, Needles: []string{}, Marks: []mark{}}
	st.Threads = map[string]string{}
	for i, y := range p.Yarns {
		st.Threads[string(y.ID)] = y.Colour
		st.Yarns = append(st.Yarns, yarnState{ID: string(y.ID), Name: y.Name, Colour: y.Colour, Char: string(c.Character(piece.YarnNo(i+1), p))})
		st.Colours[st.Yarns[i].Char] = y.Colour
	}
	st.stitches(p, c)
	if i := slices.IndexFunc(p.Sections, func(sec piece.Section) bool {
		return slices.ContainsFunc(sec.Areas, func(a piece.Area) bool { return a.Chart == c })
	}); i >= 0 {
		st.rail(pl, i, c)
	}
	for _, f := range d.result.Findings {
		if f.Severity > finding.Note {
			st.Marks = append(st.Marks, markOf(pl, &f, name)...)
		}
	}
	list, err := s.html("draw", "finding-list", d.listed())
	st.Findings = string(list)
	return st, err
}

// stitches adds what the legend says besides yarns. A chart that marks stitches is
// drawn with its own characters, in the yarn of its rows; one that names yarns, with those.
func (st *chartState) stitches(p *piece.Piece, c *piece.Chart) {
	own, lace := p.Yarns[0].Colour, false
	for _, sec := range p.Sections {
		if slices.ContainsFunc(sec.Areas, func(a piece.Area) bool { return a.Chart == c }) {
			own, lace = p.Yarns[sec.Yarn-1].Colour, sec.Technique == "lace"
			break
		}
	}
	if lace {
		st.laceMarks(c, own)
		return
	}
	var marks []yarnState
	for _, key := range sortedRunes(c.Legend) {
		m, char := c.Legend[key], string(key)
		colour, name := own, m.Stitch.String()
		for _, y := range p.Yarns {
			if y.ID == m.Yarn {
				colour, name = y.Colour, y.Name+", "+name
			}
		}
		st.Colours[char] = colour
		if m.Stitch != chart.Knit {
			st.Symbols[char] = m.Stitch.String()
		}
		if m.Stitch != chart.Knit || m.Yarn == 0 {
			marks = append(marks, yarnState{ID: char, Name: name, Colour: colour, Char: char, Stitch: st.Symbols[char]})
		}
	}
	if len(marks) > 0 && !slices.ContainsFunc(c.Means, func(m chart.Meaning) bool { return m.Yarn != 0 }) {
		st.Yarns = nil
	}
	st.Yarns = append(st.Yarns, marks...)
}

// laceNames are the marks of lace, in the order of the palette.
var laceNames = []struct{ char, word, name string }{
	{".", "", "knit"}, {"o", "over", "yarn-over"}, {"/", "right", "two together, leaning right"}, {"\\", "left", "two together, leaning left"},
	{"^", "centre", "three together, centre on top"}, {"-", "purl", "purl"}, {"x", "none", "no stitch"},
}

// laceMarks is the palette of a lace chart, whose marks stand for themselves.
func (st *chartState) laceMarks(c *piece.Chart, own string) {
	st.Yarns = nil
	for _, key := range sortedRunes(c.Legend) {
		if m := c.Legend[key]; m.Stitch == chart.Purl {
			st.Colours[string(key)], st.Symbols[string(key)] = own, "purl"
		}
	}
	for _, l := range laceNames {
		st.Yarns = append(st.Yarns, yarnState{ID: l.char, Name: l.name, Colour: own, Char: l.char, Stitch: l.word})
		if st.Colours[l.char] = own; l.word != "" {
			st.Symbols[l.char] = l.word
		}
	}
}

func sortedRunes(m map[rune]chart.Meaning) []rune {
	return slices.SortedFunc(maps.Keys(m), func(a, b rune) int { // plain knit first
		return cmp.Or(cmp.Compare(m[a].Stitch, m[b].Stitch), cmp.Compare(a, b))
	})
}

// rail puts the first round of section i's passes beside the chart rows they knit.
func (st *chartState) rail(pl *plan.Plan, i int, c *piece.Chart) {
	sec, placed := &pl.Piece.Sections[i], pl.Placed[i]
	st.Section = fmt.Sprintf("section %d, %s, %s", i+1, sec.Technique, plural(placed.Rows, "row", "rows"))
	a := &sec.Areas[slices.IndexFunc(sec.Areas, func(a piece.Area) bool { return a.Chart == c })]
	st.Needles = make([]string, c.W)
	w := bed.Lie(a).W
	for x := range w {
		n := a.First + machine.Needle(x)
		if name, column, _ := placed.Source(n, 1); name == c.Name && n >= a.From && n <= a.To {
			st.Needles[column-1] = n.String()
		}
	}
	seen := map[int]int{} // section row by chart row
	for k := range pl.Passes {
		p := &pl.Passes[k]
		switch {
		case p.Section != i+1:
		case p.Row == 0:
			st.Below = append(st.Below, railOf(pl, p))
		default:
			name, _, row := placed.Source(max(a.First, a.From), p.Row)
			if name != c.Name {
				continue
			}
			if first, ok := seen[row]; !ok || first == p.Row {
				seen[row] = p.Row
				st.Rail[row] = addToRail(st.Rail[row], pl, p)
			}
		}
	}
}

// addToRail adds a pass to a chart row's rail; the lace carriage's passes make one line.
func addToRail(rail []railRow, pl *plan.Plan, p *plan.Pass) []railRow {
	r := railOf(pl, p)
	if p.Carriage != machine.LaceCarriage {
		return append(rail, r)
	}
	if n := len(rail); n > 0 && rail[n-1].Lace > 0 {
		last := &rail[n-1]
		last.Lace++
		last.Lines = fmt.Sprintf("%d–%d", last.first, p.Line)
		return rail
	}
	r.Lace, r.first = 1, p.Line
	if p.Line > 0 {
		r.Lines = fmt.Sprint(p.Line)
	}
	return append(rail, r)
}

func markOf(pl *plan.Plan, f *finding.Finding, name string) (marks []mark) {
	if f.Section == 0 || f.Rows[0] == 0 || f.Rows[1] != f.Rows[0] {
		return nil
	}
	columns := map[int][]int{}
	for n := range f.Needles.All() {
		if at, column, row := pl.Placed[f.Section-1].Source(n, f.Rows[0]); at == name && !slices.Contains(columns[row], column) {
			columns[row] = append(columns[row], column)
		}
	}
	for row, list := range columns {
		marks = append(marks, mark{row, list, f.Severity.String()})
	}
	return marks
}

func (s *Server) draw(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		st, err := s.chartState(d, c.Query("chart"))
		if err != nil {
			s.fail(c, err)
			return
		}
		b, err := json.Marshal(st)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.render(c, "draw", drawView{s.piecePage(c, d, "draw"), st.Chart, slices.DeleteFunc(slices.Clone(st.Charts), func(n string) bool { return n == st.Chart }), faces(d), string(b), d.listed()})
	})
}

// faces names the two faces, the worn one first.
func faces(d *desk) []string {
	if d.worn() == "purl" {
		return []string{"purl", "knit"}
	}
	return []string{"knit", "purl"}
}

// state answers the desk's script with the chart as it stands.
func (s *Server) state(c *gin.Context) {
	id, err := pieceID(c)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendState(c, id)
}

func (s *Server) sendState(c *gin.Context, id int64) {
	d, err := s.open(c.Request.Context(), id)
	var st *chartState
	if err == nil {
		st, err = s.chartState(d, c.Query("chart"))
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.JSON(http.StatusOK, st)
}

// edit applies the changes that a script asks for: a stroke, a row, a fill.
func (s *Server) edit(c *gin.Context) {
	var in struct {
		Label   string           `json:"label"`
		Changes []finding.Change `json:"changes"`
	}
	id, err := pieceID(c)
	if err == nil {
		if err = c.ShouldBindJSON(&in); err != nil {
			err = inputError{err}
		}
	}
	if err == nil {
		err = s.store.Edit(c.Request.Context(), id, in.Label, in.Changes)
	}
	if err != nil {
		s.fail(c, editError(err))
		return
	}
	s.answer(c, id)
}

// editError makes what the document refused into something the user can mend.
func editError(err error) error {
	if strings.HasPrefix(err.Error(), "change ") {
		return inputError{err}
	}
	return err
}

func (s *Server) undo(c *gin.Context) { s.step(c, s.store.Undo) }
func (s *Server) redo(c *gin.Context) { s.step(c, s.store.Redo) }

func (s *Server) step(c *gin.Context, f stepFunc) {
	id, err := pieceID(c)
	if err == nil {
		if _, err = f(c.Request.Context(), id); err == store.ErrNone {
			err = nil // nothing left to undo: the page stays as it is
		}
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, id)
}

// picture replaces a chart with a picture brought in: sampled to a width and a number
// of yarns, or one pixel a stitch.
func (s *Server) picture(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		drawn, colours, err := readChart(c)
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		changes, err := bringIn(d.piece, c.PostForm("chart"), drawn, colours)
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

// bringIn is the edit that makes a chart's rows and legend those of another, and the
// piece's yarns the colours that came with it.
func bringIn(p *piece.Piece, name string, drawn *chart.Chart, colours []string) ([]finding.Change, error) {
	if p.Charts[name] == nil {
		return nil, inputError{fmt.Errorf("no chart is called %q", name)}
	}
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
	for i, sec := range p.Sections {
		for k, a := range sec.Areas {
			if a.Chart.Name != name {
				continue
			}
			area := fmt.Sprintf("/sections/%d/areas/%d/", i, k)
			if a.Rows != [2]int{1, a.Chart.H} || a.Columns != [2]int{1, a.Chart.W} {
				changes = append(changes, finding.Change{Op: "add", Path: area + "rows", Value: []int{1, drawn.H}}, finding.Change{Op: "add", Path: area + "columns", Value: []int{1, drawn.W}})
			}
		}
	}
	return changes, nil
}

const plainLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnpqrstuvwxyz"

// readChart reads the chart that a form brings: a picture, text, or a blank size.
func readChart(c *gin.Context) (drawn *chart.Chart, colours []string, err error) {
	file, header, err := c.Request.FormFile("file")
	if err != nil {
		text := strings.TrimSpace(c.PostForm("text"))
		if text == "" {
			return nil, nil, fmt.Errorf("choose a picture, or write the chart as text")
		}
		drawn, err = chart.ParseText(c.PostForm("text"))
		return drawn, nil, err
	}
	defer file.Close()
	data, err := io.ReadAll(file)
	if err != nil {
		return nil, nil, err
	}
	lower := strings.ToLower(header.Filename)
	if strings.HasSuffix(lower, ".txt") || strings.HasSuffix(lower, ".csv") {
		if strings.HasSuffix(lower, ".csv") {
			drawn, err = chart.ParseCSV(strings.NewReader(string(data)))
		} else {
			drawn, err = chart.ParseText(string(data))
		}
		return drawn, nil, err
	}
	o := sampling(c)
	w := o.W
	var palette []string
	if pw, _, err := chart.PictureSize(data); err != nil {
		return nil, nil, err
	} else if w == 0 && pw <= machine.MaxBed && strings.HasSuffix(lower, ".png") {
		d, cols, err := chart.FromPNG(data)
		for _, col := range cols {
			palette = append(palette, fmt.Sprintf("#%02x%02x%02x", col.R, col.G, col.B))
		}
		return d, palette, err
	} else if w == 0 {
		o.W = min(pw, 60)
	}
	d, cols, err := chart.FromPicture(data, o)
	for _, col := range cols {
		palette = append(palette, fmt.Sprintf("#%02x%02x%02x", col.R, col.G, col.B))
	}
	return d, palette, err
}

// sampling reads how a picture is to become a chart; rows tall to a stitch's width come
// from the page, which knows the gauge.
func sampling(c *gin.Context) (o chart.Sampling) {
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

// localPath is the path of a page of ours that a URL names, or the other.
func localPath(raw, other string) string {
	u, err := url.Parse(raw)
	if err != nil || !strings.HasPrefix(u.Path, "/pieces") || strings.HasPrefix(u.Path, "//") {
		return other
	}
	out := url.URL{Path: u.Path, RawQuery: u.RawQuery}
	return out.String()
}
