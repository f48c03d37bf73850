package web_test

import (
	"cmp"
	"fmt"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"vindel/knit/check"
	"vindel/knit/lost"
	"vindel/web"
)

// TestLostPage: the page asks what the core would, finds the pass from what is seen, goes there when she says so; it
// says what agrees, what does not, and what one answer alone knows.
func TestLostPage(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	for id, n := range map[int]int{9: 57, 2: 23, 6: 11} {
		all := lost.Standings(check.Run(pieceOf(t, srv, id)).Fabric)
		// answered goes through the page's questions as the piece stands, but for what is slipped.
		answered := func(slip lost.Standing) (page string, told []lost.Answer, p lost.Found) {
			q := url.Values{}
			for p = lost.Find(all, nil, nil); ; p = lost.Find(all, told, nil) {
				page = plainText(get(t, fmt.Sprintf("%s/pieces/%d/knit/lost?%s", srv.URL, id, q.Encode())))
				if p.Ask == nil {
					return page, told, p
				}
				if !strings.Contains(page, p.Ask.Fact.Words()) {
					t.Fatalf("piece %d: %q is not asked: %s", id, p.Ask.Fact.Words(), page)
				}
				told = append(told, lost.Answer{Fact: p.Ask.Fact, Value: cmp.Or(slip[p.Ask.Fact], all[n][p.Ask.Fact])})
				q.Set(string(p.Ask.Fact), told[len(told)-1].Value)
			}
		}
		page, told, _ := answered(nil)
		if agree := fmt.Sprintf("All %d agree", len(told)); !strings.Contains(page, fmt.Sprintf("Before pass %d ", n+1)) ||
			len(told) > 2 && !strings.Contains(page, agree) || len(told) == 2 && !strings.Contains(page, "Both agree") {
			t.Errorf("piece %d, %d knitted, %v: %s", id, n, told, page)
		}
		counter, _ := strconv.Atoi(all[n][lost.Counter])
		wrong := strconv.Itoa(counter + 1)
		if page, told, p := answered(lost.Standing{lost.Counter: wrong}); !p.Slip || !strings.Contains(page,
			fmt.Sprintf("%d of %d agree. Not %s on the counter", len(told)-1, len(told), wrong)) {
			t.Errorf("piece %d, %d knitted, the counter misread, %v: %s", id, n, told, page)
		}
	}
	// Plain rows two apart look the same: that is said, with how to count.
	plain := plainText(get(t, srv.URL+"/pieces/2/knit/lost?counter=6&side=right&unknown=forward&unknown=edges&unknown=first"))
	if !strings.Contains(plain, "Only the counter knows this") || !strings.Contains(plain,
		"Count in the fabric: from the cast-on up to the needles there must be 6 rows") {
		t.Error(plain)
	}
	at, _ := st.Reached(t.Context(), 9)
	send(t, srv, "/pieces/9/knit", url.Values{"from": {fmt.Sprint(at.Done)},
		"place": {fmt.Sprint(at.ID)}, "do": {"jump"}, "to": {"31"}})
	if now, _ := st.Reached(t.Context(), 9); now.Done != 30 {
		t.Errorf("gone to pass 31 she has %d", now.Done)
	}
	page := plainText(get(t, srv.URL+"/pieces/9/knit/lost?side=left&counter=9999&edges=L1+to+L2"))
	if !strings.Contains(page, "No pass looks like that") {
		t.Error(page)
	}
	page = plainText(get(t, srv.URL+"/pieces/9/knit/lost?side=left&counter=9999"))
	if !strings.Contains(page, "one of them is a slip") {
		t.Error(page)
	}
	if page := plainText(get(t, srv.URL+"/pieces/9/knit/lost?unknown=counter")); strings.Contains(page,
		lost.Counter.Words()) {
		t.Errorf("what she does not know is asked again: %s", page)
	}
}
