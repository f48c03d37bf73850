package web_test

import (
	"fmt"
	"html"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/piecetest"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
	"vindel/web"
)

// told is what the page beside the machine says before one pass, as text.
type told struct {
	steps, lays []string
	row, turn   string
	right       bool // the arrow's way
	counter     int
}

var (
	stepAt  = regexp.MustCompile(`(?s)<ol class="band-steps[^"]*">(.*?)</ol>`)
	layAt   = regexp.MustCompile(`(?s)<ol class="band-lays"[^>]*>(.*?)</ol>`)
	item    = regexp.MustCompile(`(?s)<li>(.*?)</li>`)
	rowAt   = regexp.MustCompile(`(?s)<div class="band-row">(.*?)</div>`)
	bold    = regexp.MustCompile(`(?s)<b[^>]*>(.*?)</b>`)
	arrow   = regexp.MustCompile(`class="band-arrow"[^>]*aria-label="to the (left|right)"`)
	reading = regexp.MustCompile(`id="counter">(\d+)<`)
	tag     = regexp.MustCompile(`<[^>]*>`)
	space   = regexp.MustCompile(`\s+`)
)

func plainText(s string) string {
	return strings.TrimSpace(space.ReplaceAllString(html.UnescapeString(tag.ReplaceAllString(s, " ")), " "))
}

func items(list *regexp.Regexp, page string) (texts []string) {
	if m := list.FindStringSubmatch(page); m != nil {
		for _, li := range item.FindAllStringSubmatch(m[1], -1) {
			texts = append(texts, plainText(li[1]))
		}
	}
	return texts
}

func readPage(t *testing.T, page string) (s told) {
	t.Helper()
	s.steps, s.lays = items(stepAt, page), items(layAt, page)
	for _, b := range bold.FindAllStringSubmatch(rowAt.FindStringSubmatch(page)[1], -1) {
		if text := plainText(b[1]); strings.HasSuffix(text, " carriage") {
			s.turn = strings.TrimSuffix(text, " carriage")
		} else {
			s.row = text
		}
	}
	way := arrow.FindStringSubmatch(page)
	if way == nil {
		t.Fatalf("no arrow: %s", page)
	}
	s.right = way[1] == "right"
	s.counter, _ = strconv.Atoi(reading.FindStringSubmatch(page)[1])
	return s
}

// hands do what they are told, and know nothing else: how levers and feeders stand follows
// from the words alone.
type hands struct {
	t    *testing.T
	p    *piece.Piece
	cams [2]machine.Setting // knit carriage, by way
	lace machine.Setting
	fed  [2]piece.YarnNo

	begun map[piece.YarnNo]bool // yarns of which an end has been threaded
}

func (h *hands) yarn(name string) piece.YarnNo {
	for i, y := range h.p.Yarns {
		if y.Name == name {
			return piece.YarnNo(i + 1)
		}
	}
	h.t.Fatalf("no yarn is called %q", name)
	return 0
}

var (
	everyNth = regexp.MustCompile(`every (\d+)\w\w needle from (\S+) to (\S+) \(\d+\)`)
	nOfEvery = regexp.MustCompile(`(\d+) of every (\d+) needles from (\S+) to (\S+) \(\d+\)`)
	labels   = regexp.MustCompile(`[LR]\d+[LR\d,-]*`)
)

// needles reads a set as it is said.
func (h *hands) needles(text string) (set machine.Set) {
	every := func(size, period int, from, to string) {
		a, _ := machine.ParseNeedle(from)
		z, _ := machine.ParseNeedle(to)
		for n := a; n <= z; n += machine.Needle(period) {
			set = set.Or(machine.Range(n, n+machine.Needle(size-1)))
		}
	}
	if _, all, ok := strings.Cut(text, " labels "); ok {
		text = all
	}
	if m := everyNth.FindStringSubmatch(text); m != nil {
		period, _ := strconv.Atoi(m[1])
		every(1, period, m[2], m[3])
		return set
	}
	if m := nOfEvery.FindStringSubmatch(text); m != nil {
		size, _ := strconv.Atoi(m[1])
		period, _ := strconv.Atoi(m[2])
		every(size, period, m[3], m[4])
		return set
	}
	set, err := machine.ParseSet(strings.TrimRight(labels.FindString(text), ",-"), h.p.Machine.Bed)
	if err != nil || set.Empty() {
		h.t.Fatalf("no needles in %q: %v", text, err)
	}
	return set
}

