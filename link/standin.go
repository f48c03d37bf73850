package link

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"net"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"vindel/knit/beside"
	"vindel/knit/fabric"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// Fault is something that goes wrong at the simulated machine.
type Fault string

// The faults.
const (
	Miss    Fault = "miss"      // a pass is made and not reported
	Drop    Fault = "drop"      // the line drops, after a pass that is not reported any more
	WayBack Fault = "wrong-way" // the carriage is lifted over, and goes the wrong way
	Power   Fault = "power"     // the program is lost, and the line with it
	Twice   Fault = "twice"     // a line of the program is read twice; where none is read, the pass is reported twice
)

// Faults lists them.
var Faults = []Fault{Miss, Drop, WayBack, Power, Twice}

// ParseFault reads `kind@pass`: one of Faults, at a pass from 1.
func ParseFault(s string) (f Fault, at int, err error) {
	kind, n, ok := strings.Cut(s, "@")
	at, bad := strconv.Atoi(n)
	if !ok || bad != nil || at < 1 || !slices.Contains(Faults, Fault(kind)) {
		return "", 0, fmt.Errorf("%q: a fault is miss, drop, wrong-way, power or twice, then @ and the pass, "+
			"as miss@40", s)
	}
	return Fault(kind), at, nil
}

// Machine is the simulated machine: a bed that proves plans, hands that do what they are told, and a wire.
// It moves a carriage when the desk lets it, once a Pace, and reports each pass.
type Machine struct {
	Pace   time.Duration
	Hands  bool          // its hands put right by themselves what the page says, when they are told that it is done
	Faults map[int]Fault // by pass, from 1; each happens once
	Log    func(format string, a ...any)

	mu      sync.Mutex
	plan    *pass.Plan
	lines   [][]machine.Set // by section: what it has been sent; nil: it has no program
	sum     string
	ready   bool // it has been sent a program, if only an empty one
	run     *fabric.Run
	current *pass.Plan // that run goes through: what was made, and room for more
	made    []made     // physically, in order
	next    int        // index of the pass of the plan that it makes next
	upto    int        // index up to which, not including, it may go
	counter int
	heard   int // reports that the desk has answered
	said    int
	hands   hands // what hands have put right since the last pass
}

// made is a pass as it was physically made, and what hands had put right before it.
type made struct {
	pass     pass.Pass
	programs [][]machine.Set // that it had then
	hands
}

// hands is what they put right besides the steps of the plan: carriages carried over, needles put forward,
// these and no others, and the card or program put in at a line.
type hands struct {
	bring map[machine.Carriage]machine.Side
	put   *machine.Set
	turn  [2]int // section and line; 0: left as it is
	sweep bool   // and the reader is swept across, so that it takes the line
}

// knit makes a pass on the bed as it was made.
func (d *made) knit(run *fabric.Run) {
	run.Reads(d.programs)
	for c, side := range d.bring {
		run.Bring(c, side)
	}
	if d.turn[1] > 0 {
		run.Turn(d.turn[0], d.turn[1])
		if d.sweep {
			run.Sweep()
		}
	}
	if d.put != nil {
		run.Put(*d.put)
	}
	run.Next()
}

func (m *Machine) log(format string, a ...any) {
	if m.Log != nil {
		m.Log(format, a...)
	}
}

// errDropped ends a connection on purpose.
var errDropped = errors.New("the line has dropped")

// Serve takes one connection after another until the context ends.
func (m *Machine) Serve(ctx context.Context, l net.Listener) error {
	stop := context.AfterFunc(ctx, func() { l.Close() })
	defer stop()
	for {
		conn, err := l.Accept()
		if err != nil {
			if ctx.Err() != nil {
				return nil
			}
			return err
		}
		m.log("connected")
		err = m.talk(ctx, conn)
		conn.Close()
		if err != nil && !errors.Is(err, io.EOF) {
			m.log("%v", err)
		}
	}
}

