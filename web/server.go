package web

import (
	"context"
	"embed"
	"errors"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/time/rate"

	"vindel/knit/edit"
	"vindel/knit/piece"
	"vindel/store"
)

//go:embed templates static
var files embed.FS

// Bounds on what a request may send.
const (
	maxForm   = 1 << 20
	maxUpload = 17 << 20
)

// Server is the application behind its pages.
type Server struct {
	store  *store.Store
	views  *views
	assets *assets
	hosts  []string // names by which it may be called; none: any
	guard  bool     // a passphrase is asked for
	tries  *rate.Limiter
	now    func() time.Time

	mu      sync.Mutex
	desk    map[int64]*desk    // the latest results, by piece
	notices map[int64][]string // what is to be said once about a piece
}

// Options say where a server is reached. Hosts are the names it answers to; Guard
// asks for the passphrase, as any address but loopback needs.
type Options struct {
	Hosts []string
	Guard bool
	Now   func() time.Time
}

// New makes a server on a store.
func New(st *store.Store, o Options) (*Server, error) {
	s := &Server{store: st, hosts: o.Hosts, guard: o.Guard, now: o.Now, desk: map[int64]*desk{}, notices: map[int64][]string{}, tries: rate.NewLimiter(rate.Every(12*time.Second), 5)}
	if s.now == nil {
		s.now = time.Now
	}
	var err error
	if s.assets, err = newAssets(); err != nil {
		return nil, err
	}
	s.views, err = newViews(s.assets)
	return s, err
}

// Handler is the whole application with everything that stands before it.
func (s *Server) Handler() http.Handler {
	gin.SetMode(gin.ReleaseMode)
	e := gin.New()
	e.SetTrustedProxies(nil)
	e.HandleMethodNotAllowed = true
	e.Use(gin.CustomRecovery(func(c *gin.Context, _ any) { s.fail(c, errors.New("something broke; nothing was lost")) }))
	e.Use(s.checkHost, headers, limits)
	e.GET("/static/*path", s.assets.serve)
	e.GET("/login", s.loginPage)
	e.POST("/login", s.login)
	e.NoRoute(func(c *gin.Context) { s.fail(c, store.ErrNone) })

	in := e.Group("/", s.checkSession)
	in.GET("/", s.pieces)
	in.POST("/pieces", s.newPiece)
	in.POST("/theme", s.theme)
	in.GET("/machines", s.machines)
	in.POST("/machines", s.copyMachine)
	in.GET("/machines/:id", s.machine)
	in.POST("/machines/:id", s.saveMachine)
	in.POST("/machines/:id/away", s.putMachineAway)
	p := in.Group("/pieces/:id")
	p.GET("", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, c.Request.URL.Path+"/draw") })
	p.POST("/away", s.putAway)
	p.POST("/taught", s.untaught)
	p.GET("/draw", s.draw)
	p.GET("/state", s.state)
	p.POST("/edit", s.edit)
	p.POST("/undo", s.undo)
	p.POST("/redo", s.redo)
	p.POST("/fix", s.fix)
	p.POST("/picture", s.picture)
	p.POST("/sample", s.sample)
	p.POST("/redraw", s.redraw)
	p.POST("/row", s.typedRow)
	p.POST("/lettering", s.lettering)
	p.GET("/out/:file", s.takeOut)
	p.POST("/versions", s.nameVersion)
	p.POST("/versions/back", s.bringBack)
	p.GET("/compare", s.compare)
	p.POST("/field", s.field)
	p.POST("/centre", s.centre)
	p.POST("/section", s.section)
	p.POST("/arrange", s.arrange)
	p.GET("/lie/:file", s.lie)
	p.POST("/machine", s.setMachine)
	p.GET("/machines", s.compareMachines)
	p.GET("/place", s.place)
	p.GET("/prove", s.prove)
	p.GET("/prepare", s.prepare)
	p.GET("/knit", s.knit)
	p.POST("/knit", s.knitted)
	p.GET("/fabric/:file", s.fabric)
	p.GET("/card/:file", s.card)
	p.GET("/cheat/:file", s.cheat)
	p.GET("/plan/:file", s.planFile)
	p.GET("/piece.vindel.json", s.pieceFile)
	return http.NewCrossOriginProtection().Handler(e)
}

// headers forbid the page to ask anything of anybody else. There is no exception for
// inline script or style.
func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cache-Control", "no-store")
}

// limits bound the body and the time of a request.
func limits(c *gin.Context) {
	most := int64(maxForm)
	if c.Request.URL.Path == "/pieces" || strings.HasSuffix(c.Request.URL.Path, "/picture") || strings.HasSuffix(c.Request.URL.Path, "/sample") || strings.HasSuffix(c.Request.URL.Path, "/edit") {
		most = maxUpload
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
	ctx, cancel := context.WithTimeout(c.Request.Context(), 30*time.Second)
	defer cancel()
	c.Request = c.Request.WithContext(ctx)
	c.Next()
}

// checkHost refuses names that are not ours, so that no other page's name can be
// pointed at this machine.
func (s *Server) checkHost(c *gin.Context) {
	host := c.Request.Host
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	if len(s.hosts) > 0 && !slices.Contains(s.hosts, strings.Trim(host, "[]")) {
		c.String(http.StatusMisdirectedRequest, "Vindel does not answer to the name %q.\n", host)
		c.Abort()
	}
}

// fail turns an error into an answer, in one place.
func (s *Server) fail(c *gin.Context, err error) {
	status := http.StatusInternalServerError
	words := "Something went wrong; nothing was lost. " + err.Error()
	var list piece.ErrorList
	var refused *edit.Refused
	var tooLarge *http.MaxBytesError
	switch {
	case errors.Is(err, store.ErrNone):
		status, words = http.StatusNotFound, "There is no such thing here."
	case errors.Is(err, errInput), errors.As(err, &list), errors.As(err, &refused):
		status, words = http.StatusUnprocessableEntity, err.Error()
	case errors.As(err, &tooLarge):
		status, words = http.StatusRequestEntityTooLarge, "That is too large."
	}
	if wantsJSON(c) {
		c.AbortWithStatusJSON(status, gin.H{"error": words})
		return
	}
	c.Status(status)
	s.render(c, "message", messageView{Page: s.page(c, "Vindel"), Words: words})
	c.Abort()
}

// errInput marks errors that are the user's to mend.
var errInput = errors.New("")

type inputError struct{ err error }

func (e inputError) Error() string        { return e.err.Error() }
func (e inputError) Unwrap() error        { return e.err }
func (e inputError) Is(target error) bool { return target == errInput }

func wantsJSON(c *gin.Context) bool {
	return strings.HasPrefix(c.GetHeader("Accept"), "application/json") || strings.HasPrefix(c.ContentType(), "application/json")
}

func pieceID(c *gin.Context) (int64, error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0, store.ErrNone
	}
	return id, nil
}
