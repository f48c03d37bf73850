package web_test

import (
	"bytes"
	"errors"
	"fmt"
	"log/slog"
	"mime/multipart"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"vindel/demo"
	"vindel/knit/piecetest"
	"vindel/store"
	"vindel/web"
)

// TestRefusals: what stands before the pages, from headers to status.
func TestRefusals(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{Hosts: []string{"localhost", "127.0.0.1"}})
	for _, c := range []struct {
		name, method, path, body string
		headers                  map[string]string
		want                     int
	}{
		{"a page", "GET", "/", "", nil, 200},
		{"another name", "GET", "/", "", map[string]string{"Host": "elsewhere.example"}, 421},
		{"a write from another site", "POST", "/pieces/1/undo", "",
			map[string]string{"Sec-Fetch-Site": "cross-site"}, 403},
		{"a write with another origin", "POST", "/pieces/1/undo", "",
			map[string]string{"Origin": "http://elsewhere.example"},
			403},
		{"no such piece", "GET", "/pieces/99/draw", "", nil, 404},
		{"no such file", "GET", "/static/x/app.js", "", nil, 404},
		{"an edit that is no JSON", "POST", "/pieces/3/edit", "{",
			map[string]string{"Content-Type": "application/json"},
			422},
		{"an edit that leaves no piece", "POST", "/pieces/3/edit", `{"changes":[{"op":"remove","path":"/yarns"}]}`,
			map[string]string{"Content-Type": "application/json"}, 422},
		{"an edit of nothing", "POST", "/pieces/3/edit", `{"changes":[{"op":"replace","path":"/no/where","value":1}]}`,
			map[string]string{"Content-Type": "application/json"}, 422},
		{"an edit whose place has no slash", "POST", "/pieces/3/edit",
			`{"changes":[{"op":"add","path":"name","value":1}]}`,
			map[string]string{"Content-Type": "application/json"}, 422},
		{"an edit that does nothing known", "POST", "/pieces/3/edit",
			`{"changes":[{"op":"move","path":"/name","value":1}]}`,
			map[string]string{"Content-Type": "application/json"}, 422},
		{"a field without a slash", "POST", "/pieces/3/field", "path=name&value=x",
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, 422},
		{"a section that is not there", "POST", "/pieces/3/section", "section=40&do=technique&value=slip",
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, 422},
		{"a remark that is as long as it may be", "POST", "/pieces/3/knit",
			"do=note&from=0&note=" + strings.Repeat("x", 400),
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, 303},
		{"a remark that is too long", "POST", "/pieces/3/knit", "do=note&from=0&note=" + strings.Repeat("x", 401),
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, 422},
		{"a version's name that is as long as it may be", "POST", "/pieces/3/versions", "name=" + strings.Repeat("x",
			200),
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, 303},
		{"a version's name that is too long", "POST", "/pieces/3/versions", "name=" + strings.Repeat("x", 201),
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, 422},
		{"too large", "POST", "/pieces/3/field", strings.Repeat("x", 2<<20),
			map[string]string{"Content-Type": "application/x-www-form-urlencoded"}, 413},
	} {
		req, err := http.NewRequest(c.method, srv.URL+c.path, strings.NewReader(c.body))
		if err != nil {
			t.Fatal(err)
		}
		for k, v := range c.headers {
			req.Header.Set(k, v)
		}
		if h := c.headers["Host"]; h != "" {
			req.Host = h
		}
		res, err := http.DefaultTransport.RoundTrip(req)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != c.want {
			t.Errorf("%s: %d, want %d", c.name, res.StatusCode, c.want)
		}
		if csp := res.Header.Get("Content-Security-Policy"); c.want == 200 &&
			(!strings.HasPrefix(csp, "default-src 'none'") || strings.Contains(csp, "unsafe")) {
			t.Errorf("policy: %s", csp)
		}
	}
}

