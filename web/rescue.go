package web

import (
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/store"
)

type rescueView struct {
	Page   Page
	Path   string
	Dir    string
	Saved  []store.Saved
	Copies []string
}

// NewRescue shows what could be read out of a damaged file of data, and gives it out as files;
// nothing is written. path is where the file lies, dir its folder, copies those beside it.
func NewRescue(saved []store.Saved, path, dir string, copies []string, o Options) (http.Handler, error) {
	s := &Server{hosts: o.Hosts, now: time.Now}
	var err error
	if s.assets, err = newAssets(); err != nil {
		return nil, err
	}
	if s.views, err = newViews(); err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	e := gin.New()
	e.SetTrustedProxies(nil)
	e.Use(requestID, gin.CustomRecoveryWithWriter(nil, s.recovered), s.checkHost)
	e.GET("/static/*path", s.assets.serve)
	e.GET("/saved/:id/piece.vindel.json", func(c *gin.Context) {
		id, _ := strconv.ParseInt(c.Param("id"), 10, 64)
		for _, p := range saved {
			if p.ID == id {
				c.Header("Content-Disposition", `attachment; filename="piece.vindel.json"`)
				s.send(c, "json", p.Doc, nil)
				return
			}
		}
		s.fail(c, store.ErrNone)
	})
	e.NoRoute(func(c *gin.Context) {
		c.Status(http.StatusServiceUnavailable)
		s.render(c, "rescue", rescueView{s.page(c, "Rescue"), path, dir, saved, copies})
	})
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		headers(w.Header())
		e.ServeHTTP(w, r)
	}), nil
}
