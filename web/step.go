package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/store"
)

// hub tells everybody who looks at a piece that something about it has changed: another device, or a machine on
// a wire, has gone on.
type hub struct {
	mu    sync.Mutex
	by    map[int64]map[chan struct{}]bool
	ended chan struct{}
	once  sync.Once
}

func newHub() *hub { return &hub{by: map[int64]map[chan struct{}]bool{}, ended: make(chan struct{})} }

// end lets everybody go who listens.
func (h *hub) end() { h.once.Do(func() { close(h.ended) }) }

// listen gives a channel that holds something whenever one of these pieces has changed since it was last read.
func (h *hub) listen(ids ...int64) (changed chan struct{}, stop func()) {
	changed = make(chan struct{}, 1)
	h.mu.Lock()
	defer h.mu.Unlock()
	for _, id := range ids {
		if h.by[id] == nil {
			h.by[id] = map[chan struct{}]bool{}
		}
		h.by[id][changed] = true
	}
	return changed, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		for _, id := range ids {
			if delete(h.by[id], changed); len(h.by[id]) == 0 {
				delete(h.by, id)
			}
		}
	}
}

// tell says that a piece has changed.
func (h *hub) tell(id int64) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for changed := range h.by[id] {
		select {
		case changed <- struct{}{}:
		default: // it is told already
		}
	}
}

// told tells of every change of a piece that a request has made.
func (s *Server) told(c *gin.Context) {
	c.Next()
	if c.Request.Method != http.MethodPost || c.Writer.Status() >= 400 {
		return
	}
	if id, err := pieceID(c); err == nil {
		s.hub.tell(id)
	}
}

// eventsPath is what a browser listens to, once for all its pages; it has no limit of time.
const eventsPath = "/events"

// alive is how often a listener is told that the line is there: less than what proxies and phones wait for.
const alive = 20 * time.Second

// How many may listen at once, and to how many pieces each.
const (
	mostListeners = 200
	mostHeard     = 40
)

// errCrowded is told who would be one listener too many.
var errCrowded = errors.New("too many pages listen already")

// events tells a browser, as server-sent events, where the pieces that it asks for stand: at once, and whenever that
// changes. A page beside the machine that shows another place asks for itself anew.
func (s *Server) events(c *gin.Context) {
	ids, err := s.heard(c)
	if err == nil {
		select {
		case s.listeners <- struct{}{}:
			defer func() { <-s.listeners }()
		default:
			err = errCrowded
		}
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	changed, stop := s.hub.listen(ids...)
	defer stop()
	// where it cannot be, the browser connects again
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Time{})
	c.Header("Content-Type", "text/event-stream")
	c.Header("X-Accel-Buffering", "no")
	tick := time.NewTicker(alive)
	defer tick.Stop()
	last := map[int64]string{}
	for {
		ctx := c.Request.Context()
		said := false
		for _, id := range ids {
			now, err := s.standsAt(ctx, id)
			if errors.Is(err, store.ErrNone) {
				continue // it has been deleted; others are listened to on the same line
			}
			if err != nil {
				return
			}
			if now == last[id] {
				continue
			}
			if _, err := fmt.Fprintf(c.Writer, "event: place\ndata: %d %s\n\n", id, now); err != nil {
				return
			}
			last[id], said = now, true
		}
		if !said {
			if _, err := fmt.Fprint(c.Writer, ": here\n\n"); err != nil {
				return
			}
		}
		c.Writer.Flush()
		if !s.mayCome(c) {
			return // the session has been ended meanwhile
		}
		select {
		case <-changed:
		case <-tick.C:
		case <-ctx.Done():
			return
		case <-s.hub.ended:
			return
		}
	}
}

// heard are the pieces that a listener asks for, those left out that are not there any more.
func (s *Server) heard(c *gin.Context) (ids []int64, err error) {
	var gone error
	for _, text := range c.QueryArray("piece") {
		id, _ := strconv.ParseInt(text, 10, 64)
		_, err := s.store.Revision(c.Request.Context(), id)
		switch {
		case errors.Is(err, store.ErrNone):
			gone = err
		case err != nil:
			return nil, err
		case !slices.Contains(ids, id):
			ids = append(ids, id)
		}
	}
	if len(ids) == 0 && gone != nil {
		return nil, gone
	}
	if len(ids) == 0 || len(ids) > mostHeard {
		return nil, inputError{fmt.Errorf("from 1 to %d pieces are listened to", mostHeard)}
	}
	return ids, nil
}

// standsAt is what a page beside the machine shows of where a piece stands: the last entry of its journal, its
// revision, and the wire.
func (s *Server) standsAt(ctx context.Context, id int64) (string, error) {
	at, err := s.store.Reached(ctx, id)
	if err != nil {
		return "", err
	}
	rev, err := s.store.Revision(ctx, id)
	return fmt.Sprintf("%d %d %s", at.ID, rev, s.wireMark(id)), err
}

// all says that everything may have changed.
func (h *hub) all() {
	h.mu.Lock()
	ids := make([]int64, 0, len(h.by))
	for id := range h.by {
		ids = append(ids, id)
	}
	h.mu.Unlock()
	for _, id := range ids {
		h.tell(id)
	}
}
