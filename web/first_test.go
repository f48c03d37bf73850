package web_test

import (
	"context"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"vindel/chance"
	"vindel/knit/check"
	"vindel/knit/edit"
	"vindel/knit/piecetest"
	"vindel/web"
)

// sizes are the screens on which a first piece is knitted: a desk, a small screen beside the
// machine, a tablet that stands upright, a phone.
var sizes = [][2]int64{{1280, 800}, {1024, 768}, {820, 1180}, {390, 844}}

// some is every second of them, from the first or the second on; in `make soak` all are tried by keys and by touch.
func some(from int) (list [][2]int64) {
	for i, size := range sizes {
		if chance.Soaks() || i%2 == from {
			list = append(list, size)
		}
	}
	return list
}

const mostKeys = 80

// TestFirstByKeys: a first piece from an empty database to the last pass by keyboard alone.
func TestFirstByKeys(t *testing.T) {
	t.Parallel()
	for _, size := range some(0) {
		t.Run(fmt.Sprint(size), func(t *testing.T) {
			t.Parallel()
			srv, _ := site(t, false, web.Options{})
			b := newTab(t, size[0], size[1])
			pressed := 0
			press := func(keys ...string) {
				t.Helper()
				for _, k := range keys {
					pressed++
					b.key(k)
				}
			}
			b.do(chromedp.Navigate(srv.URL), chromedp.WaitVisible(chromedp.CSS(".teach")))
			if !ask[bool](b, `document.activeElement.name === "name"`) {
				t.Error("with no piece on the shelf the name is not ready to be typed")
			}
			press("M", "o", "t", "h", kb.Tab, kb.Tab, kb.Tab, kb.Tab, kb.Tab, kb.Tab)
			b.until(`document.activeElement.name === "rows"`)
			press("2", kb.Enter)
			b.until(`document.activeElement?.id === "board"`)
			press(" ", kb.ArrowRight, " ", kb.ArrowUp, " ", "l", "1", "b", "2", kb.Home, kb.ArrowLeft, " ")
			b.until(`document.getElementById("board").dataset.head === "4"`)
			// At the left edge the arrow goes into the repeat before, as Space goes into the next.
			if rows := strings.Fields(drawn(t, srv, 1, "chart")); !strings.HasSuffix(rows[len(rows)-2], "#") {
				t.Errorf("the arrow at the edge: %q", rows)
			}
			press(kb.Insert)
			b.until(`document.getElementById("sheet-about").textContent.startsWith("12 × 3")`)
			press("?")
			b.until(`document.getElementById("key-sheet").open && ` +
				`document.getElementById("key-columns").textContent.includes("Undo")`)
			press(kb.Escape)
			station := func(n string, ready string) {
				pressed++
				b.do(chromedp.KeyEvent(n, chromedp.KeyModifiers(chromedp.ModifierAlt)))
				b.until(`document.readyState === "complete" && ` + ready)
			}
			station("2", `document.querySelector(".bed")`)
			station("3", `document.querySelector(".verdict")?.innerText.includes("comes out as drawn")`)
			station("4", `document.querySelector(".cheat")`)
			station("5", `document.querySelector(".needles")`)
			for n := 0; ask[bool](b, `!!document.querySelector(".tick[aria-pressed=false]")`) && n < 20; n++ {
				pressed++
				b.space()
			}
			for n := 0; !ask[bool](b, `!!document.querySelector(".band-done")`); n++ {
				pressed++
				b.space() // where the screen is small, the first shows the rest of what is to be done
				time.Sleep(200 * time.Millisecond)
				if n > mostKeys {
					t.Fatalf("%v: the piece has no end", size)
				}
			}
			press(kb.Escape)
			b.until(`document.querySelector(".verdict")`)
			t.Logf("%v: %d keys", size, pressed)
			if pressed > mostKeys {
				t.Errorf("%v: %d keys", size, pressed)
			}
		})
	}
}

