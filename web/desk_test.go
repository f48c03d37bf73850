package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"maps"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"vindel/knit/chart"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/finding"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/store"
	"vindel/web"
)

// begin makes a piece with an empty chart, as the form of the first page does.
func begin(t *testing.T, srv *httptest.Server, machine, technique string, w, h, repeats int) {
	t.Helper()
	send(t, srv, "/pieces", url.Values{"name": {"trial"}, "machine": {machine}, "technique": {technique},
		"from":     {"blank"},
		"stitches": {fmt.Sprint(w)}, "rows": {fmt.Sprint(h)}, "repeats": {fmt.Sprint(repeats)}})
}

// stores are the stores behind the servers of tests, by their addresses.
var stores sync.Map

// asPage sends what a test posts as the page does: with the revision and the place of the piece, or the state of the
// machine or project, that it shows, where the test does not name another.
type asPage struct{ http.RoundTripper }

func init() { http.DefaultTransport = asPage{http.DefaultTransport} }

func (a asPage) RoundTrip(r *http.Request) (*http.Response, error) {
	var id int64
	of, ok := stores.Load("http://" + r.URL.Host)
	at := strings.Split(r.URL.Path, "/")
	if !ok || r.Method != http.MethodPost || len(at) < 3 {
		return a.RoundTripper.RoundTrip(r)
	}
	st := of.(*store.Store)
	id, _ = strconv.ParseInt(at[2], 10, 64)
	r = r.Clone(r.Context())
	shown := url.Values{}
	switch at[1] {
	case "pieces":
		if p, err := st.Piece(r.Context(), id); err == nil && r.Header.Get("Vindel-Rev") == "" {
			r.Header.Set("Vindel-Rev", fmt.Sprint(p.Rev))
		}
		if at, err := st.Reached(r.Context(), id); err == nil {
			shown.Set("place", fmt.Sprint(at.ID))
		}
	case "machines":
		if m, err := st.Machine(r.Context(), id); err == nil {
			shown.Set("state", m.State)
		}
	case "projects":
		if p, err := st.Project(r.Context(), id); err == nil {
			shown.Set("state", p.State)
		}
	}
	if r.Header.Get("Content-Type") == "application/x-www-form-urlencoded" && r.Body != nil {
		body, err := io.ReadAll(r.Body)
		if err != nil {
			return nil, err
		}
		form, err := url.ParseQuery(string(body))
		if err == nil {
			maps.Copy(shown, form)
			body = []byte(shown.Encode())
		}
		r.Body, r.ContentLength = io.NopCloser(bytes.NewReader(body)), int64(len(body))
	}
	return a.RoundTripper.RoundTrip(r)
}

// send posts a form, and gives what came back.
func send(t *testing.T, srv *httptest.Server, path string, form url.Values) string {
	t.Helper()
	req, _ := http.NewRequest("POST", srv.URL+path, strings.NewReader(form.Encode()))
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return answerOf(t, req)
}

func answerOf(t *testing.T, req *http.Request) string {
	t.Helper()
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	var b bytes.Buffer
	b.ReadFrom(res.Body)
	if res.StatusCode != 200 && res.StatusCode != 202 {
		t.Fatalf("%s %s: %s: %s", req.Method, req.URL.Path, res.Status, b.String())
	}
	return b.String()
}

