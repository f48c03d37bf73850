package web_test

import (
	"fmt"
	"html"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"vindel/knit/check"
	"vindel/knit/machine"

	"vindel/knit/card"
	"vindel/knit/plan"
	"vindel/web"
)

// TestProgramSheet: the program is on the page to its last line, in either order, which is kept; its files are what the
// command line prints.
func TestProgramSheet(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	at := srv.URL + "/pieces/22"
	lines := func(query string) (list []string) {
		for _, m := range regexp.MustCompile(`(?s)<td class="num cheat-counter">(\d+)</td>\s*<td>.*?<span `+
			`class="program-typed">([^<]*)<`).FindAllStringSubmatch(get(t, at+"/prepare"+query), -1) {
			list = append(list, m[1]+" "+m[2])
		}
		return list
	}
	if got := lines(""); len(got) != 60 || !strings.HasPrefix(got[0], "1 ") || !strings.HasPrefix(got[59], "60 ") {
		t.Errorf("line 1 first: %d lines, %q", len(got), got[0])
	}
	if page := get(t, at+"/prepare"); !strings.Contains(page, "10 of 70 lines more") {
		t.Error("it does not say that there are more")
	}
	all := lines("?all=2")
	if len(all) != 70 || all[2] != "3 all empty" || all[3] != "4 as line 3" {
		t.Errorf("all: %d lines, %q", len(all), all[:4])
	}
	if top := lines("?lines=top&all=2"); len(top) != 70 || top[0] != all[69] || top[69] != all[0] {
		t.Errorf("the top line first: %q … %q", top[0], top[len(top)-1])
	}
	w := card.MakeProgram(plan.Make(pieceOf(t, srv, 22)), 2)
	if got := get(t, at+"/program/2.txt"); got != w.Text() {
		t.Error("the text is not the program's")
	}
	for kind, begins := range map[string]string{"pdf": "%PDF-", "csv": "line,bits,memo,runs\n70,", "png": "\x89PNG",
		"json": "{\n"} {
		if got := get(t, at+"/program/2."+kind); !strings.HasPrefix(got, begins) {
			t.Errorf("%s: %.20q", kind, got)
		}
	}
	for _, path := range []string{"/pieces/22/program/1.pdf", "/pieces/22/program/2.doc", "/pieces/21/program/2.pdf",
		"/pieces/22/program/9.txt"} {
		if res, err := http.Get(srv.URL + path); err != nil || res.StatusCode != http.StatusNotFound {
			t.Errorf("%s: %v %v", path, res.Status, err)
		}
	}
}

// TestBringOne: a chart that is drawn several times is told when it is brought in, and one of it is kept where that is
// asked for.
func TestBringOne(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	begin(t, srv, "program-preselect", "two-colour", 8, 6, 2)
	chart := pieceOf(t, srv, 1).Sections[0].Areas[0].Chart.Name
	form := url.Values{"chart": {chart}, "as": {"chart"}, "text": {"#..#..\n.#..#.\n#..#..\n.#..#."}}
	if got := send(t, srv, "/pieces/1/sample", form); !strings.Contains(got, `"repeat":"3 × 2"`) ||
		!strings.Contains(got, `"times":4`) || !strings.Contains(got, `"w":6`) {
		t.Errorf("what would come in: %s", got)
	}
	form.Set("one", "yes")
	if got := send(t, srv, "/pieces/1/sample", form); !strings.Contains(got, `"w":3`) || !strings.Contains(got,
		`"times":4`) {
		t.Errorf("with one kept: %s", got)
	}
	send(t, srv, "/pieces/1/picture", form)
	if c := pieceOf(t, srv, 1).Charts[chart]; c.W != 3 || c.H != 2 {
		t.Errorf("brought in: %d × %d", c.W, c.H)
	}
}

