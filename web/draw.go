package web

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/bed"
	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/sketch"
	"vindel/paper"
	"vindel/store"
)

type drawView struct {
	Page    Page
	Chart   string
	Others  []string
	Recipes []sectionLink
	Lace    bool       // the machine has a lace carriage
	Undone  int        // steps that undo reaches back
	Section int        // that knits the chart as lace; 0: none
	Faces   []faceView // the worn side first
	State   string     // JSON for the desk's script
	Signs   string     // and how it marks stitches
	Listed  findingList

	Tools    []button
	ViewBar  bar
	Bars     []bar
	More     []button
	Outs     []string // kinds of file a chart can be taken out as
	Anchors  []string // where what is drawn can stay, as they lie: the top row first
	Versions []versionView
	Pieces   []otherPiece // pieces that a chart can be copied into
}

// chartState is everything the chart desk shows: the drawing, and beside each of its
// rows the passes that knit it.
type chartState struct {
	Piece    int64             `json:"piece"`
	Head     int               `json:"head"`
	Rev      int64             `json:"rev"`
	CanUndo  bool              `json:"canUndo"`
	CanRedo  bool              `json:"canRedo"`
	Chart    string            `json:"chart"`
	Charts   []string          `json:"charts"`
	Side     string            `json:"side"`
	Rows     []string          `json:"rows"` // the top row first
	Palette  []brush           `json:"palette"`
	Typed    []string          `json:"typed"` // the rows as runs, from row 1
	Cells    map[string]cell   `json:"cells"` // how each character is drawn
	Section  string            `json:"section"`
	Rail     map[int][]railRow `json:"rail"`  // by chart row, in knitting order
	Below    []railRow         `json:"below"` // the selecting pass before row 1
	Needles  []string          `json:"needles"`
	Feeders  int               `json:"feeders"`
	Totals   []sum             `json:"totals"`
	Marks    []mark            `json:"marks"`
	Findings string            `json:"findings"` // HTML of the list
	Blank    string            `json:"blank"`    // the character that erases
	Yarns    string            `json:"yarns"`    // their letters, in order
	Threads  map[string]string `json:"threads"`  // the colour of each yarn, by its letter

	Technique string `json:"technique"`
	// of lace: by how many stitches each row, from row 1, uses more than it makes
	Balance []int `json:"balance"`
	// the row of the chart that stands lowest in each repeat, from the first; and again
	Starts     []int      `json:"starts"`
	Repeats    [][]string `json:"repeats"`    // by column: the needles that show it in row 1
	Proportion float64    `json:"proportion"` // a cell's width over its height, as the fabric has it
	// lines of the rail that a row has room for, whatever it takes just now: cells keep their
	// size while one draws
	Lines int `json:"lines"`
}

// cell is how a stitch of the chart is drawn.
type cell struct {
	Colour string `json:"colour"`
	Dark   bool   `json:"dark"`   // a mark on it is light
	Stitch string `json:"stitch"` // the mark that it carries; "" for plain knit
	Letter string `json:"letter"` // of its yarn, where it shows one
}

func cellOf(m piece.Mark) cell {
	c := cell{Colour: m.Colour, Dark: piece.Dark(paper.Colour(m.Colour))}
	if m.Stitch != chart.Knit {
		c.Stitch = m.Stitch.String()
	} else if m.Yarn != 0 {
		c.Letter = string(m.Yarn)
	}
	return c
}

type yarnState struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Colour string `json:"colour"`
}

// brush is a yarn or mark of the palette.
type brush struct {
	Label string `json:"label"` // what stands on it: a yarn's letter, or the character
	Name  string `json:"name"`
	Char  string `json:"char"`
	cell
}

