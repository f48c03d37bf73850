package web

import (
	"context"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/weigh"
	"vindel/knit/words"
)

// findingView is a finding as the pages show it. Index is its place in the list, by
// which its fix is asked for.
type findingView struct {
	Index           int
	Code, Word      string
	Title, Text     string
	Fix             string
	Ways            []string // each a button that does it
	Alike           int      // findings of the same kind that one press mends together; 0: it stands alone, or has stood
	Chart           string
	Column, ChartAt int
}

var severityWords = map[finding.Severity]string{finding.Stop: "Stop", finding.Warn: "Warning", finding.Note: "Note"}

// most findings that a page lists; the rest are counted.
const mostFindings = 60

func (d *opened) findings() (list []findingView) {
	told := map[finding.Code]bool{}
	for i, f := range d.result.Findings[:min(len(d.result.Findings), mostFindings)] {
		v := findingView{Index: i, Code: string(f.Code), Word: severityWords[f.Severity], Text: f.Text, Fix: f.Fix}
		for _, way := range f.Offers() {
			v.Ways = append(v.Ways, way.Fix)
		}
		if f.Mend != nil && !told[f.Code] {
			told[f.Code] = true
			if v.Alike = weigh.Alike(d.result.Findings, f.Code); v.Alike < 2 {
				v.Alike = 0
			}
		}
		if v.Title = "The whole piece"; f.Section > 0 {
			v.Title = fmt.Sprintf("Section %d", f.Section)
		}
		if f.Rows[0] > 0 && f.Rows[0] == f.Rows[1] {
			v.Title += fmt.Sprintf(", row %d", f.Rows[0])
		}
		if !f.Needles.Empty() && f.Section > 0 && f.Rows[0] > 0 {
			v.Chart, v.Column, v.ChartAt = d.result.Plan.Section(f.Section).Source(f.Needles.First(), f.Rows[0])
		}
		list = append(list, v)
	}
	return list
}

// findingList is the findings of a piece as every page lists them.
type findingList struct {
	Piece  int64
	List   []findingView
	More   int // findings that are not listed
	Passes int
	Keys   bool // the digits press the fixes; where they choose a yarn they do not
}

func (d *opened) listed() findingList {
	return findingList{d.stored.ID, d.findings(), max(0, len(d.result.Findings)-mostFindings),
		len(d.result.Plan.Passes), false}
}

func (d *opened) keyed() findingList {
	list := d.listed()
	list.Keys = true
	return list
}

// fix applies the remedy of one finding. The code must still be the one the page
// showed at that place.
func (s *Server) fix(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		i, err := strconv.Atoi(c.PostForm("index"))
		fs := d.result.Findings
		if err != nil || i < 0 || i >= len(fs) || string(fs[i].Code) != c.PostForm("code") {
			s.fail(c, inputError{fmt.Errorf("that finding is gone; the piece has changed meanwhile")})
			return
		}
		ed := edit.Edit{Kind: edit.Mends}
		if c.PostForm("alike") != "" {
			ctx, cancel := context.WithTimeout(c.Request.Context(), mostAlike)
			defer cancel()
			ed.Changes, i, err = weigh.MendAlike(ctx, d.stored.Doc, d.result, fs[i].Code)
			ed.Label = words.Count(i, "finding", "findings") + " of one kind mended"
		} else if ways, way := fs[i].Offers(), number(c.PostForm("way"), 0); way >= 0 && way < len(ways) {
			ed.Label, ed.Changes = ways[way].Fix, ways[way].Mend()
		}
		switch {
		case err != nil:
			s.fail(c, err)
		case len(ed.Changes) == 0:
			s.fail(c, inputError{fmt.Errorf("this one wants hands or a decision")})
		default:
			s.change(c, d.stored.ID, ed)
		}
	})
}

// mostAlike is how long findings of a kind are mended together; the button is there again for what is left.
const mostAlike = 5 * time.Second

// answer follows an edit: the page again for htmx and plain forms, the new state for scripts.
func (s *Server) answer(c *gin.Context, id int64) {
	if wantsJSON(c) {
		s.sendState(c, id)
		return
	}
	back := c.Request.Header.Get("HX-Current-URL")
	if back == "" {
		back = c.Request.Referer()
	}
	c.Redirect(http.StatusSeeOther, localPath(back, fmt.Sprintf("/pieces/%d/draw", id)))
}
