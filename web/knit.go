package web

import (
	"errors"
	"fmt"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/store"
)

func (s *Server) knit(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		v, err := s.knitView(c, d)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.render(c, "knit", v)
	})
}

// knitted writes a pass down before it answers: forward, back, or to a pass by its number.
func (s *Server) knitted(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		from := number(c.PostForm("from"), -1)
		if from < 0 {
			s.fail(c, inputError{errors.New("from: the pass that the page shows is missing")})
			return
		}
		e, err := d.entry(c.PostForm("do"), from, c.PostForm("to"), c.PostForm("note"))
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		at, err := s.store.Reached(c.Request.Context(), d.stored.ID)
		if err != nil {
			s.fail(c, err)
			return
		}
		// A press that came twice, or from a page left open, moves nothing: the answer
		// shows where the knitter really is.
		if d.done(at) == from {
			_, err = s.store.Write(c.Request.Context(), d.stored.ID, at.ID, e)
		}
		if err != nil && !errors.Is(err, store.ErrMoved) {
			s.fail(c, err)
			return
		}
		if c.GetHeader("HX-Request") == "" {
			c.Redirect(303, fmt.Sprintf("/pieces/%d/knit", d.stored.ID))
			return
		}
		v, err := s.knitView(c, d)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.partial(c, "knit", "knit-body", v)
	})
}

// entry is what a press writes into the journal, with `from` passes knitted before it.
func (d *opened) entry(do string, from int, to, note string) (e store.Entry, err error) {
	passes := d.result.Plan.Passes
	e = store.Entry{Kind: do, Done: from}
	switch do {
	case "knitted":
		e.Done = min(from+1, len(passes))
	case "back":
		e.Done = max(from-1, 0)
	case "jump":
		n := number(to, -1)
		if n < 1 || n > len(passes)+1 {
			return e, fmt.Errorf("%q: the piece has passes 1 to %d", to, len(passes))
		}
		e.Done = n - 1
	case "pause", "resume":
	case "note":
		e.Note = strings.TrimSpace(note)
	default:
		return e, fmt.Errorf("%q: knitted, back, jump, pause, resume or note", do)
	}
	if e.Done > 0 && e.Done <= len(passes) {
		e.Pass = passes[e.Done-1].ID
	}
	return e, nil
}

// done is how many passes of the plan are knitted, by the last entry of the journal.
func (d *opened) done(at store.Entry) int {
	done, _ := beside.Done(d.result.Plan, at.Pass, at.Done)
	return done
}
