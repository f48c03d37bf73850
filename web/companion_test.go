package web_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"vindel/web"
)

// TestJournalPage: what was knitted, what went wrong and what interrupted stand in the journal of all pieces, are
// found by words and kind, and can be saved as CSV; a photograph at a row is kept.
func TestJournalPage(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	press := func(do string, more url.Values) {
		t.Helper()
		at, err := st.Reached(t.Context(), 4)
		if err != nil {
			t.Fatal(err)
		}
		v := url.Values{"from": {fmt.Sprint(at.Done)}, "place": {fmt.Sprint(at.ID)}, "do": {do}}
		for k, x := range more {
			v[k] = x
		}
		send(t, srv, "/pieces/4/knit", v)
	}
	press("knitted", url.Values{"to": {"30"}})
	press("pause", nil)
	press("pause", url.Values{"cause": {"door"}})
	press("resume", nil)
	press("fault", url.Values{"cause": {"lever"}, "note": {"=the lever stayed up"}, "to": {"21"}})
	press("mark", nil)
	press("mark", url.Values{"to": {"60"}, "note": {"the edge begins"}}) // anywhere, by a name of her own
	var picture bytes.Buffer
	if err := jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 1200, 300)), nil); err != nil {
		t.Fatal(err)
	}
	uploadAs(t, srv, "/pieces/4/knit/photo", "photo", "edge.jpg", picture.Bytes(),
		map[string]string{"note": "the edge at row 20"})
	page := plainText(get(t, srv.URL+"/journal?piece=4"))
	for _, want := range []string{"1 A lever was not turned", "1 Somebody came", "the edge at row 20",
		"marked: before pass 21", "the edge begins", "30 passes", "Draught curtain"} {
		if !strings.Contains(page, want) {
			t.Errorf("no %q in %s", want, page)
		}
	}
	if page := plainText(get(t, srv.URL+"/journal")); !strings.Contains(page, "Wind streamer") ||
		!strings.Contains(page, "14 s a pass") {
		t.Error(page)
	}
	if page := plainText(get(t, srv.URL+"/journal?q=LEVER&kind=fault")); !strings.Contains(page,
		"Draught curtain") || strings.Contains(page, "Wind streamer") {
		t.Error(page)
	}
	if page := plainText(get(t, srv.URL+"/journal?q=nobodysaidthis")); !strings.Contains(page,
		"Nothing in the journal is like that") {
		t.Error(page)
	}
	rows, err := csv.NewReader(strings.NewReader(get(t, srv.URL+"/journal.csv?piece=4"))).ReadAll()
	if err != nil || len(rows) != 9 || rows[1][4] != "knitted" || rows[5][7] != "lever" ||
		rows[5][8] != "'=the lever stayed up" || rows[5][9] != "hand" {
		t.Errorf("%q %v", rows, err)
	}
	if page := get(t, srv.URL+"/pieces/4/knit"); !strings.Contains(page, `find?to=60"`) {
		t.Error("what was marked anywhere is not found again")
	}
	list, _ := st.Journal(t.Context(), 4, 1)
	photo := get(t, fmt.Sprintf("%s/journal/%d/photo.jpg", srv.URL, list[0].ID))
	if shown, err := jpeg.DecodeConfig(strings.NewReader(photo)); err != nil || shown.Width != 900 ||
		shown.Height != 225 || list[0].Done != 20 {
		t.Errorf("%+v %v %+v", shown, err, list[0])
	}
	if page := get(t, srv.URL+"/pieces/4/knit"); !strings.Contains(page, fmt.Sprintf("/journal/%d/photo.jpg",
		list[0].ID)) {
		t.Error("the page beside the machine does not show the photograph")
	}
}

