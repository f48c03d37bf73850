package web

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/edit"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/store"
)

func (s *Server) knit(c *gin.Context) {
	s.withPiece(c, func(d *opened) { s.answerKnit(c, d) })
}

// knitted writes a pass down before it answers: forward, back, or to a pass by its number.
// A press from a page that shows another place, or an older piece, is not counted, and the
// answer says so and where she is.
func (s *Server) knitted(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		from := number(c.PostForm("from"), -1)
		if from < 0 {
			s.fail(c, inputError{errors.New("from: the pass that the page shows is missing")})
			return
		}
		behind, err := s.press(c, d, from)
		if err != nil {
			s.fail(c, err)
			return
		}
		if c.GetHeader("HX-Request") == "" && behind == "" {
			c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/knit", d.stored.ID))
			return
		}
		if behind != "" {
			c.Status(http.StatusConflict)
		}
		s.answerKnit(c, d, behind)
	})
}

// answerKnit answers with the page beside the machine, or, where only that is asked for, with its inside; behind
// says why a press was not counted.
func (s *Server) answerKnit(c *gin.Context, d *opened, behind ...string) {
	v, err := s.knitView(c, d)
	if err != nil {
		s.fail(c, err)
		return
	}
	if len(behind) > 0 && behind[0] != "" {
		v.Behind, v.Remark = behind[0], c.PostForm("note")
	}
	if c.GetHeader("HX-Request") == "" {
		s.render(c, "knit", v)
		return
	}
	s.partial(c, "knit", "knit-body", v)
}

// press does what was pressed on a page that showed `from` passes knitted. behind says in
// words why it was not counted.
func (s *Server) press(c *gin.Context, d *opened, from int) (behind string, err error) {
	ctx, do := c.Request.Context(), c.PostForm("do")
	at, err := s.store.Reached(ctx, d.stored.ID)
	if err != nil {
		return "", err
	}
	e, err := d.entry(do, from, c.PostForm("to"), c.PostForm("note"), c.PostForm("cause"))
	if err != nil {
		return "", inputError{err}
	}
	done := d.done(at)
	stale := fmt.Sprintf("This page was behind. You are at pass %d; your press was not counted.", done+1)
	if do == "note" {
		stale = fmt.Sprintf("This page was behind. You are at pass %d, and your remark is not written down yet: %s",
			done+1, e.Note)
	}
	// a press that arrives late finds its place taken, though she is at that pass again
	place := number(c.PostForm("place"), -1)
	if rev := revision(c); rev < 1 || place < 0 {
		return "", store.ErrNoRevision
	} else if done != from || rev != d.stored.Rev || place != int(at.ID) {
		return stale, nil
	}
	var with edit.Edit // what of the piece goes with it
	if stops, err := s.unknown(ctx, d); err != nil {
		return "", err
	} else if len(stops) > 0 && (do == "knitted" || do == "go") {
		return "", inputError{errors.New("something stops this piece: mend it, or say that you go on knowing it")}
	}
	switch do {
	case "go", "halt", "right":
		return "", s.wireDo(ctx, d, do, done, at)
	case "understood":
		return "", s.store.SetSetting(ctx, plannedAnew(d.stored.ID), "")
	case "more", "stop":
		if done >= len(d.result.Plan.Passes) {
			return stale, nil
		}
		stop, more := beside.RowsToRepeat(d.result.Plan, done)
		rows, label := more, "one repeat more"
		if do == "stop" {
			rows, label = stop, "stop after this repeat"
		}
		section := d.result.Plan.Passes[done].Section
		with = edit.Edit{Kind: edit.Settings, Label: label, On: d.stored.Rev, Changes: edit.SectionRows(section, rows)}
		e.Kind, e.Note = "note", label
	case "back":
		if c.PostForm("note") == "" { // pressed too soon: the last press is undone, however many passes it was
			e.Done, e.Pass, err = s.before(c, d, at)
			if err != nil {
				return "", err
			}
		}
	}
	_, err = s.store.WriteWith(ctx, d.stored.ID, at.ID, e, with)
	if errors.Is(err, store.ErrMoved) || errors.Is(err, store.ErrStale) {
		return stale, nil
	}
	if err == nil && (do == "more" || do == "stop") {
		fresh, failed := s.openIn(ctx, d.stored.ID, requestTime)
		if failed != nil {
			return "", failed
		}
		*d = *fresh
	}
	return "", err
}

// causes are what interrupts her; the first is not told.
var causes = []string{"", "door", "yarn", "needle", "rest", "other"}

var causeWords = map[string]string{"door": "Somebody came", "yarn": "Yarn", "needle": "A needle or the machine",
	"rest": "A rest", "other": "Something else"}

// causeShort is what stands on a button.
var causeShort = map[string]string{"door": "the door", "yarn": "yarn", "needle": "a needle", "rest": "a rest",
	"other": "other"}

// markNote begins what the journal says of a place that she has marked by hand.
const markNote = "marked: "