// TestFirstByTouch: the same by fingers, which reach what they press: it is in sight when it is
// scrolled to, nothing lies over it, and it is large enough.
func TestFirstByTouch(t *testing.T) {
	t.Parallel()
	for _, size := range some(1) {
		t.Run(fmt.Sprint(size), func(t *testing.T) {
			t.Parallel()
			srv, _ := site(t, false, web.Options{})
			b := newTab(t, size[0], size[1])
			b.do(chromedp.EmulateViewport(size[0], size[1], chromedp.EmulateTouch), chromedp.Navigate(srv.URL))
			b.tap(`document.querySelector("[name=name]")`, 40)
			b.do(chromedp.KeyEvent("Moth cap")) // the tablet's own keyboard
			b.tap(`document.querySelector("[name=rows]")`, 40)
			b.do(chromedp.KeyEvent("2")) // what stood there is taken at the first touch
			b.tap(`document.querySelector(".home-new .is-main")`, 40)
			b.until(`document.getElementById("board")?.dataset.grid`)
			if !ask[bool](b, `document.getElementById("icon-strip").checkVisibility() && `+
				`document.getElementById("icon-strip").textContent.includes("Pencil")`) {
				t.Errorf("%v: nothing says what the icons do", size)
			}
			b.tap(`document.querySelector("#icon-strip button")`, 40)
			time.Sleep(100 * time.Millisecond)
			x, y := b.cell(1, 2)
			b.do(chromedp.TapXY(x, y))
			b.until(`document.getElementById("board").dataset.head === "1"`)
			x, y = b.cell(2, 3)
			b.fingers([][2]float64{{x, y}}, [][2]float64{{x, y}})
			b.until(`document.getElementById("board").dataset.head === "2"`)
			if size[0] < 700 {
				b.tap(`document.getElementById("tool-drawer")`, 44)
			}
			b.tap(`document.querySelector("[data-tool=erase]")`, 44)
			x, y = b.cell(1, 2)
			b.do(chromedp.TapXY(x, y))
			b.until(`document.getElementById("board").dataset.head === "3"`)
			b.tap(`document.querySelector(".stations a:nth-of-type(2)")`, 40)
			b.until(`document.querySelector(".bed")`)
			b.tap(`document.querySelector(".stations a:nth-of-type(3)")`, 40)
			b.until(`document.querySelector(".verdict")?.innerText.includes("comes out as drawn")`)
			b.tap(`document.querySelector(".stations a:nth-of-type(5)")`, 40)
			b.until(`document.getElementById("knit")?.dataset.fit !== undefined`)
			for n := 0; ask[bool](b, `!!document.querySelector(".tick[aria-pressed=false]")`) && n < 20; n++ {
				b.tap(`document.querySelector(".tick[aria-pressed=false]")`, 30)
			}
			for n := 1; !ask[bool](b, `!!document.querySelector(".band-done")`) && n < 40; n++ {
				time.Sleep(520 * time.Millisecond)
				b.tap(`document.querySelector(".knit-knitted button")`, 44)
				b.until(fmt.Sprintf(`document.getElementById("knit").dataset.done === "%d"`, n))
			}
			b.tap(`document.querySelector(".knit-out")`, 44)
			b.until(`document.querySelector(".verdict")`)
		})
	}
}

