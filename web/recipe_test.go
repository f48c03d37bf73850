package web_test

import (
	"encoding/json"
	"fmt"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"vindel/knit/recipe"
	"vindel/web"
)

var uptoForm = regexp.MustCompile(`(?s)class="knit-do knit-upto".*?name="to" value="(\d+)"`)

// TestEightRecipes: every shipped recipe is written on the page into an empty piece, line for line, its
// needles, machine, yarns and second bed set by the pages' own fields; it is proven, one of its numbers
// turned and turned back, and it is knitted to the end, by "up to the next event" where there is such.
func TestEightRecipes(t *testing.T) {
	t.Parallel()
	for _, e := range recipe.Examples {
		t.Run(e.Name, func(t *testing.T) {
			t.Parallel()
			knitRecipe(t, e)
		})
	}
}

// knitRecipe writes one of them and knits it to the end.
func knitRecipe(t *testing.T, e recipe.Example) {
	srv, _ := site(t, false, web.Options{})
	var file struct {
		Machine  map[string]any
		Yarns    []map[string]string
		Charts   map[string]map[string]any
		Needles  map[string]string
		Second   map[string]string
		Sections []struct {
			Recipe []string
			Joined *bool
		}
	}
	if err := json.Unmarshal(e.File, &file); err != nil {
		t.Fatal(err)
	}
	send(t, srv, "/pieces", url.Values{"name": {e.Name}, "machine": {file.Machine["profile"].(string)},
		"from": {"recipe"}, "stitches": {"30"}})
	at := "/pieces/1"
	field := func(path, kind, value string) {
		send(t, srv, at+"/field", url.Values{"path": {path}, "kind": {kind}, "value": {value}})
	}
	for key, v := range file.Machine {
		if key != "profile" {
			field("/machine/"+key, "number", fmt.Sprint(v))
		}
	}
	for i, y := range file.Yarns {
		if i > 0 {
			send(t, srv, at+"/section", url.Values{"section": {"1"}, "do": {"yarn"}})
		}
		field(fmt.Sprintf("/yarns/%d/name", i), "", y["name"])
		field(fmt.Sprintf("/yarns/%d/id", i), "", y["id"])
	}
	for _, end := range []string{"from", "to"} {
		field("/needles/"+end, "", file.Needles[end])
		if v := file.Second[end]; v != "" {
			field("/second/"+end, "", v)
		}
	}
	if len(file.Charts) > 0 { // they come with the recipe that follows them
		send(t, srv, at+"/recipe/do", url.Values{"section": {"1"}, "do": {"begin"}, "value": {e.Name}})
	}
	if joined := file.Sections[0].Joined; joined != nil {
		field("/sections/0/joined", "yes", fmt.Sprint(*joined))
	}
	text := strings.Join(file.Sections[0].Recipe, "\n")
	said := send(t, srv, at+"/recipe", url.Values{"section": {"1"}, "text": {text}})
	if !strings.Contains(said, `data-saved="yes" data-faults="0"`) {
		t.Errorf("%s: %s", e.Name, said[:min(len(said), 1500)])
		return
	}
	if m := regexp.MustCompile(`id="param-(\w+)"`).FindStringSubmatch(get(t, srv.URL+at+"/recipe")); m != nil {
		value := regexp.MustCompile(`name="value" value="([\d.]+)"[^>]*id="param-` + m[1]).FindStringSubmatch(get(t,
			srv.URL+at+"/recipe"))[1]
		send(t, srv, at+"/recipe/do", url.Values{"section": {"1"}, "do": {"with"}, "name": {m[1]}, "value": {"4"}})
		send(t, srv, at+"/recipe/do", url.Values{"section": {"1"}, "do": {"with"}, "name": {m[1]}, "value": {value}})
	}
	if said := get(t, srv.URL+at+"/prove"); !strings.Contains(said, "comes out as it is meant") {
		t.Errorf("%s is not proven", e.Name)
	}
	passes, presses, done := 0, 0, 0
	page := get(t, srv.URL+at+"/knit")
	for !strings.Contains(page, "Knitted to the last pass") {
		form := url.Values{"do": {"knitted"}, "from": {fmt.Sprint(done)}}
		if done++; passes == 0 {
			fmt.Sscanf(regexp.MustCompile(`of (\d+)</small>`).FindStringSubmatch(page)[1], "%d", &passes)
		}
		if m := uptoForm.FindStringSubmatch(page); m != nil {
			form.Set("to", m[1])
			fmt.Sscanf(m[1], "%d", &done)
		}
		if presses++; presses > 4000 {
			t.Fatalf("%s: %d presses and not at the end", e.Name, presses)
		}
		page = send(t, srv, at+"/knit", form) // the page with the next pass
	}
	if done != passes || passes == 0 {
		t.Errorf("%s: %d of %d passes in %d presses", e.Name, done, passes, presses)
	}
}

