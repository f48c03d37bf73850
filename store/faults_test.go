package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"modernc.org/sqlite"

	"vindel/knit/edit"
	"vindel/knit/piecetest"
)

// faults is a driver whose n-th call fails, counted over all connections.
type faults struct {
	sqlite.Driver
	left   int    // calls until one fails; below 0: none does
	pragma string // that every connection begins with
}

var errInjected = errors.New("errInjected")

var faulty = func() *faults {
	f := &faults{left: -1}
	sql.Register("faulty", f)
	return f
}()

func (f *faults) fails() bool { f.left--; return f.left == 0 }

func (f *faults) Open(name string) (driver.Conn, error) {
	if f.pragma != "" {
		name += "&_pragma=" + f.pragma
	}
	c, err := (&sqlite.Driver{}).Open(name)
	return &faultyConn{c.(sqliteConn), f}, err
}

type sqliteConn interface {
	driver.Conn
	driver.ConnBeginTx
	driver.ExecerContext
	driver.QueryerContext
}

type faultyConn struct {
	sqliteConn
	f *faults
}

func (c *faultyConn) BeginTx(ctx context.Context, o driver.TxOptions) (driver.Tx, error) {
	if c.f.fails() {
		return nil, errInjected
	}
	tx, err := c.sqliteConn.BeginTx(ctx, o)
	return &faultyTx{tx, c.f}, err
}

func (c *faultyConn) ExecContext(ctx context.Context, q string, args []driver.NamedValue) (driver.Result, error) {
	if c.f.fails() {
		return nil, errInjected
	}
	return c.sqliteConn.ExecContext(ctx, q, args)
}

func (c *faultyConn) QueryContext(ctx context.Context, q string, args []driver.NamedValue) (driver.Rows, error) {
	if c.f.fails() {
		return nil, errInjected
	}
	return c.sqliteConn.QueryContext(ctx, q, args)
}

type faultyTx struct {
	driver.Tx
	f *faults
}

func (t *faultyTx) Commit() error {
	if t.f.fails() {
		return errInjected
	}
	return t.Tx.Commit()
}

// openFaulty opens a store whose driver can be made to fail.
func openFaulty(t *testing.T, dir string) (*Store, error) {
	t.Helper()
	driverName = "faulty"
	defer func() { driverName = "sqlite" }()
	s, err := Open(t.Context(), dir)
	if s != nil {
		s.now = func() time.Time { return time.Date(2026, 3, 1, 9, 0, 0, 0, time.UTC) }
	}
	return s, err
}

// dump is everything in a database, as text.
func dump(t *testing.T, s *Store) string {
	t.Helper()
	var b strings.Builder
	for _, table := range []string{"piece", "edit", "journal", "version", "machine", "setting", "session", "summary",
		"recipe"} {
		rows, err := s.db.Query("SELECT * FROM " + table)
		if err != nil {
			t.Fatal(err)
		}
		columns, _ := rows.Columns()
		for rows.Next() {
			values := make([]any, len(columns))
			for i := range values {
				values[i] = new(any)
			}
			if err := rows.Scan(values...); err != nil {
				t.Fatal(err)
			}
			for i := range values {
				fmt.Fprintf(&b, "%s.%s=%v ", table, columns[i], *values[i].(*any))
			}
			b.WriteByte('\n')
		}
		if err := rows.Err(); err != nil {
			t.Fatal(err)
		}
		rows.Close()
	}
	return b.String()
}

