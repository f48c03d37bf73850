package web

import (
	"container/list"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"net/http"
	"net/url"
	"sync"

	"github.com/gin-gonic/gin"
)

// faceCache keeps pictures of fabric under a hash of what they show: the piece's file, this build, and
// what of it is looked at. An undo that brings a piece back to what it was finds its pictures again.
type faceCache struct {
	mu    sync.Mutex
	by    map[string]*list.Element
	used  *list.List // of *drawnFace, the latest used first
	bytes int
}

type drawnFace struct {
	key, kind string
	data      []byte
}

// mostFaceBytes is how much the pictures that are kept may take in all.
const mostFaceBytes = 48 << 20

func newFaceCache() *faceCache { return &faceCache{by: map[string]*list.Element{}, used: list.New()} }

// faceKey is the hash under which a picture is kept: of what it shows, and not of when it is asked for.
func faceKey(doc []byte, u *url.URL) string {
	q := u.Query()
	q.Del("v")
	h := sha256.New()
	fmt.Fprintf(h, "%s\n%s?%s\n", made, u.Path, q.Encode())
	h.Write(doc)
	return hex.EncodeToString(h.Sum(nil)[:16])
}

func (f *faceCache) get(key string) *drawnFace {
	f.mu.Lock()
	defer f.mu.Unlock()
	el := f.by[key]
	if el == nil {
		return nil
	}
	f.used.MoveToFront(el)
	return el.Value.(*drawnFace)
}

func (f *faceCache) put(d *drawnFace) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.by[d.key] != nil || len(d.data) > mostFaceBytes/4 {
		return
	}
	f.by[d.key] = f.used.PushFront(d)
	for f.bytes += len(d.data); f.bytes > mostFaceBytes; {
		last := f.used.Back()
		old := f.used.Remove(last).(*drawnFace)
		delete(f.by, old.key)
		f.bytes -= len(old.data)
	}
}

// faceKept answers with a picture that is kept, or that the browser has; false: it must be drawn. What is sent
// for it then is kept under the key.
func (s *Server) faceKept(c *gin.Context) (key string, done bool) {
	id, err := pieceID(c)
	if err != nil {
		return "", false
	}
	stored, err := s.store.Piece(c.Request.Context(), id)
	if err != nil {
		return "", false
	}
	key = faceKey(stored.Doc, c.Request.URL)
	if c.GetHeader("If-None-Match") == `"`+key+`"` {
		tag(c, key)
		c.Status(http.StatusNotModified)
		return key, true
	}
	if d := s.faces.get(key); d != nil {
		tag(c, key)
		c.Data(http.StatusOK, kinds[d.kind], d.data)
		return key, true
	}
	return key, false
}

// sendFace sends a picture that was drawn, and keeps it.
func (s *Server) sendFace(c *gin.Context, key, kind string, data []byte, err error) {
	if err == nil && key != "" {
		s.faces.put(&drawnFace{key, kind, data})
		tag(c, key)
	}
	s.send(c, kind, data, err)
}

// tag names what is sent, so that a browser need not be sent it again; it asks each time.
func tag(c *gin.Context, key string) {
	c.Header("Cache-Control", "private, no-cache")
	c.Header("ETag", `"`+key+`"`)
}
