package web

import (
	"cmp"
	"compress/gzip"
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
	"github.com/klauspost/compress/gzhttp"
	"golang.org/x/time/rate"

	"vindel/store"
)

//go:embed templates static texts
var files embed.FS

// Bounds on what a request may send, and on the time it has.
const (
	maxForm     = 1 << 20
	maxUpload   = 17 << 20
	requestTime = 30 * time.Second

	formInMemory = 4 << 20 // of an upload; the rest waits in a file
	mostUploads  = 8       // large bodies that are taken in at once
)

// Server is the application behind its pages.
type Server struct {
	store  *store.Store
	views  *views
	assets *assets
	hosts  []string // names by which it may be called; none: any
	guard  bool     // a passphrase is asked for
	tries  tries
	now    func() time.Time

	sent      sent
	languages map[string]*language // by their code; English is none of them

	patience  time.Duration
	results   results
	faces     *faceCache
	works     works
	largeOnes turn // one large piece is worked out at a time,
	pictures  turn // and one large picture read or drawn

	standings standings // for who is lost

	hub   *hub // who looks at which piece
	wires wires

	listeners, uploads chan struct{} // a place in each for everybody who listens, or sends a file

	mu      sync.Mutex
	notices map[int64][]string    // what is to be said once about a piece
	cards   map[int64]*time.Timer // cards of the shelf that are about to be stored
}

// Options say where a server is reached. Hosts are the names it answers to; Guard
// asks for the passphrase, as any address but loopback needs.
type Options struct {
	Hosts []string
	Guard bool
	Now   func() time.Time

	Patience time.Duration // how long a request waits for what is worked out; 0: a second
}

// New makes a server on a store.
func New(st *store.Store, o Options) (*Server, error) {
	s := &Server{store: st, hosts: o.Hosts, guard: o.Guard, now: o.Now, works: works{now: map[string]*work{}},
		largeOnes: make(turn, 1), faces: newFaceCache(), pictures: make(turn, 1),
		listeners: make(chan struct{}, mostListeners), uploads: make(chan struct{}, mostUploads), notices: map[int64][]string{},
		cards: map[int64]*time.Timer{}, hub: newHub(), wires: wires{by: map[int64]*wire{}},
		tries: tries{by: map[string]*rate.Limiter{}}}
	s.patience = cmp.Or(o.Patience, patience)
	if s.now == nil {
		s.now = time.Now
	}
	var err error
	if s.assets, err = newAssets(); err != nil {
		return nil, err
	}
	if s.languages, err = languages(); err != nil {
		return nil, err
	}
	s.views, err = newViews()
	return s, err
}

// Close lets go whoever listens and ends the lines to machines; requests that are under way are answered.
func (s *Server) Close() {
	s.hub.end()
	s.endWires()
}