var settings = []machine.Setting{machine.Plain, machine.TwoColour, machine.Outward, machine.Back, machine.Free,
	machine.Slipping, machine.TuckRest, machine.TuckForward, machine.LaidYarns, machine.Transfer,
	machine.FineTransfer, machine.SecondEvery, machine.SecondTurns, machine.SecondStripes}

// set is a step that sets a carriage: what its words name, and no more.
func (h *hands) set(text string) step.Cams {
	st := step.Cams{Lever: step.Whole}
	if whose, _, _ := strings.Cut(text, ":"); strings.Contains(whose, " for the way ") {
		st.Way = side(whose)
	}
	switch {
	case strings.HasSuffix(text, ": holding on (needles in full hold wait)"):
		st.Setting, st.Lever = machine.Holding, step.Holding
		return st
	case strings.HasSuffix(text, ": holding off (needles in full hold knit with the rest)"):
		st.Setting, st.Lever = machine.Plain, step.Holding
		return st
	case strings.HasSuffix(text, ": plain with holding on (needles in full hold wait, all others knit)"):
		st.Setting = machine.Holding
		return st
	}
	for _, s := range settings {
		if strings.Contains(text, "("+machine.Meaning(s.Key)+")") {
			if st.Setting = s; !s.Whole() && !s.Moves {
				st.Lever = step.Pattern
			}
			return st
		}
	}
	h.t.Fatalf("no lever stands for %q", text)
	return st
}

func side(text string) machine.Side {
	if strings.Contains(text, "left") {
		return machine.Left
	}
	return machine.Right
}