// TestPassphrase: without it nothing is shown; the tries are counted; with it the
// session holds.
func TestPassphrase(t *testing.T) {
	t.Parallel()
	at := time.Now() // the clock stands still, so that no try is given back meanwhile
	srv, st := site(t, true, web.Options{Guard: true, Now: func() time.Time { return at }})
	for _, bad := range []string{"short", "heatherpeat", "password1234", "Pass-Word 12345", "123456789012",
		"abcabcabcabc", "qwertyuiopas",
		"aaaaaaaaaaaa", strings.Repeat("heather and ", 7)} {
		if err := web.SetPassphrase(t.Context(), st, bad); err == nil {
			t.Errorf("%q is taken", bad)
		}
	}
	if err := web.SetPassphrase(t.Context(), st, "heather and peat"); err != nil {
		t.Fatal(err)
	}
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar}
	page := func(path string) string {
		res, err := client.Get(srv.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		return fmt.Sprint(res.StatusCode, res.Request.URL.Path)
	}
	if got := page("/pieces/1/piece.vindel.json"); got != "200/login" {
		t.Errorf("before: %s", got)
	}
	for i, c := range []struct {
		phrase string
		want   int
	}{{"wrong one", 401}, {"heather and peat", 200}, {"x", 401}, {"x", 401}, {"x", 401}, {"heather and peat", 429}} {
		res, err := client.PostForm(srv.URL+"/login", url.Values{"passphrase": {c.phrase}})
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != c.want {
			t.Errorf("try %d: %d, want %d", i+1, res.StatusCode, c.want)
		}
	}
	if got := page("/pieces/1/prove"); got != "200/pieces/1/prove" {
		t.Errorf("after: %s", got)
	}
	// One who guesses from elsewhere does not keep her out: his tries are his own.
	from := &net.Dialer{LocalAddr: &net.TCPAddr{IP: net.ParseIP("127.0.0.9")}}
	other := &http.Client{Transport: &http.Transport{DialContext: from.DialContext},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	res, err := other.PostForm(srv.URL+"/login", url.Values{"passphrase": {"heather and peat"}})
	if err != nil || res.StatusCode != 303 {
		t.Fatalf("from another address: %v %v", res, err)
	}
	cookie := res.Cookies()[0]
	if !cookie.HttpOnly || cookie.SameSite != http.SameSiteStrictMode || cookie.Secure {
		t.Errorf("its cookie: %+v", cookie)
	}
	list, err := st.Sessions(t.Context())
	if err != nil || len(list) != 2 {
		t.Fatalf("%d sessions, %v", len(list), err)
	}
	// She leaves, and is asked again; another passphrase ends all sessions.
	if res, err = client.PostForm(srv.URL+"/sessions/end", nil); err != nil || res.Request.URL.Path != "/login" {
		t.Errorf("after leaving: %v %v", res.Request.URL, err)
	}
	if err := web.SetPassphrase(t.Context(), st, "curlews over the moor"); err != nil {
		t.Fatal(err)
	}
	if list, _ = st.Sessions(t.Context()); len(list) != 0 {
		t.Errorf("%d sessions outlive the passphrase", len(list))
	}
}

// TestHeadersEverywhere: what is refused carries the same headers as what is shown, and this
// machine answers to every name of its own.
func TestHeadersEverywhere(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{Hosts: []string{"localhost", "127.0.0.1", "::1"}})
	for _, c := range []struct {
		host, origin string
		want         int
	}{{"localhost", "", 200}, {"LOCALHOST.", "", 200}, {"127.0.0.2:8080", "", 200}, {"[::1]:8080", "", 200},
		{"evil.example", "", 421},
		{"localhost", "https://evil.example", 403}} {
		method := "GET"
		if c.origin != "" {
			method = "POST"
		}
		req, _ := http.NewRequest(method, srv.URL+"/", nil)
		if req.Host = c.host; c.origin != "" {
			req.Header.Set("Origin", c.origin)
		}
		res, err := http.DefaultTransport.RoundTrip(req)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != c.want || !strings.HasPrefix(res.Header.Get("Content-Security-Policy"),
			"default-src 'none'") ||
			res.Header.Get("X-Content-Type-Options") != "nosniff" {
			t.Errorf("%s %s: %d, %v", c.host, c.origin, res.StatusCode, res.Header)
		}
	}
}