// Handler is the whole application with everything that stands before it.
func (s *Server) Handler() http.Handler {
	gin.SetMode(gin.ReleaseMode)
	e := gin.New()
	e.SetTrustedProxies(nil)
	e.HandleMethodNotAllowed = true
	e.Use(requestID, gin.CustomRecoveryWithWriter(nil, s.recovered), s.checkHost, limited)
	e.GET("/static/*path", s.assets.serve)
	form, upload := s.bounded(maxForm), s.bounded(maxUpload)
	e.GET("/login", s.loginPage)
	e.POST("/login", form, s.login)
	e.NoRoute(func(c *gin.Context) { s.fail(c, store.ErrNone) })

	// What brings a file or a whole drawing may be long; every other form is short. Who may not come in has no byte of
	// it read.
	long := e.Group("/", s.checkSession, upload, s.told)
	long.POST("/pieces", s.newPiece)
	long.POST("/pieces/:id/edit", s.edit)
	long.POST("/pieces/:id/picture", s.picture)
	long.POST("/pieces/:id/recipe", s.recipeTold)
	long.POST("/pieces/:id/sample", s.sample)
	long.POST("/pieces/:id/owned", s.readOwned)
	long.POST("/swatches", s.addSwatch)
	long.POST("/pieces/:id/knit/photo", s.keepPhoto)
	long.POST("/machines/:id/face", s.setFace)
	long.POST("/machines/import", s.importMachine)

	e.Group("/", s.checkSession, s.bounded(maxBackup)).POST("/backup", s.setBackup)

	in := e.Group("/", s.checkSession, form)
	in.GET("/", s.pieces)
	in.POST("/theme", s.theme)
	in.GET("/away", s.away)
	in.POST("/away/:id", s.deleteForGood)
	in.GET("/sessions", s.sessions)
	in.POST("/sessions/end", s.endSession)
	in.GET("/machines", s.machines)
	in.POST("/machines", s.copyMachine)
	in.GET("/machines/:id", s.machine)
	in.POST("/machines/:id", s.saveMachine)
	in.POST("/machines/:id/away", s.putMachineAway)
	in.GET("/machines/:id/face", s.face)
	in.GET("/machines/:id/photo.jpg", s.facePhoto)
	in.GET("/machines/:id/machine.json", s.exportMachine)
	in.POST("/machines/:id/reach", s.reach)
	in.GET("/projects", s.projects)
	in.POST("/projects", s.newProject)
	in.GET("/projects/:id", s.project)
	in.POST("/projects/:id", s.changeProject)
	in.POST("/projects/:id/away", s.putProjectAway)
	in.GET("/words", s.words)
	in.GET("/words.json", s.wordList)
	in.POST("/language", s.setLanguage)
	in.GET("/repeats", s.repeats)
	in.GET("/yarns", s.yarns)
	in.POST("/yarns", s.setYarn)
	in.GET("/swatches", s.swatches)
	in.GET("/swatches/:file", s.swatchPhoto)
	in.GET("/journal", s.journal)
	in.GET("/journal.csv", s.journalCSV)
	in.GET("/journal/:entry/photo.jpg", s.journalPhoto)
	in.GET(eventsPath, s.events)
	in.GET("/backup", s.backup)
	in.GET("/backup/vindel.zip", s.archive)
	in.GET("/memory", s.memory)
	in.POST("/memory", s.forget)
	p := in.Group("/pieces/:id", s.told)
	p.POST("/remember", s.remember)
	p.POST("/shelf-yarn", s.fromShelf)
	p.POST("/shelf-swatch", s.swatchInPiece)
	p.GET("", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, c.Request.URL.Path+"/draw") })
	p.POST("/away", s.putAway)
	p.POST("/copy", s.copyPiece)
	p.POST("/shelf", s.setShelf)
	p.POST("/charts", s.charts)
	p.POST("/yarn-away", s.dropYarn)
	p.POST("/repeat", s.takeRepeat)
	p.POST("/taught", s.untaught)
	p.POST("/went-on", s.wentOn)
	p.GET("/card", s.shelfCard)
	p.GET("/draw", s.draw)
	p.GET("/state", s.state)
	p.GET("/laced", s.laced)
	p.GET("/owned", s.owned)
	p.POST("/owned/take", s.takeOwned)
	p.POST("/laced", s.setLaced)
	p.POST("/undo", s.undo)
	p.POST("/redo", s.redo)
	p.POST("/fix", s.fix)
	p.POST("/redraw", s.redraw)
	p.POST("/row", s.typedRow)
	p.GET("/row", s.countRow)
	p.POST("/selection", s.fromSelection)
	p.POST("/lettering", s.lettering)
	p.GET("/out/:file", s.takeOut)
	p.POST("/versions", s.nameVersion)
	p.POST("/versions/back", s.bringBack)
	p.GET("/compare", s.compare)
	p.POST("/field", s.field)
	p.POST("/centre", s.centre)
	p.POST("/section", s.section)
	p.POST("/arrange", s.arrange)
	p.POST("/shape", s.shape)
	p.GET("/lie/:file", s.lie)
	p.POST("/machine", s.setMachine)
	p.GET("/machines", s.compareMachines)
	p.GET("/place", s.place)
	p.GET("/ways", s.ways)
	p.POST("/ends", s.setEnds)
	p.GET("/sampler", s.sampler)
	p.POST("/sampler", s.makeSampler)
	p.POST("/sampler/take", s.takeSwatch)
	p.GET("/recipe", s.recipe)
	p.POST("/recipe/do", s.recipeDo)
	p.GET("/recipe/variant.png", s.variantPicture)
	p.GET("/prove", s.prove)
	p.GET("/choices", s.choices)
	p.POST("/choose", s.choose)
	p.GET("/prepare", s.prepare)
	p.GET("/knit", s.knit)
	p.POST("/knit", s.knitted)
	p.GET("/knit/find", s.findPass)
	p.POST("/wire", s.connectWire)
	p.GET("/knit/lost", s.lost)
	p.GET("/knit/wrong", s.wrong)
	p.GET("/knit/made/:file", s.made)
	p.GET("/knit/trainer", s.trainer)
	p.GET("/knit/if", s.whatIf)
	p.GET("/fabric/:file", s.fabric)
	p.GET("/card/:file", s.card)
	p.GET("/cheat/:file", s.sectionPDF(1, cheat))
	p.GET("/program/:file", s.program)
	p.GET("/strip/:file", s.sectionPDF(0, strip))
	p.GET("/lacelist/:file", s.sectionPDF(1, laceList))
	p.GET("/grid.pdf", s.grid)
	p.GET("/lines/:section", s.lines)
	p.POST("/lines/:section", s.keyLine)
	p.GET("/plan/:file", s.planFile)
	p.GET("/piece.vindel.json", s.pieceFile)
	guarded := compressed(http.NewCrossOriginProtection().Handler(e))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		headers(w.Header())              // on every answer, refusals too
		if r.Method == http.MethodHead { // as GET, of which only the head is sent
			r = r.Clone(r.Context())
			r.Method = http.MethodGet
		}
		guarded.ServeHTTP(w, r)
	})
}

