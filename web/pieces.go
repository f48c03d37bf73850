package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image/color"
	"io"
	"log/slog"
	"net/http"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/repeats"
	"vindel/knit/technique"
	"vindel/knit/words"
	"vindel/paper"
	"vindel/store"
)

type rewindFunc func(ctx context.Context, id, on int64) (string, error)

type piecesView struct {
	Page       Page
	List       []pieceCard
	Machines   []machineChoice
	Techniques []piece.Word
	Recipes    []shelfRecipe // to begin from
	Away       int64         // a piece just put away, that can be brought back

	Browse        browse
	All, Found    int    // pieces on the shelf, asked for or not, and those that are asked for
	Part          int    // how many are shown at once,
	More          string // and where the next are; "": all are shown
	Full          string // a warning that the disk is nearly full; "": it is not
	States, Sorts []choiceWord
	OnMachines    []string // machines that pieces are on
	Labels        []string
	Repeat        *repeats.Repeat // to begin from
	Machine       string          // that was chosen last
	Spoken        spokenView
}

// pieceCard is one piece on the home page: on which machine, how far, what is next. What
// shelfSum holds is stored, so that the page plans nothing.
type pieceCard struct {
	shelfSum
	ID, Rev int64
	Done    int
	Percent int
	Next    string
	Station string
	Touched string
	Waits   bool // it is being worked out
	Labels  []string
	Bad     string
}

// shelfSum is what is worked out from a piece as it is planned, and from the journal up to an entry.
type shelfSum struct {
	Name, Machine string
	Summary       []sum
	Passes        int
	Stops, Warns  int
	Yarns         []yarnState
	Head          int
	Worn          string

	Reached int64 // the last entry of the journal when it was worked out
	Knitted int   // and how many passes were knitted
}

// made names this build: what another has worked out is worked out anew, since it may plan otherwise.
var made = func() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return ""
	}
	for _, set := range info.Settings {
		if set.Key == "vcs.revision" {
			return set.Value
		}
	}
	return info.Main.Version
}()

// shelfPart is how many pieces the shelf shows at once; the next come as she gets there.
const shelfPart = 40

func (s *Server) pieces(c *gin.Context) {
	ctx := c.Request.Context()
	list, err := s.store.Shelf(ctx, made)
	if err != nil {
		s.fail(c, err)
		return
	}
	v := piecesView{Page: s.page(c, "Pieces"), Techniques: techniqueWords()}
	v.Recipes, _ = shippedRecipes()
	if v.Machines, err = s.machineChoices(c); err != nil {
		s.fail(c, err)
		return
	}
	v.Away, _ = strconv.ParseInt(c.Query("away"), 10, 64)
	labels, err := s.store.Labels(ctx)
	if err != nil {
		s.fail(c, err)
		return
	}
	left := s.patience // for those that are worked out here, all together; others come when they are ready
	for i := range list {
		began := time.Now()
		card := s.pieceCard(ctx, &list[i], left)
		card.Labels = labels[card.ID]
		v.List = append(v.List, card)
		left = max(0, left-time.Since(began))
	}
	v.All, v.States, v.Sorts, v.Browse = len(v.List), states, sorts, browsed(c)
	v.OnMachines = distinct(v.List, func(p *pieceCard) []string { return []string{p.Machine} })
	v.Labels = distinct(v.List, func(p *pieceCard) []string { return p.Labels })
	v.List = slices.DeleteFunc(v.List, func(p pieceCard) bool { return !v.Browse.fits(&p) })
	v.Browse.order(v.List)
	v.Found, v.Part = len(v.List), shelfPart
	from := min(max(number(c.Query("from"), 0), 0), v.Found)
	if upto := from + shelfPart; upto < v.Found {
		v.More, v.List = v.Browse.from(upto), v.List[:upto]
	}
	v.List = v.List[from:]
	if room, err := s.store.Room(); err == nil {
		v.Full = room.Warning()
	}
	v.Repeat, v.Spoken = repeats.Find(c.Query("repeat")), s.spoken(c)
	if v.Machine, err = s.store.Setting(ctx, lastMachine); err != nil {
		s.fail(c, err)
		return
	}
	s.render(c, "pieces", v)
}