// do is a told step as the simulated bed takes it, after it has been done.
func (h *hands) do(text string) []pass.Step {
	after := func(prefix string) string { return strings.TrimPrefix(text, prefix) }
	num := func(re string) int {
		m := regexp.MustCompile(re).FindStringSubmatch(text)
		if m == nil {
			return 0
		}
		n, _ := strconv.Atoi(m[1])
		return n
	}
	starts := func(prefix string) bool { return strings.HasPrefix(text, prefix) }
	feeder := max(num(`feeder (\d)`), 1)
	across := func(bed machine.BedNo) []pass.Step {
		return pass.Steps(step.Across{At: step.On(bed, h.needles(text[strings.Index(text, ": "):])), Tool: 1})
	}
	switch {
	case starts("Put the guide of "), starts("Take the guide of "): // a part that lies where it is told
	case starts("Cast on ") && strings.Contains(text, " of the second bed"):
		name, _, _ := strings.Cut(text[strings.Index(text, ", in ")+5:], " labels ")
		return pass.Steps(step.CastOn{At: step.On(machine.Second, h.needles(text)), Yarn: h.yarn(name)})
	case starts("Set the second bed: "):
		return pass.Steps(h.set(text))
	case starts("Move the handle of the second bed to "):
		return pass.Steps(step.Rack{To: num(`to (\d+)`), Pitch: h.p.Second.Pitch})
	case starts("Move ") && strings.Contains(text, " of the second bed across"):
		return across(machine.Second)
	case starts("Move ") && strings.Contains(text, " of the main bed across"):
		return across(machine.Main)
	case starts("Cast on "):
		name := text[strings.Index(text, ", in ")+5 : strings.Index(text, "; hang")]
		return pass.Steps(step.CastOn{At: step.Main(h.needles(text)), Yarn: h.yarn(name)})
	case starts("Thread "):
		name, fresh := strings.CutPrefix(after("Thread "), "a new end of ")
		name, _, _ = strings.Cut(name, " in feeder")
		y := h.yarn(name)
		fresh = fresh || !h.begun[y]
		h.fed[feeder-1], h.begun[y] = y, true
		return pass.Steps(step.Thread{Feeder: feeder, Yarn: y, New: fresh})
	case starts("Put ") && strings.Contains(text, " back in "):
		name, _, _ := strings.Cut(after("Put "), ", which was bobbin")
		h.fed[feeder-1] = h.yarn(name)
		return pass.Steps(step.Thread{Feeder: feeder, Yarn: h.yarn(name), Bobbin: "was"})
	case starts("Take ") && strings.Contains(text, " out"):
		name, how, _ := strings.Cut(after("Take "), " out")
		bobbin := ""
		if strings.Contains(text, "it is bobbin") {
			bobbin = "is"
		}
		h.fed[feeder-1] = 0
		st := step.Unthread{Feeder: feeder, Yarn: h.yarn(name), Bobbin: bobbin, Cut: strings.HasSuffix(how, "cut it")}
		if strings.Contains(how, "hanging on the") {
			st.Left = side(how)
		}
		return pass.Steps(st)
	case starts("Cut bobbin "), starts("Cut the laid "): // in no feeder
	case starts("Cut "):
		name, _, _ := strings.Cut(after("Cut "), ", which hangs")
		return pass.Steps(step.Cut{Yarn: h.yarn(name), Hangs: side(text)})
	case starts("Set the lace carriage: "):
		h.lace = h.set(text).Setting
		return pass.Steps(h.set(text))
	case starts("Set the cams: "), starts("Set the cams for the way "):
		st := h.set(text)
		for w := range h.cams {
			if st.Sets(machine.KnitCarriage, machine.Left+machine.Side(w), step.Pattern) {
				h.cams[w] = st.Setting
			}
		}
		return pass.Steps(st)
	case starts("Bring the "):
		carriage := map[string]machine.Carriage{"knit": machine.KnitCarriage,
			"lace": machine.LaceCarriage}[strings.Fields(text)[2]]
		return pass.Steps(step.Attach{Carriage: carriage, From: side(text), Had: carriage})
	case starts("Park the "), starts("Lift the "):
		carriage := map[string]machine.Carriage{"knit": machine.KnitCarriage,
			"lace": machine.LaceCarriage}[strings.Fields(text)[2]]
		return pass.Steps(step.Remove{Carriage: carriage, Parked: side(text)})
	case starts("Bring ") && strings.Contains(text, " of the second bed into work, empty"):
		return pass.Steps(step.Enter{At: step.On(machine.Second, h.needles(text))})
	case starts("Bring "):
		return pass.Steps(step.BringForward{At: step.Main(h.needles(text))})
	case starts("Put ") && strings.HasSuffix(text, " in full hold"):
		return pass.Steps(step.ToHold{At: step.Main(h.needles(text))})
	case starts("Turn the console's "):
		name, _, _ := strings.Cut(after("Turn the console's "), " switch")
		return pass.Steps(step.Console{Switch: name, Area: num(`for area (\d+)`), On: strings.Contains(text, " switch on")})
	case starts("Push "):
		return pass.Steps(step.PushBack{At: step.Main(h.needles(text))})
	case starts("Put ") && strings.Contains(text, " out of work"):
		bed := machine.Main
		if strings.Contains(text, " of the second bed") {
			bed = machine.Second
		}
		return pass.Steps(step.ToOut{At: step.On(bed, h.needles(text))})
	case starts("Put ") && strings.HasSuffix(text, " at rest"):
		return pass.Steps(step.ToWork{At: step.Main(h.needles(text))})
	case starts("Put in the card of section "), starts("Set the program of section "):
		return pass.Steps(step.SetCard{Section: num(`section (\d+)`), Line: num(`line (\d+)`)})
	case starts("Set the card back to line "):
		return pass.Steps(step.SetCard{Line: num(`line (\d+)`)})
	case starts("Sweep the reader across"):
		return pass.Steps(step.Sweep{Line: num(`line (\d+)`)})
	case starts("Turn the selecting "):
		return pass.Steps(step.Switch{Control: step.Selecting, On: strings.HasSuffix(text, " on")})
	case starts("Turn the end-needle switch "):
		return pass.Steps(step.Switch{Control: step.EndNeedles, On: strings.Contains(text, "switch on")})
	case starts("Stitch size "), starts("Second bed: stitch size "), starts("Set the two beds to "),
		starts("Set the row counter "), starts("Move the weights up"), starts("Lock the card"),
		starts("Release the card"), starts("Lay a lifeline"), starts("Anchor the end"), starts("Lay the yarns"),
		starts("From here on pick up"):
	default:
		h.t.Fatalf("no hand understands %q", text)
	}
	return nil
}