// TestRecipeDesk: what is typed comes back as passes beside its line, or as a fault under its word;
// it is kept over a reload until it can be read; numbers are turned, settings kept side by side and
// used; a recipe goes to the shelf and into another piece.
func TestRecipeDesk(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	send(t, srv, "/pieces", url.Values{"name": {"trial"}, "machine": {"hand-mid"}, "from": {"recipe"},
		"stitches": {"20"}})
	b := newTab(t, 1280, 800)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1"))
	b.until(`document.getElementById("recipe-words")?.dataset.begun`)
	b.key("e")
	b.until(`document.activeElement.id === "recipe-words"`)
	write := func(text string) {
		ask[bool](b, fmt.Sprintf(`(() => { const w = document.getElementById("recipe-words"); w.select(); return `+
			`document.execCommand("insertText", false, %q) })()`, text))
	}
	write("param wide = 3 from 2 to 5 \"stitches\"\nyarn A\nrepeat 4 \"band\"\npass 2: tuck every 6 from 3 take wide " +
		"of inside 1\npass 2\nend\nhold stons")
	b.until(`document.querySelector(".recipe-rail li:nth-child(7).is-fault")?.innerText.includes("stons")`)
	b.until(`document.querySelector("#recipe-under span")?.textContent === "stons"`)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1"))
	b.until(`document.getElementById("recipe-words")?.value.endsWith("hold stons")`)
	b.until(`document.querySelector(".fault-list")?.innerText.includes("line 7, column 6")`)
	// The draft can be thrown away, for good.
	draft, stored := ask[string](b, `document.getElementById("recipe-words").value`), ask[string](b,
		`document.getElementById("recipe-words").defaultValue`)
	b.do(chromedp.Click("#recipe-stored"))
	b.until(`!document.querySelector(".fault-list li")`)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1"))
	b.until(`document.getElementById("recipe-words")?.dataset.begun`)
	if got := ask[string](b, `document.getElementById("recipe-words").value`); got != stored || got == draft {
		t.Errorf("what is stored is %q, and %q stands there", stored, got)
	}
	b.key("e")
	b.until(`document.activeElement.id === "recipe-words"`)
	write(draft)
	b.until(`!!document.getElementById("recipe-stored")`)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1"))
	b.until(`document.getElementById("recipe-words")?.value.endsWith("hold stons")`)
	b.key("e")
	b.until(`document.activeElement.id === "recipe-words"`)
	if got := ask[string](b, `document.getElementById("recipe-words").value`); !strings.HasSuffix(got, "hold stons") ||
		ask[bool](b, `getSelection().toString().length > 0`) {
		t.Errorf("E selects or types: %q", got)
	}
	ask[bool](b, `(() => { const w = document.getElementById("recipe-words"); w.setSelectionRange(w.value.length - `+
		`10, w.value.length); return document.execCommand("insertText", false, "pass 2") })()`)
	b.until(`document.querySelector(".recipe-rail[data-saved]") && document.querySelector(".recipe-rail ` +
		`li:nth-child(4) .rail-pass")?.innerText === "1–2"`)
	if got := text(b, "#bar-sum"); !strings.Contains(got, "18 passes") {
		t.Errorf("the bar says %q", got)
	}
	ask[bool](b, `(() => { const w = document.getElementById("recipe-words"); w.setSelectionRange(90, 90); return `+
		`true })()`)
	b.until(`document.querySelector(".round-step")?.innerText.includes("of 4")`)
	ask[any](b, `document.querySelectorAll(".round-step [data-by]")[1].click()`)
	b.until(`document.querySelector(".recipe-rail li:nth-child(4) .rail-pass")?.innerText === "5–6"`)
	b.do(chromedp.Navigate(srv.URL + "/pieces/1/recipe"))
	b.until(`document.getElementById("param-wide")`)
	for _, wide := range []string{"3", "4"} {
		rev := ask[string](b, `document.getElementById("main").getAttribute("hx-headers")`)
		ask[any](b, fmt.Sprintf(`(() => { const p = document.getElementById("param-wide"); p.value = %q; `+
			`p.dispatchEvent(new Event("change", {bubbles: true})) })()`, wide))
		b.until(fmt.Sprintf(`document.getElementById("main").getAttribute("hx-headers") !== %q && `+
			`document.getElementById("param-wide")?.value === %q`, rev, wide))
		before := ask[int](b, `document.querySelectorAll(".variant").length`)
		ask[any](b, `document.querySelector(".recipe-keep button").click()`)
		b.until(fmt.Sprintf(`document.querySelectorAll(".variant").length === %d`, before+1))
	}
	if got := text(b, ".variant-row"); !strings.Contains(got, "wide 3") || !strings.Contains(got, "wide 4") ||
		strings.Count(got, "18") < 2 {
		t.Errorf("side by side: %q", got)
	}
	ask[any](b, `document.querySelector(".variant [name=do][value=use]").form.requestSubmit()`)
	b.until(`document.getElementById("param-wide")?.value === "3" && ` +
		`document.querySelector(".variant.is-mine")?.innerText.includes("wide 3")`)
	b.key("k")
	b.until(`document.getElementById("keep-dialog")?.open`)
	b.do(chromedp.SetValue(chromedp.CSS(`#keep-dialog [name=value]`), "my bands"))
	ask[any](b, `document.querySelector("#keep-dialog .is-main").click()`)
	b.until(`document.querySelector("#begin-dialog")?.textContent.includes("my bands")`)
	send(t, srv, "/pieces", url.Values{"name": {"another"}, "machine": {"hand-mid"}, "from": {"recipe"},
		"stitches": {"20"}})
	b.do(chromedp.Navigate(srv.URL + "/pieces/2"))
	b.until(`document.getElementById("recipe-words")?.dataset.begun`)
	b.key("b")
	b.until(`document.getElementById("begin-dialog")?.open`)
	ask[any](b, `[...document.querySelectorAll("#begin-dialog li")].find((li) => li.textContent.includes("my `+
		`bands")).querySelector("button").click()`)
	b.until(`document.getElementById("recipe-words")?.value.includes("every 6 from 3 take wide")`)
	b.key(kb.Escape)
}