// shelfCard is the card of one piece, which the page asks for where it was not ready.
func (s *Server) shelfCard(c *gin.Context) {
	id, err := pieceID(c)
	var one store.OnShelf
	if err == nil {
		one, err = s.store.OneOnShelf(c.Request.Context(), made, id)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	labels, err := s.store.Labels(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	card := s.pieceCard(c.Request.Context(), &one, s.patience)
	card.Labels = labels[id]
	s.partial(c, "pieces", "piece-card", card)
}

// pieceCard is the card of a piece, by what is stored of it, or worked out in so much time.
func (s *Server) pieceCard(ctx context.Context, p *store.OnShelf, wait time.Duration) pieceCard {
	card := pieceCard{ID: p.ID, Rev: p.Rev, Station: "draw", Touched: since(s.now().Sub(p.Updated)), Done: p.At.Done}
	card.Name, card.Head = p.Name, p.Head
	if json.Unmarshal(p.Card, &card.shelfSum) != nil { // none is stored, or not one of these
		var d *opened
		err := errWorking // where no time is left, nothing is begun: the card asks for itself when it is in sight
		if wait > 0 {
			d, err = s.openIn(ctx, p.ID, wait)
		}
		switch {
		case errors.Is(err, errWorking):
			card.Waits, card.Next = true, "Open"
		case err != nil:
			_, card.Bad = answerTo(err)
			if card.Bad == "" {
				card.Bad = "This piece cannot be worked out. Open it to see what can be done."
			}
			card.Next = "Open"
		default:
			card.shelfSum = d.shelfSum(p.At)
		}
	}
	if card.Name == "" {
		card.Name = "Untitled piece"
	}
	if card.Bad != "" || card.Waits {
		return card
	}
	if p.At.ID == card.Reached {
		card.Done = card.Knitted // where a plan has changed since, by the pass and not by the count
	}
	if card.Passes > 0 {
		card.Done = min(card.Done, card.Passes)
		card.Percent = 100 * card.Done / card.Passes
	}
	switch {
	case card.Stops > 0:
		card.Next, card.Station = "Mend what stops the plan", "prove"
	case card.Done > 0 && card.Done < card.Passes:
		card.Next, card.Station = fmt.Sprintf("Knit on, pass %d", card.Done+1), "knit"
	case card.Done > 0:
		card.Next, card.Station = "Knitted to the last pass", "knit"
	default:
		card.Next, card.Station = "Ready to prove and prepare", "prove"
	}
	return card
}

// shelfSum sums a piece up for the shelf, with the last entry of its journal.
func (d *opened) shelfSum(at store.Entry) shelfSum {
	h := d.head()
	sum := shelfSum{Name: h.Name, Machine: d.piece.Machine.Name, Summary: h.Summary,
		Passes: len(d.result.Plan.Passes), Stops: h.Stops,
		Warns: h.Warns, Head: d.stored.Head, Worn: d.worn(), Reached: at.ID, Knitted: d.done(at)}
	for _, y := range d.piece.Yarns {
		sum.Yarns = append(sum.Yarns, yarnState{ID: string(y.ID), Name: y.Name, Colour: y.Colour})
	}
	return sum
}

// cardRest is how long a piece is left alone before its card is stored: strokes must not wait
// for it.
const cardRest = 2 * time.Second

// keepCard stores what the shelf shows of a piece just worked out, a little later. Without it
// the shelf works it out again, so a failure changes nothing.
func (s *Server) keepCard(ctx context.Context, d *opened) {
	id, rev := d.stored.ID, d.stored.Rev
	at, err := s.store.Reached(ctx, id)
	if err != nil {
		return
	}
	card, err := json.Marshal(d.shelfSum(at))
	if err != nil {
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if t := s.cards[id]; t != nil {
		t.Stop()
	}
	s.cards[id] = time.AfterFunc(cardRest, func() {
		s.mu.Lock()
		delete(s.cards, id)
		s.mu.Unlock()
		if err := s.store.SaveCard(context.Background(), id, rev, made, card); err != nil {
			slog.Debug("a card was not kept", "piece", id, "error", err)
		}
	})
}

// lastMachine is the setting that holds the machine on which a piece was begun last.
const lastMachine = "machine"

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
	} else if m.ID == "" { // none was begun on yet
		m = choices[len(choices)-len(shippedChoices())]
	}
	doc, err := s.newDocument(c, m)
	brings := bringsMachine(c)
	if err == nil && !brings {
		err = ownMachineOf(doc, m)
	}
	var p *piece.Piece
	if err == nil {
		p, err = technique.Piece(doc)
	}
	if err != nil {
		s.fail(c, inputError{err})
		return
	}
	id, err := s.store.Add(c.Request.Context(), doc.JSON())
	if err == nil && !brings {
		err = s.store.SetSetting(c.Request.Context(), lastMachine, m.ID)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	_, file, _ := c.Request.FormFile("file")
	for _, drawn := range p.Charts { // one, but of a file
		n, has := number(c.PostForm("repeats"), 1), p.Work().Len()/drawn.W
		if n*drawn.W > int(p.Machine.Bed) && n > has && (file == nil || extension(file.Filename) != ".json") {
			s.mu.Lock()
			s.notices[id] = []string{fmt.Sprintf("%s of %s take %s, and the bed has %d: %d stand side by side.",
				words.Count(n, "repeat", "repeats"), words.Stitches(drawn.W), words.Count(n*drawn.W, "needle", "needles"),
				p.Machine.Bed, max(has, 1))}
			s.mu.Unlock()
		}
	}
	goTo(c, fmt.Sprintf("/pieces/%d/draw", id))
}

// goTo leads to a page: what a script has asked for too.
func goTo(c *gin.Context, to string) {
	if c.GetHeader("HX-Request") != "" {
		c.Header("HX-Redirect", to)
		c.Status(http.StatusNoContent)
		return
	}
	c.Redirect(http.StatusSeeOther, to)
}

// bringsMachine says that what a piece is begun from is written for a machine, and stays on it: a piece file, a shipped
// recipe. Another one is chosen afterwards, where what it takes is told.
func bringsMachine(c *gin.Context) bool {
	_, header, err := c.Request.FormFile("file")
	return err == nil && extension(header.Filename) == ".json" ||
		c.PostForm("from") == "recipe" && c.PostForm("recipe") != ""
}

// ownMachineOf puts a new piece on the user's own machine, where one was chosen.
func ownMachineOf(doc *edit.Document, m machineChoice) (err error) {
	if m.Own == 0 {
		return nil
	}
	p, err := technique.Piece(doc)
	if err == nil {
		_, err = doc.Apply(edit.ToMachine(p, m.Doc))
	}
	return err
}

func (s *Server) newDocument(c *gin.Context, m machineChoice) (*edit.Document, error) {
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
	if c.PostForm("from") == "recipe" {
		if key := c.PostForm("recipe"); key != "" {
			return exampleDocument(key, c.PostForm("name"))
		}
		start.Technique = &technique.Recipe.Technique
		if start.W, start.H = number(c.PostForm("stitches"), 12), 1; start.W < 1 || start.W > machine.MaxBed {
			return nil, fmt.Errorf("a recipe is 1 to %d stitches wide", machine.MaxBed)
		}
		return edit.New(start)
	}
	if r := repeats.Find(c.PostForm("repeat")); c.PostForm("from") == "repeat" {
		if r == nil {
			return nil, fmt.Errorf("choose a repeat of the shelf")
		}
		return r.Document(name, profile, number(c.PostForm("repeats"), 1))
	}
	if c.PostForm("from") == "blank" {
		start.Technique = &technique.For(nil, c.PostForm("technique")).Technique
		start.W, start.H = number(c.PostForm("stitches"), 12), number(c.PostForm("rows"), 12)
		if start.W < 1 || start.W > machine.MaxBed || start.H < 1 || start.H > 2000 {
			return nil, fmt.Errorf("a blank chart has 1 to %d stitches and 1 to 2000 rows", machine.MaxBed)
		}
		doc, err := edit.New(start)
		if err == nil && c.PostForm("shape") != "" {
			err = beginShape(doc, c.PostForm("shape"))
		}
		return doc, err
	}
	in, err := s.readChart(c)
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
	doc, err := edit.New(start)
	if err == nil && in.Repeat != [2]int{} {
		var p *piece.Piece
		if p, err = technique.Piece(doc); err == nil {
			_, err = doc.Apply(edit.EdgesApart(p, p.Charts[start.ChartName], in.Chart.W, in.Repeat))
		}
	}
	return doc, err
}

// beginShape gives a new piece one of the shapes to begin from, in its usual measures.
func beginShape(doc *edit.Document, name string) error {
	p, err := technique.Piece(doc)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(piece.ShapesToBegin, func(b piece.ShapeToBegin) bool { return b.Name == name })
	if i < 0 {
		return fmt.Errorf("no shape is called %q", name)
	}
	b := &piece.ShapesToBegin[i]
	var measures []float64
	for _, m := range b.Measures {
		measures = append(measures, m.MM)
	}
	changes, err := edit.BeginShape(p, b, measures)
	if err == nil {
		_, err = doc.Apply(changes)
	}
	return err
}

// exampleDocument is a shipped recipe as a piece of its own, on the machine that it is written for,
// under a name, "" for its own.
func exampleDocument(key, name string) (*edit.Document, error) {
	e := recipe.Shipped(key)
	if e.File == nil {
		return nil, fmt.Errorf("%q: no such recipe", key)
	}
	doc, err := edit.Parse(e.File)
	if name = strings.TrimSpace(name); err == nil && name != "" {
		_, err = doc.Apply(edit.Set(edit.Member("name"), name))
	}
	return doc, err
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