// TestFingers: an area is dragged by a finger and lies where it was let go; two fingers make the
// chart's cells larger; a finger that rests on an icon is told its name and presses nothing.
func TestFingers(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	b := newTab(t, 390, 844)
	b.do(chromedp.EmulateViewport(390, 844, chromedp.EmulateTouch), chromedp.Navigate(srv.URL+"/pieces/5/place"))
	b.until(`document.readyState === "complete"`)
	before := pieceOf(t, srv, 5).Sections[1].Areas[0].From
	if touch := ask[string](b, `getComputedStyle(document.getElementById("bed")).touchAction`); !strings.Contains(
		touch, "pan-y") {
		t.Errorf("the browser takes a finger's sideways move for its own: %s", touch)
	}
	at := b.middle(`document.querySelector(".bed-area .area-edge")`)
	unit := ask[float64](b, `Number(document.getElementById("bed").dataset.unit) * `+
		`document.getElementById("bed").getScreenCTM().a`)
	b.fingers([][2]float64{at}, [][2]float64{{at[0] + 3*unit, at[1]}})
	b.until(`document.readyState === "complete" && document.activeElement?.classList.contains("bed-area")`)
	time.Sleep(300 * time.Millisecond)
	if after := pieceOf(t, srv, 5).Sections[1].Areas[0].From; int(after)-int(before) != 3 {
		t.Errorf("dragged three needles to the right it lies from %v, before from %v", after, before)
	}
	// Another tap elsewhere moves nothing.
	b.do(chromedp.TapXY(at[0], at[1]+200))
	head := func() string { return get(t, srv.URL+"/pieces/5/piece.vindel.json") }
	was := head()
	// As large as fits is the whole repeat in sight, and a cell keeps its size while one draws.
	b.do(chromedp.Navigate(srv.URL + "/pieces/3/draw"))
	b.tap(`document.querySelector("#icon-strip button")`, 40)
	b.tap(`document.querySelector("[data-do=fit]")`, 44)
	time.Sleep(200 * time.Millisecond)
	whole := `(() => { const b = document.getElementById("board"), g = b.dataset.grid.split(" ").map(Number);
		return [g[0] + 12 * g[1], b.clientWidth, g[1]] })()`
	x, y := b.cell(1, 1)
	fitted := ask[[3]float64](b, whole)
	b.do(chromedp.TapXY(x, y))
	b.until(`document.getElementById("board").dataset.head`)
	if now := ask[[3]float64](b, whole); now[0] > now[1] || now[2] != fitted[2] || now[2] < 18 {
		t.Errorf("the repeat ends at %g of %g px, a cell is %g px wide, before %g", now[0], now[1], now[2], fitted[2])
	}
	b.do(chromedp.Navigate(srv.URL + "/pieces/2/draw"))
	x, y = b.cell(5, 4)
	size := ask[string](b, `document.getElementById("board").dataset.grid`)
	b.fingers([][2]float64{{x - 30, y}, {x + 30, y}}, [][2]float64{{x - 90, y}, {x + 90, y}})
	b.until(`Number(document.getElementById("board").dataset.grid.split(" ")[1]) > 1.5 * Number("` +
		strings.Fields(size)[1] + `")`)
	if got := ask[int](b, `document.getElementById("board").dataset.head ? 1 : 0`); got != 0 || was != head() {
		t.Error("two fingers have drawn")
	}
	at = b.middle(`document.querySelector("[data-do=fit]")`)
	b.hold(at, 700*time.Millisecond)
	if named := ask[string](b,
		`document.getElementById("named").hidden ? "" : `+
			`document.getElementById("named").textContent`); !strings.Contains(named, "As large as fits") {
		t.Errorf("a finger that rests is told %q", named)
	}
}

