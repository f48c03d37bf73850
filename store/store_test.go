package store

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/piecetest"
)

func open(t *testing.T, dir string) *Store {
	t.Helper()
	st, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	return st
}

// filled is a new store with one piece in it.
func filled(t *testing.T) (s *Store, id int64) {
	t.Helper()
	s = open(t, t.TempDir())
	t.Cleanup(func() { s.Close() })
	id, err := s.Add(t.Context(), piecetest.Document(t, "card-direct", "L4", "R4", []string{"#.##"}).JSON())
	if err != nil {
		t.Fatal(err)
	}
	return s, id
}

// editNow makes an edit of a piece on the state that it has.
func editNow(ctx context.Context, s *Store, id int64, e edit.Edit) error {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return err
	}
	e.On = p.Rev
	return s.Edit(ctx, id, e)
}

// rev is the revision that a piece has.
func rev(t *testing.T, s *Store, id int64) int64 {
	t.Helper()
	p, err := s.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	return p.Rev
}

// TestKeyedOnce: a line that is keyed counts once, from what the page showed; one that was keyed on another page
// changes nothing.
func TestKeyedOnce(t *testing.T) {
	s, id := filled(t)
	key := func(from, to int, marks string) {
		t.Helper()
		if err := s.Key(t.Context(), id, 1, from, Keyed{to, marks}); err != nil {
			t.Fatal(err)
		}
	}
	is := func(done int, marks string) {
		t.Helper()
		if k, err := s.Keyed(t.Context(), id, 1); err != nil || k != (Keyed{done, marks}) {
			t.Errorf("%+v, %v; want %d %q", k, err, done, marks)
		}
	}
	is(0, "")
	key(0, 1, "a")
	key(0, 1, "b") // the same press again
	is(1, "a")
	key(1, 2, "ac")
	key(1, 9, "x") // from a page that is behind
	key(3, 4, "y") // from a state that never was
	is(2, "ac")
	key(2, 1, "a") // a line back
	is(1, "a")
}

// TestStaleCard: what the shelf shows of a piece is gone with the next edit, and only the newest is kept.
func TestStaleCard(t *testing.T) {
	s, id := filled(t)
	card := func() string {
		t.Helper()
		list, err := s.Shelf(t.Context(), "now")
		if err != nil || len(list) != 1 {
			t.Fatalf("%v %v", list, err)
		}
		return string(list[0].Card)
	}
	p, err := s.Piece(t.Context(), id)
	if err == nil {
		err = s.SaveCard(t.Context(), id, p.Rev, "now", []byte("one"))
	}
	if err != nil || card() != "one" {
		t.Fatalf("%q, %v", card(), err)
	}
	if err := editNow(t.Context(), s, id, edit.Edit{Label: "stroke", Changes: edit.Put("/charts/c/rows/0",
		"####")}); err != nil {
		t.Fatal(err)
	}
	if card() != "" {
		t.Errorf("after an edit the shelf shows %q", card())
	}
	if err := s.SaveCard(t.Context(), id, p.Rev, "now", []byte("late")); err != nil || card() != "" {
		t.Errorf("a card of the revision before is kept: %q, %v", card(), err)
	}
}

