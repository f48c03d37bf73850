package web

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/check"
	"vindel/knit/lost"
	"vindel/knit/words"
	"vindel/store"
)

// lostView is the page that finds her place: one question at a time, by the answers in its address.
type lostView struct {
	Page       Page
	ID         int64
	Name       string
	Question   string
	Typed      bool         // the answer is a number that she types, and not one of a few
	Fact       string       // that is asked
	Values     []lostChoice // to choose from
	Unknown    string       // the address where she does not know
	Told       []lostChoice // what she has said; To is where it is unsaid
	Keep       url.Values   // the answers so far, for the form that is typed in
	Left, Of   int
	Why        string      // this is asked
	Slip       bool        // one answer must be otherwise
	Contradict bool        // more than one answer must be otherwise
	Found      []lostFound // where she stands: one, or those that look the same
	Alone      string      // that one answer alone tells this place from others, and how to count it in the fabric
	Beside     []lostFound // those others
	Lifeline   *foundView  // the last one before it; nil: none
	Ravel      string      // how far back that is
	Words      bool        // the answer that is typed is no number
	Again      string
}

// lostFound is a place with what of her answers agrees with it: as many, and what does not.
type lostFound struct {
	foundView
	Agree, Not string
}

type lostChoice struct {
	Text, To string
	Drawn    *lostDrawing
}

// lostDrawing is an answer as a picture, 100 wide: the carriage at a side, yarns, or how the needles stand.
type lostDrawing struct {
	Side    string // of the carriage
	Yarns   []string
	Needles []lostNeedle
	Wide    float64 // of a needle
}

type lostNeedle struct {
	X     float64
	State string // rest, forward, hold or empty
}

// mostChoices is how many values are buttons; of more she types a number.
const mostChoices = 6

// lost asks what she sees, until one pass is left or those that are left look the same.
func (s *Server) lost(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		f := d.result.Fabric
		at, err := s.store.Reached(c.Request.Context(), d.stored.ID)
		if err == nil && len(f.Plan.Passes) == 0 {
			err = store.ErrNone
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		told, unknown := toldIn(c.Request.URL.Query())
		here := fmt.Sprintf("/pieces/%d/knit/lost", d.stored.ID)
		without := func(fact lost.Fact) string { return here + "?" + lostQuery(told, unknown, fact).Encode() }
		all, first := s.standings.of(d.result)
		p := lost.Found{Ask: first}
		if len(told)+len(unknown) > 0 || first == nil {
			p = lost.Find(all, told, unknown)
		} else {
			p.Fits = lost.Fits(all, nil)
		}
		fits := p.Fits
		v := &lostView{Page: s.piecePage(c, d, "lost"), ID: d.stored.ID, Name: d.head().Name, Left: len(fits),
			Of: len(all), Again: here}
		for _, a := range told {
			v.Told = append(v.Told, lostChoice{Text: words.Capital(a.String()), To: without(a.Fact)})
		}
		if v.Contradict = len(fits) == 0; v.Contradict {
			s.render(c, "lost", v)
			return
		}
		q := p.Ask
		if q == nil {
			v.Found, v.Slip = d.standsAt(all, fits, told, at), p.Slip
			v.lifeline(d, fits[0], at)
			if len(p.Beside) > 0 {
				v.Beside = d.standsAt(all, p.Beside, told, at)
				v.Alone = alone(all, told, p.Beside) + " " + lost.CountFrom(f.Plan, fits[0])
			}
			s.render(c, "lost", v)
			return
		}
		switch v.Why = "This is asked since its answer leaves the fewest."; {
		case p.Slip:
			v.Why = "These answers do not go together: one of them is a slip, and this tells which."
		case p.Second:
			v.Why = "A second look, in case an answer was a slip: this tells most against it."
		}
		v.Question, v.Fact = q.Fact.Words(), string(q.Fact)
		v.Typed = len(q.Values) > mostChoices && q.Fact != lost.Yarn
		v.Words = slices.ContainsFunc(q.Values, func(x string) bool { _, err := strconv.Atoi(x); return err != nil })
		v.Keep = lostQuery(told, unknown, "")
		if !v.Typed {
			slices.SortFunc(q.Values, func(a, b string) int { // in the order in which one looks for them
				x, bad := strconv.Atoi(a)
				y, worse := strconv.Atoi(b)
				if bad == nil && worse == nil {
					return x - y
				}
				return strings.Compare(a, b)
			})
			for _, value := range q.Values {
				next := lostQuery(told, unknown, "")
				next.Set(string(q.Fact), value)
				text := value
				if q.Fact == lost.Carriage {
					text += " carriage"
				}
				v.Values = append(v.Values, lostChoice{text, here + "?" + next.Encode(), d.drawAnswer(all, fits,
					q.Fact, value)})
			}
		}
		v.Unknown = here + "?" + lostQuery(told, append(slices.Clone(unknown), q.Fact), "").Encode()
		s.render(c, "lost", v)
	})
}

// standings keeps how everything stands after each pass of the piece that was asked about last, and what is asked
// first: of a long piece that takes a second.
type standings struct {
	mu    sync.Mutex
	by    *check.Result
	all   []lost.Standing
	first *lost.Question
}