// TestHandsFree: what is spoken is what the page says, at the speed and in the words chosen, once a pass and again
// by a key; sounds tell a pass from hands that are needed; nothing is spoken unless it is switched on.
func TestHandsFree(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	b := newTab(t, 1024, 768)
	b.do(chromedp.Navigate(srv.URL + "/pieces/4/knit"))
	b.until(`!!document.getElementById("knit")`)
	ask[bool](b, `(window.said = [], speechSynthesis.speak = (u) => said.push([u.text, u.rate]), `+
		`speechSynthesis.cancel = () => {}, true)`)
	ask[bool](b, `(document.querySelectorAll(".tick").forEach((x) => x.click()), true)`)
	step := func(n string) {
		b.until(`performance.now() > (window.at || 0) + 600`)
		ask[bool](b, `(window.at = performance.now(), document.querySelector(".knit-knitted button").click(), true)`)
		b.until(`document.getElementById("knit").dataset.done === "` + n + `"`)
	}
	step("1")
	if n := ask[int](b, `said.length`); n != 0 {
		t.Errorf("%d things are said though nobody asked", n)
	}
	ask[bool](b, `(() => { for (const [name, value] of [["words", "all"], ["speed", "1.3"]]) {
		const el = document.querySelector('[data-free="' + name + '"]'); el.value = value;
			el.dispatchEvent(new Event("change", { bubbles: true })); }
		for (const name of ["speak", "sound"]) document.querySelector('[data-free="' + name + '"]').click();
			return true; })()`)
	words := ask[string](b, `said.at(-1)[0]`)
	for _, css := range []string{".band-row > b", ".band-see"} {
		if text := ask[string](b, `document.querySelector("`+css+
			`").textContent.replace(/\s+/g, " ").trim()`); !strings.Contains(words, strings.TrimSuffix(text, ".")) {
			t.Errorf("%q is on the page and not in %q", text, words)
		}
	}
	before := ask[int](b, `said.length`)
	step("2")
	b.until(fmt.Sprintf(`said.length === %d`, before+1))
	ask[bool](b, `(document.dispatchEvent(new CustomEvent("htmx:afterSettle", { detail: { target: `+
		`document.getElementById("knit"), elt: document.body } })), true)`)
	if n := ask[int](b, `said.length`); n != before+1 {
		t.Errorf("%d things are said of one pass", n-before)
	}
	if rate := ask[float64](b, `said.at(-1)[1]`); rate < 1.29 || rate > 1.31 {
		t.Errorf("spoken at %g", rate)
	}
	if tone := ask[string](b, `document.getElementById("knit").dataset.tone`); tone != "pass" {
		t.Errorf("a pass sounds as %q", tone)
	}
	ask[bool](b, `(document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "r", bubbles: true })), true)`)
	b.until(fmt.Sprintf(`said.length === %d && said.at(-1)[0] === said.at(-2)[0]`, before+2))
	b.do(chromedp.Navigate(srv.URL + "/pieces/4/knit")) // and it stays switched on in this browser
	b.until(`!!document.getElementById("say-again") && !document.getElementById("say-again").hidden`)
}

// TestBackupPage: a copy is saved, brought back while Vindel is at work, and one that is damaged changes nothing; how
// often copies are made is a setting.
func TestBackupPage(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	whole := get(t, srv.URL+"/backup/vindel.zip")
	send(t, srv, "/pieces/3/away", url.Values{})
	send(t, srv, "/pieces/4/knit", url.Values{"from": {"0"}, "do": {"knitted"}, "to": {"7"}})
	bad, err := http.DefaultClient.Do(fileRequest(srv, "/backup", "file", "bad.zip", []byte(whole[:len(whole)/2]),
		map[string]string{"do": "restore"}))
	if err != nil {
		t.Fatal(err)
	}
	defer bad.Body.Close()
	if body, _ := io.ReadAll(bad.Body); bad.StatusCode != http.StatusUnprocessableEntity ||
		!strings.Contains(string(body), "damaged or cut short") {
		t.Errorf("%s %s", bad.Status, body)
	}
	if at, _ := st.Reached(t.Context(), 4); at.Done != 7 {
		t.Error("a damaged copy has changed something")
	}
	if body := upload(t, srv, "/backup", "all.zip", []byte(whole),
		map[string]string{"do": "restore"}); !strings.Contains(body, "It is brought back") {
		t.Error(body)
	}
	if at, _ := st.Reached(t.Context(), 4); at.Done != 0 {
		t.Errorf("brought back it is at %+v", at)
	}
	if page := get(t, srv.URL+"/"); !strings.Contains(page, "Hide bench cushion") {
		t.Error("the piece that was put away after the copy is not back")
	}
	send(t, srv, "/backup", url.Values{"do": {"plan"}, "every": {"12"}, "keep": {"2"}})
	for range 3 {
		send(t, srv, "/backup", url.Values{"do": {"now"}})
	}
	page := plainText(get(t, srv.URL+"/backup"))
	if !strings.Contains(page, "The last copy was made just now") || len(st.TimedCopies()) > 2 ||
		len(st.TimedCopies()) == 0 {
		t.Errorf("%d copies: %s", len(st.TimedCopies()), page)
	}
	r, err := http.PostForm(srv.URL+"/backup", url.Values{"do": {"plan"}, "every": {"-1"}, "keep": {"0"}})
	if err != nil || r.StatusCode != http.StatusUnprocessableEntity {
		t.Errorf("%v %v", r, err)
	}
	r.Body.Close()
}

// TestJournalOrder: the piece that was knitted last stands first, whichever was written first.
func TestJournalOrder(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	page, last := get(t, srv.URL+"/journal"), -1
	for _, name := range []string{"Wind streamer", "Feather draught screen", "Ringer&#39;s cap", "Mitten back", "Rain curtain",
		"Lichen kneeler"} {
		at := strings.Index(page, name)
		if at <= last {
			t.Errorf("%s stands before what was knitted after it", name)
		}
		last = at
	}
}
