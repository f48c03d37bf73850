package web

import (
	"context"
	"fmt"
	"image/color"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/paper"
)

type rewindFunc func(ctx context.Context, id, on int64) (string, error)

type piecesView struct {
	Page       Page
	List       []pieceCard
	Machines   []machineChoice
	Techniques []piece.Word
	Away       int64 // a piece just put away, that can be brought back
}

// pieceCard is one piece on the home page: on which machine, how far, what is next.
type pieceCard struct {
	ID            int64
	Name, Machine string
	Summary       []sum
	Done, Passes  int
	Percent       int
	Next          string
	Bad           string
	Stops, Warns  int
	Yarns         []yarnState
	Station       string
	Head          int
	Touched       string
	Worn          string
}

func (s *Server) pieces(c *gin.Context) {
	ctx := c.Request.Context()
	list, err := s.store.Pieces(ctx)
	if err != nil {
		s.fail(c, err)
		return
	}
	v := piecesView{Page: s.page(c, "Pieces"), Techniques: techniqueWords()}
	if v.Machines, err = s.machineChoices(c); err != nil {
		s.fail(c, err)
		return
	}
	v.Away, _ = strconv.ParseInt(c.Query("away"), 10, 64)
	for _, p := range list {
		v.List = append(v.List, s.pieceCard(ctx, p.ID))
	}
	// What is on a machine comes first; the rest lie as they were last touched.
	slices.SortStableFunc(v.List, func(a, b pieceCard) int {
		on := func(p pieceCard) int {
			if p.Done > 0 && p.Done < p.Passes {
				return 0
			}
			return 1
		}
		return on(a) - on(b)
	})
	s.render(c, "pieces", v)
}

func (s *Server) pieceCard(ctx context.Context, id int64) pieceCard {
	card := pieceCard{ID: id, Station: "draw"}
	d, err := s.open(ctx, id)
	if err != nil {
		card.Name, card.Bad = "A piece that cannot be read", err.Error()
		return card
	}
	at, err := s.store.Reached(ctx, id)
	if err != nil {
		card.Bad = err.Error()
	}
	h := d.head()
	card.Name, card.Machine, card.Summary, card.Stops, card.Warns = h.Name, d.piece.Machine.Name, h.Summary, h.Stops,
		h.Warns
	card.Head, card.Worn = d.stored.Head, d.worn()
	card.Touched = since(s.now().Sub(d.stored.Updated))
	for _, y := range d.piece.Yarns {
		card.Yarns = append(card.Yarns, yarnState{ID: string(y.ID), Name: y.Name, Colour: y.Colour})
	}
	passes := d.result.Plan.Passes
	card.Done, card.Passes = d.done(at), len(passes)
	if card.Passes > 0 {
		card.Percent = 100 * card.Done / card.Passes
	}
	switch {
	case card.Stops > 0:
		card.Next, card.Station = "Mend what stops the plan", "prove"
	case card.Done > 0 && card.Done < card.Passes:
		p := &passes[card.Done]
		card.Next, card.Station = fmt.Sprintf("Knit on, pass %d", p.N), "knit"
	case card.Done > 0:
		card.Next, card.Station = "Knitted to the last pass", "knit"
	default:
		card.Next, card.Station = "Ready to prove and prepare", "prove"
	}
	return card
}

// newPiece begins a piece: from a blank size, a picture or text, or a piece file.
func (s *Server) newPiece(c *gin.Context) {
	choices, err := s.machineChoices(c)
	if err != nil {
		s.fail(c, err)
		return
	}
	m := machineChoice{ID: c.PostForm("machine")}
	if i := slices.IndexFunc(choices, func(o machineChoice) bool { return o.ID == m.ID }); i >= 0 {
		m = choices[i]
	}
	doc, err := newDocument(c, m)
	if err == nil {
		err = ownMachineOf(doc, m)
	}
	if err == nil {
		_, err = technique.Piece(doc)
	}
	if err != nil {
		s.fail(c, inputError{err})
		return
	}
	id, err := s.store.Add(c.Request.Context(), doc.JSON())
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw", id))
}

// ownMachineOf puts a new piece on the user's own machine, where one was chosen.
func ownMachineOf(doc *edit.Document, m machineChoice) (err error) {
	if m.Own > 0 {
		_, err = doc.Apply(edit.OnMachine(m.Doc))
	}
	return err
}

func newDocument(c *gin.Context, m machineChoice) (*edit.Document, error) {
	name := strings.TrimSpace(c.PostForm("name"))
	if file, header, err := c.Request.FormFile("file"); err == nil && extension(header.Filename) == ".json" {
		defer file.Close()
		data, err := io.ReadAll(file)
		if err != nil {
			return nil, err
		}
		return edit.Parse(data)
	}
	if name == "" {
		name = "New piece"
	}
	profile := m.ID
	if m.Own > 0 { // begun on a shipped one; put on the user's own afterwards
		profile = machine.IDs()[0]
	}
	start := edit.Start{Name: name, Profile: profile, ChartName: "chart", Repeats: number(c.PostForm("repeats"), 1)}
	if c.PostForm("from") == "blank" {
		start.Technique = &technique.For(nil, c.PostForm("technique")).Technique
		start.W, start.H = number(c.PostForm("stitches"), 12), number(c.PostForm("rows"), 12)
		if start.W < 1 || start.W > machine.MaxBed || start.H < 1 || start.H > 2000 {
			return nil, fmt.Errorf("a blank chart has 1 to %d stitches and 1 to 2000 rows", machine.MaxBed)
		}
		return edit.New(start)
	}
	in, err := readChart(c)
	if err != nil {
		return nil, err
	}
	start.Chart, start.Technique = in.Chart, &technique.For(in.Chart, c.PostForm("technique")).Technique
	for _, col := range in.Colours {
		start.Colours = append(start.Colours, paper.Colour(col))
	}
	if start.Colours == nil {
		start.Colours = textColours(in.Chart)
	}
	return edit.New(start)
}

func textColours(c *chart.Chart) []color.RGBA { return piece.DefaultPalette(len(c.Keys)) }

func number(s string, other int) int {
	if n, err := strconv.Atoi(strings.TrimSpace(s)); err == nil && n > -1e6 && n < 1e6 {
		return n // what is beyond any bed or piece is no number
	}
	return other
}

// putAway hides a piece; the home page offers to bring it back.
func (s *Server) putAway(c *gin.Context) {
	id, err := pieceID(c)
	away := c.PostForm("away") != "no"
	if err == nil {
		err = s.store.PutAway(c.Request.Context(), id, away)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	to := "/"
	if away {
		to = fmt.Sprintf("/?away=%d", id)
	}
	c.Redirect(http.StatusSeeOther, to)
}
