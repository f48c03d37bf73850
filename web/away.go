package web

import (
	"errors"
	"fmt"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/store"
)

type awayView struct {
	Page                       Page
	Pieces, Machines, Projects []awayRow
}

type awayRow struct {
	ID         int64
	Name, When string
	Until      string // the day until which it cannot be deleted for good; "" when it can
}

// awayFor is how long what was put away lies there at least: a month.
const awayFor = 30 * 24 * time.Hour

// away lists what was put away: it can be brought back until it is deleted for good.
func (s *Server) away(c *gin.Context) {
	ctx := c.Request.Context()
	pieces, err := s.store.PutAwayPieces(ctx)
	if err != nil {
		s.fail(c, err)
		return
	}
	machines, err := s.store.PutAwayMachines(ctx)
	if err != nil {
		s.fail(c, err)
		return
	}
	projects, err := s.store.PutAwayProjects(ctx)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.render(c, "away", awayView{s.page(c, "Away"), s.awayRows(pieces, "Untitled piece"),
		s.awayRows(machines, "A machine"), s.awayRows(projects, "A project")})
}

func (s *Server) awayRows(list []store.Put, nameless string) (rows []awayRow) {
	for _, p := range list {
		row := awayRow{ID: p.ID, Name: p.Name, When: since(s.now().Sub(p.At))}
		if until := p.At.Add(awayFor); !s.now().After(until) {
			row.Until = until.Format("2 January")
		}
		if row.Name == "" {
			row.Name = nameless
		}
		rows = append(rows, row)
	}
	return rows
}

// deleteForGood deletes a piece or a machine that was put away.
func (s *Server) deleteForGood(c *gin.Context) {
	id, err := pieceID(c)
	remove := s.store.DeletePiece
	switch c.PostForm("what") {
	case "machine":
		remove = s.store.DeleteMachine
	case "project":
		remove = s.store.DeleteProject
	}
	if err == nil {
		err = remove(c.Request.Context(), id, s.now().Add(-awayFor))
	}
	if errors.Is(err, store.ErrSoon) {
		err = inputError{fmt.Errorf("what was put away lies here for a month before it can be deleted for good")}
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/away")
}
