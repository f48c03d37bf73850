package asked_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"io/fs"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"vindel/demo/pieces"
	"vindel/web"
)

// odd is what a careless or an ill-meaning hand writes into a field.
var odd = []string{"", " ", "0", "-1", "1", "2", "3", "7", "13", "99", "200", "201", "1000", "99999", "100001",
	"-9223372036854775808",
	"9223372036854775807", "1e308", "NaN", "0x10", "L1", "R100", "L101", "L140", "A", "B", "#", ".", "yes", "no",
	"auto", "hand", "null",
	"{}", "[]", `{"a":1}`, "\x00", "\xff\xfe", "é̈", "<script>", "'; --", "/", "/sections/0", "/charts/chart/rows/0",
	"1,2,3,4", "50,0,0,50",
	"slip", "lace", "intarsia", "plain", "card-direct", "hand-mid", strings.Repeat("x", 300), strings.Repeat("9",
		40), strings.Repeat("#.", 2000)}

// chaos sends what nobody would.
type chaos struct {
	rng    *rand.Rand
	forms  []form
	pieces []int
	files  [][]byte
	pages  []string
	rev    func(piece int) string // the revision that a piece has
}

func (c *chaos) one(list []string) string { return list[c.rng.IntN(len(list))] }

// value is a JSON value with something in it changed.
func (c *chaos) value(v any, depth int) any {
	if depth <= 0 || c.rng.IntN(12) == 0 {
		switch c.rng.IntN(5) {
		case 0:
			return c.one(odd)
		case 1:
			return (c.rng.Float64() - 0.3) * []float64{3, 30, 300, 1e5, 1e300}[c.rng.IntN(5)]
		case 2:
			return c.rng.IntN(40) - 3
		case 3:
			return []any{nil, true, map[string]any{}, []any{}, []any{1, 2}}[c.rng.IntN(5)]
		}
		return nil
	}
	switch v := v.(type) {
	case map[string]any:
		keys := make([]string, 0, len(v))
		for k := range v {
			keys = append(keys, k)
		}
		if len(keys) == 0 {
			return v
		}
		slices.Sort(keys)
		k := c.one(keys)
		if c.rng.IntN(15) == 0 {
			delete(v, k)
		} else {
			v[k] = c.value(v[k], depth-1)
		}
		return v
	case []any:
		if len(v) == 0 {
			return v
		}
		i := c.rng.IntN(len(v))
		switch c.rng.IntN(10) {
		case 0:
			return append(v, v[i])
		case 1:
			return slices.Delete(v, i, i+1)
		}
		v[i] = c.value(v[i], depth-1)
		return v
	case string:
		if b := []byte(v); len(b) > 0 && c.rng.IntN(2) == 0 {
			b[c.rng.IntN(len(b))] = byte(32 + c.rng.IntN(90))
			return string(b)
		}
		return c.one(odd)
	case float64:
		return []any{v + 1, v - 1, -v, v * 10, v * 1000, v / 3, 0, 1e9}[c.rng.IntN(8)]
	}
	return c.one(odd)
}

// pieceFile is a piece of the demo with a few things changed, or some of its bytes.
func (c *chaos) pieceFile() []byte {
	data := bytes.Clone(c.files[c.rng.IntN(len(c.files))])
	if c.rng.IntN(4) == 0 {
		for range 1 + c.rng.IntN(4) {
			data[c.rng.IntN(len(data))] = byte(c.rng.IntN(256))
		}
		return data
	}
	var v any
	json.Unmarshal(data, &v)
	for range 1 + c.rng.IntN(3) {
		v = c.value(v, 8)
	}
	out, err := json.Marshal(v)
	if err != nil {
		return data
	}
	return out
}

