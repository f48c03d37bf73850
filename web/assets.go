package web

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/hex"
	"io/fs"
	"maps"
	"mime"
	"net/http"
	"path"
	"slices"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
)

// assets are the files under static/, and what pages load of them joined, compressed once and served under a hash
// of them all, so that a browser may keep them for ever.
type assets struct {
	hash   string
	plain  map[string][]byte
	zipped map[string][]byte
}

// newAssets makes them, once, whoever serves them: what is embedded does not change.
var newAssets = sync.OnceValues(func() (*assets, error) {
	a := &assets{plain: map[string][]byte{}, zipped: map[string][]byte{}}
	sum := sha256.New()
	add := func(name string, data []byte) {
		sum.Write([]byte(name))
		sum.Write(data)
		a.plain[name] = data
		if ext := path.Ext(name); ext != ".woff2" && ext != ".map" {
			var b bytes.Buffer
			z, _ := gzip.NewWriterLevel(&b, gzip.BestCompression)
			z.Write(data)
			z.Close()
			a.zipped[name] = b.Bytes()
		}
	}
	static, err := fs.Sub(files, "static")
	if err != nil {
		return nil, err
	}
	joined, err := bundled(static)
	if err != nil {
		return nil, err
	}
	for _, name := range slices.Sorted(maps.Keys(joined)) {
		add(name, joined[name])
	}
	err = fs.WalkDir(static, ".", func(name string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			var data []byte
			if data, err = fs.ReadFile(static, name); err == nil {
				add(name, data)
			}
		}
		return err
	})
	a.hash = hex.EncodeToString(sum.Sum(nil))[:12]
	return a, err
})

// url is where a file of static/ is served.
func (a *assets) url(name string) string { return "/static/" + a.hash + "/" + name }

func (a *assets) serve(c *gin.Context) {
	name, ok := strings.CutPrefix(c.Param("path"), "/"+a.hash+"/")
	data, known := a.plain[name]
	if !ok || !known {
		c.String(http.StatusNotFound, "no such file\n")
		return
	}
	h := c.Writer.Header()
	h.Set("Cache-Control", "public, max-age=31536000, immutable")
	h.Set("Vary", "Accept-Encoding")
	if z := a.zipped[name]; z != nil && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
		h.Set("Content-Encoding", "gzip")
		data = z
	}
	kind := mime.TypeByExtension(path.Ext(name))
	if path.Ext(name) == ".woff2" {
		kind = "font/woff2"
	}
	c.Data(http.StatusOK, kind, data)
}
