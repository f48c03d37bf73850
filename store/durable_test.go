package store

import (
	"context"
	"testing"
	"time"
)

// TestDurable: every connection that the pool may open waits for the disk before a commit
// is answered, and holds to foreign keys. A pragma belongs to one connection, so several
// are held open at once.
func TestDurable(t *testing.T) {
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	const full = 2
	for i := range 4 {
		c, err := s.db.Conn(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		defer c.Close()
		for pragma, want := range map[string]string{"synchronous": "2", "foreign_keys": "1", "journal_mode": "wal"} {
			var got string
			if err := c.QueryRowContext(t.Context(), "PRAGMA "+pragma).Scan(&got); err != nil || got != want {
				t.Errorf("connection %d: %s is %s, want %s (%d is full); %v", i+1, pragma, got, want, full, err)
			}
		}
	}
}

// TestPace: the time between knitted passes, pauses left out: those that were said, and
// those over ten minutes.
func TestPace(t *testing.T) {
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	id, err := s.Add(t.Context(), []byte("{}"))
	if err != nil {
		t.Fatal(err)
	}
	at, done, last := time.Date(2026, 3, 1, 9, 0, 0, 0, time.UTC), 0, int64(0)
	for _, e := range []struct {
		kind  string
		after time.Duration
	}{{"knitted", 0}, {"knitted", 10 * time.Second}, {"knitted", 12 * time.Second}, {"pause", 40 * time.Second},
		{"resume", 9 * time.Minute}, {"knitted", 14 * time.Second},
		{"knitted", 599 * time.Second}, {"knitted", 600 * time.Second}, {"note", 5 * time.Second},
		// the clock set back
		{"knitted", 6 * time.Second}, {"back", 3 * time.Second}, {"resume", -2 * time.Hour}, {"knitted", -time.Hour}} {
		at = at.Add(e.after)
		switch e.kind {
		case "knitted":
			done++
		case "back":
			done--
		}
		if last, err = s.Write(t.Context(), id, last, Entry{Kind: e.kind, Done: done, At: at}); err != nil {
			t.Fatal(err)
		}
	}
	seconds, passes, err := s.Knitting(context.WithoutCancel(t.Context()), id)
	if err != nil || passes != 5 || seconds != 10+12+14+599+6 {
		t.Errorf("%g s over %d passes (%v), want 641 over 5", seconds, passes, err)
	}
}
