package store

import (
	"errors"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"vindel/knit/edit"
	"vindel/knit/piecetest"
)

// TestFolded: undo reaches back MostUndone steps and no further; what lies before is gone from the disk, but which
// kinds of edits there were is known still.
func TestFolded(t *testing.T) {
	if MostUndone < 200 {
		t.Error("an evening of drawing cannot be undone")
	}
	s, id := filled(t)
	for n := range MostUndone + 1 {
		kind := edit.Settings
		if n == 0 {
			kind = edit.Draws
		}
		if err := editNow(t.Context(), s, id, edit.Edit{Kind: kind, Label: "name",
			Changes: edit.Set(edit.Member("name"), fmt.Sprint("moor ", n))}); err != nil {
			t.Fatal(err)
		}
		if n == MostUndone-1 {
			var kept int
			if err := s.db.QueryRow(`SELECT count(*) FROM edit`).Scan(&kept); err != nil || kept != MostUndone {
				t.Fatalf("%d edits of %d are kept: %v", kept, n+1, err)
			}
		}
	}
	undone := 0
	for ; ; undone++ {
		if _, err := s.Undo(t.Context(), id, rev(t, s, id)); errors.Is(err, ErrNone) {
			break
		} else if err != nil {
			t.Fatal(err)
		}
	}
	p, err := s.Piece(t.Context(), id)
	if err != nil || undone != MostUndone || p.CanUndo || !p.CanRedo || !strings.Contains(string(p.Doc), `"moor 0"`) {
		t.Errorf("%d undone, and more can be: %v; %s, %v", undone, p.CanUndo, p.Doc, err)
	}
	did, err := s.Did(t.Context(), id)
	if list := slices.Sorted(maps.Keys(did)); err != nil || !slices.Equal(list, []edit.Kind{edit.Draws}) {
		t.Errorf("kinds of edits that stand: %v, %v", list, err)
	}
	if _, err := s.Redo(t.Context(), id, rev(t, s, id)); err != nil {
		t.Error(err)
	}
}

// TestLongEdits: an edit of a whole large chart takes a twentieth of its text on the disk, and is undone and done
// again to the letter.
func TestLongEdits(t *testing.T) {
	s := open(t, t.TempDir())
	defer s.Close()
	rows := slices.Repeat([]string{strings.Repeat("#..#.", 40)}, 400)
	id, err := s.Add(t.Context(), piecetest.Document(t, "program-small", "L100", "R100", rows).JSON())
	if err != nil {
		t.Fatal(err)
	}
	was, _ := s.Piece(t.Context(), id)
	turned := make([]any, len(rows))
	for i := range turned {
		turned[i] = strings.Repeat(".#", 100)
	}
	if err := editNow(t.Context(), s, id, edit.Edit{Kind: edit.Draws, Label: "redraw",
		Changes: edit.Put("/charts/c/rows", turned)}); err != nil {
		t.Fatal(err)
	}
	var kept int
	err = s.db.QueryRow(`SELECT length(changes) + length(inverse) FROM edit`).Scan(&kept)
	if text := 2 * len(rows) * 203; err != nil || kept > text/20 {
		t.Errorf("%d bytes are kept of %d, %v", kept, text, err)
	}
	now, _ := s.Piece(t.Context(), id)
	for _, step := range []struct {
		do   func() (string, error)
		want Piece
	}{{func() (string, error) { return s.Undo(t.Context(), id, rev(t, s, id)) }, was},
		{func() (string, error) { return s.Redo(t.Context(), id, rev(t, s, id)) }, now}} {
		_, err := step.do()
		if p, _ := s.Piece(t.Context(), id); err != nil || string(p.Doc) != string(step.want.Doc) {
			t.Errorf("it is not as it was: %v", err)
		}
	}
}