// TestFaultsEverywhere: whichever call of whichever change fails, the change says so and leaves
// everything as it was, and goes through when it is asked again; reading says so too.
func TestFaultsEverywhere(t *testing.T) {
	doc := piecetest.Document(t, "card-direct", "L4", "R4", []string{"#.##"}).JSON()
	row := edit.Edit{Kind: edit.Draws, Label: "stroke", Changes: edit.Put("/charts/c/rows/0", "##..")}
	other := edit.Edit{Kind: edit.Draws, Label: "stroke", Changes: edit.Put("/charts/c/rows/0", "...#")}
	on := func(e edit.Edit, rev int64) edit.Edit { e.On = rev; return e }
	session := Session{Token: "a", Begun: time.Now(), Expires: time.Now().Add(time.Hour)}
	// The store that every change begins with: a piece with an edit done and one undone, a place in
	// its journal, another that is put away, machines likewise.
	stock := func(s *Store) (err error) {
		ctx := t.Context()
		for _, f := range []func() error{
			func() error { _, err := s.Add(ctx, doc); return err },
			func() error { return s.Edit(ctx, 1, on(row, 1)) }, func() error { return s.Edit(ctx, 1, on(other, 2)) },
			func() error { _, err := s.Undo(ctx, 1, 3); return err },
			func() error { _, err := s.Write(ctx, 1, 0, Entry{Kind: "knitted", Done: 1}); return err },
			func() error { _, err := s.Add(ctx, doc); return err }, func() error { return s.PutAway(ctx, 2, true) },
			func() error { _, err := s.AddMachine(ctx, []byte(`{"profile":"hand-mid"}`)); return err },
			func() error { _, err := s.AddMachine(ctx, []byte(`{"profile":"hand-mid"}`)); return err },
			func() error { return s.PutMachineAway(ctx, 2, true) }, func() error { return s.AddSession(ctx, session) },
			func() error { return s.NameVersion(ctx, 1, "as it was") },
		} {
			err = errors.Join(err, f())
		}
		return err
	}
	type change struct {
		name  string
		do    func(ctx context.Context, s *Store) error
		reads bool
	}
	read := func(f func(ctx context.Context, s *Store) error) change { return change{"", f, true} }
	changes := []change{
		{"edit", func(ctx context.Context, s *Store) error { return s.Edit(ctx, 1, on(other, 4)) }, false},
		{"undo", func(ctx context.Context, s *Store) error { _, err := s.Undo(ctx, 1, 4); return err }, false},
		{"redo", func(ctx context.Context, s *Store) error { _, err := s.Redo(ctx, 1, 4); return err }, false},
		{"press", func(ctx context.Context, s *Store) error {
			_, err := s.Write(ctx, 1, 1, Entry{Kind: "knitted", Done: 2})
			return err
		}, false},
		{"add", func(ctx context.Context, s *Store) error { _, err := s.Add(ctx, doc); return err }, false},
		{"put away", func(ctx context.Context, s *Store) error { return s.PutAway(ctx, 1, true) }, false},
		{"delete", func(ctx context.Context, s *Store) error {
			return s.DeletePiece(ctx, 2,
				time.Now().Add(time.Hour))
		}, false},
		{"version", func(ctx context.Context, s *Store) error { return s.NameVersion(ctx, 1, "heron") }, false},
		{"machine", func(ctx context.Context, s *Store) error {
			_, err := s.AddMachine(ctx,
				[]byte(`{}`))
			return err
		}, false},
		{"save machine", func(ctx context.Context, s *Store) error {
			m, err := s.Machine(ctx, 1)
			if err == nil {
				err = s.SaveMachine(ctx, 1, m.State, []byte(`{}`))
			}
			return err
		}, false},
		{"machine away", func(ctx context.Context, s *Store) error { return s.PutMachineAway(ctx, 1, true) }, false},
		{"delete machine", func(ctx context.Context, s *Store) error {
			return s.DeleteMachine(ctx, 2,
				time.Now().Add(time.Hour))
		}, false},
		{"setting", func(ctx context.Context, s *Store) error { return s.SetSetting(ctx, "taught", "1") }, false},
		{"session", func(ctx context.Context, s *Store) error {
			return s.AddSession(ctx, Session{Token: "b", Expires: time.Now()})
		}, false},
		{"end session", func(ctx context.Context, s *Store) error { return s.EndSession(ctx, "a") }, false},
		{"passphrase", func(ctx context.Context, s *Store) error { return s.SetPassphrase(ctx, "hash") }, false},
		{"card", func(ctx context.Context, s *Store) error { return s.SaveCard(ctx, 1, 4, "", []byte(`{}`)) }, false},
		read(func(ctx context.Context, s *Store) error { _, err := s.Piece(ctx, 1); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Shelf(ctx, ""); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Count(ctx); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Reached(ctx, 1); return err }),
		read(func(ctx context.Context, s *Store) error { _, _, err := s.Knitting(ctx, 1); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Did(ctx, 1); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Versions(ctx, 1); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Machines(ctx); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Machine(ctx, 1); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.PutAwayPieces(ctx); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.PutAwayMachines(ctx); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Setting(ctx, "taught"); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.Sessions(ctx); return err }),
		read(func(ctx context.Context, s *Store) error { _, err := s.HasSession(ctx, "a"); return err }),
	}
	defer func() { faulty.left = -1 }()
	for _, c := range changes {
		s, err := openFaulty(t, t.TempDir())
		if err != nil {
			t.Fatal(err)
		}
		if err := stock(s); err != nil {
			t.Fatal(err)
		}
		before := dump(t, s)
		for n := 1; ; n++ {
			faulty.left = n
			err := c.do(t.Context(), s)
			hit := faulty.left <= 0
			faulty.left = -1
			now := dump(t, s)
			if !hit {
				if err != nil || (now == before) != c.reads || n < 2 {
					t.Errorf("%s, all well: %v after %d calls; changed %v", c.name, err, n, now != before)
				}
				break
			}
			if err == nil || now != before {
				t.Errorf("%s, call %d fails: %v; changed %v", c.name, n, err, now != before)
			}
		}
		s.Close()
	}
}