// compressed sends what is text, drawings among it, compressed to whoever takes it so.
func compressed(h http.Handler) http.Handler {
	wrap, err := gzhttp.NewWrapper(gzhttp.MinSize(1024), gzhttp.CompressionLevel(gzip.BestSpeed),
		gzhttp.EnableZstd(false),
		gzhttp.ExceptContentTypes([]string{"image/png", "image/jpeg", "application/pdf", "font/woff2",
			"text/event-stream"}))
	if err != nil {
		panic(err) // the options are constant
	}
	return wrap(h)
}

// headers forbid the page to ask anything of anybody else. There is no exception for
// inline script or style.
func headers(h http.Header) {
	h.Set("Content-Security-Policy",
		"default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src "+
			"'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cache-Control", "no-store")
}

// errManyFiles says that as many files are being taken in as there may be at once.
var errManyFiles = errors.New("several files are being taken in already")

// limited gives every request its time.
func limited(c *gin.Context) {
	if c.Request.URL.Path == eventsPath {
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), requestTime)
	defer cancel()
	c.Request = c.Request.WithContext(ctx)
	c.Next()
}

// bounded bounds the body of a request, and reads a form at once, so that one which is too
// large is answered so, and not as one that says nothing.
func (s *Server) bounded(most int64) gin.HandlerFunc {
	return func(c *gin.Context) {
		if n := c.Request.ContentLength; n < 0 || n > maxForm {
			select {
			case s.uploads <- struct{}{}:
				defer func() { <-s.uploads }()
			default:
				s.fail(c, errManyFiles)
				return
			}
		}
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
		var tooLarge *http.MaxBytesError
		err := c.Request.ParseForm()
		if err == nil {
			err = c.Request.ParseMultipartForm(formInMemory)
		}
		if errors.As(err, &tooLarge) {
			s.fail(c, err)
			return
		}
		// the server removes only the files of the request that it gave, and `limited` makes another
		if sent := c.Request.MultipartForm; sent != nil {
			defer sent.RemoveAll()
		}
		c.Next()
	}
}

// checkHost refuses names that are not ours, so that no other page's name can be
// pointed at this machine.
func (s *Server) checkHost(c *gin.Context) {
	host := c.Request.Host
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	host = strings.TrimSuffix(strings.ToLower(strings.Trim(host, "[]")), ".")
	if ip := net.ParseIP(host); ip != nil && ip.IsLoopback() {
		host = "localhost" // every number of this machine itself
	}
	if len(s.hosts) > 0 && !slices.Contains(s.hosts, host) {
		c.String(http.StatusMisdirectedRequest, "Vindel does not answer to the name %q.\n", host)
		c.Abort()
	}
}

func pieceID(c *gin.Context) (int64, error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0, store.ErrNone
	}
	return id, nil
}
