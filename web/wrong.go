package web

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/knit/words"
	"vindel/paper"
	"vindel/store"
)

// wrongView is the page on which she marks what looks otherwise than it should, and is told what it was.
type wrongView struct {
	Page    Page
	ID      int64
	Name    string
	Done    int
	Picture madePicture
	Signs   []signView
	Fields  wrongFields
	Asked   bool
	Guesses []guessView
	None    bool // nothing that can be played fits
}

type signView struct {
	Sign, Text   string
	Key, KeyWord string
	On           bool
}

// signKeys are the keys of the signs, in their order.
const signKeys = "1234567890abc"

// wrongFields is the form as she filled it in.
type wrongFields struct{ First, Last, Left, Right, Upto string }

// guessView is a mistake that fits, with its fabric beside the planned one.
type guessView struct {
	Kind              mistake.Kind
	Title, Text, Also string
	Looks             string
	Planned, Made     madePicture
	GoOn, Restore     []string
	Mind              string
	To                int // the pass before which she must stand; 0: the last is knitted
	Place             wherePlace
}

// wherePlace is what a press needs to be counted.
type wherePlace struct {
	From, Head int
	Place      int64
}

// madePicture is a window of a face, and a box in it about what differs, in thousandths of the picture.
type madePicture struct {
	Src, Alt      string
	Face          string
	Away          bool // the bed lies mirrored in it
	Needle        int  // at the left edge of the bed, as the core counts them
	Wales         int
	Low, High     int // courses, from 1
	Box           [4]int
	Boxed         bool
	ViewW, ViewH  float64
	Font, Foot    float64 // of the numbers at its edges, and where those below it stand
	Frame         string  // with the edges
	Rows, Needles []axisMark
}

// axisMark is a number at the edge of a picture, at a place in it.
type axisMark struct {
	At   float64
	Text string
}

// How much fabric a picture shows.
const (
	shownCourses  = 44
	shownInPair   = 26
	mostGuesses   = 4
	stitchWide    = 4.0 // as paper draws them
	stitchTall    = 3.0
	mostPairWales = 60
)

// wrong shows the fabric as it should hang there, takes marks on it, and names the mistakes that fit.
func (s *Server) wrong(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		at, err := s.store.Reached(c.Request.Context(), d.stored.ID)
		if err == nil && len(d.result.Fabric.Courses) == 0 {
			err = store.ErrNone
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		done := d.done(at)
		v := &wrongView{Page: s.piecePage(c, d, "wrong"), ID: d.stored.ID, Name: d.head().Name, Done: done}
		q := c.Request.URL.Query()
		v.Fields = wrongFields{q.Get("first"), q.Get("last"), q.Get("left"), q.Get("right"), q.Get("upto")}
		for i, sign := range mistake.Signs {
			key := signKeys[i : i+1]
			v.Signs = append(v.Signs, signView{string(sign), words.Capital(sign.Words()), key, strings.ToUpper(key), slices.Contains(q["sign"], string(sign))})
		}
		made := done
		if made == 0 {
			made = len(d.result.Plan.Passes) // nothing knitted yet: she tries it on the whole
		}
		pl := mistake.Until(d.result.Plan, made)
		high := courseOf(d.result.Plan, made)
		upto := number(v.Fields.Upto, high)
		v.Asked = len(q["sign"]) > 0 || q.Get("first") != ""
		mark, err := markOf(q, d, high)
		if err != nil {
			s.fail(c, inputError{err})
			return
		}
		if v.Asked && v.Fields.Upto == "" && mark.First <= high-shownCourses { // what is marked is in the picture
			upto = min(high, max(mark.First+shownCourses/2, shownCourses))
		}
		v.Picture = d.window(q.Get("face"), max(1, min(upto, high)-shownCourses+1), min(max(upto, 1), high), 0, 0, "")
		if v.Asked {
			err = s.pictures.take(c.Request.Context())
			if err == nil {
				defer s.pictures.give()
				var list []mistake.Guess
				list, err = mistake.Find(c.Request.Context(), pl, []mistake.Mark{mark})
				for i := range list[:min(len(list), mostGuesses)] {
					if list[i].Score > leastScore {
						v.Guesses = append(v.Guesses, d.guess(&list[i], made, at))
					}
				}
			}
			if err != nil {
				s.fail(c, err)
				return
			}
			v.None = len(v.Guesses) == 0
			v.Picture.mark(mark.First, mark.Last, mark.Left, mark.Right)
		}
		s.render(c, "wrong", v)
	})
}

