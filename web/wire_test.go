package web_test

import (
	"bufio"
	"fmt"
	"html"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"vindel/knit/check"
	"vindel/knit/fabric"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/link"
	"vindel/link/linktest"
	"vindel/store"
	"vindel/web"
)

// knitPage is what the page beside the machine shows.
type knitPage struct{ html string }

func (p knitPage) value(name string) string {
	if m := regexp.MustCompile(`name="` + name + `" value="([^"]*)"`).FindStringSubmatch(p.html); m != nil {
		return m[1]
	}
	return ""
}

// done is how many passes are knitted.
func (p knitPage) done() int { n, _ := strconv.Atoi(p.value("from")); return n }

// does says that the page has a button that does something.
func (p knitPage) does(do string) bool { return strings.Contains(p.html, `name="do" value="`+do+`"`) }

// told is what is to be done, in the words of the page.
func (p knitPage) told() (list []string) {
	_, rest, ok := strings.Cut(p.html, `class="wire-do">`)
	if !ok {
		return nil
	}
	rest, _, _ = strings.Cut(rest, "</ol>")
	for _, m := range regexp.MustCompile(`<li>(.*?)</li>`).FindAllStringSubmatch(rest, -1) {
		list = append(list, html.UnescapeString(m[1]))
	}
	return list
}

func openKnit(t *testing.T, srv *httptest.Server, id int) knitPage {
	t.Helper()
	return knitPage{get(t, fmt.Sprintf("%s/pieces/%d/knit", srv.URL, id))}
}

func (p knitPage) press(t *testing.T, srv *httptest.Server, id int, do string) {
	t.Helper()
	r, err := http.PostForm(fmt.Sprintf("%s/pieces/%d/knit", srv.URL, id), url.Values{"do": {do},
		"from": {p.value("from")}, "rev": {p.value("rev")}, "place": {p.value("place")}})
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	if body, _ := io.ReadAll(r.Body); r.StatusCode >= 400 && r.StatusCode != http.StatusConflict {
		t.Logf("%s: %s %.200s", do, r.Status, plainText(string(body)))
	}
}

// TestKnittedByWire: a lace piece, a hand two-colour piece, a shaped piece and a recipe are knitted to the end by
// the simulated machine, with every fault once; the page turns by itself, and its words alone lead back.
func TestKnittedByWire(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	for id, what := range map[int]string{9: "lace", 2: "hand two-colour", 21: "shaped", 16: "recipe"} {
		t.Run(what, func(t *testing.T) {
			pl := check.Run(pieceOf(t, srv, id)).Plan
			m, addr := linktest.Machine(t, linktest.Faults(pl, 0))
			if at, _ := st.Reached(t.Context(), int64(id)); at.Done > 0 { // from the first pass
				send(t, srv, fmt.Sprintf("/pieces/%d/knit", id), url.Values{"from": {fmt.Sprint(at.Done)},
					"place": {fmt.Sprint(at.ID)}, "do": {"jump"}, "to": {"1"}})
			}
			send(t, srv, fmt.Sprintf("/pieces/%d/wire", id), url.Values{"addr": {addr}})
			knitOver(t, srv, id, m, pl, func(p knitPage) bool {
				return strings.Contains(p.html,
					"Knitted to the last pass")
			})
			asPlanned(t, m, pl)
			if len(m.Faults) > 0 {
				t.Errorf("%v did not happen", m.Faults)
			}
			seen := map[string]bool{}
			list, _ := st.Journal(t.Context(), int64(id), 1<<20)
			for k, e := range list {
				if k > 0 && e.Kind == "knitted" && list[k-1].Kind == "knitted" && e.Done >= list[k-1].Done {
					t.Errorf("pass %d is written down twice", e.Done)
				}
				if e.Hand == "wire" {
					if k+1 < len(list) && e.Done < list[k+1].Done && e.Kind != "back" {
						t.Errorf("raveled from %d to %d, and written down as %q", list[k+1].Done, e.Done, e.Kind)
					}
					seen[e.Cause] = true
				}
			}
			if !seen[string(link.WrongWay)] || !seen[string(link.Unheard)] {
				t.Errorf("the journal tells of %v", seen)
			}
		})
	}
}

