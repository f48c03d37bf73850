package link

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"strings"
	"sync"
	"time"

	"vindel/knit/beside"
	"vindel/knit/machine"
	"vindel/knit/pass"
)

// Desk is the desk's end of a wire.
type Desk struct {
	Name  string // what the machine calls itself
	Moves bool   // it moves by itself when it is let; else it only reports
	Sees  Sees

	conn    net.Conn
	bed     machine.Bed
	mu      sync.Mutex
	reports chan Message
	answers chan Message
	closed  chan struct{}
	err     error
	record  io.Writer
}

// answerTime is how long a machine may take to answer.
const answerTime = 10 * time.Second

// Dial connects to a machine on an address and greets it. What goes over the line is written to record too,
// where there is one: "> " what the desk says, "< " what the machine does.
func Dial(ctx context.Context, addr string, bed machine.Bed, record io.Writer) (*Desk, error) {
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return nil, fmt.Errorf("%q: an address is a name or number and a port, as 127.0.0.1:7070", addr)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback() && !ip.IsPrivate() &&
		!ip.IsLinkLocalUnicast()) {
		return nil, fmt.Errorf("%q: a machine is on this computer or on a cable of your own, as 127.0.0.1:7070 or "+
			"192.168.0.9:7070", addr)
	}
	var d net.Dialer
	ctx, cancel := context.WithTimeout(ctx, answerTime)
	defer cancel()
	conn, err := d.DialContext(ctx, "tcp", addr)
	if err != nil {
		return nil, fmt.Errorf("nobody answers at %s: is the machine on, and is the number right?", addr)
	}
	k := &Desk{conn: conn, bed: bed, reports: make(chan Message, 64), answers: make(chan Message, 4),
		closed: make(chan struct{}), record: record}
	go k.hear()
	hello, err := k.ask(ctx, Say("hello", "vindel", Version), "hello")
	if err != nil {
		k.Close()
		return nil, err
	}
	if v := hello.Number("vindel", 0); v != Version {
		k.Close()
		return nil, fmt.Errorf("%s speaks version %d of the protocol, and Vindel %d", addr, v, Version)
	}
	k.Name, k.Moves = hello.Fields["text"], hello.Fields["moves"] == "yes"
	for _, s := range strings.Split(hello.Fields["sees"], ",") {
		switch s {
		case "carriage":
			k.Sees.Carriage = true
		case "counter":
			k.Sees.Counter = true
		case "line":
			k.Sees.Line = true
		case "forward":
			k.Sees.Forward = true
		}
	}
	return k, nil
}

// hear sorts what the machine says: reports wait to be read, the rest are answers.
func (k *Desk) hear() {
	sc := bufio.NewScanner(k.conn)
	sc.Buffer(make([]byte, 64<<10), MaxLine)
	for sc.Scan() {
		k.note("< ", sc.Text())
		msg, err := Read(sc.Text())
		if err != nil {
			continue // what is no message says nothing
		}
		to := k.answers
		if msg.Word == "moved" {
			to = k.reports
		}
		select {
		case to <- msg:
		default: // nobody waits for so many
		}
	}
	k.mu.Lock()
	k.err = sc.Err()
	k.mu.Unlock()
	close(k.closed)
}

func (k *Desk) note(way, line string) {
	if k.record != nil {
		k.mu.Lock()
		fmt.Fprintf(k.record, "%s%s\n", way, line)
		k.mu.Unlock()
	}
}

// Close ends the connection.
func (k *Desk) Close() { k.conn.Close() }

// Closed is closed when the line has ended.
func (k *Desk) Closed() <-chan struct{} { return k.closed }

func (k *Desk) say(m Message) error {
	k.note("> ", m.String())
	k.conn.SetWriteDeadline(time.Now().Add(answerTime))
	_, err := fmt.Fprintf(k.conn, "%s\n", m)
	return err
}