// leastScore is what a mistake must score to be named: it begins about there, or looks so.
const leastScore = 1.0

// courseOf is the rows of fabric that are knitted after so many passes.
func courseOf(pl *pass.Plan, done int) int {
	course := 1
	for i := range min(done, len(pl.Passes)) {
		course = max(course, pl.Passes[i].Course)
	}
	return course
}

// markOf reads the marks of the form: the rows of fabric, counted from the bottom, and the needles.
func markOf(q url.Values, d *opened, high int) (m mistake.Mark, err error) {
	row := func(key, what string, or int) (int, error) {
		text := strings.TrimSpace(q.Get(key))
		if text == "" {
			return or, nil
		}
		n, err := strconv.Atoi(text)
		if err != nil || n < 1 || n > high {
			return 0, fmt.Errorf("%s: %q: the fabric has rows 1 to %d", what, text, high)
		}
		return n, nil
	}
	f := d.result.Fabric
	needle := func(key, what string, or machine.Needle) (machine.Needle, error) {
		text := strings.ToUpper(strings.TrimSpace(q.Get(key)))
		if text == "" {
			return or, nil
		}
		n, err := machine.ParseNeedle(text)
		if err != nil {
			return 0, fmt.Errorf("%s: %w", what, err)
		}
		return n, nil
	}
	if m.First, err = row("first", "the lowest row that looks otherwise", max(1, high-1)); err != nil {
		return m, err
	}
	if m.Last, err = row("last", "the highest row that looks otherwise", high); err != nil {
		return m, err
	}
	if m.Left, err = needle("left", "the leftmost needle", f.From); err != nil {
		return m, err
	}
	if m.Right, err = needle("right", "the rightmost needle", f.From+machine.Needle(f.W-1)); err != nil {
		return m, err
	}
	m.First, m.Last, m.Left, m.Right = min(m.First, m.Last), max(m.First, m.Last), min(m.Left, m.Right), max(m.Left, m.Right)
	for _, sign := range mistake.Signs {
		if slices.Contains(q["sign"], string(sign)) {
			m.Signs = append(m.Signs, sign)
		}
	}
	return m, nil
}

// guess is a mistake as the page shows it.
func (d *opened) guess(g *mistake.Guess, done int, at store.Entry) guessView {
	pl := d.result.Plan
	v := guessView{Kind: g.Kind, Title: g.Kind.Words(), Text: g.Say(pl), GoOn: g.GoOn(pl, done), Mind: g.Mind(pl),
		Place: wherePlace{d.done(at), d.stored.Head, at.ID}}
	var near []string
	for _, m := range g.Near {
		if m.Step >= 0 {
			v.Also += " Or: " + m.Say(pl)
			continue
		}
		near = append(near, fmt.Sprint(pl.Passes[m.Pass].N))
	}
	if len(near) > 0 {
		v.Also += " It could also have been at pass " + strings.Join(near, ", ") + "."
	}
	if g.Seen.First > 0 {
		v.Looks = fmt.Sprintf("Row %d", g.Seen.First)
		if g.Seen.Last > g.Seen.First {
			v.Looks = fmt.Sprintf("Rows %d to %d", g.Seen.First, g.Seen.Last)
		}
		v.Looks += fmt.Sprintf(", %v to %v: ", g.Seen.Left, g.Seen.Right)
	}
	var signs []string
	for _, sign := range g.Seen.Signs {
		signs = append(signs, sign.Words())
	}
	v.Looks += strings.Join(signs, "; ") + "."
	v.Planned, v.Made = d.pair(g.Mistake, g.Seen, done)
	if to, _ := g.Ravel(pl, done); to <= len(pl.Passes) {
		v.To, v.Restore = to, beside.Restore(pl, to-1)
	}
	return v
}