// TestStays: after a change the focus is where it was, what is typed next is not lost, Esc leaves
// the innermost, and a key of her own does what the usual one did.
func TestStays(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/2/place"))
	b.until(`document.readyState === "complete"`)
	for _, press := range []string{`[...document.querySelectorAll(".area-do button")].find(e => e.textContent === ` +
		`"Whole repeats")`, `[...document.querySelectorAll(".toggles button")][0]`} {
		ask[bool](b, fmt.Sprintf(`(window.old = document.getElementById("main"), (%s).focus(), window.words = `+
			`document.activeElement.textContent, true)`, press))
		b.key(kb.Enter)
		b.until(`document.getElementById("main") !== window.old`)
		b.until(`document.activeElement?.textContent === window.words`)
	}
	// Whatever is edited, what has the focus stays where it stood in the window.
	for _, field := range []string{"f/sections/0/rows", "f/sections/1/areas/0/from", "f/needles/to", "f/sections/1/rows"} {
		ask[bool](b, fmt.Sprintf(`(window.old = document.getElementById("main"), window.field = `+
			`document.getElementById("%s"), window.field.scrollIntoView({ block: "center" }), window.field.focus(), `+
			`window.top0 = window.field.getBoundingClientRect().top, true)`, field))
		b.key(kb.ArrowRight, "1", kb.Enter)
		b.until(`document.getElementById("main") !== window.old || document.getElementById("field-wrong")`)
		b.until(fmt.Sprintf(`!document.querySelector(".htmx-request") && Math.abs(document.getElementById("%s")`+
			`.getBoundingClientRect().top - window.top0) < 3`, field))
	}
	// Tab out of a field: the change of the first is kept, the second goes on being typed in.
	ask[bool](b, `(window.old = document.getElementById("main"), `+
		`document.getElementById("f/sections/1/areas/0/from").select(), `+
		`document.getElementById("f/sections/1/areas/0/from").focus(), true)`)
	b.key("L", "2", "0", kb.Tab, "R", "9")
	b.until(`document.getElementById("main") !== window.old`)
	b.until(`document.activeElement?.id === "f/sections/1/areas/0/to" && document.activeElement.value.endsWith("R9")`)
	// On Prove a digit presses the fix of that number.
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/prove"))
	b.until(`document.readyState === "complete" && document.querySelector("[data-fix] button[data-key]")`)
	head := ask[string](b, `document.querySelector(".remedy[data-key]").dataset.key`)
	was := get(t, srv.URL+"/pieces/1/piece.vindel.json")
	ask[bool](b, `(window.old = document.getElementById("main"), true)`)
	b.key(head)
	b.until(`document.getElementById("main") !== window.old`)
	if get(t, srv.URL+"/pieces/1/piece.vindel.json") == was {
		t.Error("the key of a fix mends nothing")
	}
	// On the page beside the machine.
	b.do(chromedp.Navigate(srv.URL + "/pieces/9/knit"))
	b.until(`document.getElementById("knit")?.dataset.fit !== undefined`)
	ask[bool](b, `(document.querySelector(".knit-where").focus(), true)`)
	b.key(" ")
	b.until(`!document.getElementById("ask-find").hidden`)
	b.key(kb.Escape, kb.Escape) // out of the field, then out of the list
	b.until(`document.getElementById("ask-find").hidden && document.getElementById("knit")`)
	done := ask[int](b, `Number(document.getElementById("knit").dataset.done)`)
	ask[bool](b, `(document.activeElement.blur(), localStorage.setItem("keys", JSON.stringify({ map: { "knit  ": `+
		`"PageDown" } })), location.reload(), true)`)
	b.until(fmt.Sprintf(`document.readyState === "complete" && document.querySelector(".knit-knitted `+
		`kbd")?.textContent.startsWith("Page") && Number(document.getElementById("knit").dataset.done) === %d`, done))
	time.Sleep(520 * time.Millisecond)
	b.key(kb.PageDown)
	b.until(fmt.Sprintf(`Number(document.getElementById("knit").dataset.done) === %d`, done+1))
	b.until(`document.getElementById("announce").textContent.length > 20`) // the next pass is said
	ask[bool](b, `(localStorage.setItem("keys", JSON.stringify({ off: true, map: {} })), location.reload(), true)`)
	b.until(`document.readyState === "complete" && document.querySelector(".knit-knitted kbd")?.textContent ` +
		`=== "space"`)
	time.Sleep(520 * time.Millisecond)
	b.key(" ", "p")
	time.Sleep(300 * time.Millisecond)
	if got := ask[int](b, `Number(document.getElementById("knit").dataset.done)`); got != done+1 || ask[bool](b,
		`!!document.querySelector(".knit-press .knit-resume")`) {
		t.Errorf("switched off, a key knits: %d", got)
	}
	ask[bool](b, `(localStorage.removeItem("keys"), true)`)
}

// TestExplained: a word of ours is explained where it stands.
func TestExplained(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/2/place"))
	b.until(`document.querySelector('[id="f/sections/1/areas/0/drop"]').getAttribute("aria-description")?.length > 20`)
	if label := ask[string](b,
		`document.querySelector('[id="f/sections/1/areas/0/drop"]').closest("label").title`); !strings.Contains(
		label, "repeat") {
		t.Errorf("half-drop: %q", label)
	}
}

// middle is the middle of what is scrolled to, on the screen.
func (b *tab) middle(js string) [2]float64 {
	b.t.Helper()
	return ask[[2]float64](b,
		fmt.Sprintf(`(() => { const e = %s; e.scrollIntoView({ block: "nearest", inline: "nearest" });
		const r = e.getBoundingClientRect(), x = Math.min(innerWidth, r.right), l = Math.max(0, r.left); return [(l +
			x) / 2, r.top + r.height / 2]; })()`, js))
}

