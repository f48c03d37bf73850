package store

import (
	"context"
	"database/sql"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"vindel/knit/edit"
	"vindel/knit/machine"
	"vindel/knit/pass"
	"vindel/knit/plan"
	"vindel/knit/step"
	"vindel/knit/technique"
)

// writtenBy makes a database as the version of the schema wrote it, and fills it.
func writtenBy(t *testing.T, version int64, fill string) (dir string) {
	t.Helper()
	dir = t.TempDir()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, "vindel.db"))
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	provider, err := migrationsOf(db)
	if err == nil {
		_, err = provider.UpTo(context.Background(), version)
	}
	if err == nil {
		_, err = db.Exec(fill)
	}
	if err != nil {
		t.Fatal(err)
	}
	return dir
}

// TestKindsOfOldEdits: edits written before they had a kind get theirs from their words,
// once; what was undone does not count.
func TestKindsOfOldEdits(t *testing.T) {
	for label, want := range map[string]edit.Kind{"draw": edit.Draws, "type a row": edit.Draws, "mirror": edit.Draws,
		"move": edit.Draws, "move heron": edit.Places, "mirror heron": edit.Places,
		"33 stitches in the middle": edit.Places, "set from": edit.Places, "set counter": edit.Settings,
		"below section": edit.Sections, "knit on My machine": edit.Machines,
		"bring back as it was": edit.Restores, "Catch oat at L4": edit.Mends} {
		dir := writtenBy(t, 2, `INSERT INTO piece (id, doc, head, created, updated) VALUES (1, '{}', 1, '', '');
			INSERT INTO edit (piece, n, label, changes, inverse, at) VALUES (1, 1, '`+label+`', '[]', '[]', ''), (1,
				2, 'fill', '[]', '[]', '')`)
		s, err := Open(t.Context(), dir)
		if err != nil {
			t.Fatal(err)
		}
		did, err := s.Did(t.Context(), 1)
		if err != nil || len(did) != 1 || !did[want] {
			t.Errorf("%q: %v, want %s; %v", label, did, want, err)
		}
		s.Close()
	}
}

// TestMeaningKept: a piece stored before defaults changed is knitted as it was: its machine,
// its versions, her own machines, and what undo brings back say what they meant; what they
// said already stays. A piece that is begun keeps its place, and is noted.
func TestMeaningKept(t *testing.T) {
	doc := func(machine, limits string) string {
		return `{"vindel":1,"name":"Moor band","machine":` + machine + `,"yarns":[{"id":"A"},{"id":"B"}],` + limits +
			`"charts":{"c":{"legend":{".":{"yarn":"A"},"#":{"yarn":"B"}},"rows":["#..#","##.."]}},` +
			`"needles":{"from":"L4","to":"R4"},"sections":[{"technique":"two-colour","rows":4,"areas":[{"chart":"c"}]}]}`
	}
	pairs, purl := doc(`{"profile":"two-bed-pairs"}`, ""),
		doc(`{"profile":"card-preselect","purl_carriage":true,"joined":false}`, `"limits":{"weights":20},`)
	dir := writtenBy(t, 4, `INSERT INTO piece (id, doc, head, created, updated) VALUES (1, '`+pairs+
		`', 1, '', ''), (2, '`+purl+`', 0, '', '');
		INSERT INTO version (piece, name, doc, at) VALUES (1, 'one', '`+pairs+`', '');
		INSERT INTO machine (id, doc, updated) VALUES (1, '{"profile":"program-small","needles":180}', '');
		INSERT INTO journal (piece, kind, done, head, pass, at) VALUES (1, 'knitted', 3, 1, 's1/1/2//1', '');
		INSERT INTO edit (piece, n, label, kind, changes, inverse, at) VALUES (1, 1, 'knit on', 'machine',
		'[{"op":"replace","path":"/machine","value":{"profile":"two-bed-pairs"}}]',
		'[{"op":"replace","path":"/machine","value":{"profile":"card-direct","lace":"combined","purl_carriage":true}}]', '')`)
	s, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	machineOf := func(doc []byte) *machine.Profile {
		p, err := technique.Read(doc)
		if err != nil {
			t.Fatal(err)
		}
		return &p.Machine
	}
	one, _ := s.Piece(t.Context(), 1)
	m := machineOf(one.Doc)
	if m.Near || m.CardOrigin != machine.L(12) || m.ShowsNext || m.Joined {
		t.Errorf("the pairs reader became %+v", m)
	}
	p, _ := technique.Read(one.Doc)
	pl := plan.Make(p)
	if !pass.Has[step.SetCard](pl.Passes[3].Before) {
		t.Error("its card is not set back any more")
	}
	if at, _ := s.Reached(t.Context(), 1); at.Done != 3 || at.Pass.Row != 2 {
		t.Errorf("reached %+v", at)
	}
	for id, want := range map[string]string{"1": "1", "2": ""} {
		if v, _ := s.Setting(t.Context(), "planned-anew:"+id); v != want {
			t.Errorf("piece %s is noted %q, want %q", id, v, want)
		}
	}
	two, _ := s.Piece(t.Context(), 2)
	q, _ := technique.Read(two.Doc)
	if q.Machine.Reads(machine.PurlCarriage) || !q.Machine.PurlAhead || q.Machine.Joined || q.Limits.Lifeline != 20 {
		t.Errorf("%+v, lifelines every %d rows", q.Machine, q.Limits.Lifeline)
	}
	if versions, _ := s.Versions(t.Context(), 1); len(versions) != 1 || machineOf(versions[0].Doc).Near {
		t.Errorf("its version is turned round, or gone: %v", versions)
	}
	if own, _ := s.Machine(t.Context(), 1); !strings.Contains(string(own.Doc), `"panel":"flat"`) {
		t.Errorf("her own machine: %s", own.Doc)
	}
	if _, err := s.Undo(t.Context(), 1, rev(t, s, 1)); err != nil {
		t.Fatal(err)
	}
	one, _ = s.Piece(t.Context(), 1)
	if m := machineOf(one.Doc); m.ID != "card-direct" || m.PurlAhead || m.Reads(machine.PurlCarriage) || !m.Joined {
		t.Errorf("undone, it is knitted on %+v", m)
	}
}

