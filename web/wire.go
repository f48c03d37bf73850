package web

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"vindel/knit/beside"
	"vindel/knit/pass"
	"vindel/knit/words"
	"vindel/link"
	"vindel/store"
)

// wires are the machines that are connected, one a piece.
type wires struct {
	mu sync.Mutex
	by map[int64]*wire
}

// wire follows one machine for one piece: it holds every report to the plan and writes it down. What is
// otherwise stops it until she says that it is put right.
type wire struct {
	server *Server
	id     int64 // of the piece
	addr   string
	cancel context.CancelFunc

	mu      sync.Mutex
	name    string
	on      bool // the line is there
	moves   bool // it moves by itself
	told    bool // it was connected before
	verdict *link.Verdict
	upto    int    // index up to which it was let go; 0: it waits
	says    string // why it is not there
	silent  bool   // the line is there, and nobody has answered lately
	mark    int    // counts changes, for pages that listen
	desk    *link.Desk
	expect  int        // the index of the pass that the machine has been told comes next
	rev     int64      // of the piece whose program it has,
	plan    *pass.Plan // its plan,
	before  *pass.Plan // and that by which it was let go, where the piece was edited since; nil: it was not
}

// wireView is the wire as the page beside the machine shows it.
type wireView struct {
	Name, Addr, Says string
	On, Moves, Going bool
	Gone             bool     // nobody answers
	Words            string   // what is otherwise
	Do               []string // to put it right
	Next             int      // the pass, from 1, that comes then
}