// talk hears the desk and moves, until the line ends.
func (m *Machine) talk(ctx context.Context, conn net.Conn) error {
	lines, bad := make(chan string), make(chan error, 1)
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	context.AfterFunc(ctx, func() { conn.Close() })
	go func() {
		sc := bufio.NewScanner(conn)
		sc.Buffer(make([]byte, 64<<10), MaxLine)
		for sc.Scan() {
			select {
			case lines <- sc.Text():
			case <-ctx.Done():
				return
			}
		}
		err := sc.Err()
		if err == nil {
			err = io.EOF
		}
		bad <- err
	}()
	m.mu.Lock()
	m.upto, m.heard = 0, m.said // what was allowed, it is not any more
	m.mu.Unlock()
	say := func(msg Message) error {
		_, err := fmt.Fprintf(conn, "%s\n", msg)
		return err
	}
	tick := time.NewTicker(max(m.Pace, time.Millisecond))
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return nil
		case err := <-bad:
			return err
		case line := <-lines:
			msg, err := Read(line)
			if err != nil {
				err = say(Say("error", "text", err))
			} else {
				err = m.told(msg, say)
			}
			if err != nil {
				return err
			}
		case <-tick.C:
			if err := m.move(say); err != nil {
				return err
			}
		}
	}
}

// told does what the desk says.
func (m *Machine) told(msg Message, say func(Message) error) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	switch msg.Word {
	case "hello":
		if v := msg.Number("vindel", 0); v != Version {
			return say(Say("error", "text", fmt.Sprintf("hello: version %d is not spoken here, but %d", v, Version)))
		}
		return say(Say("hello", "vindel", Version, "moves", "yes", "sees", "carriage,counter,line,forward", "text",
			"Vindel's simulated machine"))
	case "piece":
		p, err := technique.Read([]byte(msg.Fields["json"]))
		if err != nil {
			return say(Say("error", "text", fmt.Sprintf("piece: %v", err)))
		}
		if m.plan == nil || p.Name != m.plan.Piece.Name { // another piece; else what hangs on it stays
			m.made, m.counter, m.next, m.hands = nil, 0, 0, hands{}
		}
		m.plan = plan.Make(p)
		m.again(len(m.made))
	case "line":
		section, n, of := msg.Number("section", 0), msg.Number("n", 0), msg.Number("of", 0)
		if m.plan == nil || section < 1 || section > len(m.plan.Placed) || n < 1 || n > of || of > pass.MaxPasses {
			return say(Say("error", "text", "line: there is no such line"))
		}
		set, ok := msg.Needles("selects", m.plan.Piece.Machine.Bed)
		if !ok {
			return say(Say("error", "text", fmt.Sprintf("line: selects: %.40q", msg.Fields["selects"])))
		}
		if m.lines == nil {
			m.lines = make([][]machine.Set, len(m.plan.Placed))
		}
		if n == 1 {
			m.lines[section-1] = nil
		}
		m.lines[section-1] = append(m.lines[section-1], set)
	case "sent":
		sum := m.has()
		if sum != msg.Fields["sum"] {
			return say(Say("error", "text", fmt.Sprintf("sent: the program came through otherwise: %s, not %s", sum,
				msg.Fields["sum"])))
		}
		m.sum, m.ready = sum, true
		if m.plan != nil {
			m.plan.Programs = m.programs()
			m.again(len(m.made))
		}
		return say(Say("ready", "lines", msg.Number("lines", 0), "sum", sum))
	case "at": // it takes over what it can set itself: which line comes next
		m.upto = 0
		next := msg.Number("pass", 1) - 1
		if m.Hands && m.plan != nil && next < len(m.plan.Passes) {
			m.putRight(next)
		}
		m.next = next
		if section, line := msg.Number("section", 0), msg.Number("line", 0); line > 0 && section > 0 &&
			m.run != nil && !m.hands.sweep {
			m.turn(section, line)
		}
		m.counter = msg.Number("counter", m.counter)
	case "go":
		if m.plan == nil {
			return say(Say("error", "text", "go: there is no piece"))
		}
		m.next, m.upto = msg.Number("pass", m.next+1)-1, msg.Number("upto", 0)
	case "halt":
		m.upto = 0
	case "heard":
		m.heard = msg.Number("n", m.heard)
	case "ask":
		return say(m.state())
	case "bye":
		return io.EOF
	default:
		return say(Say("error", "text", fmt.Sprintf("%s: not understood", msg.Word)))
	}
	return nil
}