// TestRecipesKept: a database of the version before has no shelf of recipes; it gets one, with its
// pieces as they were. A recipe is kept under its name, becomes another under the same name, and comes
// back after it was put away.
func TestRecipesKept(t *testing.T) {
	dir := writtenBy(t, 8, `INSERT INTO piece (id, doc, head, created, updated) VALUES (1, '{"vindel":1}', 0, '', '')`)
	s, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	ctx := t.Context()
	names := func() (list []string) {
		kept, err := s.Recipes(ctx)
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range kept {
			list = append(list, r.Name+"="+string(r.Doc))
		}
		return list
	}
	for _, r := range [][2]string{{"pile", "a"}, {"hem", "b"}, {"pile", "c"}} {
		if err := s.KeepRecipe(ctx, r[0], []byte(r[1])); err != nil {
			t.Fatal(err)
		}
	}
	if got := names(); !slices.Equal(got, []string{"hem=b", "pile=c"}) {
		t.Errorf("kept: %v", got)
	}
	kept, _ := s.Recipes(ctx)
	if err := s.PutRecipeAway(ctx, kept[0].ID, true); err != nil || len(names()) != 1 {
		t.Errorf("put away: %v, %v", err, names())
	}
	if err := s.PutRecipeAway(ctx, kept[0].ID, false); err != nil || len(names()) != 2 {
		t.Errorf("brought back: %v, %v", err, names())
	}
	if err := s.PutRecipeAway(ctx, 99, true); err == nil {
		t.Error("a recipe that is not there was put away")
	}
	if p, err := s.Piece(ctx, 1); err != nil || string(p.Doc) != `{"vindel":1}` {
		t.Errorf("the piece: %s, %v", p.Doc, err)
	}
}

// TestJournalKept: what the journal said before it learned more it says still, in its order.
func TestJournalKept(t *testing.T) {
	dir := writtenBy(t, 14, `INSERT INTO piece (id, doc, head, created, updated) VALUES (1, '{"vindel":1}', 0, '', '');
		INSERT INTO journal (id, piece, kind, done, head, note, pass, at) VALUES (3, 1, 'knitted', 1, 0, '',
			's1/1/1//1', '2026-11-01T10:00:00Z'),
			(7, 1, 'note', 1, 0, 'the latch of L3 is bent', '', '2026-11-01T10:01:00Z'), (9, 1, 'back', 0, 0,
				'ravelled', '', '2026-11-01T10:02:00Z')`)
	s, err := Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	list, err := s.Journal(t.Context(), 1, 10)
	if err != nil || len(list) != 3 || list[0].ID != 9 || list[0].Note != "ravelled" ||
		list[1].Note != "the latch of L3 is bent" || list[2].Pass.Section == "" || list[2].Cause != "" {
		t.Errorf("%+v %v", list, err)
	}
	if _, err := s.Write(t.Context(), 1, 9, Entry{Kind: "fault", Cause: "lever", Note: "a lever"}); err != nil {
		t.Error(err)
	}
}
