package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"vindel/link"
	"vindel/store"
)

// built is the program as it runs, built once for all tests that start and kill it.
var built = sync.OnceValues(func() (string, error) {
	dir, err := os.MkdirTemp("", "vindel-test-")
	if err != nil {
		return "", err
	}
	binary := filepath.Join(dir, "vindel")
	if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		return "", fmt.Errorf("%w\n%s", err, out)
	}
	return binary, nil
})

// started is the program at work: with the command and the folder given, on a port of its own.
func started(t *testing.T, command, dir string) (cmd *exec.Cmd, at string) {
	t.Helper()
	binary, err := built()
	if err != nil {
		t.Fatal(err)
	}
	cmd = exec.Command(binary, command, "--addr", "127.0.0.1:0", "--data", dir)
	pipe, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	line := make([]byte, 200)
	n, _ := pipe.Read(line)
	if at = regexp.MustCompile(`http://\S+/`).FindString(string(line[:n])); at == "" {
		t.Fatalf("no address in %q", line[:n])
	}
	return cmd, at
}

// kill ends it with -9.
func kill(cmd *exec.Cmd) {
	cmd.Process.Kill()
	cmd.Wait()
}

// asking is one device: it posts, and knows what its page shows.
type asking struct {
	http *http.Client
	at   string
	page string // what was answered last
}

func newAsking(at string) *asking {
	return &asking{&http.Client{Timeout: 20 * time.Second, Transport: &http.Transport{},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}, at, ""}
}

// once is the status that is answered, 0 where the answer does not come through.
func (a *asking) once(method, path, kind string, rev int64, body string) int {
	req, err := http.NewRequest(method, a.at+path, strings.NewReader(body))
	if err != nil {
		return 0
	}
	req.Header.Set("Content-Type", kind)
	if kind == asForm && strings.HasSuffix(path, "/knit") { // the page beside the machine takes the place of itself
		req.Header.Set("HX-Request", "true")
	} else {
		req.Header.Set("Accept", "application/json, text/html")
	}
	if rev > 0 {
		req.Header.Set("Vindel-Rev", strconv.FormatInt(rev, 10))
	}
	res, err := a.http.Do(req)
	if err != nil {
		return 0
	}
	defer res.Body.Close()
	all, err := io.ReadAll(res.Body)
	if err != nil {
		return 0
	}
	a.page = string(all)
	return res.StatusCode
}

const asForm = "application/x-www-form-urlencoded"

// answer is what becomes of a step of a client.
type answer int

const (
	lost   answer = iota // no answer came through: it is done, or it is not
	done                 // it is answered that it is done
	behind               // another device was quicker, and it is not done
)

// told is the answer that a status gives. Told that the piece is still being worked out, so that nothing was done, a
// client asks again, as she would.
func (a *asking) told(do func() int) answer {
	for {
		switch status := do(); {
		case status == http.StatusTooEarly || status == http.StatusTooManyRequests:
			time.Sleep(20 * time.Millisecond)
		case status == http.StatusConflict:
			return behind
		case status > 0 && status < 400:
			return done
		default:
			return lost
		}
	}
}

func (a *asking) form(path string, values url.Values) answer {
	return a.told(func() int { return a.once("POST", path, asForm, 0, values.Encode()) })
}

// value is a hidden field of the page that was answered last.
func (a *asking) value(name string) string {
	if m := regexp.MustCompile(`name="` + name + `" value="([^"]*)"`).FindStringSubmatch(a.page); m != nil {
		return m[1]
	}
	return ""
}

// look reads a page, when it has been worked out.
func (a *asking) look(path string) bool {
	for {
		switch status := a.once("GET", path, asForm, 0, ""); status {
		case http.StatusOK:
			return true
		case http.StatusAccepted:
			time.Sleep(20 * time.Millisecond)
		default:
			return false
		}
	}
}

// press presses on the page beside the machine; a device that has none yet, or was behind, looks first.
func (a *asking) press(id int, do string, more url.Values) answer {
	path := fmt.Sprintf("pieces/%d/knit", id)
	if a.value("place") == "" {
		if !a.look(path) {
			return lost
		}
	}
	values := url.Values{"do": {do}, "from": {a.value("from")}, "rev": {a.value("rev")}, "place": {a.value("place")}}
	for name, v := range more {
		values[name] = v
	}
	return a.form(path, values) // also of a press that is behind the answer is the page as it is
}

