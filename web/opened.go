package web

import (
	"context"

	"github.com/gin-gonic/gin"

	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/store"
)

// opened is a stored piece with everything the core says about it.
type opened struct {
	stored store.Piece
	piece  *piece.Piece
	result *check.Result
}

// open reads a piece and runs the core on it, unless it has not changed since the last time.
func (s *Server) open(ctx context.Context, id int64) (*opened, error) {
	stored, err := s.store.Piece(ctx, id)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	d := s.desk[id]
	s.mu.Unlock()
	if d != nil && string(d.stored.Doc) == string(stored.Doc) {
		return &opened{stored, d.piece, d.result}, nil
	}
	p, err := technique.Read(stored.Doc)
	if err != nil {
		return nil, err
	}
	d = &opened{stored, p, check.Run(p)}
	s.mu.Lock()
	s.desk[id] = d
	s.mu.Unlock()
	return d, nil
}

// withPiece opens the piece that the request names and hands it on, or answers the error.
func (s *Server) withPiece(c *gin.Context, f func(d *opened)) {
	id, err := pieceID(c)
	if err == nil {
		var d *opened
		if d, err = s.open(c.Request.Context(), id); err == nil {
			f(d)
			return
		}
	}
	s.fail(c, err)
}

// head is the piece as the bar above its pages shows it.
func (d *opened) head() *pieceHead {
	h := &pieceHead{ID: d.stored.ID, Rev: d.stored.Rev, Name: d.piece.Name, CanUndo: d.stored.Head > 0,
		CanRedo: d.stored.Edits > d.stored.Head, Summary: d.summary()}
	if h.Name == "" {
		h.Name = "Untitled piece"
	}
	for _, f := range d.result.Findings {
		switch f.Severity {
		case finding.Stop:
			h.Stops++
		case finding.Warn:
			h.Warns++
		default:
			h.Note++
		}
	}
	return h
}

func (d *opened) summary() []sum {
	t := &d.result.Plan.Totals
	rows := 0
	for _, s := range d.result.Plan.Placed {
		rows += s.Rows
	}
	unit := func(n int, one, many string) sum {
		if n == 1 {
			return sum{n, one}
		}
		return sum{n, many}
	}
	list := []sum{{d.piece.Work().Len(), "st"}, unit(rows, "row", "rows"), unit(t.Passes, "pass", "passes")}
	if t.Bobbins > 0 {
		list = append(list, unit(t.Bobbins, "bobbin", "bobbins"))
	} else {
		list = append(list, unit(t.Threadings, "threading", "threadings"))
	}
	if t.Cuts > 0 {
		list = append(list, unit(t.Cuts, "cut", "cuts"))
	}
	return list
}

// worn is the face of the piece that is worn out: that of its first patterned section.
func (d *opened) worn() string {
	for i := range d.piece.Sections {
		if sec := &d.piece.Sections[i]; len(sec.Areas) > 0 {
			return sec.Technique.Worn.String()
		}
	}
	return "knit"
}

func (s *Server) piecePage(c *gin.Context, d *opened, station string) Page {
	p := s.page(c, d.head().Name)
	p.Station, p.Piece = station, d.head()
	if station != "knit" {
		p.Teach, _ = s.teach(c.Request.Context(), d) // without it the page is as good
	}
	return p
}