// knitOver knits with a machine on a wire: hands are done where the page waits for them, and what is otherwise is
// put right by the page's words, until the page shows what is waited for.
func knitOver(t *testing.T, srv *httptest.Server, id int, m *link.Machine, pl *pass.Plan, is func(knitPage) bool) {
	t.Helper()
	for until := time.Now().Add(90 * time.Second); ; {
		page := openKnit(t, srv, id)
		switch {
		case time.Now().After(until):
			t.Fatalf("it stands at pass %s: %s", page.value("from"), plainText(page.html))
		case is(page):
			return
		case page.does("right"):
			linktest.Obey(t, m, pl, page.told())
			page.press(t, srv, id, "right")
		case page.does("resume"): // the piece was edited, and the place is asked for
			page.press(t, srv, id, "resume")
		case page.does("go"):
			page.press(t, srv, id, "go")
		default:
			time.Sleep(25 * time.Millisecond) // a page costs the machine as much as three passes
		}
	}
}

// asPlanned says that what hangs on a machine is what a plan makes.
func asPlanned(t *testing.T, m *link.Machine, pl *pass.Plan) {
	t.Helper()
	planned, err := fabric.Knit(t.Context(), pl)
	if err != nil {
		t.Fatal(err)
	}
	if d := mistake.Compare(mistake.See(planned), mistake.See(m.Fabric())); !d.None() {
		t.Errorf("the fabric is otherwise than planned: %+v", d)
	}
}

// TestEditedOnTheWire: rows that are still to come are drawn anew while the machine is at work: it is sent the
// program that is knitted now.
func TestEditedOnTheWire(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	const id = 4
	m, addr := linktest.Machine(t, nil)
	send(t, srv, "/pieces/4/wire", url.Values{"addr": {addr}})
	before := check.Run(pieceOf(t, srv, id)).Plan
	knitOver(t, srv, id, m, before, func(p knitPage) bool { return p.done() >= 25 })
	first := openKnit(t, srv, id).done()
	r, err := http.Post(srv.URL+"/pieces/4/edit", "application/json",
		strings.NewReader(`{"label":"draw","changes":[{"op":"replace","path":"/charts/reeds/rows/0","value":"...#.."}]}`))
	if err != nil || r.StatusCode >= 400 {
		t.Fatal(r, err)
	}
	r.Body.Close()
	last := openKnit(t, srv, id).done()
	after := check.Run(pieceOf(t, srv, id)).Plan
	knitOver(t, srv, id, m, after, func(p knitPage) bool {
		return strings.Contains(p.html,
			"Knitted to the last pass")
	})
	look := func(pl *pass.Plan) [][]mistake.Stitch {
		f, err := fabric.Knit(t.Context(), pl)
		if err != nil {
			t.Fatal(err)
		}
		return mistake.See(f).Rows
	}
	was, is, made := look(before), look(after), mistake.See(m.Fabric()).Rows
	if len(made) != len(is) {
		t.Fatalf("%d rows, not %d", len(made), len(is))
	}
	for i, row := range made { // a pass a row
		if old, now := slices.Equal(row, was[i]), slices.Equal(row, is[i]); i < first && !old || i > last && !now ||
			!old && !now {
			t.Errorf("row %d of %d, edited between %d and %d: as before %v, as now %v", i+1, len(made), first, last,
				old, now)
		}
	}
}

// scripted is a machine that says what a test wants it to, and answers what it must.
type scripted struct {
	t    *testing.T
	conn chan net.Conn
	gone chan bool // it was let go
}

func (m *scripted) serve(l net.Listener) {
	conn, err := l.Accept()
	if err != nil {
		return
	}
	m.conn <- conn
	sum := "none"
	for in := bufio.NewScanner(conn); in.Scan(); {
		msg, _ := link.Read(in.Text())
		switch msg.Word {
		case "hello":
			fmt.Fprintln(conn, "hello vindel=1 moves=yes sees=carriage,counter,line")
		case "ask":
			fmt.Fprintln(conn, link.Say("state", "counter", 17, "sum", sum))
		case "sent":
			sum = msg.Fields["sum"]
			fmt.Fprintln(conn, link.Say("ready", "sum", sum))
		case "go":
			m.gone <- true
		}
	}
}