// edit draws a row of a piece's chart, or takes that back, on the state that this device has seen last.
func (a *asking) edit(id int, path, row string) answer {
	var seen struct{ Rev int64 }
	for json.Unmarshal([]byte(a.page), &seen) != nil || seen.Rev == 0 {
		if !a.look(fmt.Sprintf("pieces/%d/state?chart=c", id)) {
			return lost
		}
	}
	body := fmt.Sprintf(`{"label":"draw","changes":[{"op":"replace","path":"/charts/c/rows/0","value":%q}]}`, row)
	got := a.told(func() int {
		return a.once("POST", fmt.Sprintf("pieces/%d/%s?chart=c", id, path), "application/json", seen.Rev, body)
	})
	if got == behind {
		a.page = "" // it looks again
	}
	return got
}

// client is what one kind of client does, with as many devices as work at once: a step is asked for again and again,
// with a name that no other step has. have counts the steps that are stored, and says what is wrong with them.
type client struct {
	name    string
	devices int
	step    func(a *asking, n int, name string) answer // n: how many this device has been answered
	have    func(st *store.Store) (int, error)
}

// crashPieces are the pieces that the clients work at, a plain one of many rows each.
const crashPieces = 4

const longPiece = `{"vindel":1,"name":"line","machine":{"profile":"hand-mid"},"yarns":[{"id":"A"},{"id":"B"}],
	"charts":{"c":{"legend":{".":{"yarn":"A"},"#":{"yarn":"B"}},"rows":["...............","..............."]}},
	"needles":{"from":"L15","to":"R15"},"sections":[{"technique":"plain","yarn":"A","rows":6000},
	{"technique":"two-colour","areas":[{"chart":"c","first":"L15"}]}]}`

// picture is a photograph, small.
var picture = sync.OnceValue(func() []byte {
	var b bytes.Buffer
	jpeg.Encode(&b, image.NewRGBA(image.Rect(0, 0, 40, 30)), nil)
	return b.Bytes()
})

// distinct counts names with a prefix, none of them twice.
func distinct(names []string, prefix string) (n int, err error) {
	names = slices.DeleteFunc(slices.Clone(names), func(s string) bool { return !strings.HasPrefix(s, prefix) })
	slices.Sort(names)
	for i := range names {
		if i > 0 && names[i] == names[i-1] {
			return 0, fmt.Errorf("%q is there twice", names[i])
		}
	}
	return len(names), nil
}

// knitted counts passes of a piece's journal, each of which follows the one before it.
func knitted(st *store.Store, id int64) (n int, err error) {
	list, err := st.Journal(context.Background(), id, 1<<20)
	at := 0
	for _, e := range slices.Backward(list) {
		switch {
		case e.Kind == "knitted" && e.Done == at+1:
			at = e.Done
		case e.Done != at:
			return 0, fmt.Errorf("entry %d, %s, says %d passes after %d", e.ID, e.Kind, e.Done, at)
		}
	}
	return at, err
}

// another is a row of stitches that is not the one before.
var strokes atomic.Int64

func another() string {
	return strings.NewReplacer("0", ".", "1", "#").Replace(fmt.Sprintf("%015b", strokes.Add(1)%(1<<15)))
}

// undoing is the client whose steps are counted by revisions, which a restore raises: it rests meanwhile.
const undoing = "undo and redo"

// Two devices press at one piece, two draw at another, where versions are named too; somebody takes photographs and
// writes remarks beside those who press; the rest go their own ways.
func crashClients() []client {
	ctx := context.Background()
	notes := func(st *store.Store, id int64, prefix string) (int, error) {
		list, err := st.Journal(ctx, id, 1<<20)
		if err != nil {
			return 0, err
		}
		var names []string
		for _, e := range list {
			names = append(names, e.Note)
		}
		return distinct(names, prefix)
	}
	return []client{
		{"presses", 2, func(a *asking, _ int, _ string) answer { return a.press(1, "knitted", nil) },
			func(st *store.Store) (int, error) { return knitted(st, 1) }},
		{"photographs", 1, func(a *asking, _ int, name string) answer {
			var b bytes.Buffer
			w := multipart.NewWriter(&b)
			w.WriteField("note", "photo "+name)
			f, _ := w.CreateFormFile("photo", "row.jpg")
			f.Write(picture())
			w.Close()
			return a.told(func() int {
				return a.once("POST", "pieces/1/knit/photo", w.FormDataContentType(), 0, b.String())
			})
		}, func(st *store.Store) (int, error) { return notes(st, 1, "photo ") }},
		{"remarks", 1, func(a *asking, _ int, name string) answer {
			return a.press(1, "note", url.Values{"note": {"remark " + name}})
		}, func(st *store.Store) (int, error) { return notes(st, 1, "remark ") }},
		{"strokes", 2, func(a *asking, _ int, _ string) answer {
			return a.edit(2, "edit", another())
		}, func(st *store.Store) (int, error) {
			p, err := st.Piece(ctx, 2)
			return p.Head, err
		}},
		{undoing, 1, func(a *asking, n int, _ string) answer { // a stroke, taken back, done again
			return a.edit(3, []string{"edit", "undo", "redo"}[n%3], another())
		}, func(st *store.Store) (int, error) {
			p, err := st.Piece(ctx, 3)
			return int(p.Rev), err
		}},
		{"versions", 1, func(a *asking, _ int, name string) answer {
			return a.form("pieces/2/versions", url.Values{"name": {"version " + name}})
		}, func(st *store.Store) (int, error) {
			list, err := st.Versions(ctx, 2)
			var names []string
			for _, v := range list {
				names = append(names, v.Name)
			}
			if err != nil {
				return 0, err
			}
			return distinct(names, "version ")
		}},
		{"new pieces", 1, func(a *asking, _ int, name string) answer {
			return a.form("pieces", url.Values{"name": {"new " + name}, "machine": {"hand-mid"}, "from": {"text"},
				"text": {"..#"}})
		}, func(st *store.Store) (int, error) {
			shelf, err := st.Count(ctx)
			return shelf - crashPieces, err
		}},
		{"machines", 1, func(a *asking, _ int, _ string) answer {
			return a.form("machines", url.Values{"machine": {"hand-mid"}})
		}, func(st *store.Store) (int, error) {
			list, err := st.Machines(ctx)
			return len(list), err
		}},
	}
}

