package main

import (
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

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

// asking is one client: it posts, and knows what has been answered.
type asking struct {
	http *http.Client
	at   string
}

// post gives whether the server has answered that it is done; told that the piece is still being worked out, so that
// nothing was done, it asks again, as she would.
func (a *asking) post(path, kind, body string) bool {
	for {
		status := a.once(path, kind, body)
		if status != http.StatusTooEarly {
			return status > 0 && status < 400
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// once is the status that is answered, 0 where the answer does not come through.
func (a *asking) once(path, kind, body string) int {
	req, err := http.NewRequest("POST", a.at+path, strings.NewReader(body))
	if err != nil {
		return 0
	}
	req.Header.Set("Content-Type", kind)
	req.Header.Set("Accept", "application/json, text/html")
	res, err := a.http.Do(req)
	if err != nil {
		return 0
	}
	defer res.Body.Close()
	if _, err = io.Copy(io.Discard, res.Body); err != nil {
		return 0
	}
	return res.StatusCode
}

func (a *asking) form(path string, values url.Values) bool {
	return a.post(path, "application/x-www-form-urlencoded", values.Encode())
}

// client is what one kind of client does: step is asked for again and again, with a number that
// only grows, until it is not answered; then check holds what is stored to the steps that were
// answered, all below n, and of the one that was not, n, either is right.
type client struct {
	name  string
	step  func(a *asking, n int) bool
	check func(st *store.Store, n int) error
}

// crashPieces are the pieces that the clients work at, a plain one of many rows for each.
const crashPieces = 5

const longPiece = `{"vindel":1,"name":"line","machine":{"profile":"hand-mid"},"yarns":[{"id":"A"},{"id":"B"}],
	"charts":{"c":{"legend":{".":{"yarn":"A"},"#":{"yarn":"B"}},"rows":["...............","..............."]}},
	"needles":{"from":"L15","to":"R15"},"sections":[{"technique":"plain","yarn":"A","rows":6000},
	{"technique":"two-colour","areas":[{"chart":"c","first":"L15"}]}]}`

// binary draws a number as stitches.
func binary(n int) string {
	return strings.NewReplacer("0", ".", "1", "#").Replace(fmt.Sprintf("%015b", n%(1<<15)))
}

func crashClients() []client {
	ctx := context.Background()
	one := func(have, n int, what string) error {
		if have != n && have != n+1 {
			return fmt.Errorf("%s: %d, and %d were answered", what, have, n)
		}
		return nil
	}
	// named counts how often each of the names with a prefix and a number is there: once, but for
	// the last, which may lack.
	named := func(names []string, prefix string, n int) error {
		count := map[string]int{}
		for _, name := range names {
			count[name]++
		}
		for i := range n + 1 {
			if have := count[prefix+strconv.Itoa(i)]; have != 1 && (i < n || have != 0) {
				return fmt.Errorf("%s%d is there %d times; %d were answered", prefix, i, have, n)
			}
		}
		return nil
	}
	return []client{
		{"presses", func(a *asking, n int) bool {
			return a.form("pieces/1/knit", url.Values{"do": {"knitted"}, "from": {strconv.Itoa(n)}})
		}, func(st *store.Store, n int) error {
			list, err := st.Journal(ctx, 1, 1<<20)
			if err != nil {
				return err
			}
			for i, e := range list {
				if e.Done != len(list)-i {
					return fmt.Errorf("entry %d of %d says %d passes", len(list)-i, len(list), e.Done)
				}
			}
			return one(len(list), n, "presses")
		}},
		{"strokes", func(a *asking, n int) bool {
			return a.post("pieces/2/edit", "application/json",
				fmt.Sprintf(`{"label":"draw","changes":[{"op":"replace","path":"/charts/c/rows/0","value":%q}]}`,
					binary(n+1)))
		}, func(st *store.Store, n int) error {
			p, err := st.Piece(ctx, 2)
			if err == nil {
				err = one(p.Head, n, "strokes")
			}
			if err == nil && !strings.Contains(string(p.Doc), binary(p.Head)) {
				err = fmt.Errorf("after %d strokes: %s", p.Head, p.Doc)
			}
			return err
		}},
		{"undo and redo", func(a *asking, n int) bool { // a stroke, taken back, done again
			switch n % 3 {
			case 0:
				return a.post("pieces/3/edit", "application/json",
					fmt.Sprintf(`{"label":"draw","changes":[{"op":"replace","path":"/charts/c/rows/1","value":%q}]}`,
						binary(n+1)))
			case 1:
				return a.form("pieces/3/undo", nil)
			}
			return a.form("pieces/3/redo", nil)
		}, func(st *store.Store, n int) error {
			p, err := st.Piece(ctx, 3)
			if err != nil {
				return err
			}
			head := func(n int) int { return n/3 + [3]int{0, 1, 0}[n%3] }
			if p.Head != head(n) && p.Head != head(n+1) || int(p.Rev)-1 != n && int(p.Rev)-1 != n+1 {
				return fmt.Errorf("head %d at revision %d after %d answers", p.Head, p.Rev, n)
			}
			return nil
		}},
		{"remarks", func(a *asking, n int) bool {
			return a.form("pieces/4/knit", url.Values{"do": {"note"}, "from": {"0"},
				"note": {"remark " + strconv.Itoa(n)}})
		}, func(st *store.Store, n int) error {
			list, err := st.Journal(ctx, 4, 1<<20)
			var notes []string
			for _, e := range list {
				notes = append(notes, e.Note)
			}
			if err == nil {
				err = named(notes, "remark ", n)
			}
			return err
		}},
		{"versions", func(a *asking, n int) bool {
			return a.form("pieces/5/versions", url.Values{"name": {"version " + strconv.Itoa(n)}})
		}, func(st *store.Store, n int) error {
			list, err := st.Versions(ctx, 5)
			var names []string
			for _, v := range list {
				names = append(names, v.Name)
			}
			if err == nil {
				err = named(names, "version ", n)
			}
			return err
		}},
		{"new pieces, put away", func(a *asking, n int) bool { // each is begun, and put away
			if n%2 == 0 {
				return a.form("pieces", url.Values{"name": {"new " + strconv.Itoa(n/2)}, "machine": {"hand-mid"},
					"from": {"text"}, "text": {"..#"}})
			}
			return a.form(fmt.Sprintf("pieces/%d/away", crashPieces+1+n/2), nil)
		}, func(st *store.Store, n int) error {
			stood := func(n int) string { return fmt.Sprint(n%2, " ", n/2) } // on the shelf, and put away
			shelf, err := st.Count(ctx)
			if err != nil {
				return err
			}
			away, err := st.PutAwayPieces(ctx)
			if have := fmt.Sprint(shelf-crashPieces, " ", len(away)); err == nil && have != stood(n) &&
				have != stood(n+1) {
				err = fmt.Errorf("%s on the shelf and put away, after %d answers", have, n)
			}
			return err
		}},
		{"machines", func(a *asking, n int) bool { return a.form("machines", url.Values{"machine": {"hand-mid"}}) },
			func(st *store.Store, n int) error {
				list, err := st.Machines(ctx)
				if err == nil {
					err = one(len(list), n, "machines")
				}
				return err
			}},
	}
}

// TestCrashes: seven kinds of clients work while the process is killed with -9 at random moments,
// again and again. Whatever was answered is there, once and in its order.
func TestCrashes(t *testing.T) {
	dir := t.TempDir()
	st, err := store.Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	for range crashPieces {
		if _, err := st.Add(t.Context(), []byte(longPiece)); err != nil {
			t.Fatal(err)
		}
	}
	st.Close()
	rounds := 4
	if n, err := strconv.Atoi(os.Getenv("VINDEL_ROUNDS")); err == nil {
		rounds = n
	}
	clients := crashClients()
	answered := make([]int, len(clients))
	for round := range rounds {
		cmd, at := started(t, "serve", dir)
		var all, first sync.WaitGroup // first: every client has had an answer
		for i, c := range clients {
			first.Add(1)
			all.Go(func() {
				had := sync.OnceFunc(first.Done)
				defer had()
				a := &asking{&http.Client{Timeout: 20 * time.Second, Transport: &http.Transport{},
					CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}, at}
				for c.step(a, answered[i]) {
					answered[i]++
					had()
				}
			})
		}
		// Every other round waits for that, so that each has something to lose on a slow machine too.
		if round%2 == 0 {
			first.Wait()
		}
		time.Sleep(time.Duration(100+rand.IntN(400)) * time.Millisecond)
		kill(cmd)
		all.Wait()
		if st, err = store.Open(t.Context(), dir); err != nil {
			t.Fatalf("round %d: %v", round, err)
		}
		for i, c := range clients {
			err := c.check(st, answered[i])
			if err != nil {
				t.Fatalf("round %d, %s: %v", round, c.name, err)
			}
			if c.check(st, answered[i]+1) == nil {
				answered[i]++ // it was, though its answer did not come through
			}
		}
		st.Close()
	}
	sum := 0
	for i, n := range answered {
		if n < rounds/2 {
			t.Errorf("%s: %d answers in %d rounds", clients[i].name, n, rounds)
		}
		sum += n
	}
	t.Logf("%d kills, %d answers, all there: %v", rounds, sum, answered)
}
