package web

import (
	"fmt"
	"html/template"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/knit/words"
	"vindel/paper"
	"vindel/store"
)

// nameVersion keeps the piece as it stands under a name.
func (s *Server) nameVersion(c *gin.Context) {
	id, err := pieceID(c)
	name := strings.TrimSpace(c.PostForm("name"))
	if err == nil && name == "" {
		err = inputError{fmt.Errorf("give the version a name, such as before the heron")}
	}
	if err == nil {
		err = tooLong("a version's name", name, piece.MaxText)
	}
	if err == nil {
		err = s.store.NameVersion(c.Request.Context(), id, name)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, id)
}

// version finds a named version; 0 is the piece as it stands now.
func (s *Server) version(c *gin.Context, d *opened, id int) (store.Version, error) {
	if id == 0 {
		return store.Version{Name: "as it stands now", Doc: d.stored.Doc}, nil
	}
	list, err := s.store.Versions(c.Request.Context(), d.stored.ID)
	if err != nil {
		return store.Version{}, err
	}
	for _, v := range list {
		if v.ID == int64(id) {
			return v, nil
		}
	}
	return store.Version{}, store.ErrNone
}

// bringBack makes a named version the piece as it stands: an edit like any other.
func (s *Server) bringBack(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		v, err := s.version(c, d, number(c.PostForm("version"), -1))
		var doc *edit.Document
		if err == nil {
			doc, err = edit.Parse(v.Doc)
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Restores, Label: "bring back " + v.Name,
			Changes: edit.Everything(doc)})
	})
}

type compareView struct {
	Page     Page
	ID       int64
	Versions []piece.Word // to choose from; 0 is the piece as it stands
	A, B     string
	Chart    string
	Charts   []piece.Word
	Verdict  string
	Sides    []compareSide
}

type versionView struct {
	ID         int64
	Name, When string
}

type compareSide struct {
	Name    string
	Part    string        // of a very large chart: which rows are drawn
	Picture template.HTML // SVG of our own making
	None    string
}

// compare shows a chart in two versions, cell by cell: those that differ are outlined.
func (s *Server) compare(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		a, b := number(c.Query("a"), 0), number(c.Query("b"), 0)
		v := compareView{Page: s.piecePage(c, d, "draw"), ID: d.stored.ID, A: strconv.Itoa(a), B: strconv.Itoa(b)}
		list, err := s.store.Versions(c.Request.Context(), d.stored.ID)
		if err != nil {
			s.fail(c, err)
			return
		}
		v.Versions = choices("0", "as it stands now")
		for _, kept := range list {
			v.Versions = append(v.Versions, piece.Word{Value: strconv.FormatInt(kept.ID, 10), Text: kept.Name})
		}
		var charts []string
		var pieces [2]*piece.Piece
		var names [2]string
		for i, id := range []int{a, b} {
			one, err := s.version(c, d, id)
			if err == nil {
				pieces[i], err = technique.Read(one.Doc)
			}
			if err != nil {
				s.fail(c, err)
				return
			}
			names[i] = one.Name
			for _, n := range chartNames(pieces[i]) {
				if !slices.Contains(charts, n) {
					charts = append(charts, n)
					v.Charts = append(v.Charts, piece.Word{Value: n, Text: n})
				}
			}
		}
		v.Chart = c.Query("chart")
		if !slices.Contains(charts, v.Chart) && len(charts) > 0 {
			v.Chart = charts[0]
		}
		one, other := pieces[0].Charts[v.Chart], pieces[1].Charts[v.Chart]
		differ := piece.Differences(pieces[0], one, pieces[1], other)
		switch {
		case one == nil || other == nil:
			v.Verdict = "Only one of the two has this chart"
		case one.W != other.W || one.H != other.H:
			v.Verdict = fmt.Sprintf("%d × %d and %d × %d; %s where both have one", one.W, one.H, other.W, other.H,
				words.Count(len(differ), "cell differs", "cells differ"))
		case len(differ) == 0:
			v.Verdict = "No cell differs"
		default:
			v.Verdict = words.Count(len(differ), "cell differs", "cells differ")
		}
		for i, ch := range []*piece.Chart{one, other} {
			side := compareSide{Name: names[i]}
			if ch == nil {
				side.None = "There is no such chart."
			} else {
				rows := around(ch, differ)
				if rows != [2]int{1, ch.H} {
					side.Part = fmt.Sprintf("rows %d to %d of %d", rows[0], rows[1], ch.H)
				}
				side.Picture = template.HTML(paper.ChartPartSVG(pieces[i], ch, v.Chart, rows, differ))
			}
			v.Sides = append(v.Sides, side)
		}
		s.render(c, "compare", v)
	})
}

// mostCompared is how many cells of a chart the page draws, so that it comes at once.
const mostCompared = 30_000

// around is the rows of a chart to draw: all, or of a very large one those from a little below
// the lowest cell that differs.
func around(ch *piece.Chart, differ [][2]int) [2]int {
	if ch.W*ch.H <= mostCompared {
		return [2]int{1, ch.H}
	}
	first := 1
	for i, at := range differ {
		if i == 0 || at[1] < first {
			first = at[1]
		}
	}
	shown := max(1, mostCompared/ch.W)
	first = max(1, min(first-10, ch.H-shown+1))
	return [2]int{first, min(ch.H, first+shown-1)}
}

func (s *Server) versionViews(list []store.Version) (views []versionView) {
	for _, v := range list {
		views = append(views, versionView{v.ID, v.Name, since(s.now().Sub(v.At))})
	}
	return views
}
