package web

import (
	"bytes"
	"fmt"
	"html/template"
	"io/fs"
	"net/http"
	"path"
	"strings"

	"vindel/knit/words"

	"github.com/gin-gonic/gin"
)

// views are the parsed templates, one a page; layout and partials are parsed once
// and cloned for each.
type views struct{ pages map[string]*template.Template }

// Page is what every page knows.
type Page struct {
	Title   string
	Theme   string // light, dark, or "" for the system's
	Station string
	Piece   *pieceHead // nil outside a piece
	Teach   *teachView // nil but for a first piece
}

// pieceHead is a piece as the bar above its pages names it.
type pieceHead struct {
	ID                 int64
	Name               string
	Summary            []sum
	CanUndo, CanRedo   bool
	Stops, Warns, Note int
}

// sum is one figure of the bar with its unit.
type sum struct {
	N    int
	Unit string
}

// station is one step of the work, in its order.
type station struct{ Path, Name string }

// fieldView is one value of the piece that can be typed.
type fieldView struct {
	ID                int64
	Path, Kind, Label string
	Value             any
}

type messageView struct {
	Page  Page
	Words string
}

func newViews(a *assets) (*views, error) {
	funcs := template.FuncMap{
		"asset":  a.url,
		"hash":   func() string { return a.hash },
		"plural": words.Count,
		"add":    func(a, b int) int { return a + b },
		"add1":   func(a float64, b int) float64 { return a + float64(b) },
		"icon":   icon,
		"upper":  keyWord,
		"half":   func(h float64) float64 { return h/2 + 5 },
		"int64":  func(n int) int64 { return int64(n) },
		"sub":    func(a, b any) float64 { return float(a) - float(b) },
		"mul":    func(a, b int) int { return a * b },
		"list":   func(v ...any) []any { return v },
		"field": func(id int64, path, kind, label string, value any) fieldView {
			return fieldView{id, path, kind, label, value}
		},
		"stations": func() []station {
			return []station{{"draw", "Draw"}, {"place", "Place"}, {"prove", "Prove"}, {"prepare", "Prepare"},
				{"knit", "Knit"}}
		},
	}
	base, err := template.New("base").Funcs(funcs).ParseFS(files, "templates/layout.html",
		"templates/partials/*.html")
	if err != nil {
		return nil, err
	}
	v := &views{pages: map[string]*template.Template{}}
	names, err := fs.Glob(files, "templates/*.html")
	if err != nil {
		return nil, err
	}
	for _, name := range names {
		if path.Base(name) == "layout.html" {
			continue
		}
		t, err := template.Must(base.Clone()).ParseFS(files, name)
		if err != nil {
			return nil, err
		}
		v.pages[strings.TrimSuffix(path.Base(name), ".html")] = t
	}
	return v, nil
}

// render writes a whole page, from a buffer, so that a template that fails half-way
// has sent nothing.
func (s *Server) render(c *gin.Context, view string, data any) { s.partial(c, view, "layout", data) }

// partial writes one template of a view.
func (s *Server) partial(c *gin.Context, view, name string, data any) {
	html, err := s.html(view, name, data)
	if err != nil {
		c.String(http.StatusInternalServerError, "the page could not be drawn: %v\n", err)
		return
	}
	status := c.Writer.Status()
	c.Data(status, "text/html; charset=utf-8", html)
}

func (s *Server) html(view, name string, data any) ([]byte, error) {
	t := s.views.pages[view]
	if t == nil {
		return nil, fmt.Errorf("no view %q", view)
	}
	var b bytes.Buffer
	err := t.ExecuteTemplate(&b, name, data)
	return b.Bytes(), err
}

func (s *Server) page(c *gin.Context, title string) Page {
	theme, _ := c.Cookie("theme")
	if theme != "light" && theme != "dark" {
		theme = ""
	}
	return Page{Title: title, Theme: theme}
}

// theme remembers light or dark for this browser.
func (s *Server) theme(c *gin.Context) {
	theme := c.PostForm("theme")
	if theme != "light" && theme != "dark" {
		theme = ""
	}
	http.SetCookie(c.Writer, &http.Cookie{Name: "theme", Value: theme, Path: "/", MaxAge: 400 * 24 * 3600,
		HttpOnly: true, SameSite: http.SameSiteLaxMode})
	c.Status(http.StatusNoContent)
}

// keyWord is a key as it stands on a tooltip: "shift+Insert" is Shift+Insert.
func keyWord(key string) string {
	parts := strings.Split(key, "+")
	for i, part := range parts {
		if part != "" {
			parts[i] = strings.ToUpper(part[:1]) + part[1:]
		}
	}
	return strings.Join(parts, "+")
}

// float is a number of a template, whole or not.
func float(v any) float64 {
	if n, ok := v.(int); ok {
		return float64(n)
	}
	f, _ := v.(float64)
	return f
}