// pair is the planned fabric and that with a mistake, the same part of both.
func (d *opened) pair(m mistake.Mistake, seen *mistake.Difference, done int) (planned, made madePicture) {
	top := max(courseOf(d.result.Plan, done), 1)
	low := max(1, min(seen.First-4, top-shownInPair+1))
	high := min(low+shownInPair-1, top)
	left, wide := 0, 0
	if f, most := d.result.Fabric, min(mostPairWales, 30+2*int(seen.Right-seen.Left)); f.W > most && seen.First > 0 {
		wide = most
		left = max(0, min(int(seen.Left+seen.Right)/2-int(f.From)-wide/2, f.W-wide))
	}
	planned = d.window("", low, high, left, wide, "")
	made = d.window("", low, high, left, wide, mistakeQuery(m, done))
	planned.Alt, made.Alt = "As planned", "With this mistake"
	if seen.First > 0 {
		made.mark(seen.First, seen.Last, seen.Left, seen.Right)
	}
	return planned, made
}

// mistakeQuery is a mistake as an address holds it.
func mistakeQuery(m mistake.Mistake, done int) string {
	return url.Values{"kind": {string(m.Kind)}, "pass": {fmt.Sprint(m.Pass + 1)}, "step": {fmt.Sprint(m.Step + 1)}, "needle": {m.Needle.String()},
		"by": {fmt.Sprint(m.By)}, "done": {fmt.Sprint(done)}}.Encode()
}

// mistakeIn reads a mistake from an address: one that can be made in the plan, or none.
func mistakeIn(q url.Values, pl *pass.Plan) (m mistake.Mistake, ok bool) {
	n, _ := machine.ParseNeedle(q.Get("needle"))
	at := number(q.Get("pass"), 0) - 1
	want := mistake.Mistake{Kind: mistake.Kind(q.Get("kind")), Pass: at, Step: number(q.Get("step"), 0) - 1, Needle: n, By: number(q.Get("by"), 0)}
	for _, m := range mistake.All(pl, at, at+1) {
		single := m.Kind == mistake.Needle || m.Kind == mistake.EndNeedle
		if m.Kind == want.Kind && m.Step == want.Step && m.By == want.By && (!single || m.Needle == want.Needle) {
			return m, true
		}
	}
	return want, false
}

// window is a picture of courses low to high (from 1) of a face, of `wide` needles from the left-th of the
// bed (0: all); of the fabric with a mistake where `made` names one.
func (d *opened) window(face string, low, high, left, wide int, made string) (p madePicture) {
	f := d.result.Fabric
	if face == "" {
		face = d.worn()
	}
	side := chart.KnitSide
	if face == "purl" {
		side = chart.PurlSide
	} else {
		face = "knit"
	}
	if wide == 0 {
		wide = f.W
	}
	p.Face, p.Away, p.Wales, p.Low, p.High = face, f.Away(side), wide, low, high
	p.Needle = int(f.From) + left
	x := left
	if p.Away {
		x = f.W - left - wide
	}
	h := high - low + 1
	at := fmt.Sprintf("%s.svg?x=%d&y=%d&w=%d&h=%d&fit=900x640&v=%d", face, x, low-1, wide, h, d.stored.Head)
	if p.Src = fmt.Sprintf("/pieces/%d/fabric/%s", d.stored.ID, at); made != "" {
		p.Src = fmt.Sprintf("/pieces/%d/knit/made/%s&%s", d.stored.ID, at, made)
	}
	p.ViewW, p.ViewH = stitchWide*float64(wide), stitchTall*(float64(h)+0.6)
	p.Font = max(4.2, p.ViewW/52)
	p.Foot = p.ViewH + p.Font*1.3
	p.Frame = fmt.Sprintf("%.1f -3 %.1f %.1f", -3.2*p.Font, p.ViewW+4.6*p.Font, p.ViewH+2*p.Font+3)
	for c := low; c <= high; c++ {
		if c%5 == 0 || c == high {
			if c != high && high-c < 3 {
				continue
			}
			p.Rows = append(p.Rows, axisMark{p.rowAt(c) + stitchTall*0.8, fmt.Sprint(c)})
		}
	}
	every := 5
	for every*6 < wide {
		every *= 2
	}
	for i := range wide {
		n := machine.Needle(p.Needle + i)
		label := n.String()
		if k, _ := strconv.Atoi(label[1:]); k%every == 0 {
			p.Needles = append(p.Needles, axisMark{p.needleAt(n) + stitchWide/2, label})
		}
	}
	return p
}

