package web_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"vindel/web"
)

// TestCounted: what is wrong is said in her counting and by the name that the field has on the page.
func TestCounted(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	for _, c := range []struct{ path, kind, value, want string }{
		{"/sections/1/areas/0/first", "text", "L140", `section 2, area 1, first needle: "L140": the bed ends at L70`},
		{"/needles/to", "text", "R999", `to needle: "R999": the bed ends at R70`},
		{"/sections/1/rows", "number", "-3", "section 2, rows: -3"},
		{"/sections/1/areas/0/columns", "span", "1-99",
			"section 2, area 1, columns of the chart, the last: 99: 1 to 8"},
		{"/swatch/rows", "measure", "0", "swatch, rows: 0"},
	} {
		res, err := http.PostForm(srv.URL+"/pieces/2/field", url.Values{"path": {c.path}, "kind": {c.kind},
			"value": {c.value}})
		if err != nil {
			t.Fatal(err)
		}
		if page := plainText(readAll(t, res.Body)); res.StatusCode != 422 || !strings.Contains(page, c.want) {
			t.Errorf("%s %s: %d, %s", c.path, c.value, res.StatusCode, page)
		}
		res.Body.Close()
	}
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/2/place"))
	b.until(`document.readyState === "complete"`)
	field := `document.getElementById("f/sections/1/areas/0/first")`
	ask[bool](b, fmt.Sprintf("(%s.focus(), %s.select(), true)", field, field))
	b.key("L", "1", "4", "0", kb.Enter)
	b.until(field + `.closest("form").textContent.includes("the bed ends at L70") && ` + field +
		`.value === "L140" && ` + field + `.getAttribute("aria-invalid") === "true"`)
	ask[bool](b, fmt.Sprintf("(%s.select(), true)", field))
	b.key("l", "2", "8", kb.Enter)
	b.until(field + `.value === "L28" && !document.getElementById("field-wrong")`)
}
