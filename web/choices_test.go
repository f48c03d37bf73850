package web_test

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

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