// rowAt is the top of a course in the picture, needleAt the left edge of a needle's wale.
func (p *madePicture) rowAt(c int) float64 { return p.ViewH - stitchTall*float64(c-p.Low+1) }

func (p *madePicture) needleAt(n machine.Needle) float64 {
	i := int(n) - p.Needle
	if p.Away {
		i = p.Wales - 1 - i
	}
	return stitchWide * float64(i)
}

// mark draws a box about courses and needles.
func (p *madePicture) mark(first, last int, left, right machine.Needle) {
	first, last = max(first, p.Low), min(last, p.High)
	left, right = max(left, machine.Needle(p.Needle)), min(right, machine.Needle(p.Needle+p.Wales-1))
	if first > last || left > right {
		return
	}
	x := min(p.needleAt(left), p.needleAt(right))
	p.Boxed = true
	p.Box = [4]int{int(x), int(p.rowAt(last)), int(stitchWide * float64(right-left+1)), int(stitchTall * float64(last-first+1))}
}

// made draws the fabric of a plan in which a mistake is made.
func (s *Server) made(c *gin.Context) {
	key, done := s.faceKept(c)
	if done {
		return
	}
	s.withPieceIn(c, requestTime, func(d *opened) {
		q := c.Request.URL.Query()
		pl := mistake.Until(d.result.Plan, number(q.Get("done"), len(d.result.Plan.Passes)))
		m, ok := mistakeIn(q, pl)
		if !ok {
			s.fail(c, store.ErrNone)
			return
		}
		ctx := c.Request.Context()
		if err := s.pictures.take(ctx); err != nil {
			s.fail(c, err)
			return
		}
		defer s.pictures.give()
		f, err := m.Play(ctx, pl)
		if err != nil {
			s.fail(c, err)
			return
		}
		n := func(key string) int { return max(0, number(q.Get(key), 0)) }
		side := chart.KnitSide
		if strings.HasPrefix(c.Param("file"), "purl") {
			side = chart.PurlSide
		}
		data, err := madeFace(ctx, f, side, paper.Window{X: n("x"), Y: n("y"), W: n("w"), H: n("h"), Clear: true}, q.Get("fit"))
		if faceKey(d.stored.Doc, c.Request.URL) != key {
			key = ""
		}
		s.sendFace(c, key, "png", data, err)
	})
}

// madeFace draws a window of a fabric that may have fewer courses than asked for: as much as there is, on a
// picture of the size asked for.
func madeFace(ctx context.Context, f *fabric.Fabric, side chart.Face, win paper.Window, fit string) ([]byte, error) {
	if len(f.Courses) == 0 || win.Y >= len(f.Courses) {
		return nil, store.ErrNone
	}
	return paper.FabricPNG(ctx, f, side, win, fitted(fit, win.W, win.H))
}