// onTheWire lets a simulated machine knit at a piece until the server is gone. It counts the passes that are made: of
// each but the last the machine has heard that it is written.
func onTheWire(t *testing.T, at string, id int) (made *atomic.Int64, stop func()) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	made = &atomic.Int64{}
	rows := map[string]bool{} // by the counter: a row that hands have ravelled is made again
	m := &link.Machine{Pace: time.Microsecond, Hands: true, Log: func(f string, v ...any) {
		if row := regexp.MustCompile(`^moved .*counter=\d+`).FindString(fmt.Sprintf(f, v...)); row != "" {
			rows[row[strings.LastIndex(row, "counter"):]] = true
			made.Store(int64(len(rows)))
		}
	}}
	ctx, cancel := context.WithCancel(t.Context())
	var all sync.WaitGroup
	all.Go(func() { m.Serve(ctx, l) })
	all.Go(func() {
		a := newAsking(at)
		if a.form(fmt.Sprintf("pieces/%d/wire", id), url.Values{"addr": {l.Addr().String()}}) != done {
			return
		}
		for ctx.Err() == nil {
			a.page = ""
			if a.press(id, "go", nil) == done {
				continue
			}
			// The line has not begun, or the machine is not where the piece is: its hands put that right.
			a.page = ""
			a.press(id, "right", nil)
			if time.Sleep(5 * time.Millisecond); a.once("GET", "words", "", 0, "") == 0 {
				return
			}
		}
	})
	return made, func() { cancel(); all.Wait() }
}

