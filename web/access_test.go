package web_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"vindel/chance"
	"vindel/web"
)

// everyPage are all kinds of pages of the demo, each technique's Draw, Place and Knit once.
func everyPage() []string {
	list := []string{"/", "/projects", "/projects/1", "/machines", "/yarns", "/swatches", "/memory", "/journal",
		"/backup", "/away", "/words",
		"/machines/1", "/machines/1/face", "/repeats", "/repeats?piece=2", "/pieces/2/sampler", "/pieces/10/ways",
		"/pieces/2/machines", "/pieces/2/compare", "/pieces/3/owned",
		"/pieces/5/laced", "/pieces/7/lines/1", "/nothing-here"}
	ids := []int{2, 15} // by hand, and with a shape; the other techniques in `make soak`
	if chance.Soaks() {
		ids = []int{1, 2, 5, 7, 13, 15, 21}
	}
	for _, id := range ids {
		for _, s := range []string{"draw", "place", "prove", "prepare", "knit"} {
			list = append(list, fmt.Sprintf("/pieces/%d/%s", id, s))
		}
	}
	return append(list, "/pieces/16/recipe", "/pieces/9/knit/lost", "/pieces/9/knit/lost?counter=24",
		"/pieces/9/knit/lost?counter=9999",
		"/pieces/3/knit/wrong?sign=single&first=30&last=30&left=L5&right=L3", "/pieces/3/knit/trainer?n=5",
		"/pieces/5/knit/if?pass=26")
}

// What axe finds, and what it does not look for: one first heading, fields with an edge that
// stands out, and no two buttons of one name that do different things.
const (
	seen = `new Promise((done) => setTimeout(async () => {
		const r = await axe.run(document, %s);
		done(r.violations.map((v) => v.id + ": " + v.nodes.map((n) => n.html.slice(0, 160)).slice(0,
			3).join("  ##  ")));
	}, 30))`
	besides = `(() => {
		const found = [], shown = (e) => e.checkVisibility() && e.getClientRects().length;
		const firsts = [...document.querySelectorAll("h1")].filter(shown).length;
		if (firsts !== 1) found.push(firsts + " first headings");
		for (const e of document.querySelectorAll("[hidden]")) if (shown(e)) found.push("hidden, and shows: " + e.outerHTML.slice(0, 90));
		for (const e of document.querySelectorAll("main, main *")) if (e.scrollHeight > e.clientHeight + 1 && e.tabIndex < 0 &&
			/auto|scroll/.test(getComputedStyle(e).overflowY) && e.id !== "main" && !e.querySelector("a, button, input, textarea, [tabindex='0']"))
			found.push("scrolls, and keys do not reach it: " + e.outerHTML.slice(0, 90));
		const light = (c) => {
			const [r, g, b] = c.match(/[\d.]+/g).map((v) => (v /= 255) <= 0.04045 ? v / 12.92 : ((v +
				0.055) / 1.055) ** 2.4);
			return 0.2126 * r + 0.7152 * g + 0.0722 * b;
		};
		const behind = (e) => { for (; e; e = e.parentElement) { const c = getComputedStyle(e).backgroundColor;
			if (!/, 0\)$/.test(c)) return c; } return "rgb(255,255,255)"; };
		for (const f of document.querySelectorAll("input:not([type=hidden],[type=radio],[type=checkbox],[type=range],[type=color],[type=file]), select, textarea")) {
			if (!shown(f)) continue;
			const [a, b] = [light(getComputedStyle(f).borderBottomColor), light(behind(f.parentElement))].sort((x,
				y) => y - x);
			if ((a + 0.05) / (b + 0.05) < 3 && !found.some((w) => w.startsWith("edge"))) found.push("edge of a field: " + f.outerHTML.slice(0, 100));
		}
		const names = {};
		for (const e of document.querySelectorAll("button, a[href]")) {
			if (!shown(e)) continue;
			const name = (e.getAttribute("aria-label") || e.innerText || e.title).trim();
			const does = e.href || JSON.stringify([e.formAction, e.value, e.form && [...new FormData(e.form)],
				Object.entries(e.dataset).join()]);
			(names[name] ||= new Set()).add(does);
		}
		for (const [name, all] of Object.entries(names)) if (all.size > 1) found.push("one name for " + all.size +
			": " + name);
		return found;
	})()`
	wider = `(() => document.scrollingElement.scrollWidth <= innerWidth &&
		!(document.getElementById("knit")?.scrollWidth > innerWidth) &&
			!(document.querySelector(".band-in")?.scrollWidth > innerWidth) ? [] :
		["wider by " + (document.scrollingElement.scrollWidth - innerWidth) + ": " +
			[...document.querySelectorAll("body *")].filter((e) => e.getBoundingClientRect().right > innerWidth + 1 &&
				e.checkVisibility())
			.filter((e) => { for (let p = e.parentElement; p && p !== document.body;
				p = p.parentElement) if (getComputedStyle(p).overflowX !== "visible") return false; return true; })
			.slice(0, 3).map((e) => e.outerHTML.slice(0, 90)).join("  ##  ")])()`
)