// has is the sum of the lines that it has; "" where it has none.
func (m *Machine) has() string {
	if m.lines == nil {
		return ""
	}
	var all []string
	for _, section := range m.lines {
		for _, set := range section {
			all = append(all, set.String())
		}
	}
	return Sum(all)
}

func (m *Machine) programs() [][]machine.Set {
	programs := make([][]machine.Set, len(m.plan.Placed))
	copy(programs, m.lines)
	return programs
}

// spare is how many passes more than planned the bed has room for.
const spare = 64

// done is the plan of the passes as they were made, with room for some more.
func (m *Machine) done(room int) *pass.Plan {
	pl := *m.plan
	pl.Passes = make([]pass.Pass, room)
	copy(pl.Passes, m.plan.Passes)
	last := 0
	for i := range pl.Passes {
		if i < len(m.made) {
			pl.Passes[i] = m.made[i].pass
		} else if i >= len(m.plan.Passes) {
			pl.Passes[i].Course = last + 1
		}
		last = max(last, pl.Passes[i].Course)
	}
	return &pl
}

// again lets the bed stand as after n of the passes that were made.
func (m *Machine) again(n int) {
	m.made = m.made[:n]
	pl := m.done(len(m.plan.Passes) + spare + n)
	m.run = fabric.Begin(pl)
	for i := range m.made {
		m.made[i].knit(m.run)
	}
	m.run.Reads(m.plan.Programs)
	m.current = pl
}

// state is how it stands.
func (m *Machine) state() Message {
	lines := 0
	for _, section := range m.lines {
		lines += len(section)
	}
	line, sum := 0, m.sum
	if m.run != nil {
		_, line = m.run.Line()
	}
	if !m.ready {
		sum = "none"
	}
	knit, lace := "", ""
	if m.run != nil {
		knit, lace = m.run.Stands(machine.KnitCarriage).String(), m.run.Stands(machine.LaceCarriage).String()
	}
	return Say("state", "knit", knit, "lace", lace, "counter", m.counter, "line", line, "lines", lines, "sum", sum)
}

// move makes the next pass, where it may.
func (m *Machine) move(say func(Message) error) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.plan == nil || m.next >= min(m.upto, len(m.plan.Passes)) || m.heard < m.said {
		return nil
	}
	p := m.plan.Passes[m.next]
	fault := m.Faults[p.N]
	if fault == Power {
		m.log("pass %d: power is lost, and the program with it", p.N)
		delete(m.Faults, p.N)
		m.lines, m.sum, m.ready, m.upto = nil, "", false, 0
		return errDropped
	}
	if fault == Twice && p.Line == 0 && reads(m.plan, m.next) { // the next that reads
		delete(m.Faults, p.N)
		m.Faults[p.N+1] = Twice
		fault = ""
	}
	delete(m.Faults, p.N)
	report := m.make(p, fault)
	m.next++
	switch fault {
	case Miss:
		m.log("pass %d is made, and not reported", p.N)
		return nil
	case Drop:
		m.log("pass %d is made, and the line drops", p.N)
		return errDropped
	}
	m.said++
	report.Fields["n"] = strconv.Itoa(m.said)
	m.log("%s", report)
	if err := say(report); err != nil {
		return err
	}
	if fault == Twice && p.Line == 0 {
		m.log("and once more")
		m.said++
		report.Fields["n"] = strconv.Itoa(m.said)
		return say(report)
	}
	return nil
}

// reads says that a line is read in pass i (index) or one of those after it.
func reads(pl *pass.Plan, i int) bool {
	return slices.ContainsFunc(pl.Passes[i:], func(p pass.Pass) bool { return p.Line > 0 })
}