// copied is the number of steps of each client that a copy, or a database beside the data, holds.
func copied(t *testing.T, clients []client, path string) (have []int) {
	t.Helper()
	dir := t.TempDir()
	if strings.HasSuffix(path, ".zip") {
		if _, err := store.Restore(t.Context(), path, dir); err != nil {
			t.Fatalf("%s: %v", path, err)
		}
	} else {
		data, err := os.ReadFile(path)
		if err == nil {
			err = os.WriteFile(filepath.Join(dir, store.FileName), data, 0o600)
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	st, err := store.Open(t.Context(), dir)
	if err != nil {
		t.Fatalf("%s: %v", path, err)
	}
	defer st.Close()
	return counted(t, clients, st)
}

func counted(t *testing.T, clients []client, st *store.Store) (have []int) {
	t.Helper()
	for _, c := range clients {
		n, err := c.have(st)
		if err != nil {
			t.Fatalf("%s: %v", c.name, err)
		}
		have = append(have, n)
	}
	return have
}

// replacedIn are the databases that a restore has kept, the latest last.
func replacedIn(dir string) []string {
	list, _ := filepath.Glob(filepath.Join(dir, "vindel-replaced-*.db"))
	slices.Sort(list)
	return list
}

// TestCrashes: all kinds of writers work, several at one piece, while the process is killed with -9 at random moments,
// again and again. Whatever was answered is there, once and in its order. In every fifth round a copy is made and
// brought back meanwhile: what was answered is then in what is kept of before, or in what is there now.
func TestCrashes(t *testing.T) {
	rounds := 5
	if n, err := strconv.Atoi(os.Getenv("VINDEL_ROUNDS")); err == nil {
		rounds = n
	}
	clients := crashClients()
	c := &crashing{clients: clients, sums: make([]int, len(clients))}
	for ; c.rounds < rounds; c.rounds++ {
		if c.rounds%100 == 0 { // on other data, before the long piece is knitted to its end
			c.begin(t)
		}
		c.round(t, c.rounds%5 == 4)
	}
	all := 0
	for i, n := range c.sums {
		if n < rounds/2 {
			t.Errorf("%s: %d answers in %d rounds", clients[i].name, n, rounds)
		}
		all += n
	}
	if c.passes < rounds/2 {
		t.Errorf("%d passes on the wire in %d rounds", c.passes, rounds)
	}
	t.Logf("%d kills, %d answers and %d passes on the wire, all there, %d copies brought back: %v", rounds, all, c.passes,
		c.restored, c.sums)
}

// crashing is the harness: what each client had, by what is stored, at the end of the last round.
type crashing struct {
	clients []client
	dir     string
	had     []int
	wired   int // passes of the piece on the wire

	rounds, restored, passes int
	sums                     []int
}

func (r *crashing) begin(t *testing.T) {
	r.dir = t.TempDir()
	st, err := store.Open(t.Context(), r.dir)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	for range crashPieces {
		if _, err := st.Add(t.Context(), []byte(longPiece)); err != nil {
			t.Fatal(err)
		}
	}
	r.had, r.wired = counted(t, r.clients, st), 0
}

// round lets all clients work until it kills the server, and holds what is stored to what was answered.
func (r *crashing) round(t *testing.T, restores bool) {
	cmd, at := started(t, "serve", r.dir)
	var all, first sync.WaitGroup // first: every client has had an answer
	answered := make([]atomic.Int64, len(r.clients))
	for i, c := range r.clients {
		if restores && c.name == undoing {
			continue
		}
		for device := range c.devices {
			first.Add(1)
			all.Go(func() {
				had := sync.OnceFunc(first.Done)
				defer had()
				a := newAsking(at)
				for n := 0; ; {
					switch c.step(a, n, fmt.Sprint(r.rounds, " ", device, " ", n)) {
					case done:
						n++
						answered[i].Add(1)
						had()
					case lost:
						return
					}
				}
			})
		}
	}
	made, stop := &atomic.Int64{}, func() {}
	if !restores {
		made, stop = onTheWire(t, at, 4)
	}
	// Every other round waits for the first answers, so that each has something to lose on a slow machine too.
	if restores || r.rounds%2 == 0 {
		first.Wait()
	}
	kept := replacedIn(r.dir)
	var was []int // what the copy holds that is brought back
	if restores {
		a := newAsking(at)
		a.http.Timeout = 0 // a copy beside so many writers takes its time on a busy machine
		for again := 0; a.form("backup", url.Values{"do": {"now"}}) != done; again++ {
			if again == 5 {
				t.Fatalf("round %d: no copy: %s", r.rounds, a.page)
			}
		}
		list, _ := filepath.Glob(filepath.Join(r.dir, store.CopiesDir, "*.zip"))
		last := slices.Max(list)
		was = copied(t, r.clients, last)
		all.Go(func() { a.form("backup", url.Values{"do": {"restore"}, "copy": {filepath.Base(last)}}) })
	}
	most := 400
	if restores { // about half of them are through by then
		most = 1200
	}
	time.Sleep(time.Duration(100+rand.IntN(most)) * time.Millisecond)
	kill(cmd)
	all.Wait()
	stop()
	st, err := store.Open(t.Context(), r.dir)
	if err != nil {
		t.Fatalf("round %d: %v", r.rounds, err)
	}
	defer st.Close()
	now := counted(t, r.clients, st)
	wrong := r.misses(now, answered)
	if list := replacedIn(r.dir); wrong != "" && len(list) > len(kept) {
		r.restored++ // what was answered before is kept, what was answered since is added to what was brought back
		have := copied(t, r.clients, list[len(list)-1])
		for i := range have {
			if have[i] += now[i] - was[i]; r.clients[i].name == undoing {
				have[i] = r.had[i]
			}
		}
		wrong = r.misses(have, answered)
	}
	if wrong != "" {
		t.Fatalf("round %d, %s", r.rounds, wrong)
	}
	for i := range answered {
		r.sums[i] += int(answered[i].Load())
	}
	r.had = now
	n, err := knitted(st, 4)
	if p := int(made.Load()); err != nil || !restores && (n-r.wired > p || n-r.wired < p-1) {
		t.Fatalf("round %d: a machine on a wire made %d passes, %d are written, %v", r.rounds, p, n-r.wired, err)
	}
	r.passes += int(made.Load())
	r.wired = n
}

// misses says of which client less is there than it was answered, or more than was under way besides.
func (r *crashing) misses(have []int, answered []atomic.Int64) string {
	for i, c := range r.clients {
		if got, n := have[i]-r.had[i], int(answered[i].Load()); got < n || got > n+c.devices {
			return fmt.Sprintf("%s: %d are there, %d were answered", c.name, got, n)
		}
	}
	return ""
}
