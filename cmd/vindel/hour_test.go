package main

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"math/rand/v2"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"vindel/link"
	"vindel/store"
)

// held is what a process holds on to: memory and descriptors, and files in the folder of its data, copies apart.
type held struct{ kilobytes, descriptors, files int }

func heldBy(pid int, dir string) (h held) {
	data, _ := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if at := bytes.Index(data, []byte("VmRSS:")); at >= 0 {
		fmt.Sscan(string(data[at+6:]), &h.kilobytes)
	}
	open, _ := os.ReadDir(fmt.Sprintf("/proc/%d/fd", pid))
	h.descriptors = len(open)
	filepath.WalkDir(dir, func(path string, e os.DirEntry, err error) error {
		if err == nil && !e.IsDir() && !strings.Contains(path, store.CopiesDir) {
			h.files++
		}
		return nil
	})
	return h
}

// TestHour: a knitter, a drawer, a machine on a wire, a photographer, somebody who listens and copies every five
// minutes, for as long as VINDEL_HOUR says: what the process holds at the end is what it held after a sixth of it.
func TestHour(t *testing.T) {
	long, err := time.ParseDuration(os.Getenv("VINDEL_HOUR"))
	if err != nil {
		t.Skip("for `make hour`")
	}
	if _, err := built(); err != nil { // before the temporary folder is watched
		t.Fatal(err)
	}
	dir, temp := t.TempDir(), t.TempDir()
	t.Setenv("TMPDIR", temp)
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
	cmd, at := started(t, "serve", dir)
	defer kill(cmd)
	ctx, stop := context.WithTimeout(t.Context(), long)
	defer stop()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	every := long / 5000 // presses and passes: the long piece has 6000 rows
	m := &link.Machine{Pace: every, Hands: true}
	var all sync.WaitGroup
	all.Go(func() { m.Serve(ctx, l) })
	var mu sync.Mutex
	did := map[string]int{}
	again := func(what string, wait time.Duration, do func(a *asking, n int) answer) {
		all.Go(func() {
			a := newAsking(at)
			for n := 0; ; n++ {
				select {
				case <-ctx.Done():
					return
				case <-time.After(wait):
				}
				if got := do(a, n); got == done {
					mu.Lock()
					did[what]++
					mu.Unlock()
				} else if got == lost {
					a.page = ""
				}
			}
		})
	}
	again("presses", every, func(a *asking, _ int) answer { return a.press(1, "knitted", nil) })
	again("strokes", 300*time.Millisecond, func(a *asking, _ int) answer { return a.edit(2, "edit", another()) })
	again("wire", time.Second, func(a *asking, n int) answer {
		a.page = ""
		if n == 0 {
			return a.form("pieces/4/wire", url.Values{"addr": {l.Addr().String()}})
		}
		return a.press(4, "go", nil)
	})
	large := image.NewRGBA(image.Rect(0, 0, 3000, 2000))
	for i := range large.Pix {
		large.Pix[i] = uint8(rand.IntN(256))
	}
	var photo bytes.Buffer
	if err := jpeg.Encode(&photo, large, nil); err != nil {
		t.Fatal(err)
	}
	again("photographs", long/120, func(a *asking, n int) answer {
		var b bytes.Buffer
		w := multipart.NewWriter(&b)
		w.WriteField("note", fmt.Sprint("photo ", n))
		f, _ := w.CreateFormFile("photo", "row.jpg")
		f.Write(photo.Bytes())
		w.Close()
		return a.told(func() int { return a.once("POST", "pieces/1/knit/photo", w.FormDataContentType(), 0, b.String()) })
	})
	again("copies", long/12, func(a *asking, _ int) answer { return a.form("backup", url.Values{"do": {"now"}}) })
	again("listened", long/200, func(*asking, int) answer { // a page comes and goes
		ctx, stop := context.WithTimeout(ctx, long/400)
		defer stop()
		req, _ := http.NewRequestWithContext(ctx, "GET", at+"events?piece=1&piece=4", nil)
		if res, err := http.DefaultClient.Do(req); err == nil {
			bytes.NewBuffer(nil).ReadFrom(res.Body)
			res.Body.Close()
		}
		return done
	})
	if a := newAsking(at); a.form("backup", url.Values{"do": {"plan"}, "every": {"0"}, "keep": {"2"}}) != done {
		t.Fatal(a.page)
	}
	var early held // the most of the time until a sixth of it is over
	late := held{kilobytes: 1 << 40}
	for begun, tick := time.Now(), time.NewTicker(long/360); ctx.Err() == nil; <-tick.C {
		now, over := heldBy(cmd.Process.Pid, dir), time.Since(begun)
		switch {
		case over < long/6:
			early = held{max(early.kilobytes, now.kilobytes), max(early.descriptors, now.descriptors),
				max(early.files, now.files)}
		case over > long*5/6: // the least of the last sixth: between two collections of what is no longer used
			late = held{min(late.kilobytes, now.kilobytes), now.descriptors, now.files}
		}
	}
	all.Wait()
	t.Logf("%v: by the first sixth at most %+v, in the last %+v; %v", long, early, late, did)
	if late.kilobytes > early.kilobytes || late.descriptors > early.descriptors || late.files > early.files {
		t.Error("it grows")
	}
	if left, _ := os.ReadDir(temp); len(left) > 0 {
		t.Errorf("left in the temporary folder: %v", left)
	}
	for _, what := range []string{"presses", "strokes", "wire", "photographs", "copies", "listened"} {
		if did[what] < 5 {
			t.Errorf("%s: %d in all", what, did[what])
		}
	}
}