func pieceOf(t *testing.T, srv *httptest.Server, id int) *piece.Piece {
	t.Helper()
	p, err := technique.Read([]byte(get(t, fmt.Sprintf("%s/pieces/%d/piece.vindel.json", srv.URL, id))))
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func drawn(t *testing.T, srv *httptest.Server, id int, name string) string {
	return strings.Join(pieceOf(t, srv, id).Charts[name].Rows(), " ")
}

func (b *tab) saved(srv *httptest.Server, head int) {
	b.t.Helper()
	b.until(fmt.Sprintf(`document.getElementById("board").dataset.head === "%d"`, head))
}

// ctrl presses a key with Control held, or Control and Shift.
func (b *tab) ctrl(key string, more ...chromedp.Modifier) {
	b.t.Helper()
	m := chromedp.ModifierCtrl
	for _, x := range more {
		m |= x
	}
	b.do(chromedp.KeyEvent(key, chromedp.KeyModifiers(m)))
}

// TestDeskByKeyboard: a repeat drawn without a mouse: typed, shaped, mirrored, copied,
// shifted, mended; each step undone one by one, and all of it there after a restart.
func TestDeskByKeyboard(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	st, err := store.Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	app, _ := web.New(st, web.Options{})
	srv := httptest.NewServer(app.Handler())
	begin(t, srv, "card-direct", "two-colour", 12, 6, 2)
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/draw"))
	b.until(`document.activeElement?.id === "board"`)
	type step struct {
		what string
		do   func()
		want string
	}
	steps := []step{
		{"a row typed as runs", func() {
			b.key("j")
			b.until(`document.activeElement?.id === "typed"`)
			b.do(chromedp.SetValue(chromedp.CSS("#typed"), "2# 1. again"))
			b.key(kb.Enter)
		}, "............ ............ ............ ............ ............ ##.##.##.##."},
		{"a rectangle from corner to corner", func() {
			b.key(kb.Escape)
			b.until(`document.activeElement?.id === "board"`)
			b.key("r", kb.End, kb.ArrowLeft, kb.Enter, kb.ArrowUp, kb.ArrowUp, kb.ArrowLeft, kb.ArrowLeft, kb.Enter)
		}, "............ ............ ........###. ........#.#. ........###. ##.##.##.##."},
		{"a point and its mirror image", func() { b.key("b", "m", kb.Home, kb.PageUp, kb.Enter, "m") },
			"#..........# ............ ........###. ........#.#. ........###. ##.##.##.##."},
		{"a part copied and stamped", func() {
			b.do(chromedp.KeyEvent(kb.ArrowRight, chromedp.KeyModifiers(chromedp.ModifierShift)),
				chromedp.KeyEvent(kb.ArrowDown, chromedp.KeyModifiers(chromedp.ModifierShift)))
			b.key("c", "p", kb.ArrowDown, kb.ArrowDown, kb.Enter, kb.Escape)
		}, "#..........# ............ .#......###. ........#.#. ........###. ##.##.##.##."},
		{"shifted round the edge", func() { b.ctrl(kb.ArrowUp, chromedp.ModifierShift) },
			"............ .#......###. ........#.#. ........###. ##.##.##.##. #..........#"},
		{"mirrored", func() { b.key("h") },
			"............ .###......#. .#.#........ .###........ .##.##.##.## #..........#"},
	}
	for i, s := range steps {
		s.do()
		b.saved(srv, i+1)
		if got := drawn(t, srv, 1, "chart"); got != s.want {
			t.Fatalf("%s:\n got %s\nwant %s", s.what, got, s.want)
		}
	}
	// A long float is marked on its cells; standing there, one key mends it.
	b.until(`!document.getElementById("mend").hidden || document.querySelector("#findings .finding[data-row]")`)
	ask[bool](b, `([...document.querySelectorAll("#findings .finding")].find(f => f.dataset.row > 0).click(), true)`)
	b.until(`!document.getElementById("mend").hidden`)
	before := len(check.Run(pieceOf(t, srv, 1)).Findings)
	b.do(chromedp.Focus(chromedp.CSS("#board")))
	b.key("k")
	b.saved(srv, len(steps)+1)
	if after := len(check.Run(pieceOf(t, srv, 1)).Findings); after >= before {
		t.Errorf("%d findings, mended %d", before, after)
	}
	b.key("z")
	b.saved(srv, len(steps))
	srv.Close()
	st.Close()

	st, err = store.Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	app, _ = web.New(st, web.Options{})
	srv = httptest.NewServer(app.Handler())
	stores.Store(srv.URL, st)
	defer srv.Close()
	for i := len(steps) - 1; i >= 0; i-- {
		if got := drawn(t, srv, 1, "chart"); got != steps[i].want {
			t.Fatalf("after a restart, %d steps undone: %s", len(steps)-1-i, got)
		}
		send(t, srv, "/pieces/1/undo", nil)
	}
}

// TestDeskByPointer: strokes that run round the edge of a half-drop repeat, a selection
// moved by dragging, and a stroke by touch; two fingers move the board and paint nothing.
func TestDeskByPointer(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	begin(t, srv, "program-preselect", "two-colour", 8, 6, 3)
	send(t, srv, "/pieces/1/field", url.Values{"path": {"/sections/0/areas/0/drop"}, "kind": {"number"},
		"value": {"3"}})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/draw"))
	b.until(`document.activeElement?.id === "board"`)
	view := func(keys ...string) { // another view, waited for: it is drawn in the next frame
		t.Helper()
		b.until(`document.getElementById("board").dataset.grid`)
		before := ask[string](b, `document.getElementById("board").dataset.grid`)
		b.key(keys...)
		b.until(fmt.Sprintf(`document.getElementById("board").dataset.grid !== %q`, before))
	}
	view("g") // the repeat view: cells of the next repeats are cells of this one
	b.drag(2, 7, 2, 10)
	b.saved(srv, 2)
	if got, want := drawn(t, srv, 1, "chart"), "........ ##...... ........ ........ ......## ........"; got != want {
		t.Errorf("round the edge of a half-drop repeat: %s, want %s", got, want)
	}
	view("g")
	b.key("s")
	b.drag(5, 1, 5, 2)
	b.drag(5, 1, 3, 4)
	b.saved(srv, 3)
	if got, want := drawn(t, srv, 1, "chart"), "........ ........ ........ ...##... ......## ........"; got != want {
		t.Errorf("a selection moved: %s, want %s", got, want)
	}
	b.key("b")
	x, y := b.cell(6, 1)
	x2, _ := b.cell(6, 5)
	touch := func(steps string) {
		ask[bool](b,
			fmt.Sprintf(`(() => { const c = document.getElementById("cells"); const p = (type, id, x, y) => `+
				`c.dispatchEvent(new PointerEvent(type, { pointerId: id, pointerType: "touch", clientX: x, clientY: `+
				`y, bubbles: true, isPrimary: id === 1 })); c.setPointerCapture = () => {}; %s; return true })()`,
				steps))
	}
	touch(fmt.Sprintf(`p("pointerdown",1,%[1]g,%[2]g); p("pointermove",1,%[3]g,%[2]g); p("pointerup",1,%[3]g,%[2]g)`,
		x, y,
		x2))
	b.saved(srv, 4)
	if got := drawn(t, srv, 1, "chart"); !strings.HasPrefix(got, "#####... ") {
		t.Errorf("by touch: %s", got)
	}
	touch(fmt.Sprintf(`p("pointerdown",1,%[1]g,%[2]g); p("pointerdown",2,%[3]g,%[2]g); `+
		`p("pointermove",2,%[3]g,%[2]g-40); p("pointerup",2,%[3]g,%[2]g-40); p("pointerup",1,%[1]g,%[2]g)`, x, y+90,
		x2))
	b.key("l")
	b.drag(1, 1, 1, 8)
	b.saved(srv, 5)
	if got := drawn(t, srv, 1, "chart"); got != "#####... ........ ........ ...##... ......## ########" {
		t.Errorf("two fingers painted: %s", got)
	}
	small := ask[[]string](b,
		`[...document.querySelectorAll(".tools button, .remedy")].filter(e => e.offsetParent && (e.offsetWidth < 43 `+
			`|| e.offsetHeight < 43)).map(e => e.outerHTML.slice(0, 60))`)
	if len(small) > 0 {
		t.Errorf("too small to touch: %v", small)
	}
}

// TestNamesAndKeys: on every page each control has a name for a screen reader, and no key
// means two things.
func TestNamesAndKeys(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	send(t, srv, "/machines", url.Values{"machine": {"program-small"}})
	b := newTab(t, 1280, 800)
	for _, page := range []string{"/", "/machines", "/machines/1", "/pieces/3/draw", "/pieces/9/draw",
		"/pieces/9/place",
		"/pieces/3/place", "/pieces/1/prove", "/pieces/3/prepare", "/pieces/2/prepare", "/pieces/2/knit",
		"/pieces/3/machines", "/pieces/3/compare"} {
		b.do(chromedp.Navigate(srv.URL+page), chromedp.WaitReady(chromedp.CSS("#main")))
		b.until(`document.readyState === "complete"`)
		if unnamed := ask[[]string](b,
			`[...document.querySelectorAll("button, input:not([type=hidden]), select, a, textarea")].filter(e => `+
				`!(e.getAttribute("aria-label") || e.title || e.textContent.trim() || e.labels?.length)).map(e => `+
				`e.outerHTML.slice(0, 80))`); len(unnamed) > 0 {
			t.Errorf("%s: controls without a name: %v", page, unnamed)
		}
		if twice := ask[[]string](b,
			`(() => { const seen = {}; for (const e of document.querySelectorAll("[data-key]")) if (e.offsetParent) `+
				`(seen[e.dataset.key] ??= []).push(e.title || e.textContent.trim()); return `+
				`Object.entries(seen).filter(([, v]) => v.length > 1).map(([k, v]) => k + ": " + v.join(" / `+
				`")) })()`); len(twice) > 0 {
			t.Errorf("%s: one key for two things: %v", page, twice)
		}
	}
}

// upload posts a form with a file.
func upload(t *testing.T, srv *httptest.Server, path, name string, data []byte, fields map[string]string) string {
	t.Helper()
	return uploadAs(t, srv, path, "file", name, data, fields)
}

// uploadAs is upload of a file under a field of its own.
func uploadAs(t *testing.T, srv *httptest.Server, path, field, name string, data []byte,
	fields map[string]string) string {
	t.Helper()
	return answerOf(t, fileRequest(srv, path, field, name, data, fields))
}

// fileRequest is a form with a file.
func fileRequest(srv *httptest.Server, path, field, name string, data []byte, fields map[string]string) *http.Request {
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	for k, v := range fields {
		w.WriteField(k, v)
	}
	if name != "" {
		f, _ := w.CreateFormFile(field, name)
		f.Write(data)
	}
	w.Close()
	req, _ := http.NewRequest("POST", srv.URL+path, &body)
	req.Header.Set("Content-Type", w.FormDataContentType())
	req.Header.Set("Accept", "application/json")
	return req
}

// TestBringInTakeOut: a photograph becomes a chart with no row of three colours; lace in
// words becomes a plan; what is taken out comes in again as it was, in every form.
func TestBringInTakeOut(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	begin(t, srv, "program-preselect", "two-colour", 12, 8, 1)
	photo := image.NewRGBA(image.Rect(0, 0, 90, 60))
	for y := range 60 {
		for x := range 90 {
			photo.Set(x, y, color.RGBA{uint8(x * 2), uint8(y * 4), uint8((x * y) % 255), 255})
		}
	}
	var pic bytes.Buffer
	if err := jpeg.Encode(&pic, photo, nil); err != nil {
		t.Fatal(err)
	}
	fields := map[string]string{"chart": "chart", "as": "file", "width": "40", "yarns": "4", "tall": "1.4",
		"dither": "yes"}
	var seen struct{ Crowded, W, H int }
	json.Unmarshal([]byte(upload(t, srv, "/pieces/1/sample", "moor.jpg", pic.Bytes(), fields)), &seen)
	if seen.W != 40 || seen.H != 37 || seen.Crowded == 0 {
		t.Errorf("four yarns, mixed: %+v", seen)
	}
	fields["most"] = "2"
	upload(t, srv, "/pieces/1/picture?chart=chart", "moor.jpg", pic.Bytes(), fields)
	p := pieceOf(t, srv, 1)
	if r := check.Run(p); p.Charts["chart"].W != 40 || len(p.Yarns) != 4 {
		t.Errorf("brought in: %d wide, %d yarns", p.Charts["chart"].W, len(p.Yarns))
	} else {
		for _, f := range r.Findings {
			if f.Code == "colours-in-row" {
				t.Errorf("after mending: %s", f.Text)
			}
		}
	}
	// Out and in again, yarns and marks alike.
	for _, technique := range []string{"two-colour", "tuck", "lace"} {
		send(t, srv, "/pieces/1/section", url.Values{"section": {"1"}, "do": {"technique"}, "value": {technique}})
		if technique == "lace" {
			upload(t, srv, "/pieces/1/picture?chart=chart", "", nil,
				map[string]string{"chart": "chart", "as": "words",
					"text": "Row 1 (RS): k1, k2tog, yo, k3, yo, ssk, k1\nRow 2 (WS): purl"})
			var seen struct{ Marks map[string]string }
			json.Unmarshal([]byte(upload(t, srv, "/pieces/1/sample", "", nil, map[string]string{"chart": "chart",
				"as": "words", "text": "Row 1 (RS): k1, k2tog, yo, k3, yo, ssk, k1"})), &seen)
			if len(seen.Marks) != 3 || seen.Marks["o"] == "" {
				t.Errorf("the preview of lace has the marks %v", seen.Marks)
			}
			r := check.Run(pieceOf(t, srv, 1))
			if c := pieceOf(t, srv, 1).Charts["chart"]; !c.All || c.Rows()[1] != `.\o...o/.` || !r.Fabric.Matches() ||
				r.Fabric.Eyelets == 0 {
				t.Errorf("lace in words: %v, all rows %v, %s", c.Rows(), c.All, r.Fabric.First)
			}
		}
		// All that the chart and the sections are: the rows, the legend, the technique.
		whole := func() string {
			var p map[string]any
			json.Unmarshal([]byte(get(t, srv.URL+"/pieces/1/piece.vindel.json")), &p)
			for _, s := range p["sections"].([]any) { // an area of the whole chart may say so, or not
				for _, a := range s.(map[string]any)["areas"].([]any) {
					delete(a.(map[string]any), "rows")
					delete(a.(map[string]any), "columns")
				}
			}
			b, _ := json.Marshal([]any{p["charts"], p["sections"]})
			return string(b)
		}
		want := whole()
		for _, kind := range []string{"png", "csv", "txt"} {
			data := get(t, srv.URL+"/pieces/1/out/chart."+kind+"?chart=chart")
			send(t, srv, "/pieces/1/field", url.Values{"path": {"/name"}, "value": {technique + kind}})
			upload(t, srv, "/pieces/1/picture?chart=chart", "chart."+kind, []byte(data),
				map[string]string{"chart": "chart", "as": "file"})
			if got := whole(); got != want {
				t.Errorf("%s through %s: %s\nwas %s", technique, kind, got, want)
			}
		}
		for kind, begins := range map[string]string{"svg": "<svg ", "pdf": "%PDF-"} {
			if got := get(t, srv.URL+"/pieces/1/out/chart."+kind+"?chart=chart"); !strings.HasPrefix(got, begins) {
				t.Errorf("%s as %s: %.40q", technique, kind, got)
			}
		}
	}
	if !strings.Contains(get(t, srv.URL+"/pieces/1/piece.vindel.json"), `"lace"`) {
		t.Error("the piece file lost its technique")
	}
}

// TestPlaceMotifs: three motifs of different heights, spaced evenly on a ground, above a
// border; dragged and nudged on the bed; each step is one undo.
func TestPlaceMotifs(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	begin(t, srv, "program-preselect", "two-colour", 6, 4, 10)
	yarn := func(id string) any { return map[string]any{"yarn": id} }
	draw := func(changes ...edit.Change) {
		t.Helper()
		on, _ := st.Revision(t.Context(), 1)
		if err := st.Edit(t.Context(), 1, edit.Edit{Kind: edit.Draws, Label: "charts", On: on,
			Changes: changes}); err != nil {
			t.Fatal(err)
		}
	}
	legend := map[string]any{".": yarn("A"), "#": yarn("B")}
	for name, rows := range map[string][]string{"egg": {".##.", "####", ".##."},
		"plover": {"..#..", ".###.", "#####", ".#.#."}, "moth": {"##.##", ".###."},
		"frost": {"#...", "....", "..#.", "...."}} {
		draw(edit.Change{Op: "add", Path: edit.Chart(name),
			Value: map[string]any{"side": "knit", "legend": legend, "rows": rows}})
	}
	send(t, srv, "/pieces/1/section", url.Values{"section": {"1"}, "do": {"band"}})
	send(t, srv, "/pieces/1/arrange", url.Values{"section": {"2"}, "do": {"ground"}, "chart": {"frost"}})
	// the band's own empty chart
	send(t, srv, "/pieces/1/arrange", url.Values{"section": {"2"}, "area": {"2"}, "do": {"away"}})
	for _, name := range []string{"egg", "plover", "moth"} {
		send(t, srv, "/pieces/1/arrange", url.Values{"section": {"2"}, "do": {"motif"}, "chart": {name}})
	}
	send(t, srv, "/pieces/1/arrange", url.Values{"section": {"2"}, "do": {"spread"}, "gap": {"-1"}})
	lies := func() string {
		out := ""
		for _, a := range pieceOf(t, srv, 1).Sections[1].Areas {
			out += fmt.Sprintf("%s %v-%v ", a.Chart.Name, a.From, a.To)
		}
		return out
	}
	if got := lies(); got != "frost L30-R30 egg L19-L16 plover L3-R2 moth R14-R18 " {
		t.Errorf("spaced evenly: %s", got)
	}
	r := check.Run(pieceOf(t, srv, 1))
	if !r.Fabric.Matches() || finding.Stops(r.Findings) {
		t.Errorf("motifs on their ground: %s %v", r.Fabric.First, r.Findings)
	}

	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL+"/pieces/1/place"), chromedp.WaitVisible(chromedp.CSS("#bed .bed-area")))
	at := ask[[]float64](b,
		`(() => { const e = document.querySelector('.bed-area[data-section="2"][data-area="2"] `+
			`.area-edge').getBoundingClientRect(); return [e.left + e.width / 2, e.top + e.height / 2, `+
			`Number(document.getElementById("bed").dataset.unit) * `+
			`document.getElementById("bed").getScreenCTM().a] })()`)
	b.do(chromedp.DragAndDropXY(at[0], at[1], at[0]+3*at[2], at[1]))
	b.until(`document.querySelector("#section-2").innerText.includes("from L16 to L13")`)
	b.until(`document.activeElement?.dataset?.area === "2"`)
	b.key(kb.ArrowLeft)
	b.until(`document.querySelector("#section-2").innerText.includes("from L17 to L14")`)
	b.until(`document.activeElement?.dataset?.area === "2"`)
	b.do(chromedp.KeyEvent(kb.Home))
	b.until(`document.querySelector("#section-2").innerText.includes("from L2 to R2")`)
	for range 3 {
		send(t, srv, "/pieces/1/undo", nil)
	}
	if got := lies(); !strings.Contains(got, "egg L19-L16") {
		t.Errorf("three undone: %s", got)
	}
}

