package web

import (
	"cmp"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/measure"
	"vindel/knit/mistake"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/knit/technique"
	"vindel/knit/words"
	"vindel/link"
	"vindel/store"
)

// journalView is the journal of all pieces, or of one.
type journalView struct {
	Page     Page
	Q        journalAsk
	Pieces   []piecePast
	Sittings []sitting
	Faults   []tally // what went wrong, the most frequent first
	Pauses   []tally // what interrupted her
	Notes    []journalNote
	Hours    string
	Passes   int
	More     bool // there are older entries than are shown
	CSV      string
	Empty    bool
}

// journalAsk is what the page is asked for.
type journalAsk struct {
	Piece int64
	Text  string
	Kind  string // "": all; knitted, fault, pause, note
}

// piecePast is what has been knitted of a piece.
type piecePast struct {
	ID                           int64
	Name, Machine, Cards         string
	Passes                       int
	Hours, Pace, Yarn, LastWords string
}

// sitting is passes that were knitted in one go.
type sitting struct {
	Piece        int64
	Name         string
	Day, From    string
	Minutes      int
	First, Last  int // passes, from 1
	ByWire       bool
	start, until time.Time
}

type tally struct {
	Text  string
	Times int
}

// journalNote is a remark, a mark, a fault or a photograph.
type journalNote struct {
	Piece      int64
	Name, When string
	Text       string
	Photo      int64
}

// Bounds of the journal's page.
const (
	mostEntries  = 20000
	mostSittings = 40
	mostNotes    = 60
	apartBy      = 30 * time.Minute // a longer break begins another sitting
	mostYarnRows = 3000             // of larger pieces the yarn is on Prepare
)

func (s *Server) askJournal(c *gin.Context) journalAsk {
	return journalAsk{int64(number(c.Query("piece"), 0)), strings.TrimSpace(c.Query("q")), c.Query("kind")}
}

// journalled is the entries that are asked for, the latest first, and the pieces that they are of.
func (s *Server) journalled(c *gin.Context, q journalAsk) (list []store.Told, pieces map[int64]*piece.Piece,
	err error) {
	ctx := c.Request.Context()
	list, err = s.store.Entries(ctx, q.Piece, mostEntries)
	if err != nil {
		return nil, nil, err
	}
	pieces = map[int64]*piece.Piece{}
	return s.fitting(ctx, q, list, pieces), pieces, nil
}

// fitting is those entries that fit what is asked; the pieces that they are of come to those given.
func (s *Server) fitting(ctx context.Context, q journalAsk, list []store.Told,
	pieces map[int64]*piece.Piece) []store.Told {
	for _, t := range list {
		if _, known := pieces[t.Piece]; known {
			continue
		}
		pieces[t.Piece] = nil
		if stored, err := s.store.Piece(ctx, t.Piece); err == nil {
			if p, err := technique.Read(stored.Doc); err == nil {
				pieces[t.Piece] = p
			}
		}
	}
	low := strings.ToLower(q.Text)
	return slices.DeleteFunc(list, func(t store.Told) bool {
		if q.Kind != "" && t.Kind != q.Kind && (q.Kind != "fault" || t.Kind != "wire") {
			return true
		}
		if low == "" {
			return false
		}
		text := t.Note + " " + causeOf(&t.Entry)
		if p := pieces[t.Piece]; p != nil {
			text += " " + p.Name + " " + p.Machine.Name
		}
		return !strings.Contains(strings.ToLower(text), low)
	})
}

// causeOf is what an entry says of its cause, in words.
func causeOf(e *store.Entry) string {
	switch e.Kind {
	case "fault":
		return mistake.Kind(e.Cause).Words()
	case "wire":
		return map[link.Otherwise]string{link.Unheard: "A pass was not heard", link.WrongWay: "The wrong way",
			link.WrongOne: "Another carriage went",
			link.LineOff:  "Another line was read", link.Needles: "Other needles forward",
			link.Counter: "The counter was off", link.NoProgram: "The program was lost",
			link.Edited:    "Edited while a pass was made",
			link.Elsewhere: "The machine stood elsewhere"}[link.Otherwise(e.Cause)]
	case "pause":
		return causeWords[e.Cause]
	}
	return ""
}