// TestUploads: a picture is bounded in bytes and in pixels before it is decoded, and a
// name from outside stays text.
func TestUploads(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	send := func(name, file string, data []byte) (int, string) {
		var body bytes.Buffer
		w := multipart.NewWriter(&body)
		w.WriteField("name", name)
		w.WriteField("machine", "card-preselect")
		w.WriteField("from", "file")
		part, _ := w.CreateFormFile("file", file)
		part.Write(data)
		w.Close()
		res, err := http.Post(srv.URL+"/pieces", w.FormDataContentType(), &body)
		if err != nil {
			return 413, "" // the server hung up on it
		}
		defer res.Body.Close()
		var b bytes.Buffer
		b.ReadFrom(res.Body)
		return res.StatusCode, b.String()
	}
	// A PNG whose header promises 60000 × 60000 pixels.
	bomb := []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\xea\x60\x00\x00\xea\x60\x08\x06\x00\x00\x00\xbd\xee\xfe\x9c")
	if code, _ := send("bomb", "bomb.png", bomb); code != 422 {
		t.Errorf("a picture of 3.6 thousand million pixels: %d", code)
	}
	if code, _ := send("large", "large.png", make([]byte, 18<<20)); code != 413 {
		t.Errorf("18 MiB: %d", code)
	}
	res, err := http.PostForm(srv.URL+"/pieces", url.Values{"name": {strings.Repeat("a", 18<<20)}})
	if err == nil && res.StatusCode != 413 {
		t.Errorf("a name of 18 MiB: %d", res.StatusCode)
	}
	if code, page := send("<script>alert(1)</script>", "a.txt", []byte("..#\n##.\n")); code != 200 ||
		strings.Contains(page, "<script>alert") {
		t.Errorf("a name with a script in it: %d", code)
	}
}

// TestErrorsLogged: what breaks here is logged with the request's id and its route, and the
// answer names the id and nothing of the inside; what the user got wrong is not logged.
func TestErrorsLogged(t *testing.T) { // alone: the log is everybody's
	var log bytes.Buffer
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(&log, nil)))
	defer slog.SetDefault(before)
	srv, st := site(t, true, web.Options{})
	ask := func(path string) (string, string) {
		res, err := http.Get(srv.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		var b bytes.Buffer
		b.ReadFrom(res.Body)
		return fmt.Sprint(res.StatusCode, " ", b.String()), res.Header.Get("X-Request-Id")
	}
	if page, _ := ask("/pieces/99/draw"); !strings.HasPrefix(page, "404") || log.Len() > 0 {
		t.Errorf("no such piece: %.60s; logged: %s", page, log.String())
	}
	st.Close()
	page, id := ask("/pieces/1/draw")
	if !strings.HasPrefix(page, "500") || id == "" || !strings.Contains(page, id) || strings.Contains(page, "sql") ||
		strings.Contains(page, "database") {
		t.Errorf("a database that is closed: %s", page)
	}
	if said := log.String(); !strings.Contains(said, "request="+id) || !strings.Contains(said,
		"route=/pieces/:id/draw") ||
		!strings.Contains(said, "closed") {
		t.Errorf("logged: %s", said)
	}
}

