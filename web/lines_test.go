package web_test

import (
	"fmt"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"vindel/web"
)

// TestKeying: a program is keyed line by line, a press counts once, the place is kept, one goes back and forth; a line
// that has changed since is named; what the panel shows is compared. A card is punched the same way.
func TestKeying(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	const at = "/pieces/12/lines/2"
	said := func(page string) string { return strings.Join(strings.Fields(tags.ReplaceAllString(page, " ")), " ") }
	do := func(what string, from int, more ...string) string {
		v := url.Values{"do": {what}, "from": {fmt.Sprint(from)}}
		if more != nil {
			v.Set("to", more[0])
		}
		return said(send(t, srv, at, v))
	}
	if page := said(get(t, srv.URL+at)); !strings.Contains(page, "0 of 72 lines keyed") || !strings.Contains(page,
		"1 empty to 1 5 filled to 6") {
		t.Errorf("line 1: %.600s", page)
	}
	do("keyed", 0)
	if page := do("keyed", 0); !strings.Contains(page, "1 of 72 lines keyed") { // the same press again
		t.Errorf("a press twice: %.300s", page)
	}
	if page := do("keyed", 1); !strings.Contains(page, "2 of 72 lines keyed") || !strings.Contains(page,
		"10 empty, 2 filled, rest empty") || !strings.Contains(page, "spruce") {
		t.Errorf("line 3: %.600s", page)
	}
	if k, err := st.Keyed(t.Context(), 12, 2); err != nil || k.Done != 2 {
		t.Errorf("on the disk: %+v %v", k, err)
	}
	do("go", 2, "10")
	if page := do("back", 9); !strings.Contains(page, "8 of 72 lines keyed") {
		t.Errorf("back: %.300s", page)
	}
	for _, c := range [][3]string{{"1", "1. 5# 2. 2# 2. 3# rest", "Line 1 is as it should be"},
		{"1", "1. 5# 3. 2# 1. 3# rest", "Line 1 differs first at cell 9: it should be filled; 2 cells differ in all."},
		{"3", "10. 2#", "12 of 16 stitches typed"}, {"3", "10. 2x rest", "Cell 11: 'x' is neither"}} {
		if page := said(get(t, srv.URL+at+"?"+url.Values{"line": {c[0]},
			"check": {c[1]}}.Encode())); !strings.Contains(strings.ReplaceAll(page, "&#39;", "'"), c[2]) {
			t.Errorf("%s: not %q in %.900s", c[1], c[2], page)
		}
	}
	p := pieceOf(t, srv, 12)
	chart := p.Sections[1].Areas[0].Chart
	send(t, srv, "/pieces/12/field", url.Values{"path": {fmt.Sprintf("/charts/%s/rows/%d", chart.Name, chart.H-2)},
		"kind": {""}, "value": {strings.Repeat(string(chart.Keys[0]), chart.W)}})
	page := said(get(t, srv.URL+at))
	if !strings.Contains(page, "The piece has changed since: line") || strings.Contains(page, "since: lines 1,") {
		t.Errorf("a changed line is not named, or one that is not: %.400s", page)
	}
	do("keyed", 8)
	if page := said(get(t, srv.URL+at)); !strings.Contains(page, "The piece has changed since") {
		t.Error("keying on forgets what was keyed wrong")
	}
	if page := said(get(t, srv.URL+"/pieces/21/lines/2")); !strings.Contains(page, "0 of 42 rows punched") ||
		!strings.Contains(page, "2 punched to 5") {
		t.Errorf("a card: %.400s", page)
	}

	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/21/lines/2"))
	for n := 1; n <= 3; n++ {
		b.key(" ")
		b.until(fmt.Sprintf(`document.querySelector(".keying-line b").textContent === "%d"`, n+1))
	}
	b.key(kb.Backspace)
	b.until(`document.querySelector(".keying-line b").textContent === "3"`)
	b.do(chromedp.Navigate(srv.URL + "/pieces/21/lines/2"))
	b.until(`document.querySelector(".keying-line b").textContent === "3"`)
}
