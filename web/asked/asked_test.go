package asked_test

import (
	"fmt"
	"html"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"

	"vindel/demo"
	"vindel/store"
	"vindel/web"
)

// larkmoor is the application with the demo's pieces in a store of its own.
func larkmoor(t *testing.T, o web.Options) http.Handler {
	t.Helper()
	st, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	if err := demo.Fill(t.Context(), st); err != nil {
		t.Fatal(err)
	}
	app, err := web.New(st, o)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { app.Close(); st.Close() })
	return app.Handler()
}

// ask sends a form, or asks for a page.
func ask(h http.Handler, method, at string, fields url.Values) *httptest.ResponseRecorder {
	w, r := httptest.NewRecorder(), httptest.NewRequest(method, "http://localhost"+at, strings.NewReader(fields.Encode()))
	if method == http.MethodPost {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	h.ServeHTTP(w, r)
	return w
}

var (
	tag   = regexp.MustCompile(`<[^>]*>`)
	space = regexp.MustCompile(`\s+`)
)

func plainText(s string) string {
	return strings.TrimSpace(space.ReplaceAllString(html.UnescapeString(tag.ReplaceAllString(s, " ")), " "))
}

// form is one that stands on a page: where it goes, and what it sends unless it is changed.
type form struct {
	action string
	fields url.Values
}

var (
	formTag   = regexp.MustCompile(`(?s)<form([^>]*)>(.*?)</form>`)
	actionOf  = regexp.MustCompile(`(?:action|hx-post|hx-get)="([^"]*)"`)
	selectTag = regexp.MustCompile(`(?s)<select[^>]*\bname="([^"]*)"[^>]*>(.*?)</select>`)
	optionTag = regexp.MustCompile(`<option[^>]*\bvalue="([^"]*)"[^>]*>`)
	fieldTag  = regexp.MustCompile(`<(?:input|textarea|button)[^>]*\bname="([^"]*)"[^>]*>`)
	valueOf   = regexp.MustCompile(`\bvalue="([^"]*)"`)
	revShown  = regexp.MustCompile(`Vindel-Rev&#34;: &#34;(\d+)|<main[^>]* data-state="([^"]*)"`)
)

// formsOn finds the forms of a page, with the revision or the state that the page shows, as its script sends it.
func formsOn(page string) (list []form) {
	for _, m := range formTag.FindAllStringSubmatch(page, -1) {
		to := actionOf.FindStringSubmatch(m[1])
		if to == nil {
			continue
		}
		f := form{html.UnescapeString(to[1]), url.Values{}}
		for _, field := range fieldTag.FindAllStringSubmatch(m[2], -1) {
			value := ""
			if v := valueOf.FindStringSubmatch(field[0]); v != nil {
				value = html.UnescapeString(v[1])
			}
			f.fields.Add(field[1], value)
		}
		for _, field := range selectTag.FindAllStringSubmatch(m[2], -1) { // the chosen one first
			var chosen, others []string
			for _, o := range optionTag.FindAllStringSubmatch(field[2], -1) {
				if strings.Contains(o[0], " selected") {
					chosen = append(chosen, html.UnescapeString(o[1]))
				} else {
					others = append(others, html.UnescapeString(o[1]))
				}
			}
			f.fields[field[1]] = append(chosen, others...)
		}
		if shown := revShown.FindStringSubmatch(page); shown != nil {
			for i, name := range []string{"rev", "state"} {
				if shown[i+1] != "" && !f.fields.Has(name) {
					f.fields.Set(name, html.UnescapeString(shown[i+1]))
				}
			}
		}
		list = append(list, f)
	}
	return list
}

// TestMachineTwice: of two pages that show one machine, the second that keeps it does not write
// over the first.
func TestMachineTwice(t *testing.T) {
	h := larkmoor(t, web.Options{})
	forms := formsOn(ask(h, "GET", "/machines/1", nil).Body.String())
	i := slices.IndexFunc(forms, func(f form) bool { return f.action == "/machines/1" })
	if i < 0 || forms[i].fields.Get("state") == "" {
		t.Fatalf("its form: %v", forms)
	}
	for n, want := range []int{303, 409} {
		forms[i].fields.Set("name", fmt.Sprint("machine ", n))
		if got := ask(h, "POST", "/machines/1", forms[i].fields).Code; got != want {
			t.Errorf("page %d: %d, want %d", n+1, got, want)
		}
	}
	if kept := ask(h, "GET", "/machines/1", nil).Body.String(); !strings.Contains(kept, "machine 0") {
		t.Error("the first is not kept")
	}
}

// TestNothingWithoutState: what does not say on which state of a piece, a machine or a project it was done is not
// done, whichever part of that it leaves out.
func TestNothingWithoutState(t *testing.T) {
	h := larkmoor(t, web.Options{})
	machine := formsOn(ask(h, "GET", "/machines/1", nil).Body.String())[0].fields
	machine.Del("state")
	for _, c := range []struct {
		at     string
		fields url.Values
	}{
		{"/pieces/3/knit", url.Values{"do": {"knitted"}, "from": {"0"}}},
		{"/pieces/3/knit", url.Values{"do": {"knitted"}, "from": {"0"}, "rev": {"1"}}},
		{"/pieces/3/knit", url.Values{"do": {"knitted"}, "from": {"0"}, "place": {"0"}}},
		{"/pieces/3/undo", nil}, {"/pieces/3/redo", nil},
		{"/pieces/3/field", url.Values{"path": {"/name"}, "kind": {"text"}, "value": {"heron"}}},
		{"/pieces/3/shelf", url.Values{"name": {"heron"}}},
		{"/pieces/3/machine", url.Values{"machine": {"hand-chunky"}}},
		{"/pieces/3/lines/2", url.Values{"do": {"keyed"}}},
		{"/machines/1", machine},
		{"/machines/1/face", url.Values{"do": {"add"}, "shape": {"slide"}, "on": {""}}},
		{"/projects/1", url.Values{"do": {"name"}, "name": {"heron"}}},
		{"/projects/1", url.Values{"do": {"mirror"}, "piece": {"1"}}},
		{"/projects/1", url.Values{"do": {"swatch"}, "piece": {"1"}}},
	} {
		if w := ask(h, "POST", c.at, c.fields); w.Code != http.StatusPreconditionRequired {
			t.Errorf("%s %v: %d", c.at, c.fields.Get("do"), w.Code)
		}
	}
	if page := ask(h, "GET", "/", nil).Body.String(); !strings.Contains(page, "25 on the shelf") {
		t.Error("a mirror image is left of what was refused")
	}
}
