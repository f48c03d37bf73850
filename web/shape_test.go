package web_test

import (
	"fmt"
	"html"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/store"
	"vindel/web"
)

// knitter does what the page says, and nothing else: she knows which needles are at work, in hold, and waiting.
type knitter struct {
	t           *testing.T
	bed         machine.Bed
	work, waits machine.Set
	rows        map[string]machine.Set // by row and part as the page names them: needles at work
}

var (
	stepText = regexp.MustCompile(`(?s)<ol class="band-steps[^"]*">(.*?)</ol>`)
	oneStep  = regexp.MustCompile(`(?s)<li>(.*?)</li>`)
	tags     = regexp.MustCompile(`<[^>]*>`)
	rowText  = regexp.MustCompile(`<b>(row \d+ of \d+(?:, (?:first|second) part)?), to the (left|right)</b>`)
	seeText  = regexp.MustCompile(`(?:all )?<b>(?:all )?(\d+) needles? (forward|at rest)(?:, (\d+) at rest)?`)
)

func (k *knitter) needles(text string) machine.Set {
	s, err := machine.ParseSet(strings.ReplaceAll(text, " and ", ","), k.bed)
	if err != nil {
		k.t.Fatalf("needles %q: %v", text, err)
	}
	return s
}

// obey does one hand step; what does not move a needle is passed over.
func (k *knitter) obey(text string) {
	for _, c := range []struct {
		pattern string
		do      func(on machine.Set)
	}{
		{`^Cast on \d+ stitch(?:es)?, ([^,]+), in `, func(on machine.Set) { k.work = on }},
		{`^Cast on \d+ stitch(?:es)? by hand at the edge, in .*: (.*)$`,
			func(on machine.Set) { k.work = k.work.Or(on) }},
		{`^Bring (.*) into work, at rest$`, func(on machine.Set) { k.work = k.work.Or(on) }},
		{`^Move the stitch of (.*) onto its neighbour`, func(on machine.Set) { k.work = k.work.Minus(on) }},
		{`in by one, and put (.*) out of work$`, func(on machine.Set) { k.work = k.work.Minus(on) }},
		{`^Bind off \d+ stitch(?:es)? with the latch tool, in .*: (.*)$`,
			func(on machine.Set) { k.work = k.work.Minus(on) }},
		{`^Put (.*) in full hold: they wait`, func(on machine.Set) { k.waits, k.work = on, k.work.Minus(on) }},
		{`in the middle: (.*)$`, func(on machine.Set) { k.waits = k.waits.Minus(on) }},
		{`^Bring back what waits, (.*): at rest$`, func(on machine.Set) { k.work, k.waits = on, k.waits.Minus(on) }},
	} {
		if m := regexp.MustCompile(c.pattern).FindStringSubmatch(text); m != nil {
			c.do(k.needles(m[1]))
			return
		}
	}
	if regexp.MustCompile(`^Bind off \d+ stitch(?:es)?$`).MatchString(text) {
		k.work = machine.Set{}
	}
}

// row does what a page says before its pass, looks whether the needles stand as it says, and knits.
func (k *knitter) row(page string) {
	if m := stepText.FindStringSubmatch(page); m != nil {
		for _, li := range oneStep.FindAllStringSubmatch(m[1], -1) {
			text := regexp.MustCompile(`(?s)<details.*?</details>`).ReplaceAllString(li[1], "")
			k.obey(strings.TrimSpace(html.UnescapeString(tags.ReplaceAllString(text, ""))))
		}
	}
	row := rowText.FindStringSubmatch(page)
	if row == nil {
		return // a free or a selecting pass
	}
	if m := seeText.FindStringSubmatch(page); m != nil {
		var a, b int
		fmt.Sscan(m[1], &a)
		fmt.Sscan(m[3], &b)
		if a+b != k.work.Len() {
			k.t.Fatalf("%s: the page sees %d needles, the hands have %d: %v", row[1], a+b, k.work.Len(), k.work)
		}
	} else {
		k.t.Fatalf("%s: the page does not say what is to be seen", row[1])
	}
	k.rows[row[1]] = k.work
}