// request is one request out of all that there are.
func (c *chaos) request() *http.Request {
	id := c.pieces[c.rng.IntN(len(c.pieces))]
	at := func(path string) string {
		return regexp.MustCompile(`/pieces/\d+`).ReplaceAllString(path, fmt.Sprint("/pieces/", id))
	}
	post := func(path, kind string, body []byte) *http.Request {
		r := httptest.NewRequest("POST", "http://localhost/", bytes.NewReader(body))
		r.URL = &url.URL{Scheme: "http", Host: "localhost", Path: path}
		r.Header.Set("Content-Type", kind)
		if c.rng.IntN(2) == 0 {
			r.Header.Set("Accept", "application/json")
		}
		if c.rng.IntN(3) == 0 {
			r.Header.Set("HX-Request", "true")
		}
		if c.rng.IntN(12) > 0 {
			r.Header.Set("Vindel-Rev", c.rev(id))
		}
		return r
	}
	switch c.rng.IntN(10) {
	case 0, 1: // a page, and what it asks for
		path, query, _ := strings.Cut(at(c.one(c.pages)), "?")
		r := httptest.NewRequest("GET", "http://localhost/", nil)
		r.URL = &url.URL{Scheme: "http", Host: "localhost", Path: path, RawQuery: query}
		if c.rng.IntN(3) == 0 {
			r.URL.RawQuery = url.Values{c.one([]string{"a", "b", "chart", "x", "y", "w", "h", "to", "reading",
				"repeat", "section"}): {c.one(odd)},
				c.one([]string{"chart", "w", "h", "lifeline", "away"}): {c.one(odd)}}.Encode()
		}
		return r
	case 2: // an edit, as a script asks for it
		var v any
		json.Unmarshal(c.files[c.rng.IntN(len(c.files))], &v)
		path := c.one([]string{"", "/name", "/sections/0", "/sections/0/areas/0", "/charts", "/machine", "/yarns/0",
			"/limits", "/options",
			"/sections/1/technique", "/needles", "/sections/-", "/sections/0/rows", "/gauge", "/start",
			"/sections/99", "/charts/chart/rows"})
		at := v
		for _, key := range strings.Split(path, "/")[1:] {
			m, _ := at.(map[string]any)
			if list, ok := at.([]any); ok && len(list) > 0 {
				at = list[0]
				continue
			}
			at = m[key]
		}
		body, _ := json.Marshal(map[string]any{"label": c.one(odd), "changes": []any{map[string]any{
			"op": c.one([]string{"add", "replace", "remove", "move"}), "path": path, "value": c.value(at, 6)}}})
		return post(fmt.Sprintf("/pieces/%d/edit", id), "application/json", body)
	case 3, 4: // a file
		var b bytes.Buffer
		w := multipart.NewWriter(&b)
		for _, f := range []string{"name", "machine", "width", "yarns", "tall", "crop", "dither", "most", "chart",
			"as", "technique", "repeats"} {
			if c.rng.IntN(3) == 0 {
				w.WriteField(f, c.one(odd))
			}
		}
		w.WriteField("machine", "card-direct")
		w.WriteField("from", c.one([]string{"file", "text", "blank", "x"}))
		data, name := c.pieceFile(), "p.vindel.json"
		switch c.rng.IntN(4) {
		case 0:
			data, name = pictureOf(c.rng), "p.png"
		case 1:
			data, name = []byte(strings.Repeat(c.one(odd)+c.one([]string{"\n", ",", "\t", "."}), 1+c.rng.IntN(40))),
				c.one([]string{"a.txt", "a.csv", "a.gif", "a"})
		}
		part, _ := w.CreateFormFile("file", name)
		part.Write(data)
		w.Close()
		return post(c.one([]string{"/pieces", fmt.Sprintf("/pieces/%d/picture", id), fmt.Sprintf("/pieces/%d/sample",
			id)}), w.FormDataContentType(), b.Bytes())
	}
	f := c.forms[c.rng.IntN(len(c.forms))]
	fields := url.Values{}
	for name, values := range f.fields {
		if name == "rev" {
			continue // what it was is long past: the head says what it is
		}
		value := ""
		if len(values) > 0 {
			value = values[c.rng.IntN(len(values))]
		}
		if c.rng.IntN(3) == 0 {
			value = c.one(odd)
		}
		if c.rng.IntN(12) > 0 {
			fields.Set(name, value)
		}
	}
	return post(at(f.action), "application/x-www-form-urlencoded", []byte(fields.Encode()))
}

// pictureOf is a small picture, or what is left of one.
func pictureOf(rng *rand.Rand) []byte {
	data := picturePNG(1+rng.IntN(90), 1+rng.IntN(90), rng)
	if rng.IntN(2) == 0 {
		data[rng.IntN(len(data))] ^= byte(1 + rng.IntN(255))
	}
	return data
}

