package web

import (
	"fmt"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/chart"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/piece"
	"vindel/knit/plan"
	"vindel/store"
)

type knitView struct {
	Page     Page
	ID       int64
	Name     string
	Section  string
	Setting  string
	Time     string
	Done     int
	Passes   int
	Percent  int
	Now      *bandView
	Above    []quietRow // coming passes, the farthest first
	Below    []quietRow // knitted passes, the latest first
	Event    string
	Finished bool
	Paused   bool
	Stopped  string
	Changed  bool
	After    []string
	Journal  []journalRow
	At       int
}

type quietRow struct {
	N, Counter int
	Dir        string
	Feeders    []threadView
	Text       string
}

// threadView is a feeder's thread through a row: Colour is "" where it is empty.
type threadView struct {
	Colour, Name string
	Knot         bool
}

// bandView is the pass to be knitted now.
type bandView struct {
	Counter int
	Row     string
	Dir     string
	Feeders []threadView
	Steps   []string
	Care    []string
	See     []seeWord
	Free    bool
	Turn    string // whose turn it is, where carriages change places
	Why     string // what a lace carriage does now
	Bed     needleView
	Lays    []layView // yarns laid by hand, in laying order
}

// layView is one yarn to lay before the pass.
type layView struct {
	N            int
	Bobbin, Span string
	Colour       string
	Twist        bool
}

type seeWord struct {
	Text   string
	Strong bool
}

func (s *Server) knit(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		v, err := s.knitView(c, d)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.render(c, "knit", v)
	})
}

// knitted writes a pass down before it answers: forward, back, or to a pass by its number.
func (s *Server) knitted(c *gin.Context) {
	s.withDesk(c, func(d *desk) {
		from, passes := number(c.PostForm("from"), -1), len(d.result.Plan.Passes)
		e := store.Entry{Kind: c.PostForm("do"), Done: from}
		switch e.Kind {
		case "knitted":
			e.Done = min(from+1, passes)
		case "back":
			e.Done = max(from-1, 0)
		case "jump":
			n := number(c.PostForm("to"), -1)
			if n < 1 || n > passes+1 {
				s.fail(c, inputError{fmt.Errorf("%q: the piece has passes 1 to %d", c.PostForm("to"), passes)})
				return
			}
			e.Done = n - 1
		case "pause", "resume":
		case "note":
			e.Note = strings.TrimSpace(c.PostForm("note"))
		default:
			s.fail(c, inputError{fmt.Errorf("%q: knitted, back, jump, pause, resume or note", e.Kind)})
			return
		}
		if from < 0 {
			s.fail(c, inputError{fmt.Errorf("from: the pass that the page shows is missing")})
			return
		}
		// A press that came twice, or from a page left open, moves nothing: the answer
		// shows where the knitter really is.
		if err := s.store.Write(c.Request.Context(), d.stored.ID, from, e); err != nil && err != store.ErrMoved {
			s.fail(c, err)
			return
		}
		if c.GetHeader("HX-Request") != "" {
			v, err := s.knitView(c, d)
			if err != nil {
				s.fail(c, err)
				return
			}
			s.partial(c, "knit", "knit-body", v)
			return
		}
		c.Redirect(303, fmt.Sprintf("/pieces/%d/knit", d.stored.ID))
	})
}