// TestShapedPieceKnitted: a two-colour piece is begun empty, gets its shape from measures with a neck that divides
// it, is proven, and is knitted to its end by hands that do what the page says and nothing else: in every row of
// either part the needles are those of the shape.
func TestShapedPieceKnitted(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	begin(t, srv, "card-preselect", "two-colour", 8, 6, 5)
	at := "/pieces/1"
	chart := pieceOf(t, srv, 1).Sections[0].Areas[0].Chart.Name
	for i, line := range []string{"##......", ".##.....", "..##..#.", "#..##..#", "##..##..", ".##..##."} {
		send(t, srv, at+"/field", url.Values{"path": {fmt.Sprintf("/charts/%s/rows/%d", chart, i)}, "kind": {""},
			"value": {line}})
	}
	for path, value := range map[string]string{"/gauge/stitches": "28", "/gauge/rows": "38"} {
		send(t, srv, at+"/field", url.Values{"path": {path}, "kind": {"measure"}, "value": {value}})
	}
	send(t, srv, at+"/shape", url.Values{"do": {"begin"}, "shape": {"neckline"}, "m0": {"150"}, "m1": {"120"},
		"m2": {"130"}, "m3": {"50"}, "m4": {"45"}})
	p := pieceOf(t, srv, 1)
	if p.Shape == nil || p.Shape.Split == nil {
		t.Fatalf("no shape, or no split: %+v", p.Shape)
	}
	if page := get(t, srv.URL+at+"/prove"); !strings.Contains(page, "The fabric comes out as drawn") ||
		!strings.Contains(page, "Middle, bound off") {
		t.Fatalf("it is not proven, or its edges are not told")
	}
	k := &knitter{t: t, bed: p.Machine.Bed, rows: map[string]machine.Set{}}
	page := get(t, srv.URL+at+"/knit")
	waited := false
	for done := 0; !strings.Contains(page, "Knitted to the last pass"); done++ {
		if done > 400 {
			t.Fatal("400 passes and not at the end")
		}
		k.row(page)
		waited = waited || strings.Contains(page, "first part;") && strings.Contains(page,
			"wait in full hold for the second")
		page = send(t, srv, at+"/knit", url.Values{"do": {"knitted"}, "from": {fmt.Sprint(done)}})
	}
	if !waited {
		t.Error("the page did not say which half waits, and how")
	}
	pl := plan.Make(p)
	seen := 0
	for no := range pl.Parts {
		for part := piece.Whole; part <= piece.SecondPart; part++ {
			v := pl.Parts[no][part]
			for r := 1; v != nil && r <= v.Rows; r++ {
				st := v.Stood(r)
				if st == nil {
					continue
				}
				name := fmt.Sprintf("row %d of %d", r, v.Rows)
				if part != piece.Whole {
					name += ", " + part.String() + " part"
				}
				if seen++; k.rows[name] != st.Work {
					t.Errorf("%s: the hands had %v at work, the shape %v", name, k.rows[name], st.Work)
				}
			}
		}
	}
	if seen != len(k.rows) || seen < 60 {
		t.Errorf("%d rows knitted, %d in the shape", len(k.rows), seen)
	}
}