// TestMutations: whatever is sent to any form, page or reader, no answer says that something
// broke here. The same few hundred requests each time; `make soak` goes on for as long as VINDEL_FUZZ says, with others.
func TestMutations(t *testing.T) {
	goes := func(sent int, _ time.Time) bool { return sent < 300 }
	if long, err := time.ParseDuration(os.Getenv("VINDEL_FUZZ")); err == nil {
		goes = func(_ int, start time.Time) bool { return time.Since(start) < long }
	}
	h := larkmoor(t, web.Options{})
	do := func(r *http.Request) *httptest.ResponseRecorder {
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		return w
	}
	seed := uint64(26)
	if n, err := strconv.ParseUint(os.Getenv("VINDEL_SEED"), 10, 64); err == nil {
		seed = n // of a run that found something
	}
	c := &chaos{rng: rand.New(rand.NewPCG(seed, 1))}
	c.rev = func(piece int) string {
		shown := regexp.MustCompile(`"rev":(\d+)`).FindStringSubmatch(do(httptest.NewRequest("GET",
			fmt.Sprintf("http://localhost/pieces/%d/state", piece), nil)).Body.String())
		if shown == nil {
			return "1" // one that cannot be opened
		}
		return shown[1]
	}
	names, _ := fs.Glob(pieces.Files, "*.json")
	for _, name := range names {
		data, _ := pieces.Files.ReadFile(name)
		c.files = append(c.files, data)
	}
	for id := 1; id <= len(names); id++ {
		c.pieces = append(c.pieces, id)
		for _, page := range []string{"draw", "place", "prove", "prepare", "knit", "machines", "state", "compare",
			"row", "knit/find", "knit/lost", "knit/wrong", "knit/trainer", "knit/if", "card"} {
			path := fmt.Sprintf("/pieces/%d/%s", id, page)
			c.pages = append(c.pages, path)
			c.forms = append(c.forms, formsOn(do(httptest.NewRequest("GET", "http://localhost"+path,
				nil)).Body.String())...)
		}
	}
	c.pages = append(c.pages, "/", "/machines", "/journal", "/journal.csv", "/backup", "/away", "/machines/1",
		"/pieces/1/fabric/knit.svg", "/pieces/1/fabric/purl.svg?x=2&y=1&w=9&h=9",
		"/pieces/1/card/1.svg", "/pieces/1/card/1.pdf", "/pieces/1/card/2.txt", "/pieces/1/cheat/1.pdf",
		"/pieces/1/plan/plan.json", "/pieces/1/plan/plan.csv",
		"/pieces/1/plan/plan.txt", "/pieces/1/piece.vindel.json", "/pieces/1/out/chart.png?chart=chart",
		"/pieces/1/out/chart.pdf", "/pieces/1/lie/1.png")
	for _, path := range []string{"/", "/machines", "/away", "/login"} {
		c.forms = append(c.forms, formsOn(do(httptest.NewRequest("GET", "http://localhost"+path,
			nil)).Body.String())...)
	}
	if len(c.forms) < 300 {
		t.Fatalf("%d forms were found", len(c.forms))
	}
	sent, kinds := 0, map[int]int{}
	var slowest time.Duration
	var slow string
	for start := time.Now(); goes(sent, start); sent++ {
		r := c.request()
		var body []byte
		if r.Body != nil {
			var b bytes.Buffer
			b.ReadFrom(r.Body)
			body = b.Bytes()
			r.Body = http.NoBody
			if len(body) > 0 {
				r.Body = readCloser{bytes.NewReader(body)}
			}
		}
		began := time.Now()
		w := do(r)
		took := time.Since(began)
		kinds[w.Code]++
		if w.Code >= 500 {
			t.Fatalf("seed %d, request %d: %s %s: %d\n%s\n%q", seed, sent, r.Method, r.URL, w.Code,
				plainText(w.Body.String()), body[:min(len(body), 3000)])
		}
		if took > slowest && !strings.Contains(r.URL.Path, "/fabric/") {
			slowest, slow = took, fmt.Sprintf("%s %s %.300q", r.Method, r.URL, body)
		}
		if at := w.Header().Get("Location"); strings.HasPrefix(at, "/pieces/") && r.URL.Path == "/pieces" &&
			len(c.pieces) < 200 {
			var id int
			fmt.Sscanf(at, "/pieces/%d/", &id)
			c.pieces = append(c.pieces, id)
		}
	}
	t.Logf("seed %d: %d requests, by status %v; the slowest %v: %s; %d MB", seed, sent, kinds, slowest, slow,
		resident())
}

type readCloser struct{ *bytes.Reader }

func (readCloser) Close() error { return nil }

func picturePNG(w, h int, rng *rand.Rand) []byte {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for i := range img.Pix {
		img.Pix[i] = uint8(rng.IntN(4) * 85)
	}
	var b bytes.Buffer
	png.Encode(&b, img)
	return b.Bytes()
}

// resident is the memory of this process, in MB; 0 where the system does not say.
func resident() (mb int) {
	data, _ := os.ReadFile("/proc/self/statm")
	var size, pages int
	fmt.Sscan(string(data), &size, &pages)
	return pages * os.Getpagesize() >> 20
}