// wireMark changes whenever there is something new to show of a piece's wire.
func (s *Server) wireMark(id int64) string {
	w := s.wire(id)
	if w == nil {
		return "-"
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	return fmt.Sprint(w.mark)
}

func (s *Server) wire(id int64) *wire {
	s.wires.mu.Lock()
	defer s.wires.mu.Unlock()
	return s.wires.by[id]
}

// wireView is nil where no machine is connected.
func (s *Server) wireView(id int64) *wireView {
	w := s.wire(id)
	if w == nil {
		return nil
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	v := &wireView{Name: w.name, Addr: w.addr, Says: words.Capital(w.says), On: w.on, Moves: w.moves, Going: w.upto > 0,
		Gone: !w.on || w.silent}
	if w.on && w.silent {
		v.Says = "It was asked how it stands, and has not answered."
	}
	if w.verdict != nil {
		v.Words, v.Do, v.Next = w.verdict.Words, w.verdict.Do, w.verdict.Next+1
	}
	return v
}

// wireAddr is the setting that keeps the address that was connected last.
const wireAddr = "wire-address"

// connectWire connects a machine to the piece, or ends that.
func (s *Server) connectWire(c *gin.Context) {
	s.withPiece(c, func(d *opened) {
		if c.PostForm("do") == "end" {
			s.wireTo(d.stored.ID, nil)
		} else {
			addr := strings.TrimSpace(c.PostForm("addr"))
			desk, err := link.Dial(c.Request.Context(), addr, d.piece.Machine.Bed, nil)
			if err == nil {
				err = s.store.SetSetting(c.Request.Context(), wireAddr, addr)
			}
			if err != nil {
				s.fail(c, inputError{err})
				return
			}
			ctx, cancel := context.WithCancel(context.Background())
			w := &wire{server: s, id: d.stored.ID, addr: addr, cancel: cancel}
			s.wireTo(w.id, w)
			greeted := make(chan error, 1)
			go w.run(ctx, desk, greeted)
			select {
			case err := <-greeted:
				if err != nil {
					slog.WarnContext(ctx, "a machine on a wire", "error", err)
				}
			case <-c.Request.Context().Done():
			}
		}
		s.hub.tell(d.stored.ID)
		s.answerKnit(c, d)
	})
}

// wireTo puts a wire in the place of what a piece had; nil: none.
func (s *Server) wireTo(id int64, w *wire) {
	s.wires.mu.Lock()
	defer s.wires.mu.Unlock()
	if was := s.wires.by[id]; was != nil {
		was.cancel()
	}
	if delete(s.wires.by, id); w != nil {
		s.wires.by[id] = w
	}
}

// endWires ends them all.
func (s *Server) endWires() {
	s.wires.mu.Lock()
	defer s.wires.mu.Unlock()
	for _, w := range s.wires.by {
		w.cancel()
	}
}

// set changes what pages see, under the lock, and tells them.
func (w *wire) set(f func()) {
	w.mu.Lock()
	f()
	w.mark++
	w.mu.Unlock()
	w.server.hub.tell(w.id)
}

// How long a wire waits: before it connects again; without a report before it asks how the machine stands; and then
// for an answer before it says that there is none. Both together are the two seconds in which she must know.
const (
	againIn = time.Second
	idle    = 800 * time.Millisecond
	patient = 1000 * time.Millisecond
)

// run keeps the line until the context ends; desk is the first connection, and greeted hears how it went.
func (w *wire) run(ctx context.Context, desk *link.Desk, greeted chan error) {
	changed, stop := w.server.hub.listen(w.id)
	defer stop()
	for {
		if desk == nil {
			var err error
			d, failed := w.server.openIn(ctx, w.id, requestTime)
			if failed != nil {
				return // the piece is gone
			}
			if desk, err = link.Dial(ctx, w.addr, d.piece.Machine.Bed, nil); err != nil {
				w.set(func() { w.says = err.Error() })
			}
		}
		if desk != nil {
			err := unbroken(func() error { return w.greet(ctx, desk) })
			if greeted != nil {
				greeted <- err
				greeted = nil
			}
			if err == nil {
				err = unbroken(func() error { return w.follow(ctx, desk, changed) })
			}
			desk.Close()
			desk = nil
			if ctx.Err() == nil {
				w.set(func() { w.on, w.upto, w.desk, w.says = false, 0, nil, fmt.Sprint(err) })
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-w.server.hub.ended:
			return
		case <-time.After(againIn):
		}
	}
}

// unbroken does something, and where that breaks down says so: a line that breaks does not take the pages with it.
func unbroken(do func() error) (err error) {
	defer func() {
		if broke := recover(); broke != nil {
			slog.Error("a line to a machine broke down", "error", broke, "at", string(debug.Stack()))
			err = errors.New("something went wrong here, not in what the machine did; the log has it")
		}
	}()
	return do()
}

// place is the piece as it is now, and the index of the pass that comes next.
func (w *wire) place(ctx context.Context) (d *opened, at store.Entry, i int, err error) {
	if d, err = w.server.openIn(ctx, w.id, requestTime); err == nil {
		at, err = w.server.store.Reached(ctx, w.id)
	}
	if err != nil {
		return nil, at, 0, err
	}
	return d, at, d.done(at), nil
}

// greet finds out how the machine stands, and sends it what it has not.
func (w *wire) greet(ctx context.Context, desk *link.Desk) error {
	d, _, i, err := w.place(ctx)
	if err != nil {
		return err
	}
	pl := d.result.Plan
	state, has, err := desk.State(ctx, pl)
	if err == nil && !has {
		err = desk.Send(ctx, pl, d.stored.Doc)
	}
	if err != nil {
		return err
	}
	v := link.Found(pl, i, state, has, w.told)
	if !w.told && !has && i > 0 { // a machine that comes new to a piece that is begun: she sets it
		v = link.Verdict{What: link.Elsewhere, Next: i,
			Words: "The machine was sent the program. So must it stand to go on from here.",
			Do:    beside.RestoreOrEnd(pl, i)}
	}
	w.set(func() {
		w.name, w.moves, w.on, w.told, w.desk, w.says, w.rev = desk.Name, desk.Moves, true, true, desk, "", d.stored.Rev
		w.plan = pl
		if w.verdict == nil || !v.Right() {
			w.verdict = nil
			if !v.Right() {
				w.verdict = &v
			}
		}
	})
	return w.at(d, i)
}

// at tells the machine which pass (index) of a piece comes next.
func (w *wire) at(d *opened, next int) error {
	w.mu.Lock()
	desk := w.desk
	w.expect, w.upto = next, 0
	w.mu.Unlock()
	if desk == nil {
		return errors.New("the line is not there")
	}
	return desk.At(d.result.Plan, next)
}

// follow hears reports until the line ends.
func (w *wire) follow(ctx context.Context, desk *link.Desk, changed chan struct{}) error {
	quiet := time.NewTicker(idle)
	defer quiet.Stop()
	for {
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-w.server.hub.ended:
			return errors.New("the program ends")
		case <-desk.Closed():
			return errors.New("the line has dropped; it is connected again as soon as it can be")
		case <-changed: // she may have gone elsewhere, or changed the piece
			if err := w.catchUp(ctx, desk); err != nil {
				return err
			}
		case m := <-desk.Reports():
			quiet.Reset(idle)
			if r, ok := desk.Report(m); ok {
				if err := w.heard(ctx, desk, r); err != nil {
					return err
				}
			}
			if err := desk.Heard(m); err != nil {
				return err
			}
		case <-quiet.C:
			if err := w.look(ctx, desk); err != nil {
				return err
			}
		}
	}
}

// look asks how the machine stands: it may be gone though nothing says so, as where a cable is out. Where it was let
// go, a pass may have been made that was not reported; it is stopped where it does not stand as it was told.
func (w *wire) look(ctx context.Context, desk *link.Desk) error {
	d, _, i, err := w.place(ctx)
	if errors.Is(err, errWorking) { // a large piece that was edited: it is asked again
		return nil
	}
	if err != nil {
		return err
	}
	still := time.AfterFunc(patient, func() { w.set(func() { w.silent = true }) })
	state, has, err := desk.State(ctx, d.result.Plan)
	still.Stop()
	w.mu.Lock()
	silent, waits := w.silent, w.upto > 0 && w.verdict == nil
	w.mu.Unlock()
	if silent {
		w.set(func() { w.silent = false })
	}
	if err != nil || !waits || len(desk.Reports()) > 0 { // what it reported before it answered is heard first
		return err
	}
	if v := link.Found(d.result.Plan, i, state, has, true); !v.Right() {
		return w.stop(desk, &v)
	}
	return nil
}

func (w *wire) stop(desk *link.Desk, v *link.Verdict) error {
	w.set(func() { w.verdict, w.upto = v, 0 })
	return desk.Halt()
}

// catchUp tells the machine where she is now, where that is another place than it was told, and sends it the
// program anew where the piece is another.
func (w *wire) catchUp(ctx context.Context, desk *link.Desk) error {
	d, _, i, err := w.place(ctx)
	if err != nil {
		return err
	}
	w.mu.Lock()
	same, moved := w.rev == d.stored.Rev, w.expect != i
	w.mu.Unlock()
	if !same {
		if err := w.renew(ctx, desk, d); err != nil {
			return err
		}
	}
	if !same || moved {
		err := w.at(d, i)
		w.set(func() { w.verdict = nil })
		return err
	}
	return nil
}

// renew sends the machine the program of a piece that was edited.
func (w *wire) renew(ctx context.Context, desk *link.Desk, d *opened) error {
	if err := desk.Halt(); err != nil {
		return err
	}
	if err := desk.Send(ctx, d.result.Plan, d.stored.Doc); err != nil {
		return err
	}
	w.mu.Lock()
	if w.upto > 0 && w.before == nil { // a pass may be under way
		w.before = w.plan
	}
	w.rev, w.plan = d.stored.Rev, d.result.Plan
	w.mu.Unlock()
	return nil
}

// heard holds a report to the plan, and writes the pass down.
func (w *wire) heard(ctx context.Context, desk *link.Desk, r link.Report) error {
	w.mu.Lock()
	stopped := w.verdict != nil
	w.mu.Unlock()
	if stopped {
		return desk.Halt() // what is made before all is right again is put right with it
	}
	d, at, i, err := w.place(ctx)
	if err != nil {
		return err
	}
	w.mu.Lock()
	renewed := w.rev != d.stored.Rev
	w.mu.Unlock()
	if renewed {
		if err := w.renew(ctx, desk, d); err != nil {
			return err
		}
	}
	w.mu.Lock()
	before := w.before
	w.mu.Unlock()
	v := link.Judge(d.result.Plan, i, r)
	if before != nil { // it was made as it was planned when the machine was let go
		if was := link.Judge(before, i, r); was.What == link.AsPlanned {
			v = link.Remade(before, d.result.Plan, i)
		}
	}
	switch {
	case v.What == link.Again:
		return nil
	case !v.Right():
		if err := w.note(ctx, d, at, i, &v); err != nil {
			return err
		}
		return w.stop(desk, &v)
	}
	e := store.Entry{Kind: "knitted", Done: v.Next, Pass: d.result.Plan.Passes[v.Next-1].ID, Hand: "wire"}
	if _, err := w.server.store.Write(ctx, w.id, at.ID, e); errors.Is(err, store.ErrMoved) {
		return w.heard(ctx, desk, r) // she pressed at the same moment: it is held to where she is now
	} else if err != nil {
		return err
	}
	w.set(func() {
		if w.expect = v.Next; w.expect >= w.upto || renewed {
			w.upto = 0
		}
	})
	if renewed { // it was halted, and is let go again by her
		return w.at(d, v.Next)
	}
	return nil
}

// note writes down what was otherwise.
func (w *wire) note(ctx context.Context, d *opened, at store.Entry, i int, v *link.Verdict) error {
	e := store.Entry{Kind: "wire", Done: i, Pass: at.Pass, Note: v.Words, Cause: string(v.What), Hand: "wire"}
	_, err := w.server.store.Write(ctx, w.id, at.ID, e)
	if errors.Is(err, store.ErrMoved) {
		return nil
	}
	return err
}

// wireDo does what she says of the machine: let it go, halt it, or that all is put right. at is where she is.
func (s *Server) wireDo(ctx context.Context, d *opened, do string, done int, at store.Entry) error {
	w := s.wire(d.stored.ID)
	if w == nil {
		return inputError{errors.New("no machine is connected")}
	}
	w.mu.Lock()
	desk, verdict := w.desk, w.verdict
	w.mu.Unlock()
	if desk == nil {
		return inputError{errors.New("the line to the machine is not there; it is connected again as soon as " +
			"it can be")}
	}
	switch do {
	case "go":
		if verdict != nil || done >= len(d.result.Plan.Passes) {
			return inputError{errors.New("first put right what is otherwise")}
		}
		upto := done + beside.UpTo(d.result.Plan, done)
		if err := desk.Go(done, upto); err != nil {
			return err
		}
		w.set(func() { w.upto, w.expect, w.before = upto, done, nil })
	case "halt":
		w.set(func() { w.upto = 0 })
		return desk.Halt()
	case "right":
		if verdict == nil {
			return nil
		}
		if next := verdict.Next; next != done {
			e := store.Entry{Kind: "knitted", Done: next, Note: verdict.Words, Cause: string(verdict.What),
				Hand: "wire"}
			if next < done {
				e.Kind = "back"
			}
			if next > 0 {
				e.Pass = d.result.Plan.Passes[next-1].ID
			}
			if _, err := s.store.Write(ctx, d.stored.ID, at.ID, e); err != nil {
				return err
			}
		}
		next := verdict.Next
		w.set(func() { w.verdict, w.before = nil, nil })
		return w.at(d, next)
	}
	return nil
}