// TestShapeOnPlace: a corner is dragged and moved by keys, with its mirror; its measures are typed; rows that are
// knitted stay as they were; sizes stand side by side and are taken.
func TestShapeOnPlace(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	const id = 21
	b := newTab(t, 1280, 1400)
	b.do(chromedp.Navigate(fmt.Sprintf("%s/pieces/%d/place", srv.URL, id)),
		chromedp.WaitVisible(chromedp.CSS("#shape-drawing")))
	corner := func(side string, no int) string {
		return fmt.Sprintf(`.corner[data-side="%s"][data-corner="%d"]`, side, no)
	}
	before := ask[float64](b, `Number(document.querySelector('`+corner("right", 4)+`').dataset.x)`)
	b.do(chromedp.Focus(chromedp.CSS(corner("right", 4))))
	b.key(kb.ArrowRight)
	b.until(fmt.Sprintf(`Number(document.querySelector('%s').dataset.x) === %g`, corner("right", 4), before+1))
	b.until(`document.activeElement?.dataset?.corner === "4"`)
	if left := ask[float64](b, `Number(document.querySelector('`+corner("left", 4)+`').dataset.x)`); left != -before-1 {
		t.Errorf("its mirror stands at %g mm, not at %g", left, -before-1)
	}
	box := ask[[]float64](b, `(() => { const c = document.querySelector('`+corner("right",
		5)+` .corner-dot'); c.scrollIntoView({block: "center"}); const r = c.getBoundingClientRect(); return [r.x + `+
		`r.width / 2, r.y + r.height / 2]; })()`)
	b.do(chromedp.DragAndDropXY(box[0], box[1], box[0]+24, box[1]))
	b.until(`Number(document.querySelector('` + corner("right", 5) + `').dataset.x) > 45`)
	p := pieceOf(t, srv, id)
	if p.Shape.Outline == nil || !p.Shape.Outline.Symmetric() {
		t.Fatal("the piece has no outline whose edges are alike")
	}

	// 50 passes are knitted: whatever becomes of the outline, their rows keep their steps.
	pl := plan.Make(p)
	if _, err := st.Write(t.Context(), id, 0, store.Entry{Kind: "knitted", Done: 30,
		Pass: pl.Passes[29].ID}); err != nil {
		reached, _ := st.Reached(t.Context(), id)
		if _, err := st.Write(t.Context(), id, reached.ID, store.Entry{Kind: "knitted", Done: 30,
			Pass: pl.Passes[29].ID}); err != nil {
			t.Fatal(err)
		}
	}
	steps := func(p *piece.Piece, to int) (list []string) {
		for _, s := range p.Shape.Steps {
			if s.Row <= to {
				list = append(list, fmt.Sprint(s.Row, s.Side, s.Stitches))
			}
		}
		return list
	}
	was := steps(p, 27)
	send(t, srv, fmt.Sprintf("/pieces/%d/shape", id), url.Values{"do": {"corner"}, "side": {"right"},
		"corner": {"3"}, "x": {"75"}, "y": {"70"}, "alike": {"1"}})
	p = pieceOf(t, srv, id)
	if now := steps(p, 27); fmt.Sprint(now) != fmt.Sprint(was) || p.Shape.Kept == nil {
		t.Errorf("the steps of knitted rows were %v and are %v", was, now)
	}
	if !strings.Contains(get(t, fmt.Sprintf("%s/pieces/%d/place", srv.URL, id)), "no longer") {
		t.Error("it is not said what no longer fits")
	}
	send(t, srv, fmt.Sprintf("/pieces/%d/field", id), url.Values{"path": {"/swatch/stitches"}, "kind": {"number"},
		"value": {"36"}})
	if now := steps(pieceOf(t, srv, id), 27); fmt.Sprint(now) != fmt.Sprint(was) {
		t.Errorf("with another swatch the steps of knitted rows are %v, and were %v", now, was)
	}

	// sizes
	at := "/pieces/1/shape"
	send(t, srv, at, url.Values{"do": {"begin"}, "shape": {"trapezium"}, "m0": {"200"}, "m1": {"120"}, "m2": {"180"}})
	small := pieceOf(t, srv, 1)
	send(t, srv, at, url.Values{"do": {"scale"}, "name": {"large"}, "wide": {"120"}, "tall": {"110"}})
	page := get(t, srv.URL+"/pieces/1/place")
	if !strings.Contains(page, ">large<") || !strings.Contains(page, "At hand") {
		t.Error("the sizes do not stand side by side")
	}
	send(t, srv, at, url.Values{"do": {"take"}, "size": {"1"}})
	if large := pieceOf(t, srv, 1); large.Work().Len() <= small.Work().Len() || large.Shape.Outline.Left[1][1] != 198 {
		t.Errorf("large: %d stitches cast on, small %d", large.Work().Len(), small.Work().Len())
	}
}