// mostRemark is how many characters a remark has at most.
const mostRemark = 400

// entry is what a press writes into the journal, with `from` passes knitted before it.
func (d *opened) entry(do string, from int, to, note, cause string) (e store.Entry, err error) {
	passes := d.result.Plan.Passes
	e = store.Entry{Kind: do, Done: from, Note: strings.TrimSpace(note), Cause: cause}
	if err := tooLong("a remark", e.Note, mostRemark); err != nil {
		return e, err
	}
	switch do {
	case "knitted":
		e.Done = min(from+max(1, number(to, from+1)-from), len(passes))
	case "back":
		e.Done = max(from-1, 0)
	case "jump":
		n := number(to, -1)
		if n < 1 || n > len(passes)+1 {
			return e, fmt.Errorf("%q: the piece has passes 1 to %d", to, len(passes))
		}
		e.Done = n - 1
	case "note":
		if e.Note == "" {
			return e, errors.New("a remark says something")
		}
	case "knowing": // what stops the plan, and that she goes on
		if len(d.stops()) == 0 || len(passes) == 0 {
			return e, errors.New("nothing stops this piece, or there is no pass to knit")
		}
		e.Kind = "note"
		if e.Cause, e.Note = d.knowing(); utf8.RuneCountInString(e.Note) > mostRemark {
			e.Note = string([]rune(e.Note)[:mostRemark-1]) + "…"
		}
	case "mark":
		at := number(to, from+1) - 1 // anywhere: a pass that she looks at, or the one that is shown
		if at < 0 || at >= len(passes) {
			return e, errors.New("there is no such pass to mark")
		}
		said := markNote + beside.Where(d.result.Plan, at)
		if e.Note != "" {
			said += ": " + e.Note
		}
		e.Kind, e.Note, e.Cause = "note", said, passes[at].ID.String()
	case "fault": // what went wrong, and from where she goes on
		n := number(to, -1)
		if !slices.Contains(mistake.Kinds, mistake.Kind(cause)) {
			return e, fmt.Errorf("%q: no mistake is called so", cause)
		}
		if n < 1 || n > len(passes)+1 || e.Note == "" {
			return e, fmt.Errorf("%q: the piece has passes 1 to %d", to, len(passes))
		}
		e.Done = n - 1
	case "pause":
		if !slices.Contains(causes, cause) {
			return e, fmt.Errorf("%q: %s", cause, strings.Join(causes[1:], ", "))
		}
	case "resume", "understood", "more", "stop", "go", "halt", "right":
	default:
		return e, fmt.Errorf("%q: knitted, back, jump, fault, pause, resume, knowing, note, mark, more, stop, go, halt, right "+
			"or understood", do)
	}
	if e.Done > 0 && e.Done <= len(passes) {
		e.Pass = passes[e.Done-1].ID
	}
	return e, nil
}

// findPass shows how everything stands before a pass: by its number, or by the counter's reading
// and the repeat. She looks before she goes there.
func (s *Server) findPass(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		at, err := s.store.Reached(c.Request.Context(), d.stored.ID)
		if err != nil {
			s.fail(c, err)
			return
		}
		pl := d.result.Plan
		v := foundView{ID: d.stored.ID, Rev: d.stored.Rev, Done: d.done(at), Place: at.ID}
		to := number(c.Query("to"), 0)
		if c.Query("lifeline") != "" {
			to = beside.LastLifeline(pl, v.Done)
		}
		if n := to; n > 0 {
			if v.Words = fmt.Sprintf("There is no pass %d: the piece has passes 1 to %d.", n,
				len(pl.Passes)); n <= len(pl.Passes) {
				v.found(d, n-1)
			}
		} else if reading := number(c.Query("reading"), -1); reading >= 0 {
			repeat := number(c.Query("repeat"), 0)
			v.Words = fmt.Sprintf("No pass begins at %d on the counter.", reading)
			for i := range pl.Passes {
				n, _ := beside.Repeat(pl, i)
				if beside.Reading(pl, i) == reading && (repeat == 0 || n == repeat) && !pl.Passes[i].Free {
					v.found(d, i)
					break
				}
			}
		} else {
			v.Words = "Type a pass, or what the counter shows."
		}
		s.partial(c, "knit", "knit-found", v)
	})
}

// done is how many passes of the plan are knitted, by the last entry of the journal.
func (d *opened) done(at store.Entry) int {
	done, _ := beside.Done(d.result.Plan, at.Pass, at.Done)
	return done
}

// before is where she was before her last press.
func (s *Server) before(c *gin.Context, d *opened, at store.Entry) (done int, id pass.ID, err error) {
	list, err := s.store.Journal(c.Request.Context(), d.stored.ID, undoable)
	if err != nil {
		return 0, id, err
	}
	now := d.done(at)
	for i := 1; i < len(list); i++ {
		if done = d.done(list[i]); done < now {
			return done, list[i].Pass, nil
		}
	}
	if len(list) < undoable {
		return 0, id, nil
	}
	return max(now-1, 0), id, nil
}
