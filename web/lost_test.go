package web_test

import (
	"fmt"
	"net/url"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/lost"
	"vindel/web"
)

// TestLostPage: the page asks what the core would, finds the pass from what is seen, goes there when she says so,
// and where answers contradict says which.
func TestLostPage(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	for id, n := range map[int]int{9: 57, 2: 23, 6: 11} {
		all := lost.Standings(check.Run(pieceOf(t, srv, id)).Fabric)
		var told []lost.Answer
		q := url.Values{}
		for ask := lost.Next(all, lost.Fits(all, nil), nil, nil); ask != nil &&
			len(lost.Fits(all, told)) > 1; ask = lost.Next(all, lost.Fits(all, told), told, nil) {
			page := plainText(get(t, fmt.Sprintf("%s/pieces/%d/knit/lost?%s", srv.URL, id, q.Encode())))
			if !strings.Contains(page, ask.Fact.Words()) {
				t.Fatalf("piece %d: %q is not asked: %s", id, ask.Fact.Words(), page)
			}
			told = append(told, lost.Answer{Fact: ask.Fact, Value: all[n][ask.Fact]})
			q.Set(string(ask.Fact), all[n][ask.Fact])
		}
		page := plainText(get(t, fmt.Sprintf("%s/pieces/%d/knit/lost?%s", srv.URL, id, q.Encode())))
		if !strings.Contains(page, fmt.Sprintf("Before pass %d ", n+1)) {
			t.Errorf("piece %d, %d knitted, %v: %s", id, n, told, page)
		}
	}
	at, _ := st.Reached(t.Context(), 9)
	send(t, srv, "/pieces/9/knit", url.Values{"from": {fmt.Sprint(at.Done)},
		"place": {fmt.Sprint(at.ID)}, "do": {"jump"}, "to": {"31"}})
	if now, _ := st.Reached(t.Context(), 9); now.Done != 30 {
		t.Errorf("gone to pass 31 she has %d", now.Done)
	}
	page := plainText(get(t, srv.URL+"/pieces/9/knit/lost?side=left&counter=9999"))
	if !strings.Contains(page, "No pass looks like that") || !strings.Contains(page,
		"9999 on the counter (without it") {
		t.Error(page)
	}
	if page := plainText(get(t, srv.URL+"/pieces/9/knit/lost?unknown=counter")); strings.Contains(page,
		lost.Counter.Words()) {
		t.Errorf("what she does not know is asked again: %s", page)
	}
}