var laid = regexp.MustCompile(`^\d+ ([^,]+) ([A-Z]\d+)(?:, from beneath \S+)?, (\S+) to (\S+)$`)

// knitted is a pass as it is knitted by the words: its bookkeeping (which row it is to be, and
// what the card reads) stays, all that hands decide comes from what was told.
func (h *hands) knitted(asked pass.Pass, s told) pass.Pass {
	p := asked
	p.Before, p.Lays, p.Carriage = nil, nil, machine.KnitCarriage
	for _, text := range s.steps {
		p.Before = append(p.Before, h.do(text)...)
	}
	if p.Dir = machine.Left; s.right {
		p.Dir = machine.Right
	}
	half := p.Main()
	half.ByHand, half.PushedBack = machine.Set{}, machine.Set{}
	for _, st := range p.Before {
		switch st.Do() {
		case step.DoBringForward:
			half.ByHand = half.ByHand.Or(st.Needles())
		case step.DoToWork:
			if st.Bed() == machine.Main {
				half.PushedBack = half.PushedBack.Or(st.Needles())
			}
		}
	}
	if half.Setting = h.cams[p.Dir-machine.Left]; s.turn == "lace" {
		p.Carriage, half.Setting = machine.LaceCarriage, h.lace
	}
	p.Free = strings.HasPrefix(s.row, "free pass") || strings.HasPrefix(s.row, "without yarn") || s.turn == "lace"
	half.Yarns = []piece.YarnNo{h.fed[0], h.fed[1]}
	if p.Free {
		half.Yarns = nil
	}
	for _, text := range s.lays {
		m := laid.FindStringSubmatch(text)
		if m == nil {
			h.t.Fatalf("nobody can lay %q", text)
		}
		a, _ := machine.ParseNeedle(m[3])
		z, _ := machine.ParseNeedle(m[4])
		p.Lays = append(p.Lays, pass.Lay{Bobbin: m[2], Yarn: h.yarn(m[1]), From: min(a, z), To: max(a, z)})
	}
	return p
}

