package web_test

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"vindel/knit/check"
	"vindel/knit/finding"
	"vindel/knit/piecetest"
	"vindel/knit/technique"
	"vindel/web"
)

// TestOtherwise: from a freshly loaded page of the proof, what the plan decides is opened, the yarn that is cut in the
// cushion is carried instead by one press, which asks for one thing of the server, and undone by another.
func TestOtherwise(t *testing.T) {
	srv, _ := site(t, true, web.Options{})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL+"/pieces/3/prove"), chromedp.Click(chromedp.CSS(".otherwise summary")))
	b.until(`document.querySelector(".decided form")`)
	if said := text(b, ".decided"); !strings.Contains(said, "rowan is cut") || !strings.Contains(said, "2 ends fewer") {
		t.Errorf("the first choice: %q", said)
	}
	ask[bool](b, `window.asked = 0, document.addEventListener("htmx:beforeRequest", e => {
		if (e.detail.requestConfig.verb === "post") window.asked++ }), true`)
	b.do(chromedp.Click(chromedp.CSS(".decided form button")))
	b.until(`document.querySelector(".findings").textContent.includes("a strand that snags")`)
	if n := ask[int](b, `window.asked`); n != 1 {
		t.Errorf("%d requests for one press", n)
	}
	b.do(chromedp.Click(chromedp.CSS(".otherwise summary")))
	b.until(`document.querySelector(".decided form")`)
	if said := text(b, ".otherwise-list"); strings.Contains(said, "rowan is cut") {
		t.Errorf("carried, it is still said to be cut: %q", said)
	}
}

// TestMendedAlike: of several findings of a kind one press mends all that have a remedy, as one edit, which one undo
// takes back; a stop that can be mended in several ways has a button for each.
func TestMendedAlike(t *testing.T) {
	srv, st := site(t, false, web.Options{})
	doc := piecetest.Document(t, "card-preselect", "L36", "R36", []string{"#...#"})
	id, err := st.Add(t.Context(), doc.JSON())
	if err != nil {
		t.Fatal(err)
	}
	page := get(t, fmt.Sprintf(srv.URL+"/pieces/%d/prove", id))
	for way, text := range []string{"Pad it by 1 to make it 6", "Crop 1 to make it 4", "Knit it once, on L1 to R4"} {
		if !strings.Contains(page, `name="way" value="`+strconv.Itoa(way)+`"`) || !strings.Contains(page, text) {
			t.Errorf("no button: %s", text)
		}
	}
	long := piecetest.Document(t, "card-preselect", "L24", "R24", []string{"#...........", "............", "..........#."},
		piecetest.Set("/limits", map[string]any{"float": 4}))
	if id, err = st.Add(t.Context(), long.JSON()); err != nil {
		t.Fatal(err)
	}
	first := -1
	floats := func() (n int, doc string) {
		stored, err := st.Piece(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		p, err := technique.Read(stored.Doc)
		if err != nil {
			t.Fatal(err)
		}
		for i, f := range check.Run(p).Findings {
			if f.Code == finding.FloatLong {
				if n++; n == 1 {
					first = i
				}
			}
		}
		return n, string(stored.Doc)
	}
	before, was := floats()
	if page = get(t, fmt.Sprintf(srv.URL+"/pieces/%d/prove", id)); !strings.Contains(page, "Mend all ") || before < 2 {
		t.Fatalf("%d floats, and no press for all", before)
	}
	send(t, srv, fmt.Sprintf("/pieces/%d/fix", id), url.Values{"index": {strconv.Itoa(first)}, "code": {"float-long"},
		"alike": {"1"}})
	if n, _ := floats(); n != 0 {
		t.Errorf("%d floats are left", n)
	}
	send(t, srv, fmt.Sprintf("/pieces/%d/undo", id), nil)
	if n, now := floats(); n != before || now != was {
		t.Errorf("one undo leaves %d floats", n)
	}
}