// TestPaceFound: how long she knitted before the sums were kept is summed once, as it is from then on.
func TestPaceFound(t *testing.T) {
	at := func(seconds int) string {
		return time.Date(2026, 3, 1, 10, 0, seconds, 250e6, time.UTC).Format(time.RFC3339Nano)
	}
	insert := `INSERT INTO piece (id, doc, head, created, updated) VALUES (1, '{}', 0, '', ''), (2, '{}', 0, '', '');
		INSERT INTO journal (piece, kind, done, head, at) VALUES `
	var list []string
	for _, e := range []struct {
		piece int
		kind  string
		at    int
	}{{1, "knitted", 0}, {2, "knitted", 3}, {1, "knitted", 20}, {1, "note", 25}, {1, "knitted", 40},
		{1, "knitted", 640}, {1, "knitted", 630}, {1, "knitted", 631}, {1, "back", 632}} {
		list = append(list, fmt.Sprintf("(%d, '%s', 1, 0, '%s')", e.piece, e.kind, at(e.at)))
	}
	s := open(t, writtenBy(t, 15, insert+strings.Join(list, ", ")))
	defer s.Close()
	check := func(wantSeconds float64, wantPasses int) {
		t.Helper()
		seconds, passes, err := s.Knitting(t.Context(), 1)
		if err != nil || passes != wantPasses || seconds < wantSeconds-0.01 || seconds > wantSeconds+0.01 {
			t.Errorf("%.2f s in %d passes, want %.0f in %d: %v", seconds, passes, wantSeconds, wantPasses, err)
		}
	}
	check(20+15+1, 3) // neither the pause of ten minutes nor the clock that was set back
	if _, passes, _ := s.Knitting(t.Context(), 2); passes != 0 {
		t.Errorf("one pass alone took %d times some time", passes)
	}
	last, err := s.Reached(t.Context(), 1)
	for i, kind := range []string{"knitted", "note", "knitted"} {
		if err == nil {
			last.ID, err = s.Write(t.Context(), 1, last.ID, Entry{Kind: kind, Done: i,
				At: last.At.Add(time.Duration(i+1) * time.Second)})
		}
	}
	if err != nil {
		t.Fatal(err)
	}
	check(20+15+1+1+1, 5)
}

// TestBothOrNeither: a press that changes the piece too does both, or neither.
func TestBothOrNeither(t *testing.T) {
	s, id := filled(t)
	rows := edit.Edit{Kind: edit.Settings, Label: "one repeat more", Changes: edit.SectionRows(1, 12)}
	try := func(after, on int64) error {
		rows.On = on
		_, err := s.WriteWith(t.Context(), id, after, Entry{Kind: "note", Note: rows.Label}, rows)
		return err
	}
	if err := try(7, 1); !errors.Is(err, ErrMoved) {
		t.Errorf("at another place: %v", err)
	}
	if err := try(0, 2); !errors.Is(err, ErrStale) {
		t.Errorf("on another state: %v", err)
	}
	if at, _ := s.Reached(t.Context(), id); at.ID != 0 || rev(t, s, id) != 1 {
		t.Errorf("what was refused left %+v, revision %d", at, rev(t, s, id))
	}
	if err := try(0, 1); err != nil {
		t.Fatal(err)
	}
	if at, _ := s.Reached(t.Context(), id); at.Note != rows.Label || rev(t, s, id) != 2 {
		t.Errorf("done, it left %+v, revision %d", at, rev(t, s, id))
	}
}

// TestRoom: what the folder of the data takes is summed by what it is, and a disk that is nearly full is told of
// before anything fails.
func TestRoom(t *testing.T) {
	s, _ := filled(t)
	left := int64(least)
	s.free = func(string) (int64, error) { return left, nil }
	for name, size := range map[string]int{"vindel-before-9-x.db": 300, "vindel-replaced-x.db": 50,
		"copies/vindel-x.zip": 7000, "upload-1": 5} {
		at := filepath.Join(s.Folder(), name)
		os.MkdirAll(filepath.Dir(at), 0o700)
		if err := os.WriteFile(at, make([]byte, size), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	r, err := s.Room()
	if err != nil || r.Kept != 350 || r.Copies != 7000 || r.Data < 4096 || r.Warning() != "" {
		t.Errorf("%+v %q %v", r, r.Warning(), err)
	}
	left--
	if r, _ = s.Room(); !strings.Contains(r.Warning(), "Only 199 MB are left") {
		t.Errorf("%+v: %q", r, r.Warning())
	}
	for data, warns := range map[int64]bool{1 << 30: false, 1<<30 + 1: true} {
		if r = (Room{Data: data, Free: 4 << 30}); (r.Warning() != "") != warns {
			t.Errorf("%d bytes of data, 4 GB left: %q", data, r.Warning())
		}
	}
	if real, err := free(t.TempDir()); err != nil || real < 1<<20 {
		t.Errorf("free on this disk: %d, %v", real, err)
	}
}