// TestPutAway: what was put away is listed, comes back whole, and is gone for good only when
// it is deleted there; what is in sight cannot be deleted.
func TestPutAway(t *testing.T) {
	t.Parallel()
	month := 0 * time.Hour
	srv, st := site(t, true, web.Options{Now: func() time.Time { return time.Now().Add(month) }})
	post := func(path string, form url.Values) int {
		res, err := http.PostForm(srv.URL+path, form)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res.StatusCode
	}
	before, _ := st.Piece(t.Context(), 2)
	if post("/away/2", nil) != 404 {
		t.Error("a piece that lies on the shelf is deleted")
	}
	post("/pieces/2/away", nil)
	if page := plainText(get(t, srv.URL+"/away")); !strings.Contains(page,
		"cap, contour band just now Bring back stays until ") {
		t.Error(page)
	}
	post("/pieces/2/away", url.Values{"away": {"no"}})
	if back, err := st.Piece(t.Context(), 2); err != nil || string(back.Doc) != string(before.Doc) {
		t.Errorf("brought back: %v", err)
	}
	if at, _ := st.Reached(t.Context(), 2); at.Done != 23 {
		t.Errorf("its journal: %+v", at)
	}
	post("/pieces/2/away", nil)
	month = 30*24*time.Hour - time.Minute
	if code := post("/away/2", nil); code != 422 {
		t.Errorf("deleted within a month: %d", code)
	}
	month += 2 * time.Minute
	if page := plainText(get(t, srv.URL+"/away")); !strings.Contains(page, "Delete for good") {
		t.Error(page)
	}
	if code := post("/away/2", nil); code != 200 {
		t.Errorf("deleted: %d", code)
	}
	if _, err := st.Piece(t.Context(), 2); !errors.Is(err, store.ErrNone) {
		t.Errorf("deleted, and there: %v", err)
	}
	if page := plainText(get(t, srv.URL+"/away")); !strings.Contains(page, "Nothing is put away.") {
		t.Error(page)
	}
}

// TestLargeAndBroken: a piece that takes long to work out says so at once and comes when it is
// ready, and the shelf does not wait for it; a piece that cannot be read hides no other, and can
// be taken out and mended; another start shows what was worked out before.
func TestLargeAndBroken(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	section := `{"technique":"plain","yarn":"A","rows":20000}`
	doc := `{"vindel":1,"name":"moor line","machine":{"profile":"hand-mid"},"yarns":[{"id":"A"}],"needles":{"from":"L70","to":"R70"},
		"sections":[` + strings.Repeat(section+",", 4) + section + `]}`
	large, err := st.Add(t.Context(), []byte(doc))
	if err != nil {
		t.Fatal(err)
	}
	broken, err := st.Add(t.Context(), []byte(`{"vindel":1,"name":"half a heron"}`))
	if err != nil {
		t.Fatal(err)
	}
	home := plainText(get(t, srv.URL+"/"))
	for _, want := range []string{"half a heron machine: missing", "Draught curtain, reed tucks", "moor line"} {
		if !strings.Contains(home, want) {
			t.Errorf("the shelf lacks %q: %s", want, home)
		}
	}
	hasty, err := web.New(st, web.Options{Patience: time.Millisecond})
	if err != nil {
		t.Fatal(err)
	}
	hurried := httptest.NewServer(hasty.Handler())
	defer hurried.Close()
	if home := plainText(get(t, hurried.URL+"/")); !strings.Contains(home,
		"moor line It is large, and is being worked out.") {
		t.Errorf("the shelf of one who does not wait: %s", home)
	}
	page := fmt.Sprintf("%s/pieces/%d/draw", hurried.URL, large)
	for waited := 0; ; waited++ {
		res, err := http.Get(page)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode == 422 && waited > 0 { // it has no chart to draw, so it is worked out
			break
		}
		if res.StatusCode != 202 || res.Header.Get("Refresh") != "1" || waited > 600 {
			t.Fatalf("%d, %v", res.StatusCode, res.Header)
		}
		time.Sleep(20 * time.Millisecond)
	}
	for waited := 0; ; waited++ { // where the machine is busy it is worked out for longer than a request waits
		card := plainText(get(t, fmt.Sprintf("%s/pieces/%d/card", srv.URL, large)))
		if strings.Contains(card, "100000 passes") {
			break
		}
		if !strings.Contains(card, "is being worked out") || waited > 600 {
			t.Fatalf("its card: %s", card)
		}
		time.Sleep(20 * time.Millisecond)
	}
	res, err := http.Get(fmt.Sprintf("%s/pieces/%d/prove", srv.URL, broken))
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	var b bytes.Buffer
	b.ReadFrom(res.Body)
	if text := plainText(b.String()); res.StatusCode != 422 || !strings.Contains(text, "This piece cannot be opened") ||
		!strings.Contains(text, "Take the file out") || strings.Contains(text, "Undo") {
		t.Errorf("%d: %s", res.StatusCode, text)
	}
	if file := get(t, fmt.Sprintf("%s/pieces/%d/piece.vindel.json", srv.URL, broken)); !strings.Contains(file,
		"half a heron") {
		t.Errorf("taken out: %s", file)
	}
	for name, want := range map[int64]int{large: 422, 1: 200} {
		res, err := http.Get(fmt.Sprintf("%s/pieces/%d/plan/plan.json", srv.URL, name))
		if err != nil || res.StatusCode != want {
			t.Errorf("the plan of piece %d as a file: %v %v", name, res.Status, err)
		}
		res.Body.Close()
	}
	// What was worked out is stored a little later, and then another start shows it at once.
	home = ""
	for range 100 {
		again, err := web.New(st, web.Options{Patience: time.Millisecond})
		if err != nil {
			t.Fatal(err)
		}
		rec := httptest.NewRecorder()
		again.Handler().ServeHTTP(rec, httptest.NewRequest("GET", "/", nil))
		if home = plainText(rec.Body.String()); strings.Contains(home, "100000 passes") {
			break
		}
		time.Sleep(100 * time.Millisecond)
	}
	if !strings.Contains(home, "100000 passes") || strings.Contains(home, "moor line It is large") {
		t.Errorf("the shelf of the next start: %s", home)
	}
}