// TestByTheWords: hands that obey the page beside the machine, and nothing else, get the
// fabric; and where they leave out a step that matters, it is found wrong.
func TestByTheWords(t *testing.T) {
	t.Parallel()
	set, area := piecetest.Set, piecetest.Area
	named := []edit.Change{set("/yarns/0/name", "oat"), set("/yarns/1/name", "spruce"), set("/yarns/2/name", "peat"),
		set("/yarns/3/name", "frost"), piecetest.Before(2, "A")}
	marks := func(technique, stitch string) []edit.Change {
		return []edit.Change{set("/charts/c/legend", map[string]any{".": map[string]any{},
			"#": map[string]any{"stitch": stitch}}),
			set("/sections/0/technique", technique)}
	}
	for _, c := range []struct {
		name, machine, from, to string
		rows                    []string
		edits                   []edit.Change
		matter                  []string // beginnings of steps that the fabric hangs on
	}{
		{"two colours by hand", "hand-mid", "L9", "R9", []string{"##..", "....", "#..#", ".##."},
			[]edit.Change{area("first", "L8"), area("from", "L8"), area("to", "R8"), set("/sections/0/rows", 7)},
			[]string{"Thread spruce", "Bring ", "Put L9 in full hold", "Set the cams for the way right"}},
		{"lace from a card", "card-preselect", "L12", "R12", []string{"......", "/o..o\\", "......", ".o\\/o."},
			[]edit.Change{set("/charts/c/legend", map[string]any{}), set("/charts/c/side", "knit"),
				set("/sections/0/technique", "lace"), set("/sections/0/rows", 6)},
			[]string{"Put in the card", "Bring the lace carriage", "Park the knit carriage", "Park the lace carriage"}},
		{"fields laid by hand", "hand-chunky", "L6", "R6", []string{"...##.", "..###.", "..##.."},
			[]edit.Change{set("/sections/0/technique", "intarsia"), set("/sections/0/rows", 5),
				set("/sections/-", map[string]any{"technique": "plain", "rows": 2, "yarn": "A"})},
			[]string{"Set the cams: intarsia", "Put oat, which was", "Set the cams: plain"}},
		{"slipping with the end switch", "card-preselect", "L12", "R12", []string{"#..#.#", ".#.#..", "..#.#."},
			append(marks("slip", "slip"), set("/options", map[string]any{"end_needles": "auto"}),
				set("/sections/0/rows", 9),
				set("/sections/-", map[string]any{"technique": "plain", "rows": 2, "yarn": "A"})),
			[]string{"Put in the card", "Turn the selecting on", "Turn the end-needle switch on",
				"Set the cams: slip"}},
		{"three colours separated over a second bed", "program-preselect", "L6", "R6", []string{"#..+#.", "+##...",
			"..++.#"},
			[]edit.Change{set("/second", map[string]any{"rack": 6}), edit.Put("/sections/0",
				map[string]any{"technique": "separated", "size": "5",
					"backing": "birdseye", "colours": "fewest", "rows": 4,
					"areas": []any{map[string]any{"chart": "c"}}})[0],
				set("/sections/-", map[string]any{"technique": "plain", "rows": 2, "yarn": "A"})},
			[]string{"Bring L6-R5 of the second bed into work, empty", "Set the second bed: every other", "Thread spruce",
				"Move 11 stitches"}},
		{"plated after a rib", "card-preselect", "L6", "R6", []string{"#..##.", ".##..#"},
			[]edit.Change{edit.Put("/sections/0", map[string]any{"technique": "plated", "size": "4.2", "rows": 5,
				"areas": []any{map[string]any{"chart": "c"}}})[0],
				set("/sections/0", map[string]any{"technique": "plain", "rib": "1x1", "rows": 2, "yarn": "A"})},
			[]string{"Put in the card", "Thread spruce", "Turn the selecting on",
				"Bring every 2nd needle"}},
		{"two-bed tucks on the pairs reader", "two-bed-pairs", "L10", "R10", []string{"....", "#...", "....", "..#."},
			append(marks("tuck", "tuck"), set("/sections/0/second", "every"), set("/sections/0/rows", 5)),
			[]string{"Put in the card", "Sweep the reader", "Set the cams: tuck",
				"Bring L10-R9 of the second bed into work, empty"}},
		{"short rows on the pairs reader", "two-bed-pairs", "L10", "R10",
			[]string{"....................", "##################..", "############........", "######.............."},
			append(marks("slip", "slip"), set("/sections/0/rows", 6)),
			[]string{"Put in the card", "Sweep the reader", "Set the cams: slip"}},
	} {
		doc := piecetest.Document(t, c.machine, c.from, c.to, c.rows, append(c.edits, named...)...)
		srv, st := site(t, false, web.Options{})
		id, err := st.Add(t.Context(), doc.JSON())
		if err != nil {
			t.Fatal(err)
		}
		p, err := technique.Piece(doc)
		if err != nil {
			t.Fatal(err)
		}
		made := plan.Make(p)
		if len(made.Passes) < 8 || made.Stopped.Row > 0 {
			t.Fatalf("%s: %v", c.name, made.Findings)
		}
		pages := knitThrough(t, srv, id, len(made.Passes))
		run := func(leave string) *fabric.Fabric {
			h, left := &hands{t: t, p: p, begun: map[piece.YarnNo]bool{}}, leave == ""
			h.cams = [2]machine.Setting{machine.Free, machine.Free}
			pl := *made
			pl.Passes = slices.Clone(made.Passes)
			for i := range pl.Passes {
				s := pages[i]
				if at := slices.IndexFunc(s.steps, func(text string) bool {
					return strings.HasPrefix(text,
						leave)
				}); !left && at >= 0 {
					s.steps, left = slices.Delete(slices.Clone(s.steps), at, at+1), true
				}
				pl.Passes[i] = h.knitted(made.Passes[i], s)
			}
			if !left {
				t.Errorf("%s: nothing told begins with %q", c.name, leave)
			}
			return technique.Prove(&pl)
		}
		if f := run(""); !f.Matches() {
			t.Errorf("%s, by the words: %s %v\n%s", c.name, f.First, f.Faults, made)
		}
		for i := range pages {
			if want := made.Passes[max(i-1, 0)].Counter; pages[i].counter != want && i > 0 {
				t.Errorf("%s: pass %d begins at %d, and the page says %d", c.name, i+1, want, pages[i].counter)
			}
		}
		for _, leave := range c.matter {
			if f := run(leave); f.Matches() {
				t.Errorf("%s, without %q: and it is not found wrong", c.name, leave)
			}
		}
	}
}

