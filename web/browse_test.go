package web_test

import (
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"vindel/knit/check"
	"vindel/knit/piecetest"
	"vindel/knit/repeats"
	"vindel/store"
	"vindel/web"
)

// namesOf are the pieces that a page of the shelf lists, in its order.
func namesOf(page string) (names []string) {
	for part := range strings.SplitSeq(page, `class="piece"`) {
		if _, after, ok := strings.Cut(part, "<h2><a href="); ok {
			_, after, _ = strings.Cut(after, ">")
			name, _, _ := strings.Cut(after, "<")
			names = append(names, name)
		}
	}
	return names
}

// TestShelf: pieces are found by words, machine, state and label, and lie in the order that is
// asked for; a piece gets another name, labels, and a copy that is its own.
func TestShelf(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	find := func(query string) []string {
		for range patience { // a piece that is being worked out is not found by what it is
			if !strings.Contains(get(t, srv.URL+"/"), "piece-waits") {
				break
			}
			time.Sleep(15 * time.Millisecond)
		}
		return namesOf(get(t, srv.URL+"/?"+query))
	}
	all := find("")
	if got := find("q=MITTEN+feathers"); len(got) < 2 || len(got) == len(all) {
		t.Errorf("by words: %q", got)
	}
	if got := find("state=new&sort=name"); len(got) == 0 || !strings.HasPrefix(strings.Join(got, "|"), "B") {
		t.Errorf("not begun, by name: %q", got)
	}
	for state, want := range map[string]string{"on": "Wind streamer", "done": "Pocket warmer"} {
		got := strings.Join(find("state="+state), "|")
		if state == "on" && !strings.Contains(got, want) || strings.Contains(got, "Deliberate") {
			t.Errorf("%s: %s", state, got)
		}
	}
	sum := 0
	for _, state := range []string{"on", "new", "done", "stops"} {
		sum += len(find("state=" + state))
	}
	if sum != len(all) || len(find("state=on")) == len(all) {
		t.Errorf("by how they stand %d of %d", sum, len(all))
	}
	name := pieceOf(t, srv, 3).Name
	send(t, srv, "/pieces/3/shelf", url.Values{"name": {"A seat for two"}, "labels": {"for sale,  for sale, hide "}})
	if got := find("label=for+sale"); len(got) != 1 || got[0] != "A seat for two" ||
		len(find("q=hide+seat+sale")) != 1 {
		t.Errorf("by label: %q, %q", got, find("q=hide+seat+sale"))
	}
	send(t, srv, "/pieces/3/undo", nil)
	if got := find("label=hide"); len(got) != 1 || got[0] != name {
		t.Errorf("renamed and undone: %q", got)
	}
	send(t, srv, "/pieces/3/copy", nil)
	if got := find("label=hide&sort=name"); len(got) != 2 || got[1] != name+", copy" {
		t.Errorf("copied: %q", got)
	}
	if got := find("label=none"); len(got) != 0 {
		t.Errorf("no such label: %q", got)
	}
	if got := find("sort=far"); len(got) < len(all) || got[len(got)-1] == "Wind streamer" {
		t.Errorf("by how far: %q", got)
	}
}