// trainerView shows a fabric with a mistake and asks which it is; or what a mistake of her choice looks like.
type trainerView struct {
	Page          Page
	ID            int64
	Name          string
	No            int // of the riddle
	Planned, Made madePicture
	Choices       []trainerChoice
	Answered      bool
	Right         bool
	Title, Text   string
	Looks         string
	GoOn          []string
	Mind          string
	Next          string
	Nothing       string

	Pass, Passes int // of what-if
	If           bool
	May          []trainerChoice // mistakes that can be made there
	Same         bool            // it cannot be seen
}

type trainerChoice struct {
	Text, To      string
	Chosen, Right bool
}

// trainer hides a mistake in the piece: a riddle by its number, the same for whoever has it.
func (s *Server) trainer(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		pl := d.result.Plan
		no := number(c.Query("n"), 0)
		if no <= 0 {
			no = 1 + int(s.now().UnixNano()/1e6)%100000
		}
		v := &trainerView{Page: s.piecePage(c, d, "trainer"), ID: d.stored.ID, Name: d.head().Name, No: no, Passes: len(pl.Passes)}
		here := fmt.Sprintf("/pieces/%d/knit/trainer", d.stored.ID)
		v.Next = fmt.Sprintf("%s?n=%d", here, no%100000+1)
		m, seen, kinds, err := riddle(c.Request.Context(), mistake.Until(pl, riddlePasses), no)
		if err != nil {
			s.fail(c, err)
			return
		}
		if seen == nil {
			v.Nothing = "Nothing that hands can get wrong here would be seen in the fabric. Choose a piece with a pattern."
			s.render(c, "trainer", v)
			return
		}
		v.Planned, v.Made = d.pair(m, seen, min(len(pl.Passes), riddlePasses))
		v.Made.Alt = "As it was knitted"
		said := mistake.Kind(c.Query("say"))
		v.Answered = said != ""
		for _, k := range kinds {
			v.Choices = append(v.Choices, trainerChoice{k.Words(), fmt.Sprintf("%s?n=%d&say=%s", here, no, k), k == said, k == m.Kind})
		}
		if !v.Answered {
			v.Made.Boxed = false
			s.render(c, "trainer", v)
			return
		}
		v.Right = said == m.Kind
		v.tell(d, m, seen)
		s.render(c, "trainer", v)
	})
}

// tell says what the mistake was, how it looks, and how to come right again had it been seen at once.
func (v *trainerView) tell(d *opened, m mistake.Mistake, seen *mistake.Difference) {
	pl := d.result.Plan
	v.Title, v.Text, v.Mind = m.Kind.Words(), m.Say(pl), m.Mind(pl)
	v.GoOn = m.GoOn(pl, min(m.Pass+3, len(pl.Passes)))
	var signs []string
	for _, sign := range seen.Signs {
		signs = append(signs, sign.Words())
	}
	v.Looks = words.Capital(strings.Join(signs, "; ")) + "."
}

// riddle chooses a mistake by a number, one that is seen in the fabric, and the kinds among which she is to
// find it; seen is nil where no mistake would be seen.
func riddle(ctx context.Context, pl *pass.Plan, no int) (m mistake.Mistake, seen *mistake.Difference, kinds []mistake.Kind, err error) {
	rng := rand.New(rand.NewPCG(uint64(no), 7))
	can := map[mistake.Kind][]mistake.Mistake{}
	for k, i := range rng.Perm(len(pl.Passes)) {
		if k == riddlePlaces {
			break
		}
		for _, m := range mistake.All(pl, i, i+1) {
			can[m.Kind] = append(can[m.Kind], m)
		}
	}
	for _, k := range mistake.Kinds {
		if len(can[k]) > 0 {
			kinds = append(kinds, k)
		}
	}
	planned, err := fabric.Knit(ctx, pl)
	if err != nil {
		return m, nil, nil, err
	}
	look := mistake.See(planned)
	for range riddleTries {
		if len(kinds) == 0 {
			break
		}
		k := kinds[rng.IntN(len(kinds))]
		m = can[k][rng.IntN(len(can[k]))]
		f, err := m.Play(ctx, pl)
		if err != nil {
			return m, nil, nil, err
		}
		if d := mistake.Compare(look, mistake.See(f)); d.Cells > 0 {
			others := slices.DeleteFunc(slices.Clone(kinds), func(o mistake.Kind) bool { return o == k })
			rng.Shuffle(len(others), func(i, j int) { others[i], others[j] = others[j], others[i] })
			kinds = append(others[:min(len(others), 3)], k)
			slices.SortFunc(kinds, func(a, b mistake.Kind) int { return slices.Index(mistake.Kinds, a) - slices.Index(mistake.Kinds, b) })
			return m, d, kinds, nil
		}
	}
	return m, nil, nil, nil
}