func (s *Server) knitView(c *gin.Context, d *desk) (*knitView, error) {
	ctx := c.Request.Context()
	at, err := s.store.Place(ctx, d.stored.ID)
	if err != nil {
		return nil, err
	}
	seconds, timed, err := s.store.Knitting(ctx, d.stored.ID)
	if err != nil {
		return nil, err
	}
	journal, err := s.store.Journal(ctx, d.stored.ID, 12)
	if err != nil {
		return nil, err
	}
	p, pl := d.piece, d.result.Plan
	v := &knitView{Page: s.piecePage(c, d, "knit"), ID: d.stored.ID, Name: d.head().Name, Done: min(at.Done, len(pl.Passes)), Passes: len(pl.Passes),
		Paused: at.Kind == "pause", Changed: at.Done > 0 && at.Head != d.stored.Head, At: number(c.Query("at"), 0)}
	for i := range journal {
		v.Journal = append(v.Journal, journalLine(&journal[i], s.now()))
	}
	pace := float64(secondsAPass)
	if timed >= 5 {
		pace = seconds / float64(timed)
	}
	v.Time = clock(pace*float64(v.Passes-v.Done)) + " to go"
	if v.Passes > 0 {
		v.Percent = 100 * v.Done / v.Passes
	}
	if pl.Stopped.Row > 0 {
		v.Stopped = fmt.Sprintf("The plan stops at section %d, row %d. See Prove for what stops it.", pl.Stopped.Section+1, pl.Stopped.Row)
	}
	for i := min(v.Done+3, v.Passes-1); i > v.Done; i-- {
		v.Above = append(v.Above, quiet(pl, i))
	}
	for i := v.Done - 1; i >= max(0, v.Done-2); i-- {
		r := quiet(pl, i)
		r.Text = "knitted"
		v.Below = append(v.Below, r)
	}
	if v.Done == v.Passes {
		v.Finished = v.Stopped == ""
		for i := range pl.After {
			v.After = append(v.After, pl.After[i].Say(p))
		}
		return v, nil
	}
	now := &pl.Passes[v.Done]
	v.Section = sectionName(p, now.Section-1)
	v.Setting = setting(p, now)
	v.Now = band(d, v.Done, v.At)
	for i := v.Done + 1; i < v.Passes; i++ {
		if t := railOf(pl, &pl.Passes[i]).Text; t != "" {
			v.Event = fmt.Sprintf("Next, in %s, with %d on the counter: %s", plural(i-v.Done, "pass", "passes"), pl.Passes[i-1].Counter, t)
			break
		}
	}
	return v, nil
}

// setting is the state of the carriage in a few words.
func setting(p *piece.Piece, now *plan.Pass) string {
	var words []string
	if w := camWord(p, now); w != "" {
		words = append(words, "cams "+w)
	}
	if now.Size != "" {
		words = append(words, p.Machine.Word("size")+" "+now.Size)
	}
	return strings.Join(words, " · ")
}

func camWord(p *piece.Piece, now *plan.Pass) string {
	switch {
	case now.Cams.Selected == machine.Lay:
		return p.Machine.Word("lay")
	case now.Carriage == machine.LaceCarriage && now.Fine:
		return p.Machine.Word("fine")
	case now.Carriage == machine.LaceCarriage:
		return p.Machine.Word("transfer")
	case now.Free:
		return p.Machine.Word("free")
	case now.Cams.Unselected == machine.Tuck:
		return p.Machine.Word("tuck-rest")
	case now.Cams.Selected == machine.Tuck:
		return p.Machine.Word("tuck-fwd")
	case now.Cams.Selected == machine.Weave || now.Cams.Unselected == machine.Weave:
		return p.Machine.Word("weave")
	case p.Sections[now.Section-1].Technique.Mark == chart.Slip && now.Row > 0:
		return p.Machine.Word("slip")
	case now.TwoYarns:
		return p.Machine.Word("two-colour")
	case now.Cams == machine.PlainCams:
		return p.Machine.Word("plain")
	}
	for word, cams := range plan.TwoPassCams() {
		if now.Cams == cams {
			return p.Machine.Word(word)
		}
	}
	return fmt.Sprintf("%v forward, %v at rest", now.Cams.Selected, now.Cams.Unselected)
}

func quiet(pl *plan.Plan, i int) quietRow {
	p := &pl.Passes[i]
	r := railOf(pl, p)
	if n := p.ByHand.Len(); n > 0 {
		r.Text = strings.TrimPrefix(fmt.Sprintf("%s, bring %d forward", r.Text, n), ", ")
	}
	if p.Carriage == machine.LaceCarriage {
		r.Text = strings.TrimPrefix(r.Text+", "+laceMoves(p), ", ")
	}
	if n := len(p.Lays); n > 0 && r.Text == "" {
		r.Text = "lay " + plural(n, "yarn", "yarns")
	}
	if r.Text == "" {
		r.Text = "nothing changes"
	}
	return quietRow{p.N, p.Counter, p.Dir.String(), threads(pl, p), r.Text}
}

