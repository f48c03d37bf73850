package web

import (
	"context"
	"errors"
	"net/url"
	"strings"
	"testing"
	"time"

	"vindel/knit/check"
	"vindel/knit/pass"
	"vindel/knit/piece"
	"vindel/store"
)

// TestWorks: what many ask for is worked out once; who has waited long enough is told so, and
// finds it later; when nobody wants it any more it stops; what breaks is an error.
func TestWorks(t *testing.T) {
	t.Parallel()
	w := works{now: map[string]*work{}}
	begun, go1 := make(chan bool, 9), make(chan bool)
	slow := func(ctx context.Context) (any, error) {
		begun <- true
		select {
		case <-go1:
			return "made", nil
		case <-ctx.Done():
			begun <- false
			return nil, ctx.Err()
		}
	}
	for range 3 {
		if _, err := w.do(t.Context(), time.Millisecond, "a", slow); !errors.Is(err, errWorking) {
			t.Errorf("after a moment: %v", err)
		}
	}
	close(go1)
	if v, err := w.do(t.Context(), time.Minute, "a", slow); v != "made" || err != nil || len(begun) != 1 {
		t.Errorf("later: %v, %v, begun %d times", v, err, len(begun))
	}
	<-begun
	go1 = make(chan bool)
	gone, leave := context.WithCancel(t.Context())
	time.AfterFunc(10*time.Millisecond, leave)
	if _, err := w.do(gone, time.Minute, "b", slow); !errors.Is(err, context.Canceled) {
		t.Errorf("who leaves: %v", err)
	}
	if !<-begun || <-begun {
		t.Error("the work goes on though nobody waits")
	}
	if _, err := w.do(t.Context(), time.Minute, "c", func(context.Context) (any,
		error) {
		panic("a needle bends")
	}); err == nil ||
		!strings.Contains(err.Error(), "a needle bends") {
		t.Errorf("what breaks: %v", err)
	}
	if len(w.now) != 0 {
		t.Errorf("%d are still there", len(w.now))
	}
}

// TestResults: results are kept up to so many passes in all, the latest used longest.
func TestResults(t *testing.T) {
	t.Parallel()
	of := openedWith
	var k results
	k.remember(of(1, 10))
	k.remember(of(2, keptPasses-20))
	if k.recall(of(1, 0).stored) == nil {
		t.Error("within the bound one is gone")
	}
	k.remember(of(3, 20))
	if k.recall(of(2, 0).stored) != nil || k.recall(of(1, 0).stored) == nil || k.recall(of(3, 0).stored) == nil {
		t.Error("over the bound the one that was used least lately goes, and no other")
	}
	k.remember(of(4, 2*keptPasses))
	if k.recall(of(4, 0).stored) == nil || len(k.list) != 1 {
		t.Errorf("a very large one: %d are kept", len(k.list))
	}
}

func openedWith(id int64, passes int) *opened {
	return &opened{store.Piece{ID: id}, &piece.Piece{}, &check.Result{Plan: &pass.Plan{Passes: make([]pass.Pass,
		passes)}}}
}

// TestFaceCache: a picture is found under what it shows, whatever head the page names; the least
// used go when all take too much, and one that is too large is not kept.
func TestFaceCache(t *testing.T) {
	t.Parallel()
	u := func(s string) *url.URL { v, _ := url.Parse(s); return v }
	a := faceKey([]byte("{}"), u("/pieces/1/fabric/knit.svg?w=4&v=3"))
	if a != faceKey([]byte("{}"), u("/pieces/1/fabric/knit.svg?v=9&w=4")) {
		t.Error("the same picture has two keys")
	}
	for _, other := range []string{faceKey([]byte("{ }"), u("/pieces/1/fabric/knit.svg?w=4")), faceKey([]byte("{}"),
		u("/pieces/1/fabric/purl.svg?w=4")),
		faceKey([]byte("{}"), u("/pieces/1/fabric/knit.svg?w=5"))} {
		if other == a {
			t.Error("two pictures have one key")
		}
	}
	f := newFaceCache()
	part := mostFaceBytes / 5
	for _, key := range []string{"a", "b", "c", "d", "e"} {
		f.put(&drawnFace{key, "png", make([]byte, part)})
	}
	f.get("a")
	f.put(&drawnFace{"f", "png", make([]byte, part)})
	if f.get("a") == nil || f.get("b") != nil || f.get("f") == nil || f.bytes != 5*part {
		t.Errorf("over the bound the least used goes: %d bytes", f.bytes)
	}
	if f.put(&drawnFace{"large", "png", make([]byte, mostFaceBytes/4+1)}); f.get("large") != nil {
		t.Error("one that is too large is kept")
	}
}