// TestMeasurePage: the Prepare page says what a piece measures and takes, as typed swatch and balls have it; what a
// swatch gives is not typed over on Place.
func TestMeasurePage(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	at := "/pieces/2"
	shows := func(page string, words ...string) {
		t.Helper()
		got := strings.Join(strings.Fields(tags.ReplaceAllString(get(t, srv.URL+at+page), " ")), " ")
		for _, w := range words {
			if !strings.Contains(got, w) {
				t.Errorf("%s does not say %q:\n%.900s", page, w, got)
			}
		}
	}
	shows("/prepare", "370 × 189 mm , assumed: no swatch is known", "Weigh a swatch")
	set := func(path, value string) {
		t.Helper()
		send(t, srv, at+"/field", url.Values{"path": {path}, "value": {value}, "kind": {"measure"}})
	}
	set("/swatch/stitches", "40")
	set("/swatch/width_mm", "160")
	set("/swatch/rows", "50")
	set("/swatch/height_mm", "125")
	set("/swatch/grams", "20") // a hundredth of a gram a stitch
	shows("/prepare", "296 × 135 mm , by the swatch", "It gives 25 stitches and 40 rows in 10 cm", "35.5 g", "4.5 g")
	shows("/place", "By the swatch, 25 stitches and 40 rows in 10 cm. Measure anew")
	shows("/place?wide=30&tall=20", "What comes near",
		"74 whole (9 repeats, and two seam stitches), 29.6 cm, 4 mm less",
		"46 rows (4 repeats &#43; 6), 20.0 cm, as asked", "50 rows (5 repeats), 21.0 cm, 10 mm more")
	shows("/place?wide=30&tall=20", "as asked; about 27 min ")
	shows("/prepare?units=inch", "11.7 in × 5.3 in , by the swatch", "in centimetres")
	shows("/place?units=inch&wide=12", "so wide, inches", "11.7 in, 0.35 in less")
	shows("/prepare?knitted=30&before=62&after=50&reserve=8",
		"It reaches for 105 rows more: 10 repeats of 10 rows, and 5 over.")
	shows("/prepare?knitted=30&before=50&after=62", "The yarn weighs less after the rows than before them.")
	send(t, srv, at+"/field", url.Values{"path": {"/needles/from"}, "value": {"l37"}, "kind": {"text"}})
	if p := pieceOf(t, srv, 2); p.From.String() != "L37" {
		t.Errorf("l37 is read as %v", p.From)
	}
	set("/yarns/0/ball/grams", "25")
	set("/yarns/0/ball/metres", "100")
	send(t, srv, at+"/field", url.Values{"path": {"/yarns/0/have"}, "value": {"1"}, "kind": {"number"}})
	shows("/prepare", "35.5 g 142 m", "2 balls; 1 in hand, 1 missing", "What is in hand is used up in row")
	if strings.Contains(get(t, srv.URL+"/pieces/2/place"), "/gauge/stitches") {
		t.Error("a gauge can be typed that does not count")
	}
	send(t, srv, at+"/field", url.Values{"path": {"/swatch/technique"}, "value": {"lace"}, "kind": {""}})
	shows("/prepare", "The swatch was knitted in lace")
}

// TestEverySheet: every sheet and file that the Prepare page of a piece of Larkmoor offers, one at least for every
// machine that is shipped, is there, and the ones in words and numbers are what the command line prints of the same
// piece file.
func TestEverySheet(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	if res, err := http.Head(srv.URL + "/pieces/3/plan/plan.pdf"); err != nil || res.StatusCode != 200 ||
		res.Header.Get("Content-Type") != "application/pdf" {
		t.Errorf("HEAD: %v %v", res, err)
	}
	// What pages weigh as a browser asks for them, pictures included: compressed, and drawn as large as they are shown.
	weighs := func(page string) (bytes int) {
		load := func(path string) []byte {
			req, _ := http.NewRequest("GET", srv.URL+path, nil)
			req.Header.Set("Accept-Encoding", "gzip")
			res, err := http.DefaultClient.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			defer res.Body.Close()
			b, _ := io.ReadAll(res.Body)
			if res.Header.Get("Content-Encoding") == "" && !strings.HasPrefix(res.Header.Get("Content-Type"),
				"image/png") && len(b) > 2000 {
				t.Errorf("%s is not compressed", path)
			}
			bytes += len(b)
			return b
		}
		load(page)
		for _, m := range regexp.MustCompile(`<img[^>]* src="(/pieces/[^"]*)"`).FindAllStringSubmatch(get(t,
			srv.URL+page), -1) {
			load(html.UnescapeString(m[1]))
		}
		return bytes
	}
	for page, most := range map[string]int{"/": 600_000, "/pieces/3/prove": 300_000} {
		if n := weighs(page); n > most || n < 20_000 {
			t.Errorf("%s weighs %d bytes", page, n)
		}
	}
	files, kinds := 0, map[string]int{}
	machines := map[string]bool{}
	for _, id := range []int{2, 4, 5, 8, 9, 12, 14} {
		at := fmt.Sprintf("/pieces/%d", id)
		pl := check.Run(pieceOf(t, srv, id)).Plan
		machines[pl.Piece.Machine.ID] = true
		for _, m := range regexp.MustCompile(`(?:href|src)="(`+at+
			`/([a-z]+)/?(\d*)[a-z]*\.([a-z.]+)[^"]*)"`).FindAllStringSubmatch(get(t, srv.URL+at+"/prepare"), -1) {
			body := get(t, srv.URL+html.UnescapeString(m[1]))
			section, _ := strconv.Atoi(m[3])
			want := ""
			switch m[2] + m[4] {
			case "programtxt":
				want = card.MakeProgram(pl, section).Text()
			case "cardtxt":
				made, _ := card.Make(pl, section)
				want = made.Text()
			case "plantxt":
				var b strings.Builder
				pl.WriteText(&b)
				want = b.String()
			}
			if len(body) < 40 || want != "" && body != want || m[4] == "pdf" && !strings.HasPrefix(body, "%PDF-") {
				t.Errorf("%s: %d bytes", m[1], len(body))
			}
			files++
			kinds[m[2]+"."+m[4]]++
		}
	}
	for _, kind := range []string{"card.pdf", "program.pdf", "program.png", "cheat.pdf", "lacelist.pdf", "strip.pdf",
		"grid.pdf", "plan.pdf", "card.txt"} {
		if kinds[kind] == 0 {
			t.Errorf("no page offers a %s", kind)
		}
	}
	if files < 60 || len(machines) != len(machine.IDs()) {
		t.Errorf("%d files in all, of %v", files, machines)
	}
}