// knitThrough reads what the page says before every pass, knitting one after another.
func knitThrough(t *testing.T, srv *httptest.Server, id int64, passes int) (pages []told) {
	t.Helper()
	at := fmt.Sprintf("/pieces/%d/knit", id)
	for n := range passes {
		pages = append(pages, readPage(t, get(t, srv.URL+at)))
		send(t, srv, at, url.Values{"do": {"knitted"}, "from": {fmt.Sprint(n)}})
	}
	return pages
}

// TestPlaceKept: what is pressed at the machine: a press from a page that is behind is refused
// in words; back undoes the last press, or one pass where it was ravelled, and says how all
// must stand; repeats more and fewer; remarks; an edit meanwhile asks until it is answered.
func TestPlaceKept(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	id, err := st.Add(t.Context(), piecetest.Document(t, "card-direct", "L6", "R6", []string{"#..", ".##", "#.#"},
		piecetest.Set("/sections/0/rows", 9)).JSON())
	if err != nil {
		t.Fatal(err)
	}
	at := fmt.Sprintf("/pieces/%d/knit", id)
	press := func(form ...string) (status int, page string) {
		v := url.Values{}
		for i := 0; i < len(form); i += 2 {
			v.Set(form[i], form[i+1])
		}
		res, err := http.PostForm(srv.URL+at, v)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		return res.StatusCode, readAll(t, res.Body)
	}
	expect := func(what string, status, want int, page, holds string) {
		t.Helper()
		if status != want || !strings.Contains(plainText(page), holds) {
			t.Errorf("%s: %d, want %d and %q in\n%s", what, status, want, holds, plainText(page))
		}
	}
	status, page := press("do", "knitted", "from", "0", "to", "5")
	expect("five at once", status, 200, page, "Pass 6 of 9")
	status, page = press("do", "knitted", "from", "3")
	expect("a page behind", status, 409, page, "This page was behind. You are at pass 6; your press was not counted.")
	status, page = press("do", "back", "from", "5")
	expect("pressed too soon", status, 200, page, "Pass 1 of 9")
	press("do", "knitted", "from", "0", "to", "5")
	press("do", "knitted", "from", "5")
	status, page = press("do", "back", "from", "6")
	expect("one pressed too soon", status, 200, page, "Pass 6 of 9")
	status, page = press("do", "back", "from", "5", "note", "ravelled")
	expect("ravelled", status, 200, page,
		"So must everything stand here Pass 5, section two-colour, row 5 (repeat 2 of 3) Counter to 4 Card: number 4 "+
			"in the window")
	status, page = press("do", "jump", "from", "4", "to", "8")
	expect("a jump", status, 200, page, "Feeder 1 yarn")
	press("do", "pause", "from", "7")
	status, page = press("do", "resume", "from", "7")
	expect("after a pause", status, 200, page, "So must everything stand here Pass 8")
	status, page = press("do", "note", "from", "7", "note", "changed the needle at L4")
	expect("a remark", status, 200, page, "changed the needle at L4")
	shown := get(t, srv.URL+at)
	place := regexp.MustCompile(`name="place" value="(\d+)"`).FindStringSubmatch(shown)[1]
	press("do", "knitted", "from", "7", "place", place)
	press("do", "back", "from", "8")
	status, page = press("do", "knitted", "from", "7", "place", place)
	expect("a press that arrives twice, the second late", status, 409, page,
		"You are at pass 8; your press was not counted.")
	status, page = press("do", "note", "from", "7", "place", place, "note", "a dropped stitch")
	if status != 409 || !strings.Contains(page, `value="a dropped stitch"`) {
		t.Errorf("a remark on a page behind: %d, and what she wrote is gone", status)
	}
	if status, _ = press("do", "note", "from", "7"); status != 422 {
		t.Errorf("an empty remark: %d", status)
	}
	status, page = press("do", "more", "from", "7")
	expect("a repeat more", status, 200, page, "repeat 3 of 4")
	status, page = press("do", "stop", "from", "7")
	expect("stop after this one", status, 200, page, "Pass 8 of 9")
	found := plainText(get(t, srv.URL+at+"/find?reading=4&repeat=2"))
	if !strings.Contains(found, "Pass 5, section") || !strings.Contains(plainText(get(t, srv.URL+at+"/find?to=99")),
		"no pass 99") {
		t.Errorf("found: %s", found)
	}
	// An edit in another tab: the place stays, and the page asks until it is answered.
	was, err := st.Revision(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	rows := func(n int, on int64) {
		t.Helper()
		if err := st.Edit(t.Context(), id, edit.Edit{Kind: edit.Settings, On: on,
			Changes: edit.SectionRows(1, n)}); err != nil {
			t.Fatal(err)
		}
	}
	rows(12, was)
	status, page = press("do", "knitted", "from", "7", "rev", fmt.Sprint(was))
	expect("a press on the piece as it was", status, 409, page, "You are at pass 8; your press was not counted.")
	if text := plainText(page); !strings.Contains(text,
		"The piece has been edited since the last pass. Pass 8, section") ||
		strings.Contains(text, "Knitted space") {
		t.Error(text)
	}
	status, page = press("do", "resume", "from", "7")
	expect("answered", status, 200, page, "Knitted space")
	// A plan that has become shorter than what was knitted: all keys go on working.
	rows(4, was+1)
	status, page = press("do", "pause", "from", "4")
	expect("knitted beyond its end", status, 200, page, "Knitted to the last pass")
	status, page = press("do", "back", "from", "4", "note", "ravelled")
	expect("and back", status, 200, page, "Pass 4 of 4")
	status, page = press("do", "jump", "from", "3", "to", "2")
	expect("and elsewhere", status, 200, page, "Pass 2 of 4")
	status, page = press("do", "knitted", "from", "1")
	expect("and on", status, 200, page, "Pass 3 of 4")
}

// TestTouchedDrawn: however wide the piece, the needles that hands touch are drawn: at both
// ends of it in windows of their own, which can be moved along.
func TestTouchedDrawn(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	id, err := st.Add(t.Context(), piecetest.Document(t, "card-preselect", "L72", "R72", []string{"#....."},
		piecetest.Set("/options", map[string]any{"end_needles": "hand"}), piecetest.Before(2, "A")).JSON())
	if err != nil {
		t.Fatal(err)
	}
	at := fmt.Sprintf("%s/pieces/%d/knit", srv.URL, id)
	send(t, srv, fmt.Sprintf("/pieces/%d/knit", id), url.Values{"do": {"jump"}, "from": {"0"}, "to": {"3"}})
	label := regexp.MustCompile(`<text x="[^"]*" y="[^"]*">([LR]\d+)</text>`)
	drawn := func(page string) (list []string, windows int) {
		for _, m := range label.FindAllStringSubmatch(page, -1) {
			list = append(list, m[1])
		}
		return list, strings.Count(page, "strip-window")
	}
	list, windows := drawn(get(t, at))
	if windows != 2 || list[0] != "L72" || list[len(list)-1] != "R72" {
		t.Errorf("%d windows: %v", windows, list)
	}
	if list, _ = drawn(get(t, at+"?at=10")); list[0] != "L64" || list[len(list)-1] != "R72" {
		t.Errorf("moved along: %v", list)
	}
	if page := plainText(get(t, at)); !strings.Contains(page, "Bring 2 needles forward: L72,R72") {
		t.Error(page)
	}
}

// TestKnitSaysStops: a piece that does not come out as drawn says so before its first pass, beside the machine and
// where it is prepared; she mends it, or goes on knowing it, which the journal keeps; an edit asks again.
func TestKnitSaysStops(t *testing.T) {
	t.Parallel()
	srv, st := site(t, false, web.Options{})
	id, err := st.Add(t.Context(), piecetest.Document(t, "card-preselect", "L20", "R19", []string{"#.......#",
		"..#......"}, piecetest.Set("/sections/0/rows", 12)).JSON())
	if err != nil {
		t.Fatal(err)
	}
	at := fmt.Sprintf("/pieces/%d/knit", id)
	const says, stop = "does not come out as it is drawn", "9 does not go into the 24 columns"
	shows := func(page string, asks bool) {
		t.Helper()
		text := plainText(page)
		if strings.Contains(text, says) != asks || asks && !strings.Contains(text, stop) ||
			strings.Contains(page, `name="do" value="knitted"`) == asks ||
			strings.Contains(text, "up to pass 13.") != asks {
			t.Errorf("asks %v:\n%s", asks, text)
		}
	}
	shows(get(t, srv.URL+at), true)
	if page := plainText(get(t, fmt.Sprintf("%s/pieces/%d/prepare", srv.URL, id))); !strings.Contains(page, says) ||
		!strings.Contains(page, stop) {
		t.Errorf("Prepare: %s", page)
	}
	press := func(do string) int {
		res, err := http.PostForm(srv.URL+at, url.Values{"do": {do}, "from": {"0"}})
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res.StatusCode
	}
	if got := press("knitted"); got != 422 {
		t.Errorf("a pass before she has chosen: %d", got)
	}
	send(t, srv, at, url.Values{"do": {"knowing"}, "from": {"0"}})
	shows(get(t, srv.URL+at), false)
	if e, _ := st.Reached(t.Context(), id); e.Done != 0 || e.Kind != "note" || !strings.Contains(e.Note, stop) {
		t.Errorf("the journal has %+v", e)
	}
	if got := press("knitted"); got != 200 {
		t.Errorf("and then: %d", got)
	}
	rev, _ := st.Revision(t.Context(), id)
	if err := st.Edit(t.Context(), id, edit.Edit{Kind: edit.Settings, On: rev,
		Changes: edit.SectionRows(1, 14)}); err != nil {
		t.Fatal(err)
	}
	if page := plainText(get(t, srv.URL+at)); !strings.Contains(page, says) {
		t.Errorf("after an edit: %s", page)
	}
	// She knows these stops, not those of another edit that stands where this one was undone.
	send(t, srv, at, url.Values{"do": {"knowing"}, "from": {"1"}})
	send(t, srv, fmt.Sprintf("/pieces/%d/undo", id), nil)
	if page := plainText(get(t, srv.URL+at)); strings.Contains(page, says) {
		t.Errorf("as she knew it: %s", page)
	}
	if err := st.Edit(t.Context(), id, edit.Edit{Kind: edit.Settings, On: rev + 2,
		Changes: edit.SectionRows(1, 16)}); err != nil {
		t.Fatal(err)
	}
	if page := plainText(get(t, srv.URL+at)); !strings.Contains(page, says) {
		t.Errorf("after another edit in its place: %s", page)
	}
	whole, err := st.Add(t.Context(), piecetest.Document(t, "card-preselect", "L6", "R6", []string{"#..#"}).JSON())
	if err != nil {
		t.Fatal(err)
	}
	at = fmt.Sprintf("/pieces/%d/knit", whole)
	shows(get(t, srv.URL+at), false)
	if got := press("knowing"); got != 422 {
		t.Errorf("known, where nothing stops it: %d", got)
	}
}