// TestVersionsAndMachines: a version kept, compared cell by cell and brought back; a
// machine copied, given words, and a piece put on it.
func TestVersionsAndMachines(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	before := drawn(t, srv, 3, "plover")
	send(t, srv, "/pieces/3/versions", url.Values{"name": {"as it was"}})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/3/draw?chart=plover"))
	b.until(`document.activeElement?.id === "board"`)
	b.key("2", " ", " ")
	b.saved(srv, 2)
	if got := get(t, srv.URL+"/pieces/3/compare?a=1&b=0&chart=plover"); !strings.Contains(got, "2 cells differ") ||
		strings.Count(got, "<svg xmlns") != 2 {
		t.Errorf("compared: %.300s", got)
	}
	send(t, srv, "/pieces/3/versions/back", url.Values{"version": {"1"}})
	if got := drawn(t, srv, 3, "plover"); got != before {
		t.Errorf("brought back: %s", got)
	}
	send(t, srv, "/pieces/3/undo", nil)
	if got := drawn(t, srv, 3, "plover"); got == before {
		t.Error("bringing back cannot be undone")
	}

	send(t, srv, "/machines", url.Values{"machine": {"card-preselect"}})
	b.do(chromedp.Navigate(srv.URL+"/machines/2"), chromedp.WaitVisible(chromedp.CSS(".machine-words")))
	b.do(chromedp.SetValue(chromedp.CSS("input[name=name]"), "The old one"),
		chromedp.SetValue(chromedp.CSS("input[name=columns]"), "12"),
		chromedp.SetValue(chromedp.CSS("input[name=word-two-colour]"), "left lever down"),
		chromedp.Click(chromedp.CSS("button.is-main")))
	b.until(`document.querySelector(".face-page h1")?.innerText === "The old one"`)
	b.do(chromedp.Navigate(srv.URL+"/pieces/3/machines"), chromedp.WaitVisible(chromedp.CSS(".machine-table")))
	send(t, srv, "/pieces/3/machine", url.Values{"machine": {"own-2"}})
	p := pieceOf(t, srv, 3)
	if p.Machine.Name != "The old one" || p.Machine.Columns != 12 || p.Machine.Word("two-colour") != "left lever down" {
		t.Errorf("the piece's machine: %+v", p.Machine)
	}
	if got := get(t, srv.URL+"/pieces/3/plan/plan.txt"); !strings.Contains(got, "left lever down") {
		t.Error("the plan does not speak the machine's words")
	}
	req, _ := http.NewRequest("POST", srv.URL+"/machines/2",
		strings.NewReader(url.Values{"name": {"x"}, "needles": {"7"}}.Encode()))
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	if res, err := http.DefaultClient.Do(req); err != nil || res.StatusCode != 422 {
		t.Errorf("an odd bed is taken: %v %v", res.StatusCode, err)
	}
	if got := send(t, srv, "/pieces/9/machine", url.Values{"machine": {"two-bed-pairs"}}); !strings.Contains(got,
		"Can no longer be done: Two beds, card read in pairs cannot knit lace") {
		t.Error("what can no longer be done is not said")
	}
}