// TestEndsAndSamplers: how a piece begins is chosen with a picture of each way; a sampler is made of a
// section, measured, and its swatch taken.
func TestEndsAndSamplers(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	begin(t, srv, "card-preselect", "two-colour", 8, 4, 3)
	page := get(t, srv.URL+"/pieces/1/place")
	for _, way := range []string{"begin comb", "begin two-bed", "end latch", "end chain"} {
		which, name, _ := strings.Cut(way, " ")
		if !regexp.MustCompile(`name="way" value="` + name + `"><input type="hidden" name="which" value="` + which +
			`">`).MatchString(page) {
			t.Errorf("the page does not offer %s", way)
		}
	}
	send(t, srv, "/pieces/1/ends", url.Values{"which": {"begin"}, "way": {"waste"}})
	if p := pieceOf(t, srv, 1); p.Begin == nil || p.Begin.Way != "waste" || p.Begin.Yarn == 0 {
		t.Errorf("begin %+v", p.Begin)
	}
	send(t, srv, "/pieces/1/field", url.Values{"path": {"/begin/rows"}, "kind": {"number"}, "value": {"10"}})
	if page = get(t, srv.URL+"/pieces/1/place"); !strings.Contains(page,
		"11 passes, then the carriage is on the left") {
		t.Errorf("ten rows of waste and a cord are not said to be 11 passes")
	}
	page = send(t, srv, "/pieces/1/sampler", url.Values{"section": {"1"}, "sizes": {"5, 6.5, 8"}, "marker": {"B"}})
	if strings.Count(page, `aria-label="stitches"`) != 3 || !strings.Contains(page, "size 6.5") {
		t.Fatalf("the sampler's page: %s", page[:min(len(page), 3000)])
	}
	for key, v := range map[string]string{"stitches": "40", "width_mm": "145", "rows": "60", "height_mm": "152",
		"grams": "12,4"} {
		send(t, srv, "/pieces/2/field", url.Values{"path": {"/sections/2/swatch/" + key}, "kind": {"measure"},
			"value": {v}})
	}
	if page = get(t, srv.URL+"/pieces/2/sampler"); !strings.Contains(page, "27.6 st × 39.5 rows") ||
		!strings.Contains(page, "5.17 g") {
		t.Errorf("what was measured is not said")
	}
	send(t, srv, "/pieces/2/sampler/take", url.Values{"section": {"3"}})
	if p := pieceOf(t, srv, 1); p.Gauge.Stitches < 27.5 || p.Gauge.Stitches > 27.6 || p.Sections[0].Size != "6.5" {
		t.Errorf("the piece has gauge %v and size %q", p.Gauge, p.Sections[0].Size)
	}
}