func (k *standings) of(r *check.Result) ([]lost.Standing, *lost.Question) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.by != r {
		k.by, k.all = r, lost.Standings(r.Fabric)
		k.first = lost.Next(k.all, lost.Fits(k.all, nil), nil, nil)
	}
	if k.first == nil {
		return k.all, nil
	}
	first := *k.first // its values are put in order for the page
	first.Values = slices.Clone(first.Values)
	return k.all, &first
}

// drawAnswer draws an answer as it looks in the first standing that has it; nil where words say it better.
func (d *opened) drawAnswer(all []lost.Standing, fits []int, fact lost.Fact, value string) *lostDrawing {
	switch fact {
	case lost.Side:
		return &lostDrawing{Side: value}
	case lost.Yarn:
		v := &lostDrawing{}
		for _, name := range strings.Split(value, " + ") {
			for i := range d.piece.Yarns {
				if y := &d.piece.Yarns[i]; y.Name == name || string(y.ID) == name {
					v.Yarns = append(v.Yarns, y.Colour)
				}
			}
		}
		return v
	case lost.Forward, lost.First, lost.Held, lost.Hole, lost.Empty, lost.AtWork, lost.Edges, lost.Doubled:
		at := slices.IndexFunc(fits, func(n int) bool { return all[n][fact] == value })
		if at < 0 {
			return nil
		}
		work, forward, hold, empty := lost.Look(d.result.Fabric, fits[at])
		low, high := d.piece.Ends()
		v := &lostDrawing{Wide: 100 / float64(int(high-low)+1)}
		for n := range work.All() {
			state := "rest"
			switch {
			case hold.Has(n):
				state = "hold"
			case forward.Has(n):
				state = "forward"
			case empty.Has(n):
				state = "empty"
			}
			v.Needles = append(v.Needles, lostNeedle{(float64(n-low) + 0.5) * v.Wide, state})
		}
		return v
	}
	return nil
}

// lifeline is the way back to the last lifeline from where n passes are knitted.
func (v *lostView) lifeline(d *opened, n int, at store.Entry) {
	pl := d.result.Plan
	to := beside.LastLifeline(pl, min(n, len(pl.Passes)-1))
	if to == 0 || to > n {
		return
	}
	back := beside.Knitted(pl, to-1, n)
	found := foundView{ID: d.stored.ID, Rev: d.stored.Rev, Place: at.ID, Done: d.done(at)}
	found.found(d, to-1)
	v.Lifeline, v.Ravel = &found, words.Count(back, "knitted pass", "knitted passes")
}

// alone says what alone tells a place from those beside it.
func alone(all []lost.Standing, told []lost.Answer, besides []int) string {
	var things []string
	for _, n := range besides {
		for _, a := range lost.Missed(all[n], told) {
			if thing := a.Fact.Noun(); !slices.Contains(things, thing) {
				things = append(things, thing)
			}
		}
	}
	return fmt.Sprintf("Only %s %s: where that was a slip it looks the same elsewhere.", words.List(things, "and"),
		words.Plural(len(things), "knows this", "know this"))
}

// standsAt is how everything must stand in the passes that fit: the nearest to where she is by the journal
// first, and of those that look the same one.
func (d *opened) standsAt(all []lost.Standing, fits []int, told []lost.Answer, at store.Entry) (list []lostFound) {
	done := d.done(at)
	slices.SortStableFunc(fits, func(a, b int) int { return abs(a-done) - abs(b-done) })
	for _, n := range fits {
		if len(list) == 3 {
			break
		}
		v := lostFound{foundView: foundView{ID: d.stored.ID, Rev: d.stored.Rev, Place: at.ID, Done: done}}
		missed := lost.Missed(all[n], told)
		if v.Agree = fmt.Sprintf("%d of %d agree", len(told)-len(missed), len(told)); len(missed) == 0 {
			v.Agree = map[int]string{0: "", 1: "It agrees", 2: "Both agree"}[len(told)]
			if len(told) > 2 {
				v.Agree = fmt.Sprintf("All %d agree", len(told))
			}
		}
		for _, a := range missed {
			v.Not = fmt.Sprintf("Not %s; here %s.", a, lost.Answer{Fact: a.Fact, Value: all[n][a.Fact]})
		}
		if n < len(d.result.Plan.Passes) {
			v.found(d, n)
		} else {
			v.Words = "The piece is knitted to the last pass."
		}
		list = append(list, v)
	}
	return list
}

func abs(n int) int { return max(n, -n) }

// toldIn reads the answers from an address: a value for each fact, and "unknown" for what she does not know.
func toldIn(q url.Values) (told []lost.Answer, unknown []lost.Fact) {
	for _, fact := range lost.Facts {
		value := strings.TrimSpace(q.Get(string(fact)))
		if fact == lost.First || fact == lost.Hole { // l36 is L36, and none is none
			if value = strings.ToUpper(value); value == "NONE" {
				value = "none"
			}
		}
		if value != "" {
			told = append(told, lost.Answer{Fact: fact, Value: value})
		}
		if slices.Contains(q["unknown"], string(fact)) {
			unknown = append(unknown, fact)
		}
	}
	return told, unknown
}

// lostQuery is the answers as an address holds them, but for one.
func lostQuery(told []lost.Answer, unknown []lost.Fact, but lost.Fact) url.Values {
	q := url.Values{}
	for _, a := range told {
		if a.Fact != but {
			q.Set(string(a.Fact), a.Value)
		}
	}
	for _, f := range unknown {
		q.Add("unknown", string(f))
	}
	return q
}
