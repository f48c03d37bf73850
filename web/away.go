package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"vindel/store"
)

type awayView struct {
	Page             Page
	Pieces, Machines []awayRow
}

type awayRow struct {
	ID         int64
	Name, When string
}

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
	s.render(c, "away", awayView{s.page(c, "Put away"), s.awayRows(pieces, "Untitled piece"),
		s.awayRows(machines, "A machine")})
}

func (s *Server) awayRows(list []store.Put, nameless string) (rows []awayRow) {
	for _, p := range list {
		row := awayRow{p.ID, p.Name, since(s.now().Sub(p.At))}
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
	if c.PostForm("what") == "machine" {
		remove = s.store.DeleteMachine
	}
	if err == nil {
		err = remove(c.Request.Context(), id)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/away")
}
