package web

import (
	"testing"
	"time"

	"vindel/store"
)

// TestCopiesByTheClock: a copy is made when the last is as old as the setting says, not before; a clock that was
// set back makes one, and 0 hours make none.
func TestCopiesByTheClock(t *testing.T) {
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
	}{{"an hour later", time.Hour, false}, {"just under a day", 23*time.Hour - time.Second, false}, {"a day", time.Second, true}, {"set back by a year", -365 * 24 * time.Hour, true}, {"a minute on", time.Minute, false}} {
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