// tap presses with a finger what is so large at least, and where a finger reaches it.
func (b *tab) tap(js string, least int) {
	b.t.Helper()
	b.until(js)
	at := b.middle(js)
	if bad := ask[string](b,
		fmt.Sprintf(`(() => { const e = %s, r = e.getBoundingClientRect(), at = document.elementFromPoint(%g, %g);
		if (r.height < %d - 0.5) return "it is " + r.height + " px high";
		return at && (e.contains(at) || at.contains(e)) ? "" : "there is " + (at?.outerHTML.slice(0,
			90) ?? "nothing"); })()`, js, at[0], at[1], least)); bad != "" {
		b.t.Errorf("%s: %s", js, bad)
	}
	b.do(chromedp.TapXY(at[0], at[1]))
}

// fingers go from where they are set down to where they are lifted, in a few steps.
func (b *tab) fingers(from, to [][2]float64) {
	b.t.Helper()
	const steps = 6
	touch := func(kind input.DispatchTouchEventType, part float64) {
		var points []*input.TouchPoint
		for i := range from {
			id := float64(i)
			points = append(points, &input.TouchPoint{X: from[i][0] + part*(to[i][0]-from[i][0]),
				Y: from[i][1] + part*(to[i][1]-from[i][1]), ID: &id})
		}
		if kind == input.DispatchTouchEventTypeTouchEnd {
			points = []*input.TouchPoint{}
		}
		b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
			_, err := cdp.Call(ctx, t, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind,
				TouchPoints: points})
			return err
		}))
	}
	touch(input.DispatchTouchEventTypeTouchStart, 0)
	for i := 1; i <= steps; i++ {
		touch(input.DispatchTouchEventTypeTouchMove, float64(i)/steps)
	}
	touch(input.DispatchTouchEventTypeTouchEnd, 1)
}

// hold lets a finger rest.
func (b *tab) hold(at [2]float64, long time.Duration) {
	b.t.Helper()
	id := 0.0
	b.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		p := input.DispatchTouchEventParams{Type: input.DispatchTouchEventTypeTouchStart,
			TouchPoints: []*input.TouchPoint{{X: at[0], Y: at[1], ID: &id}}}
		if _, err := cdp.Call(ctx, t, input.DispatchTouchEvent, p); err != nil {
			return err
		}
		time.Sleep(long)
		p = input.DispatchTouchEventParams{Type: input.DispatchTouchEventTypeTouchEnd,
			TouchPoints: []*input.TouchPoint{}}
		_, err := cdp.Call(ctx, t, input.DispatchTouchEvent, p)
		return err
	}))
}

