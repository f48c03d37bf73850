package web

import (
	"fmt"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"vindel/store"
)

// TestCopiesByTheClock: a copy is made when the last is as old as the setting says, not before; a clock that was
// set back makes one, and 0 hours make none.
func TestCopiesByTheClock(t *testing.T) {
	t.Parallel()
	st, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	clock := time.Date(2026, 11, 1, 10, 0, 0, 0, time.UTC)
	s, err := New(st, Options{Now: func() time.Time { return clock }})
	if err != nil {
		t.Fatal(err)
	}
	made := func() string {
		s.copyIfDue(t.Context())
		last, _ := st.Setting(t.Context(), backupLast)
		return last
	}
	first := made()
	for _, c := range []struct {
		what  string
		after time.Duration
		due   bool
	}{{"an hour later", time.Hour, false}, {"just under a day", 23*time.Hour - time.Second, false},
		{"a day", time.Second, true}, {"set back by a year", -365 * 24 * time.Hour, true}, {"a minute on",
			time.Minute, false}} {
		before, _ := st.Setting(t.Context(), backupLast)
		clock = clock.Add(c.after)
		if got := made(); got != before != c.due {
			t.Errorf("%s: made %v", c.what, got != before)
		}
	}
	if err := st.SetSetting(t.Context(), backupEvery, "0"); err != nil {
		t.Fatal(err)
	}
	before := made()
	clock = clock.Add(1000 * time.Hour)
	if made() != before || first == "" {
		t.Error("copies are made though none are wanted")
	}
}

// TestSittings: passes knitted within half an hour of each other are one sitting, whatever other pieces are knitted
// meanwhile; passes knitted again after going back begin another.
func TestSittings(t *testing.T) {
	t.Parallel()
	at := time.Date(2026, 11, 1, 10, 0, 0, 0, time.UTC)
	var list []store.Told // the latest first
	tell := func(after time.Duration, piece int64, kind string, done int) {
		at = at.Add(after)
		list = append([]store.Told{{Piece: piece, Entry: store.Entry{Kind: kind, Done: done, At: at}}}, list...)
	}
	tell(0, 1, "knitted", 1)
	tell(time.Minute, 1, "knitted", 12)
	tell(apartBy, 1, "knitted", 13)
	tell(time.Minute, 2, "knitted", 1)
	tell(apartBy-time.Minute+time.Second, 1, "knitted", 14)
	tell(time.Minute, 1, "jump", 4)
	tell(time.Minute, 1, "knitted", 5)
	var got []string
	for _, s := range sittings(list) {
		got = append(got, fmt.Sprint(s.Piece, ": ", s.First, "-", s.Last, " ", s.Minutes))
	}
	want := []string{"1: 5-5 0", "1: 14-14 0", "2: 1-1 0", "1: 1-13 31"}
	if !slices.Equal(got, want) {
		t.Errorf("%q, not %q", got, want)
	}
}

// TestTold: a change of a piece is told to who looks at it, and a look is not.
func TestTold(t *testing.T) {
	t.Parallel()
	st, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	id, err := st.Add(t.Context(),
		[]byte(`{"vindel":1,"machine":{"profile":"hand-mid"},"yarns":[{"id":"A"}],"needles":{"from":"L4","to":"R4"},
			"sections":[{"technique":"plain","rows":9,"yarn":"A"}]}`))
	if err != nil {
		t.Fatal(err)
	}
	s, err := New(st, Options{})
	if err != nil {
		t.Fatal(err)
	}
	changed, stop := s.hub.listen(id)
	defer stop()
	for _, c := range []struct {
		method, path, body string
		told               bool
	}{{"GET", "/pieces/1/knit", "", false},
		{"POST", "/pieces/1/knit", "do=knitted&from=0&rev=1&place=0", true},
		{"POST", "/pieces/1/knit", "do=knitted&from=0&rev=1&place=0", false},
		{"POST", "/pieces/1/knit", "do=fly&from=0&rev=1&place=1", false}} {
		r := httptest.NewRequest(c.method, "http://localhost"+c.path, strings.NewReader(c.body))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		s.Handler().ServeHTTP(httptest.NewRecorder(), r)
		told := len(changed) > 0
		if told {
			<-changed
		}
		if told != c.told {
			t.Errorf("%s %s %s: told %v", c.method, c.path, c.body, told)
		}
	}
}