// mark points at cells of the chart that a finding is about.
type mark struct {
	Row      int    `json:"row"`
	Columns  []int  `json:"columns"`
	Severity string `json:"severity"`
	Index    int    `json:"index"` // of the finding, by which its remedy is asked for
	Code     string `json:"code"`
	Fix      string `json:"fix"`
	CanFix   bool   `json:"canFix"`
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
func (s *Server) chartState(d *opened, name string) (*chartState, error) {
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
	st := &chartState{Piece: d.stored.ID, Head: d.stored.Head, Rev: d.stored.Rev, CanUndo: h.CanUndo,
		CanRedo: h.CanRedo, Chart: name,
		Charts: names, Side: c.Face.String(),
		Rows: c.Rows(), Cells: map[string]cell{}, Rail: map[int][]railRow{}, Feeders: p.Machine.Feeders,
		Totals: h.Summary, Blank: string(c.Keys[0]),
		Below: []railRow{}, Needles: []string{}, Marks: []mark{}, Lines: railLines(pl, p.UsedIn(c))}
	st.Threads = map[string]string{}
	for _, y := range p.Yarns {
		st.Yarns += string(y.ID)
	}
	for _, y := range p.Yarns {
		st.Threads[string(y.ID)] = y.Colour
	}
	for _, m := range p.Palette(c) {
		st.Palette = append(st.Palette, brush{paletteLabel(m), m.Name, string(m.Char), cellOf(m)})
	}
	for r, m := range p.Marks(c) {
		st.Cells[string(r)] = cellOf(m)
	}
	for r := 1; r <= c.H; r++ {
		st.Typed = append(st.Typed, sketch.Runs(c.RuneRow(r)))
	}
	if !slices.ContainsFunc(st.Palette, func(b brush) bool { return b.Char == st.Blank }) {
		st.Blank = st.Palette[0].Char
	}
	drop := 0
	if sec := p.UsedIn(c); sec != nil {
		if sec.Lace() {
			st.Blank = "."
			for y := range c.H {
				st.Balance = append(st.Balance, c.Balance(c.Row(y)))
			}
		}
		for _, a := range sec.Areas {
			if a.Chart == c {
				drop = a.Drop
			}
		}
	}
	for k := 0; k == 0 || k*drop%c.H != 0; k++ {
		st.Starts = append(st.Starts, bed.Dropped(c.H, drop, k, 1))
	}
	st.Proportion = p.StitchMM() / p.RowMM() / float64(coursesOf(p, p.UsedIn(c)))
	if i := slices.IndexFunc(p.Sections, func(sec piece.Section) bool {
		return slices.ContainsFunc(sec.Areas, func(a piece.Area) bool { return a.Chart == c })
	}); i >= 0 {
		st.rail(pl, i+1, c)
	}
	st.marks(d, name)
	list, err := s.html("draw", "finding-list", d.listed())
	st.Findings = string(list)
	return st, err
}

// signs are how the desk's script marks stitches: our own marks, and the ordinary ones
// where they differ.
var signs = func() string {
	named := func(list map[chart.Stitch]paper.Sign) map[string]paper.Sign {
		out := map[string]paper.Sign{}
		for st, s := range list {
			out[st.String()] = s
		}
		return out
	}
	b, err := json.Marshal([]any{named(paper.Signs), named(paper.OrdinarySigns), paper.YarnSigns})
	if err != nil {
		panic(err) // a table of numbers
	}
	return string(b)
}()

// paletteLabel is what stands on a mark of the palette: a yarn's letter, or the character.
func paletteLabel(m piece.Mark) string {
	if m.Yarn != 0 && m.Stitch == chart.Knit {
		return string(m.Yarn)
	}
	return string(m.Char)
}

// mostMarks bounds the findings whose cells are marked in the drawing.
const mostMarks = 300

// marks points at the cells that findings graver than a note are about.
func (st *chartState) marks(d *opened, name string) {
	pl := d.result.Plan
	for i := range d.result.Findings {
		f := &d.result.Findings[i]
		if f.Severity == finding.Note || f.Section == 0 || f.Rows[0] == 0 || f.Rows[1] != f.Rows[0] {
			continue
		}
		if len(st.Marks) >= mostMarks {
			return
		}
		columns := map[int][]int{}
		for n := range f.Needles.All() {
			if at, column, row := pl.Section(f.Section).Source(n, f.Rows[0]); at == name &&
				!slices.Contains(columns[row], column) {
				columns[row] = append(columns[row], column)
			}
		}
		for row, list := range columns {
			st.Marks = append(st.Marks, mark{Row: row, Columns: list, Severity: f.Severity.String(), Index: i,
				Code: string(f.Code), Fix: f.Fix, CanFix: f.Mend != nil})
		}
	}
}

func (s *Server) draw(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		if len(d.piece.Charts) == 0 && recipeSection(d.piece, 0) > 0 { // what is drawn here is words
			c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/recipe", d.stored.ID))
			return
		}
		name := c.Query("chart")
		if names := chartNames(d.piece); name == "" && len(names) > 0 {
			name = names[0]
		}
		if drawn := d.piece.Charts[name]; drawn != nil && drawn.IsLines() {
			s.showLaced(c, d, http.StatusOK, name, "", "")
			return
		}
		st, err := s.chartState(d, c.Query("chart"))
		if err != nil {
			s.fail(c, err)
			return
		}
		s.sent.keep(st)
		b, err := json.Marshal(st)
		if err != nil {
			s.fail(c, err)
			return
		}
		versions, err := s.store.Versions(c.Request.Context(), d.stored.ID)
		if err != nil {
			s.fail(c, err)
			return
		}
		others := slices.DeleteFunc(slices.Clone(st.Charts), func(name string) bool { return name == st.Chart })
		s.render(c, "draw", drawView{Lace: d.piece.Machine.LaceSchool() != "", Undone: store.MostUndone,
			Section: d.laceSection(st.Chart), Page: s.piecePage(c, d, "draw"), Chart: st.Chart, Others: others,
			Recipes: recipeLinks(d.piece), Faces: proveFaces(d),
			State: string(b), Signs: signs, Listed: d.listed(),
			Tools: drawTools, ViewBar: viewBar(st.Balance != nil), Bars: drawBars, More: moreChanges,
			Outs: []string{"png", "svg", "pdf", "csv", "txt"}, Anchors: chart.Anchors,
			Versions: s.versionViews(versions), Pieces: s.otherPieces(c, d.stored.ID)})
	})
}