// TestCharts: a chart gets another name wherever it lies, is copied into another piece with its
// yarns, and is taken away only where nothing uses it; likewise a yarn.
func TestCharts(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	refused := func(path string, form url.Values, want string) {
		t.Helper()
		res, err := http.PostForm(srv.URL+path, form)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		if page := plainText(readAll(t, res.Body)); res.StatusCode != 422 || !strings.Contains(page, want) {
			t.Errorf("%s %v: %d, not %q: %s", path, form, res.StatusCode, want, page)
		}
	}
	before := drawn(t, srv, 3, "plover")
	send(t, srv, "/pieces/3/charts", url.Values{"do": {"rename"}, "chart": {"plover"}, "name": {"running plover"}})
	if p := pieceOf(t, srv, 3); drawn(t, srv, 3, "running plover") != before || p.Charts["plover"] != nil ||
		!check.Run(p).Fabric.Matches() {
		t.Error("renamed, the piece is another")
	}
	refused("/pieces/3/charts", url.Values{"do": {"rename"}, "chart": {"running plover"}, "name": {"ripple"}},
		"already")
	refused("/pieces/3/charts", url.Values{"do": {"drop"}, "chart": {"running plover"}}, "lies in section")
	send(t, srv, "/pieces/3/charts", url.Values{"do": {"copy"}, "chart": {"running plover"}, "to": {"9"}})
	if got := drawn(t, srv, 9, "running plover"); got != before || len(pieceOf(t, srv, 9).Yarns) < 2 {
		t.Errorf("copied: %s", got)
	}
	send(t, srv, "/pieces/9/charts", url.Values{"do": {"drop"}, "chart": {"running plover"}})
	if pieceOf(t, srv, 9).Charts["running plover"] != nil {
		t.Error("it is still there")
	}
	if p := pieceOf(t, srv, 9); len(p.Yarns) > 1 {
		n := len(p.Yarns)
		send(t, srv, "/pieces/9/yarn-away", url.Values{"yarn": {string(p.Yarns[n-1].ID)}})
		if len(pieceOf(t, srv, 9).Yarns) != n-1 {
			t.Error("a yarn that nothing uses stays")
		}
	}
	refused("/pieces/3/yarn-away", url.Values{"yarn": {"A"}}, "is still used")
	send(t, srv, "/pieces/9/repeat", url.Values{"repeat": {"moth"}})
	if got, want := drawn(t, srv, 9, "moth"), strings.Join(repeats.Find("moth").Chart.Rows(), " "); got != want {
		t.Errorf("from the shelf of repeats: %s, not %s", got, want)
	}
}

// TestBeginFromShelf: a piece is begun from a repeat and from a shape, on the machine of the last.
func TestBeginFromShelf(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	send(t, srv, "/pieces", url.Values{"from": {"repeat"}, "repeat": {"vee"}, "machine": {"card-preselect"},
		"name": {"Flock"}, "repeats": {"3"}})
	p := pieceOf(t, srv, 1)
	if r := check.Run(p); p.Sections[0].Technique.Name != "lace" || !r.Fabric.Matches() {
		t.Errorf("%s: %s", p.Sections[0].Technique.Name, r.Fabric.First)
	}
	if home := get(t, srv.URL); !strings.Contains(home, `<option value="card-preselect" title=`) ||
		!strings.Contains(home[strings.Index(home, `value="card-preselect"`):][:400], " selected>") {
		t.Error("the machine is not remembered")
	}
	send(t, srv, "/pieces", url.Values{"from": {"blank"}, "shape": {"cap"}, "name": {"Cap"},
		"technique": {"two-colour"}, "machine": {""}})
	if p := pieceOf(t, srv, 2); p.Shape == nil {
		t.Error("begun from a shape it has none")
	}
	if page := get(t, srv.URL+"/repeats"); strings.Count(page, "Begin with it</") < 30+5 {
		t.Error("the shelf of repeats is not full")
	}
}

// TestManyPieces: the shelf comes in parts of forty, each of the pieces once; however many there are, its first page
// stays small.
func TestManyPieces(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{Patience: time.Nanosecond})
	const all = 5000
	var list []store.Begun
	for n := range all {
		list = append(list, store.Begun{Doc: piecetest.Document(t, "hand-mid", "L4", "R4", []string{"#.##"},
			piecetest.Set("/name", fmt.Sprintf("Moor square %04d", n))).JSON()})
	}
	if err := st.Fill(t.Context(), list); err != nil {
		t.Fatal(err)
	}
	page := get(t, srv.URL+"/")
	if len(page) > 200<<10 || !strings.Contains(page, "5000 on the shelf") {
		t.Errorf("the first page has %d bytes", len(page))
	}
	seen := map[string]bool{}
	for range 4 {
		for _, name := range namesOf(page) {
			seen[name] = true
		}
		next := regexp.MustCompile(`hx-get="(/\?[^"]*from=[^"]*)"`).FindStringSubmatch(page)
		if next == nil {
			t.Fatal("the shelf ends")
		}
		page = get(t, srv.URL+html.UnescapeString(next[1]))
	}
	if len(seen) != 4*40 {
		t.Errorf("%d pieces in four parts", len(seen))
	}
	for from, want := range map[int]int{4959: 40, 4960: 40, 4990: 10} {
		last := get(t, fmt.Sprintf("%s/?from=%d", srv.URL, from))
		if n := len(namesOf(last)); n != want || strings.Contains(last, "The next 40") != (from == 4959) {
			t.Errorf("from %d on: %d pieces", from, n)
		}
	}
}