func threads(pl *plan.Plan, p *plan.Pass) (list []threadView) {
	r := railOf(pl, p)
	for f := range pl.Piece.Machine.Feeders {
		t := threadView{Knot: r.Knots[f]}
		if y := p.Feeders[f]; y != 0 {
			t.Colour, t.Name = pl.Piece.Yarns[y-1].Colour, pl.Piece.YarnName(y)
		}
		list = append(list, t)
	}
	return list
}

func band(d *desk, i, shift int) *bandView {
	pl, p := d.result.Plan, d.piece
	now := &pl.Passes[i]
	b := &bandView{Counter: now.Counter, Dir: now.Dir.String(), Feeders: threads(pl, now), Free: now.Free, Bed: needles(d.result.Fabric, i, shift)}
	b.Turn = turn(pl, i)
	if now.Carriage == machine.LaceCarriage {
		b.Why = laceMoves(now)
		if now.Line > 0 {
			b.Why += fmt.Sprintf("; reads line %d", now.Line)
		}
	}
	switch {
	case now.Carriage == machine.LaceCarriage:
		b.Row = fmt.Sprintf("for row %d of %d, to the %s", now.Row, pl.Placed[now.Section-1].Rows, b.Dir)
	case now.Free && now.Cams.Selected == machine.Lay:
		b.Row = "without yarn, to bring the needles to the laying position"
	case now.Free:
		b.Row = "free pass, to the " + b.Dir
	case now.Row == 0:
		b.Row = "plain row that selects, to the " + b.Dir
	default:
		b.Row = fmt.Sprintf("row %d of %d, to the %s", now.Row, pl.Placed[now.Section-1].Rows, b.Dir)
	}
	for j := range now.Before {
		st := &now.Before[j]
		if st.Hands() {
			b.Steps = append(b.Steps, st.Say(p))
		} else {
			b.Care = append(b.Care, st.Say(p))
		}
	}
	for j, l := range now.Lays {
		b.Lays = append(b.Lays, layView{j + 1, l.Bobbin, machine.Range(l.From, l.To).String(), p.Yarns[l.Yarn-1].Colour, !l.First && j > 0 && now.Cams.Unselected == machine.Lay})
	}
	b.See = see(pl, d.result.Fabric, i)
	return b
}

// laceMoves says what a pass of the lace carriage does now.
func laceMoves(p *plan.Pass) string {
	if p.Select.Empty() {
		return "moves nothing"
	}
	return fmt.Sprintf("moves %s to the %v", plural(p.Select.Len(), "stitch", "stitches"), p.Dir)
}

// turn names the carriage that goes now, in a piece where it is not always the same.
func turn(pl *plan.Plan, i int) string {
	now := pl.Passes[i].Carriage
	for j := range pl.Passes {
		if pl.Passes[j].Carriage != now {
			return now.String() + " carriage"
		}
	}
	return ""
}

