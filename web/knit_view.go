package web

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/finding"
	"vindel/knit/outline"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/project"
	"vindel/knit/step"
	"vindel/knit/words"
	"vindel/paper"
	"vindel/store"
)

type knitView struct {
	Page     Page
	ID       int64
	Place    int64  // the journal's last entry: a press made on another is not counted
	Remark   string // written on a page that was behind, and not lost
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
	Behind   string     // why the last press was not counted
	Stops    []stopView // what stops the plan, until she mends it or goes on knowing it
	Changed  string     // what an edit has done to the place, until it is answered
	Anew     []string   // what is planned otherwise since the piece was begun
	Restore  []string   // how everything must stand here, after a pause, a jump, or ravelling
	Lifeline int        // the pass of the last lifeline; 0: there is none
	After    []string
	Then     *thenView // the next piece of a project that this finished one belongs to
	Journal  []journalRow
	Marks    []markView // places marked by hand, the latest first
	Rev      int64      // of the piece, for who listens
	Causes   []causeView
	Wire     *wireView // nil: no machine is connected
	WireMark string
	WireAddr string // that was connected last
}

// stopView is something that stops a plan, in a section (from 1; 0: in the whole piece).
type stopView struct {
	Section int
	Text    string
}

// causeView is something that interrupts her, and whether it did now.
type causeView struct {
	Key, Text string
	On        bool
}

// markView is a place that she has marked: the pass that comes next there, and where it stands.
type markView struct {
	Pass int
	Text string
}

type quietRow struct {
	N       int // of the pass
	Reading int
	Dir     string
	Feeders []threadView
	Text    string
}

// threadView is a feeder's thread through a row: Colour is "" where it is empty.
type threadView struct{ Colour, Letter string }

// bandView is the pass to be knitted now.
type bandView struct {
	*beside.Band
	Piece    int64
	Counter  int // after the pass
	Dir      string
	Feeders  []threadView
	Yarns    []yarnState // in the feeders, by name
	Free     bool
	Steps    []stepView
	Ticked   bool // what precedes the pass is ticked one by one: the first, and the first of a second part
	Care     []string
	Bed      needleView
	Outline  *outlineView
	EdgesAt  []edgeView
	Beds     *stateView     // of a recipe: both beds whole, as they stand
	Faces    []carriageView // her own controls, as they must stand
	Lays     []layView      // yarns laid by hand, in laying order
	Cells    []cellView
	Strokes  []bool // one a repeat: knitted, or not yet
	Shift    int    // of the drawing along the bed
	LastPass int    // of those that can be knitted in one go; 0: only this one
}

// stepView is a hand step: what is to be done, and in brackets what it means.
type stepView struct{ Text, Meaning, Labels string }

// cellView is one column of the hand-selection line: its yarn, and those of the rows below
// and above it in the chart.
type cellView struct {
	N                    int
	Colour, Below, Above string
	Letter               string // of its yarn
	Dark                 bool   // the letter on it is light
	Picked               bool
}

// layView is one yarn to lay before the pass.
type layView struct{ Text, Colour string }

// foundView is a pass that she looks at before she goes there.
type foundView struct {
	ID      int64
	Rev     int64
	Place   int64
	Done    int
	Pass    int // 0: there is none
	Words   string
	Restore []string
}

func (v *foundView) found(d *opened, i int) {
	v.Pass, v.Restore = i+1, beside.Restore(d.result.Plan, i)
	v.Words = ""
}

// How many coming and knitted passes stand round the band.
const (
	comingRows  = 3
	pastRows    = 2
	journalled  = 12  // entries of the journal that the page has
	undoable    = 200 // entries that are looked through for the press before the last
	mostStrokes = 30  // repeats that are told by strokes
)

// plannedAnew is the setting that says that a piece begun earlier is planned otherwise now.
func plannedAnew(id int64) string { return fmt.Sprint("planned-anew:", id) }

// Notes of the journal that the pages write themselves.
const ravelled = "ravelled"