// faces names the two faces, the worn one first.
func faces(d *opened) []string {
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
	if errors.Is(err, errWorking) { // an edit is kept already; how it comes out is asked for again
		_, words := answerTo(err)
		c.JSON(http.StatusAccepted, gin.H{"working": words})
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	has, _ := strconv.ParseInt(c.GetHeader("Vindel-Has"), 10, 64)
	some := s.sent.since(st, has)
	if s.sent.keep(st); some != nil {
		c.JSON(http.StatusOK, some)
		return
	}
	c.JSON(http.StatusOK, st)
}

// edit applies the changes that a script asks for: a stroke, a row, a fill.
func (s *Server) edit(c *gin.Context) {
	var in struct {
		Label   string        `json:"label"`
		Changes []edit.Change `json:"changes"`
	}
	id, err := pieceID(c)
	if err == nil {
		if err = c.ShouldBindJSON(&in); err != nil {
			err = inputError{err}
		}
	}
	if err == nil {
		err = tooLong("label: it", in.Label, piece.MaxText)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.change(c, id, edit.Edit{Kind: edit.Draws, Label: in.Label, Changes: in.Changes})
}

// change makes an edit of a piece and answers what the piece is then. An edit of no changes
// is none.
func (s *Server) change(c *gin.Context, id int64, e edit.Edit) {
	if e.On = revision(c); len(e.Changes) > 0 {
		if err := s.write(c, id, e); err != nil {
			s.fail(c, err)
			return
		}
	}
	s.answer(c, id)
}

// write makes an edit of a piece, on the revision that it says, with what an outline needs where the edit gives it
// another gauge: that is said once, and undone with it.
func (s *Server) write(c *gin.Context, id int64, e edit.Edit) error {
	what := ""
	if slices.ContainsFunc(e.Changes, sizing) {
		var more []edit.Change
		e.Changes = append(s.kept(c, id, e.Changes), e.Changes...)
		more, what = s.refit(c, id, e.Changes)
		e.Changes = append(e.Changes, more...)
	}
	err := s.store.Edit(c.Request.Context(), id, e)
	if err == nil && what != "" {
		s.mu.Lock()
		s.notices[id] = []string{"By this gauge the outline takes " + what + ". One undo takes all of it back."}
		s.mu.Unlock()
	}
	return err
}

// sizing says that a change may give a piece another outline, or another gauge to work it out by; what puts the whole
// piece back as it was is none.
func sizing(ch edit.Change) bool {
	return slices.ContainsFunc([]string{"outline", "gauge", "swatch", "machine"}, ch.Path.Holds)
}

// revision is that of the state which the page of a request shows: what its form says, else the head of the request;
// 0: it does not say, and nothing is changed by it.
func revision(c *gin.Context) int64 {
	n, _ := strconv.ParseInt(cmp.Or(c.PostForm("rev"), c.GetHeader("Vindel-Rev")), 10, 64)
	return max(n, 0)
}

func (s *Server) undo(c *gin.Context) { s.rewind(c, s.store.Undo) }
func (s *Server) redo(c *gin.Context) { s.rewind(c, s.store.Redo) }

func (s *Server) rewind(c *gin.Context, f rewindFunc) {
	id, err := pieceID(c)
	if err == nil {
		if _, err = f(c.Request.Context(), id, revision(c)); err == store.ErrNone {
			err = nil // nothing left to undo: the page stays as it is
		}
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, id)
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