// see says what stands before the knitter if all is well, hands' work done.
func see(pl *plan.Plan, f *fabric.Fabric, i int) (words []seeWord) {
	now, p := &pl.Passes[i], pl.Piece
	m := &p.Machine
	work := p.Work()
	rest := work.Minus(now.Select).Minus(now.Hold).Len()
	say := func(strong bool, format string, a ...any) {
		words = append(words, seeWord{fmt.Sprintf(format, a...), strong})
	}
	say(false, "You should see ")
	stand := fabric.Stand{}
	if f.Stands != nil {
		stand = f.Stands[i]
	}
	switch {
	case now.Carriage == machine.LaceCarriage && now.Select.Empty():
		say(true, "no needle %s", m.Word("forward"))
	case now.Carriage == machine.LaceCarriage && m.Lace == "combined":
		say(true, "%s %s as the carriage passes", comes(now.Select.Len()), m.Word("forward"))
	case now.Carriage == machine.LaceCarriage:
		say(true, "%s %s", plural(now.Select.Len(), "needle", "needles"), m.Word("forward"))
	case now.Select.Empty() && !stand.Empty.Empty():
		say(true, "all %s %s", plural(work.Len(), "needle", "needles"), m.Word("work"))
	case now.Cams.Selected == machine.Lay && !now.Free:
		say(true, "%s at the laying position", plural(work.Len(), "needle", "needles"))
	case now.Select.Empty() && now.Hold.Empty():
		say(true, "all %s %s", plural(work.Len(), "needle", "needles"), m.Word("work"))
	case m.School == machine.Direct || m.School == machine.Pairs:
		say(true, "%s come %s as the carriage passes, %d stay", plural(now.Select.Len(), "needle", "needles"), m.Word("forward"), rest)
	default:
		say(true, "%s %s, %d %s", plural(now.Select.Len(), "needle", "needles"), m.Word("forward"), rest, m.Word("work"))
		if !now.Hold.Empty() {
			say(true, ", %v %s", now.Hold, m.Word("hold"))
		}
	}
	if !stand.Empty.Empty() || !stand.Doubled.Empty() {
		say(true, ", %d empty, %d doubled", stand.Empty.Len(), stand.Doubled.Len())
	}
	say(false, ", the %vcarriage on the %v", carriageWord(pl, i), now.Dir.Other())
	if n := inWindow(pl, i); n > 0 {
		say(false, ", number %d in the card's window", n)
	}
	say(false, ".")
	return words
}

func comes(n int) string {
	if n == 1 {
		return "1 needle comes"
	}
	return fmt.Sprintf("%d needles come", n)
}

// carriageWord names the carriage where there are several, followed by a space.
func carriageWord(pl *plan.Plan, i int) string {
	if turn(pl, i) == "" {
		return ""
	}
	return pl.Passes[i].Carriage.String() + " "
}

// inWindow is the number that stands in the card's window before pass i: that of the
// card row read last (rules: Punch card); 0 before the first and without a card.
func inWindow(pl *plan.Plan, i int) int {
	m := &pl.Piece.Machine
	now := &pl.Passes[i]
	lines := pl.Lines[now.Section-1]
	if !m.HasCard() || lines == 0 {
		return 0
	}
	read := 0
	for j := i - 1; j >= 0; j-- {
		if pl.Passes[j].Section != now.Section && (j+1 >= len(pl.Passes) || pl.Passes[j+1].Row != 1) {
			break
		}
		if pl.Passes[j].Line > 0 {
			read++
		}
	}
	rows := lines * ((m.Loop + lines - 1) / lines)
	if read == 0 {
		return 0
	}
	return (read-1)%rows + 1
}

// journalRow is an entry of the journal in words.
type journalRow struct{ When, Text string }

func journalLine(e *store.Entry, now time.Time) journalRow {
	text := map[string]string{"knitted": fmt.Sprintf("pass %d knitted", e.Done), "back": fmt.Sprintf("back to pass %d", e.Done+1),
		"jump": fmt.Sprintf("went to pass %d", e.Done+1), "pause": "paused", "resume": "went on", "note": e.Note}[e.Kind]
	return journalRow{since(now.Sub(e.At)), text}
}

// since says how long ago something was.
func since(d time.Duration) string {
	switch {
	case d < time.Minute:
		return "just now"
	case d < time.Hour:
		return fmt.Sprintf("%d min ago", int(d.Minutes()))
	case d < 48*time.Hour:
		return fmt.Sprintf("%d h ago", int(d.Hours()))
	}
	return fmt.Sprintf("%d days ago", int(d.Hours()/24))
}

// clock says a stretch of seconds in hours and minutes.
func clock(seconds float64) string {
	m := int(seconds/60 + 0.5)
	if m < 60 {
		return fmt.Sprintf("about %d min", m)
	}
	return fmt.Sprintf("about %d h %02d", m/60, m%60)
}
