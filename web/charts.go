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

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/recipe"
	"vindel/knit/technique"
)

// follows are the charts that the text of a section's recipe names.
func follows(p *piece.Piece) func(s *piece.Section) []string {
	return func(s *piece.Section) []string {
		rec, errs := recipe.Parse(s.Recipe)
		if len(errs) > 0 || rec == nil { // what cannot be read may name any
			return chartNames(p)
		}
		return rec.Charts()
	}
}

// charts renames a chart, copies it into another piece, or takes it away.
func (s *Server) charts(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		p := d.piece
		drawn := p.Charts[c.PostForm("chart")]
		if drawn == nil {
			s.fail(c, inputError{fmt.Errorf("no chart is called %q", c.PostForm("chart"))})
			return
		}
		doc, err := edit.Parse(d.stored.Doc)
		if err != nil {
			s.fail(c, err)
			return
		}
		var changes []edit.Change
		label, to := "", "" // the chart that is shown then
		switch c.PostForm("do") {
		case "rename":
			to, label = strings.TrimSpace(c.PostForm("name")), "rename a chart"
			changes, err = edit.RenameChart(p, doc, drawn, to, follows(p))
		case "drop":
			label = "take a chart away"
			changes, err = edit.DropChart(p, drawn, follows(p))
		case "copy":
			s.copyChart(c, d, doc, drawn)
			return
		default:
			err = fmt.Errorf("what is to be done with the chart?")
		}
		if err == nil && len(changes) > 0 {
			e := edit.Edit{Kind: edit.Settings, Label: label, Changes: changes, On: revision(c)}
			err = s.store.Edit(c.Request.Context(), d.stored.ID, e)
		}
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw?chart=%s", d.stored.ID, url.QueryEscape(to)))
	})
}

// copyChart puts a chart of one piece into another, and shows it there.
func (s *Server) copyChart(c *gin.Context, d *opened, doc *edit.Document, drawn *piece.Chart) {
	ctx := c.Request.Context()
	id, _ := strconv.ParseInt(c.PostForm("to"), 10, 64)
	other, err := s.store.Piece(ctx, id)
	if err != nil {
		s.fail(c, inputError{errors.New("choose the piece that the chart is to be copied into")})
		return
	}
	p, err := technique.Read(other.Doc)
	if err != nil {
		s.fail(c, inputError{err})
		return
	}
	name, changes := edit.CopyChart(p, d.piece, doc, drawn)
	if err := s.store.Edit(ctx, id, edit.Edit{Kind: edit.Settings, Label: "copy a chart", On: other.Rev,
		Changes: changes}); err != nil {
		s.fail(c, inputError{err})
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw?chart=%s", id, url.QueryEscape(name)))
}

// copyPiece makes another piece of one, as it stands now; its journal stays with the first.
func (s *Server) copyPiece(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		ctx := c.Request.Context()
		doc, err := edit.Parse(d.stored.Doc)
		if err == nil {
			_, err = doc.Apply(edit.Set(edit.Member("name"), d.head().Name+", copy"))
		}
		var id int64
		if err == nil {
			id, err = s.store.Add(ctx, doc.JSON())
		}
		if err == nil {
			var labels map[int64][]string
			if labels, err = s.store.Labels(ctx); err == nil {
				err = s.store.SetLabels(ctx, id, labels[d.stored.ID])
			}
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/draw", id))
	})
}

// mostLabels are the words of her own that one piece may have.
const mostLabels = 12

// setShelf gives a piece its name and words of her own, written with commas between, as its card on
// the shelf has them.
func (s *Server) setShelf(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		ctx := c.Request.Context()
		name, err := named(c, "name", "the name", true)
		var words []string
		for w := range strings.SplitSeq(c.PostForm("labels"), ",") {
			if w = strings.Join(strings.Fields(w), " "); w != "" && !slices.Contains(words, w) {
				words = append(words, w)
			}
			if len(w) > 60 {
				err = inputError{fmt.Errorf("%q: a label has at most 60 characters", w)}
			}
		}
		if len(words) > mostLabels {
			err = inputError{fmt.Errorf("a piece has at most %d labels", mostLabels)}
		}
		if err == nil && name != d.piece.Name {
			err = s.store.Edit(ctx, d.stored.ID, edit.Edit{Kind: edit.Settings, Label: "rename", On: revision(c),
				Changes: edit.Set(edit.Member("name"), name)})
		}
		if err == nil {
			err = s.store.SetLabels(ctx, d.stored.ID, words)
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		to := "/"
		if u, err := url.Parse(c.Request.Referer()); err == nil && u.Path == "/" && u.RawQuery != "" {
			to += "?" + u.RawQuery
		}
		c.Redirect(http.StatusSeeOther, to)
	})
}

// dropYarn takes a yarn away that nothing uses; else the place that names it is said.
func (s *Server) dropYarn(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		id := c.PostForm("yarn")
		i := slices.IndexFunc(d.piece.Yarns, func(y piece.Yarn) bool { return string(y.ID) == id })
		if i < 0 {
			s.fail(c, inputError{fmt.Errorf("no yarn has the letter %q", id)})
			return
		}
		changes := edit.Drop(edit.Member("yarns").At(i))
		doc, err := edit.Parse(d.stored.Doc)
		if err == nil {
			if _, err = doc.Apply(changes); err == nil {
				_, err = technique.Piece(doc)
			}
		}
		if err != nil {
			s.fail(c, inputError{fmt.Errorf("%s is still used: %w", d.piece.Yarns[i].Name, err)})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Settings, Label: "take a yarn away", Changes: changes})
	})
}

// otherPiece is a piece as lists name it.
type otherPiece struct {
	ID   int64
	Name string
}

// otherPieces are the pieces on the shelf but one, by name. Without them the page has one list less.
func (s *Server) otherPieces(c *gin.Context, but int64) (list []otherPiece) {
	shelf, err := s.store.Shelf(c.Request.Context(), made)
	if err != nil {
		return nil
	}
	for _, p := range shelf {
		var card shelfSum
		if json.Unmarshal(p.Card, &card) == nil {
			p.Name = card.Name
		}
		if p.ID != but {
			list = append(list, otherPiece{p.ID, cmp.Or(p.Name, "Untitled piece")})
		}
	}
	slices.SortFunc(list, func(a, b otherPiece) int { return cmp.Compare(a.Name, b.Name) })
	return list
}