// TestEditedInMidPass: the row that is being made is drawn anew before its pass is reported: it was made as it was
// before, and is to be made again; a row that was not touched counts.
func TestEditedInMidPass(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		row  string
		made bool
	}{{"rows/0", false}, {"rows/3", true}} { // the 8th row, which pass 18 knits, and the 5th
		srv, st := site(t, true, web.Options{})
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { l.Close() })
		m := &scripted{t, make(chan net.Conn, 1), make(chan bool, 9)}
		go m.serve(l)
		send(t, srv, "/pieces/4/knit", url.Values{"from": {"0"}, "do": {"knitted"}, "to": {"17"}})
		send(t, srv, "/pieces/4/wire", url.Values{"addr": {l.Addr().String()}})
		conn := <-m.conn
		openKnit(t, srv, 4).press(t, srv, 4, "right")
		openKnit(t, srv, 4).press(t, srv, 4, "go")
		<-m.gone
		p := check.Run(pieceOf(t, srv, 4)).Plan.Passes[17]
		r, err := http.Post(srv.URL+"/pieces/4/edit", "application/json",
			strings.NewReader(`{"label":"draw","changes":[{"op":"replace","path":"/charts/reeds/`+c.row+
				`","value":"...#.."}]}`))
		if err != nil || r.StatusCode >= 400 {
			t.Fatal(r, err)
		}
		r.Body.Close()
		fmt.Fprintln(conn, link.Say("moved", "n", 1, "carriage", p.Carriage, "dir", p.Dir, "counter", p.Counter,
			"line", p.Line))
		for until := time.Now().Add(10 * time.Second); ; time.Sleep(5 * time.Millisecond) {
			page := openKnit(t, srv, 4)
			at, _ := st.Reached(t.Context(), 4)
			again := strings.Contains(page.html, "Pass 18 was made while the piece was edited")
			if again || at.Done == 18 {
				if again == c.made {
					t.Errorf("%s drawn anew: to be made again %v, %d made", c.row, again, at.Done)
				}
				break
			}
			if time.Now().After(until) {
				t.Fatalf("%s: nothing is said: %s", c.row, plainText(page.html))
			}
		}
	}
}

// TestPageTurnsByItself: in the browser the page follows a machine, and a second device the first.
func TestPageTurnsByItself(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	a, b := newTab(t, 1280, 800), newTab(t, 390, 844)
	for _, tab := range []*tab{a, b} {
		tab.do(chromedp.Navigate(srv.URL + "/pieces/4/knit"))
		tab.until(`document.readyState === "complete" && !!document.getElementById("knit")`)
	}
	send(t, srv, "/pieces/4/knit", url.Values{"from": {ask[string](a,
		`document.getElementById("knit").dataset.done`)}, "do": {"jump"}, "to": {"3"}})
	for _, tab := range []*tab{a, b} {
		tab.until(`document.getElementById("knit").dataset.done === "2"`)
	}
	// one press counts once, though two devices press it
	ask[bool](a, `(document.querySelector(".knit-knitted button").click(), true)`)
	b.until(`document.getElementById("knit").dataset.done === "3"`)
	m, addr := linktest.Machine(t, nil)
	send(t, srv, "/pieces/4/wire", url.Values{"addr": {addr}})
	b.until(`!!document.querySelector(".knit-wrong")`) // a machine that comes new to a piece that is begun
	linktest.Obey(t, m, check.Run(pieceOf(t, srv, 4)).Plan, knitPage{get(t, srv.URL+"/pieces/4/knit")}.told())
	ask[bool](b, `(document.querySelector(".knit-press .knit-resume button").click(), true)`)
	a.until(`!document.querySelector(".knit-wrong") && document.querySelector(".knit-knitted ` +
		`button")?.textContent.startsWith("Hands are done")`)
	time.Sleep(600 * time.Millisecond) // a press sooner than half a second after another is the same press
	ask[bool](a, `(document.querySelector(".knit-knitted button").click(), true)`)
	for _, tab := range []*tab{a, b} {
		tab.until(`Number(document.getElementById("knit").dataset.done) > 5`)
	}
}