// ask says something and waits for the answer with a word; an error message about it is an error.
func (k *Desk) ask(ctx context.Context, m Message, word string) (Message, error) {
	if err := k.say(m); err != nil {
		return m, err
	}
	for {
		select {
		case a := <-k.answers:
			switch a.Word {
			case word:
				return a, nil
			case "error": // of what was said before, that it does not know, nothing depends
				if text := a.Fields["text"]; strings.HasPrefix(text, m.Word+":") {
					return a, fmt.Errorf("the machine says: %.200s", text)
				}
			}
		case <-k.closed:
			return m, errors.New("the line ended before the machine had answered")
		case <-ctx.Done():
			return m, errors.New("the machine was asked, and has not answered in time")
		}
	}
}

// selects is what each line of a plan's programs selects, section by section.
func selects(pl *pass.Plan) (all []string) {
	for _, section := range pl.Programs {
		for _, set := range section {
			all = append(all, set.String())
		}
	}
	return all
}

// Send sends the piece and its program, and waits until the machine has it.
func (k *Desk) Send(ctx context.Context, pl *pass.Plan, piece []byte) error {
	ctx, cancel := context.WithTimeout(ctx, 3*answerTime)
	defer cancel()
	var one bytes.Buffer
	if err := json.Compact(&one, piece); err != nil {
		return err
	}
	if one.Len() < MaxLine-100 { // else a machine has to do with the lines
		if err := k.say(Say("piece", "json", one.String())); err != nil {
			return err
		}
	}
	for i, section := range pl.Programs {
		for n, set := range section {
			if err := k.say(Say("line", "section", i+1, "n", n+1, "of", len(section), "selects", set)); err != nil {
				return err
			}
		}
	}
	all := selects(pl)
	_, err := k.ask(ctx, Say("sent", "lines", len(all), "sum", sumOf(all)), "ready")
	return err
}

// sumOf is the check of a program; "" where there is none.
func sumOf(all []string) string {
	if len(all) == 0 {
		return ""
	}
	return Sum(all)
}

// State asks how the machine stands. It has the program of a plan where has is true.
func (k *Desk) State(ctx context.Context, pl *pass.Plan) (s State, has bool, err error) {
	ctx, cancel := context.WithTimeout(ctx, answerTime)
	defer cancel()
	m, err := k.ask(ctx, Say("ask"), "state")
	if err != nil {
		return s, false, err
	}
	s = State{Knit: m.Side("knit"), Lace: m.Side("lace"), Counter: m.Number("counter", 0), Line: m.Number("line", 0),
		Lines: m.Number("lines", 0), Sees: k.Sees}
	return s, m.Fields["sum"] == sumOf(selects(pl)), nil
}

// At says that pass i (index) comes next, and how the machine must stand for it: it takes over what it can set
// by itself.
func (k *Desk) At(pl *pass.Plan, i int) error {
	if i >= len(pl.Passes) {
		return k.say(Say("halt"))
	}
	p := &pl.Passes[i]
	section, line := beside.NextLine(pl, i)
	return k.say(Say("at", "pass", i+1, "section", section, "line", line, "counter", beside.Reading(pl, i),
		"carriage", p.Carriage,
		"side", p.Dir.Other(), "forward", p.Main().Select))
}

// Go lets the machine make the passes from the i-th (index) up to, not including, the j-th: hands have done
// what precedes them.
func (k *Desk) Go(i, j int) error { return k.say(Say("go", "pass", i+1, "upto", j)) }

// Halt lets it make no more.
func (k *Desk) Halt() error { return k.say(Say("halt")) }

// Reports are the passes that it has made, as it tells them; Heard answers one.
func (k *Desk) Reports() <-chan Message { return k.reports }

// Heard answers a report.
func (k *Desk) Heard(m Message) error { return k.say(Say("heard", "n", m.Number("n", 0))) }

// Report reads what a machine says of a pass; false where it does not say the way.
func (k *Desk) Report(m Message) (r Report, ok bool) {
	r = Report{Dir: m.Side("dir"), Counter: m.Number("counter", 0), Line: m.Number("line", 0), Sees: k.Sees}
	var known bool
	if r.Carriage, known = m.Carriage("carriage"); !known {
		r.Sees.Carriage = false
	}
	r.Sees.Counter = r.Sees.Counter && m.Has("counter")
	r.Sees.Line = r.Sees.Line && m.Has("line")
	if r.Forward, known = m.Needles("forward", k.bed); !known || !m.Has("forward") {
		r.Sees.Forward = false
	}
	return r, r.Dir != 0
}