// TestRefusedForm: what cannot be begun with is said beside the form, which stays as it was filled in; more repeats than
// the bed has room for are said where they are placed.
func TestRefusedForm(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	bad := filepath.Join(t.TempDir(), "moth.webp")
	if err := os.WriteFile(bad, []byte("no picture"), 0o600); err != nil {
		t.Fatal(err)
	}
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL), chromedp.WaitVisible(chromedp.CSS(".teach")))
	b.do(chromedp.SendKeys(chromedp.CSS("input[name=name]"), "Moth"),
		chromedp.SetUploadFiles(chromedp.CSS("input[name=file]"), []string{bad}),
		chromedp.Click(chromedp.CSS("form.form button.is-main")))
	b.until(`document.getElementById("field-wrong")?.textContent.length > 10 && location.pathname === "/" && ` +
		`document.querySelector("input[name=name]").value === "Moth" && document.querySelector("input[name=file]").files.length === 1`)
	send(t, srv, "/pieces", url.Values{"name": {"Moth"}, "machine": {"card-preselect"}, "technique": {"two-colour"},
		"repeats": {"4"}, "from": {"blank"}, "stitches": {"80"}, "rows": {"8"}})
	// Lace in words begins a piece as a drawing does.
	send(t, srv, "/pieces", url.Values{"name": {"Reeds"}, "machine": {"card-preselect"}, "technique": {"two-colour"},
		"repeats": {"4"}, "from": {"text"}, "text": {"Row 1: k2tog, yo, k1\nRow 2: purl"}})
	if p := pieceOf(t, srv, 2); !p.Sections[0].Lace() || p.Work().Len() != 12 || p.Charts["chart"].Rows()[1] != ".o/" {
		t.Errorf("lace in words: %s over %d needles, %q", p.Sections[0].Technique.Name, p.Work().Len(),
			p.Charts["chart"].Rows())
	}
	// Of an 8 + 1 pattern the repeat is repeated, and the edge stitch stands once, on the side where the words have it.
	send(t, srv, "/pieces", url.Values{"name": {"Reeds"}, "machine": {"card-preselect"}, "technique": {"lace"},
		"repeats": {"4"}, "from": {"text"}, "text": {"Row 1: k1, *k2tog, yo, k1, yo, ssk, k3*\nRow 2: purl"}})
	p := pieceOf(t, srv, 3)
	if a := p.Sections[0].Areas; p.Work().Len() != 33 || len(a) != 2 || a[0].Columns != [2]int{9, 9} ||
		a[0].From != a[0].To || a[1].Columns != [2]int{1, 8} || a[1].To != p.To || a[0].From != p.From {
		t.Errorf("8 + 1 over %d needles lies as %+v", p.Work().Len(), a)
	}
	if r := check.Run(p); r.Stops() || !r.Fabric.Matches() || r.Fabric.Eyelets != 8 {
		t.Errorf("8 + 1: %v, %s, %d eyelets", r.Findings, r.Fabric.First, r.Fabric.Eyelets)
	}
	if place := plainText(get(t, srv.URL+"/pieces/1/place")); !strings.Contains(place,
		"4 repeats of 80 stitches take 320 needles, and the bed has 200: 2 stand side by side.") {
		t.Error(place)
	}
}

// TestFirstSteps: the first piece has one list of what is to be done, the stations; each but the last has a way on,
// which ticks it, as work there does; Prove is not done while something stops the plan.
func TestFirstSteps(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	home := get(t, srv.URL)
	doc := piecetest.Document(t, "card-preselect", "L6", "R6", []string{"..##", "#..#"})
	id, err := st.Add(t.Context(), doc.JSON())
	if err != nil {
		t.Fatal(err)
	}
	at := fmt.Sprintf("%s/pieces/%d/", srv.URL, id)
	done := func() (list []string) {
		for _, m := range regexp.MustCompile(`class="station[^"]*is-done[^>]*title="(\w+)`).FindAllStringSubmatch(get(t,
			at+"place"), -1) {
			list = append(list, m[1])
		}
		return list
	}
	stations := []string{"draw", "place", "prove", "prepare", "knit"}
	for i, name := range stations {
		if !strings.Contains(home, "<b>"+strings.ToUpper(name[:1])+name[1:]+"</b>") {
			t.Errorf("the shelf does not explain %s", name)
		}
		page := get(t, at+name)
		if way := strings.Contains(page, `action="/pieces/1/went-on"`); way != (i < 4) {
			t.Errorf("%s: a way on: %v", name, way)
		}
		if n := strings.Count(page, "Your first piece"); n > 1 {
			t.Errorf("%s: %d lists", name, n)
		}
	}
	if got := done(); len(got) != 0 {
		t.Errorf("nothing is done yet, and ticked is %v", got)
	}
	send(t, srv, "/pieces/1/went-on", url.Values{"at": {"prove"}})
	send(t, srv, "/pieces/1/went-on", url.Values{"at": {"draw"}}) // back there, and on again: what was done stays done
	if got := done(); !slices.Equal(got, []string{"Draw", "Place", "Prove"}) {
		t.Errorf("gone on from Prove, ticked is %v", got)
	}
	p, _ := st.Piece(t.Context(), id)
	if err := st.Edit(t.Context(), id, edit.Edit{Kind: edit.Draws, On: p.Rev, Changes: []edit.Change{{Op: edit.Replace,
		Path: "/charts/c/rows/0", Value: "#+.#"}}}); err != nil {
		t.Fatal(err)
	}
	if got := done(); !slices.Equal(got, []string{"Draw", "Place"}) {
		t.Errorf("a row has three colours, ticked is %v", got)
	}
}