// TestUndoSurvives: edits are undone and redone step by step, across a restart; a new
// edit ends what had been undone; a refused one changes nothing.
func TestUndoSurvives(t *testing.T) {
	dir := t.TempDir()
	st := open(t, dir)
	ctx, gone := context.WithCancel(t.Context())
	gone() // the tab is closed: the row is kept all the same
	id, err := st.Add(ctx, piecetest.Document(t, "card-preselect", "L4", "R4", []string{"..##", "#..#"}).JSON())
	if err != nil {
		t.Fatal(err)
	}
	name := func() string {
		p, err := st.Piece(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		return fmt.Sprintf("%d%.1s%.1s", p.Head, strconv.FormatBool(p.CanUndo), strconv.FormatBool(p.CanRedo))
	}
	edit := func(text string) error {
		return editNow(t.Context(), st, id, edit.Edit{Kind: edit.Draws, Label: "stroke", Changes: edit.Put("/charts/c/rows/0",
			text)})
	}
	for _, row := range []string{"####", "...#", ".#.#"} {
		if err := edit(row); err != nil {
			t.Fatal(err)
		}
	}
	if err := edit("#"); err == nil {
		t.Error("a row of one stitch is taken")
	}
	if err := st.Close(); err != nil {
		t.Fatal(err)
	}
	st = open(t, dir)
	defer st.Close()
	steps := ""
	for _, step := range []func(context.Context, int64, int64) (string, error){st.Undo, st.Undo, st.Redo, st.Undo,
		st.Undo, st.Undo,
		st.Redo} {
		_, err := step(t.Context(), id, rev(t, st, id))
		if errors.Is(err, ErrNone) {
			steps += "none "
		} else if err != nil {
			t.Fatal(err)
		}
		steps += name() + " "
	}
	if want := "2tt 1tt 2tt 1tt 0ft none 0ft 1tt "; steps != want {
		t.Errorf("undo and redo: %s, want %s", steps, want)
	}
	if err := edit("#..."); err != nil || name() != "2tf" {
		t.Errorf("a new edit after undo: %s, %v", name(), err)
	}
}

// TestPressTwice: a press that comes twice counts once.
func TestPressTwice(t *testing.T) {
	st := open(t, t.TempDir())
	defer st.Close()
	id, err := st.Add(t.Context(), []byte("{}"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := st.Write(t.Context(), id, 0, Entry{Kind: "knitted", Done: 1}); err != nil {
		t.Fatal(err)
	}
	if _, err := st.Write(t.Context(), id, 0, Entry{Kind: "knitted", Done: 1}); !errors.Is(err, ErrMoved) {
		t.Errorf("the second press: %v", err)
	}
	if at, err := st.Reached(t.Context(), id); err != nil || at.Done != 1 {
		t.Errorf("place %+v, %v", at, err)
	}
}

// TestNoEdit: an edit that changes nothing is none: it is not undone, and what was undone can
// still be done again.
func TestNoEdit(t *testing.T) {
	s, id := filled(t)
	name := func(n string) {
		t.Helper()
		if err := editNow(t.Context(), s, id, edit.Edit{Label: n, Changes: edit.Set(edit.Member("name"), n)}); err != nil {
			t.Fatal(err)
		}
	}
	name("reeds")
	name("ferns")
	if _, err := s.Undo(t.Context(), id, rev(t, s, id)); err != nil {
		t.Fatal(err)
	}
	name("reeds")
	if p, _ := s.Piece(t.Context(), id); p.Head != 1 || !p.CanRedo {
		t.Errorf("after naming it what it is named: head %d, to be done again %v", p.Head, p.CanRedo)
	}
	if label, err := s.Redo(t.Context(), id, rev(t, s, id)); err != nil || label != "ferns" {
		t.Errorf("redone: %q, %v", label, err)
	}
}

// TestStale: a change made on an older state is refused, whatever has become of it since: an
// undo and another edit give the same head, but never the same revision.
func TestStale(t *testing.T) {
	s, id := filled(t)
	name := func(n string, on int64) error {
		return s.Edit(t.Context(), id, edit.Edit{Label: n, On: on, Changes: edit.Set(edit.Member("name"), n)})
	}
	shown, _ := s.Piece(t.Context(), id)
	if err := name("reeds", shown.Rev); err != nil {
		t.Fatal(err)
	}
	seen, _ := s.Piece(t.Context(), id)
	if _, err := s.Undo(t.Context(), id, seen.Rev); err != nil {
		t.Fatal(err)
	}
	if err := name("ferns", 0); !errors.Is(err, ErrNoRevision) {
		t.Errorf("without a revision: %v", err)
	}
	if err := name("ferns", seen.Rev+1); err != nil {
		t.Fatal(err)
	}
	now, _ := s.Piece(t.Context(), id)
	if now.Head != seen.Head || now.Rev <= seen.Rev {
		t.Fatalf("head %d, revision %d after %d", now.Head, now.Rev, seen.Rev)
	}
	for what, err := range map[string]error{"an edit": name("heron", seen.Rev), "an older one": name("heron",
		shown.Rev)} {
		if !errors.Is(err, ErrStale) {
			t.Errorf("%s: %v", what, err)
		}
	}
	if _, err := s.Undo(t.Context(), id, seen.Rev); !errors.Is(err, ErrStale) {
		t.Errorf("undone: %v", err)
	}
	if after, _ := s.Piece(t.Context(), id); after.Rev != now.Rev {
		t.Error("what was refused has changed the piece")
	}
}

// TestProjectPutAway: a project that is put away is among those, and not among the others, until it comes back.
func TestProjectPutAway(t *testing.T) {
	s := everything(t)
	id, err := s.AddProject(t.Context(), "mitten pair", []byte(`{}`))
	if err != nil {
		t.Fatal(err)
	}
	for _, away := range []bool{true, false} {
		if err := s.PutProjectAway(t.Context(), id, away); err != nil {
			t.Fatal(err)
		}
		here, _ := s.Projects(t.Context())
		gone, _ := s.PutAwayProjects(t.Context())
		if (len(gone) == 1) != away || (len(here) == 0) != away {
			t.Errorf("put away %v: %d are here, %d are put away", away, len(here), len(gone))
		}
	}
}
