package web

import (
	"context"
	"fmt"
	"math"
	"slices"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/store"
)

// way is one way to separate the colours of a section, and what it comes to.
type way struct {
	Separation, Backing, Words  string
	Passes, Threadings, Minutes int
	Backs                       string // rows of the backing to a row of the front
	Stops                       string
	Mine                        bool
}

type waysView struct {
	ID      int64
	Section int
	List    []way
}

// ways is a table of the ways to separate a section's colours: each planned for this piece on this
// machine, so that she chooses knowing what it costs.
func (s *Server) ways(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		no := number(c.Query("section"), 0)
		if no < 1 || no > len(d.piece.Sections) || d.piece.Section(no).Technique != &technique.Separated.Technique ||
			d.piece.RowsAsked() >= large {
			s.fail(c, store.ErrNone)
			return
		}
		list, err := s.works.do(c.Request.Context(), s.patience, fmt.Sprint("ways ", d.stored.ID, " ", d.stored.Rev,
			" ", no),
			func(ctx context.Context) (any, error) { return s.allWays(ctx, d, no) })
		if err != nil {
			s.fail(c, err)
			return
		}
		s.partial(c, "place", "ways-table", waysView{d.stored.ID, no, list.([]way)})
	})
}

func (s *Server) allWays(ctx context.Context, d *opened, no int) (list []way, err error) {
	now := &d.piece.Section(no).Options
	for _, sep := range piece.FindOption("separation").Words {
		var these []way
		for _, back := range piece.FindOption("backing").Words {
			w := way{Separation: sep.Value, Backing: back.Value, Words: sep.Text + "; " + back.Text,
				Mine: now.Separation == sep.Value && now.Backing == back.Value}
			doc, err := edit.Parse(d.stored.Doc)
			if err == nil {
				_, err = doc.Apply(append(edit.SectionOption(no, "separation", sep.Value), edit.SectionOption(no,
					"backing", back.Value)...))
			}
			var p *piece.Piece
			if err == nil {
				p, err = technique.Piece(doc)
			}
			if err != nil {
				return nil, err
			}
			r, err := s.check(ctx, p)
			if err != nil {
				return nil, err
			}
			for _, f := range r.Findings {
				if f.Severity == finding.Stop && f.Section == no && w.Stops == "" {
					w.Stops = f.Text
				}
			}
			pl := r.Plan
			w.Passes, w.Threadings = pl.Totals.Passes, pl.Totals.Threadings
			_, w.Minutes = beside.Minutes(pl)
			w.Backs = backs(d, no, r.Fabric.SecondFace() != nil, beside.BackRows(pl, no))
			these = append(these, w)
		}
		if why := these[0].Stops; why != "" && !slices.ContainsFunc(these, func(w way) bool { return w.Stops != why }) {
			these = []way{{Words: sep.Text, Stops: why}} // whatever knits behind: said once
		}
		list = append(list, these...)
	}
	return list, nil
}

// backs says how many rows of the backing come to one of the front.
func backs(d *opened, no int, behind bool, rows float64) string {
	if !behind || rows == 0 {
		return "none"
	}
	front := float64(d.result.Plan.Section(no).Rows)
	return fmt.Sprintf("%.1f", math.Round(10*rows/front)/10)
}
