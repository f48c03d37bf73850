package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"slices"
	"sync"
	"time"

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
// Where that takes longer than a request should, the error is errWorking.
func (s *Server) open(ctx context.Context, id int64) (*opened, error) {
	return s.openIn(ctx, id, s.patience)
}

// openIn is open for one who waits so long.
func (s *Server) openIn(ctx context.Context, id int64, wait time.Duration) (*opened, error) {
	stored, err := s.store.Piece(ctx, id)
	if err != nil {
		return nil, err
	}
	if d := s.results.recall(stored); d != nil {
		return &opened{stored, d.piece, d.result}, nil
	}
	v, err := s.works.do(ctx, wait, fmt.Sprint("piece ", id, " ", stored.Rev), func(ctx context.Context) (any, error) {
		p, err := technique.Read(stored.Doc)
		if err != nil {
			return nil, brokenError{stored, err}
		}
		r, err := s.check(ctx, p)
		if err != nil {
			return nil, err
		}
		d := &opened{stored, p, r}
		s.results.remember(d)
		s.keepCard(ctx, d)
		return d, nil
	})
	var broke brokeError
	if errors.As(err, &broke) {
		slog.ErrorContext(ctx, "a piece breaks the core", "piece", id, "revision", stored.Rev, "error", err)
		return nil, brokenError{stored,
			errors.New("this piece breaks what works it out, which is a fault of Vindel and not of the piece")}
	}
	if err != nil {
		return nil, err
	}
	d := v.(*opened)
	return &opened{stored, d.piece, d.result}, nil
}

// large is from how many rows on pieces are worked out one after another, whoever asks for
// them: each takes hundreds of megabytes.
const large = 10_000

// check runs the core on a piece.
func (s *Server) check(ctx context.Context, p *piece.Piece) (*check.Result, error) {
	if p.RowsAsked() < large {
		return check.RunContext(ctx, p)
	}
	if err := s.largeOnes.take(ctx); err != nil {
		return nil, err
	}
	defer s.largeOnes.give()
	s.results.forgetLarge()
	r, err := check.RunContext(ctx, p)
	debug.FreeOSMemory()
	return r, err
}

// results are those that were last used, the latest last, of so many passes in all.
type results struct {
	mu   sync.Mutex
	list []*opened
}

const keptPasses = 120_000

// recall finds the result for a piece as it is stored, nil where there is none.
func (k *results) recall(stored store.Piece) *opened {
	k.mu.Lock()
	defer k.mu.Unlock()
	for i, d := range k.list {
		if d.stored.ID == stored.ID && bytes.Equal(d.stored.Doc, stored.Doc) {
			k.list = append(slices.Delete(k.list, i, i+1), d)
			return d
		}
	}
	return nil
}

// remember keeps a result in place of an older one of the same piece.
func (k *results) remember(d *opened) {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.list = slices.DeleteFunc(k.list, func(o *opened) bool { return o.stored.ID == d.stored.ID })
	k.list = append(k.list, d)
	passes := 0
	for i := len(k.list) - 1; i >= 0; i-- {
		if passes += len(k.list[i].result.Plan.Passes); passes > keptPasses && i < len(k.list)-1 {
			k.list = slices.Delete(k.list, 0, i+1)
			return
		}
	}
}

// forgetLarge makes room for another large one.
func (k *results) forgetLarge() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.list = slices.DeleteFunc(k.list, func(o *opened) bool { return o.piece.RowsAsked() >= large })
}

// brokenError says that a stored piece cannot be read, and why.
type brokenError struct {
	stored store.Piece
	error
}

func (e brokenError) Unwrap() error { return e.error }

// withPiece opens the piece that the request names and hands it on, or answers the error.
func (s *Server) withPiece(c *gin.Context, f func(d *opened)) { s.withPieceIn(c, s.patience, f) }

// withPieceIn is withPiece for what waits so long.
func (s *Server) withPieceIn(c *gin.Context, wait time.Duration, f func(d *opened)) {
	id, err := pieceID(c)
	if err == nil {
		var d *opened
		if d, err = s.openIn(c.Request.Context(), id, wait); err == nil {
			c.Set(pieceNameKey, d.piece.Name)
			f(d)
			return
		}
	}
	s.fail(c, err)
}

// pieceNameKey holds the name of the piece that a request is about, for the names of files.
const pieceNameKey = "piece name"

// head is the piece as the bar above its pages shows it.
func (d *opened) head() *pieceHead {
	h := &pieceHead{ID: d.stored.ID, Rev: d.stored.Rev, Name: d.piece.Name, CanUndo: d.stored.CanUndo,
		CanRedo: d.stored.CanRedo, Summary: d.summary()}
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
	passes := unit(t.Passes, "pass", "passes")
	if d.result.Plan.Stopped.Row > 0 {
		passes.Unit += " up to the stop"
	}
	list := []sum{{d.piece.Work().Len(), "st"}, unit(rows, "row", "rows"), passes}
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

// worn is the face of the piece that is outside when worn: that of its first patterned section.
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
		p.Teach, _ = s.teach(c.Request.Context(), d, station) // without it the page is as good
	}
	return p
}