func (s *Server) journal(c *gin.Context) {
	q := s.askJournal(c)
	list, pieces, err := s.journalled(c, q)
	if err != nil {
		s.fail(c, err)
		return
	}
	v := &journalView{Page: s.page(c, "Journal"), Q: q, Empty: len(list) == 0, More: len(list) == mostEntries,
		CSV: "/journal.csv?" + c.Request.URL.RawQuery}
	name := func(id int64) string {
		if p := pieces[id]; p != nil {
			return cmp.Or(p.Name, "Untitled piece")
		}
		return "a piece that cannot be read"
	}
	all := sittings(list)
	seconds := map[int64]float64{}
	for i := range all {
		all[i].Name = name(all[i].Piece)
		v.Passes += all[i].Last - all[i].First + 1
		seconds[all[i].Piece] += all[i].until.Sub(all[i].start).Seconds()
	}
	v.Sittings = all[:min(len(all), mostSittings)]
	total := 0.0
	for _, sec := range seconds {
		total += sec
	}
	v.Hours = hoursOf(total)
	faults, pauses := map[string]int{}, map[string]int{}
	var order []int64
	latest := map[int64]time.Time{}
	for i := range list {
		t := &list[i]
		if !slices.Contains(order, t.Piece) {
			order = append(order, t.Piece)
		}
		if t.At.After(latest[t.Piece]) {
			latest[t.Piece] = t.At
		}
		switch t.Kind {
		case "fault", "wire":
			faults[cmp.Or(causeOf(&t.Entry), "Something else")]++
		case "back":
			if t.Note == ravelled {
				faults["Ravelled back a pass"]++
			}
		case "pause":
			pauses[cmp.Or(causeOf(&t.Entry), "Not told")]++
		}
		if (t.Note != "" && t.Kind != "back" || t.Photo) && len(v.Notes) < mostNotes {
			n := journalNote{Piece: t.Piece, Name: name(t.Piece), When: t.At.Local().Format("2 Jan 2006, 15:04"),
				Text: cmp.Or(t.Note, "photograph")}
			if t.Photo {
				n.Photo = t.ID
			}
			v.Notes = append(v.Notes, n)
		}
	}
	v.Faults, v.Pauses = tallied(faults), tallied(pauses)
	slices.SortStableFunc(order, func(a, b int64) int { return latest[b].Compare(latest[a]) })
	for _, id := range order {
		p := pieces[id]
		if p == nil {
			continue
		}
		v.Pieces = append(v.Pieces, s.past(c, id, p, seconds[id]))
	}
	s.render(c, "journal", v)
}

// past is what has been knitted of a piece so far.
func (s *Server) past(c *gin.Context, id int64, p *piece.Piece, seconds float64) piecePast {
	v := piecePast{ID: id, Name: cmp.Or(p.Name, "Untitled piece"), Machine: p.Machine.Name, Hours: hoursOf(seconds)}
	var cards []string
	for i := range p.Sections {
		if sec := &p.Sections[i]; len(sec.Areas) > 0 {
			cards = append(cards, sec.Title())
		}
	}
	v.Cards = strings.Join(cards, ", ")
	at, err := s.store.Reached(c.Request.Context(), id)
	if err != nil {
		return v
	}
	v.Passes = at.Done
	if timed, n, err := s.store.Knitting(c.Request.Context(), id); err == nil && n > 0 {
		v.Pace = fmt.Sprintf("%.0f s a pass", timed/float64(n))
	}
	v.LastWords = at.At.Local().Format("2 Jan 2006")
	if p.RowsAsked() > mostYarnRows || at.Done == 0 {
		return v
	}
	if d, err := s.open(c.Request.Context(), id); err == nil {
		v.Yarn = yarnUsed(mistake.Until(d.result.Plan, d.done(at)))
	}
	return v
}

// yarnUsed is what a plan has taken of each yarn, in grams where a swatch was weighed, else in stitches.
func yarnUsed(pl *pass.Plan) string {
	var parts []string
	for _, y := range measure.Of(pl).Yarns {
		if name := pl.Piece.YarnName(y.No); y.Weighed {
			parts = append(parts, fmt.Sprintf("%s %.0f g", name, y.Grams))
		} else if y.Stitches > 0 {
			parts = append(parts, fmt.Sprintf("%s %d st", name, y.Stitches))
		}
	}
	return strings.Join(parts, ", ")
}