// make makes a pass physically, with a fault, and is the report of it.
func (m *Machine) make(p pass.Pass, fault Fault) Message {
	i := m.next
	if len(m.made) >= len(m.current.Passes) {
		m.again(len(m.made)) // with more room
	}
	now := made{p, m.plan.Programs, m.hands}
	now.pass.Dir = m.run.Stands(p.Carriage).Other() // it can only go from where it stands
	m.hands = hands{}
	for k := range p.Before {
		if st, ok := p.Before[k].Step.(step.Counter); ok {
			m.counter = st.To
		}
	}
	switch {
	case fault == WayBack:
		m.log("pass %d: the carriage is lifted over, and goes the wrong way", p.N)
		now.pass.Dir = now.pass.Dir.Other()
		now.bring = maps.Clone(now.bring)
		if now.bring == nil {
			now.bring = map[machine.Carriage]machine.Side{}
		}
		now.bring[p.Carriage] = now.pass.Dir.Other()
	case fault == Twice && p.Line > 0:
		line := p.Line - 1
		if line == 0 {
			line = max(1, len(m.lines[sectionOf(m.plan, i)-1]))
		}
		m.log("pass %d: line %d is read instead of line %d", p.N, line, p.Line)
		now.pass.Before = append(slices.Clone(p.Before), pass.Steps(step.SetCard{Line: line})...)
	}
	m.current.Passes[len(m.made)] = now.pass
	m.made = append(m.made, now)
	now.knit(m.run)
	m.counter += p.Counter - beside.Reading(m.plan, i)
	report := Say("moved", "carriage", p.Carriage, "dir", now.pass.Dir, "counter", m.counter)
	if prof := &m.plan.Piece.Machine; m.run.Took() > 0 && prof.Program != machine.NoProgram {
		report.Fields["line"] = strconv.Itoa(m.run.Took())
		if prof.School == machine.Preselect {
			report.Fields["forward"] = m.run.Forward().String()
		}
	}
	return report
}

// sectionOf is the section (from 1) whose program pass i reads.
func sectionOf(pl *pass.Plan, i int) int {
	p := &pl.Passes[i]
	if pl.Piece.Machine.School == machine.Preselect && i+1 < len(pl.Passes) && !p.Lace.InProgram {
		return max(1, pl.Passes[i+1].Section)
	}
	return max(1, p.Section)
}

// --- what hands do at it, as they are told -------------------------------------------------

// putRight does what the page says before pass next (index): what is too much is ravelled, what was knitted
// before this machine was connected is hung on it, carriage, needles and reader are put where they must stand.
func (m *Machine) putRight(next int) {
	if len(m.made) > next {
		m.again(next)
	}
	m.hands = hands{}
	for m.next = len(m.made); m.next < next; m.next++ {
		m.make(m.plan.Passes[m.next], "")
	}
	for c, side := range sidesBefore(m.plan, next) {
		m.bring(c, side)
	}
	p := &m.plan.Passes[next]
	forward := p.Main().Select
	if s := m.plan.Piece.Machine.School; s == machine.Direct || s == machine.Pairs {
		forward = machine.Set{} // the carriage brings forward what it needs
	}
	m.put(forward)
	if p.Own > 0 && m.plan.Piece.Machine.School == machine.Pairs && p.Dir == machine.Left {
		m.turn(max(1, p.Section), p.Own)
		m.hands.sweep = true
	}
}

// sidesBefore is where the carriages stand before pass i (index).
func sidesBefore(pl *pass.Plan, i int) map[machine.Carriage]machine.Side {
	sides := map[machine.Carriage]machine.Side{}
	for j := range i {
		if p := &pl.Passes[j]; p.Carriage == machine.LaceCarriage {
			sides[machine.LaceCarriage] = p.Dir
		} else if p.Carriage != machine.SecondCarriage {
			sides[machine.KnitCarriage] = p.Dir
		}
	}
	p := &pl.Passes[i]
	c := p.Carriage
	if c != machine.LaceCarriage {
		c = machine.KnitCarriage
	}
	sides[c] = p.Dir.Other()
	return sides
}

