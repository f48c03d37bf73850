package web_test

import (
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"vindel/knit/check"
	"vindel/knit/mistake"
	"vindel/web"
)

// TestWrongPage: a mistake that is played, marked as it looks, is named first with both fabrics; she goes back to
// its pass, and the journal says why.
func TestWrongPage(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	const id = 3
	pl := check.Run(pieceOf(t, srv, id)).Plan
	send(t, srv, "/pieces/3/knit", url.Values{"from": {"0"}, "do": {"knitted"}, "to": {"40"}})
	pl = mistake.Until(pl, 40)
	m := mistake.Mistake{Kind: mistake.Lever}
	for _, is := range mistake.All(pl, 0, 40) {
		if is.Kind == mistake.Lever && strings.Contains(is.Say(pl), "cams") {
			m = is
		}
	}
	planned, _ := mistake.Mistake{}.Play(t.Context(), pl)
	made, _ := m.Play(t.Context(), pl)
	d := mistake.Compare(mistake.See(planned), mistake.See(made))
	q := url.Values{"first": {fmt.Sprint(d.First)}, "last": {fmt.Sprint(d.Last)}, "left": {d.Left.String()},
		"right": {d.Right.String()}}
	for _, sign := range d.Signs {
		q.Add("sign", string(sign))
	}
	page := get(t, srv.URL+"/pieces/3/knit/wrong?"+q.Encode())
	if text := plainText(page); !strings.Contains(text, "1 "+m.Kind.Words()) || !strings.Contains(text, m.Say(pl)) {
		t.Errorf("%s is not named first: %s", m.Say(pl), text)
	}
	pictures := regexp.MustCompile(`href="(/pieces/3/knit/made/[^"]+)"`).FindStringSubmatch(page)
	if pictures == nil || !strings.HasPrefix(get(t, srv.URL+strings.ReplaceAll(pictures[1], "&amp;", "&")), "\x89PNG") {
		t.Error("the fabric with the mistake is not drawn")
	}
	at, _ := st.Reached(t.Context(), id)
	send(t, srv, "/pieces/3/knit", url.Values{"from": {"40"}, "place": {fmt.Sprint(at.ID)},
		"do": {"fault"}, "cause": {"lever"}, "note": {m.Say(pl)}, "to": {fmt.Sprint(m.Pass + 1)}})
	if at, _ := st.Reached(t.Context(), id); at.Done != m.Pass || at.Kind != "fault" {
		t.Errorf("%+v", at)
	}
	if text := plainText(get(t, srv.URL+"/pieces/3/knit")); !strings.Contains(text, m.Say(pl)+" Went back to pass") {
		t.Errorf("the journal does not say it: %s", text)
	}
	// She may go on from the place after the last pass, and from none beyond it.
	all := len(check.Run(pieceOf(t, srv, id)).Plan.Passes)
	for to, done := range map[int]int{all + 2: m.Pass, all + 1: all} {
		at, _ := st.Reached(t.Context(), id)
		if to == all+1 && at.Done != m.Pass {
			t.Errorf("sent to pass %d of %d: %+v", all+2, all, at)
		}
		r, err := http.PostForm(srv.URL+"/pieces/3/knit", url.Values{"from": {fmt.Sprint(at.Done)},
			"place": {fmt.Sprint(at.ID)},
			"do":    {"fault"}, "cause": {"lever"}, "note": {"x"}, "to": {fmt.Sprint(to)}})
		if err != nil {
			t.Fatal(err)
		}
		r.Body.Close()
		if now, _ := st.Reached(t.Context(), id); now.Done != done && to == all+1 || to == all+2 && r.StatusCode < 400 {
			t.Errorf("on from pass %d of %d: %s, %d done", to, all, r.Status, now.Done)
		}
	}
	r, err := http.Get(srv.URL + "/pieces/3/knit/wrong?first=9999")
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	if body, _ := io.ReadAll(r.Body); r.StatusCode != http.StatusUnprocessableEntity ||
		!strings.Contains(string(body), "the fabric has rows 1 to") {
		t.Errorf("%s: %s", r.Status, body)
	}
}

// TestMarkedByFinger: dragging over the fabric writes rows and needles into the form, mirrored as the face is.
func TestMarkedByFinger(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	b := newTab(t, 1280, 900)
	for _, face := range []string{"knit", "purl"} {
		b.do(chromedp.Navigate(srv.URL + "/pieces/3/knit/wrong?face=" + face))
		b.until(`!!document.querySelector(".made.is-marked")`)
		ask[bool](b, `(() => { const s = document.querySelector(".made.is-marked"), m = s.getScreenCTM(),
			rows = s.dataset.high - s.dataset.low + 1;
			const put = (type, x, row) => { const p = new DOMPoint(4 * x + 2, 3 * (rows +
				0.6) - 3 * row - 1.5).matrixTransform(m);
				s.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: p.x, clientY: p.y })) };
			s.setPointerCapture = () => {};
			put("pointerdown", 3, 4); put("pointermove", 6, 9); put("pointerup", 6, 9); return true; })()`)
		got := ask[string](b, `(() => { const f = document.getElementById("wrong-form").elements, low = `+
			`document.querySelector(".made.is-marked").dataset.low; return [f.first.value - low, f.last.value - low, `+
			`f.left.value, f.right.value].join(" ") })()`)
		want := map[string]string{"knit": "4 9 R42 R45", "purl": "4 9 L45 L42"}[face] // 96 needles
		if got != want {
			t.Errorf("%s: %s, not %s", face, got, want)
		}
	}
}

// TestTrainer: a riddle is the same for whoever has its number, one answer is right, and what-if shows each mistake
// of a pass.
func TestTrainer(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	page := get(t, srv.URL+"/pieces/3/knit/trainer?n=5")
	right := 0
	answers := regexp.MustCompile(`trainer\?n=5&amp;say=([a-z-]+)`).FindAllStringSubmatch(page, -1)
	for _, a := range answers {
		if text := plainText(get(t, srv.URL+"/pieces/3/knit/trainer?n=5&say="+a[1])); strings.Contains(text,
			"That is it") {
			right++
		} else if !strings.Contains(text, "It was something else") {
			t.Error(text)
		}
	}
	if len(answers) < 3 || right != 1 {
		t.Errorf("%d answers, %d right", len(answers), right)
	}
	for _, to := range regexp.MustCompile(`/pieces/3/knit/if\?by[^"]+`).FindAllString(get(t,
		srv.URL+"/pieces/3/knit/if?pass=26"), -1) {
		if text := plainText(get(t, srv.URL+strings.ReplaceAll(to, "&amp;", "&"))); !strings.Contains(text,
			"How to come right again") && !strings.Contains(text, "would not be seen") {
			t.Errorf("%s: %s", to, text)
		}
	}
}
