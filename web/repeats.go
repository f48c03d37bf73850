package web

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/repeats"
	"vindel/knit/technique"
)

type repeatsView struct {
	Page    Page
	Groups  []repeatGroup
	Into    int64 // a piece into which one is brought; 0: a new piece is begun
	Name    string
	Shapes  []shapeTile
	Machine string // on which a piece was begun last
}

// repeatGroup is the repeats of one technique.
type repeatGroup struct {
	Label string
	List  []repeatTile
}

// repeatTile is a repeat, drawn as often as a tile has room for.
type repeatTile struct {
	*repeats.Repeat
	W, H  int    // of the drawing, in stitches
	Cells string // the path of the cells that are not ground, a stitch wide, the top row first
	Holes string // and of eyelets
}

// shapeTile is a shape to begin from, as it is where no measure is typed.
type shapeTile struct {
	Name, Label string
	X, Y, W, H  float64 // what the drawing shows, in millimetres
	Points      string
	Wide, Tall  int
}

func shapeTiles() (list []shapeTile) {
	for i := range piece.ShapesToBegin {
		b := &piece.ShapesToBegin[i]
		var m []float64
		for _, a := range b.Measures {
			m = append(m, a.MM)
		}
		o := b.Outline(m)
		t := shapeTile{Name: b.Name, Label: b.Label}
		left, top := 0.0, 0.0
		edge := func(p [2]float64, high float64) {
			left, top = max(left, -p[0]), max(top, p[1])
			t.Points += fmt.Sprintf("%g,%g ", p[0], high-p[1])
		}
		high := o.Left[len(o.Left)-1][1]
		for _, p := range o.Left {
			edge(p, high)
		}
		if b.Neck {
			wide, deep := m[len(m)-2], m[len(m)-1]
			t.Points += fmt.Sprintf("%g,0 %g,%g %g,%g %g,0 ", -wide/2, -wide/3, deep, wide/3, deep, wide/2)
		}
		for _, p := range slices.Backward(o.Right) {
			edge(p, high)
		}
		t.X, t.Y, t.W, t.H = -left-10, -10, 2*left+20, top+20
		t.Wide, t.Tall = int(2*left), int(top)
		list = append(list, t)
	}
	return list
}

// tileSize is how many stitches a tile shows, in each direction.
const tileSize = 24

func tileOf(r *repeats.Repeat) repeatTile {
	t := repeatTile{Repeat: r, W: tileSize, H: tileSize}
	ground := r.Chart.Keys[0]
	for y := range t.H {
		row := r.Chart.Row(y % r.Chart.H)
		for x := range t.W {
			switch key := r.Chart.Keys[row[x%r.Chart.W]]; key {
			case ground, '.':
			case 'o':
				t.Holes += fmt.Sprintf("M%d.5 %d.2a.3.3 0 1 0 .01 0", x, t.H-1-y)
			case '/':
				t.Cells += fmt.Sprintf("M%d.1 %d.9l.8-.8h.1l-.8.8z", x, t.H-1-y)
			case '\\':
				t.Cells += fmt.Sprintf("M%d.1 %d.1l.8.8h.1l-.8-.8z", x, t.H-1-y)
			default:
				t.Cells += fmt.Sprintf("M%d %dh1v1h-1z", x, t.H-1-y)
			}
		}
	}
	return t
}

// repeats shows the shelf of small repeats: one begins a piece, or comes into one.
func (s *Server) repeats(c *gin.Context) {
	v := repeatsView{Page: s.page(c, "Small repeats"), Shapes: shapeTiles()}
	var err error
	if v.Machine, err = s.store.Setting(c.Request.Context(), lastMachine); err != nil {
		s.fail(c, err)
		return
	}
	if id, err := strconv.ParseInt(c.Query("piece"), 10, 64); err == nil {
		d, err := s.open(c.Request.Context(), id)
		if err != nil {
			s.fail(c, err)
			return
		}
		v.Into, v.Name, v.Page = id, d.head().Name, s.piecePage(c, d, "draw")
		v.Page.Title = "Small repeats"
	}
	at := map[string]int{}
	for i := range repeats.All() {
		r := &repeats.All()[i]
		if _, ok := at[r.Technique]; !ok {
			at[r.Technique] = len(v.Groups)
			v.Groups = append(v.Groups, repeatGroup{Label: technique.For(r.Chart, r.Technique).Label})
		}
		g := &v.Groups[at[r.Technique]]
		g.List = append(g.List, tileOf(r))
	}
	s.render(c, "repeats", v)
}

// takeRepeat brings a repeat into a piece as a chart of its own.
func (s *Server) takeRepeat(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		r := repeats.Find(c.PostForm("repeat"))
		if r == nil {
			s.fail(c, inputError{fmt.Errorf("no repeat is called %q", c.PostForm("repeat"))})
			return
		}
		doc, err := r.Document(r.Name, "card-preselect", 1)
		var from *piece.Piece
		if err == nil {
			from, err = technique.Piece(doc)
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		name, changes := edit.CopyChart(d.piece, from, doc, from.Charts[r.Key])
		if err := s.store.Edit(c.Request.Context(), d.stored.ID, edit.Edit{Kind: edit.Draws, Label: "take a repeat",
			Changes: changes, On: revision(c)}); err != nil {
			s.fail(c, inputError{err})
			return
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw?chart=%s", d.stored.ID, url.QueryEscape(name)))
	})
}
