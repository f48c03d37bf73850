package asked_test

import (
	"crypto/sha256"
	"flag"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"vindel/web"
)

var update = flag.Bool("update", false, "write the golden file anew")

// What differs each time: where the data lie, what room they take, when it is, and which scripts and styles a page has.
var today = regexp.MustCompile(`\d{4}-\d\d-\d\dT[\d:.]+Z|\d\d? [A-Z][a-z]{2} \d{4}|\d{4}-\d\d-\d\d|` +
	`/static/[^"]*|just now|\d+ (?:min|h|days) ago|\b\d\d:\d\d(:\d\d)?\b|/tmp/[\w/.]+|[\d.]+ (?:KB|MB|GB)\b`)

var (
	linkOf  = regexp.MustCompile(`(?:href|hx-get)="(/[^"#]*)`)
	digits  = regexp.MustCompile(`\d+`)
	numeric = regexp.MustCompile(`^\d{1,4}$`)
)

// pinner asks for pages as a browser would, and keeps what they answer, by kind of page.
type pinner struct {
	t     *testing.T
	h     http.Handler
	kinds map[string]*pinned
	order []string
}

// pinned is what pages of a kind answer: the words of the first one, and a hash of all that all of them hold.
type pinned struct {
	asked int
	words string
	hash  []byte
}

// ask asks for one page, and pins what it answers.
func (p *pinner) ask(kind, method, at string, form url.Values) string {
	w := ask(p.h, method, at, form)
	body, sort := today.ReplaceAllString(w.Body.String(), "…"), w.Header().Get("Content-Type")
	if w.Code >= 500 {
		p.t.Fatalf("%s %s %v: %d\n%s", method, at, form, w.Code, plainText(body))
	}
	one := p.kinds[kind]
	if one == nil {
		one = &pinned{}
		if strings.HasPrefix(sort, "text/html") {
			one.words = strings.Join(strings.Fields(plainText(body)), " ")
		}
		p.kinds[kind], p.order = one, append(p.order, kind)
	}
	if one.asked++; sort == "application/zip" || sort == "application/pdf" {
		body = "" // of a database, or with its time inside
	}
	sum := sha256.Sum256(fmt.Appendf(one.hash, "%s %s %d %s\n%s", method, at, w.Code, w.Header().Get("Location"), body))
	one.hash = sum[:]
	if !strings.HasPrefix(sort, "text/html") {
		return ""
	}
	return w.Body.String()
}

// kindOf is the kind of page that an address asks for.
func kindOf(at string) string {
	path, query, _ := strings.Cut(at, "?")
	values, _ := url.ParseQuery(query)
	kind := digits.ReplaceAllString(path, "N")
	for _, key := range slices.Sorted(maps.Keys(values)) {
		kind += " " + key
		if v := values.Get(key); !digits.MatchString(v) {
			kind += "=" + v
		}
	}
	return kind
}

// TestPagesPinned: what the pages of the demo's pieces answer is what they answered when testdata/pages.txt was
// written (go test ./web/asked -run TestPagesPinned -update): every kind of page that a link leads to, every kind of form
// sent as it stands and with its numbers one more, and the passes of some pieces knitted one after the other.
func TestPagesPinned(t *testing.T) {
	h := larkmoor(t, web.Options{Patience: time.Hour})
	p := &pinner{t: t, h: h, kinds: map[string]*pinned{}}
	seen := map[string]bool{"/": true}
	var forms []form
	for todo := []string{"/"}; len(todo) > 0; todo = todo[1:] {
		kind := kindOf(todo[0])
		if strings.HasSuffix(kind, "/trainer") {
			continue // asks about a mistake by chance
		}
		most := 2
		if len(strings.Split(kind, "/")) == 4 && !strings.Contains(kind, " ") {
			most = 6 // the main pages of a piece
		}
		if one := p.kinds[kind]; one != nil && one.asked >= most {
			continue
		}
		page := p.ask(kind, "GET", todo[0], nil)
		forms = append(forms, formsOn(page)...)
		for _, m := range linkOf.FindAllStringSubmatch(page, -1) {
			link := strings.ReplaceAll(m[1], "&amp;", "&")
			if !seen[link] && !strings.HasPrefix(link, "/static") {
				seen[link] = true
				todo = append(todo, link)
			}
		}
	}
	for _, f := range forms {
		names := []string{kindOf(f.action)}
		for name, v := range f.fields {
			if name == "do" && len(v) > 0 {
				name += "=" + v[0]
			}
			names = append(names, name)
		}
		slices.Sort(names[1:])
		kind := "form " + strings.Join(names, " ")
		if one := p.kinds[kind]; one != nil && one.asked >= 2 || strings.Contains(f.action, "/away/") {
			continue
		}
		p.ask(kind, "POST", f.action, f.fields)
		more := url.Values{}
		for name, v := range f.fields {
			for _, one := range v {
				if n, err := strconv.Atoi(one); err == nil && numeric.MatchString(one) {
					one = strconv.Itoa(n + 1)
				}
				more.Add(name, one)
			}
		}
		p.ask(kind, "POST", f.action, more)
	}
	for no := 1; no <= 23; no += 2 { // knitted on, and one back
		at := fmt.Sprintf("/pieces/%d/knit", no)
		page := p.ask("knit", "GET", at, nil)
		for _, do := range []string{"knitted", "knitted", "knitted", "back", "knitted", "knitted", "knitted", "mark"} {
			i := slices.IndexFunc(formsOn(page), func(f form) bool { return f.action == at && f.fields.Get("do") == do })
			if i >= 0 {
				page = p.ask("knit "+do, "POST", at, formsOn(page)[i].fields)
			}
		}
	}
	p.compare()
}

// compare holds what was answered to testdata/pages.txt: a line of how many and a hash, a line of words.
func (p *pinner) compare() {
	var b strings.Builder
	for _, kind := range p.order {
		one := p.kinds[kind]
		fmt.Fprintf(&b, "%s × %d %x\n    %.1200s\n", kind, one.asked, one.hash[:6], one.words)
	}
	const name = "testdata/pages.txt"
	if *update {
		if err := os.WriteFile(name, []byte(b.String()), 0o644); err != nil {
			p.t.Fatal(err)
		}
		return
	}
	old, err := os.ReadFile(name)
	if err != nil {
		p.t.Fatal(err)
	}
	was, is := strings.Split(string(old), "\n"), strings.Split(b.String(), "\n")
	if len(was) != len(is) {
		p.t.Errorf("%d kinds of pages, and there were %d", len(is)/2, len(was)/2)
	}
	told := 0
	for i := 0; i+1 < min(len(was), len(is)) && told < 12; i += 2 {
		if was[i] != is[i] {
			told++
			p.t.Errorf("what this page answers has changed; if it is meant, -update and read the difference\n%s\n%s\n%s\n%s",
				was[i], is[i], was[i+1], is[i+1])
		}
	}
}
