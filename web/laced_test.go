package web_test

import (
	"io"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/web"
)

// TestLaced: lace drawn in marks is turned into the lines that its plan reads, which knit the same fabric; lines are
// typed anew, and what cannot be read stays in the form beside the reason; and they are drawn in marks again.
func TestLaced(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	at := srv.URL + "/pieces/9"
	do := func(chart, do, text string, want int) string {
		t.Helper()
		res, err := http.PostForm(at+"/laced", url.Values{"chart": {chart}, "do": {do}, "text": {text}})
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		if res.StatusCode != want || err != nil {
			t.Errorf("%s %s: %s %v", do, chart, res.Status, err)
		}
		return string(b)
	}
	eyelets := func() [2]int { f := check.Run(pieceOf(t, srv, 9)).Fabric; return [2]int{f.Eyelets, f.Doubled} }
	before := eyelets()
	if page := get(t, at+"/laced"); !strings.Contains(page, "moves 16 stitches to the left") ||
		!strings.Contains(page, "knit 6") {
		t.Error("the lines of the marks are not shown")
	}
	page := do("feather", "lines", "", 200)
	if !strings.Contains(page, "feather 2") || eyelets() != before {
		t.Errorf("as lines another fabric is knitted")
	}
	for _, path := range []string{"place", "prove", "prepare", "knit", "laced?chart=feather", "draw?chart=feather+2",
		"draw?chart=feather"} {
		if page := get(t, at+"/"+path); !strings.Contains(page, "Feather draught screen") {
			t.Errorf("%s is no page", path)
		}
	}
	if page := do("feather 2", "read", "#..\n##", 422); !strings.Contains(page, "line 2 from the top") ||
		!strings.Contains(page, "#..\n##") {
		t.Error("what was typed is not kept beside the reason")
	}
	do("feather 2", "read", "...... knit 2\n.#....", 200)
	if p := pieceOf(t, srv, 9); p.Charts["feather 2"].H != 2 || p.Charts["feather 2"].Lines[1].Knit != 2 {
		t.Error("typed lines are not read")
	}
	if page := do("feather 2", "marks", "", 200); !strings.Contains(page, "feather 3") || pieceOf(t, srv,
		9).Charts["feather 3"].IsLines() {
		t.Error("lines are not drawn in marks")
	}
}