// TestFaultsWhileFilling: a demo that is cut short, or an update, leaves nothing half done.
func TestFaultsWhileFilling(t *testing.T) {
	doc := piecetest.Document(t, "card-direct", "L4", "R4", []string{"#.##"}).JSON()
	begun := []Begun{{doc, []Entry{{Kind: "knitted", Done: 1}}}, {doc, nil}}
	s, err := openFaulty(t, t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	defer func() { faulty.left = -1 }()
	for n := 1; ; n++ {
		faulty.left = n
		err := s.Fill(t.Context(), begun)
		hit := faulty.left <= 0
		faulty.left = -1
		if have, _ := s.Count(t.Context()); hit == (err == nil) || hit && have != 0 || !hit && have != 2 {
			t.Fatalf("call %d: %v, %d pieces", n, err, have)
		}
		if !hit {
			break
		}
	}
	for n := 1; n < 200; n++ {
		dir := writtenBy(t, 4, `INSERT INTO piece (doc, head, created, updated) VALUES `+
			`('{"vindel":1,"name":"heron"}', 0, '', '')`)
		faulty.left = n
		s, err := openFaulty(t, dir)
		hit := faulty.left <= 0
		faulty.left = -1
		if err != nil {
			if s, err = openFaulty(t, dir); err != nil {
				t.Fatalf("updated after call %d had failed: %v", n, err)
			}
		}
		if list, err := s.Shelf(t.Context(), ""); err != nil || len(list) != 1 || list[0].Name != "heron" {
			t.Errorf("call %d of the update failed: %+v, %v", n, list, err)
		}
		s.Close()
		if !hit {
			return
		}
	}
	t.Error("an update of 200 calls")
}

// TestTroubleInWords: a full disk, a folder that cannot be written to, one that is gone: each is
// said in words, with what is known of the change; nothing of the inside is shown.
func TestTroubleInWords(t *testing.T) {
	defer func() { faulty.pragma = "" }()
	press := func(s *Store, id, last int64) (int64, *Trouble, error) {
		written, err := s.Write(t.Context(), id, last, Entry{Kind: "knitted", Done: 1, Note: strings.Repeat("x",
			20000)})
		return written, Explain(err), err
	}
	for _, c := range []struct{ pragma, words string }{{"max_page_count(60)", "The disk is full."},
		{"query_only(1)", "The folder of the data cannot be written to."}} {
		dir := t.TempDir()
		plain := open(t, dir)
		id, err := plain.Add(t.Context(), []byte("{}"))
		if err != nil {
			t.Fatal(err)
		}
		plain.Close()
		faulty.pragma = c.pragma
		s, err := openFaulty(t, dir)
		if err != nil {
			t.Fatal(err)
		}
		last, pressed := int64(0), 0
		var trouble *Trouble
		for ; trouble == nil && pressed < 100; pressed++ {
			var written int64
			if written, trouble, err = press(s, id, last); err == nil {
				last = written
			}
		}
		if trouble == nil || trouble.Unsure || !strings.HasPrefix(trouble.Say(), c.words) ||
			!strings.HasSuffix(trouble.Say(), "That was not kept.") ||
			strings.Contains(trouble.Say(), "SQL") || !errors.Is(err, trouble.Err) || trouble.Error() == trouble.Say() {
			t.Errorf("%s: %v, %v", c.pragma, trouble, err)
		}
		s.Close()
		faulty.pragma = ""
		s = open(t, dir)
		if at, err := s.Reached(t.Context(), id); err != nil || at.ID != last {
			t.Errorf("%s: kept up to %d, answered up to %d, %v", c.pragma, at.ID, last, err)
		}
		s.Close()
	}
	for name, spoil := range map[string]func(dir string) error{
		"moved": func(dir string) error { return os.Rename(dir, dir+"-elsewhere") }, "deleted": os.RemoveAll,
		"another in its place": func(dir string) error {
			path := filepath.Join(dir, FileName)
			return errors.Join(os.Rename(path, path+".old"), os.WriteFile(path, nil, 0o600))
		}} {
		dir := filepath.Join(t.TempDir(), "data")
		os.Mkdir(dir, 0o700)
		s := open(t, dir)
		id, _ := s.Add(t.Context(), []byte(`{"name":"heron"}`))
		if err := spoil(dir); err != nil {
			t.Fatal(err)
		}
		_, trouble, err := press(s, id, 0)
		if trouble == nil || trouble.Unsure || !strings.HasPrefix(trouble.Words, "The folder of the data is gone") {
			t.Errorf("%s: %v", name, err)
		}
		if p, err := s.Piece(t.Context(), id); err != nil || string(p.Doc) != `{"name":"heron"}` {
			t.Errorf("%s: what was read can no longer be taken out: %v", name, err)
		}
		s.Close()
	}
	if _, err := Open(t.Context(), filepath.Join(t.TempDir(), "nowhere")); err == nil ||
		!strings.Contains(err.Error(), "cannot be written there") {
		t.Errorf("no folder: %v", err)
	}
	if t := committed(context.DeadlineExceeded).(*Trouble); !t.Unsure || !strings.HasSuffix(t.Say(),
		"load the page again to see.") {
		panic(t.Say())
	}
}
