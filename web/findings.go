package web

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/technique"
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
			if v.Alike = alike(d.result.Findings, f.Code); v.Alike < 2 {
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

// alike is how many findings of a kind have a remedy.
func alike(list []finding.Finding, code finding.Code) (n int) {
	for i := range list {
		if list[i].Code == code && list[i].Mend != nil {
			n++
		}
	}
	return n
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
		if c.PostForm("alike") != "" {
			changes, n, err := d.mendAlike(c.Request.Context(), fs[i].Code)
			if err != nil {
				s.fail(c, err)
				return
			}
			s.change(c, d.stored.ID, edit.Edit{Kind: edit.Mends, Label: fmt.Sprintf("%d × %s", n, fs[i].Fix), Changes: changes})
			return
		}
		ways := fs[i].Offers()
		way := number(c.PostForm("way"), 0)
		if way < 0 || way >= len(ways) {
			s.fail(c, inputError{fmt.Errorf("this one wants hands or a decision: %s", fs[i].Fix)})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Mends, Label: ways[way].Fix, Changes: ways[way].Mend()})
	})
}

// mostAlike is how long findings of a kind are mended together; the button is there again for what is left.
const mostAlike = 5 * time.Second

// mendAlike mends findings of a kind one after another, each on the piece as the one before has left it, for as long as
// there are fewer after each; n is how many that were.
func (d *opened) mendAlike(ctx context.Context, code finding.Code) (all []edit.Change, n int, err error) {
	doc, err := edit.Parse(d.stored.Doc)
	if err != nil {
		return nil, 0, err
	}
	list, begun := d.result.Findings, time.Now()
	for left := alike(list, code); left > 0 && time.Since(begun) < mostAlike; {
		i := slices.IndexFunc(list, func(f finding.Finding) bool { return f.Code == code && f.Mend != nil })
		changes := list[i].Remedy()
		if _, err := doc.Apply(changes); err != nil {
			return nil, 0, err
		}
		p, err := technique.Piece(doc)
		if err != nil {
			return nil, 0, err
		}
		r, err := check.RunContext(ctx, p)
		if err != nil {
			return nil, 0, err
		}
		list = r.Findings
		now := alike(list, code)
		if now >= left {
			break
		}
		all, n, left = append(all, changes...), n+1, now
	}
	if n == 0 {
		return nil, 0, inputError{fmt.Errorf("these want hands or a decision")}
	}
	return all, n, nil
}

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
