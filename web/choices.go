package web

import (
	"context"
	"errors"
	"fmt"

	"github.com/gin-gonic/gin"

	"vindel/knit/edit"
	"vindel/knit/weigh"
)

// choicesView is what the plan decides, with what each other way would cost.
type choicesView struct {
	ID      int64
	List    []weigh.Choice
	Working bool // it is being worked out: asked for again
	Large   bool // the piece is too long to be planned so often
}

// choices lists what could be otherwise, as a part of the page that proves the piece.
func (s *Server) choices(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		v := choicesView{ID: d.stored.ID, Large: d.piece.RowsAsked() >= large}
		if !v.Large {
			list, err := s.decided(c, d)
			if v.List, v.Working = list, errors.Is(err, errWorking); err != nil && !v.Working {
				s.fail(c, err)
				return
			}
		}
		s.partial(c, "prove", "choices", v)
	})
}

func (s *Server) decided(c *gin.Context, d *opened) ([]weigh.Choice, error) {
	list, err := s.works.do(c.Request.Context(), s.patience, fmt.Sprint("choices ", d.stored.ID, " ", d.stored.Rev),
		func(ctx context.Context) (any, error) {
			doc, err := edit.Parse(d.stored.Doc)
			if err != nil {
				return nil, err
			}
			return weigh.Of(ctx, doc, d.result)
		})
	if err != nil {
		return nil, err
	}
	return list.([]weigh.Choice), nil
}

// choose takes another way of what the plan decides: the one of that title and text.
func (s *Server) choose(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		title, way := c.PostForm("title"), c.PostForm("way")
		changes := weigh.Changes(d.result, title, way)
		if len(changes) == 0 {
			s.fail(c, inputError{fmt.Errorf("that choice is gone; the piece has changed meanwhile")})
			return
		}
		s.change(c, d.stored.ID, edit.Edit{Kind: edit.Settings, Label: title + ": " + way, Changes: changes})
	})
}