// TestLinesAreLetGo: a page that is not in front lets go of its line and looks again when it is; a press that has no
// answer after two seconds says so, until it has one.
func TestLinesAreLetGo(t *testing.T) {
	t.Parallel()
	_, st := site(t, true, web.Options{})
	var listening atomic.Int32
	held := make(chan bool)
	var hold atomic.Bool
	srv := served(t, st, web.Options{}, func(h http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.URL.Path == "/events" {
				listening.Add(1)
				defer listening.Add(-1)
			}
			if r.Method == http.MethodPost && hold.Load() {
				<-held
			}
			h.ServeHTTP(w, r)
		})
	})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/4/knit"))
	b.until(`document.readyState === "complete" && document.getElementById("knit")?.dataset.fit !== undefined`)
	turn := func(hidden bool, want int32) {
		ask[bool](b, fmt.Sprintf(`(Object.defineProperty(document, "hidden", { value: %v, configurable: true }), `+
			`document.dispatchEvent(new Event("visibilitychange")), true)`, hidden))
		for n := 0; listening.Load() != want; n++ {
			if time.Sleep(20 * time.Millisecond); n > patience {
				t.Fatalf("hidden %v: %d lines, not %d", hidden, listening.Load(), want)
			}
		}
	}
	turn(false, 1)
	turn(true, 0)
	at, _ := st.Reached(t.Context(), 4)
	if _, err := st.Write(t.Context(), 4, at.ID, store.Entry{Kind: "jump", Done: 2}); err != nil {
		t.Fatal(err)
	}
	turn(false, 1)
	b.until(`document.getElementById("knit").dataset.done === "2"`) // what was missed meanwhile
	hold.Store(true)
	ask[bool](b, `(document.querySelector(".knit-knitted button").click(), true)`)
	b.until(`document.getElementById("refusal").textContent.startsWith("No answer yet")`)
	b.until(`document.querySelector(".knit-knitted").getBoundingClientRect().bottom <= innerHeight`) // nothing is cut
	b.until(`getComputedStyle(document.getElementById("announce-busy")).display === "none"`)         // nor covered
	close(held)
	b.until(`document.getElementById("knit").dataset.done === "3" && document.getElementById("refusal").textContent === ""`)
	// However many pages a browser has open beside machines, it listens once; a press in the last is answered, and the
	// first follows it.
	hold.Store(false)
	var last *tab
	for _, id := range []int{1, 2, 3, 5, 6, 7, 4} {
		last = b.beside()
		last.do(chromedp.Navigate(fmt.Sprintf("%s/pieces/%d/knit", srv.URL, id)))
		last.until(`document.readyState === "complete" && document.getElementById("knit")?.dataset.fit !== undefined`)
	}
	ask[bool](last, `(document.querySelector(".knit-knitted button").click(), true)`)
	for _, tab := range []*tab{last, b} {
		tab.until(`document.getElementById("knit").dataset.done === "4"`)
	}
	if n := listening.Load(); n != 1 {
		t.Errorf("eight pages listen on %d lines", n)
	}
}

// TestWireGone: a machine whose cable is out is told of by the whole page, within two seconds, though the line itself
// says nothing; back in, the page is as it was, and she may knit on without it.
func TestWireGone(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	_, machine := linktest.Machine(t, nil)
	addr, out := linktest.Cable(t, machine)
	send(t, srv, "/pieces/2/wire", url.Values{"addr": {addr}})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL+"/pieces/2/knit"), chromedp.WaitVisible(chromedp.CSS("#band, .knit-wrong")))
	gone := `!!document.querySelector(".knit-gone")`
	if ask[bool](b, gone) {
		t.Fatal("the machine is there, and the page says that it is not")
	}
	out.Store(true)
	b.until(gone + ` && !document.querySelector("#band") && !document.querySelector(".knit-knitted, .knit-go")`)
	if said := ask[string](b, `document.querySelector(".knit-gone").innerText`); !strings.Contains(said, "Hands off the bed") ||
		!strings.Contains(said, "Pass ") || !strings.Contains(said, "has not answered") { // before the line is given up
		t.Errorf("it says %q", said)
	}
	out.Store(false)
	b.until(`!document.querySelector(".knit-gone")`)
	out.Store(true)
	b.until(gone)
	b.do(chromedp.Click(chromedp.CSS(".knit-alone button")))
	b.until(`!document.querySelector(".knit-gone") && !!document.querySelector(".knit-knitted")`)
}