// TestSecondPartTicked: what is done before a second part is ticked one by one, by the space bar too, and a page
// that is loaded again in the middle knows how far it was.
func TestSecondPartTicked(t *testing.T) {
	t.Parallel()
	srv, st := site(t, true, web.Options{})
	const id = 22
	p := pieceOf(t, srv, id)
	pl := plan.Make(p)
	anew := slices.IndexFunc(pl.Passes, func(q pass.Pass) bool { return q.ID.Part == "second" })
	reached, _ := st.Reached(t.Context(), id)
	if _, err := st.Write(t.Context(), id, reached.ID, store.Entry{Kind: "knitted", Done: anew}); err != nil {
		t.Fatal(err)
	}
	b := newTab(t, 1366, 650)
	at := fmt.Sprintf("%s/pieces/%d/knit", srv.URL, id)
	done := `Number(document.getElementById("knit").dataset.done)`
	for loaded := range 2 {
		b.do(chromedp.Navigate(at))
		b.until(`document.querySelectorAll('.tick[aria-pressed="true"]').length === ` + strconv.Itoa(4*loaded) +
			` && document.querySelector(".tick.is-next")`)
		for i := range 4 {
			b.space()
			b.until(`document.querySelectorAll('.tick[aria-pressed="true"]').length === ` + strconv.Itoa(4*loaded+i+1))
		}
	}
	if n := ask[int](b, done); n != anew {
		t.Errorf("ticking took %d passes", n-anew)
	}
	for range ask[int](b, `document.querySelectorAll('.tick[aria-pressed="false"]').length`) {
		if !ask[bool](b, `(() => { const r = document.querySelector(".tick.is-next").getBoundingClientRect(); const `+
			`k = document.querySelector(".knit-foot").getBoundingClientRect(); return r.bottom <= k.top + 3; })()`) {
			t.Error("what comes next is out of sight")
		}
		b.space()
	}
	b.space()
	b.until(done + ` === ` + strconv.Itoa(anew+1) + ` && !document.querySelector(".tick")`)
}

// TestProjects: pieces are put together, one is mirrored, edges meet, yarn is added up, the swatch is shared; what
// is done to a project is undone.
func TestProjects(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	get(t, srv.URL+"/") // what the shelf says of each is stored from now on
	send(t, srv, "/projects", url.Values{"name": {"A pair"}})
	do := func(form ...string) string {
		v := url.Values{}
		for i := 0; i < len(form); i += 2 {
			v.Set(form[i], form[i+1])
		}
		return send(t, srv, "/projects/2", v)
	}
	do("do", "add", "piece", "21")
	page := do("do", "mirror", "piece", "21")
	if !strings.Contains(page, "the mirror image of Mitten back, falling feathers") {
		t.Fatal("there is no mirror image")
	}
	one, other := pieceOf(t, srv, 21), pieceOf(t, srv, 26)
	if other.Name != one.Name+", mirrored" || other.From != -1-one.To ||
		other.Sections[1].Areas[0].Transform[0] != "mirror" {
		t.Errorf("the mirror image: %s from %v", other.Name, other.From)
	}
	do("do", "seam", "a", "21/left", "b", "26/right", "how", "sewn")
	page = do("do", "seam", "a", "21/top", "b", "26/cast-on", "how", "joined")
	for _, want := range []string{"213 mm, 68 rows", "sewn together",
		"12 stitches meet 30: two go together 18 times", "2496"} {
		if !strings.Contains(page, want) {
			t.Errorf("the project does not say %q", want)
		}
	}
	if strings.Contains(page, "Untitled") {
		t.Error("a piece has lost its name")
	}
	if page = do("do", "undo"); strings.Contains(page, "two go together") || !strings.Contains(page, "sewn together") {
		t.Error("the last seam is not undone")
	}
	do("do", "add", "piece", "1")
	do("do", "swatch", "piece", "21")
	if g := pieceOf(t, srv, 1).Gauge; g != one.Gauge {
		t.Errorf("the swatch of all is %v, not %v", g, one.Gauge)
	}
	send(t, srv, "/projects/2/away", url.Values{})
	if page := get(t, srv.URL+"/projects"); strings.Contains(page, ">A pair<") {
		t.Error("it is put away and still there")
	}
	send(t, srv, "/projects/2/away", url.Values{"away": {"no"}})
	if page := get(t, srv.URL+"/projects"); !strings.Contains(page, ">A pair<") {
		t.Error("it does not come back")
	}
}

// TestMarkByHand: a place is marked beside the machine, and found again from anywhere.
func TestMarkByHand(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, true, web.Options{})
	at := "/pieces/21/knit"
	page := send(t, srv, at, url.Values{"do": {"mark"}, "from": {"50"}})
	if !strings.Contains(page, "Mark: before pass 51, row 35 of back of the hand, counter 48, card number 35, the "+
		"carriage on the right") {
		t.Error("the mark is not on the page")
	}
	page = send(t, srv, at, url.Values{"do": {"knitted"}, "from": {"50"}, "to": {"60"}})
	if !strings.Contains(page, "/knit/find?to=51") {
		t.Error("it is not found from further on")
	}
	if found := get(t, srv.URL+at+"/find?to=51"); !strings.Contains(found, "Go to pass 51") ||
		!strings.Contains(found, "Card: number 35 in the window") {
		t.Errorf("what stands there: %s", found)
	}
}