func (s *Server) knitView(c *gin.Context, d *opened) (*knitView, error) {
	ctx := c.Request.Context()
	seconds, timed, err := s.store.Knitting(ctx, d.stored.ID)
	if err != nil {
		return nil, err
	}
	// What the wire says comes before the place: the other way about a pass reported in between would put its words
	// beside the place before it, and she would do twice what they say.
	wire, mark := s.wireView(d.stored.ID), s.wireMark(d.stored.ID)
	journal, err := s.store.Journal(ctx, d.stored.ID, journalled)
	if err != nil {
		return nil, err
	}
	var at store.Entry
	if len(journal) > 0 {
		at = journal[0]
	}
	p, pl := d.piece, d.result.Plan
	v := &knitView{Rev: d.stored.Rev, Wire: wire, WireMark: mark, Page: s.piecePage(c, d, "knit"), ID: d.stored.ID,
		Name:  d.head().Name,
		Place: at.ID, Done: d.done(at), Passes: len(pl.Passes), Paused: at.Kind == "pause"}
	for _, key := range causes[1:] {
		v.Causes = append(v.Causes, causeView{key, causeShort[key], at.Cause == key})
	}
	if v.WireAddr, _ = s.store.Setting(ctx, wireAddr); v.WireAddr == "" {
		v.WireAddr = "127.0.0.1:7070"
	}
	for i := range journal {
		v.Journal = append(v.Journal, journalLine(&journal[i], s.now()))
	}
	notes, err := s.store.Journal(ctx, d.stored.ID, undoable)
	if err != nil {
		return nil, err
	}
	for i := range notes {
		if text, marked := strings.CutPrefix(notes[i].Note, markNote); marked && notes[i].Kind == "note" {
			n := min(d.done(notes[i])+1, max(1, v.Passes))
			if id, err := pass.ParseID(notes[i].Cause); err == nil {
				if at := pl.Find(id); at >= 0 {
					n = at + 1
				}
			}
			v.Marks = append(v.Marks, markView{n, text})
		}
	}
	v.Time = clock(beside.Left(pl, v.Done, paceOf(seconds, timed))) + " to go"
	if v.Passes > 0 {
		v.Percent = 100 * v.Done / v.Passes
	}
	if pl.Stopped.Row > 0 {
		v.Stopped = fmt.Sprintf("The plan stops at section %d, row %d. See Prove for what stops it.",
			pl.Stopped.Section, pl.Stopped.Row)
	}
	if v.Done < v.Passes {
		if v.Stops, err = s.unknown(ctx, d); err != nil {
			return nil, err
		}
	}
	for i := min(v.Done+comingRows, v.Passes-1); i > v.Done; i-- {
		v.Above = append(v.Above, d.quiet(i))
	}
	for i := v.Done - 1; i >= max(0, v.Done-pastRows); i-- {
		r := d.quiet(i)
		r.Text = "knitted"
		v.Below = append(v.Below, r)
	}
	// without it the page is as good
	if anew, _ := s.store.Setting(ctx, plannedAnew(d.stored.ID)); anew != "" && v.Done > 0 {
		v.Anew = beside.PlannedAnew(pl, v.Done)
	}
	v.Lifeline = beside.LastLifeline(pl, v.Done)
	if at.Done > 0 && at.Head != d.stored.Head {
		v.Changed = d.changed(at, v.Done)
	}
	if v.Done == v.Passes {
		v.Finished, v.Time = v.Stopped == "", ""
		v.After = said(pl.After, p)
		if v.Finished {
			v.Then = s.then(c, d)
		}
		return v, nil
	}
	if at.Kind == "jump" || at.Kind == "fault" || at.Kind == "resume" || at.Kind == "back" && at.Note == ravelled {
		v.Restore = beside.Restore(pl, v.Done)
	}
	v.Section = pl.Title(&pl.Passes[v.Done])
	v.Now = d.band(v.Done, number(c.Query("at"), 0))
	s.photographed(ctx, p.Machine.Name, v.Now.Faces)
	return v, nil
}