// TestAccess: no page of the demo, in either theme, breaks a rule that can be seen by a machine,
// and none is wider than the screen: a small phone, a phone, two tablets, a desk at 200 %.
func TestAccess(t *testing.T) {
	t.Parallel()
	axe, err := os.ReadFile("testdata/axe.min.js")
	if err != nil {
		t.Fatal(err)
	}
	pages, tabs := everyPage(), 3
	for k := range tabs {
		t.Run(fmt.Sprint("tab ", k+1), func(t *testing.T) {
			t.Parallel()
			var mine []string
			for i := k; i < len(pages); i += tabs {
				mine = append(mine, pages[i])
			}
			accessible(t, string(axe), mine)
		})
	}
}

// accessible looks at some pages, one after another in one tab.
func accessible(t *testing.T, axe string, pages []string) {
	srv, _ := site(t, true, web.Options{})
	b := newTab(t, 1280, 800)
	for at, page := range pages {
		say := func(where string, found []string) {
			if len(found) > 0 {
				t.Errorf("%s, %s:\n  %s", page, where, strings.Join(found, "\n  "))
			}
		}
		b.do(chromedp.EmulateViewport(1280, 800), chromedp.Navigate(srv.URL+page))
		b.until(`document.readyState === "complete"`)
		ask[bool](b, axe+";const still = new CSSStyleSheet(); still.replaceSync('* { transition: none !important "+
			"}'); document.adoptedStyleSheets = [still]; document.documentElement.dataset.theme = 'light';true")
		say("light", wait[[]string](b, fmt.Sprintf(seen, `{resultTypes: ["violations"]}`)))
		say("light", ask[[]string](b, besides))
		if chance.Soaks() || at%2 == 0 { // the dark theme on every second page, in `make soak` on all
			ask[bool](b, `(document.documentElement.dataset.theme = "dark", document.dispatchEvent(new Event("theme")))`)
			say("dark", wait[[]string](b, fmt.Sprintf(seen,
				`{resultTypes: ["violations"], runOnly: ["color-contrast", "link-in-text-block"]}`)))
			say("dark", ask[[]string](b, besides))
		}
		for _, size := range [][2]int64{{320, 640}, {390, 844}, {640, 400}, {768, 1024}, {820, 1180}} {
			b.do(chromedp.EmulateViewport(size[0], size[1]))
			say(fmt.Sprint(size), ask[[]string](b, wider))
		}
	}
}

// wait is what a promise of the page comes to.
func wait[T any](b *tab, js string) T {
	b.t.Helper()
	v, err := chromedp.Run(b.ctx, chromedp.Evaluate[T](js, chromedp.EvalAwaitPromise))
	if err != nil {
		b.t.Fatalf("%s: %v", js, err)
	}
	return v
}