// Type does what somebody types who is its hands: "ravel 1", "bring knit left", "forward L3,L5-L7", "line 2 12" (of
// section 2), "sweep 2 12", "counter 40".
func (m *Machine) Type(text string) error {
	words := strings.Fields(text)
	number := func(i int) int {
		if i < len(words) {
			if n, err := strconv.Atoi(words[i]); err == nil && n >= 0 {
				return n
			}
		}
		return -1
	}
	m.mu.Lock()
	there := m.run != nil
	m.mu.Unlock()
	said := Message{Fields: map[string]string{"needles": strings.Join(words[min(1, len(words)):], "")}}
	switch {
	case len(words) == 0:
		return nil
	case !there:
		return errors.New("nothing hangs on it yet: connect it first")
	case words[0] == "ravel" && number(1) > 0:
		m.Ravel(number(1))
	case words[0] == "bring" && len(words) == 3:
		at := Message{Fields: map[string]string{"carriage": words[1], "side": words[2]}}
		c, known := at.Carriage("carriage")
		if side := at.Side("side"); known && side != 0 {
			m.Bring(c, side)
			return nil
		}
		return fmt.Errorf("%q: bring a carriage (knit, lace, purl) left or right", text)
	case words[0] == "forward":
		set, ok := said.Needles("needles", m.plan.Piece.Machine.Bed)
		if !ok {
			return fmt.Errorf("%q: needles are written as L3,L5-L7; none: forward", text)
		}
		m.Put(set)
	case words[0] == "line" && number(1) > 0 && number(2) > 0:
		m.Turn(number(1), number(2))
	case words[0] == "sweep" && number(1) > 0 && number(2) > 0:
		m.Sweep(number(1), number(2))
	case words[0] == "counter" && number(1) >= 0:
		m.Count(number(1))
	default:
		return fmt.Errorf("%q: ravel 1, bring knit left, forward L3,L5-L7, line 2 12, sweep 2 12 or counter 40", text)
	}
	return nil
}

// Ravel takes the last n passes back: loops hang again where they hung. Carriages, card and counter stay
// where they are, and no needle stands forward.
func (m *Machine) Ravel(n int) {
	m.mu.Lock()
	defer m.mu.Unlock()
	sides := map[machine.Carriage]machine.Side{}
	for _, c := range []machine.Carriage{machine.KnitCarriage, machine.LaceCarriage} {
		sides[c] = m.run.Stands(c)
	}
	section, line := m.run.Line()
	m.again(max(0, len(m.made)-n))
	for c, side := range sides {
		m.bring(c, side)
	}
	m.put(machine.Set{})
	if section > 0 {
		m.turn(section, line)
	}
}

// Bring carries a carriage to a side without knitting.
func (m *Machine) Bring(c machine.Carriage, side machine.Side) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.bring(c, side)
}

func (m *Machine) bring(c machine.Carriage, side machine.Side) {
	if m.hands.bring == nil {
		m.hands.bring = map[machine.Carriage]machine.Side{}
	}
	m.hands.bring[c] = side
	m.run.Bring(c, side)
}

// Put brings needles forward, these and no others.
func (m *Machine) Put(forward machine.Set) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.put(forward)
}

func (m *Machine) put(forward machine.Set) { m.hands.put = &forward }

// Turn puts the card or program of a section in at a line.
func (m *Machine) Turn(section, line int) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.turn(section, line)
}

func (m *Machine) turn(section, line int) {
	m.hands.turn, m.hands.sweep = [2]int{section, line}, false
	m.run.Turn(section, line)
}

// Sweep puts the card of a section in at a line and sweeps the reader across by hand, so that it takes it.
func (m *Machine) Sweep(section, line int) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.turn(section, line)
	m.hands.sweep = true
}

// Count sets the counter.
func (m *Machine) Count(n int) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.counter = n
}

// Fabric is what has been knitted on it so far.
func (m *Machine) Fabric() *fabric.Fabric {
	m.mu.Lock()
	defer m.mu.Unlock()
	pl := m.done(len(m.made))
	run := fabric.Begin(pl)
	for i := range m.made {
		m.made[i].knit(run)
	}
	return run.End()
}
