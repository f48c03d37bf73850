package main

import (
	"net/http"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"vindel/store"
)

// TestEndedInMidRequest: told to end while presses are under way and pages listen, Vindel answers what it has begun,
// ends within seconds and without an error, and every press that was answered is on the disk, once.
func TestEndedInMidRequest(t *testing.T) {
	for round := range 2 {
		dir := t.TempDir()
		st, err := store.Open(t.Context(), dir)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := st.Add(t.Context(), []byte(longPiece)); err != nil {
			t.Fatal(err)
		}
		st.Close()
		cmd, at := started(t, "serve", dir)
		listening := make(chan bool)
		go func() { // a page that listens must not hold it up
			res, err := http.Get(at + "events?piece=1")
			if err != nil {
				close(listening)
				t.Error(err)
			} else {
				one := make([]byte, 1)
				res.Body.Read(one)
				close(listening)
				for err == nil {
					_, err = res.Body.Read(one)
				}
				res.Body.Close()
			}
		}()
		<-listening
		answered := 0
		var pressing sync.WaitGroup
		begun := make(chan bool) // three presses are answered, or no more will be
		pressing.Go(func() {
			once := sync.OnceFunc(func() { close(begun) })
			defer once()
			a := newAsking(at)
			for a.press(1, "knitted", nil) == done {
				if answered++; answered >= 3 {
					once()
				}
			}
		})
		<-begun
		time.Sleep(time.Duration(round) * 7 * time.Millisecond)
		if err := cmd.Process.Signal(syscall.SIGTERM); err != nil {
			t.Fatal(err)
		}
		if err := cmd.Wait(); err != nil { // where a page held it up past its own patience, that is an error
			t.Errorf("it ended with %v", err)
		}
		if pressing.Wait(); answered < 3 {
			t.Errorf("%d presses were answered before it was told to end", answered)
		}
		if st, err = store.Open(t.Context(), dir); err != nil {
			t.Fatal(err)
		}
		list, err := st.Journal(t.Context(), 1, 1<<20)
		if err != nil || len(list) != answered && len(list) != answered+1 {
			t.Errorf("%d presses on the disk, %d were answered, %v", len(list), answered, err)
		}
		st.Close()
	}
}

// TestOneAtATime: a second Vindel on the same folder is refused in words, and the first goes on.
func TestOneAtATime(t *testing.T) {
	dir := t.TempDir()
	cmd, at := started(t, "serve", dir)
	defer kill(cmd)
	var out, errs strings.Builder
	if code := run([]string{"serve", "--addr", "127.0.0.1:0", "--data", dir}, strings.NewReader(""), &out,
		&errs); code != 2 || !strings.Contains(errs.String(), dir) || strings.Contains(out.String(), "http") {
		t.Errorf("%d %q %q", code, out.String(), errs.String())
	}
	if code := run([]string{"restore", "nothing.zip", "--data", dir}, strings.NewReader(""), &out, &errs); code != 2 {
		t.Error("a copy is brought back into data that are in use")
	}
	if res, err := http.Get(at); err != nil || res.StatusCode != 200 {
		t.Errorf("%v %v", res, err)
	}
}