// thenView is a piece that is to be knitted after this one, and the project they are of.
type thenView struct {
	ID       int64
	Name, Of string
}

// then is the first piece of a project of this one's that is not knitted to its end, those after it first; nil: none.
func (s *Server) then(c *gin.Context, d *opened) *thenView {
	projects, _ := s.store.Projects(c.Request.Context()) // without them the page is as good
	for _, stored := range projects {
		p, err := readProject(stored)
		mine := slices.IndexFunc(p.Parts, func(m project.Member) bool { return m.Piece == d.stored.ID })
		if err != nil || mine < 0 {
			continue
		}
		for _, part := range slices.Concat(p.Parts[mine+1:], p.Parts[:mine]) {
			next, err := s.open(c.Request.Context(), part.Piece)
			if err == nil && s.doneOf(c, next) < len(next.result.Plan.Passes) {
				return &thenView{part.Piece, next.head().Name, stored.Name}
			}
		}
	}
	return nil
}

// unknown is what stops the plan of a piece where she has not said that she goes on knowing it.
func (s *Server) unknown(ctx context.Context, d *opened) (list []stopView, err error) {
	if list = d.stops(); len(list) == 0 {
		return nil, nil
	}
	cause, _ := d.knowing()
	if knows, err := s.store.Has(ctx, d.stored.ID, cause); err != nil || knows {
		return nil, err
	}
	return list, nil
}

// knowing is what the journal keeps of going on though something stops the plan: the words, and a cause by which just
// these are found again, whatever has been edited and undone meanwhile.
func (d *opened) knowing() (cause, note string) {
	note = fmt.Sprintf("goes on up to pass %d, knowing what is to be mended:", len(d.result.Plan.Passes))
	for _, stop := range d.stops() {
		note += " " + stop.Text
	}
	return "knowing " + lineMark([]byte(note)), note
}

// stops is what stops the plan of a piece, in words.
func (d *opened) stops() (list []stopView) {
	for i := range d.result.Findings {
		if f := &d.result.Findings[i]; f.Severity == finding.Stop {
			list = append(list, stopView{f.Section, f.Text})
		}
	}
	return list
}

// changed says where she is after the piece was edited.
func (d *opened) changed(at store.Entry, done int) string {
	pl := d.result.Plan
	_, exact := beside.Done(pl, at.Pass, at.Done)
	text := "The piece has been edited since the last pass. "
	if !exact {
		text += "The row that you knitted last is not in it any more, so this is the pass after the one before it. "
	}
	if done < len(pl.Passes) {
		text += strings.Join(beside.Restore(pl, done)[:2], ". ") + ". Is that where the machine stands?"
	}
	return text
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
	return quietRow{p.N, r.Reading, r.Dir.String(), d.threads(r.Feeders), r.Text}
}

func (d *opened) threads(feeders []piece.YarnNo) (list []threadView) {
	for _, y := range feeders {
		list = append(list, threadView{d.colour(y), d.letter(y)})
	}
	return list
}

// letter is a yarn's, "" for none.
func (d *opened) letter(y piece.YarnNo) string {
	if y == 0 {
		return ""
	}
	return string(d.piece.Yarns[y-1].ID)
}

// colour is a yarn's, "" for none.
func (d *opened) colour(y piece.YarnNo) string {
	if y == 0 {
		return ""
	}
	return d.piece.Yarns[y-1].Colour
}

