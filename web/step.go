package web

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
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

// listen gives a channel that holds something whenever the piece has changed since it was last read.
func (h *hub) listen(id int64) (changed chan struct{}, stop func()) {
	changed = make(chan struct{}, 1)
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.by[id] == nil {
		h.by[id] = map[chan struct{}]bool{}
	}
	h.by[id][changed] = true
	return changed, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		if delete(h.by[id], changed); len(h.by[id]) == 0 {
			delete(h.by, id)
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

// eventsPath ends the address of what pages listen to; it has no limit of time.
const eventsPath = "/events"

func isEvents(path string) bool {
	return strings.HasPrefix(path, "/pieces/") && strings.HasSuffix(path, eventsPath)
}

// alive is how often a listener is told that the line is there: less than what proxies and phones wait for.
const alive = 20 * time.Second

// events tells a page beside the machine, as server-sent events, where the piece stands: at once, and whenever
// that changes. A page that shows another place asks for itself anew.
func (s *Server) events(c *gin.Context) {
	id, err := pieceID(c)
	if err == nil {
		_, err = s.store.Piece(c.Request.Context(), id)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	changed, stop := s.hub.listen(id)
	defer stop()
	// where it cannot be, the browser connects again
	_ = http.NewResponseController(c.Writer).SetWriteDeadline(time.Time{})
	c.Header("Content-Type", "text/event-stream")
	c.Header("X-Accel-Buffering", "no")
	tick := time.NewTicker(alive)
	defer tick.Stop()
	last := ""
	for {
		ctx := c.Request.Context()
		at, err := s.store.Reached(ctx, id)
		if err != nil {
			return
		}
		piece, err := s.store.Piece(ctx, id)
		if err != nil {
			return
		}
		if now := fmt.Sprintf("%d %d %s", at.ID, piece.Rev, s.wireMark(id)); now != last {
			if _, err := fmt.Fprintf(c.Writer, "event: place\ndata: %s\n\n", now); err != nil {
				return
			}
			last = now
		} else if _, err := fmt.Fprint(c.Writer, ": here\n\n"); err != nil {
			return
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
