package web

import (
	"fmt"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/store"
)

type knitView struct {
	Page     Page
	ID       int64
	Name     string
	Section  string
	Time     string
	Done     int
	Passes   int
	Percent  int
	Now      *bandView
	Above    []quietRow // coming passes, the farthest first
	Below    []quietRow // knitted passes, the latest first
	Finished bool
	Paused   bool
	Stopped  string
	Changed  bool
	After    []string
	Journal  []journalRow
}

type quietRow struct {
	Counter int
	Dir     string
	Feeders []threadView
	Text    string
}

// threadView is a feeder's thread through a row: Colour is "" where it is empty.
type threadView struct{ Colour string }

// bandView is the pass to be knitted now.
type bandView struct {
	*beside.Band
	Counter int
	Dir     string
	Feeders []threadView
	Free    bool
	Steps   []string
	Care    []string
	Bed     needleView
	Lays    []layView // yarns laid by hand, in laying order
}

// layView is one yarn to lay before the pass.
type layView struct {
	Bobbin, Span string
	Colour       string
	Twist        bool
}

// How many coming and knitted passes stand round the band.
const (
	comingRows = 3
	pastRows   = 2
	journalled = 12 // entries of the journal that the page has
	paceFrom   = 5  // timed passes from which the knitter's own pace is known
)

func (s *Server) knitView(c *gin.Context, d *opened) (*knitView, error) {
	ctx := c.Request.Context()
	at, err := s.store.Reached(ctx, d.stored.ID)
	if err != nil {
		return nil, err
	}
	seconds, timed, err := s.store.Knitting(ctx, d.stored.ID)
	if err != nil {
		return nil, err
	}
	journal, err := s.store.Journal(ctx, d.stored.ID, journalled)
	if err != nil {
		return nil, err
	}
	p, pl := d.piece, d.result.Plan
	v := &knitView{Page: s.piecePage(c, d, "knit"), ID: d.stored.ID, Name: d.head().Name, Done: d.done(at),
		Passes: len(pl.Passes),
		Paused: at.Kind == "pause", Changed: at.Done > 0 && at.Head != d.stored.Head}
	for i := range journal {
		v.Journal = append(v.Journal, journalLine(&journal[i], s.now()))
	}
	v.Time = toGo(v.Passes-v.Done, seconds, timed)
	if v.Passes > 0 {
		v.Percent = 100 * v.Done / v.Passes
	}
	if pl.Stopped.Row > 0 {
		v.Stopped = fmt.Sprintf("The plan stops at section %d, row %d. See Prove for what stops it.",
			pl.Stopped.Section, pl.Stopped.Row)
	}
	for i := min(v.Done+comingRows, v.Passes-1); i > v.Done; i-- {
		v.Above = append(v.Above, d.quiet(i))
	}
	for i := v.Done - 1; i >= max(0, v.Done-pastRows); i-- {
		r := d.quiet(i)
		r.Text = "knitted"
		v.Below = append(v.Below, r)
	}
	if v.Done == v.Passes {
		v.Finished = v.Stopped == ""
		v.After = said(pl.After, p)
		return v, nil
	}
	v.Section = p.Section(pl.Passes[v.Done].Section).Title()
	v.Now = d.band(v.Done, number(c.Query("at"), 0))
	return v, nil
}

// toGo says how long so many passes take: at the pace of the journal, once it has one.
func toGo(passes int, seconds float64, timed int) string {
	pace := float64(beside.SecondsAPass)
	if timed >= paceFrom {
		pace = seconds / float64(timed)
	}
	return clock(pace*float64(passes)) + " to go"
}

func said(steps []pass.Step, p *piece.Piece) (list []string) {
	for i := range steps {
		list = append(list, steps[i].Say(p))
	}
	return list
}

func (d *opened) quiet(i int) quietRow {
	p := &d.result.Plan.Passes[i]
	r := beside.Quiet(d.result.Plan, p)
	return quietRow{r.Counter, r.Dir.String(), d.threads(r.Feeders), r.Text}
}

func (d *opened) threads(feeders []piece.YarnNo) (list []threadView) {
	for _, y := range feeders {
		t := threadView{}
		if y != 0 {
			t.Colour = d.piece.Yarns[y-1].Colour
		}
		list = append(list, t)
	}
	return list
}

// band is the pass with index i as the page shows it; shift moves the drawing along the bed.
func (d *opened) band(i, shift int) *bandView {
	p, f := d.piece, d.result.Fabric
	b := &bandView{Band: beside.Before(f, i)}
	now := b.Pass
	b.Counter, b.Dir, b.Free = now.Counter, now.Dir.String(), now.Free
	b.Feeders = d.threads(beside.RowOf(d.result.Plan, now).Feeders)
	b.Bed = drawNeedles(p, b.Band, shift)
	for _, st := range b.Band.Steps {
		b.Steps = append(b.Steps, st.Say(p))
	}
	for _, st := range b.Band.Care {
		b.Care = append(b.Care, st.Say(p))
	}
	for j, l := range now.Lays {
		b.Lays = append(b.Lays, layView{l.Bobbin, machine.Range(l.From, l.To).String(), p.Yarns[l.Yarn-1].Colour,
			!l.First && j > 0 && now.Main().Setting.Lays})
	}
	return b
}

// journalRow is an entry of the journal in words.
type journalRow struct{ When, Text string }

func journalLine(e *store.Entry, now time.Time) journalRow {
	text := map[string]string{"knitted": fmt.Sprintf("pass %d knitted", e.Done),
		"back": fmt.Sprintf("back to pass %d", e.Done+1),
		"jump": fmt.Sprintf("went to pass %d", e.Done+1), "pause": "paused", "resume": "went on",
		"note": e.Note}[e.Kind]
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