// TestLetteringAndSize: letters stand the right way round for the side that is worn, and
// a chart made larger or smaller takes the areas that show it along.
func TestLetteringAndSize(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	begin(t, srv, "program-preselect", "two-colour", 12, 9, 3)
	ask := func(path string, body any) string {
		b, _ := json.Marshal(body)
		req, _ := http.NewRequest("POST", srv.URL+"/pieces/1/"+path, bytes.NewReader(b))
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Accept", "application/json")
		return answerOf(t, req)
	}
	letter := map[string]any{"chart": "chart", "text": "F"}
	if got := ask("lettering", letter); !strings.Contains(got, `"mirrored":false,"rows":["####","#...","#...","###."`) {
		t.Errorf("drawn for the knit side, which is worn: %s", got)
	}
	if err := st.Edit(t.Context(), 1, edit.Edit{Kind: edit.Draws, Label: "side", On: 1,
		Changes: append(edit.DrawnFor("chart", chart.PurlSide),
			edit.Set(edit.Area(1, 1).To("rows"), []int{2, 9})...)}); err != nil {
		t.Fatal(err)
	}
	if got := ask("lettering", letter); !strings.Contains(got, `"mirrored":true,"rows":["####","...#","...#",".###"`) {
		t.Errorf("drawn for the purl side: %s", got)
	}
	for _, c := range []struct {
		edit map[string]any
		want string
	}{
		{map[string]any{"do": "resize", "w": 6, "h": 5, "at": "bottom left"}, "6 × 5, columns [1 6], rows [2 5]"},
		{map[string]any{"do": "insert-columns", "first": 1, "n": 2}, "8 × 5, columns [1 8], rows [2 5]"},
		{map[string]any{"do": "transform", "names": []string{"turn"}}, "5 × 8, columns [1 5], rows [2 5]"},
	} {
		ask("redraw", map[string]any{"chart": "chart", "label": "size", "edit": c.edit})
		p := pieceOf(t, srv, 1)
		a := p.Sections[0].Areas[0]
		if got := fmt.Sprintf("%d × %d, columns %v, rows %v", a.Chart.W, a.Chart.H, a.Columns, a.Rows); got != c.want {
			t.Errorf("%v: %s, want %s", c.edit, got, c.want)
		}
	}
}