// Bounds of a riddle: of long pieces the beginning, and some places of it.
const (
	riddleTries  = 30
	riddlePasses = 3000
	riddlePlaces = 150
)

// whatIf shows what a mistake at a pass would look like.
func (s *Server) whatIf(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		pl, q := d.result.Plan, c.Request.URL.Query()
		at, err := s.store.Reached(c.Request.Context(), d.stored.ID)
		if err == nil && len(pl.Passes) == 0 {
			err = store.ErrNone
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		n := max(1, min(number(q.Get("pass"), d.done(at)+1), len(pl.Passes)))
		v := &trainerView{Page: s.piecePage(c, d, "trainer"), ID: d.stored.ID, Name: d.head().Name, If: true, Pass: n, Passes: len(pl.Passes)}
		here := fmt.Sprintf("/pieces/%d/knit/if?", d.stored.ID)
		chosen, ok := mistakeIn(q, pl)
		seenKind := map[string]bool{}
		if may := mistake.All(pl, n-1, n); !ok && len(may) > 0 {
			chosen, ok = may[0], true
		}
		for _, m := range mistake.All(pl, n-1, n) {
			key := string(m.Kind)
			if m.Kind != mistake.Needle && m.Kind != mistake.EndNeedle {
				key = fmt.Sprint(m.Kind, m.Step, m.By)
			}
			if seenKind[key] {
				continue
			}
			seenKind[key] = true
			text := m.Say(pl)
			v.May = append(v.May, trainerChoice{Text: text, To: here + mistakeQuery(m, len(pl.Passes)), Chosen: ok && m == chosen})
		}
		if ok && chosen.Pass == n-1 {
			f, err := chosen.Play(c.Request.Context(), pl)
			if err != nil {
				s.fail(c, err)
				return
			}
			seen := mistake.Compare(mistake.See(d.result.Fabric), mistake.See(f))
			v.tell(d, chosen, seen)
			if v.Same = seen.None(); v.Same {
				v.Looks = "It would not be seen in the fabric."
				seen.First = max(1, pl.Passes[n-1].Course)
				seen.Last, seen.Left, seen.Right = seen.First, d.result.Fabric.From, d.result.Fabric.From
			} else if seen.First == 0 {
				v.Looks = fmt.Sprintf("It is seen only in the number of rows: %d more than planned.", seen.More)
				if seen.More < 0 {
					v.Looks = fmt.Sprintf("It is seen only in the number of rows: %d fewer than planned.", -seen.More)
				}
				v.Same = true
				seen.First = max(1, len(d.result.Fabric.Courses)-2)
				seen.Last, seen.Left, seen.Right = seen.First, d.result.Fabric.From, d.result.Fabric.From
			}
			v.Planned, v.Made = d.pair(chosen, seen, len(pl.Passes))
			v.Made.Boxed = !v.Same && v.Made.Boxed
			v.Same = seen.None()
			v.Answered = true
		}
		s.render(c, "trainer", v)
	})
}