// TestDataGone: when the folder of the data is gone, every change says so and that it is not
// kept; nothing of the inside is shown, and what was read can still be taken out.
func TestDataGone(t *testing.T) {
	t.Parallel()
	dir := filepath.Join(t.TempDir(), "data")
	os.Mkdir(dir, 0o700)
	st, err := store.Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	if err := demo.Fill(t.Context(), st); err != nil {
		t.Fatal(err)
	}
	app, _ := web.New(st, web.Options{})
	srv := httptest.NewServer(app.Handler())
	defer srv.Close()
	at, err := st.Reached(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.RemoveAll(dir); err != nil {
		t.Fatal(err)
	}
	for path, form := range map[string]url.Values{"/pieces/2/knit": {"do": {"knitted"}, "from": {fmt.Sprint(at.Done)},
		"rev": {"1"}, "place": {fmt.Sprint(at.ID)}},
		"/pieces/3/undo":  {"rev": {"1"}},
		"/pieces/3/field": {"path": {"/name"}, "kind": {"text"}, "value": {"heron"}, "rev": {"1"}}, "/pieces/3/away": {},
		"/pieces": {"from": {"text"}, "text": {"..#"}, "machine": {"hand-mid"}}} {
		res, err := http.PostForm(srv.URL+path, form)
		if err != nil {
			t.Fatal(err)
		}
		var b bytes.Buffer
		b.ReadFrom(res.Body)
		res.Body.Close()
		if said := plainText(b.String()); res.StatusCode != 507 || !strings.Contains(said,
			"The folder of the data is gone") ||
			!strings.Contains(said, "That was not kept.") || strings.Contains(strings.ToLower(said), "sql") ||
			strings.Contains(said, "store:") {
			t.Errorf("%s: %d %s", path, res.StatusCode, said)
		}
	}
	if file := get(t, srv.URL+"/pieces/3/piece.vindel.json"); !strings.Contains(file, "Hide bench cushion") {
		t.Errorf("taken out: %.80s", file)
	}
}

// TestTwoBedPages: what each way would take is planned and can be taken; the other knitted face is
// shown, and of two-bed fabric only that; each line of the program names its yarn.
func TestTwoBedPages(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	table := get(t, srv.URL+"/pieces/12/ways?section=2")
	if said := plainText(table); !strings.Contains(said, "each there and back; every other, by turns 156 74") ||
		!strings.Contains(said, "this one") ||
		!strings.Contains(said, "only two can be interleaved") || strings.Count(table, "<tr") != 10 {
		t.Errorf("the ways: %s", said)
	}
	send(t, srv, "/pieces/12/section", url.Values{"section": {"2"}, "do": {"way"}, "value": {"single stripes"}})
	if o := pieceOf(t, srv, 12).Sections[1].Options; o.Separation != "single" || o.Backing != "stripes" {
		t.Errorf("taken: %+v", o)
	}
	res, err := http.PostForm(srv.URL+"/pieces/12/section", url.Values{"section": {"2"}, "do": {"way"},
		"value": {"thrice stripes"}})
	if err != nil || res.StatusCode != 422 {
		t.Errorf("no such way: %v %v", res.Status, err)
	}
	res.Body.Close()
	page := plainText(get(t, srv.URL+"/pieces/13/prove"))
	if !strings.Contains(page, "Second bed's side knitted too, and faces you") || strings.Contains(page, "Purl side") {
		t.Errorf("prove: %s", page)
	}
	if svg := get(t, srv.URL+"/pieces/13/fabric/second.svg?w=20&h=20"); !strings.Contains(svg, "#4f6370") {
		t.Errorf("the other face: %.200s", svg)
	}
	if page := plainText(get(t, srv.URL+"/pieces/3/prove")); !strings.Contains(page,
		"Purl side faces you; floats and loops lie here") {
		t.Errorf("on one bed: %s", page)
	}
	if strings.Contains(get(t, srv.URL+"/pieces/13/place"), "is-facing") {
		t.Error("place: beds collide at half pitch")
	}
	send(t, srv, "/pieces/13/field", url.Values{"path": {"/second/pitch"}, "value": {"full"}})
	if page := get(t, srv.URL+"/pieces/13/place"); strings.Count(page, "is-facing") != 59 {
		t.Errorf("place: %d needles collide at full pitch", strings.Count(page, "is-facing"))
	}
	knit := plainText(get(t, srv.URL+"/pieces/14/knit"))
	if !strings.Contains(knit, "second bed every needle · its stitch size 4") || !strings.Contains(knit,
		"of the second bed all its 55 needles will knit, its handle at 5, half pitch") {
		t.Errorf("beside the machine: %s", knit)
	}
	if page := plainText(get(t, srv.URL+"/pieces/12/prepare")); !strings.Contains(page,
		"a line is one colour of a row, in a pass of its own: 3 colours") {
		t.Errorf("prepare: %s", page)
	}
}

// TestBringsMachine: a piece file and a shipped recipe stay on the machine that they are written for, whatever machine
// pieces are begun on otherwise; what is begun without one is put on that.
func TestBringsMachine(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	doc := piecetest.Document(t, "program-preselect", "L4", "R4", []string{"#...", "..#."}).JSON()
	begin := func(fields map[string]string, file []byte) string {
		t.Helper()
		var body bytes.Buffer
		w := multipart.NewWriter(&body)
		for key, v := range fields {
			w.WriteField(key, v)
		}
		if file != nil {
			part, _ := w.CreateFormFile("file", "piece.vindel.json")
			part.Write(file)
		}
		w.Close()
		res, err := http.Post(srv.URL+"/pieces", w.FormDataContentType(), &body)
		if err != nil || res.StatusCode != 200 {
			t.Fatalf("%v: %v", fields, err)
		}
		res.Body.Close()
		n, err := st.Count(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return pieceOf(t, srv, n).Machine.Name
	}
	own := begin(map[string]string{"machine": "own-1", "from": "blank", "technique": "two-colour", "stitches": "8",
		"rows": "4"}, nil)
	if own != "Larkmoor's card machine" {
		t.Errorf("begun on her machine it is on %s", own)
	}
	if got := begin(map[string]string{"machine": "own-1", "from": "file"}, doc); got != "Electronic, selects a row ahead" {
		t.Errorf("a piece file is put on %s", got)
	}
	if got := begin(map[string]string{"machine": "own-1", "from": "recipe", "recipe": "rain-curtain"}, nil); got !=
		"Hand-selected, middle gauge" {
		t.Errorf("a shipped recipe is put on %s", got)
	}
}