// TestDeskCutOff: while the server cannot be reached the desk says so and keeps what is drawn;
// once it answers again everything is there, and the desk goes on saving.
func TestDeskCutOff(t *testing.T) {
	t.Parallel()
	st, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	app, _ := web.New(st, web.Options{})
	var down atomic.Bool
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if down.Load() {
			if c, _, err := w.(http.Hijacker).Hijack(); err == nil {
				c.Close()
			}
			return
		}
		app.Handler().ServeHTTP(w, r)
	}))
	defer srv.Close()
	begin(t, srv, "card-direct", "two-colour", 6, 4, 2)
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/draw"))
	b.until(`document.activeElement?.id === "board"`)
	b.key(" ")
	b.saved(srv, 1)
	down.Store(true)
	b.key(" ", " ")
	b.until(`document.getElementById("refusal").textContent.includes("2 changes wait")`)
	down.Store(false)
	b.saved(srv, 3)
	if got := drawn(t, srv, 1, "chart"); got != "...... ...... ...... ###..." {
		t.Errorf("after the server came back: %s", got)
	}
	b.until(`document.getElementById("refusal").textContent === ""`)
	// What must not be done twice is asked once; the drawing is then the one that is kept.
	down.Store(true)
	b.key("h")
	b.until(`document.getElementById("refusal").textContent.includes("Vindel does")`)
	down.Store(false)
	b.until(`document.getElementById("refusal").textContent.startsWith("Vindel did not answer: that was not done")`)
	if got := drawn(t, srv, 1, "chart"); got != "...... ...... ...... ###..." {
		t.Errorf("mirrored all the same: %s", got)
	}
	b.key("h")
	b.saved(srv, 4)
	if got := drawn(t, srv, 1, "chart"); got != "...... ...... ...... ...###" {
		t.Errorf("the desk saves no more: %s", got)
	}
}

