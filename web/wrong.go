package web

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/mistake"
	"vindel/knit/words"
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
	From       int
	Rev, Place int64
}

// mostGuesses is how many mistakes are named.
const mostGuesses = 4

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
			v.Signs = append(v.Signs, signView{string(sign), words.Capital(sign.Words()), key, strings.ToUpper(key),
				slices.Contains(q["sign"], string(sign))})
		}
		made := done
		if made == 0 {
			made = len(d.result.Plan.Passes) // nothing knitted yet: she tries it on the whole
		}
		pl := mistake.Until(d.result.Plan, made)
		high := max(1, beside.Courses(d.result.Plan, made))
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
				list, err = mistake.Find(c.Request.Context(), pl, []mistake.Sight{mark})
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

// markOf reads the marks of the form: the rows of fabric, counted from the bottom, and the needles.
func markOf(q url.Values, d *opened, high int) (m mistake.Sight, err error) {
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
	m.First, m.Last, m.Left, m.Right = min(m.First, m.Last), max(m.First, m.Last), min(m.Left, m.Right),
		max(m.Left, m.Right)
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
		Place: wherePlace{d.done(at), d.stored.Rev, at.ID}}
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
		if v.Looks += fmt.Sprintf(", %v", g.Seen.Left); g.Seen.Right != g.Seen.Left {
			v.Looks += fmt.Sprintf(" to %v", g.Seen.Right)
		}
		v.Looks += ": "
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