// TestSwatchRefits: a swatch that is counted anew gives a shaped piece another cast-on and other rows at once, the page
// says what came of it, and one undo brings the same bytes back; what is knitted already keeps its cast-on.
func TestSwatchRefits(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	begin(t, srv, "card-preselect", "two-colour", 8, 6, 5)
	at := "/pieces/1"
	doc := func() string {
		t.Helper()
		p, err := st.Piece(t.Context(), 1)
		if err != nil {
			t.Fatal(err)
		}
		return string(p.Doc)
	}
	set := func(path, value string) {
		send(t, srv, at+"/field", url.Values{"path": {path}, "kind": {"measure"}, "value": {value}})
	}
	set("/gauge/stitches", "28")
	set("/gauge/rows", "38")
	send(t, srv, at+"/shape", url.Values{"do": {"begin"}, "shape": {"trapezium"}, "m0": {"150"}, "m1": {"200"}, "m2": {"130"}})
	before := doc()
	if p := pieceOf(t, srv, 1); p.Work().Len() != 42 || p.Ever().Len() != 56 {
		t.Fatalf("%d stitches cast on, %d at the widest", p.Work().Len(), p.Ever().Len())
	}
	send(t, srv, at+"/versions", url.Values{"name": {"before"}})
	set("/gauge/stitches", "30.4")
	p := pieceOf(t, srv, 1)
	if p.Work().Len() != 46 || p.Ever().Len() != 60 {
		t.Errorf("by the new swatch %d stitches cast on, %d at the widest", p.Work().Len(), p.Ever().Len())
	}
	if page := get(t, srv.URL+at+"/prepare"); !strings.Contains(page, "46 for 42 stitches") {
		t.Error("the page does not say what came of it")
	}
	send(t, srv, at+"/undo", nil)
	if doc() != before {
		t.Error("undone, it is not as it was")
	}
	send(t, srv, at+"/field", url.Values{"path": {"/needles/to"}, "kind": {"text"}, "value": {"R23"}})
	send(t, srv, at+"/versions", url.Values{"name": {"two stitches more, by hand"}})
	set("/gauge/stitches", "30.4")
	send(t, srv, at+"/versions/back", url.Values{"version": {"2"}})
	if p := pieceOf(t, srv, 1); p.To != machine.R(23) || p.Gauge.Stitches != 28 {
		t.Errorf("brought back it ends at %v, at %g stitches in 10 cm", p.To, p.Gauge.Stitches)
	}
	for range 3 {
		send(t, srv, at+"/undo", nil)
	}
	send(t, srv, at+"/knit", url.Values{"from": {"0"}, "do": {"knitted"}, "to": {"6"}})
	set("/gauge/stitches", "30.4")
	if p := pieceOf(t, srv, 1); p.Work().Len() != 42 || p.Ever().Len() != 60 {
		t.Errorf("with rows knitted: %d stitches cast on, %d at the widest", p.Work().Len(), p.Ever().Len())
	}
}

// TestMachineRefits: without a swatch another machine is another usual gauge: the outline gives its cast-on, which is
// said beside what the machine changes.
func TestMachineRefits(t *testing.T) {
	t.Parallel()
	srv, _ := site(t, false, web.Options{})
	begin(t, srv, "card-preselect", "two-colour", 8, 6, 5)
	at := "/pieces/1"
	send(t, srv, at+"/shape", url.Values{"do": {"begin"}, "shape": {"trapezium"}, "m0": {"150"}, "m1": {"200"}, "m2": {"130"}})
	was := pieceOf(t, srv, 1)
	page := send(t, srv, at+"/machine", url.Values{"machine": {"hand-chunky"}})
	p := pieceOf(t, srv, 1)
	if want := p.Shape.Outline.Width(p.StitchMM()); p.Work().Len() != want || want >= was.Work().Len() {
		t.Errorf("%d stitches cast on, the outline asks for %d", p.Work().Len(), want)
	}
	for _, says := range []string{fmt.Sprintf("%d for %d stitches", p.Work().Len(), was.Work().Len()), "Planned anew"} {
		if !strings.Contains(page, says) {
			t.Errorf("the page does not say %q", says)
		}
	}
}
