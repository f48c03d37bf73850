package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"path"
	"slices"
	"strings"
	"sync"

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
	Guarded bool       // a passphrase is asked for: there are sessions, and a way out
	State   string     // of the machine or project that is shown: its forms say on what they were filled in
}

// pieceHead is a piece as the bar above its pages names it.
type pieceHead struct {
	ID, Rev            int64
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

// styles are the style sheets in the order in which they stand, one a component.
var styles = []string{"css/theme.css", "css/base.css", "css/face.css", "css/bar.css", "css/commands.css",
	"css/sheet.css", "css/form.css",
	"css/findings.css", "css/keys.css", "css/teach.css", "css/pieces.css", "css/place.css", "css/prove.css",
	"css/prepare.css", "css/machines.css", "css/compare.css", "css/desk.css", "css/board.css", "css/bring.css",
	"css/knit.css", "css/wrong.css", "css/journal.css", "css/recipe.css", "css/outline.css", "css/project.css",
	"css/lines.css", "css/laced.css", "css/owned.css", "css/shelves.css", "css/print.css"}

// htmxConfig: scripts in answers do not run; a refusal is shown above the page, which stays.
var htmxConfig = map[string]any{
	"includeIndicatorStyles": false, "defaultSettleDelay": 0, "allowEval": false, "allowScriptTags": false,
	"responseHandling": []map[string]any{
		{"code": "204", "swap": false},
		{"code": "[23]..", "swap": true},
		{"code": "422", "swap": true, "target": "#refusal", "swapOverride": "innerHTML", "select": ".message-words"},
		{"code": "[45]..", "swap": false, "error": true},
	},
}

type messageView struct {
	Page         Page
	Title, Words string
	Broken       int64 // a piece that cannot be opened, but taken out
	CanUndo      bool  // and its last change taken back
	Rev          int64
}

// newViews parses all pages, once: what is embedded does not change.
var newViews = sync.OnceValues(func() (*views, error) {
	a, err := newAssets()
	if err != nil {
		return nil, err
	}
	funcs := template.FuncMap{
		"asset":   a.url,
		"plural":  words.Count,
		"add":     func(a, b int) int { return a + b },
		"add1":    func(a float64, b int) float64 { return a + float64(b) },
		"icon":    icon,
		"keyword": keyWord,
		"halfOf":  func(w float64) float64 { return w / 2 },
		"half":    func(h float64) float64 { return h/2 + 5 },
		"sub":     func(a, b any) float64 { return float(a) - float(b) },
		"mul":     func(a, b int) int { return a * b },
		"mul2":    func(a float64) float64 { return 2 * a },
		"args":    args,
		"revOf":   func(rev int64) string { return fmt.Sprintf(`{"Vindel-Rev": "%d"}`, rev) },
		"htmxConfig": func() (string, error) {
			b, err := json.Marshal(htmxConfig)
			return string(b), err
		},
		"stations": func() []teachStep { return firstSteps },
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
})

// args gives a template its values by name: key, value, key, value …
func args(list ...any) (map[string]any, error) {
	named := map[string]any{}
	for i := 0; i < len(list); i += 2 {
		key, ok := list[i].(string)
		if !ok || i+1 == len(list) {
			return nil, fmt.Errorf("args %v: a name and a value by turns", list)
		}
		named[key] = list[i+1]
	}
	return named, nil
}

// render writes a whole page, from a buffer, so that a template that fails half-way
// has sent nothing.
func (s *Server) render(c *gin.Context, view string, data any) { s.partial(c, view, "layout", data) }

// besideMachine are the views that are put over into other languages, and whole: what is read with a carriage in the
// hand. All other pages are English, whole as well.
var besideMachine = []string{"knit", "lost", "wrong", "trainer"}

// partial writes one template of a view.
func (s *Server) partial(c *gin.Context, view, name string, data any) {
	html, err := s.html(view, name, data)
	if err != nil {
		slog.ErrorContext(c.Request.Context(), "a page was not drawn", "request", c.GetString(requestKey), "view",
			view, "error", err)
		c.String(http.StatusInternalServerError, "This page could not be drawn. The log has it under %s.\n",
			c.GetString(requestKey))
		return
	}
	if l := s.languageOf(c); l != nil && slices.Contains(besideMachine, view) {
		html = l.page(html, nil)
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
	return Page{Title: title, Theme: theme, Guarded: s.guard && title != loginTitle}
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