// TestDeskWaits: where an edit is kept before it is known how it comes out, the desk asks again
// until it is, and then goes on.
func TestDeskWaits(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{Patience: time.Nanosecond})
	begin(t, srv, "card-direct", "two-colour", 6, 4, 2)
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/draw"))
	b.until(`document.activeElement?.id === "board"`)
	b.key(" ", " ")
	b.saved(srv, 2)
	b.until(`document.getElementById("refusal").textContent === ""`)
	if got := drawn(t, srv, 1, "chart"); got != "...... ...... ...... ##...." {
		t.Errorf("drawn: %s", got)
	}
}

// TestHeldKeys: a key held down on the desk paints on, each stitch kept in its order; held down
// beside the machine it is one press.
func TestHeldKeys(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	begin(t, srv, "card-direct", "two-colour", 6, 4, 2)
	b := newTab(t, 1280, 800)
	held := func(times int) {
		for i := range times {
			if _, err := chromedp.Run(b.ctx, chromedp.Evaluate[any](
				fmt.Sprintf(`(document.activeElement || document.body).dispatchEvent(
				new KeyboardEvent("keydown", { key: " ", code: "Space", repeat: %v, bubbles: true,
					cancelable: true }))`, i > 0))); err != nil {
				t.Fatal(err)
			}
			time.Sleep(70 * time.Millisecond)
		}
	}
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/draw"))
	b.until(`document.activeElement?.id === "board"`)
	held(5)
	b.saved(srv, 5)
	if got := drawn(t, srv, 1, "chart"); got != "...... ...... ...... #####." {
		t.Errorf("drawn: %s", got)
	}
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/knit"))
	b.until(`!!document.querySelector(".knit [data-key=' ']")`)
	ticked := func() int { return ask[int](b, `document.querySelectorAll(".tick[aria-pressed=true]").length`) }
	for rounds := 0; ask[string](b, `document.querySelector(".knit [name=place]").value`) == "0"; rounds++ {
		before := ticked()
		held(10)
		if at, err := st.Reached(t.Context(), 1); err != nil || at.Done > 1 || at.Done == 0 && ticked() > before+1 ||
			rounds > 30 {
			t.Fatalf("held down, round %d: %d ticks after %d, %+v, %v", rounds, ticked(), before, at, err)
		}
	}
}