// band is the pass with index i as the page shows it; shift moves the drawing along the bed.
func (d *opened) band(i, shift int) *bandView {
	p, f := d.piece, d.result.Fabric
	b := &bandView{Band: beside.Before(f, i), Piece: d.stored.ID, Shift: shift}
	now := b.Pass
	b.Counter, b.Dir, b.Free, b.Ticked = now.Counter, now.Dir.String(), now.Free, i == 0 || beside.BeginsAnew(now)
	feeders := beside.RowOf(d.result.Plan, now).Feeders
	b.Feeders = d.threads(feeders)
	if !now.Free {
		for n, y := range feeders {
			if y != 0 {
				b.Yarns = append(b.Yarns, yarnState{ID: fmt.Sprint(n + 1), Name: p.YarnName(y), Colour: d.colour(y)})
			}
		}
	}
	b.Bed = drawNeedles(f, b.Band, shift)
	b.Faces = facesAt(d.result.Plan, i)
	if p.Shape != nil {
		b.Outline = drawOutline(outline.Of(d.result.Plan), d.result.Plan, i)
		for k := range b.Band.Edges {
			b.EdgesAt = append(b.EdgesAt, d.drawEdge(&b.Band.Edges[k]))
		}
	}
	if now.Recipe > 0 {
		b.Beds = d.standing(i)
	}
	for _, st := range b.Band.Steps {
		one := stepWords(st, p)
		if b.Choice != nil && st.Do() == step.DoBringForward {
			one.Text = fmt.Sprintf("Bring %s %s, as below",
				words.Count(st.Needles().Len(), "needle", "needles"), p.Machine.Word("forward"))
			one.Labels = st.Needles().String()
		}
		b.Steps = append(b.Steps, one)
	}
	for _, st := range b.Band.Care {
		b.Care = append(b.Care, st.Say(p))
	}
	for j, l := range now.Lays {
		b.Lays = append(b.Lays, layView{now.SayLay(p, j), d.colour(l.Yarn)})
	}
	if c := b.Choice; c != nil {
		for n, cell := range c.Cells {
			v := cellView{N: n + 1, Colour: d.colour(cell.Yarn), Picked: cell.Picked, Letter: d.letter(cell.Yarn)}
			v.Dark = v.Colour != "" && piece.Dark(paper.Colour(v.Colour))
			if c.Below != nil {
				v.Below = d.colour(c.Below[n])
			}
			if c.Above != nil {
				v.Above = d.colour(c.Above[n])
			}
			b.Cells = append(b.Cells, v)
		}
	}
	if n, of := b.Repeat[0], b.Repeat[1]; of > 1 && of <= mostStrokes {
		for k := 1; k <= of; k++ {
			b.Strokes = append(b.Strokes, k < n)
		}
	}
	if b.UpTo > 1 {
		b.LastPass = i + b.UpTo
	}
	return b
}

// stepWords parts what is to be done from what it means, which stands in brackets, and has
// every label where needles are said as a pattern.
func stepWords(st *pass.Step, p *piece.Piece) (v stepView) {
	v.Text = st.Say(p)
	if at := strings.LastIndex(v.Text, " ("); step.Is[step.Cams](st.Step) && at > 0 && strings.HasSuffix(v.Text, ")") {
		v.Text, v.Meaning = v.Text[:at], v.Text[at+1:]
	}
	if on := st.Needles(); !on.Empty() && on.String() != on.Words() {
		v.Labels = on.String()
	}
	return v
}

// journalRow is an entry of the journal in words.
type journalRow struct {
	When, Text string
	Photo      int64 // the entry that has one; 0: none
}

func journalLine(e *store.Entry, now time.Time) journalRow {
	text := map[string]string{"knitted": fmt.Sprintf("pass %d knitted", e.Done),
		"back": fmt.Sprintf("back to pass %d", e.Done+1),
		"jump": fmt.Sprintf("went to pass %d", e.Done+1), "pause": "paused", "resume": "went on",
		"fault": fmt.Sprintf("%s Went back to pass %d", e.Note, e.Done+1), "note": e.Note, "wire": e.Note}[e.Kind]
	if e.Kind == "back" && e.Note != "" {
		text = e.Note + " " + text
	}
	if words := causeWords[e.Cause]; e.Kind == "pause" && words != "" {
		text += ": " + strings.ToLower(words)
	}
	r := journalRow{When: since(now.Sub(e.At)), Text: text}
	if e.Photo {
		r.Photo = e.ID
	}
	return r
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