// sittings puts the passes that were knitted in one go together, the latest first.
func sittings(list []store.Told) (all []sitting) {
	open := map[int64]int{}   // by piece, the sitting that is being gathered
	before := map[int64]int{} // by piece, the passes that were knitted before an entry
	for i := len(list) - 1; i >= 0; i-- {
		t := &list[i]
		had, known := before[t.Piece]
		before[t.Piece] = t.Done
		if t.Kind != "knitted" {
			continue
		}
		first := t.Done
		if known || i > 0 && t.Done > 0 {
			first = min(had+1, t.Done)
		}
		k, going := open[t.Piece]
		if going && (t.At.Sub(all[k].until) > apartBy || first < all[k].First) {
			going = false
		}
		if !going {
			k = len(all)
			open[t.Piece] = k
			all = append(all, sitting{Piece: t.Piece, First: max(first, 1), start: t.At, until: t.At})
		}
		w := &all[k]
		w.Last, w.until, w.ByWire = max(w.Last, t.Done), t.At, w.ByWire || t.Hand == "wire"
	}
	for i := range all {
		w := &all[i]
		w.Day, w.From = w.start.Local().Format("2 Jan 2006"), w.start.Local().Format("15:04")
		w.Minutes = int(w.until.Sub(w.start).Minutes() + 0.5)
	}
	slices.SortStableFunc(all, func(a, b sitting) int { return b.start.Compare(a.start) })
	return all
}

func tallied(by map[string]int) (list []tally) {
	for text, n := range by {
		list = append(list, tally{text, n})
	}
	slices.SortFunc(list, func(a, b tally) int { return cmp.Or(b.Times-a.Times, strings.Compare(a.Text, b.Text)) })
	return list
}

func hoursOf(seconds float64) string {
	m := int(seconds/60 + 0.5)
	return fmt.Sprintf("%d:%02d", m/60, m%60)
}

// journalCSV is every entry that is asked for, a line each, the oldest first.
func (s *Server) journalCSV(c *gin.Context) {
	ctx, q, pieces := c.Request.Context(), s.askJournal(c), map[int64]*piece.Piece{}
	list, err := s.store.EntriesAfter(ctx, q.Piece, 0, csvEntries)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Header("Content-Disposition", `attachment; filename="vindel-journal.csv"`)
	w := csv.NewWriter(c.Writer)
	w.Write([]string{"time", "piece", "name", "machine", "kind", "passes", "pass", "cause", "note", "by"})
	for len(list) > 0 && err == nil {
		last := list[len(list)-1].ID
		writeEntries(w, s.fitting(ctx, q, list, pieces), pieces)
		if err = w.Error(); err == nil {
			list, err = s.store.EntriesAfter(ctx, q.Piece, last, csvEntries)
		}
	}
	if err != nil {
		slog.ErrorContext(ctx, "the journal is not sent whole", "error", err)
		w.Write([]string{"This is not all: the journal could not be read to its end."})
	}
	w.Flush()
}

// csvEntries is how many entries are taken at once: a journal may have more than there is memory for.
const csvEntries = 2000

func writeEntries(w *csv.Writer, list []store.Told, pieces map[int64]*piece.Piece) {
	for i := range list {
		t := &list[i]
		name, machine, id := "", "", ""
		if p := pieces[t.Piece]; p != nil {
			name, machine = p.Name, p.Machine.Name
		}
		if t.Pass.Section != "" {
			id = t.Pass.String()
		}
		w.Write([]string{t.At.Format(time.RFC3339), strconv.FormatInt(t.Piece, 10), plainCell(name),
			plainCell(machine), t.Kind, strconv.Itoa(t.Done), id, t.Cause, plainCell(t.Note), cmp.Or(t.Hand, "hand")})
	}
}

// plainCell keeps a table's program from taking what somebody wrote for a formula.
func plainCell(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}

// journalPhoto is the photograph of an entry.
func (s *Server) journalPhoto(c *gin.Context) {
	photo, err := s.store.JournalPhoto(c.Request.Context(), int64(number(c.Param("entry"), 0)))
	s.send(c, "jpg", photo, err)
}

// keepPhoto keeps a photograph at the row where she is.
func (s *Server) keepPhoto(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		at, err := s.store.Reached(c.Request.Context(), d.stored.ID)
		var photo []byte
		if err == nil {
			photo, err = s.photo(c)
		}
		note := strings.TrimSpace(c.PostForm("note"))
		if err == nil && photo == nil {
			err = inputError{errors.New("choose a photograph")}
		}
		if err == nil {
			err = tooLong("what it shows", note, mostRemark)
		}
		if err == nil {
			note = cmp.Or(note, fmt.Sprintf("photograph after %s", words.Count(d.done(at), "pass", "passes")))
			_, err = s.store.WritePhoto(c.Request.Context(), d.stored.ID, note, photo)
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pieces/%d/knit", d.stored.ID))
	})
}