// TestTwoTabs: what one tab does on a state that another has changed is refused and said, and
// neither writes over the other; what is sent twice is done once.
func TestTwoTabs(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	begin(t, srv, "card-direct", "two-colour", 6, 4, 2)
	a, b := newTab(t, 1280, 800), newTab(t, 1280, 800)
	for _, tab := range []*tab{a, b} {
		tab.do(chromedp.Navigate(srv.URL + "/pieces/1/draw"))
		tab.until(`document.activeElement?.id === "board"`)
	}
	a.key(kb.Insert) // a row below the first
	a.saved(srv, 1)
	b.key(" ") // would be painted into another row
	b.until(`document.getElementById("refusal").textContent.startsWith("Another page has changed this piece")`)
	b.until(`document.getElementById("sheet-about").textContent.startsWith("6 × 5")`)
	if got := drawn(t, srv, 1, "chart"); strings.Contains(got, "#") {
		t.Errorf("a stroke on what was there before: %s", got)
	}
	b.key(" ", " ") // from here on it goes on
	b.saved(srv, 3)
	if got := drawn(t, srv, 1, "chart"); !strings.HasSuffix(got, ".##...") {
		t.Errorf("after that: %s", got)
	}
	// The same form, sent twice from one page.
	page := get(t, srv.URL+"/pieces/1/place")
	rev := regexp.MustCompile(`Vindel-Rev&#34;: &#34;(\d+)`).FindStringSubmatch(page)
	if rev == nil {
		t.Fatal("the page does not say which state it shows")
	}
	for i, want := range []int{200, 409} {
		req, _ := http.NewRequest("POST", srv.URL+"/pieces/1/section", strings.NewReader(url.Values{"section": {"1"},
			"do": {"above"}}.Encode()))
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		req.Header.Set("Vindel-Rev", rev[1])
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != want {
			t.Errorf("sent the %d. time: %d, want %d", i+1, res.StatusCode, want)
		}
	}
}

// TestMendedByOneRequest: a click on a remedy beside the board sends one request, once, and the board stays.
func TestMendedByOneRequest(t *testing.T) {
	t.Parallel()
	_, st := site(t, true, web.Options{})
	var sent atomic.Int32
	srv := served(t, st, web.Options{}, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Method == http.MethodPost {
				sent.Add(1)
			}
			h.ServeHTTP(w, r)
		})
	})
	for n, id := range []int{1, 3, 2} { // freshly loaded each time
		p, err := st.Piece(t.Context(), int64(id))
		if err != nil {
			t.Fatal(err)
		}
		b := newTab(t, 1280, 800)
		b.do(chromedp.Navigate(fmt.Sprintf("%s/pieces/%d/draw", srv.URL, id)))
		b.until(`document.readyState === "complete" && document.getElementById("board")?.dataset.grid`)
		if !ask[bool](b,
			`(window.board = document.getElementById("board"), !!document.querySelector("[data-fix] button"))`) {
			if n == 0 {
				t.Fatal("nothing is offered")
			}
			continue
		}
		before := sent.Load()
		ask[bool](b, `(document.querySelector("[data-fix] button").click(), true)`)
		b.until(`!!document.getElementById("board").dataset.answered`)
		time.Sleep(300 * time.Millisecond) // another would have come by then
		if got := sent.Load() - before; got != 1 {
			t.Errorf("piece %d: %d requests", id, got)
		}
		if now, _ := st.Piece(t.Context(), int64(id)); now.Head != p.Head+1 {
			t.Errorf("piece %d: %d edits", id, now.Head-p.Head)
		}
		if said := ask[string](b, `document.getElementById("refusal").textContent`); said != "" ||
			!ask[bool](b, `document.getElementById("board") === window.board`) {
			t.Errorf("piece %d: %q", id, said)
		}
	}
}
